//! Numerical methods on plain `f64` slices. Nothing here knows a word of the trade.
//!
//! - [`rosenbrock`]: adaptive integration of stiff systems, with dense output
//! - [`tridiagonal`]: linear systems of a chain of cells
//! - [`least_squares`]: bounded nonlinear least squares
//! - [`roots`]: where a function crosses zero
//! - [`parabola`]: the vertex through three points
//! - [`Stop`]: whether a computation is still wanted

pub mod least_squares;
pub mod parabola;
pub mod roots;
pub mod rosenbrock;
mod stop;
pub mod tridiagonal;

pub use stop::Stop;
