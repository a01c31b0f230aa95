//! What lies in a cast, kind by kind: each kind has only its own questions.

use fondant_quantities::Length;
use fondant_shapes::blanks::cutting::Cutting;
use fondant_shapes::blanks::label::Label;
use fondant_shapes::blanks::pot::Pot;
use fondant_shapes::blanks::{Hollow, Tube};
use fondant_shapes::geometry::Point;
use fondant_shapes::timber::{Board, Cavity, Insert, Station};
use serde::{Deserialize, Serialize};

use super::building::FormBuild;
use super::filling::Checks;
use super::kind::Kind;
use super::moulds::Moulds;
use super::swirl::Swirl;

/// What lies in a cast.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case", tag = "kind")]
pub enum Contents {
    /// Boards with live edges, resin between and under them.
    River(River),
    /// Knots, cracks, milled pockets and channels in one piece of timber.
    Inlay(Inlay),
    /// One block, sawn into blanks.
    Block(Block),
    /// A tube held by plugs in each of many cavities.
    #[serde(rename = "tube_blanks")]
    Tubes(Tubes),
    /// Objects in a tall clear block.
    Embed(Embed),
    /// Cavities of moulds with timber pressed in.
    Moulds(Moulds),
    /// Coats over a finished face.
    Coat(Coat),
}

/// Boards in a form, and the river between them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct River {
    /// The boards; by stations the near one, then the far one.
    pub boards: Vec<Board>,
    /// How their shapes are known.
    pub shaping: Shaping,
    /// How far a point of an outline may be off.
    #[serde(rename = "point_tolerance_m")]
    pub point_tolerance: Length,
    /// By how much the drawing was moved that the outlines came from, so that one of their undersides
    /// is moved like it.
    #[serde(default)]
    pub drawn_at: Point,
    /// The same of the drawings before it, whose boards are still here.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub drawn_before: Vec<Point>,
    /// Widths of the river, in order along the form.
    pub stations: Vec<Station>,
    /// Resin under the boards.
    #[serde(rename = "base_gap_m")]
    pub base_gap: Length,
    /// Live edges are sealed with a brushed coat before the first pour.
    pub seal: bool,
    /// The base goes in in the same session, over the wet coat.
    #[serde(default)]
    pub seal_with_base: bool,
    /// Knots, cracks and pockets of the boards.
    pub cavities: Vec<Cavity>,
    /// Objects in the resin.
    pub inserts: Vec<Insert>,
    /// Other ways of measuring.
    pub checks: Checks,
    /// What the form is built of.
    pub build: FormBuild,
}

/// How the boards' shapes are known.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Shaping {
    /// By the river's width at stations, between two boards.
    #[default]
    Stations,
    /// By an outline of each board.
    Outlines,
    /// By a dry fill or by the boards' weights alone: how much, not where.
    Amounts,
}

/// Cavities in one piece of timber.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Inlay {
    /// The piece of timber.
    pub board: Board,
    /// Cavities that are filled.
    pub cavities: Vec<Cavity>,
}

/// A block of resin.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Block {
    /// What is sawn from it.
    pub cutting: Cutting,
    /// Its colours, where there are several.
    #[serde(default, skip_serializing_if = "Swirl::is_plain")]
    pub swirl: Swirl,
    /// The pressure pot, where one is used.
    pub pot: Option<Pot>,
    /// What the form is built of.
    pub build: FormBuild,
}

/// Tubes in cavities.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Tubes {
    /// Number of cavities.
    pub count: u32,
    /// The inside of one.
    pub hollow: Hollow,
    /// Wall of the mould round a cavity, for the pressure pot.
    #[serde(rename = "wall_m")]
    pub wall: Length,
    /// The tube in each.
    pub tube: Tube,
    /// Label that is printed for the tube.
    pub label: Label,
    /// The pressure pot, where one is used.
    pub pot: Option<Pot>,
}

/// Objects in a clear block.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Embed {
    /// The objects.
    pub inserts: Vec<Insert>,
    /// What the form is built of.
    pub build: FormBuild,
}

/// A coat over a face.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Coat {
    /// Thickness of each coat.
    #[serde(rename = "thickness_m")]
    pub thickness: Length,
    /// Number of coats.
    pub coats: u32,
    /// Runs off, share of the coat, 0…1.
    pub run_off_ratio: f64,
    /// The edges are coated too.
    pub edges: bool,
}

impl Contents {
    /// What kind of cast this is.
    #[must_use]
    pub const fn kind(&self) -> Kind {
        match self {
            Self::River(_) => Kind::River,
            Self::Inlay(_) => Kind::Inlay,
            Self::Block(_) => Kind::Block,
            Self::Tubes(_) => Kind::Tubes,
            Self::Embed(_) => Kind::Embed,
            Self::Moulds(_) => Kind::Moulds,
            Self::Coat(_) => Kind::Coat,
        }
    }

