//! What colours the main fill: all of it alike, or each of its cups.

use fondant_quantities::Length;
use serde::{Deserialize, Serialize};

/// Colours that are weighed into each batch of the main fill. None where it is clear.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Recipe {
    /// The colours.
    pub colours: Vec<RecipeColour>,
}

/// One colour of a recipe.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct RecipeColour {
    /// What the shop calls it.
    pub name: String,
    /// How much of it, percent of the mixed mass.
    pub percent: f64,
    /// The cup that it goes into, by the colour of the cup; empty where all of the fill is alike, and
    /// for a cup that has no name.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub cup: String,
}

impl RecipeColour {
    /// A colour of all of the fill.
    #[must_use]
    pub fn of_all(name: &str, percent: f64) -> Self {
        Self { name: name.to_owned(), percent, cup: String::new() }
    }
}

impl Recipe {
    /// Whether the fill is clear.
    #[must_use]
    pub const fn is_clear(&self) -> bool {
        self.colours.is_empty()
    }

    /// All colour of a fill that is alike, percent of the mixed mass.
    #[must_use]
    pub fn percent(&self) -> f64 {
        self.colours.iter().map(|colour| colour.percent).sum()
    }
}

/// Percent of a translucent colour that looks the same through another depth: what light passes goes
/// with the share times the depth (law of absorption), for colours that light passes at all.
#[must_use]
pub fn through_depth(percent: f64, [matched, now]: [Length; 2]) -> f64 {
    if now > Length::ZERO { percent * (matched / now) } else { percent }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// 0.3 % through 20 mm is 0.2 % through 30 mm and 0.6 % through 10 mm.
    #[test]
    fn share_times_depth_stays() {
        let mm = Length::from_mm;
        assert!((through_depth(0.3, [mm(20.0), mm(30.0)]) - 0.2).abs() < 1e-12);
        assert!((through_depth(0.3, [mm(20.0), mm(10.0)]) - 0.6).abs() < 1e-12);
        assert!((through_depth(0.3, [mm(20.0), mm(0.0)]) - 0.3).abs() < 1e-12);
    }
}
