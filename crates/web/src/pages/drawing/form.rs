//! How a drawing is to be read and what its lines are, as the maker says.

use fondant_cast::document::{Placing, Role};
use fondant_files::drawing::{JOINED, Options};
use fondant_files::svg::PIXEL_M;
use fondant_quantities::{Length, bounds};

use crate::ui::entries::{Entries, Refusals};
use crate::ui::reader::Reader;
use crate::ui::units::Shown;

/// Units that can be said: their word in the form, in words, and their length in mm.
pub(super) const UNITS: [(&str, &str, f64); 7] = [
    ("mm", "millimetres", 1.0),
    ("cm", "centimetres", 10.0),
    ("m", "metres", 1000.0),
    ("in", "inches", 25.4),
    ("ft", "feet", 304.8),
    ("px96", "pixels, 96 to the inch", PIXEL_M * 1000.0),
    ("px72", "points, 72 to the inch", 25.4 / 72.0),
];

/// What a line can be: its word in the form and in words.
pub(super) const ROLES: [(&str, &str, Role); 5] = [
    ("board", "Board", Role::Board),
    ("hole", "Hole in a board", Role::Hole),
    ("underside", "Underside of a board", Role::Underside),
    ("form", "Inside of the form", Role::Form),
    ("out", "Left out", Role::LeftOut),
];

/// Where the boards go: their word in the form and in words.
pub(super) const PLACES: [(&str, &str, Placing); 2] = [
    ("instead", "instead of the boards there are", Placing::Instead),
    ("beside", "beside the boards there are", Placing::Beside),
];

/// What the maker says of a drawing.
#[derive(Debug, Clone)]
pub(super) struct Said {
    /// How it is to be read; its unit where one is chosen.
    pub(super) options: Options,
    /// How wide the whole of what is taken is, from which its unit follows.
    pub(super) fit: Option<Length>,
    pub(super) placing: Placing,
    /// Every outline is an underside.
    pub(super) are_undersides: bool,
    pub(super) refusals: Refusals,
}

impl Said {
    pub(super) fn read(entries: &Entries, shown: Shown) -> Self {
        let mut reader = Reader::new(entries, shown.system);
        let unit = UNITS.iter().find(|unit| entries.get("unit") == Some(unit.0));
        let (mut fit, mut join) = (None, None);
        reader.maybe("fit", &bounds::DRAWN_SIDE, &mut fit);
        reader.maybe("join", &bounds::JOIN, &mut join);
        let mut placing = Placing::Instead;
        let places = PLACES.map(|(word, _, placing)| (word, placing));
        if entries.get("place").is_some_and(|place| place != "under") {
            reader.choice("place", &places, &mut placing);
        }
        let layers = entries.get("layers").map(|_| {
            entries.all("layer").filter_map(|place| place.parse().ok()).collect::<Vec<usize>>()
        });
        Self {
            options: Options { unit: unit.map(|u| Length::from_mm(u.2)), join, layers },
            fit,
            placing,
            are_undersides: entries.get("place") == Some("under"),
            refusals: reader.refusals,
        }
    }

    /// What the roles in a form belong to: read otherwise, lines come in another order.
    pub(super) fn reading(&self) -> String {
        let join = self.options.join.unwrap_or(JOINED);
        let layers = self
            .options
            .layers
            .as_ref()
            .map(|layers| layers.iter().map(ToString::to_string).collect::<Vec<_>>().join("-"));
        format!("{:.6} {} {}", join.mm(), layers.unwrap_or_default(), self.are_undersides)
    }
}

/// The role that a form gives to a line.
pub(super) fn role(entries: &Entries, index: usize) -> Option<Role> {
    let word = entries.get(&format!("role-{index}"))?;
    ROLES.iter().find(|role| role.0 == word).map(|role| role.2)
}
