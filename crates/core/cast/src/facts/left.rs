//! What is left to be mixed of each resin, once something is in.

use fondant_quantities::Volume;

use super::{FactRow, poured};
use crate::evaluate::{Evaluation, Need};
use crate::mix::parts;

/// What each resin of a cast comes to without the pours that have happened, in the order of
/// [`Evaluation::needs`].
#[must_use]
pub fn left(evaluation: &Evaluation, rows: &[FactRow]) -> Vec<Need> {
    let poured = poured(rows);
    let mixed = evaluation.measured.mixed_ratio();
    let in_form = |number: usize| -> Volume {
        let planned = evaluation.planned.iter().flatten().filter(|pour| poured.contains(&pour.id));
        let layers = planned.map(|pour| &pour.given.layer);
        layers.filter(|layer| usize::from(layer.resin) == number).map(|layer| mixed.of(layer)).sum()
    };
    let of = |(number, need): (usize, &Need)| {
        let (whole, gone) = (need.parts.volume, in_form(number));
        if gone <= Volume::ZERO {
            return need.clone();
        }
        let volume = (whole - gone).max(Volume::ZERO);
        let share = if whole > Volume::ZERO { volume / whole } else { 0.0 };
        let (resin, uncertainty) = (need.resin.clone(), need.uncertainty * share);
        Need { parts: parts(volume, &resin), resin, uncertainty }
    };
    evaluation.needs.iter().enumerate().map(of).collect()
}
