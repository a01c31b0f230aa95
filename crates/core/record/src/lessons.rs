//! What a cast teaches the next one like it: changes of its document, each with its reason, to be
//! accepted or left.

use fondant_cast::document::{DepthOverride, RecipeColour};
use fondant_cast::{Contents, Document};
use fondant_numerics::shrunk::{Prior, Shrunk, shrunk};
use fondant_quantities::bounds;
use fondant_quantities::{Absorption, Length, Temperature};
use fondant_shapes::timber::USUAL_ABSORPTION;

use crate::causes::Cause;
use crate::fault::FaultKind;
use crate::figures::{Figure, Figures};

/// Warm enough for bubbles to rise, and not so warm that the bucket runs away (convention).
const WARM: Temperature = Temperature::from_celsius(24.0);
/// A layer that got too hot is poured at most at this share of its depth (convention).
const SHALLOWER: f64 = 0.8;
/// Layers are not asked to be shallower than this.
const SHALLOWEST: Length = Length::from_mm(3.0);
/// Air is dried to this where it was too damp, percent (convention).
const DRY_PERCENT: f64 = 55.0;
/// What timber absorbs is known within this share; less is no lesson (convention).
const SAME_ABSORPTION: f64 = 0.1;
/// Timbers lie this far from what is usual, standard deviation of the logarithm (convention: two of
/// three between 0.6 and 1.6 times), and pieces of one timber at least this far from each other.
const TIMBERS: Prior = Prior { between: 0.5, least: 0.2 };

/// Shares of a colour closer than this are the same, weighed again (convention).
pub const SAME_COLOUR: f64 = 0.05;

/// A change of the next cast's document.
#[derive(Debug, Clone, PartialEq)]
pub enum Change {
    /// The resin is mixed warmer.
    WarmResin(Temperature),
    /// Live edges get a seal coat.
    Seal,
    /// No layer is deeper.
    Depth(Length),
    /// The air of the pours is dried to this humidity, percent.
    Dry(f64),
    /// Timber absorbs this.
    Absorption(Absorption),
    /// The main fill is coloured so.
    Colour(Vec<RecipeColour>),
    /// Nothing that the plan has a figure for: it is minded at the bench.
    Mind(Cause),
}

/// Where a lesson comes from.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Origin {
    /// A fault of the cast.
    Fault {
        /// What is wrong.
        kind: FaultKind,
        /// What it came from.
        cause: Cause,
        /// Somebody said that it was this.
        is_confirmed: bool,
    },
    /// What the shop's casts of this timber were topped up by.
    Absorbed(Shrunk),
    /// Its first bucket was coloured so, and not as its recipe said.
    Coloured,
}

/// A change with its reason.
#[derive(Debug, Clone, PartialEq)]
pub struct Lesson {
    /// The change.
    pub change: Change,
    /// Reason for the lesson.
    pub origin: Origin,
}

/// What lessons come from.
#[derive(Debug, Clone, Copy)]
pub struct Taught<'a> {
    /// The cast.
    pub document: &'a Document,
    /// What is known of it.
    pub figures: &'a Figures,
    /// Its faults, each with its likeliest cause and whether that was confirmed.
    pub faults: &'a [(FaultKind, Cause, bool)],
    /// Colours of its first bucket, in shares as they were mixed; none where it is clear, and where it has
    /// several cups.
    pub coloured: &'a [RecipeColour],
    /// What timber absorbed in casts of the same timber, [`Figure::Absorbed`] of each.
    pub absorbed: &'a [f64],
}

/// The lessons of a cast. None stands there twice.
#[must_use]
pub fn lessons(taught: &Taught<'_>) -> Vec<Lesson> {
    let mut all: Vec<Lesson> = Vec::new();
    for (kind, cause, is_confirmed) in taught.faults {
        let change = remedy(taught, *cause);
        if !all.iter().any(|lesson| lesson.change == change) {
            let origin = Origin::Fault { kind: *kind, cause: *cause, is_confirmed: *is_confirmed };
            all.push(Lesson { change, origin });
        }
    }
    all.extend(absorption(taught));
    all.extend(colour(taught));
    all
}

