//! What was typed into a form, read field by field into checked values.

use std::collections::BTreeMap;

use fondant_quantities::bounds::{Bound, MOST_ROWS, NumberBound, ShopMeasured};
use fondant_quantities::units::UnitSystem;

/// The fields of a form as they were sent: names may repeat.
#[derive(Debug, Clone, Default, PartialEq, serde::Deserialize)]
#[serde(transparent)]
pub struct Entries {
    pairs: Vec<(String, String)>,
}

/// Sentences by field. The empty name is the form as a whole.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Refusals {
    by_field: BTreeMap<String, String>,
}

impl Entries {
    /// From names and values.
    #[must_use]
    pub fn new(pairs: Vec<(String, String)>) -> Self {
        Self { pairs }
    }

    /// The first value of a name.
    #[must_use]
    pub fn get(&self, name: &str) -> Option<&str> {
        self.pairs.iter().find(|(n, _)| n == name).map(|(_, value)| value.as_str())
    }

    /// All values of a name that repeats.
    pub fn all<'a>(&'a self, name: &'a str) -> impl Iterator<Item = &'a str> {
        self.pairs.iter().filter(move |(n, _)| n == name).map(|(_, value)| value.as_str())
    }

    /// The first value of a name as a whole number.
    #[must_use]
    pub fn number(&self, name: &str) -> Option<i32> {
        self.get(name)?.parse().ok()
    }
}

impl Refusals {
    /// Adds a sentence to a field; the first one stays.
    pub fn add(&mut self, field: &str, sentence: impl Into<String>) {
        self.by_field.entry(field.to_owned()).or_insert_with(|| sentence.into());
    }

    /// The sentence of a field; empty where there is none.
    #[must_use]
    pub fn of(&self, field: &str) -> String {
        self.by_field.get(field).cloned().unwrap_or_default()
    }

    /// Whether nothing was refused.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.by_field.is_empty()
    }
}

/// Reads fields and gathers refusals.
#[derive(Debug)]
pub struct Reader<'a> {
    /// What was typed.
    pub entries: &'a Entries,
    /// Units of bare numbers.
    pub system: UnitSystem,
    /// What was refused so far.
    pub refusals: Refusals,
}

impl<'a> Reader<'a> {
    /// A reader with nothing refused yet.
    #[must_use]
    pub fn new(entries: &'a Entries, system: UnitSystem) -> Self {
        Self { entries, system, refusals: Refusals::default() }
    }

    /// A quantity into its place, unless it is refused.
    pub fn quantity<Q: ShopMeasured>(&mut self, name: &str, bound: &Bound<Q>, place: &mut Q) {
        let text = self.entries.get(name).unwrap_or_default();
        self.quantity_of(name, text, bound, place);
    }

    /// A quantity from a text, refused under the name given.
    pub fn quantity_of<Q: ShopMeasured>(
        &mut self,
        field: &str,
        text: &str,
        bound: &Bound<Q>,
        place: &mut Q,
    ) {
        match bound.read(text, self.system) {
            Ok(value) => *place = value,
            Err(error) => self.refusals.add(field, error.to_string()),
        }
    }

    /// A number into its place, unless it is refused.
    pub fn number(&mut self, name: &str, bound: &NumberBound, place: &mut f64) {
        match bound.read(self.entries.get(name).unwrap_or_default()) {
            Ok(value) => *place = value,
            Err(error) => self.refusals.add(name, error.to_string()),
        }
    }

    /// A number that may be left out: an empty field is `None`.
    pub fn maybe_number(&mut self, name: &str, bound: &NumberBound, place: &mut Option<f64>) {
        let text = self.entries.get(name).unwrap_or_default();
        if text.trim().is_empty() {
            *place = None;
            return;
        }
        match bound.read(text) {
            Ok(value) => *place = Some(value),
            Err(error) => self.refusals.add(name, error.to_string()),
        }
    }

    /// A quantity that may be left out: an empty field is `None`.
    pub fn maybe<Q: ShopMeasured>(&mut self, name: &str, bound: &Bound<Q>, place: &mut Option<Q>) {
        let text = self.entries.get(name).unwrap_or_default();
        if text.trim().is_empty() {
            *place = None;
            return;
        }
        match bound.read(text, self.system) {
            Ok(value) => *place = Some(value),
            Err(error) => self.refusals.add(name, error.to_string()),
        }
    }

    /// A whole number into its place, unless it is refused.
    pub fn count(&mut self, name: &str, bound: &NumberBound, place: &mut u32) {
        let mut value = f64::from(*place);
        self.number(name, bound, &mut value);
        if value.fract().abs() > 1e-9 {
            self.refusals.add(name, format!("{} is a whole number, such as 6.", bound.what));
        } else {
            *place = value.round().clamp(0.0, f64::from(u32::MAX)) as u32;
        }
    }

    /// A share of the whole, typed in percent.
    pub fn percent(&mut self, name: &str, bound: &NumberBound, place: &mut f64) {
        let mut percent = *place * 100.0;
        self.number(name, bound, &mut percent);
        *place = percent / 100.0;
    }

    /// One among several, by its name in the form; an unknown one is left out.
    pub fn choice<T: Copy>(&mut self, name: &str, all: &[(&str, T)], place: &mut T) {
        let chosen = self.entries.get(name);
        if let Some((_, value)) = all.iter().find(|(n, _)| chosen == Some(*n)) {
            *place = *value;
        }
    }

    /// Numbers of the rows of a list, in order: a list names each of its rows
    /// in a field of its own, since rows come and go.
    #[must_use]
    pub fn rows(&self, list: &str) -> Vec<String> {
        let sound = |row: &&str| {
            !row.is_empty() && row.len() < 7 && row.bytes().all(|b| b.is_ascii_digit())
        };
        self.entries.all(list).filter(sound).take(MOST_ROWS).map(str::to_owned).collect()
    }

    /// A text of at most so many characters into its place.
    pub fn text(
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
