//! What a resin's datasheet says, in the datasheet's own conditions.

use fondant_quantities::{Length, Mass, Span, Temperature, bounds};
use serde::{Deserialize, Serialize};

/// What a datasheet says. Every time comes with the conditions that it was
/// measured in: without them it says nothing.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
pub struct Datasheet {
    /// How long a mass of it can be poured.
    #[serde(default)]
    pub pot_life: Option<InBucket>,
    /// When a layer of it has turned from liquid to sticky.
    #[serde(default)]
    pub tacky: Option<InLayer>,
    /// When a layer of it can leave the form.
    #[serde(default)]
    pub demould: Option<InLayer>,
    /// When a layer of it is fully cured.
    #[serde(default)]
    pub full_cure: Option<InLayer>,
    /// The deepest single layer it allows.
    #[serde(default)]
    pub deepest: Option<DeepestAllowed>,
    /// What the shop itself pours at most, by its own rule of thumb.
    #[serde(rename = "rule_of_thumb_m", default)]
    pub rule_of_thumb: Option<Length>,
}

/// A figure: its name, its value, the least and the most that it can be.
type Figure = (&'static str, f64, f64, f64);

impl Datasheet {
    /// All of its figures, in minutes, hours, millimetres, kilograms and °C.
    pub(super) fn figures(&self) -> Vec<Figure> {
        let mut all = Vec::new();
        if let Some(InBucket { after, mass, at }) = self.pot_life {
            let range = &bounds::POT_MINUTES;
            all.push(("pot life, minutes", after.s() / 60.0, range.min, range.max));
            all.push((
                "mass of the pot life",
                mass.kg(),
                bounds::CUP.min.kg(),
                bounds::CUP.max.kg(),
            ));
            all.push(temperature("temperature of the pot life", at));
        }
        for layer in [self.tacky, self.demould, self.full_cure].into_iter().flatten() {
            let range = &bounds::LAYER_HOURS;
            all.push(("time of a layer, hours", layer.after.h(), range.min, range.max));
            all.push(depth("thickness of a layer", layer.depth));
            all.push(temperature("temperature of a layer", layer.at));
        }
        if let Some(deepest) = self.deepest {
            all.push(depth("deepest layer", deepest.depth));
            all.push(temperature("temperature of the deepest layer", deepest.at));
        }
        all.extend(self.rule_of_thumb.map(|rule| depth("rule of thumb", rule)));
        all
    }
}

fn depth(what: &'static str, found: Length) -> Figure {
    (what, found.mm(), bounds::SHEET_DEPTH.min.mm(), bounds::SHEET_DEPTH.max.mm())
}

fn temperature(what: &'static str, found: Temperature) -> Figure {
    let range = &bounds::AIR_TEMPERATURE;
    (what, found.celsius(), range.min.celsius(), range.max.celsius())
}

/// A time of a mass in a bucket.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct InBucket {
    /// The time.
    #[serde(rename = "after_s")]
    pub after: Span,
    /// The mass it was measured with.
    #[serde(rename = "mass_kg")]
    pub mass: Mass,
    /// Temperature of resin and air.
    #[serde(rename = "at_k")]
    pub at: Temperature,
}

/// A time of a layer.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct InLayer {
    /// The time.
    #[serde(rename = "after_s")]
    pub after: Span,
    /// The thickness it was measured at.
    #[serde(rename = "depth_m")]
    pub depth: Length,
    /// Temperature of resin and air.
    #[serde(rename = "at_k")]
    pub at: Temperature,
}

/// A depth that a datasheet allows.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct DeepestAllowed {
    /// The depth.
    #[serde(rename = "depth_m")]
    pub depth: Length,
    /// Temperature of resin and air.
    #[serde(rename = "at_k")]
    pub at: Temperature,
}
