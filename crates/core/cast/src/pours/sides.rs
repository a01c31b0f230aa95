//! What stands at the sides of a cast's layers does to its column.

use fondant_heat::sides::Sides;
use fondant_heat::{Accuracy, HeatError, Poured};
use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
use fondant_pours::layers::Layer;
use fondant_quantities::Length;

use crate::heat::{LayerOf, SideTask};

/// What stands at the sides of a layer of a depth does to it.
pub(super) fn sides_of(
    task: Option<&SideTask>,
    (resin, poured): (&Calibrated, Poured),
    depth: Length,
    stop: &Stop,
) -> Result<Sides, HeatError> {
    let accuracy = Accuracy::coarse().until(stop);
    let layer = LayerOf { resin, poured, accuracy: &accuracy };
    task.map_or(Ok(Sides::NONE), |task| task.sides(layer, depth))
}

/// The thickest layer of the cast's own resin in the form, as far as heat goes; of all, where what is in
/// is all of another.
pub(super) fn thickest(layers: &[Layer]) -> Length {
    let in_form = || layers.iter().filter(|layer| layer.is_in_form());
    let has_own = in_form().any(|layer| layer.resin == 0);
    let own = in_form().filter(|layer| layer.resin == 0 || !has_own);
    own.map(|layer| layer.heat_depth).fold(Length::ZERO, Length::max)
}
