//! What the maker has said about a cast. Kept as JSON with a schema version;
//! quantities are bare numbers in the SI unit that ends their name.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use super::kind::Kind;
use super::parts::{
    Brief, Checks, Coat, Conditions, DepthOverride, FormBuild, FormChoices, Moulding, Pours,
    RiverWidths, Shaping, Timber,
};
use crate::mix::buying::Buying;
use fondant_materials::resin::{ResinId, shipped};
use fondant_quantities::{Density, Length, Mass, Temperature};
use fondant_shapes::blanks::cutting::Cutting;
use fondant_shapes::blanks::{Hollow, Tube};
use fondant_shapes::form::{CastSize, Piece};
use fondant_shapes::geometry::Outline;
use fondant_shapes::timber::BoardShape;
use fondant_shapes::timber::{
    Board, Cavity, CavityShape, Insert, InsertShape, River, RiverError, Station,
};

/// The version of the document that this code writes. Version 1 knew rivers by
/// stations alone and is still read.
pub const SCHEMA_VERSION: u32 = 2;

/// Kept off the deepest layer that the model allows, since without a reading
/// of the shop's own a forecast of depth is good to 15–20 % at best.
pub const DEPTH_CAUTION_RATIO: f64 = 0.15;

/// Where a new plan puts its stations, as shares of the form's length.
const GUESSED_STATIONS: [f64; 3] = [0.0, 0.5, 1.0];

/// The plan of a cast.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Plan {
    /// [`SCHEMA_VERSION`] of the code that wrote it.
    pub schema: u32,
    /// What the maker calls the cast.
    pub name: String,
    /// What kind of cast it is.
    #[serde(default)]
    pub kind: Kind,
    /// Finished size and allowances.
    pub piece: Piece,
    /// What it is for.
    #[serde(default)]
    pub brief: Brief,
    /// The boards.
    pub timber: Timber,
    /// The river between two of them.
    pub river: RiverWidths,
    /// Knots, cracks, pockets.
    #[serde(default)]
    pub cavities: Vec<Cavity>,
    /// Objects in the resin.
    #[serde(default)]
    pub inserts: Vec<Insert>,
    /// Equal cavities of moulds.
    #[serde(default)]
    pub moulding: Moulding,
    /// Blanks sawn from a block.
    #[serde(default)]
    pub cutting: Cutting,
    /// A coat.
    #[serde(default)]
    pub coat: Coat,
    /// How the form is filled.
    pub form: FormChoices,
    /// What the form is built of.
    #[serde(default)]
    pub build: FormBuild,
    /// Other ways of measuring.
    #[serde(default)]
    pub checks: Checks,
    /// How the resin is bought.
    #[serde(default)]
    pub buying: Buying,
    /// The resin.
    pub resin: ResinId,
    /// Air and resin at the pour.
    pub conditions: Conditions,
    /// The deepest layer that the maker wants.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub depth_override: Option<DepthOverride>,
    /// When work can begin, and how long it takes.
    pub pours: Pours,
}

impl Plan {
    /// A river top to begin from: two boards of ash.
    #[must_use]
    pub fn river_top(name: String, piece: Piece, not_before: Timestamp) -> Self {
        Self::begin(Kind::River, name, piece, not_before)
    }

