//! Colours that are mixed in cups of their own: joined in a block once they have thickened, or poured
//! into cavities of their own.

use fondant_quantities::{Temperature, Volume};
use serde::{Deserialize, Serialize};

use super::moulds::Moulds;

/// Colours of a block, kept apart until they are joined. None where the block is of one colour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Swirl {
    /// The colours.
    pub colours: Vec<Colour>,
    /// The cups are joined when they are this warm: later for crisp edges.
    #[serde(rename = "join_k")]
    pub join: Temperature,
}

/// One colour, with a cup of its own.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Colour {
    /// What the maker calls it.
    pub name: String,
    /// How many parts of the whole it is.
    pub parts: f64,
}

impl Default for Swirl {
    fn default() -> Self {
        // A convention to begin from; the shop's own ratings say where edges come out crisp.
        Self { colours: Vec::new(), join: Temperature::from_celsius(38.0) }
    }
}

impl Swirl {
    /// Whether the block is of one colour.
    #[must_use]
    pub fn is_plain(&self) -> bool {
        self.colours.is_empty()
    }

    /// Each colour with its share of the whole.
    pub fn shares(&self) -> impl Iterator<Item = (&str, f64)> {
        let all: f64 = self.colours.iter().map(|colour| colour.parts).sum();
        self.colours.iter().map(move |colour| (colour.name.as_str(), colour.parts / all))
    }
}

impl Moulds {
    /// Colours with the resin that their cavities take, in the order in which they are named first;
    /// the empty one is clear.
    #[must_use]
    pub fn by_colour(&self) -> Vec<(&str, Volume, u32)> {
        let mut colours: Vec<(&str, Volume, u32)> = Vec::new();
        for row in &self.cavities {
            let volume = row.each() * f64::from(row.count);
            match colours.iter_mut().find(|(colour, ..)| *colour == row.colour) {
                Some((_, sum, count)) => {
                    *sum = *sum + volume;
                    *count = count.saturating_add(row.count);
                }
                None => colours.push((&row.colour, volume, row.count)),
            }
        }
        colours
    }

    /// Each colour with its share of the whole.
    pub(super) fn shares(&self) -> Vec<(&str, f64)> {
        let colours = self.by_colour();
        let all: Volume = colours.iter().map(|(_, volume, _)| *volume).sum();
        colours.into_iter().map(|(colour, volume, _)| (colour, volume / all)).collect()
    }
}
