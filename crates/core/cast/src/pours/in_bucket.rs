//! Whether a bucket is poured before it is too thick.

use crate::document::Conditions;
use fondant_heat::HeatError;
use fondant_heat::bucket::{pot_life_s, pourable_mass};
use fondant_materials::resin::Calibrated;
use fondant_pours::Crew;
use fondant_pours::layers::Layer;
use fondant_quantities::{Mass, Span, Volume};

/// Whether what is mixed at a time can be poured before it is too thick.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum InBucket {
    /// The bucket can be poured in time.
    Fits,
    /// Only in smaller buckets, so more of them are mixed.
    Smaller {
        /// What can be mixed at a time.
        mass: Mass,
        /// Time after which the requested bucket is too thick to pour, s.
        pot_life: Span,
    },
    /// Not even of a cup.
    Never {
        /// Time after which the mix is too thick to pour, s.
        pot_life: Span,
    },
}

impl InBucket {
    /// Of pours whose largest layer of each resin is one of these.
    pub(super) fn of(
        conditions: &Conditions,
        resins: &[&Calibrated],
        crew: &Crew,
        layers: &[Layer],
    ) -> Result<Self, HeatError> {
        let of = |(number, resin): (usize, &&Calibrated)| {
            let own = layers.iter().filter(|layer| usize::from(layer.resin) == number);
            let largest = own.map(|layer| crew.mixed.of(layer)).fold(Volume::ZERO, Volume::max);
            Self::of_resin(conditions, resin, crew, largest)
        };
        let all: Vec<Self> = resins.iter().enumerate().map(of).collect::<Result<_, _>>()?;
        Ok(all.into_iter().reduce(Self::stricter).unwrap_or(Self::Fits))
    }

    /// The one that asks for the smaller bucket.
    fn stricter(self, other: Self) -> Self {
        match (self, other) {
            (Self::Never { .. }, _) => self,
            (_, Self::Never { .. }) => other,
            (Self::Smaller { mass: a, .. }, Self::Smaller { mass: b, .. }) if a <= b => self,
            (Self::Smaller { .. }, Self::Fits) => self,
            (_, other) => other,
        }
    }

    fn of_resin(
        conditions: &Conditions,
        resin: &Calibrated,
        crew: &Crew,
        largest: Volume,
    ) -> Result<Self, HeatError> {
        let most = crew.bucket.min(largest * resin.density);
        if most <= Mass::ZERO {
            return Ok(Self::Fits);
        }
        let needed = crew.mixing + crew.pouring + conditions.waits;
        let (air, fresh) = (conditions.air, conditions.resin);
        let found = pourable_mass(resin, most, needed.s(), air, fresh)?;
        if found == Some(most) {
            return Ok(Self::Fits);
        }
        let life_s = pot_life_s(resin, most, air, fresh)?;
        let pot_life = Span::from_s(life_s.unwrap_or(needed.s()));
        Ok(match found {
            Some(mass) => Self::Smaller { mass, pot_life },
            None => Self::Never { pot_life },
        })
    }

    /// What is mixed at a time where `asked` was asked for.
    #[must_use]
    pub fn mass(&self, asked: Mass) -> Mass {
        match self {
            Self::Smaller { mass, .. } => mass.min(asked),
            Self::Fits | Self::Never { .. } => asked,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_materials::resin::{ResinClass, shipped};
    use fondant_pours::layers::LayerKind;
    use fondant_quantities::{Length, Temperature};

    fn in_bucket(class: ResinClass, bucket_kg: f64, litres: f64, minutes: f64) -> InBucket {
        let mm = Length::from_mm;
        let room = Temperature::from_celsius(20.0);
        let resin = shipped::models().into_iter().find(|resin| resin.class == class).unwrap();
        let half = Span::from_s(30.0 * minutes);
        let crew = Crew {
            bucket: Mass::from_kg(bucket_kg),
            mixing: half,
            pouring: half,
            ..Crew::default()
        };
        let volume = Volume::from_l(litres);
        let layer = Layer::new(LayerKind::Main(1), Length::ZERO, mm(20.0), volume);
        InBucket::of(&Conditions::steady(room, room), &[&resin], &crew, &[layer]).unwrap()
    }

    #[test]
    fn a_slow_resin_is_poured_from_any_bucket_and_a_fast_one_from_small_ones() {
        assert_eq!(in_bucket(ResinClass::SlowCasting, 12.0, 20.0, 10.0), InBucket::Fits);
        let InBucket::Smaller { mass, pot_life } = in_bucket(ResinClass::Coating, 12.0, 20.0, 48.0)
        else {
            panic!("a coating epoxy in 12 kg for 48 minutes")
        };
        assert!(mass < Mass::from_kg(12.0) && pot_life < Span::from_s(2880.0), "{mass:?}");
        let smaller = in_bucket(ResinClass::Coating, mass.kg(), 20.0, 48.0);
        assert_eq!(smaller, InBucket::Fits, "what is said to fit does");
        // A layer of half a litre does not need a bucket of 12 kg.
        assert_eq!(in_bucket(ResinClass::Coating, 12.0, 0.2, 48.0), InBucket::Fits);
        let never = in_bucket(ResinClass::Coating, 12.0, 20.0, 600.0);
        assert!(matches!(never, InBucket::Never { .. }), "{never:?}");
        assert_eq!(never.mass(Mass::from_kg(12.0)), Mass::from_kg(12.0));
    }
}
