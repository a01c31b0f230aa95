//! The fields of a form or mould of the shop, and what is read from them.

use fondant_app::records::FormId;
use fondant_quantities::units::{LengthUnit, Unit, UnitSystem};
use fondant_quantities::{Length, bounds};
use fondant_shapes::form::owned::{Condition, OwnedForm, OwnedKind};

use crate::ui::field::{Field, Fields};
use crate::ui::reader::Reader;
use crate::words::resin::name_of;

/// Longest name of a form, characters.
const NAME_CHARACTERS: usize = 60;

pub(super) const KINDS: [(&str, &str, OwnedKind); 2] =
    [("sheet_form", "form of sheet", OwnedKind::SheetForm), ("mould", "mould", OwnedKind::Mould)];
pub(super) const CONDITIONS: [(&str, &str, Condition); 3] = [
    ("ready", "ready", Condition::Ready),
    ("needs_work", "needs work", Condition::NeedsWork),
    ("retired", "retired", Condition::Retired),
];

/// What a new one begins with.
pub(super) fn usual(units: UnitSystem) -> OwnedForm {
    let inside = match units {
        UnitSystem::Metric => [1220.0, 620.0, 60.0].map(Length::from_mm),
        UnitSystem::UsCustomary => [48.0, 24.0, 2.5].map(|inches| LengthUnit::Inch.read(inches)),
    };
    let [length, width, height] = inside;
    OwnedForm {
        name: String::new(),
        kind: OwnedKind::SheetForm,
        length,
        width,
        height,
        cavities: 1,
        condition: Condition::Ready,
    }
}

/// The name of a field: several forms stand on a page.
fn named(field: &str, id: Option<FormId>) -> String {
    id.map_or_else(|| field.to_owned(), |id| format!("{field}-{id}"))
}

/// The fields of a form.
pub(super) fn form_fields(fields: &Fields<'_>, id: Option<FormId>, form: &OwnedForm) -> Vec<Field> {
    let name = |field: &str| named(field, id);
    let cavities = f64::from(form.cavities);
    let kind = name_of(&KINDS, &form.kind);
    let condition = name_of(&CONDITIONS, &form.condition);
    vec![
        fields.text(&name("name"), "What the shop calls it", &form.name),
        fields.choice(&name("kind"), "What it is", kind, &KINDS.map(|(v, l, _)| (v, l))),
        fields.length(&name("length"), "Inside length", form.length),
        fields.length(&name("width"), "Inside width", form.width),
        fields.length(&name("height"), "Inside height", form.height),
        fields.number(&name("cavities"), "Cavities", cavities, &bounds::MOULD_COUNT),
        fields.choice(
            &name("condition"),
            "How it stands",
            condition,
            &CONDITIONS.map(|(v, l, _)| (v, l)),
        ),
    ]
}

/// Reads a form; what is refused is in the reader.
pub(super) fn read(reader: &mut Reader<'_>, id: Option<FormId>) -> OwnedForm {
    let name = |field: &str| named(field, id);
    let mut form = usual(reader.system);
    reader.text(&name("name"), "The name", NAME_CHARACTERS, false, &mut form.name);
    reader.choice(&name("kind"), &KINDS.map(|(v, _, k)| (v, k)), &mut form.kind);
    reader.quantity(&name("length"), &bounds::FINISHED_LENGTH, &mut form.length);
    reader.quantity(&name("width"), &bounds::FINISHED_WIDTH, &mut form.width);
    reader.quantity(&name("height"), &bounds::FINISHED_THICKNESS, &mut form.height);
    reader.count(&name("cavities"), &bounds::MOULD_COUNT, &mut form.cavities);
    reader.choice(&name("condition"), &CONDITIONS.map(|(v, _, c)| (v, c)), &mut form.condition);
    form
}
