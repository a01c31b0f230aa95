//! A piece of line, and places along it.

use fondant_shapes::geometry::{Point, Ring};

/// A piece of line on a layer.
#[derive(Debug, Clone)]
pub struct Piece {
    /// Its points; closed where the last is the first.
    pub line: Ring,
    /// The place of its layer.
    pub layer: usize,
    /// Its name in the file.
    pub name: Option<String>,
}

/// Half way along a line.
pub(super) fn half_way(line: &[Point]) -> Point {
    along(line, 0.5 * length(line))
}

/// A place along a line, metres from its beginning.
pub(super) fn along(line: &[Point], mut left: f64) -> Point {
    for pair in line.windows(2) {
        let step = pair[1].minus(pair[0]).norm_m();
        if step >= left && step > 0.0 {
            return pair[0].towards(pair[1], left / step);
        }
        left -= step;
    }
    line.last().copied().unwrap_or_default()
}

pub(super) fn length(line: &[Point]) -> f64 {
    line.windows(2).map(|pair| pair[1].minus(pair[0]).norm_m()).sum()
}
