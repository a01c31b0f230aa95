//! How a photo was squared up, as it is kept beside the photo.

use fondant_quantities::Length;
use serde::{Deserialize, Serialize};

use crate::geometry::homography::Pixel;

/// How a photo was squared up.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Squaring {
    /// The four corners in the photo, clockwise from the upper left.
    pub corners: [Pixel; 4],
    /// True length between them.
    #[serde(rename = "length_m")]
    pub length: Length,
    /// True width between them.
    #[serde(rename = "width_m")]
    pub width: Length,
    /// Pixels of the squared-up picture per metre.
    pub pixels_per_m: f64,
    /// A length that was measured on the bench, to check the rest by.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub check: Option<KnownLength>,
}

/// A length on the bench whose ends were marked in the photo.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct KnownLength {
    /// Its ends in the photo.
    pub ends: [Pixel; 2],
    /// Length by the tape measure.
    #[serde(rename = "length_m")]
    pub length: Length,
}
