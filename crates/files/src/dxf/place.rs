//! Where things of a drawing lie: planes of their own, blocks that are turned and scaled.

use fondant_shapes::geometry::Point;

use super::pairs::{Pair, first};
use crate::FileError;

/// Largest part of a plane's normal that lies in the sheet.
const FLAT: f64 = 1e-6;

/// An affine map of the plane.
#[derive(Debug, Clone, Copy)]
pub(super) struct Matrix {
    /// Images of the two directions.
    along: Point,
    across: Point,
    origin: Point,
}

fn at(x: f64, y: f64) -> Point {
    Point { x_m: x, y_m: y }
}

impl Matrix {
    pub(super) const ONE: Self = Self {
        along: Point { x_m: 1.0, y_m: 0.0 },
        across: Point { x_m: 0.0, y_m: 1.0 },
        origin: Point { x_m: 0.0, y_m: 0.0 },
    };

    pub(super) fn moved(by: Point) -> Self {
        Self { origin: by, ..Self::ONE }
    }

    pub(super) fn scaled(x: f64, y: f64) -> Self {
        Self { along: at(x, 0.0), across: at(0.0, y), ..Self::ONE }
    }

    pub(super) fn turned(angle: f64) -> Self {
        let (sin, cos) = angle.sin_cos();
        Self { along: at(cos, sin), across: at(-sin, cos), ..Self::ONE }
    }

    /// The image of a point.
    pub(super) fn of(&self, p: Point) -> Point {
        self.along.times(p.x_m).plus(self.across.times(p.y_m)).plus(self.origin)
    }

    /// This after another.
    pub(super) fn after(&self, first: &Self) -> Self {
        let linear = Self { origin: Point::default(), ..*self };
        Self {
            along: linear.of(first.along),
            across: linear.of(first.across),
            origin: self.of(first.origin),
        }
    }

    /// By how much a length grows at most.
    pub(super) fn growth(&self) -> f64 {
        self.along.norm_m().hypot(self.across.norm_m())
    }
}

/// The map from an entity's own plane to that of the drawing; `None` where it is tilted. By the
/// format's rule for the axes of a plane, one that is seen from behind is mirrored in x.
pub(super) fn plane(pairs: &[Pair<'_>]) -> Result<Option<Matrix>, FileError> {
    let normal = [first(pairs, 210, 0.0)?, first(pairs, 220, 0.0)?, first(pairs, 230, 1.0)?];
    let [x, y, z] = normal;
    if x.abs().max(y.abs()) > FLAT * z.abs() {
        return Ok(None);
    }
    Ok(Some(if z < 0.0 { Matrix::scaled(-1.0, 1.0) } else { Matrix::ONE }))
}
