//! Ratios and densities as a datasheet says them.

use fondant_materials::resin::MixRatio;
use fondant_quantities::Density;

/// The ratio and the densities that follow from what a datasheet says of them.
/// Two of ratio by mass, ratio by volume and the densities of A and B are
/// enough; the third must agree.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct SaidOfMixing {
    /// Parts of B to 100 of A by mass.
    pub b_by_mass: Option<f64>,
    /// Parts of B to 100 of A by volume.
    pub b_by_volume: Option<f64>,
    /// Density of A, kg/m³.
    pub density_a: Option<f64>,
    /// Density of B, kg/m³.
    pub density_b: Option<f64>,
    /// Density of the mix, kg/m³.
    pub mixed: Option<f64>,
}

/// Why parts make no mix.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum MixingError {
    /// Not enough is said.
    #[error("too little is said of the mix")]
    TooLittle,
    /// Mass, volume and densities disagree.
    #[error("{implied} : 100 by volume follows, {said} : 100 is said")]
    RatiosDisagree {
        /// Parts of B by mass.
        by_mass: f64,
        /// Ratio by volume that follows from the masses and densities, parts of B to 100 of A.
        implied: f64,
        /// Ratio by volume as stated, parts of B to 100 of A.
        said: f64,
    },
    /// The mixed density is not between those of the parts.
    #[error("{implied} kg/m³ follows, {said} kg/m³ is said")]
    DensityDisagrees {
        /// Density that follows from the parts, kg/m³.
        implied: f64,
        /// Density as stated, kg/m³.
        said: f64,
    },
}

/// Ratios within this of each other agree: datasheets round.
const RATIO_SLACK: f64 = 0.03;
/// Mixed densities within this of each other agree.
const DENSITY_SLACK: f64 = 0.025;

/// The mix that follows.
///
/// # Errors
/// [`MixingError`].
pub fn mixing(said: &SaidOfMixing) -> Result<MixRatio, MixingError> {
    let (a, b, mass) = match (said.density_a, said.density_b, said.b_by_mass, said.b_by_volume) {
        (Some(a), Some(b), Some(mass), volume) => {
            let implied = mass * a / b;
            if let Some(volume) = volume
                && (volume / implied - 1.0).abs() > RATIO_SLACK
            {
                return Err(MixingError::RatiosDisagree { by_mass: mass, implied, said: volume });
            }
            (a, b, mass)
        }
        (Some(a), Some(b), None, Some(volume)) => (a, b, volume * b / a),
        // Both ratios and one density, or that of the mix, give the others.
        (a, b, Some(mass), Some(volume)) => {
            let a_by_b = volume / mass;
            let a = match (a, b, said.mixed) {
                (Some(a), _, _) => a,
                (None, Some(b), _) => b * a_by_b,
                (None, None, Some(mixed)) => mixed * (100.0 + volume) / (100.0 + mass),
                (None, None, None) => return Err(MixingError::TooLittle),
            };
            (a, a / a_by_b, mass)
        }
        _ => return Err(MixingError::TooLittle),
    };
    let mix = MixRatio {
        a_by_mass: 100.0,
        b_by_mass: mass,
        density_a: Density::from_kg_m3(a),
        density_b: Density::from_kg_m3(b),
    };
    let implied = mix.mixed_density().kg_m3();
    match said.mixed {
        Some(mixed) if (mixed / implied - 1.0).abs() > DENSITY_SLACK => {
            Err(MixingError::DensityDisagrees { implied, said: mixed })
        }
        _ => Ok(mix),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ratios_follow_from_each_other_or_are_refused() {
        let both = SaidOfMixing {
            density_a: Some(1138.0),
            density_b: Some(1024.0),
            ..SaidOfMixing::default()
        };
        let by_volume = mixing(&SaidOfMixing { b_by_volume: Some(50.0), ..both }).unwrap();
        assert!((by_volume.b_by_mass - 45.0).abs() < 0.05);
        let by_mass = mixing(&SaidOfMixing { b_by_mass: Some(45.0), ..both }).unwrap();
        assert!((by_mass.b_per_a_by_volume() - 0.5).abs() < 0.001);
        let from_mix = SaidOfMixing {
            b_by_mass: Some(45.0),
            b_by_volume: Some(50.0),
            mixed: Some(1100.0),
            ..SaidOfMixing::default()
        };
        assert!((mixing(&from_mix).unwrap().density_a.kg_m3() - 1138.0).abs() < 2.0);
        let swapped = SaidOfMixing { b_by_mass: Some(50.0), b_by_volume: Some(45.0), ..both };
        assert!(matches!(mixing(&swapped), Err(MixingError::RatiosDisagree { .. })));
        let alone = SaidOfMixing { b_by_volume: Some(50.0), ..SaidOfMixing::default() };
        assert_eq!(mixing(&alone), Err(MixingError::TooLittle));
        let light = SaidOfMixing { b_by_mass: Some(45.0), mixed: Some(1000.0), ..both };
        assert!(matches!(mixing(&light), Err(MixingError::DensityDisagrees { .. })));
    }
}
