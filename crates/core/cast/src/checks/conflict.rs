//! What can be wrong with a document.

use fondant_quantities::bounds::OutOfRange;
use fondant_quantities::{Area, Length, Volume};
use fondant_shapes::geometry::Point;
use fondant_shapes::geometry::faults::OutlineFault;
use fondant_shapes::timber::RiverError;
use fondant_shapes::volume::methods::Method;

use crate::document::SCHEMA_VERSION;

/// Where two parts of a document contradict each other or leave their bounds. Numbers count from 0.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum Conflict {
    /// The stations do not make a river in this form.
    #[error("{0}")]
    River(RiverError),
    /// The pours under and over the main fill cannot be.
    #[error(transparent)]
    Stages(StagesError),
    /// Boards too thin for the finished thickness.
    #[error("the boards are too thin")]
    BoardsTooThin {
        /// Thickness of the thinnest board.
        thinner: Length,
        /// Finished thickness.
        finished: Length,
    },
    /// Stations lie between two boards, no more and no fewer.
    #[error("stations need two boards; there are {found}")]
    NotTwoBoards {
        /// Number found.
        found: usize,
    },
    /// There is no board, or more than are kept.
    #[error("{found} boards")]
    BoardCount {
        /// Number found.
        found: usize,
    },
    /// By the dry fill no board is in the form, or the boards on the scale fill it and more.
    #[error("the boards and what fills the form beside them do not make {} L", room.l())]
    AmountBeyondForm {
        /// The amount that cannot be.
        by: Method,
        /// Room of the form up to the face of the thickest board.
        room: Volume,
    },
    /// A board has no outline.
    #[error("board {} has no outline", board + 1)]
    NoOutline {
        /// Index of the board, from 0.
        board: usize,
    },
    /// A board's outline is invalid.
    #[error("board {}: {fault}", board + 1)]
    Outline {
        /// Index of the board, from 0.
        board: usize,
        /// The fault of the outline.
        fault: OutlineFault,
    },
    /// A board lies outside of the form.
    #[error("board {} lies outside of the form", board + 1)]
    OutsideForm {
        /// Index of the board, from 0.
        board: usize,
        /// A point of the board that lies outside, m from the form's corner.
        at: Point,
    },
    /// Two boards lie on each other.
    #[error("boards {} and {} overlap", first + 1, second + 1)]
    Overlap {
        /// Index of one board, from 0.
        first: usize,
        /// Index of the other board, from 0.
        second: usize,
        /// Area of the overlap.
        area: Area,
        /// Place of the fault, m from the form's corner.
        at: Point,
    },
    /// A cavity is deeper than its board.
    #[error("cavity {} is deeper than the board", cavity + 1)]
    CavityTooDeep {
        /// Index of the cavity, from 0.
        cavity: usize,
        /// Depth of the cavity.
        depth: Length,
        /// Thickness of the board.
        board: Length,
    },
    /// There is nothing to fill.
    #[error("there is nothing to fill")]
    NothingToFill,
    /// An insert stands out of the resin.
    #[error("insert {} stands out of the resin", insert + 1)]
    InsertTooTall {
        /// Index of the object, from 0.
        insert: usize,
        /// Level of its top.
        top: Length,
        /// Level of the resin.
        resin: Length,
    },
    /// An insert is wider than the form.
    #[error("insert {} does not fit into the form", insert + 1)]
    InsertTooWide {
        /// Index of the object, from 0.
        insert: usize,
    },
    /// The objects in a cavity are larger than the cavity.
    #[error("the cavity is smaller than the objects in it")]
    CavityTooSmall {
        /// Volume of the cavity.
        cavity: Volume,
        /// Volume of the objects.
        inside: Volume,
    },
    /// The pieces pressed into a cavity are larger than the cavity.
    #[error("the cavities of row {} are smaller than what is pressed into them", row + 1)]
    RowTooSmall {
        /// Row of cavities, from 0.
        row: usize,
        /// Volume of a cavity.
        cavity: Volume,
        /// Volume of the pieces.
        inside: Volume,
    },
    /// The pieces of a row do not fit into their cavity beside one another.
    #[error("the pieces of row {} are wider than their cavity", row + 1)]
    PressedTooWide {
        /// Row of cavities, from 0.
        row: usize,
    },
    /// A piece pressed into a cavity stands out of it.
    #[error("the pieces of row {} stand out of their cavities", row + 1)]
    PressedTooTall {
        /// Row of cavities, from 0.
        row: usize,
        /// Height of a piece.
        height: Length,
        /// Depth of the cavity over where it lies.
        depth: Length,
    },
    /// A tube with its plugs is longer than its cavity, or wider.
    #[error("the tube does not fit into its cavity")]
    TubeTooLarge {
        /// It is its length that does not fit.
        is_length: bool,
    },
    /// A figure is out of its bounds: only in documents that did not come from the forms.
    #[error(transparent)]
    OutOfRange(#[from] OutOfRange),
    /// Pours are planned for a year outside the range that can be planned.
    #[error("pours in the year {year}")]
    Year {
        /// The year, UTC.
        year: i16,
    },
    /// More of something than a cast can have.
    #[error("{found} {what}, at most {most}")]
    TooMany {
        /// What there is too much of.
        what: Countable,
        /// Number found.
        found: usize,
        /// How many there can be.
        most: usize,
    },
    /// A text without a letter, or too long.
    #[error("{what} has {characters} characters, at most {most}")]
    Text {
        /// The text that is empty or too long.
        what: Written,
        /// Length of the text, characters.
        characters: usize,
        /// How long it can be.
        most: usize,
    },
    /// No resin of that short name is on the shelf.
    #[error("no resin {0} on the shelf")]
    UnknownResin(String),
    /// Written by newer code.
    #[error("the document has schema version {found}; this Fondant reads {SCHEMA_VERSION}")]
    NewerSchema {
        /// Schema version found.
        found: u32,
    },
}

