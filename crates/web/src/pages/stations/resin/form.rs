//! The choice of a resin and of what colours it.

use fondant_app::Shop;
use fondant_cast::Document;
use fondant_materials::resin::ResinId;

use super::colour;
use crate::ui::reader::Reader;
use crate::words::resin;

pub(super) fn apply(reader: &mut Reader<'_>, document: &mut Document, shop: &Shop) {
    if let Some(chosen) = reader.entries.get("resin") {
        let id = ResinId(chosen.to_owned());
        match shop.shelf().find(&id) {
            Ok(_) => document.resin = id,
            Err(error) => reader.refusals.add("", resin::resin(&error)),
        }
    }
    colour::apply(reader, document);
}
