//! From a volume of resin to its parts A and B.

pub mod buying;

use fondant_materials::resin::Properties;
use fondant_quantities::{Mass, Volume};

/// A volume of mixed resin and the parts that make it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Parts {
    /// Mixed volume.
    pub volume: Volume,
    /// Mixed mass, by the mixed density.
    pub mass: Mass,
    /// Part A by mass.
    pub a_mass: Mass,
    /// Part B by mass.
    pub b_mass: Mass,
    /// Part A by volume, by its own density.
    pub a_volume: Volume,
    /// Part B by volume, by its own density.
    pub b_volume: Volume,
}

/// The parts of a volume of mixed resin.
#[must_use]
pub fn parts(volume: Volume, resin: &Properties) -> Parts {
    let mass = volume * resin.density;
    let a_mass = mass * resin.mix.share_a_by_mass();
    let b_mass = mass - a_mass;
    Parts {
        volume,
        mass,
        a_mass,
        b_mass,
        a_volume: a_mass / resin.mix.density_a,
        b_volume: b_mass / resin.mix.density_b,
    }
}

/// Share of a mix that stays on buckets and sticks: 2 % of a resin as thin as
/// 0.3 Pa·s, 4 % of one of 2 Pa·s, by the logarithm between.
#[must_use]
pub fn bucket_residue(resin: &Properties) -> f64 {
    let (thin, thick) = (0.3_f64.ln(), 2.0_f64.ln());
    let share = (resin.viscosity.fresh_pa_s.ln() - thin) / (thick - thin);
    0.02 + 0.02 * share.clamp(0.0, 1.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_materials::resin::shipped;
    use proptest::prelude::*;

    #[test]
    fn eleven_litres_of_slow_casting_epoxy() {
        let resin = &shipped::all()[0];
        let parts = parts(Volume::from_l(11.0), resin);
        assert!((parts.mass.kg() - 12.1).abs() < 1e-9);
        assert!((parts.a_mass.kg() - 12.1 / 1.45).abs() < 1e-9);
        assert!((parts.b_volume / parts.a_volume - 0.5).abs() < 0.001);
    }

    #[test]
    fn thick_resin_leaves_more_in_the_bucket() {
        let [slow, _, coating] = [0, 1, 2].map(|i| bucket_residue(&shipped::all()[i]));
        assert!(slow < coating && slow >= 0.02 && coating <= 0.04, "{slow} {coating}");
    }

    proptest! {
        #[test]
        fn parts_make_the_whole_in_the_ratio(litres in 0.0f64..200.0) {
            for resin in shipped::all() {
                let parts = parts(Volume::from_l(litres), &resin);
                prop_assert!((parts.a_mass.kg() + parts.b_mass.kg() - parts.mass.kg()).abs() < 1e-9);
                let ratio = resin.mix.b_by_mass / resin.mix.a_by_mass;
                prop_assert!((parts.b_mass.kg() - ratio * parts.a_mass.kg()).abs() < 1e-9);
            }
        }
    }
}
