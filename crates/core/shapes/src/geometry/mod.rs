//! Plane shapes in metres: outlines, solids between two outlines, what they
//! cover together, and squaring up a picture of them.
//!
//! - `point`, `outline`: a point, an outline with holes
//! - [`faults`]: why an outline is invalid, and where
//! - [`ruled`]: the solid between two outlines, its area and volume by level
//! - [`overlay`]: clipping and overlap, by the `geo` crate
//! - [`homography`]: from the plane of a photo to the plane of the bench
//! - [`mesh`]: volume and soundness of a triangle mesh

pub mod faults;
pub mod homography;
pub mod mesh;
mod outline;
pub mod overlay;
mod point;
pub mod ruled;

pub use outline::{Bounds, Outline, Ring, edges, signed_area_m2};
pub use point::{Point, SAME_POINT_M};