/// What is changed in the plan because of a cause.
fn remedy(taught: &Taught<'_>, cause: Cause) -> Change {
    let document = taught.document;
    let change = match cause {
        Cause::ColdResin => (document.conditions.resin < WARM).then_some(Change::WarmResin(WARM)),
        Cause::BareEdge => {
            document.contents.river().filter(|river| !river.seal).map(|_| Change::Seal)
        }
        Cause::TooDeep | Cause::Boiled | Cause::Hot | Cause::SteepHeat => shallower(taught),
        Cause::DampAir | Cause::DewPoint => {
            let dried = document.conditions.dried_to_percent;
            dried.is_none_or(|percent| percent > DRY_PERCENT).then_some(Change::Dry(DRY_PERCENT))
        }
        _ => None,
    };
    change.unwrap_or(Change::Mind(cause))
}

/// Four fifths of the deepest layer, to whole millimetres, where the cast is poured in layers.
fn shallower(taught: &Taught<'_>) -> Option<Change> {
    let has_layers = matches!(
        taught.document.contents,
        Contents::River(_) | Contents::Block(_) | Contents::Embed(_)
    );
    let deepest = Length::from_m(taught.figures.get(Figure::LayerDepth)?);
    let wanted = taught.document.depth_override.as_ref().map_or(deepest, |o| o.depth.min(deepest));
    let depth = Length::from_mm((wanted.mm() * SHALLOWER).floor());
    (has_layers && depth >= SHALLOWEST).then_some(Change::Depth(depth))
}

/// What the timber absorbs, learnt from what its casts were topped up by.
fn absorption(taught: &Taught<'_>) -> Option<Lesson> {
    let boards = taught.document.contents.timber();
    let now = boards.first().filter(|_| !taught.document.seals())?.absorption;
    let ratios: Vec<f64> =
        taught.absorbed.iter().map(|m| as_absorption(*m) / USUAL_ABSORPTION).collect();
    let learnt = shrunk(&ratios, TIMBERS);
    let ml_m2 = ((USUAL_ABSORPTION * learnt.factor).ml_m2() / 5.0).round() * 5.0;
    let drinks = Absorption::from_ml_m2(ml_m2).min(bounds::ABSORPTION.max);
    let differs = (drinks - now).ml_m2().abs() > SAME_ABSORPTION * now.ml_m2();
    (learnt.count > 0 && differs)
        .then_some(Lesson { change: Change::Absorption(drinks), origin: Origin::Absorbed(learnt) })
}

/// The colour as it was mixed, where that is not what the recipe says.
fn colour(taught: &Taught<'_>) -> Option<Lesson> {
    let (recipe, mixed) = (&taught.document.recipe.colours, taught.coloured);
    let is_as = |one: &RecipeColour| {
        let asked = recipe.iter().find(|asked| asked.name == one.name);
        asked.is_some_and(|asked| (one.percent / asked.percent - 1.0).abs() < SAME_COLOUR)
    };
    let is_same = recipe.len() == mixed.len() && mixed.iter().all(is_as);
    let is_of_one = taught.document.cups().is_empty() && !mixed.is_empty();
    // More than a recipe may ask for is no recipe.
    let can_be = mixed.len() <= bounds::MOST_COLOURS
        && mixed.iter().all(|one| bounds::TINT_PERCENT.check(one.percent).is_ok());
    (is_of_one && can_be && !is_same)
        .then(|| Lesson { change: Change::Colour(mixed.to_vec()), origin: Origin::Coloured })
}

/// Metres of resin that timber absorbed, by what a face of it takes up.
#[must_use]
pub fn as_absorption(absorbed_m: f64) -> Absorption {
    Absorption::from_ml_m2(absorbed_m * 1e6)
}

/// Makes a change in a document. What is only minded is put into words by those who speak to the maker.
pub fn apply(document: &mut Document, change: Change) {
    match change {
        Change::WarmResin(at) => document.conditions.resin = at,
        Change::Seal => {
            if let Some(river) = document.contents.river_mut() {
                river.seal = true;
            }
        }
        Change::Depth(depth) => {
            document.depth_override = Some(DepthOverride { depth, reason: String::new() });
        }
        Change::Dry(percent) => document.conditions.dried_to_percent = Some(percent),
        Change::Absorption(absorption) => {
            for board in document.contents.timber_mut() {
                board.absorption = absorption;
            }
        }
        Change::Colour(colours) => document.recipe.colours = colours,
        Change::Mind(_) => {}
    }
}

#[cfg(test)]
mod tests;
