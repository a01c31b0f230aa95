//! A point of the plane.

use serde::{Deserialize, Serialize};

/// Points closer than this are one point, metres: a hundredth of a millimetre.
pub const SAME_POINT_M: f64 = 1e-5;

/// A point, or an arrow between two points, in metres. Kept as `[x, y]`.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[serde(from = "[f64; 2]", into = "[f64; 2]")]
pub struct Point {
    /// Along the form, from its left end.
    pub x_m: f64,
    /// Across the form, from its near wall.
    pub y_m: f64,
}

impl From<[f64; 2]> for Point {
    fn from([x_m, y_m]: [f64; 2]) -> Self {
        Self { x_m, y_m }
    }
}

impl From<Point> for [f64; 2] {
    fn from(point: Point) -> Self {
        [point.x_m, point.y_m]
    }
}

impl Point {
    /// From a value in mm.
    #[must_use]
    pub fn from_mm(x_mm: f64, y_mm: f64) -> Self {
        Self { x_m: x_mm * 1e-3, y_m: y_mm * 1e-3 }
    }

    /// Moved by an arrow.
    #[must_use]
    pub fn plus(self, by: Self) -> Self {
        Self { x_m: self.x_m + by.x_m, y_m: self.y_m + by.y_m }
    }

    /// The arrow from `other` to this point.
    #[must_use]
    pub fn minus(self, other: Self) -> Self {
        Self { x_m: self.x_m - other.x_m, y_m: self.y_m - other.y_m }
    }

    /// Longer by a factor, seen from the origin.
    #[must_use]
    pub fn times(self, factor: f64) -> Self {
        Self { x_m: self.x_m * factor, y_m: self.y_m * factor }
    }

    /// Length of the arrow.
    #[must_use]
    pub fn norm_m(self) -> f64 {
        self.x_m.hypot(self.y_m)
    }

    /// Twice the area of the triangle with the origin, positive counterclockwise.
    #[must_use]
    pub fn cross(self, other: Self) -> f64 {
        self.x_m * other.y_m - self.y_m * other.x_m
    }

    /// A share of the way to another point.
    #[must_use]
    pub fn towards(self, other: Self, share: f64) -> Self {
        self.plus(other.minus(self).times(share))
    }
}
