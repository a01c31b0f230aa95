//! A field: a figure on an ink line, with its other unit and its refusal.

use askama::Template;
use askama::filters::HtmlSafe;
use fondant_cast::document::Typed;
use fondant_quantities::bounds::NumberBound;
use fondant_quantities::units::trimmed;
use fondant_quantities::{Density, Length, Mass, Money, Temperature, Volume};

use super::entries::{Entries, Refusals};
use super::units::Shown;
use super::written::{Written, reads_as};
use crate::words::defaults;

/// Decimals of a plain number in a field, at most.
pub(crate) const SHOWN_DECIMALS: usize = 2;

/// One field of a form.
#[derive(Debug, Clone, Default, PartialEq, Template)]
#[template(path = "ui/field.html")]
pub(crate) struct Field {
    /// Its name in the form, and its id on the page.
    pub(crate) name: String,
    /// Label of the field.
    pub(crate) label: String,
    /// The text in the field.
    pub(crate) value: String,
    /// The same in the other system.
    pub(crate) other: String,
    /// A word of help under it.
    pub(crate) hint: String,
    /// Why the entry was refused; empty where it was not.
    pub(crate) refusal: String,
    /// `text`, `number`, `time`, `datetime-local`, `select`, `checkbox`.
    pub(crate) kind: &'static str,
    /// What can be chosen, for `select`; what is offered, for `text`.
    pub(crate) options: Vec<Choice>,
    /// It is ticked, for `checkbox`.
    pub(crate) is_ticked: bool,
}

/// Its template escapes what it holds.
impl HtmlSafe for Field {}

/// One thing that can be chosen.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Choice {
    /// Its name in the form.
    pub(crate) value: String,
    /// Label of the field.
    pub(crate) label: String,
    /// It is the one chosen.
    pub(crate) is_chosen: bool,
}

/// Makes the fields of a form: as kept, or as typed where the form was refused.
#[derive(Debug)]
pub(crate) struct Fields<'a> {
    /// Units.
    pub(crate) shown: Shown,
    /// What was typed, where the form is shown again.
    pub(crate) typed: Option<&'a Entries>,
    /// Refusals by field.
    pub(crate) refusals: &'a Refusals,
    /// Every figure says why it stands there: for a first cast.
    pub(crate) explains: bool,
    /// Figures as they were typed, of a cast.
    pub(crate) as_typed: Option<&'a Typed>,
}

impl<'a> Fields<'a> {
    /// Fields that say nothing of why they begin as they do.
    pub(crate) fn of(shown: Shown, typed: Option<&'a Entries>, refusals: &'a Refusals) -> Self {
        Self { shown, typed, refusals, explains: false, as_typed: None }
    }

    fn why(&self, name: &str) -> String {
        let why = self.explains.then(|| defaults::why(name)).flatten();
        why.unwrap_or_default().to_owned()
    }

    /// A field of plain text.
    #[must_use]
    pub(crate) fn text(&self, name: &str, label: &str, value: &str) -> Field {
        let typed = self.typed.and_then(|entries| entries.get(name));
        Field {
            name: name.to_owned(),
            label: label.to_owned(),
            value: typed.unwrap_or(value).to_owned(),
            refusal: self.refusals.of(name),
            hint: self.why(name),
            kind: "text",
            ..Field::default()
        }
    }

    /// A quantity as it was typed or in the shop's units, with what else it is beside it.
    #[must_use]
    pub(crate) fn quantity<Q: Written>(&self, name: &str, label: &str, value: Q) -> Field {
        let shown = self.shown;
        let kept = self.as_typed.and_then(|typed| typed.of(name));
        let (text, other) = match kept.filter(|text| reads_as(text, value, shown.system)) {
            Some(text) => (text.to_owned(), value.beside(shown)),
            None => (value.entry(shown), value.beside(value.written_in(shown).other())),
        };
        self.beside(self.text(name, label, &text), other)
    }

    /// A length, with the other system beside it.
    #[must_use]
    pub(crate) fn length(&self, name: &str, label: &str, value: Length) -> Field {
        self.quantity(name, label, value)
    }

    /// A temperature, with the other system beside it.
    #[must_use]
    pub(crate) fn temperature(&self, name: &str, label: &str, value: Temperature) -> Field {
        self.quantity(name, label, value)
    }

    /// A density, with the other system beside it.
    #[must_use]
    pub(crate) fn density(&self, name: &str, label: &str, value: Density) -> Field {
        self.quantity(name, label, value)
    }

    /// A volume, with the other system beside it.
    #[must_use]
    pub(crate) fn volume(&self, name: &str, label: &str, value: Volume) -> Field {
        self.quantity(name, label, value)
    }

