//! Numerical methods on plain `f64` slices, independent of the trade.
//!
//! - [`rosenbrock`]: adaptive integration of stiff systems, with dense output
//! - [`lobatto`]: polynomials through nodes that carry what is smooth over a length
//! - [`square`]: small symmetric matrices
//! - [`chain`]: linear systems of blocks in a row
//! - [`lanes`]: exponentials and logarithms of several numbers at once
//! - [`least_squares`](mod@least_squares): bounded nonlinear least squares
//! - [`roots`]: roots of a function of one variable
//! - [`parabola`]: the vertex through three points
//! - [`shrunk`](mod@shrunk): a ratio learnt from a few readings
//! - [`Stop`]: whether a computation is still wanted
//!
//! ```
//! use fondant_numerics::roots::brent;
//!
//! let f = |x: f64| Ok::<_, std::convert::Infallible>(x * x - 2.0);
//! let root = brent((1.0, -1.0), (2.0, 2.0), 1e-9, f)?.expect("the ends differ in sign");
//! assert!((root - 2f64.sqrt()).abs() < 1e-9);
//! # Ok::<(), std::convert::Infallible>(())
//! ```

pub mod chain;
pub mod lanes;
pub mod least_squares;
pub mod lobatto;
pub mod parabola;
pub mod roots;
pub mod rosenbrock;
pub mod shrunk;
pub mod square;
mod stop;
mod sums;

pub use stop::Stop;
