//! The hottest point of a layer at a moment, between the centres of its cells.

use std::ops::Range;

use fondant_numerics::parabola;

/// Where a layer is hottest, and how hot.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct HotSpot {
    /// Temperature, K.
    pub(super) t_k: f64,
    /// Height above the layer's underside as a share of its depth.
    pub(super) height_ratio: f64,
}

impl HotSpot {
    /// The hottest point of a layer of equal cells: the vertex of the parabola
    /// through the hottest cell and its neighbours. In the outermost cells the
    /// parabola reaches out to the layer's face.
    pub(super) fn among(
        cells: Range<usize>,
        all: impl Iterator<Item = f64>,
        t_k: impl Fn(usize) -> f64,
    ) -> Self {
        let (mut hottest, mut at) = (f64::MIN, cells.start);
        for (cell, value) in cells.clone().zip(all) {
            if value > hottest {
                (hottest, at) = (value, cell);
            }
        }
        let count = cells.len() as f64;
        let ratio = |cell: f64| ((cell - cells.start as f64 + 0.5) / count).clamp(0.0, 1.0);
        if cells.len() < 3 {
            return Self { t_k: hottest, height_ratio: ratio(at as f64) };
        }
        let middle = at.clamp(cells.start + 1, cells.end - 2);
        let t = [middle - 1, middle, middle + 1].map(t_k);
        match parabola::maximum(t[0], t[1], t[2]) {
            Some((offset, _)) => {
                let offset = offset.clamp(-1.5, 1.5);
                let vertex = parabola::value_at(t[0], t[1], t[2], offset).max(hottest);
                Self { t_k: vertex, height_ratio: ratio(middle as f64 + offset) }
            }
            None => Self { t_k: hottest, height_ratio: ratio(at as f64) },
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn among(cells: Range<usize>, t_k: impl Fn(usize) -> f64) -> HotSpot {
        HotSpot::among(cells.clone(), cells.map(&t_k), &t_k)
    }

    /// Values at the centres of ten cells of a curve over the height 0…1.
    fn spot(curve: impl Fn(f64) -> f64) -> HotSpot {
        among(20..30, |cell| curve((cell as f64 - 20.0 + 0.5) / 10.0))
    }

    #[test]
    fn a_peak_between_centres_is_found_where_it_is() {
        let spot = spot(|y| 330.0 - 40.0 * (y - 0.33).powi(2));
        assert!((spot.height_ratio - 0.33).abs() < 1e-9);
        assert!((spot.t_k - 330.0).abs() < 1e-9);
    }

    #[test]
    fn a_peak_at_a_face_is_reached_but_not_passed() {
        let at_top = spot(|y| 330.0 - 40.0 * (y - 1.0).powi(2));
        assert!((at_top.height_ratio - 1.0).abs() < 1e-9);
        let beyond = spot(|y| 330.0 - 40.0 * (y - 1.4).powi(2));
        assert!((beyond.height_ratio - 1.0).abs() < 1e-9);
        assert!(beyond.t_k < 330.0);
    }

    #[test]
    fn a_straight_slope_and_a_thin_layer_take_their_hottest_cell() {
        let slope = spot(|y| 300.0 + 10.0 * y);
        assert!((slope.t_k - 309.5).abs() < 1e-9 && (slope.height_ratio - 0.95).abs() < 1e-9);
        let thin = among(0..2, |cell| [300.0, 310.0][cell]);
        assert!((thin.t_k - 310.0).abs() < 1e-9 && (thin.height_ratio - 0.75).abs() < 1e-9);
    }
}