    /// A cast of a kind with what is usual for it.
    #[must_use]
    pub fn begin(kind: Kind, name: String, piece: Piece, not_before: Timestamp) -> Self {
        let mm = Length::from_mm;
        let cast = CastSize::of(&piece);
        let width = cast.width * 0.25;
        let stations = GUESSED_STATIONS
            .map(|share| Station { at: cast.length * share, width, from_wall: None })
            .to_vec();
        let boards = match kind {
            Kind::River => vec![Board::usual(cast.thickness); 2],
            Kind::Inlay => vec![Board::usual(cast.thickness)],
            _ => Vec::new(),
        };
        let mut plan = Self {
            schema: SCHEMA_VERSION,
            name,
            kind,
            piece,
            brief: Brief::default(),
            timber: Timber::by_stations(boards),
            river: RiverWidths { stations, tape_tolerance: mm(1.0) },
            cavities: Vec::new(),
            inserts: Vec::new(),
            moulding: Moulding::default(),
            cutting: Cutting::default(),
            coat: Coat::default(),
            form: FormChoices {
                base_gap: if kind == Kind::River { mm(2.0) } else { Length::ZERO },
                overfill: match kind {
                    Kind::River | Kind::Inlay => mm(2.0),
                    _ => Length::ZERO,
                },
                bucket_residue_ratio: 0.03,
                leak_ratio: 0.0,
                fall_mm_m: 0.0,
            },
            build: FormBuild::default(),
            checks: Checks::default(),
            buying: Buying::default(),
            resin: ResinId(
                match kind {
                    Kind::Coat => shipped::COATING,
                    Kind::Inlay | Kind::Moulds | Kind::TubeBlanks => shipped::MEDIUM_CASTING,
                    _ => shipped::SLOW_CASTING,
                }
                .into(),
            ),
            conditions: Conditions::steady(
                Temperature::from_celsius(20.0),
                Temperature::from_celsius(20.0),
            ),
            depth_override: None,
            pours: Pours::from(not_before),
        };
        plan.begin_contents();
        plan
    }

    /// What usually lies in a cast of its kind, to be typed over.
    fn begin_contents(&mut self) {
        let mm = Length::from_mm;
        match self.kind {
            Kind::Inlay => {
                let length = self.piece.length.min(mm(120.0)) * 0.5;
                self.cavities.push(Cavity {
                    name: "knot".into(),
                    count: 1,
                    shape: CavityShape::Knot,
                    length,
                    width: length * 0.6,
                    depth: self.piece.thickness * 0.5,
                    is_through: false,
                });
            }
            Kind::Embed => {
                let side = self.piece.length.min(self.piece.width).min(self.piece.thickness) * 0.5;
                self.inserts.push(Insert {
                    name: "object".into(),
                    count: 1,
                    shape: InsertShape::Ball { diameter: side },
                    mass: Mass::from_kg(side.m().powi(3) * std::f64::consts::FRAC_PI_6 * 700.0),
                    density: Density::from_kg_m3(700.0),
                    above_floor: side * 0.5,
                });
            }
            Kind::Moulds => {
                self.moulding.hollow = Hollow::Box {
                    length: self.piece.length,
                    width: self.piece.width,
                    depth: self.piece.thickness,
                };
                self.moulding.wall = mm(10.0);
            }
            Kind::TubeBlanks => {
                let (length, across) = (self.piece.length, self.piece.width);
                self.moulding.hollow = Hollow::Round { diameter: across, depth: length };
                let tube = length * 0.8;
                self.moulding.tube =
                    Tube { outside: across * 0.5, length: tube, plugs: (length - tube) * 0.5 };
                self.moulding.label.tube = across * 0.5;
                self.moulding.label.tube_length = tube;
            }
            Kind::Block => self.cutting.length = self.piece.length.min(mm(130.0)),
            Kind::River | Kind::Coat => {}
        }
    }

    /// Whether live edges get a seal coat: only boards have them.
    #[must_use]
    pub fn seals(&self) -> bool {
        self.pours.seal && self.kind == Kind::River
    }

    /// Whether the river is still the straight one that a new plan begins
    /// with, a guess that nobody has measured.
    #[must_use]
    pub fn river_is_guess(&self) -> bool {
        self.kind == Kind::River
            && self.timber.shaping == Shaping::Stations
            && self.stations_are_guess()
    }

    /// Whether the stations are those that a new plan begins with, whether or
    /// not they count.
    #[must_use]
    pub fn stations_are_guess(&self) -> bool {
        let stations = &self.river.stations;
        stations.len() == GUESSED_STATIONS.len()
            && stations.iter().all(|s| s.from_wall.is_none() && s.width == stations[0].width)
    }

    /// The river in its form.
    ///
    /// # Errors
    /// Every way in which stations and form do not fit.
    pub fn river(&self) -> Result<River, Vec<RiverError>> {
        let cast = CastSize::of(&self.piece);
        River::new(self.river.stations.clone(), cast.length, cast.width)
    }

