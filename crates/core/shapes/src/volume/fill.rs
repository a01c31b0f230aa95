//! V(z): how much resin lies below a level, whatever lies in the form.

use crate::timber::Insert;
use fondant_quantities::{Area, Length, Volume};

/// A cross-section that is a quadratic function of the level between two
/// levels: what a prism, a wedge, a cone, a ball or a board with sloping edges has.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Profile {
    /// Lower level.
    pub from: Length,
    /// Upper level.
    pub to: Length,
    /// Area at the lower level, half way and at the upper level.
    pub areas: [Area; 3],
}

impl Profile {
    /// Profile of a prism.
    #[must_use]
    pub fn prism(from: Length, to: Length, area: Area) -> Self {
        Self { from, to, areas: [area; 3] }
    }

    /// Of inserts alike, as they lie.
    #[must_use]
    pub fn of_insert(insert: &Insert) -> Self {
        let from = insert.above_floor;
        Self { from, to: from + insert.height(), areas: insert.areas() }
    }

    /// Area at a level; 0 outside its levels.
    #[must_use]
    pub fn area_at(&self, level: Length) -> Area {
        let t = (level - self.from) / (self.to - self.from);
        if !(0.0..=1.0).contains(&t) {
            return Area::ZERO;
        }
        let [a, m, b] = self.areas;
        a + (a * -3.0 + m * 4.0 - b) * t + (a - m * 2.0 + b) * (2.0 * t * t)
    }

    /// Volume below a level.
    #[must_use]
    pub fn volume_to(&self, level: Length) -> Volume {
        let height = self.to - self.from;
        if height <= Length::ZERO || level <= self.from {
            return Volume::ZERO;
        }
        let t = ((level - self.from) / height).min(1.0);
        let [a, m, b] = self.areas;
        let slope = a * -3.0 + m * 4.0 - b;
        let bend = (a - m * 2.0 + b) * 2.0;
        (a * t + slope * (t * t / 2.0) + bend * (t * t * t / 3.0)) * height
    }
}

/// What the resin fills, from the floor of the form upwards: hollow profiles
/// less solid ones.
#[derive(Debug, Clone, PartialEq)]
pub struct Fill {
    hollow: Vec<Profile>,
    solid: Vec<Profile>,
    base: Length,
    depth: Length,
    correction: f64,
}

impl Fill {
    /// An empty fill with a base layer and a depth, both from the floor.
    #[must_use]
    pub fn new(base: Length, depth: Length) -> Self {
        Self { hollow: Vec::new(), solid: Vec::new(), base, depth, correction: 1.0 }
    }

    /// A prism, for tests and simple casts.
    #[must_use]
    pub fn prism(area: Area, base: Length, depth: Length) -> Self {
        Self::new(base, depth).with_hollow(Profile::prism(Length::ZERO, depth, area))
    }

    /// With room for resin.
    #[must_use]
    pub fn with_hollow(mut self, profile: Profile) -> Self {
        self.hollow.push(profile);
        self
    }

    /// With something in the way.
    #[must_use]
    pub fn with_solid(mut self, profile: Profile) -> Self {
        self.solid.push(profile);
        self
    }

    /// With everything above the base layer larger or smaller by a factor,
    /// where another way of measuring is used in place of the drawing.
    #[must_use]
    pub fn corrected(mut self, factor: f64) -> Self {
        self.correction = factor;
        self
    }

    /// Depth of the resin where it is deepest.
    #[must_use]
    pub fn depth(&self) -> Length {
        self.depth
    }

    /// Depth of the base layer; 0 where there is none.
    #[must_use]
    pub fn base(&self) -> Length {
        self.base
    }

    /// Volume of resin up to a level above the floor of the form; levels below
    /// the floor and above the fill are held to them.
    #[must_use]
    pub fn volume_to(&self, level: Length) -> Volume {
        let level = level.min(self.depth);
        let raw = self.drawn_to(level);
        if level <= self.base {
            return raw;
        }
        let base = self.drawn_to(self.base);
        base + (raw - base) * self.correction
    }

