//! What is mixed at a time of each of a cast's resins, and the state in which it goes in.

use fondant_heat::{HeatError, Poured};
use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
use fondant_pours::layers::Layer;
use fondant_pours::{Crew, StageResin};
use fondant_quantities::Mass;

use crate::document::Conditions;
use crate::heat::conditions::poured;

/// The mixes of a plan's layers.
#[derive(Debug, Clone)]
pub(super) struct Mixes {
    /// Largest mass of the cast's own resin that is mixed at a time.
    pub(super) batch: Mass,
    /// The cast's own resin as it goes in.
    pub(super) poured: Poured,
    /// The resins of its stages.
    pub(super) stages: Vec<StageResin>,
}

impl Mixes {
    /// Of a cast's own resin, and those of its stages, counted from 1 by the layers.
    pub(super) fn of(
        conditions: &Conditions,
        (own, of_stages): (&Calibrated, &[Calibrated]),
        crew: &Crew,
        layers: &[Layer],
        stop: &Stop,
    ) -> Result<Self, HeatError> {
        let is_of = |layer: &Layer, number| usize::from(layer.resin) == number;
        // Where what is in is all of another resin, as much of the cast's own would be mixed for it.
        let has_own = layers.iter().any(|layer| is_of(layer, 0));
        let largest = |resin: &Calibrated, number| {
            let own =
                layers.iter().filter(|layer| is_of(layer, number) || (number == 0 && !has_own));
            own.map(|layer| crew.batch(layer, resin.density)).fold(Mass::ZERO, Mass::max)
        };
        let staged = |(number, resin): (usize, &Calibrated)| {
            let poured = poured(conditions, largest(resin, number), resin, stop)?;
            Ok(StageResin { resin: resin.clone(), poured })
        };
        let batch = largest(own, 0);
        Ok(Self {
            batch,
            poured: poured(conditions, batch, own, stop)?,
            stages: (1..).zip(of_stages).map(staged).collect::<Result<_, HeatError>>()?,
        })
    }
}
