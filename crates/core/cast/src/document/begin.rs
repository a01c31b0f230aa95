//! What a new cast begins with, to be typed over.

use fondant_materials::resin::{ResinId, shipped};
use fondant_quantities::bounds;
use fondant_quantities::{Density, Length, Mass, Slope, Temperature};
use fondant_shapes::blanks::cutting::Cutting;
use fondant_shapes::blanks::label::Label;
use fondant_shapes::blanks::{Hollow, Tube};
use fondant_shapes::form::{CastSize, Piece};
use fondant_shapes::geometry::Point;
use fondant_shapes::timber::{Board, Cavity, CavityShape, Insert, InsertShape, Station};
use jiff::Timestamp;

use super::brief::Brief;
use super::building::{FormBuild, FormChoices};
use super::cast::{Document, SCHEMA_VERSION};
use super::conditions::Conditions;
use super::contents::{Block, Coat, Contents, Embed, Inlay, River, Shaping, Tubes};
use super::filling::Checks;
use super::kind::Kind;
use super::moulds::{Cavities, Moulds};
use super::pours::Pours;
use super::recipe::Recipe;
use super::stages::Flood;
use super::stages::Stages;
use super::swirl::Swirl;
use super::typed::Typed;
use super::usual::{GUESSED_RIVER_RATIO, GUESSED_STATIONS, USUAL_TOLERANCE};

/// Density of an object of which nothing is said, kg/m³: timber that floats (convention).
const USUAL_OBJECT_KG_M3: f64 = 700.0;

const fn mm(value: f64) -> Length {
    Length::from_mm(value)
}

impl Document {
    /// A river top to begin from: two boards of ash.
    #[must_use]
    pub fn river_top(name: String, piece: Piece, not_before: Timestamp) -> Self {
        Self::begin(Kind::River, name, piece, not_before)
    }

    /// A cast of a kind with what is usual for it.
    #[must_use]
    pub fn begin(kind: Kind, name: String, piece: Piece, not_before: Timestamp) -> Self {
        let resin = match kind {
            Kind::Coat => shipped::COATING,
            Kind::Inlay | Kind::Moulds | Kind::Tubes => shipped::MEDIUM_CASTING,
            Kind::River | Kind::Block | Kind::Embed => shipped::SLOW_CASTING,
        };
        let room = Temperature::from_celsius(20.0);
        Self {
            schema: SCHEMA_VERSION,
            name,
            contents: contents(kind, &piece),
            piece,
            brief: Brief::default(),
            tape_tolerance: USUAL_TOLERANCE,
            form: FormChoices {
                overfill: match kind {
                    Kind::River | Kind::Inlay => mm(2.0),
                    _ => Length::ZERO,
                },
                bucket_residue_ratio: 0.03,
                leak_ratio: 0.0,
                fall: Slope::ZERO,
            },
            resin: ResinId(resin.into()),
            recipe: Recipe::default(),
            conditions: Conditions::steady(room, room),
            depth_override: None,
            stages: Stages::default(),
            pours: Pours::from(not_before),
            typed: Typed::default(),
        }
    }
}

fn contents(kind: Kind, piece: &Piece) -> Contents {
    match kind {
        Kind::River => Contents::River(River::begin(piece)),
        Kind::Inlay => Contents::Inlay(Inlay {
            board: Board::usual(CastSize::of(piece).thickness),
            cavities: vec![knot(piece)],
        }),
        Kind::Block => Contents::Block(Block {
            cutting: Cutting { length: piece.length.min(mm(130.0)), ..Cutting::default() },
            swirl: Swirl::default(),
            pot: None,
            build: FormBuild::default(),
        }),
        Kind::Tubes => Contents::Tubes(Tubes::begin(piece)),
        Kind::Embed => {
            Contents::Embed(Embed { inserts: vec![object(piece)], build: FormBuild::default() })
        }
        Kind::Moulds => Contents::Moulds(Moulds::begin(piece)),
        Kind::Coat => Contents::Coat(Coat::default()),
    }
}

impl River {
    fn begin(piece: &Piece) -> Self {
        let cast = CastSize::of(piece);
        let width = cast.width * GUESSED_RIVER_RATIO;
        let station = |share: f64| Station { at: cast.length * share, width, from_wall: None };
        Self {
            boards: vec![Board::usual(cast.thickness); 2],
            shaping: Shaping::Stations,
            point_tolerance: USUAL_TOLERANCE,
            drawn_at: Point::default(),
            drawn_before: Vec::new(),
            stations: GUESSED_STATIONS.map(station).to_vec(),
            base_gap: mm(2.0),
            seal: false,
            seal_with_base: true,
            cavities: Vec::new(),
            inserts: Vec::new(),
            checks: Checks::default(),
            build: FormBuild::default(),
        }
    }
}

fn knot(piece: &Piece) -> Cavity {
    let length = piece.length.min(mm(120.0)) * 0.5;
    Cavity {
        name: "knot".into(),
        count: 1,
        shape: CavityShape::Knot,
        length,
        width: length * 0.6,
        depth: piece.thickness * 0.5,
        is_through: false,
    }
}

fn object(piece: &Piece) -> Insert {
    let side = piece.length.min(piece.width).min(piece.thickness) * 0.5;
    let volume = side.m().powi(3) * std::f64::consts::FRAC_PI_6;
    Insert {
        name: "object".into(),
        count: 1,
        shape: InsertShape::Ball { diameter: side },
        mass: Mass::from_kg(volume * USUAL_OBJECT_KG_M3).max(bounds::MASS.min),
        density: Density::from_kg_m3(USUAL_OBJECT_KG_M3),
        above_floor: side * 0.5,
    }
}

impl Tubes {
    fn begin(piece: &Piece) -> Self {
        let (length, across) = (piece.length, piece.width);
        let tube = length * 0.8;
        let outside = (across * 0.5).min(bounds::TUBE_SIDE.max);
        let plugs = ((length - tube) * 0.5).min(bounds::TUBE_PLUGS.max);
        Self {
            count: 6,
            hollow: Hollow::Round { diameter: across, depth: length },
            wall: mm(5.0),
            tube: Tube { outside, length: tube, plugs },
            label: Label {
                tube: outside,
                tube_length: tube,
                paper: mm(0.2),
                overlap: mm(2.0),
                trim: mm(1.0),
            },
            pot: None,
        }
    }
}

impl Moulds {
    fn begin(piece: &Piece) -> Self {
        let hollow = Hollow::Box {
            length: piece.length.min(bounds::HOLLOW_SIDE.max),
            width: piece.width,
            depth: piece.thickness.max(bounds::HOLLOW_DEPTH.min),
        };
        Self { cavities: vec![Cavities::empty(6, hollow)], wall: mm(10.0), pot: None }
    }
}

impl Default for Coat {
    fn default() -> Self {
        Self {
            thickness: Flood::THICKNESS,
            coats: 1,
            run_off_ratio: Flood::RUN_OFF_RATIO,
            edges: true,
        }
    }
}