/// Things of which a cast can have too many.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Countable {
    /// Rows of cavities.
    Cavities,
    /// Rows of equal cavities of moulds.
    CavityRows,
    /// Colours of a swirl or a recipe.
    Colours,
    /// Rows of inserts.
    Inserts,
    /// Cavities and inserts of all rows together.
    Things,
    /// Points of all outlines together.
    Points,
    /// Stations of a river.
    Stations,
    /// Levels of layers set by hand.
    Levels,
    /// Pours under and over the main fill.
    Stages,
    /// Pours of a plan that was taken.
    Pours,
}

/// What can be wrong with the pours under and over the main fill.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum StagesError {
    /// They leave the main fill no depth.
    #[error("stages of {} mm in {} mm of resin leave no main fill", stages.mm(), depth.mm())]
    TooDeep {
        /// Depth of the stages together.
        stages: Length,
        /// Depth of the resin.
        depth: Length,
    },
    /// Casts of this kind have no such stage.
    #[error("casts of this kind have no such stage")]
    NoSuch,
    /// Inclusions are laid in, and nothing covers them.
    #[error("nothing covers the inclusions")]
    NothingCovers,
}

/// Texts that a maker writes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Written {
    /// The cast's name.
    Name,
    /// The finish that is wanted.
    Finish,
    /// What is minded at the bench.
    Minded,
    /// A kind of timber.
    Timber,
    /// The name of a cavity.
    Cavity,
    /// The name of an insert.
    Insert,
    /// The name of a file that a mesh came from.
    File,
    /// Why a layer is deeper than allowed.
    Reason,
    /// What colours a stage.
    Tint,
}

impl std::fmt::Display for Countable {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{self:?}")
    }
}

impl std::fmt::Display for Written {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{self:?}")
    }
}

impl Conflict {
    /// The place to mark on the drawing, where there is one.
    #[must_use]
    pub fn place(&self) -> Option<Point> {
        match self {
            Self::Outline { fault, .. } => fault.place(),
            Self::OutsideForm { at, .. } | Self::Overlap { at, .. } => Some(*at),
            _ => None,
        }
    }
}
