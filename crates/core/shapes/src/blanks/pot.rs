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

/// Equal moulds that are to stand in a pot.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Standing {
    /// Outside, along.
    pub length: Length,
    /// Outside, across.
    pub width: Length,
    /// Outside, as it stands.
    pub height: Length,
    /// Number of moulds.
    pub count: u32,
}

/// One level of a rack, which carries moulds of one size.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Level {
    /// Which of the sizes.
    pub of: usize,
    /// How many of them.
    pub count: u32,
    /// Top of its shelf over the floor of the pot.
    pub floor: Length,
}

/// How moulds go into a pot.
#[derive(Debug, Clone, PartialEq)]
pub struct Loading {
    /// Middles of the places that a level has for each size, from the pot's middle.
    pub places: Vec<Vec<Point>>,
    /// The levels of each load, from the bottom; one load at least.
    pub loads: Vec<Vec<Level>>,
}

/// Moulds of this size do not stand in the pot: it is too low, or too narrow for one.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
#[error("moulds of size {of} do not stand in the pot")]
pub struct TooLarge {
    /// Which of the sizes.
    pub of: usize,
}

/// Places for moulds on the levels of a pot, in as many loads as they need.
///
/// The tallest stand lowest; a level goes into the first load that has room for it (first fit
/// decreasing, which needs at most 11/9 of the fewest loads and two thirds of one more: G. Dósa, *The
/// Tight Bound of First Fit Decreasing*, 2007).
///
/// # Errors
/// [`TooLarge`] where not one of a size stands in the pot.
pub fn load(pot: &Pot, all: &[Standing]) -> Result<Loading, TooLarge> {
    let mut places = Vec::with_capacity(all.len());
    for (of, one) in all.iter().enumerate() {
        let grid = best_grid(pot, one.length.m(), one.width.m());
        if grid.is_empty() || one.height + pot.shelf > pot.height {
            return Err(TooLarge { of });
        }
        places.push(grid);
    }
    let mut order: Vec<usize> = (0..all.len()).collect();
    order.sort_by(|a, b| all[*b].height.m().total_cmp(&all[*a].height.m()));
    let mut rack = Rack { pot, loads: Vec::new() };
    for of in order {
        rack.stack((of, all[of]), places[of].len());
    }
    if rack.loads.is_empty() {
        rack.loads.push((Length::ZERO, Vec::new()));
    }
    let loads = rack.loads.into_iter().map(|(_, levels)| levels).collect();
    Ok(Loading { places, loads })
}

/// Loads that are being filled, each with the height that is taken.
struct Rack<'a> {
    pot: &'a Pot,
    loads: Vec<(Length, Vec<Level>)>,
}

