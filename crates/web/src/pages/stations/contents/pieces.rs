//! Pieces of timber pressed into moulds.

use fondant_cast::document::Moulds;
use fondant_quantities::{Volume, bounds};

use super::each::each;
use super::inside::Inside;
use crate::pages::stations::asked::Asked;
use crate::ui::group::Group;
use crate::ui::reader::Reader;

pub(super) fn apply(reader: &mut Reader<'_>, moulding: &mut Moulds) {
    let mut timber = (moulding.timber > Volume::ZERO).then_some(moulding.timber);
    reader.maybe("timber", &bounds::WATER, &mut timber);
    moulding.timber = timber.unwrap_or(Volume::ZERO);
    reader.quantity("timber_density", &bounds::TIMBER_DENSITY, &mut moulding.timber_density);
}

pub(super) fn inside(asked: &Asked<'_>, moulding: &Moulds) -> Inside {
    let (fields, shown) = (asked.fields(), asked.shown);
    let timber = (moulding.timber > Volume::ZERO).then_some(moulding.timber);
    let mut notes = Vec::new();
    if let Some(held) = asked.evaluation.held.first() {
        let each = held.lift.hold_down / f64::from(moulding.count);
        notes.push((
            "They float",
            format!(
                "Each piece wants {} on it, twice its lift, until the layer holds it.",
                shown.mass_fine(each)
            ),
        ));
    }
    Inside {
        title: "What is pressed into each?",
        groups: vec![Group::new(
            "Timber in one cavity",
            vec![
                fields
                    .maybe_volume("timber", "Its volume", timber)
                    .hint("Length × width × thickness, or mass ÷ density. Leave empty for none."),
                fields.density("timber_density", "Its density", moulding.timber_density),
            ],
        )],
        figures: vec![each(asked, &moulding.hollow, moulding.timber)],
        notes,
        cares: vec![
            "A thin layer first, then the pieces pressed in and weighted, then the rest: no air is \
             caught under them."
                .into(),
            "Silicone: a heat gun, not a flame, takes the bubbles; a flame scorches the mould.".into(),
        ],
        ..Inside::default()
    }
}
