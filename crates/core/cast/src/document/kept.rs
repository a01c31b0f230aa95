//! Documents as they are kept: of this version, and of every version that has been stored.
//!
//! Version 4 is [`Document`] as it stands. Version 3 had a kit, its price and opened stock of its own,
//! which are the shelf's now, and moulds of one row of cavities. Version 2 had the fields of all kinds
//! side by side, with the kind in a field of its own, and pours without ids. Version 1 knew rivers
//! alone, with the two boards named `near` and `far`. Reading one of these makes a document of
//! version 4 with the same volume, heat and pours; nothing is rewritten until the maker changes
//! something.

use fondant_materials::resin::ResinId;
use fondant_quantities::{Density, Length, Span, Volume};
use fondant_shapes::blanks::cutting::Cutting;
use fondant_shapes::blanks::label::Label;
use fondant_shapes::blanks::pot::Pot;
use fondant_shapes::blanks::{Hollow, Tube};
use fondant_shapes::form::{CastSize, Piece};
use fondant_shapes::geometry::Point;
use fondant_shapes::timber::{Board, Cavity, Insert, Station};
use jiff::Timestamp;
use serde::{Deserialize, Deserializer};

use super::brief::Brief;
use super::building::{FormBuild, FormChoices};
use super::cast::{Document, SCHEMA_VERSION};
use super::conditions::{Conditions, DepthOverride};
use super::contents::{Block, Coat, Contents, Embed, Inlay, River, Shaping, Tubes};
use super::filling::Checks;
use super::kind::Kind;
use super::moulds::{Cavities, Moulds, by_volume};
use super::pours::{PourId, Pours, Split, TakenPour};
use super::recipe::Recipe;
use super::stages::Stages;
use super::swirl::Swirl;
use super::typed::Typed;
use super::usual::USUAL_TOLERANCE;

/// A document of any version.
#[derive(Deserialize)]
#[serde(untagged)]
enum Kept {
    /// Versions 3 and 4, and whatever newer code has written that still reads like them.
    Now(Box<Now>),
    /// Versions 1 and 2.
    Before(Box<Before>),
}

/// A document as this version writes it.
#[derive(Deserialize)]
struct Now {
    schema: u32,
    name: String,
    contents: Contents,
    piece: Piece,
    brief: Brief,
    #[serde(rename = "tape_tolerance_m")]
    tape_tolerance: Length,
    form: FormChoices,
    resin: ResinId,
    #[serde(default)]
    recipe: Recipe,
    conditions: Conditions,
    #[serde(default)]
    depth_override: Option<DepthOverride>,
    #[serde(default)]
    stages: Stages,
    pours: Pours,
    #[serde(default)]
    typed: Typed,
}

/// A document of version 1 or 2.
// Many fields: those of all kinds side by side, which is why version 3 parts them.
#[derive(Deserialize)]
struct Before {
    #[serde(rename = "schema")]
    _schema: u32,
    name: String,
    #[serde(default)]
    kind: Kind,
    piece: Piece,
    #[serde(default)]
    brief: Brief,
    timber: TimberBefore,
    river: RiverBefore,
    #[serde(default)]
    cavities: Vec<Cavity>,
    #[serde(default)]
    inserts: Vec<Insert>,
    #[serde(default)]
    moulding: MouldingBefore,
    #[serde(default)]
    cutting: Cutting,
    #[serde(default)]
    coat: Coat,
    form: FormBefore,
    #[serde(default)]
    build: FormBuild,
    #[serde(default)]
    checks: Checks,
    resin: ResinId,
    conditions: Conditions,
    #[serde(default)]
    depth_override: Option<DepthOverride>,
    pours: PoursBefore,
}

#[derive(Deserialize)]
struct TimberBefore {
    #[serde(default)]
    boards: Vec<Board>,
    near: Option<Board>,
    far: Option<Board>,
    #[serde(default)]
    shaping: Shaping,
    #[serde(rename = "point_tolerance_m", default = "usual_tolerance")]
    point_tolerance: Length,
}

const fn usual_tolerance() -> Length {
    USUAL_TOLERANCE
}

#[derive(Deserialize)]
struct RiverBefore {
    stations: Vec<Station>,
    #[serde(rename = "tape_tolerance_m")]
    tape_tolerance: Length,
}

#[derive(Deserialize)]
struct MouldingBefore {
    count: u32,
    hollow: Hollow,
    #[serde(rename = "wall_m")]
    wall: Length,
    tube: Tube,
    label: Label,
    #[serde(rename = "timber_m3")]
    timber: Volume,
    #[serde(rename = "timber_density_kg_m3")]
    timber_density: Density,
    pot: Option<Pot>,
}

impl Default for MouldingBefore {
    /// Of documents that have no moulding, which are of kinds that use none.
    fn default() -> Self {
        let (zero, none) = (Length::ZERO, Volume::ZERO);
        Self {
            count: 1,
            hollow: Hollow::Round { diameter: zero, depth: zero },
            wall: zero,
            tube: Tube { outside: zero, length: zero, plugs: zero },
            label: Label { tube: zero, tube_length: zero, paper: zero, overlap: zero, trim: zero },
            timber: none,
            timber_density: Density::ZERO,
            pot: None,
        }
    }
}

