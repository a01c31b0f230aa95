//! Resin of one part that sets under an ultraviolet lamp: for glue spots and small repairs, never for a
//! cast. It has no pot life and no peak to plan with; what limits it is how far light reaches.

use fondant_quantities::{Density, Length, Mass, Span, Volume};

/// A resin that sets under a lamp, as its class is usually sold. A datasheet beats every figure.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LampCured {
    /// Deepest layer that light of 365–405 nm sets through while clear (convention: 2 mm).
    pub deepest: Length,
    /// Time under a hand lamp a hand's breadth away, for one layer (convention: 2 minutes).
    pub exposure: Span,
    /// Density before it is set.
    pub density: Density,
    /// More layers than these are a cast: each shrinks by about 5 % and pulls at the edge (convention).
    pub most_layers: u32,
}

/// The generic one that ships.
pub const CLEAR: LampCured = LampCured {
    deepest: Length::from_mm(2.0),
    exposure: Span::from_s(120.0),
    density: Density::from_kg_m3(1100.0),
    most_layers: 3,
};

/// What a repair takes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Repair {
    /// Number of layers, each set before the next.
    pub layers: u32,
    /// Depth of each.
    pub layer: Length,
    /// Time under the lamp, all layers together.
    pub under_lamp: Span,
    /// Volume of resin, none of it lost in a cup.
    pub volume: Volume,
    /// Mass of the repair.
    pub mass: Mass,
}

/// Why a place is not for a lamp.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum NotForLamp {
    /// Deeper than its layers reach.
    #[error("{} mm is more than {} mm", depth.mm(), most.mm())]
    TooDeep {
        /// Depth of the place.
        depth: Length,
        /// The deepest that its layers fill.
        most: Length,
    },
}

impl LampCured {
    /// Layers, time and resin for a place of a length, width and depth.
    ///
    /// # Errors
    /// [`NotForLamp::TooDeep`] where it takes more layers than [`LampCured::most_layers`].
    pub fn repair(&self, size: [Length; 3]) -> Result<Repair, NotForLamp> {
        let [length, width, depth] = size;
        let most = self.deepest * f64::from(self.most_layers);
        // A depth typed in inches may be a bit over the figure in millimetres.
        if depth > most + Length::from_mm(1e-6) {
            return Err(NotForLamp::TooDeep { depth, most });
        }
        let needed = (depth / self.deepest - 1e-6).ceil().max(1.0);
        let layers = (1..=self.most_layers).find(|n| f64::from(*n) >= needed);
        let layers = layers.unwrap_or(self.most_layers);
        let volume = length * width * depth;
        Ok(Repair {
            layers,
            layer: depth / f64::from(layers),
            under_lamp: self.exposure * f64::from(layers),
            volume,
            mass: volume * self.density,
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const fn mm(value: f64) -> Length {
        Length::from_mm(value)
    }

    #[test]
    fn a_repair_by_hand() {
        // 12 × 5 × 3 mm = 0.18 mL, 0.198 g, two layers of 1.5 mm, four minutes.
        let repair = CLEAR.repair([mm(12.0), mm(5.0), mm(3.0)]).unwrap();
        assert_eq!(repair.layers, 2);
        assert!((repair.layer.mm() - 1.5).abs() < 1e-9);
        assert!((repair.under_lamp.s() - 240.0).abs() < 1e-9);
        assert!((repair.volume.l() * 1e3 - 0.18).abs() < 1e-9);
        assert!((repair.mass.kg() * 1e3 - 0.198).abs() < 1e-9);
        // Just its layer, typed in another unit, is one layer.
        assert_eq!(CLEAR.repair([mm(5.0), mm(5.0), mm(2.000_000_1)]).unwrap().layers, 1);
    }

    #[test]
    fn what_light_does_not_reach_is_no_repair() {
        let deep = CLEAR.repair([mm(50.0), mm(10.0), mm(8.0)]);
        assert_eq!(deep, Err(NotForLamp::TooDeep { depth: mm(8.0), most: mm(6.0) }));
    }

    proptest! {
        #[test]
        fn no_layer_is_deeper_than_light_reaches(depth in 0.1..6.0f64) {
            let repair = CLEAR.repair([mm(10.0), mm(4.0), mm(depth)]).unwrap();
            prop_assert!(repair.layer.mm() <= 2.0 + 1e-5);
            prop_assert!((repair.layer.mm() * f64::from(repair.layers) - depth).abs() < 1e-9);
            prop_assert!(repair.layers == 1 || repair.layer.mm() * f64::from(repair.layers) > 2.0 * f64::from(repair.layers - 1) - 1e-4);
        }
    }
}
