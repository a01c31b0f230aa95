//! What all casts share.

use fondant_materials::resin::ResinId;
use fondant_quantities::Length;
use fondant_shapes::form::{CastSize, Piece};
use fondant_shapes::geometry::Outline;
use fondant_shapes::timber::{BoardShape, River as RiverShape, RiverError};
use fondant_shapes::volume::methods::Method;
use serde::Serialize;

use super::amounts::Amounts;
use super::brief::Brief;
use super::building::FormChoices;
use super::conditions::{Conditions, DepthOverride};
use super::contents::{Contents, Shaping};
use super::kind::Kind;
use super::pours::Pours;
use super::recipe::Recipe;
use super::stages::Stages;
use super::typed::Typed;
use super::usual::GUESSED_STATIONS;

/// The version of the document that this code writes. Versions 1 (rivers by stations alone), 2 (the
/// fields of all kinds side by side, pours by their place) and 3 (a kit and a price of its own, moulds
/// of one row) are still read.
pub const SCHEMA_VERSION: u32 = 4;

/// The document of a cast: everything that the maker has said about it. How documents of every
/// version are read stands in `kept`.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Document {
    /// [`SCHEMA_VERSION`] of the code that wrote it.
    pub schema: u32,
    /// What the maker calls the cast.
    pub name: String,
    /// What lies in it, by its kind.
    pub contents: Contents,
    /// Finished size and allowances.
    pub piece: Piece,
    /// Purpose and surroundings of the piece.
    pub brief: Brief,
    /// How far a reading of the tape may be off.
    #[serde(rename = "tape_tolerance_m")]
    pub tape_tolerance: Length,
    /// How the form is filled.
    pub form: FormChoices,
    /// The resin.
    pub resin: ResinId,
    /// What colours the main fill.
    #[serde(skip_serializing_if = "Recipe::is_clear")]
    pub recipe: Recipe,
    /// Air and resin at the pour.
    pub conditions: Conditions,
    /// The deepest layer that the maker wants.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub depth_override: Option<DepthOverride>,
    /// Pours beside the main fill.
    #[serde(skip_serializing_if = "Stages::is_empty")]
    pub stages: Stages,
    /// When work can begin, how long it takes, what was taken.
    pub pours: Pours,
    /// Figures as they were typed, in other words than the shop's own. Nothing follows from them.
    #[serde(skip_serializing_if = "Typed::is_empty")]
    pub typed: Typed,
}

impl Document {
    /// What kind of cast it is.
    #[must_use]
    pub const fn kind(&self) -> Kind {
        self.contents.kind()
    }

    /// Its timbers by name, each once, in order; empty where there is none.
    #[must_use]
    pub fn timbers(&self) -> String {
        let boards = self.contents.timber().iter();
        let mut timbers: Vec<&str> = boards.map(|board| board.timber.as_str()).collect();
        timbers.sort_unstable();
        timbers.dedup();
        timbers.join(", ")
    }

    /// Colours of the main fill that are mixed in cups of their own, with their shares of it; none
    /// where all of it is of one. Those of a swirl, and of cavities of several colours.
    #[must_use]
    pub fn cups(&self) -> Vec<(&str, f64)> {
        let cups: Vec<(&str, f64)> = match &self.contents {
            Contents::Block(block) => block.swirl.shares().collect(),
            Contents::Moulds(moulds) => moulds.shares(),
            _ => Vec::new(),
        };
        if cups.len() < 2 { Vec::new() } else { cups }
    }

    /// Whether live edges get a seal coat: only boards have them.
    #[must_use]
    pub fn seals(&self) -> bool {
        self.contents.river().is_some_and(|river| river.seal)
    }

    /// Whether the river is still the straight one that a new cast begins
    /// with, a guess that nobody has measured.
    #[must_use]
    pub fn river_is_guess(&self) -> bool {
        match self.contents.river() {
            Some(river) if river.shaping == Shaping::Amounts => self.amounts().is_none(),
            _ => self.is_by_stations() && self.stations_are_guess(),
        }
    }

    /// The amount that tells how much room the boards leave; `None` where they are shaped otherwise,
    /// and where nothing was filled or weighed yet.
    #[must_use]
    pub fn amounts(&self) -> Option<Method> {
        let river = self.contents.river().filter(|river| river.shaping == Shaping::Amounts)?;
        Amounts::of(river, &CastSize::of(&self.piece)).by
    }

    /// Whether the boards lie as the stations tell: shaped by them, or drawn from them and left so.
    #[must_use]
    pub fn is_by_stations(&self) -> bool {
        let Some(river) = self.contents.river() else { return false };
        match river.shaping {
            Shaping::Stations => return true,
            Shaping::Amounts => return false,
            Shaping::Outlines => {}
        }
        let Some(Ok(shape)) = self.river() else { return false };
        let told = shape.boards().map(|outline| Some(BoardShape::square(outline)));
        river.boards.len() == told.len()
            && river.boards.iter().zip(&told).all(|(board, told)| board.shape == *told)
    }

    /// Whether the stations are those that a new cast begins with, whether or
    /// not they count.
    #[must_use]
    pub fn stations_are_guess(&self) -> bool {
        let Some(river) = self.contents.river() else { return false };
        let stations = &river.stations;
        stations.len() == GUESSED_STATIONS.len()
            && stations.iter().all(|s| s.from_wall.is_none() && s.width == stations[0].width)
    }

    /// The river in its form; `None` for kinds without one.
    ///
    /// # Errors
    /// Every way in which stations and form do not fit.
    pub fn river(&self) -> Option<Result<RiverShape, Vec<RiverError>>> {
        let cast = CastSize::of(&self.piece);
        let river = self.contents.river()?;
        Some(RiverShape::new(river.stations.clone(), cast.length, cast.width))
    }

    /// Moves the stations in proportion to a new length of the form, for a
    /// maker who changes the length before measuring again.
    pub fn spread_stations(&mut self, from: Length, to: Length) {
        for station in self.contents.river_mut().into_iter().flat_map(|r| &mut r.stations) {
            station.at = station.at * (to / from);
        }
    }

    /// Draws the boards as stations or amounts tell them, to be corrected from there.
    pub fn outlines_from_sketch(&mut self) {
        let shapes = self.board_shapes();
        let Some(river) = self.contents.river_mut() else { return };
        if shapes.is_empty() {
            return;
        }
        for (board, shape) in river.boards.iter_mut().zip(shapes) {
            // A river that runs along the wall leaves no board there.
            board.shape = shape;
        }
        river.shaping = Shaping::Outlines;
    }

    /// Shapes of the boards as they lie in the form; `None` where a board has
    /// none yet.
    #[must_use]
    pub fn board_shapes(&self) -> Vec<Option<BoardShape>> {
        let Some(river) = self.contents.river() else { return Vec::new() };
        match river.shaping {
            Shaping::Outlines => {
                return river.boards.iter().map(|board| board.shape.clone()).collect();
            }
            Shaping::Amounts => {
                let cast = CastSize::of(&self.piece);
                return Amounts::of(river, &cast).shapes(&cast);
            }
            Shaping::Stations => {}
        }
        let outlines: Vec<Outline> = match self.river() {
            Some(Ok(shape)) => shape.boards().to_vec(),
            _ => Vec::new(),
        };
        outlines.into_iter().map(|outline| Some(BoardShape::square(outline))).collect()
    }
}

#[cfg(test)]
mod tests;