#[derive(Deserialize)]
struct FormBefore {
    #[serde(rename = "base_gap_m")]
    base_gap: Length,
    #[serde(flatten)]
    choices: FormChoices,
}

#[derive(Deserialize)]
struct PoursBefore {
    not_before: Timestamp,
    #[serde(rename = "sanding_s")]
    sanding: Span,
    #[serde(default)]
    split: Split,
    #[serde(default)]
    seal: bool,
    #[serde(default)]
    taken: Vec<TakenBefore>,
}

#[derive(Deserialize)]
struct TakenBefore {
    at: Timestamp,
    #[serde(rename = "to_m")]
    to: Length,
}

impl<'de> Deserialize<'de> for Document {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        Kept::deserialize(deserializer).map(Self::from)
    }
}

impl From<Kept> for Document {
    fn from(kept: Kept) -> Self {
        match kept {
            Kept::Now(now) => Self::from(*now),
            Kept::Before(before) => Self::from(*before),
        }
    }
}

impl From<Now> for Document {
    fn from(now: Now) -> Self {
        Self {
            schema: now.schema.max(SCHEMA_VERSION),
            name: now.name,
            contents: now.contents,
            piece: now.piece,
            brief: now.brief,
            tape_tolerance: now.tape_tolerance,
            form: now.form,
            resin: now.resin,
            recipe: now.recipe,
            conditions: now.conditions,
            depth_override: now.depth_override,
            stages: now.stages,
            pours: now.pours,
            typed: now.typed,
        }
    }
}

impl From<Before> for Document {
    fn from(mut before: Before) -> Self {
        Self {
            schema: SCHEMA_VERSION,
            contents: before.contents(),
            name: before.name,
            piece: before.piece,
            brief: before.brief,
            tape_tolerance: before.river.tape_tolerance,
            form: before.form.choices,
            resin: before.resin,
            recipe: Recipe::default(),
            conditions: before.conditions,
            depth_override: before.depth_override,
            stages: Stages::default(),
            pours: Pours {
                not_before: before.pours.not_before,
                lead: Some(Span::ZERO),
                outside_air: String::new(),
                sanding: before.pours.sanding,
                split: before.pours.split,
                taken: with_ids(before.pours.taken),
                given_up: Vec::new(),
                poured_of: Vec::new(),
            },
            typed: Typed::default(),
        }
    }
}

fn with_ids(taken: Vec<TakenBefore>) -> Vec<TakenPour> {
    let with_id = |(place, pour): (usize, TakenBefore)| TakenPour {
        id: PourId::of_place(place),
        at: pour.at,
        to: pour.to,
    };
    taken.into_iter().enumerate().map(with_id).collect()
}

impl Before {
    /// Takes the fields of its kind; those of other kinds never counted.
    fn contents(&mut self) -> Contents {
        let take_boards = |timber: &mut TimberBefore| {
            let mut boards = std::mem::take(&mut timber.boards);
            boards.extend(timber.near.take().into_iter().chain(timber.far.take()));
            boards
        };
        let (cavities, inserts) =
            (std::mem::take(&mut self.cavities), std::mem::take(&mut self.inserts));
        let MouldingBefore { count, hollow, wall, .. } = self.moulding;
        match self.kind {
            Kind::River => Contents::River(River {
                boards: take_boards(&mut self.timber),
                shaping: self.timber.shaping,
                point_tolerance: self.timber.point_tolerance,
                drawn_at: Point::default(),
                drawn_before: Vec::new(),
                stations: std::mem::take(&mut self.river.stations),
                base_gap: self.form.base_gap,
                seal: self.pours.seal,
                seal_with_base: false,
                cavities,
                inserts,
                checks: self.checks,
                build: self.build,
            }),
            Kind::Inlay => Contents::Inlay(Inlay {
                board: take_boards(&mut self.timber)
                    .into_iter()
                    .next()
                    .unwrap_or_else(|| Board::usual(CastSize::of(&self.piece).thickness)),
                cavities,
            }),
            Kind::Block => Contents::Block(Block {
                cutting: self.cutting,
                swirl: Swirl::default(),
                pot: self.moulding.pot,
                build: self.build,
            }),
            Kind::Tubes => Contents::Tubes(Tubes {
                count,
                hollow,
                wall,
                tube: self.moulding.tube,
                label: self.moulding.label,
                pot: self.moulding.pot,
            }),
            Kind::Embed => Contents::Embed(Embed { inserts, build: self.build }),
            Kind::Moulds => Contents::Moulds(Moulds {
                cavities: vec![Cavities {
                    pressed: by_volume(self.moulding.timber, self.moulding.timber_density),
                    ..Cavities::empty(count, hollow)
                }],
                wall,
                pot: self.moulding.pot,
            }),
            Kind::Coat => Contents::Coat(self.coat),
        }
    }
}
