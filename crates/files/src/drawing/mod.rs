//! A drawing as its file has it: what closes, what stays open, what is not read, and in which unit.
//! Nothing is decided here about what of it is a board.
//!
//! - [`Drawing`], [`Options`]: what is read and how
//! - [`joining`]: pieces of line joined to closed rings
//! - [`flat`]: curves flattened to within a tolerance
//! - [`sheet`]: what is written to a drawing

pub mod flat;
pub mod joining;
pub mod sheet;

use fondant_quantities::Length;
use fondant_shapes::geometry::{Bounds, Point, Ring};
use serde::{Deserialize, Serialize};

/// Most points that the lines of a drawing may have together: 200 000 entities of a line each, with
/// room for the curves among them.
pub const MOST_POINTS: usize = 1_000_000;
/// Most closed rings that are handed on: forty boards with ten holes each. The largest are.
pub const MOST_RINGS: usize = 400;
/// Most open lines that are handed on to be shown. The longest are.
pub const MOST_OPEN: usize = 200;
/// Most points of all that is handed on.
pub const MOST_KEPT_POINTS: usize = 200_000;
/// Ends of lines closer than this are one: a tenth of a millimetre (convention; a saw's kerf is
/// thirty times as wide).
pub const JOINED: Length = Length::from_mm(0.1);

/// How a drawing is to be read, where its file does not say or is wrong.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Options {
    /// Length of one of its units.
    pub unit: Option<Length>,
    /// Ends of lines closer than this are one; [`JOINED`] where nothing is said.
    pub join: Option<Length>,
    /// Layers that are read, by their places in [`Drawing::layers`]; those that the file shows,
    /// where nothing is said.
    pub layers: Option<Vec<usize>>,
}

/// A drawing as read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Drawing {
    /// Length of one of its units, as it was read.
    pub unit: Length,
    /// Length of one of its units by the file; `None` where it does not say.
    pub said: Option<Length>,
    /// Its layers, in the order of the file.
    pub layers: Vec<Layer>,
    /// Closed rings, the largest first. The y axis points down the sheet.
    pub rings: Vec<Closed>,
    /// Lines whose ends meet nothing.
    pub open: Vec<Open>,
    /// What was not read, and why.
    pub left_out: Vec<LeftOut>,
    /// The sheet, where the format has one.
    pub sheet: Option<Bounds>,
}

/// A layer of a drawing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Layer {
    /// Its name; empty for what lies on none.
    pub name: String,
    /// Whether it was read.
    pub is_read: bool,
    /// Closed rings on it.
    pub rings: usize,
}

/// A closed ring.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Closed {
    /// Its points; the last is joined to the first.
    pub ring: Ring,
    /// Its place in [`Drawing::layers`].
    pub layer: usize,
    /// How often the file draws it.
    pub times: usize,
    /// Its name in the file, where it has one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub name: Option<String>,
}

/// A line that does not close.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Open {
    /// Points of the line.
    pub line: Ring,
    /// Its place in [`Drawing::layers`].
    pub layer: usize,
    /// Distance from either end to the nearest other open end, the larger of the two.
    pub gap: Length,
    /// Where that gap is.
    pub at: Point,
}

/// Things of one kind on one layer that were not read.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct LeftOut {
    /// What they are, by the word of the format: `TEXT`, `image`.
    pub what: String,
    /// The name of their layer.
    pub layer: String,
    /// Why they were not read.
    pub why: Why,
    /// Number of elements left out.
    pub count: usize,
}

/// Why something of a drawing was not read.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub enum Why {
    /// It is no line: text, a dimension, a picture, a solid.
    NoLine,
    /// The maker has unticked its layer.
    Unticked,
    /// Its layer is switched off.
    LayerOff,
    /// Its layer is frozen.
    LayerFrozen,
    /// Its layer is one that is never plotted.
    NeverPlotted,
    /// It is marked as not to be seen.
    Hidden,
    /// It is neither filled nor stroked.
    Unpainted,
    /// It lies on a sheet's layout, not in the model.
    OnLayout,
    /// It is tilted out of the plane of the drawing.
    Tilted,
    /// It names a block that is not in the file.
    BlockMissing,
    /// It is a block within itself, or deeper in blocks than is read.
    BlockTooDeep,
    /// A clip path cuts it away.
    ClippedAway,
    /// It encloses less than a square millimetre.
    Speck,
    /// The drawing has more of them than are read.
    TooMany,
}

impl Drawing {
    /// What it extends over: rings and open lines.
    #[must_use]
    pub fn bounds(&self) -> Bounds {
        let rings = self.rings.iter().flat_map(|closed| &closed.ring);
        Bounds::of(rings.chain(self.open.iter().flat_map(|open| &open.line)))
    }
}

/// What was not read, gathered by kind, layer and reason.
#[derive(Debug, Default)]
pub struct Omitted(Vec<LeftOut>);

/// Most different sorts of things that are told apart; the others are counted with the last.
const MOST_SORTS: usize = 100;
/// Longest name that is kept, characters.
const NAME_CHARACTERS: usize = 60;

impl Omitted {
    /// Counts things that were not read.
    pub fn add(&mut self, what: &str, layer: &str, why: Why, count: usize) {
        if count == 0 {
            return;
        }
        let (what, layer) = (shortened(what), shortened(layer));
        let same = |o: &&mut LeftOut| o.why == why && o.what == what && o.layer == layer;
        if let Some(found) = self.0.iter_mut().find(same) {
            found.count += count;
        } else if self.0.len() < MOST_SORTS {
            self.0.push(LeftOut { what, layer, why, count });
        } else if let Some(last) = self.0.last_mut() {
            last.count += count;
        }
    }

    /// All of it, by reason.
    #[must_use]
    pub fn sorted(mut self) -> Vec<LeftOut> {
        self.0.sort_by(|a, b| (a.why, &a.layer, &a.what).cmp(&(b.why, &b.layer, &b.what)));
        self.0
    }
}

/// A name as it is shown: no control characters, not long.
#[must_use]
pub fn shortened(name: &str) -> String {
    name.chars().filter(|c| !c.is_control()).take(NAME_CHARACTERS).collect()
}
