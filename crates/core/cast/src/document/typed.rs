//! Figures as they were typed: "1.6 fl oz" stays so, where the shop writes litres.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

/// What was typed into fields in other words than the shop's own, by the name of the field. The figure
/// itself stands in the document; the text counts only as long as it reads as that figure.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(from = "BTreeMap<String, String>")]
pub struct Typed(BTreeMap<String, String>);

/// Fields whose text is kept at most.
const MOST_FIELDS: usize = 400;
/// Characters of a field's name and of a text at most.
const MOST_CHARS: usize = 60;

impl Typed {
    /// Whether nothing is kept.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }

    /// The text of a field.
    #[must_use]
    pub fn of(&self, field: &str) -> Option<&str> {
        self.0.get(field).map(String::as_str)
    }

    /// Keeps the text of a field in the place of the one before; `None` forgets it. What is too long to
    /// be a figure is not kept.
    pub fn keep(&mut self, field: &str, text: Option<&str>) {
        self.0.remove(field);
        let Some(text) = text.filter(|text| is_figure(field) && is_figure(text)) else { return };
        if self.0.len() < MOST_FIELDS {
            self.0.insert(field.to_owned(), text.to_owned());
        }
    }
}

fn is_figure(text: &str) -> bool {
    text.chars().take(MOST_CHARS + 1).count() <= MOST_CHARS && !text.chars().any(char::is_control)
}

impl From<BTreeMap<String, String>> for Typed {
    /// What came from outside is held to the same bounds.
    fn from(all: BTreeMap<String, String>) -> Self {
        let mut typed = Self::default();
        for (field, text) in &all {
            typed.keep(field, Some(text));
        }
        typed
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn texts_are_kept_by_field_and_within_bounds() {
        let mut typed = Typed::default();
        typed.keep("depth", Some("1 1/2 in"));
        assert_eq!(typed.of("depth"), Some("1 1/2 in"));
        typed.keep("depth", None);
        typed.keep("width", Some(&"9".repeat(61)));
        typed.keep("width", Some("2\u{7}in"));
        assert!(typed.is_empty());
        let many: BTreeMap<String, String> =
            (0..900).map(|n| (format!("b_width-{n}"), "3 in".to_owned())).collect();
        let kept = Typed::from(many);
        let text = serde_json::to_string(&kept).unwrap();
        assert_eq!(text.matches("3 in").count(), MOST_FIELDS);
        assert_eq!(serde_json::from_str::<Typed>(&text).unwrap(), kept);
    }
}