    /// Moves the stations in proportion to a new length of the form, for a
    /// maker who changes the length before measuring again.
    pub fn spread_stations(&mut self, from: Length, to: Length) {
        for station in &mut self.river.stations {
            station.at = station.at * (to / from);
        }
    }

    /// Draws the boards as the stations tell them, to be corrected from there.
    pub fn outlines_from_stations(&mut self) {
        let Ok(river) = self.river() else { return };
        for (board, outline) in self.timber.boards.iter_mut().zip(river.boards()) {
            // A river that runs along the wall leaves no board there.
            board.shape = Some(BoardShape::square(outline));
        }
        self.timber.shaping = Shaping::Outlines;
    }

    /// Shapes of the boards as they lie in the form; `None` where a board has
    /// none yet.
    #[must_use]
    pub fn board_shapes(&self) -> Vec<Option<BoardShape>> {
        if self.timber.shaping == Shaping::Stations {
            let outlines: Vec<Outline> =
                self.river().map(|river| river.boards().to_vec()).unwrap_or_default();
            return outlines.into_iter().map(|o| Some(BoardShape::square(o))).collect();
        }
        self.timber.boards.iter().map(|b| b.shape.clone()).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn plan() -> Plan {
        let mm = Length::from_mm;
        let piece = Piece::slab(mm(1200.0), mm(600.0), mm(36.0), mm(10.0));
        Plan::river_top("Coffee table".into(), piece, "2026-11-23T09:00:00Z".parse().unwrap())
    }

    #[test]
    fn a_new_river_is_a_guess_until_a_width_is_measured() {
        let mut plan = plan();
        assert!(plan.river_is_guess());
        plan.river.stations[1].width = Length::from_mm(140.0);
        assert!(!plan.river_is_guess());
    }

    #[test]
    fn the_document_survives_json() {
        for kind in Kind::ALL {
            let plan = Plan::begin(kind, "x".into(), plan().piece, plan().pours.not_before);
            let text = serde_json::to_string(&plan).unwrap();
            assert!(text.contains("\"thickness_m\":0.036"), "{text}");
            assert_eq!(serde_json::from_str::<Plan>(&text).unwrap(), plan);
        }
    }

    #[test]
    fn a_plan_of_the_first_schema_is_read() {
        let old = r#"{"schema":1,"name":"Old top",
            "piece":{"length_m":1.2,"width_m":0.6,"thickness_m":0.036,"trim_margin_m":0.01},
            "timber":{
              "near":{"timber":"ash","thickness_m":0.04,"density_kg_m3":650,"moisture_percent":9},
              "far":{"timber":"oak","thickness_m":0.041,"density_kg_m3":700,"moisture_percent":8}},
            "river":{"stations":[{"at_m":0,"width_m":0.2},{"at_m":1.2,"width_m":0.25}],
              "tape_tolerance_m":0.001},
            "form":{"base_gap_m":0.002,"overfill_m":0.002,"bucket_residue_ratio":0.03},
            "resin":"slow-casting-epoxy","conditions":{"air_k":293.15,"resin_k":293.15},
            "pours":{"not_before":"2026-11-23T09:00:00Z","sanding_s":3600}}"#;
        let plan: Plan = serde_json::from_str(old).unwrap();
        assert_eq!(plan.kind, Kind::River);
        assert_eq!(plan.timber.boards.len(), 2);
        assert_eq!(plan.timber.boards[1].timber, "oak");
        assert!((plan.piece.flattening.mm() - 2.0).abs() < 1e-12);
        assert_eq!(plan.conflicts(), []);
    }

    #[test]
    fn outlines_drawn_from_stations_enclose_the_same_river() {
        let mut plan = plan();
        plan.river.stations[1].width = Length::from_mm(260.0);
        let river = plan.river().unwrap();
        plan.outlines_from_stations();
        let timber: f64 = plan.board_shapes().iter().flatten().map(|s| s.outline.area().m2()).sum();
        let form = CastSize::of(&plan.piece).area().m2();
        assert!((form - timber - river.area().m2()).abs() < 1e-12);
        assert_eq!(plan.conflicts(), []);
    }
}
