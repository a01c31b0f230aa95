//! Loading a pressure pot: places on each level of the rack, filled from the
//! bottom so that nothing drips on a blank that is set.

use serde::{Deserialize, Serialize};

use crate::geometry::Point;
use fondant_quantities::Length;

/// The inside of a pot and its rack.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Pot {
    /// Across, inside.
    #[serde(rename = "diameter_m")]
    pub diameter: Length,
    /// Clear height, inside.
    #[serde(rename = "height_m")]
    pub height: Length,
    /// Thickness of a shelf of the rack.
    #[serde(rename = "shelf_m")]
    pub shelf: Length,
    /// Kept free between moulds and to the wall.
    #[serde(rename = "gap_m")]
    pub gap: Length,
}

/// How a pot is loaded.
#[derive(Debug, Clone, PartialEq)]
pub struct Loading {
    /// Middles of the places of one level, from the pot's middle, metres.
    pub places: Vec<Point>,
    /// Levels of the rack.
    pub levels: usize,
    /// Moulds on each level, from the bottom.
    pub on_level: Vec<usize>,
    /// Loads needed for all of them.
    pub loads: usize,
}

/// Places for moulds of an outside size on the levels of a pot, and how many
/// of `count` stand on each. `None` where not one fits.
#[must_use]
pub fn load(
    pot: &Pot,
    length: Length,
    width: Length,
    height: Length,
    count: usize,
) -> Option<Loading> {
    let levels = (pot.height / (height + pot.shelf)).floor();
    let levels = if levels.is_finite() { levels.max(0.0) as usize } else { 0 };
    let places = best_grid(pot, length.m(), width.m());
    let in_a_load = places.len() * levels;
    if in_a_load == 0 || count == 0 {
        return None;
    }
    let mut left = count.min(in_a_load);
    let mut on_level = Vec::new();
    while left > 0 {
        let here = left.min(places.len());
        on_level.push(here);
        left -= here;
    }
    Some(Loading { places, levels, on_level, loads: count.div_ceil(in_a_load) })
}

/// Rows of moulds across the circle, an odd or an even number of rows, along
/// or across: whichever takes most.
fn best_grid(pot: &Pot, length: f64, width: f64) -> Vec<Point> {
    let (radius, gap) = (pot.diameter.m() / 2.0 - pot.gap.m(), pot.gap.m());
    let mut best = Vec::new();
    for (l, w, turned) in [(length, width, false), (width, length, true)] {
        for shift in [0.0, 0.5] {
            let grid = rows_in_circle(radius, l, w, gap, shift);
            if grid.len() > best.len() {
                best = grid
                    .into_iter()
                    .map(|(x, y)| if turned { (y, x) } else { (x, y) })
                    .map(|(x_m, y_m)| Point { x_m, y_m })
                    .collect();
            }
        }
    }
    best
}

fn rows_in_circle(radius: f64, l: f64, w: f64, gap: f64, shift: f64) -> Vec<(f64, f64)> {
    let pitch = w + gap;
    let most = (radius / pitch.max(1e-6)).ceil() as i64 + 1;
    let mut places = Vec::new();
    for row in -most..=most {
        let y = (row as f64 + shift) * pitch;
        let outer = y.abs() + w / 2.0;
        if outer > radius {
            continue;
        }
        let half = (radius * radius - outer * outer).sqrt();
        let count = ((2.0 * half + gap) / (l + gap)).floor() as i64;
        for i in 0..count {
            places.push(((i as f64 - (count - 1) as f64 / 2.0) * (l + gap), y));
        }
    }
    places
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn pot() -> Pot {
        let mm = Length::from_mm;
        Pot { diameter: mm(250.0), height: mm(300.0), shelf: mm(10.0), gap: mm(5.0) }
    }

    #[test]
    fn the_lowest_level_is_filled_first_and_what_is_left_waits() {
        let mm = Length::from_mm;
        let loading = load(&pot(), mm(60.0), mm(60.0), mm(85.0), 20).unwrap();
        assert_eq!(loading.levels, 3);
        let each = loading.places.len();
        assert!(each >= 5, "{each}");
        assert_eq!(loading.on_level[0], each.min(20));
        let all = load(&pot(), mm(60.0), mm(60.0), mm(85.0), 100).unwrap();
        assert_eq!(all.on_level.iter().sum::<usize>(), each * 3);
        assert_eq!(all.loads, 100_usize.div_ceil(each * 3));
        assert_eq!(load(&pot(), mm(260.0), mm(60.0), mm(85.0), 1), None);
        assert_eq!(load(&pot(), mm(60.0), mm(60.0), mm(400.0), 1), None);
    }

    proptest! {
        #[test]
        fn every_place_lies_inside_and_clear_of_the_others(l in 20.0f64..120.0, w in 20.0f64..120.0) {
            let mm = Length::from_mm;
            let Some(loading) = load(&pot(), mm(l), mm(w), mm(50.0), 500) else { return Ok(()) };
            // The grid may be turned: take the smaller side for the distance.
            let least = l.min(w) * 1e-3 + 0.005;
            for (i, p) in loading.places.iter().enumerate() {
                prop_assert!(p.norm_m() < 0.12);
                for q in &loading.places[i + 1..] {
                    let d = p.minus(*q);
                    prop_assert!(d.x_m.abs().max(d.y_m.abs()) >= least - 1e-9);
                }
            }
        }
    }
}
