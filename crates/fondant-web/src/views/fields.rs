//! A field: a figure on an ink line, with its other unit and its refusal.

use fondant_core::quantities::{Density, Length, Temperature};

use super::format::Shown;
use crate::entries::{Entries, Refusals};

/// One field of a form.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Field {
    /// Its name in the form, and its id on the page.
    pub name: String,
    /// What it is called.
    pub label: String,
    /// What stands in it.
    pub value: String,
    /// The same in the other system.
    pub other: String,
    /// A word of help under it.
    pub hint: String,
    /// Why the entry was refused; empty where it was not.
    pub refusal: String,
    /// `text`, `number`, `time`, `datetime-local`.
    pub kind: &'static str,
}

/// Makes the fields of a form: as kept, or as typed where the form was refused.
#[derive(Debug)]
pub struct Fields<'a> {
    /// Units.
    pub shown: Shown,
    /// What was typed, where the form is shown again.
    pub typed: Option<&'a Entries>,
    /// Refusals by field.
    pub refusals: &'a Refusals,
}

impl Fields<'_> {
    /// A field of plain text.
    #[must_use]
    pub fn text(&self, name: &str, label: &str, value: &str) -> Field {
        let typed = self.typed.and_then(|entries| entries.get(name));
        Field {
            name: name.to_owned(),
            label: label.to_owned(),
            value: typed.unwrap_or(value).to_owned(),
            refusal: self.refusals.of(name),
            kind: "text",
            ..Field::default()
        }
    }

    /// A length, with the other system beside it.
    #[must_use]
    pub fn length(&self, name: &str, label: &str, value: Length) -> Field {
        let other = self.shown.other().length(value);
        self.beside(self.text(name, label, &self.shown.length_entry(value)), other)
    }

    /// A temperature, with the other system beside it.
    #[must_use]
    pub fn temperature(&self, name: &str, label: &str, value: Temperature) -> Field {
        let other = self.shown.other().temperature(value);
        self.beside(self.text(name, label, &self.shown.temperature_entry(value)), other)
    }

    /// A density, with the other system beside it.
    #[must_use]
    pub fn density(&self, name: &str, label: &str, value: Density) -> Field {
        let other = self.shown.other().density(value);
        self.beside(self.text(name, label, &self.shown.density_entry(value)), other)
    }

    /// The other system's figure, unless the field shows something refused.
    fn beside(&self, field: Field, other: String) -> Field {
        let other = if self.typed.is_some() { String::new() } else { other };
        Field { other, ..field }
    }
}

impl Field {
    /// With a word of help.
    #[must_use]
    pub fn hint(mut self, hint: impl Into<String>) -> Self {
        self.hint = hint.into();
        self
    }

    /// As another kind of input.
    #[must_use]
    pub fn kind(mut self, kind: &'static str) -> Self {
        self.kind = kind;
        self
    }

    /// Whether the entry was refused.
    #[must_use]
    pub fn is_refused(&self) -> bool {
        !self.refusal.is_empty()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_core::quantities::units::UnitSystem;

    #[test]
    fn a_refused_form_shows_what_was_typed_and_why() {
        let typed = Entries::new(vec![("depth".into(), "deep".into())]);
        let mut refusals = Refusals::default();
        refusals.add("depth", "“deep” is not a length.");
        let shown = Shown { system: UnitSystem::Metric };
        let fields = Fields { shown, typed: Some(&typed), refusals: &refusals };
        let field = fields.length("depth", "Depth", Length::from_mm(38.0));
        assert_eq!(field.value, "deep");
        assert_eq!(field.other, "");
        assert!(field.is_refused());
    }

    #[test]
    fn a_kept_figure_stands_with_both_units() {
        let refusals = Refusals::default();
        let shown = Shown { system: UnitSystem::Metric };
        let fields = Fields { shown, typed: None, refusals: &refusals };
        let field = fields.length("depth", "Depth", Length::from_mm(38.1));
        assert_eq!((field.value.as_str(), field.other.as_str()), ("38.1 mm", "1 1/2\u{202f}in"));
    }
}