    fn drawn_to(&self, level: Length) -> Volume {
        let sum = |all: &[Profile]| all.iter().map(|p| p.volume_to(level)).sum::<Volume>();
        sum(&self.hollow) - sum(&self.solid)
    }

    /// Whether there is more resin the higher it stands, as there must be where
    /// nothing lies in the way of something else.
    #[must_use]
    pub fn only_rises(&self) -> bool {
        let ends = self.hollow.iter().chain(&self.solid);
        let mut levels: Vec<Length> =
            ends.flat_map(|p| [p.from, (p.from + p.to) / 2.0, p.to]).collect();
        levels.sort_by(|a, b| a.m().total_cmp(&b.m()));
        levels.windows(2).all(|pair| {
            // A hair for rounding: a thousandth of a millilitre.
            self.volume_between(pair[0], pair[1]).m3() > -1e-9
        })
    }

    /// Volume between two levels.
    #[must_use]
    pub fn volume_between(&self, from: Length, to: Length) -> Volume {
        self.volume_to(to) - self.volume_to(from)
    }

    /// Volume of all of it.
    #[must_use]
    pub fn volume(&self) -> Volume {
        self.volume_to(self.depth)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn mm(v: f64) -> Length {
        Length::from_mm(v)
    }

    #[test]
    fn profiles_against_closed_forms() {
        use std::f64::consts::PI;
        // A cone of 30 mm radius and 60 mm height, tip down: V(z) = π (r z/h)² z / 3.
        let rim = Area::from_m2(PI * 0.03 * 0.03);
        let cone = Profile { from: mm(0.0), to: mm(60.0), areas: [Area::ZERO, rim * 0.25, rim] };
        for z in [7.0, 30.0, 60.0] {
            let expected = PI * (0.5 * z * 1e-3_f64).powi(2) * z * 1e-3 / 3.0;
            assert!((cone.volume_to(mm(z)).m3() - expected).abs() < 1e-15, "{z}");
        }
        // A ball of radius r: V(z) = π z² (3r − z) / 3.
        let r: f64 = 0.025;
        let ball = Profile {
            from: mm(0.0),
            to: mm(50.0),
            areas: [Area::ZERO, Area::from_m2(PI * r * r), Area::ZERO],
        };
        for z in [5.0, 25.0, 41.0] {
            let z_m = z * 1e-3;
            let expected = PI * z_m * z_m * (3.0 * r - z_m) / 3.0;
            assert!((ball.volume_to(mm(z)).m3() - expected).abs() < 1e-15, "{z}");
            let disc = PI * z_m * (2.0 * r - z_m);
            assert!((ball.area_at(mm(z)).m2() - disc).abs() < 1e-15, "{z}");
        }
    }

    #[test]
    fn a_correction_leaves_the_base_as_it_is() {
        let fill = Fill::prism(Area::from_m2(1.0), mm(2.0), mm(42.0));
        let more = fill.corrected(1.1);
        assert!((more.volume_to(mm(2.0)).l() - 2.0).abs() < 1e-12);
        assert!((more.volume().l() - (2.0 + 44.0)).abs() < 1e-9);
    }

    proptest! {
        #[test]
        fn volume_adds_up_and_never_falls(
            a in 0.0f64..60.0, b in 0.0f64..60.0, top in 0.0f64..0.9, bottom in 0.0f64..0.9,
            correction in 0.7f64..1.4,
        ) {
            // A form of 1 m² with a board whose area runs from one to the other.
            let board = Profile {
                from: mm(2.0),
                to: mm(40.0),
                areas: [bottom, 0.5 * (bottom + top), top].map(Area::from_m2),
            };
            let fill = Fill::prism(Area::from_m2(1.0), mm(2.0), mm(42.0))
                .with_solid(board)
                .corrected(correction);
            let (low, high) = (mm(a.min(b)), mm(a.max(b)));
            let between = fill.volume_between(low, high);
            prop_assert!(between.l() >= -1e-12);
            let sum = fill.volume_to(low) + between + fill.volume_between(high, mm(70.0));
            prop_assert!((sum.l() - fill.volume().l()).abs() < 1e-9);
            prop_assert!(fill.volume_to(mm(-1.0)).l().abs() < 1e-12);
        }
    }
}
