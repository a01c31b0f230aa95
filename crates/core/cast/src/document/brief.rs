//! What the piece is for.

use fondant_quantities::bounds::MINDED_CHARACTERS;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// What the piece is for.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Brief {
    /// The finish wanted, in the maker's words.
    pub finish: String,
    /// When it must be done.
    pub deadline: Option<Date>,
    /// The piece stands outdoors.
    pub is_outdoor: bool,
    /// Food will touch it.
    pub touches_food: bool,
    /// Light shines through it.
    pub is_lit: bool,
    /// What was learnt from casts like it, to be minded at the bench; empty where nothing was.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub minded: String,
}

impl Brief {
    /// Adds something to what is minded. What stands there is not added again, nor what no longer fits.
    pub fn mind(&mut self, sentence: &str) {
        let longer = format!("{} {sentence}", self.minded);
        let longer = longer.trim();
        let fits = longer.chars().count() <= MINDED_CHARACTERS;
        if fits && !self.minded.contains(sentence) {
            self.minded = longer.to_owned();
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_minded_stands_there_once_and_is_never_cut() {
        let mut brief = Brief::default();
        for sentence in ["Sand it.", "Wash it.", "Sand it.", &"x".repeat(MINDED_CHARACTERS)] {
            brief.mind(sentence);
        }
        assert_eq!(brief.minded, "Sand it. Wash it.");
    }
}