    /// The boards in the form; none where no boards lie in it.
    #[must_use]
    pub fn boards(&self) -> &[Board] {
        match self {
            Self::River(river) => &river.boards,
            _ => &[],
        }
    }

    /// The timber that resin wets: the boards in the form, or the one whose hollows are filled.
    #[must_use]
    pub fn timber(&self) -> &[Board] {
        match self {
            Self::Inlay(inlay) => std::slice::from_ref(&inlay.board),
            _ => self.boards(),
        }
    }

    /// The same, to be changed.
    pub fn timber_mut(&mut self) -> &mut [Board] {
        match self {
            Self::River(river) => &mut river.boards,
            Self::Inlay(inlay) => std::slice::from_mut(&mut inlay.board),
            _ => &mut [],
        }
    }

    /// Knots, cracks and pockets that are filled.
    #[must_use]
    pub fn cavities(&self) -> &[Cavity] {
        match self {
            Self::River(river) => &river.cavities,
            Self::Inlay(inlay) => &inlay.cavities,
            _ => &[],
        }
    }

    /// The same, to be changed; `None` for kinds without.
    pub const fn cavities_mut(&mut self) -> Option<&mut Vec<Cavity>> {
        match self {
            Self::River(river) => Some(&mut river.cavities),
            Self::Inlay(inlay) => Some(&mut inlay.cavities),
            _ => None,
        }
    }

    /// Objects in the resin.
    #[must_use]
    pub fn inserts(&self) -> &[Insert] {
        match self {
            Self::River(river) => &river.inserts,
            Self::Embed(embed) => &embed.inserts,
            _ => &[],
        }
    }

    /// The same, to be changed; `None` for kinds without.
    pub const fn inserts_mut(&mut self) -> Option<&mut Vec<Insert>> {
        match self {
            Self::River(river) => Some(&mut river.inserts),
            Self::Embed(embed) => Some(&mut embed.inserts),
            _ => None,
        }
    }

    /// What the form is built of; `None` where none is built.
    #[must_use]
    pub const fn build(&self) -> Option<&FormBuild> {
        match self {
            Self::River(river) => Some(&river.build),
            Self::Block(block) => Some(&block.build),
            Self::Embed(embed) => Some(&embed.build),
            _ => None,
        }
    }

    /// The same, to be changed.
    pub const fn build_mut(&mut self) -> Option<&mut FormBuild> {
        match self {
            Self::River(river) => Some(&mut river.build),
            Self::Block(block) => Some(&mut block.build),
            Self::Embed(embed) => Some(&mut embed.build),
            _ => None,
        }
    }

    /// The pressure pot that it cures in, where one is used.
    #[must_use]
    pub const fn pot(&self) -> Option<&Pot> {
        match self {
            Self::Block(block) => block.pot.as_ref(),
            Self::Tubes(tubes) => tubes.pot.as_ref(),
            Self::Moulds(moulds) => moulds.pot.as_ref(),
            _ => None,
        }
    }

    /// Whether casts of this kind can cure in a pressure pot.
    #[must_use]
    pub const fn can_go_into_pot(&self) -> bool {
        matches!(self, Self::Block(_) | Self::Tubes(_) | Self::Moulds(_))
    }

    /// The same, to be changed; `None` for kinds that go into no pot.
    pub const fn pot_mut(&mut self) -> Option<&mut Option<Pot>> {
        match self {
            Self::Block(block) => Some(&mut block.pot),
            Self::Tubes(tubes) => Some(&mut tubes.pot),
            Self::Moulds(moulds) => Some(&mut moulds.pot),
            _ => None,
        }
    }

    /// Number of cavities, inside of the largest, and the wall round it; `None` for kinds without.
    #[must_use]
    pub fn moulding(&self) -> Option<(u32, Hollow, Length)> {
        match self {
            Self::Tubes(tubes) => Some((tubes.count, tubes.hollow, tubes.wall)),
            Self::Moulds(moulds) => Some((moulds.count(), moulds.hottest()?.hollow, moulds.wall)),
            _ => None,
        }
    }

    /// The boards of a river, for kinds that have one.
    #[must_use]
    pub const fn river(&self) -> Option<&River> {
        match self {
            Self::River(river) => Some(river),
            _ => None,
        }
    }

    /// The same, to be changed.
    pub const fn river_mut(&mut self) -> Option<&mut River> {
        match self {
            Self::River(river) => Some(river),
            _ => None,
        }
    }
}
