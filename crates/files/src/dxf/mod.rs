//! Drawings from and to DXF, text or binary, of all releases.
//!
//! A reader of group codes of its own. The reader at hand (the `dxf` crate, 0.6) knows neither
//! hatches nor the polygons of maps, and swallows entities that it does not know without a word, so
//! that nobody could be told what was left out.
//!
//! - `pairs`: group codes and values; `tables`: unit, layers, blocks
//! - `place`: planes and blocks; `shapes`: entities as lines; `spline`, `hatch`: two of them
//! - `read`: which entities are read, which are left out and why
//! - [`write()`]: boards as a drawing

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
