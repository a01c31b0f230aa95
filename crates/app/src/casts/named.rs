//! The resins that a cast names.

use fondant_cast::Document;
use fondant_materials::resin::Record;
use fondant_materials::resin::shelf::Shelf;

/// The resins that a document names, once each.
pub(super) fn resins(shelf: &Shelf, document: &Document) -> Vec<Record> {
    let mut resins = Vec::new();
    for id in document.named_resins() {
        if let Ok(found) = shelf.find(id)
            && !resins.iter().any(|resin: &Record| resin.id == *id)
        {
            resins.push(found.clone());
        }
    }
    resins
}
