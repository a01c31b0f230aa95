//! The resins that a cast names.

use fondant_cast::Document;
use fondant_materials::resin::shelf::Shelf;
use fondant_materials::resin::{Record, ResinId};

/// The resins that a document names, once each.
pub(super) fn resins(shelf: &Shelf, document: &Document) -> Vec<Record> {
    let mut resins = Vec::new();
    for id in named(document) {
        if let Ok(found) = shelf.find(id)
            && !resins.iter().any(|resin: &Record| resin.id == *id)
        {
            resins.push(found.clone());
        }
    }
    resins
}

/// Ids of the resins that a document names, that of the cast first.
pub(super) fn named(document: &Document) -> impl Iterator<Item = &ResinId> {
    std::iter::once(&document.resin).chain(document.stages.named_resins())
}
