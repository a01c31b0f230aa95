//! The form: how it is filled, what it is built of, how it is bought.

use fondant_app::Shop;
use fondant_cast::{Document, Kind};
use fondant_quantities::bounds;

use super::{build, pot, ways};
use crate::ui::reader::Reader;

pub(super) fn apply(reader: &mut Reader<'_>, document: &mut Document, _: &Shop) {
    let kind = document.kind();
    let form = &mut document.form;
    if let Some(river) = document.contents.river_mut() {
        reader.quantity("base_gap", &bounds::BASE_GAP, &mut river.base_gap);
        ways::apply(reader, river);
    }
    if kind != Kind::Coat {
        reader.quantity("overfill", &bounds::OVERFILL, &mut form.overfill);
    }
    reader.percent("residue", &bounds::BUCKET_RESIDUE_PERCENT, &mut form.bucket_residue_ratio);
    if let Some(build) = document.contents.build_mut() {
        reader.percent("leak", &bounds::LEAK_PERCENT, &mut form.leak_ratio);
        reader.quantity("fall", &bounds::FALL, &mut form.fall);
        build::apply(reader, build);
    }
    if let Some(pot) = document.contents.pot_mut() {
        pot::apply(reader, pot);
    }
}
