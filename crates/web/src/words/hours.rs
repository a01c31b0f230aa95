//! Why opening hours are invalid.

use fondant_pours::HoursError;

/// A sentence for the field.
pub(crate) fn hours(error: &HoursError) -> String {
    match error {
        HoursError::ClosesBeforeOpening { opens, closes } => format!(
            "{opens}–{closes} does not end after it begins. Only the last stretch of a day may go on \
             past midnight: type the others with their end after their beginning."
        ),
        HoursError::Overlap { first, second } => {
            format!("{first} and {second} overlap. End the one before the other begins.")
        }
        HoursError::Unreadable(text) => format!(
            "“{text}” is not a stretch of hours. Write 08:00–18:00, two as 08:00–12:00, 13:00–18:00, \
             or leave it empty for a day off."
        ),
        HoursError::NeverOpen => {
            "The shop is never open. Give hours to at least one day on which somebody can pour."
                .to_owned()
        }
        HoursError::UnknownZone(name) => {
            format!("“{name}” is not a time zone. Use a name such as Europe/Lisbon.")
        }
    }
}
