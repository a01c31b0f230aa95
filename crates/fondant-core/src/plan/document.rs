//! What the maker has said about a cast. Kept as JSON with a schema version;
//! quantities are bare numbers in the SI unit that ends their name.

use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde::{Deserialize, Serialize};

use crate::form::{CastSize, Piece};
use crate::quantities::bounds;
use crate::quantities::units::UnitSystem;
use crate::quantities::{Density, Length, Span, Temperature};
use crate::resin::{ResinId, shipped};
use crate::timber::{Board, River, RiverError, Station};

/// The version of the document that this code writes.
pub const SCHEMA_VERSION: u32 = 1;

/// Kept off the deepest layer that the model allows, since without a reading
/// of the shop's own a forecast of depth is good to 15–20 % at best.
pub const DEPTH_CAUTION_RATIO: f64 = 0.15;

/// Where a new plan puts its stations, as shares of the form's length.
const GUESSED_STATIONS: [f64; 3] = [0.0, 0.5, 1.0];

/// The plan of a river top.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Plan {
    /// [`SCHEMA_VERSION`] of the code that wrote it.
    pub schema: u32,
    /// What the maker calls the cast.
    pub name: String,
    /// Finished size.
    pub piece: Piece,
    /// The two boards.
    pub timber: Timber,
    /// The river between them.
    pub river: RiverWidths,
    /// How the form is filled.
    pub form: FormChoices,
    /// The resin.
    pub resin: ResinId,
    /// Air and resin at the pour.
    pub conditions: Conditions,
    /// When work can begin, and how long it takes.
    pub pours: Pours,
}

/// The two boards of a river top.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Timber {
    /// At the near wall of the form, drawn at the top.
    pub near: Board,
    /// At the far wall.
    pub far: Board,
}

/// The river by stations.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct RiverWidths {
    /// In order along the form.
    pub stations: Vec<Station>,
    /// How far a reading of the tape may be off.
    #[serde(rename = "tape_tolerance_m")]
    pub tape_tolerance: Length,
}

/// How the form is filled.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct FormChoices {
    /// Resin under the boards.
    #[serde(rename = "base_gap_m")]
    pub base_gap: Length,
    /// Resin proud of the boards.
    #[serde(rename = "overfill_m")]
    pub overfill: Length,
    /// Share that stays in buckets, 0…1.
    pub bucket_residue_ratio: f64,
}

/// Air and resin at the pour.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Conditions {
    /// Air of the shop, steady.
    #[serde(rename = "air_k")]
    pub air: Temperature,
    /// Resin as it leaves the bucket.
    #[serde(rename = "resin_k")]
    pub resin: Temperature,
}

/// When work can begin, and how long it takes.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Pours {
    /// No pour before this.
    pub not_before: Timestamp,
    /// To sand, wipe and dry a hard layer before the next.
    #[serde(rename = "sanding_s")]
    pub sanding: Span,
}

/// Where two parts of a plan contradict each other.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum Conflict {
    /// The stations do not make a river in this form.
    #[error("{0}")]
    River(RiverError),
    /// Boards too thin for the finished thickness.
    #[error("the boards are too thin")]
    BoardsTooThin {
        /// The thinner board.
        thinner: Length,
        /// Finished thickness.
        finished: Length,
    },
    /// A figure is out of its bounds: only in documents that did not come from the forms.
    #[error("{0}")]
    OutOfBounds(String),
    /// Written by newer code.
    #[error("the plan has schema version {found}; this Fondant reads {SCHEMA_VERSION}")]
    NewerSchema {
        /// Its version.
        found: u32,
    },
}

impl Plan {
    /// A river top to begin from: a coffee table of two boards of ash.
    #[must_use]
    pub fn river_top(name: String, piece: Piece, not_before: Timestamp) -> Self {
        let cast = CastSize::of(&piece);
        let board = || Board {
            timber: "ash".into(),
            thickness: cast.thickness,
            density: Density::from_kg_m3(650.0),
            moisture_percent: 9.0,
        };
        let width = cast.width * 0.25;
        let stations = GUESSED_STATIONS
            .map(|share| Station { at: cast.length * share, width, from_wall: None })
            .to_vec();
        Self {
            schema: SCHEMA_VERSION,
            name,
            piece,
            timber: Timber { near: board(), far: board() },
            river: RiverWidths { stations, tape_tolerance: Length::from_mm(1.0) },
            form: FormChoices {
                base_gap: Length::from_mm(2.0),
                overfill: Length::from_mm(2.0),
                bucket_residue_ratio: 0.03,
            },
            resin: ResinId(shipped::SLOW_CASTING.into()),
            conditions: Conditions {
                air: Temperature::from_celsius(20.0),
                resin: Temperature::from_celsius(20.0),
            },
            pours: Pours { not_before, sanding: Span::from_h(1.0) },
        }
    }

