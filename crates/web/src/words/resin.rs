//! Resins in words, and why one cannot be used.

use fondant_materials::resin::{Hazard, ResinClass, ResinError, Sunlight};

/// A sentence for the field.
pub(crate) fn resin(error: &ResinError) -> String {
    match error {
        ResinError::Impossible { what, found, from, to } => {
            format!("{what} is {found}; a resin has {from} to {to}. Check the file.")
        }
        ResinError::Unnamed => {
            "it has no name, or one of more than 80 letters. Check the file.".to_owned()
        }
        ResinError::Unknown(name) => unknown(name),
    }
}

/// A resin that is not on the shelf.
pub(crate) fn unknown(name: &str) -> String {
    format!("There is no resin called “{name}” on the shelf. Choose one on the Resin page.")
}

pub(crate) const CLASSES: [(&str, &str, ResinClass); 7] = [
    ("slow_casting", "slow casting epoxy", ResinClass::SlowCasting),
    ("medium_casting", "medium casting epoxy", ResinClass::MediumCasting),
    ("coating", "coating epoxy", ResinClass::Coating),
    ("small_batch", "small-batch casting epoxy", ResinClass::SmallBatch),
    ("fast_casting", "fast casting epoxy", ResinClass::FastCasting),
    ("urethane", "casting urethane", ResinClass::Urethane),
    ("polyester", "polyester casting resin", ResinClass::Polyester),
];

pub(crate) const SUNLIGHT: [(&str, &str, Sunlight); 3] = [
    ("poor", "ambers within months", Sunlight::Poor),
    ("fair", "ambers within years", Sunlight::Fair),
    ("good", "hardly ambers", Sunlight::Good),
];

pub(crate) const HAZARDS: [(&str, &str, Hazard); 6] = [
    ("sensitiser", "sensitises the skin", Hazard::Sensitiser),
    ("corrosive", "burns skin and eyes", Hazard::Corrosive),
    ("isocyanate", "isocyanate vapour", Hazard::Isocyanate),
    ("vapour", "strong vapour", Hazard::Vapour),
    ("flammable", "flammable: no flame, no heat gun", Hazard::Flammable),
    ("moisture", "foams with moisture", Hazard::HatesMoisture),
];

/// The words for something, from a table of names, words and values.
pub(crate) fn words_of<T: PartialEq>(
    table: &[(&'static str, &'static str, T)],
    value: &T,
) -> &'static str {
    table.iter().find(|row| row.2 == *value).map_or("", |row| row.1)
}

/// The name for something in a form.
pub(crate) fn name_of<T: PartialEq>(
    table: &[(&'static str, &'static str, T)],
    value: &T,
) -> &'static str {
    table.iter().find(|row| row.2 == *value).map_or("", |row| row.0)
}