impl Rack<'_> {
    /// All moulds of one size, `most` on a level.
    fn stack(&mut self, (of, one): (usize, Standing), most: usize) {
        let most = u32::try_from(most).unwrap_or(u32::MAX);
        let (mut left, mut load) = (one.count, 0);
        let takes = one.height + self.pot.shelf;
        while left > 0 {
            // A load that had no room for this size has none later.
            while self.loads.get(load).is_some_and(|(taken, _)| *taken + takes > self.pot.height) {
                load += 1;
            }
            if load == self.loads.len() {
                self.loads.push((Length::ZERO, Vec::new()));
            }
            let (taken, levels) = &mut self.loads[load];
            let count = left.min(most);
            levels.push(Level { of, count, floor: *taken + self.pot.shelf });
            *taken = *taken + takes;
            left -= count;
        }
    }
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

    const fn standing(sides_mm: [f64; 3], count: u32) -> Standing {
        let [length, width, height] = sides_mm;
        let mm = Length::from_mm;
        Standing { length: mm(length), width: mm(width), height: mm(height), count }
    }

    /// 85 mm and a shelf of 10 mm go three times into 300 mm.
    #[test]
    fn the_lowest_level_is_filled_first_and_what_is_left_waits() {
        let size = [60.0, 60.0, 85.0];
        let few = load(&pot(), &[standing(size, 20)]).unwrap();
        let each = few.places[0].len();
        assert!(each >= 5, "{each}");
        assert_eq!(few.loads[0][0].count as usize, each.min(20));
        let many = load(&pot(), &[standing(size, 100)]).unwrap();
        assert_eq!(many.loads.len(), 100_usize.div_ceil(each * 3));
        let floors: Vec<f64> = many.loads[0].iter().map(|level| level.floor.mm()).collect();
        assert_eq!(floors.len(), 3);
        for (floor, by_hand) in floors.iter().zip([10.0, 105.0, 200.0]) {
            assert!((floor - by_hand).abs() < 1e-9, "{floors:?}");
        }
        let wide = load(&pot(), &[standing(size, 1), standing([260.0, 60.0, 85.0], 1)]);
        assert_eq!(wide, Err(TooLarge { of: 1 }));
        assert_eq!(load(&pot(), &[standing([60.0, 60.0, 291.0], 1)]), Err(TooLarge { of: 0 }));
        assert!(load(&pot(), &[standing([60.0, 60.0, 290.0], 1)]).is_ok());
    }

    /// 150 mm stand lowest; 60 mm twice over them: 160 + 70 + 70 = 300 mm, the whole pot.
    #[test]
    fn low_moulds_stand_over_tall_ones() {
        let (tall, low) = ([200.0, 60.0, 150.0], [200.0, 60.0, 60.0]);
        let one = load(&pot(), &[standing(low, 1), standing(tall, 1)]).unwrap();
        let each = one.places[0].len() as u32;
        let both = load(&pot(), &[standing(low, 2 * each), standing(tall, each)]).unwrap();
        assert_eq!(both.loads.len(), 1, "{:?}", both.loads);
        let order: Vec<usize> = both.loads[0].iter().map(|level| level.of).collect();
        assert_eq!(order, [1, 0, 0]);
        let more = load(&pot(), &[standing(low, 2 * each + 1), standing(tall, each)]).unwrap();
        assert_eq!((more.loads.len(), more.loads[1][0].count), (2, 1));
    }

    proptest! {
        #[test]
        fn every_mould_stands_once_and_no_load_is_higher_than_the_pot(
            heights in proptest::collection::vec((10.0f64..280.0, 1u32..60), 1..6),
        ) {
            let all: Vec<Standing> =
                heights.iter().map(|(height, count)| standing([70.0, 50.0, *height], *count)).collect();
            let loading = load(&pot(), &all).unwrap();
            for (of, one) in all.iter().enumerate() {
                let levels = loading.loads.iter().flatten().filter(|level| level.of == of);
                prop_assert_eq!(levels.map(|level| level.count).sum::<u32>(), one.count);
            }
            for levels in &loading.loads {
                prop_assert!(!levels.is_empty());
                let mut top = Length::ZERO;
                for level in levels {
                    prop_assert!(level.floor >= top + pot().shelf - Length::from_mm(1e-6));
                    prop_assert!(level.count as usize <= loading.places[level.of].len());
                    top = level.floor + all[level.of].height;
                }
                prop_assert!(top <= pot().height + Length::from_mm(1e-6));
            }
        }

        #[test]
        fn every_place_lies_inside_and_clear_of_the_others(l in 20.0f64..120.0, w in 20.0f64..120.0) {
            let Ok(loading) = load(&pot(), &[standing([l, w, 50.0], 500)]) else { return Ok(()) };
            // The grid may be turned: take the smaller side for the distance.
            let least = l.min(w) * 1e-3 + 0.005;
            for (i, p) in loading.places[0].iter().enumerate() {
                prop_assert!(p.norm_m() < 0.12);
                for q in &loading.places[0][i + 1..] {
                    let d = p.minus(*q);
                    prop_assert!(d.x_m.abs().max(d.y_m.abs()) >= least - 1e-9);
                }
            }
        }
    }
}