    /// Whether the river is still the straight one that a new plan begins
    /// with, a guess that nobody has measured.
    #[must_use]
    pub fn river_is_guess(&self) -> bool {
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

    /// Everything in which the plan contradicts itself or leaves its bounds.
    /// A plan is kept only where this is empty.
    #[must_use]
    pub fn conflicts(&self) -> Vec<Conflict> {
        if self.schema > SCHEMA_VERSION {
            return vec![Conflict::NewerSchema { found: self.schema }];
        }
        let mut all = self.out_of_bounds();
        if let Err(errors) = self.river() {
            all.extend(errors.into_iter().map(Conflict::River));
        }
        let thinner = self.timber.near.thickness.min(self.timber.far.thickness);
        if thinner + Length::from_mm(1e-6) < self.piece.thickness {
            all.push(Conflict::BoardsTooThin { thinner, finished: self.piece.thickness });
        }
        all
    }

    fn out_of_bounds(&self) -> Vec<Conflict> {
        let metric = UnitSystem::Metric;
        let mut all = Vec::new();
        let mut length = |bound: &bounds::Bound<Length>, value: Length| {
            if let Err(error) = bound.check(value, metric) {
                all.push(Conflict::OutOfBounds(error.to_string()));
            }
        };
        length(&bounds::FINISHED_LENGTH, self.piece.length);
        length(&bounds::FINISHED_WIDTH, self.piece.width);
        length(&bounds::FINISHED_THICKNESS, self.piece.thickness);
        length(&bounds::TRIM_MARGIN, self.piece.trim_margin);
        length(&bounds::TAPE_TOLERANCE, self.river.tape_tolerance);
        length(&bounds::BASE_GAP, self.form.base_gap);
        length(&bounds::OVERFILL, self.form.overfill);
        for board in [&self.timber.near, &self.timber.far] {
            length(&bounds::BOARD_THICKNESS, board.thickness);
        }
        for station in &self.river.stations {
            length(&bounds::RIVER_WIDTH, station.width);
            length(&bounds::STATION_PLACE, station.at);
            length(&bounds::RIVER_OFFSET, station.from_wall.unwrap_or_default());
        }
        let mut refuse =
            |refused: Result<(), String>| all.extend(refused.err().map(Conflict::OutOfBounds));
        for board in [&self.timber.near, &self.timber.far] {
            refuse(said(bounds::TIMBER_DENSITY.check(board.density, metric)));
            refuse(said(bounds::TIMBER_MOISTURE_PERCENT.check(board.moisture_percent)));
        }
        refuse(said(bounds::AIR_TEMPERATURE.check(self.conditions.air, metric)));
        refuse(said(bounds::RESIN_TEMPERATURE.check(self.conditions.resin, metric)));
        let residue = self.form.bucket_residue_ratio * 100.0;
        refuse(said(bounds::BUCKET_RESIDUE_PERCENT.check(residue)));
        refuse(said(bounds::SANDING_MINUTES.check(self.pours.sanding.s() / 60.0)));
        refuse(said(shipped::find(&self.resin)));
        let year = self.pours.not_before.to_zoned_datetime(TimeZone::UTC).year();
        refuse(bounds::PLANNED_YEARS.contains(&year).then_some(()).ok_or_else(|| {
            let years = bounds::PLANNED_YEARS;
            format!(
                "Pours are planned from {} to {}; {year} is outside.",
                years.start(),
                years.end()
            )
        }));
        let named = (1..=bounds::NAME_CHARACTERS).contains(&self.name.trim().chars().count());
        refuse(named.then_some(()).ok_or_else(|| "The name is empty or too long.".to_owned()));
        all
    }

    /// Moves the stations in proportion to a new length of the form, for a
    /// maker who changes the length before measuring again.
    pub fn spread_stations(&mut self, from: Length, to: Length) {
        for station in &mut self.river.stations {
            station.at = station.at * (to / from);
        }
    }
}

fn said<T, E: std::fmt::Display>(result: Result<T, E>) -> Result<(), String> {
    result.map(|_| ()).map_err(|error| error.to_string())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn plan() -> Plan {
        let mm = Length::from_mm;
        let piece = Piece {
            length: mm(1200.0),
            width: mm(600.0),
            thickness: mm(36.0),
            trim_margin: mm(10.0),
        };
        Plan::river_top("Coffee table".into(), piece, "2026-11-23T09:00:00Z".parse().unwrap())
    }

    #[test]
    fn a_new_plan_has_no_conflicts() {
        assert_eq!(plan().conflicts(), []);
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
        let plan = plan();
        let text = serde_json::to_string(&plan).unwrap();
        assert!(text.contains("\"thickness_m\":0.036"), "{text}");
        assert_eq!(serde_json::from_str::<Plan>(&text).unwrap(), plan);
    }

    #[test]
    fn contradictions_are_found_wherever_the_document_came_from() {
        let mut broken = plan();
        broken.piece.length = Length::from_mm(900.0);
        assert!(matches!(broken.conflicts()[0], Conflict::River(RiverError::BeyondForm { .. })));
        broken.spread_stations(Length::from_mm(1220.0), Length::from_mm(920.0));
        assert_eq!(broken.conflicts(), []);

        let mut broken = plan();
        broken.timber.near.thickness = Length::from_mm(30.0);
        assert!(matches!(broken.conflicts()[0], Conflict::BoardsTooThin { .. }));

        let mut broken = plan();
        broken.conditions.air = Temperature::from_celsius(-40.0);
        broken.resin = ResinId("treacle".into());
        broken.name = " ".into();
        assert_eq!(broken.conflicts().len(), 3, "{:?}", broken.conflicts());

        for moment in ["1969-12-31T08:00:00Z", "9998-12-30T08:00:00Z"] {
            let mut broken = plan();
            broken.pours.not_before = moment.parse().unwrap();
            assert_eq!(broken.conflicts().len(), 1, "{moment}");
        }

        let newer = Plan { schema: SCHEMA_VERSION + 1, ..plan() };
        assert_eq!(newer.conflicts(), [Conflict::NewerSchema { found: 2 }]);
    }
}