    /// A volume that may be left out.
    #[must_use]
    pub(crate) fn maybe_volume(&self, name: &str, label: &str, value: Option<Volume>) -> Field {
        value.map_or_else(|| self.text(name, label, ""), |v| self.volume(name, label, v))
    }

    /// A mass, with the other system beside it.
    #[must_use]
    pub(crate) fn mass(&self, name: &str, label: &str, value: Mass) -> Field {
        self.quantity(name, label, value)
    }

    /// A mass that may be left out.
    #[must_use]
    pub(crate) fn maybe_mass(&self, name: &str, label: &str, value: Option<Mass>) -> Field {
        value.map_or_else(|| self.text(name, label, ""), |v| self.mass(name, label, v))
    }

    /// A plain number with its sign.
    #[must_use]
    pub(crate) fn number(&self, name: &str, label: &str, value: f64, bound: &NumberBound) -> Field {
        let figure = trimmed(value, SHOWN_DECIMALS);
        let text = if bound.unit.is_empty() { figure } else { format!("{figure} {}", bound.unit) };
        self.text(name, label, &text)
    }

    /// Money, in whatever the shop pays with.
    pub(crate) fn money(
        &self,
        name: &str,
        label: &str,
        value: Money,
        bound: &NumberBound,
    ) -> Field {
        self.number(name, label, value.units(), bound)
    }

    /// A plain number that may be left out.
    #[must_use]
    pub(crate) fn maybe_number(
        &self,
        name: &str,
        label: &str,
        value: Option<f64>,
        bound: &NumberBound,
    ) -> Field {
        value.map_or_else(|| self.text(name, label, ""), |v| self.number(name, label, v, bound))
    }

    /// A length that may be left out.
    #[must_use]
    pub(crate) fn maybe_length(&self, name: &str, label: &str, value: Option<Length>) -> Field {
        value.map_or_else(|| self.text(name, label, ""), |v| self.length(name, label, v))
    }

    /// A temperature that may be left out.
    #[must_use]
    pub(crate) fn maybe_temperature(
        &self,
        name: &str,
        label: &str,
        value: Option<Temperature>,
    ) -> Field {
        value.map_or_else(|| self.text(name, label, ""), |v| self.temperature(name, label, v))
    }

    /// A choice of one among several: their names in the form and in words.
    #[must_use]
    pub(crate) fn choice(
        &self,
        name: &str,
        label: &str,
        chosen: &str,
        all: &[(&str, &str)],
    ) -> Field {
        let mut field = self.text(name, label, chosen);
        field.kind = "select";
        field.options = all
            .iter()
            .map(|(value, label)| Choice {
                value: (*value).to_owned(),
                label: (*label).to_owned(),
                is_chosen: field.value == *value,
            })
            .collect();
        field
    }

    /// Something that is so or not.
    #[must_use]
    pub(crate) fn tick(&self, name: &str, label: &str, is_so: bool) -> Field {
        let is_ticked = self.typed.map_or(is_so, |entries| entries.get(name).is_some());
        Field { kind: "checkbox", is_ticked, ..self.text(name, label, "1") }
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
    pub(crate) fn hint(mut self, hint: impl Into<String>) -> Self {
        self.hint = hint.into();
        self
    }

    /// With entries that are offered while one types.
    #[must_use]
    pub(crate) fn offering(mut self, entries: &[String]) -> Self {
        let offered = |entry: &String| Choice {
            value: entry.clone(),
            label: entry.clone(),
            is_chosen: *entry == self.value,
        };
        self.options = entries.iter().map(offered).collect();
        self
    }

    /// As another kind of input.
    #[must_use]
    pub(crate) fn kind(mut self, kind: &'static str) -> Self {
        self.kind = kind;
        self
    }

    /// Whether the entry was refused.
    #[must_use]
    pub(crate) fn is_refused(&self) -> bool {
        !self.refusal.is_empty()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_quantities::units::UnitSystem;

    #[test]
    fn a_refused_form_shows_what_was_typed_and_why() {
        let typed = Entries::new(vec![("depth".into(), "deep".into())]);
        let mut refusals = Refusals::default();
        refusals.add("depth", "“deep” is not a length.");
        let shown = Shown { system: UnitSystem::Metric };
        let fields = Fields::of(shown, Some(&typed), &refusals);
        let field = fields.length("depth", "Depth", Length::from_mm(38.0));
        assert_eq!(field.value, "deep");
        assert_eq!(field.other, "");
        assert!(field.is_refused());
    }

    #[test]
    fn a_kept_figure_stands_with_both_units() {
        let refusals = Refusals::default();
        let shown = Shown { system: UnitSystem::Metric };
        let fields = Fields::of(shown, None, &refusals);
        let field = fields.length("depth", "Depth", Length::from_mm(38.1));
        assert_eq!((field.value.as_str(), field.other.as_str()), ("38.1 mm", "1 1/2\u{202f}in"));
    }
}
