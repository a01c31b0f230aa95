//! A form read field by field into checked values.

use fondant_cast::document::Typed;
use fondant_quantities::Money;
use fondant_quantities::bounds::{Bound, MOST_ROWS, NumberBound};
use fondant_quantities::units::{UnitSystem, trimmed};

use super::entries::{Entries, Refusals};
use super::field::SHOWN_DECIMALS;
use super::units::Shown;
use super::written::{Written, is_worth_keeping};
use crate::words::entry::entry;

/// Reads fields and gathers refusals.
#[derive(Debug)]
pub(crate) struct Reader<'a> {
    /// Entries of the form as typed.
    pub(crate) entries: &'a Entries,
    /// Units of bare numbers.
    pub(crate) system: UnitSystem,
    /// What was refused so far.
    pub(crate) refusals: Refusals,
    /// Figures that were read, by field: as typed where that is in other words than the shop's.
    pub(crate) typed: Vec<(String, Option<String>)>,
}

impl<'a> Reader<'a> {
    /// A reader with nothing refused yet.
    #[must_use]
    pub(crate) fn new(entries: &'a Entries, system: UnitSystem) -> Self {
        Self { entries, system, refusals: Refusals::default(), typed: Vec::new() }
    }

    /// A quantity into its place, unless it is refused.
    pub(crate) fn quantity<Q: Written>(&mut self, name: &str, bound: &Bound<Q>, place: &mut Q) {
        let text = self.entries.get(name).unwrap_or_default();
        self.quantity_of(name, text, bound, place);
    }

    /// A quantity from the text of a field, refused under the name given.
    pub(crate) fn quantity_of<Q: Written>(
        &mut self,
        field: &str,
        text: &str,
        bound: &Bound<Q>,
        place: &mut Q,
    ) {
        if let Some(value) = self.part_of(field, text, bound) {
            *place = value;
            self.was_typed(field, text, value);
        }
    }

    fn was_typed<Q: Written>(&mut self, field: &str, text: &str, value: Q) {
        let words = value.entry(Shown { system: self.system });
        let kept = is_worth_keeping(text, &words).then(|| text.trim().to_owned());
        self.typed.push((field.to_owned(), kept));
    }

    /// Keeps how figures were typed beside them.
    pub(crate) fn keep_typed(&self, place: &mut Typed) {
        for (field, text) in &self.typed {
            place.keep(field, text.as_deref());
        }
    }

    /// One of the quantities that stand in a field.
    pub(crate) fn part_of<Q: Written>(
        &mut self,
        field: &str,
        text: &str,
        bound: &Bound<Q>,
    ) -> Option<Q> {
        match bound.read(text, self.system) {
            Ok(value) => Some(value),
            Err(error) => {
                self.refusals.add(field, entry(&error, self.system));
                None
            }
        }
    }

    /// A number into its place, unless it is refused.
    pub(crate) fn number(&mut self, name: &str, bound: &NumberBound, place: &mut f64) {
        match bound.read(self.entries.get(name).unwrap_or_default()) {
            Ok(value) => *place = value,
            Err(error) => self.refusals.add(name, entry(&error, self.system)),
        }
    }

    /// Money into its place, unless it is refused.
    pub(crate) fn money(&mut self, name: &str, bound: &NumberBound, place: &mut Money) {
        let mut units = place.units();
        self.number(name, bound, &mut units);
        *place = Money::from_units(units);
    }

    /// A number that may be left out: an empty field is `None`.
    pub(crate) fn maybe_number(
        &mut self,
        name: &str,
        bound: &NumberBound,
        place: &mut Option<f64>,
    ) {
        let text = self.entries.get(name).unwrap_or_default();
        if text.trim().is_empty() {
            *place = None;
            return;
        }
        match bound.read(text) {
            Ok(value) => *place = Some(value),
            Err(error) => self.refusals.add(name, entry(&error, self.system)),
        }
    }

    /// The same where the field shows `factor` times what is kept. What stands there as it was shown is as
    /// it was: it was rounded to be shown.
    pub(crate) fn maybe_number_times(
        &mut self,
        name: &str,
        bound: &NumberBound,
        factor: f64,
        place: &mut Option<f64>,
    ) {
        let mut number = place.map(|kept| kept * factor);
        let shown = number.map(|number| trimmed(number, SHOWN_DECIMALS));
        if shown.as_deref() == self.entries.get(name).map(str::trim) {
            return;
        }
        self.maybe_number(name, bound, &mut number);
        *place = number.map(|number| number / factor);
    }

