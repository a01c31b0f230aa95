//! Timber floats in resin: the force that lifts what lies in it, and where to
//! hold it down.

use crate::geometry::{Outline, Point};
use fondant_quantities::{Density, Force, Length, Mass, Volume};

/// Weight to put on is the lift times this.
pub const HOLD_DOWN_FACTOR: f64 = 2.0;
/// Most that one clamp, batten end or weight holds down.
pub const EACH_HOLDS: Mass = Mass::from_kg(12.0);
/// A board longer than this from hold to hold flexes between them.
const FARTHEST_APART: Length = Length::from_mm(600.0);
/// Most places that are suggested on one board.
const MOST_PLACES: usize = 12;

/// The pull of the resin on one thing.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Lift {
    /// Mass of the object.
    pub mass: Mass,
    /// Mass of the resin that it displaces.
    pub displaced: Mass,
    /// Net upward force; negative where it stays down by itself.
    pub net: Force,
    /// Mass that holds it down with a factor of 2; 0 where it stays down.
    pub hold_down: Mass,
}

/// Lift on something that resin covers, the worst moment of a pour:
/// `F = g (ρ_resin V − m)` (Archimedes).
#[must_use]
pub fn lift(volume: Volume, mass: Mass, resin: Density) -> Lift {
    let displaced = volume * resin;
    let excess = displaced - mass;
    Lift {
        mass,
        displaced,
        net: excess.weight(),
        hold_down: (excess * HOLD_DOWN_FACTOR).max(Mass::ZERO),
    }
}

/// Where to hold a board down: evenly along its longer side, in the middle of
/// its timber there, at least two places, as many as weight and length ask for.
#[must_use]
pub fn places(outline: &Outline, lift: &Lift) -> Vec<Point> {
    if lift.hold_down <= Mass::ZERO {
        return Vec::new();
    }
    let bounds = outline.bounds();
    let (dx, dy) = (bounds.max.x_m - bounds.min.x_m, bounds.max.y_m - bounds.min.y_m);
    let by_weight = (lift.hold_down / EACH_HOLDS).ceil() as usize;
    let by_length = (dx.max(dy) / FARTHEST_APART.m()).ceil() as usize + 1;
    let count = by_weight.max(by_length).clamp(2, MOST_PLACES);
    let across = dy > dx;
    // Cut across the longer side: a board that stands is turned for it.
    let lying = if across { outline.map(turned) } else { outline.clone() };
    let (from, length) = if across { (bounds.min.y_m, dy) } else { (bounds.min.x_m, dx) };
    (0..count)
        .filter_map(|i| {
            let x = from + length * (i as f64 + 0.5) / count as f64;
            let cut = lying.cut_at(Length::from_m(x));
            let (a, b) =
                cut.into_iter().max_by(|p, q| (p.1 - p.0).m().total_cmp(&(q.1 - q.0).m()))?;
            let place = Point { x_m: x, y_m: 0.5 * (a + b).m() };
            Some(if across { turned(place) } else { place })
        })
        .collect()
}

fn turned(p: Point) -> Point {
    Point { x_m: p.y_m, y_m: p.x_m }
}

#[cfg(test)]
mod tests {
    use super::*;

    const RESIN: Density = Density::from_kg_m3(1100.0);

    #[test]
    fn a_cubic_metre_of_650_in_1100_pulls_with_450_kilograms() {
        let cubic_metre = lift(Volume::from_m3(1.0), Mass::from_kg(650.0), RESIN);
        assert!((cubic_metre.net.n() - 450.0 * 9.806_65).abs() < 1e-6);
        assert!((cubic_metre.hold_down.kg() - 900.0).abs() < 1e-9);
    }

    #[test]
    fn timber_heavier_than_resin_stays_down() {
        let heavy = lift(Volume::from_l(1.0), Mass::from_kg(1.2), RESIN);
        assert!(heavy.net < Force::ZERO);
        assert!((heavy.hold_down.kg()).abs() < 1e-12);
        let board = Outline::rectangle(Length::from_mm(900.0), Length::from_mm(200.0));
        assert!(places(&board, &heavy).is_empty());
    }

    #[test]
    fn places_lie_on_the_board_along_its_longer_side() {
        let lift = lift(Volume::from_l(10.0), Mass::from_kg(6.5), RESIN);
        let lying = Outline::rectangle(Length::from_mm(1500.0), Length::from_mm(200.0));
        let all = places(&lying, &lift);
        assert_eq!(all.len(), 4);
        assert!(all.iter().all(|p| (p.y_m - 0.1).abs() < 1e-9));
        let standing = lying.map(turned);
        assert!(places(&standing, &lift).iter().all(|p| (p.x_m - 0.1).abs() < 1e-9));
    }
}
