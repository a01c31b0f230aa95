//! Glue spots and small repairs with a resin that sets under a lamp.

use fondant_materials::lamp::{CLEAR, NotForLamp, Repair};
use fondant_quantities::units::{LengthUnit, Unit, UnitSystem};
use fondant_quantities::{Length, bounds};

use crate::ui::entries::{Entries, Refusals};
use crate::ui::field::{Field, Fields};
use crate::ui::numbers::span;
use crate::ui::reader::Reader;
use crate::ui::units::Shown;
use crate::words::counting::counted;

/// A small knot or chip, to be typed over.
fn usual(units: UnitSystem) -> [Length; 3] {
    match units {
        UnitSystem::Metric => [12.0, 5.0, 3.0].map(Length::from_mm),
        UnitSystem::UsCustomary => [0.5, 0.25, 0.125].map(|inches| LengthUnit::Inch.read(inches)),
    }
}
const NAMES: [(&str, &str); 3] =
    [("repair_length", "Length"), ("repair_width", "Width"), ("repair_depth", "Depth")];

/// The panel of repairs.
pub(super) struct RepairView {
    pub(super) about: String,
    pub(super) fields: Vec<Field>,
    /// What it takes; empty until it was asked for.
    pub(super) answer: String,
    pub(super) is_refused: bool,
}

/// The panel, with what was asked for in the address.
pub(super) fn view(asked: &Entries, shown: Shown) -> RepairView {
    let mut reader = Reader::new(asked, shown.system);
    let is_asked = NAMES.iter().any(|(name, _)| asked.get(name).is_some());
    let mut size = usual(shown.system);
    let mut answer = String::new();
    if is_asked {
        for ((name, _), place) in NAMES.iter().zip(&mut size) {
            reader.quantity(name, &bounds::CAVITY_SIDE, place);
        }
        if reader.refusals.is_empty() {
            match CLEAR.repair(size) {
                Ok(repair) => answer = told(&repair, shown),
                Err(NotForLamp::TooDeep { most, .. }) => reader.refusals.add(
                    "repair_depth",
                    format!(
                        "Light sets it through {} at most, layer by layer. Fill a deeper place with a \
                         casting resin.",
                        shown.length(most)
                    ),
                ),
            }
        }
    }
    let fields = fields(asked, &reader.refusals, is_asked, size, shown);
    let is_refused = !reader.refusals.is_empty();
    RepairView { about: about(shown), fields, answer, is_refused }
}

fn fields(
    asked: &Entries,
    refusals: &Refusals,
    is_asked: bool,
    size: [Length; 3],
    shown: Shown,
) -> Vec<Field> {
    let fields = Fields::of(shown, is_asked.then_some(asked), refusals);
    NAMES.iter().zip(size).map(|((name, label), value)| fields.length(name, label, value)).collect()
}

fn about(shown: Shown) -> String {
    format!(
        "One part, clear, {} a layer, about {} under a lamp of 365–405 nm each (conventions: its \
         datasheet comes first). Colour stops the light. It is for glue spots, chips and pinholes, \
         never for a cast.",
        shown.length(CLEAR.deepest),
        span(CLEAR.exposure)
    )
}

fn told(repair: &Repair, shown: Shown) -> String {
    let layers = counted(repair.layers, "layer");
    let each = if repair.layers == 1 { "" } else { " each" };
    format!(
        "{layers} of {}{each}, {} ({}), {} under the lamp. Set and wipe one layer before the next.",
        shown.length_fine(repair.layer),
        shown.volume_fine(repair.volume),
        shown.weighed(repair.mass),
        span(repair.under_lamp)
    )
}