    /// A quantity that may be left out: an empty field is `None`.
    pub(crate) fn maybe<Q: Written>(
        &mut self,
        name: &str,
        bound: &Bound<Q>,
        place: &mut Option<Q>,
    ) {
        let text = self.entries.get(name).unwrap_or_default();
        if text.trim().is_empty() {
            *place = None;
            return;
        }
        if let Some(value) = self.part_of(name, text, bound) {
            *place = Some(value);
            self.was_typed(name, text, value);
        }
    }

    /// A whole number into its place, unless it is refused.
    pub(crate) fn count(&mut self, name: &str, bound: &NumberBound, place: &mut u32) {
        let mut value = f64::from(*place);
        self.number(name, bound, &mut value);
        if value.fract().abs() > 1e-9 {
            self.refusals.add(name, format!("{} is a whole number, such as 6.", bound.what));
        } else {
            *place = value.round().clamp(0.0, f64::from(u32::MAX)) as u32;
        }
    }

    /// A share of the whole, typed in percent.
    pub(crate) fn percent(&mut self, name: &str, bound: &NumberBound, place: &mut f64) {
        let mut percent = *place * 100.0;
        self.number(name, bound, &mut percent);
        *place = percent / 100.0;
    }

    /// One among several, by its name in the form; an unknown one is left out.
    pub(crate) fn choice<T: Copy>(&mut self, name: &str, all: &[(&str, T)], place: &mut T) {
        let chosen = self.entries.get(name);
        if let Some((_, value)) = all.iter().find(|(n, _)| chosen == Some(*n)) {
            *place = *value;
        }
    }

    /// Numbers of the rows of a list, in order: a list names each of its rows
    /// in a field of its own, since rows come and go.
    #[must_use]
    pub(crate) fn rows(&self, list: &str) -> Vec<String> {
        let sound = |row: &&str| {
            !row.is_empty() && row.len() < 7 && row.bytes().all(|b| b.is_ascii_digit())
        };
        self.entries.all(list).filter(sound).take(MOST_ROWS).map(str::to_owned).collect()
    }

    /// Reads a text of at most `most` characters.
    pub(crate) fn text(
        &mut self,
        name: &str,
        what: &str,
        most: usize,
        may_be_empty: bool,
        place: &mut String,
    ) {
        let text = self.entries.get(name).unwrap_or_default().trim();
        let count = text.chars().count();
        if count > most {
            self.refusals.add(
                name,
                format!("{what} can have {most} characters; this has {count}. Shorten it."),
            );
        } else if text.is_empty() && !may_be_empty {
            self.refusals.add(name, format!("{what} is empty. Type one."));
        } else if text.chars().any(char::is_control) {
            self.refusals.add(name, format!("{what} has characters that cannot be shown."));
        } else {
            text.clone_into(place);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_quantities::Length;
    use fondant_quantities::bounds::BOARD_THICKNESS;

    #[test]
    fn a_refused_field_keeps_its_place_and_says_why() {
        let entries = Entries::new(vec![
            ("near".into(), "1 1/2 in".into()),
            ("far".into(), "10 m".into()),
            ("name".into(), "x".repeat(90)),
        ]);
        let mut reader = Reader::new(&entries, UnitSystem::Metric);
        let (mut near, mut far) = (Length::ZERO, Length::from_mm(38.0));
        reader.quantity("near", &BOARD_THICKNESS, &mut near);
        reader.quantity("far", &BOARD_THICKNESS, &mut far);
        let mut name = "kept".to_owned();
        reader.text("name", "The name", 80, false, &mut name);
        assert!((near.mm() - 38.1).abs() < 1e-9);
        assert!((far.mm() - 38.0).abs() < 1e-9);
        assert_eq!(name, "kept");
        assert!(reader.refusals.of("near").is_empty());
        assert!(reader.refusals.of("far").contains("10000 mm is too much"));
        assert!(reader.refusals.of("name").contains("this has 90"));
    }

    #[test]
    fn a_missing_field_is_refused_like_an_empty_one() {
        let entries = Entries::default();
        let mut reader = Reader::new(&entries, UnitSystem::Metric);
        reader.quantity("near", &BOARD_THICKNESS, &mut Length::ZERO.clone());
        assert_eq!(reader.refusals.of("near"), "Enter a length, such as 38 mm.");
    }
}
