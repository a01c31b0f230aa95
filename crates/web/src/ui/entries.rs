//! What was typed into a form, and what was refused of it.

use std::collections::BTreeMap;

/// The fields of a form as they were sent: names may repeat.
#[derive(Debug, Clone, Default, PartialEq, serde::Deserialize)]
#[serde(transparent)]
pub(crate) struct Entries {
    pairs: Vec<(String, String)>,
}

/// Sentences by field. The empty name is the form as a whole.
#[derive(Debug, Clone, Default, PartialEq)]
pub(crate) struct Refusals {
    by_field: BTreeMap<String, String>,
}

impl Entries {
    /// Entries from names and values, in order.
    pub(crate) fn new(pairs: Vec<(String, String)>) -> Self {
        Self { pairs }
    }

    /// All names and values, in order.
    pub(crate) fn pairs(&self) -> &[(String, String)] {
        &self.pairs
    }

    /// The first value of a name.
    #[must_use]
    pub(crate) fn get(&self, name: &str) -> Option<&str> {
        self.pairs.iter().find(|(n, _)| n == name).map(|(_, value)| value.as_str())
    }

    /// All values of a name that repeats.
    pub(crate) fn all<'a>(&'a self, name: &'a str) -> impl Iterator<Item = &'a str> {
        self.pairs.iter().filter(move |(n, _)| n == name).map(|(_, value)| value.as_str())
    }

    /// The first value of a name as a whole number.
    #[must_use]
    pub(crate) fn number(&self, name: &str) -> Option<i32> {
        self.get(name)?.parse().ok()
    }
}

impl Refusals {
    /// Nothing refused.
    pub(crate) const fn none() -> Self {
        Self { by_field: BTreeMap::new() }
    }

    /// A sentence at one field.
    pub(crate) fn at(field: &str, sentence: impl Into<String>) -> Self {
        let mut refusals = Self::default();
        refusals.add(field, sentence);
        refusals
    }

    /// Adds a sentence to a field; the first one stays.
    pub(crate) fn add(&mut self, field: &str, sentence: impl Into<String>) {
        self.by_field.entry(field.to_owned()).or_insert_with(|| sentence.into());
    }

    /// The sentence of a field; empty where there is none.
    #[must_use]
    pub(crate) fn of(&self, field: &str) -> String {
        self.by_field.get(field).cloned().unwrap_or_default()
    }

    /// Every sentence.
    pub(crate) fn all(&self) -> impl Iterator<Item = &str> {
        self.by_field.values().map(String::as_str)
    }

    /// Whether nothing was refused.
    #[must_use]
    pub(crate) fn is_empty(&self) -> bool {
        self.by_field.is_empty()
    }
}
