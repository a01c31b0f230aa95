//! Where a plan contradicts itself or leaves its bounds.

use jiff::tz::TimeZone;

use super::document::{Plan, SCHEMA_VERSION};
use super::kind::Kind;
use super::parts::Shaping;
use fondant_quantities::units::UnitSystem;
use fondant_quantities::{Area, Length, Volume, bounds};
use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::faults::{OutlineFault, faults};
use fondant_shapes::geometry::overlay::{clip, overlap};
use fondant_shapes::geometry::ruled::Underside;
use fondant_shapes::geometry::{Outline, Point};
use fondant_shapes::timber::RiverError;
use fondant_shapes::volume::Profile;

/// Where two parts of a plan contradict each other. Numbers count from 0.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum Conflict {
    /// The stations do not make a river in this form.
    #[error("{0}")]
    River(RiverError),
    /// Boards too thin for the finished thickness.
    #[error("the boards are too thin")]
    BoardsTooThin {
        /// The thinnest board.
        thinner: Length,
        /// Finished thickness.
        finished: Length,
    },
    /// Stations lie between two boards, no more and no fewer.
    #[error("stations need two boards; there are {found}")]
    NotTwoBoards {
        /// How many there are.
        found: usize,
    },
    /// There is no board, or more than are kept.
    #[error("{found} boards")]
    BoardCount {
        /// How many there are.
        found: usize,
    },
    /// A board has no outline.
    #[error("board {} has no outline", board + 1)]
    NoOutline {
        /// Which.
        board: usize,
    },
    /// A board's outline is none.
    #[error("board {}: {fault}", board + 1)]
    Outline {
        /// Which.
        board: usize,
        /// Why.
        fault: OutlineFault,
    },
    /// A board lies outside of the form.
    #[error("board {} lies outside of the form", board + 1)]
    OutsideForm {
        /// Which.
        board: usize,
        /// Its middle.
        at: Point,
    },
    /// Two boards lie on each other.
    #[error("boards {} and {} overlap", first + 1, second + 1)]
    Overlap {
        /// One.
        first: usize,
        /// The other.
        second: usize,
        /// By how much.
        area: Area,
        /// Where.
        at: Point,
    },
    /// A cavity is deeper than its board.
    #[error("cavity {} is deeper than the board", cavity + 1)]
    CavityTooDeep {
        /// Which.
        cavity: usize,
        /// Its depth.
        depth: Length,
        /// The board.
        board: Length,
    },
    /// There is nothing to fill.
    #[error("there is nothing to fill")]
    NothingToFill,
    /// An insert stands out of the resin.
    #[error("insert {} stands out of the resin", insert + 1)]
    InsertTooTall {
        /// Which.
        insert: usize,
        /// Level of its top.
        top: Length,
        /// Level of the resin.
        resin: Length,
    },
    /// An insert is wider than the form.
    #[error("insert {} does not fit into the form", insert + 1)]
    InsertTooWide {
        /// Which.
        insert: usize,
    },
    /// What stands in a cavity is larger than the cavity.
    #[error("the cavity holds less than stands in it")]
    CavityTooSmall {
        /// What the cavity holds.
        cavity: Volume,
        /// What stands in it.
        inside: Volume,
    },
    /// A tube with its plugs is longer than its cavity, or wider.
    #[error("the tube does not fit into its cavity")]
    TubeTooLarge {
        /// It is its length that does not fit.
        is_length: bool,
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

/// Lengths that differ by less are one: a figure typed in inches and one in
/// millimetres may differ in the last bit.
const SLIP: Length = Length::from_mm(1e-6);

impl Plan {
    /// Everything in which the plan contradicts itself or leaves its bounds.
    /// A plan is kept only where this is empty.
    #[must_use]
    pub fn conflicts(&self) -> Vec<Conflict> {
        if self.schema > SCHEMA_VERSION {
            return vec![Conflict::NewerSchema { found: self.schema }];
        }
        let mut all: Vec<Conflict> =
            self.out_of_bounds().into_iter().map(Conflict::OutOfBounds).collect();
        match self.kind {
            Kind::River => self.river_conflicts(&mut all),
            Kind::Inlay => self.inlay_conflicts(&mut all),
            Kind::TubeBlanks | Kind::Moulds => self.mould_conflicts(&mut all),
            Kind::Block | Kind::Embed | Kind::Coat => {}
        }
        if matches!(self.kind, Kind::Embed | Kind::River) {
            self.insert_conflicts(&mut all);
        }
        all
    }

    fn river_conflicts(&self, all: &mut Vec<Conflict>) {
        let boards = &self.timber.boards;
        match self.timber.shaping {
            Shaping::Stations if boards.len() != 2 => {
                all.push(Conflict::NotTwoBoards { found: boards.len() });
            }
            Shaping::Stations => {
                if let Err(errors) = self.river() {
                    all.extend(errors.into_iter().map(Conflict::River));
                }
            }
            Shaping::Outlines => self.outline_conflicts(all),
        }
        let thinner = boards.iter().map(|b| b.thickness.m()).fold(f64::INFINITY, f64::min);
        let thinner = Length::from_m(thinner);
        if !boards.is_empty() && thinner + SLIP < self.piece.thickness {
            all.push(Conflict::BoardsTooThin { thinner, finished: self.piece.thickness });
        }
    }

    fn outline_conflicts(&self, all: &mut Vec<Conflict>) {
        let cast = CastSize::of(&self.piece);
        let boards = &self.timber.boards;
        if !bounds::BOARDS.contains(&boards.len()) {
            all.push(Conflict::BoardCount { found: boards.len() });
            return;
        }
        let mut faces: Vec<[Outline; 2]> = Vec::new();
        let before = all.len();
        for (board, b) in boards.iter().enumerate() {
            let Some(shape) = &b.shape else {
                all.push(Conflict::NoOutline { board });
                continue;
            };
            let mut found = faults(&shape.outline);
            if let (true, Underside::Outline(lower)) = (found.is_empty(), &shape.underside) {
                found = faults(lower);
            }
            all.extend(found.iter().map(|fault| Conflict::Outline { board, fault: *fault }));
            if found.is_empty() {
                if clip(&shape.outline, cast.length, cast.width).is_empty() {
                    let at = shape.outline.centroid();
                    all.push(Conflict::OutsideForm { board, at });
                }
                let ruled = shape.ruled();
                faces.push([ruled.upper, ruled.lower]);
            }
        }
        // Overlaps are looked for between sound outlines alone.
        if all.len() > before {
            return;
        }
        for first in 0..faces.len() {
            for second in first + 1..faces.len() {
                let (a, b) = (&faces[first], &faces[second]);
                let lies_on = overlap(&a[0], &b[0]).or_else(|| overlap(&a[1], &b[1]));
                if let Some((area, at)) = lies_on {
                    all.push(Conflict::Overlap { first, second, area, at });
                }
            }
        }
    }

    fn inlay_conflicts(&self, all: &mut Vec<Conflict>) {
        let board = CastSize::of(&self.piece).thickness;
        if self.cavities.is_empty() {
            all.push(Conflict::NothingToFill);
        }
        for (cavity, c) in self.cavities.iter().enumerate() {
            if c.depth > board + SLIP {
                all.push(Conflict::CavityTooDeep { cavity, depth: c.depth, board });
            }
        }
    }

    fn mould_conflicts(&self, all: &mut Vec<Conflict>) {
        let moulding = &self.moulding;
        let (cavity, mut inside) = (moulding.hollow.volume(), moulding.timber);
        if self.kind == Kind::TubeBlanks {
            let (mouth, tube) = (moulding.hollow.mouth(), moulding.tube);
            inside = tube.volume();
            if tube.length + tube.plugs > moulding.hollow.depth() + SLIP {
                all.push(Conflict::TubeTooLarge { is_length: true });
            }
            if tube.outside >= mouth.0.min(mouth.1) {
                all.push(Conflict::TubeTooLarge { is_length: false });
            }
        }
        if inside >= cavity {
            all.push(Conflict::CavityTooSmall { cavity, inside });
        }
    }

    fn insert_conflicts(&self, all: &mut Vec<Conflict>) {
        let cast = CastSize::of(&self.piece);
        // In a river the resin stands as high as the thickest board.
        let boards = self.timber.boards.iter().map(|b| b.thickness).fold(Length::ZERO, Length::max);
        let depth =
            if self.kind.has_boards() { self.form.base_gap + boards } else { cast.thickness };
        let resin = depth + self.form.overfill;
        for (insert, i) in self.inserts.iter().enumerate() {
            let top = i.above_floor + i.height();
            if top > resin + SLIP {
                all.push(Conflict::InsertTooTall { insert, top, resin });
            }
            let (l, w) = i.footprint();
            if l.max(w) > cast.length.max(cast.width) || l.min(w) > cast.length.min(cast.width) {
                all.push(Conflict::InsertTooWide { insert });
            }
        }
        let profiles: Vec<Profile> = self.inserts.iter().map(Profile::of_insert).collect();
        for (insert, profile) in profiles.iter().enumerate() {
            // Where it is widest, all of them together must leave room.
            let middle = (profile.from + profile.to) / 2.0;
            let there: Area = profiles.iter().map(|p| p.area_at(middle)).sum();
            if there >= cast.area() {
                all.push(Conflict::InsertTooWide { insert });
            }
        }
        let inside: Volume =
            self.inserts.iter().map(fondant_shapes::timber::Insert::volume_of_all).sum();
        let cavity = cast.area() * resin;
        if inside >= cavity {
            all.push(Conflict::CavityTooSmall { cavity, inside });
        }
    }

    fn out_of_bounds(&self) -> Vec<String> {
        let metric = UnitSystem::Metric;
        let mut all = Vec::new();
        let mut length = |bound: &bounds::Bound<Length>, value: Length| {
            all.extend(bound.check(value, metric).err().map(|error| error.to_string()));
        };
        length(&bounds::FINISHED_LENGTH, self.piece.length);
        length(&bounds::FINISHED_WIDTH, self.piece.width);
        length(&bounds::FINISHED_THICKNESS, self.piece.thickness);
        length(&bounds::TRIM_MARGIN, self.piece.trim_margin);
        length(&bounds::FLATTENING, self.piece.flattening);
        length(&bounds::SQUARING, self.piece.squaring);
        length(&bounds::TAPE_TOLERANCE, self.river.tape_tolerance);
        length(&bounds::TAPE_TOLERANCE, self.timber.point_tolerance);
        length(&bounds::BASE_GAP, self.form.base_gap);
        length(&bounds::OVERFILL, self.form.overfill);
        length(&bounds::SHEET_THICKNESS, self.build.thickness);
        for board in &self.timber.boards {
            length(&bounds::BOARD_THICKNESS, board.thickness);
        }
        for station in &self.river.stations {
            length(&bounds::RIVER_WIDTH, station.width);
            length(&bounds::STATION_PLACE, station.at);
            length(&bounds::RIVER_OFFSET, station.from_wall.unwrap_or_default());
        }
        for cavity in &self.cavities {
            for side in [cavity.length, cavity.width, cavity.depth] {
                length(&bounds::CAVITY_SIDE, side);
            }
        }
        for insert in &self.inserts {
            length(&bounds::INSERT_SIDE, insert.height());
        }
        length(&bounds::COAT_THICKNESS, self.coat.thickness);
        length(&bounds::HOLLOW_DEPTH, self.moulding.hollow.depth());
        let mut refuse = |refused: Result<(), String>| all.extend(refused.err());
        for board in &self.timber.boards {
            refuse(said(bounds::TIMBER_DENSITY.check(board.density, metric)));
            refuse(said(bounds::TIMBER_MOISTURE_PERCENT.check(board.moisture_percent)));
            refuse(said(bounds::ABSORPTION_ML_M2.check(board.absorption_ml_m2)));
        }
        refuse(said(bounds::AIR_TEMPERATURE.check(self.conditions.air, metric)));
        refuse(said(bounds::RESIN_TEMPERATURE.check(self.conditions.resin, metric)));
        refuse(said(bounds::BUCKET.check(self.conditions.bucket, metric)));
        refuse(said(bounds::WAITS_MINUTES.check(self.conditions.waits.s() / 60.0)));
        refuse(said(bounds::COOLING_HOURS.check(self.conditions.cooling.lasts.h())));
        if let Some(cold) = self.conditions.cooling.at {
            refuse(said(bounds::COOLING_TEMPERATURE.check(cold, metric)));
        }
        if let Some(taken) = &self.depth_override {
            refuse(said(bounds::TAKEN_DEPTH.check(taken.depth, metric)));
        }
        refuse(said(bounds::BUCKET_RESIDUE_PERCENT.check(self.form.bucket_residue_ratio * 100.0)));
        refuse(said(bounds::LEAK_PERCENT.check(self.form.leak_ratio * 100.0)));
        refuse(said(bounds::FALL_MM_M.check(self.form.fall_mm_m)));
        refuse(said(bounds::SANDING_MINUTES.check(self.pours.sanding.s() / 60.0)));
        refuse(said(bounds::MOULD_COUNT.check(f64::from(self.moulding.count))));
        refuse(said(bounds::COATS.check(f64::from(self.coat.coats))));
        refuse(said(bounds::RUN_OFF_PERCENT.check(self.coat.run_off_ratio * 100.0)));
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
}

fn said<T, E: std::fmt::Display>(result: Result<T, E>) -> Result<(), String> {
    result.map(|_| ()).map_err(|error| error.to_string())
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_quantities::Temperature;
    use fondant_shapes::form::Piece;

    fn begun(kind: Kind) -> Plan {
        let mm = Length::from_mm;
        let piece = Piece::slab(mm(1200.0), mm(600.0), mm(36.0), mm(10.0));
        Plan::begin(kind, "Sample".into(), piece, "2026-11-23T09:00:00Z".parse().unwrap())
    }

    fn plan() -> Plan {
        begun(Kind::River)
    }

    #[test]
    fn a_new_plan_of_any_kind_has_no_conflicts() {
        for kind in Kind::ALL {
            assert_eq!(begun(kind).conflicts(), [], "{kind:?}");
        }
    }

    #[test]
    fn contradictions_are_found_wherever_the_document_came_from() {
        let mut broken = plan();
        broken.piece.length = Length::from_mm(900.0);
        assert!(matches!(broken.conflicts()[0], Conflict::River(RiverError::BeyondForm { .. })));
        broken.spread_stations(Length::from_mm(1220.0), Length::from_mm(920.0));
        assert_eq!(broken.conflicts(), []);

        let mut broken = plan();
        broken.timber.boards[0].thickness = Length::from_mm(30.0);
        assert!(matches!(broken.conflicts()[0], Conflict::BoardsTooThin { .. }));

        let mut broken = plan();
        broken.conditions.air = Temperature::from_celsius(-40.0);
        broken.name = " ".into();
        assert_eq!(broken.conflicts().len(), 2, "{:?}", broken.conflicts());

        for moment in ["1969-12-31T08:00:00Z", "9998-12-30T08:00:00Z"] {
            let mut broken = plan();
            broken.pours.not_before = moment.parse().unwrap();
            assert_eq!(broken.conflicts().len(), 1, "{moment}");
        }

        let newer = Plan { schema: SCHEMA_VERSION + 1, ..plan() };
        assert_eq!(newer.conflicts(), [Conflict::NewerSchema { found: SCHEMA_VERSION + 1 }]);
    }

    #[test]
    fn outlines_that_cross_overlap_or_lie_outside_are_refused_with_their_place() {
        let mut drawn = plan();
        drawn.outlines_from_stations();
        let shift = |plan: &mut Plan, x: f64, y: f64| {
            let shape = plan.timber.boards[0].shape.as_mut().unwrap();
            shape.outline = shape.outline.map(|p| p.plus(Point::from_mm(x, y)));
        };
        let mut overlapping = drawn.clone();
        shift(&mut overlapping, 0.0, 180.0);
        let found = overlapping.conflicts();
        assert!(matches!(found[..], [Conflict::Overlap { first: 0, second: 1, .. }]), "{found:?}");
        assert!(found[0].place().is_some());

        let mut outside = drawn.clone();
        shift(&mut outside, 0.0, -700.0);
        assert!(matches!(outside.conflicts()[..], [Conflict::OutsideForm { board: 0, .. }]));

        let mut crossed = drawn.clone();
        let shape = crossed.timber.boards[1].shape.as_mut().unwrap();
        shape.outline.outer.swap(0, 2);
        let found = crossed.conflicts();
        assert!(matches!(found[0], Conflict::Outline { board: 1, .. }), "{found:?}");
        assert!(found[0].place().is_some());

        let mut bare = drawn;
        bare.timber.boards[1].shape = None;
        assert!(matches!(bare.conflicts()[..], [Conflict::NoOutline { board: 1 }]));
    }

    #[test]
    fn what_does_not_fit_into_its_cavity_or_form_is_refused() {
        let mut tube = begun(Kind::TubeBlanks);
        tube.moulding.tube.length = Length::from_mm(1300.0);
        assert!(matches!(tube.conflicts()[0], Conflict::TubeTooLarge { is_length: true }));
        let mut deep = begun(Kind::Inlay);
        deep.cavities[0].depth = Length::from_mm(60.0);
        assert!(matches!(deep.conflicts()[..], [Conflict::CavityTooDeep { .. }]));
        deep.cavities.clear();
        assert_eq!(deep.conflicts(), [Conflict::NothingToFill]);
        let mut tall = begun(Kind::Embed);
        tall.inserts[0].above_floor = Length::from_mm(190.0);
        assert!(matches!(tall.conflicts()[..], [Conflict::InsertTooTall { .. }]));
    }
}
