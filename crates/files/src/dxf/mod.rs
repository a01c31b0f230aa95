//! Drawings from and to DXF, text or binary, of all releases.
//!
//! A reader of group codes of its own. The readers at hand know neither hatches nor the polygons
//! of maps, skip what they do not know without a word (so that nobody can be told what was left
//! out), and stop at the first malformed pair without saying in which line it stands.
//!
//! - `pairs`: group codes and values; `tables`: unit, layers, blocks
//! - `place`: planes and blocks; `shapes`: entities as lines; `spline`, `hatch`: two of them
//! - `read`: which entities are read, which are left out and why
//! - [`write`]: boards as a drawing

mod hatch;
mod pairs;
mod place;
mod read;
mod shapes;
mod spline;
mod tables;
mod write;

pub use read::read;
pub use write::write;

#[cfg(test)]
mod tests;
