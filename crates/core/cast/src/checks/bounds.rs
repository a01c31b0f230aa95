//! Every figure of a document against its bound.
//!
//! Each struct is taken apart with all its fields named, so that the compiler asks for the bound
//! of a new one. What has no bound is named with `_` and a reason beside it.

use fondant_heat::cooling::Cooling;
use fondant_quantities::Length;
use fondant_quantities::bounds::{self, Bound, NumberBound, ShopMeasured};
use fondant_shapes::blanks::Tube;
use fondant_shapes::blanks::label::Label;
use fondant_shapes::blanks::pot::Pot;
use fondant_shapes::form::Piece;
use fondant_shapes::geometry::ruled::Underside;
use fondant_shapes::geometry::{Outline, Point};
use fondant_shapes::timber::{Board, BoardShape, Cavity, Insert, InsertShape, Station};
use jiff::Timestamp;
use jiff::tz::TimeZone;

use super::conflict::{Conflict, Countable, Written};
use crate::document::{
    Block, Brief, Checks, Coat, Conditions, Contents, DepthOverride, Document, Embed, FormChoices,
    Inlay, Moulds, Pours, River, Split, TakenPour, Tubes,
};

/// Everything in which a document leaves its bounds.
pub(super) fn out_of_bounds(document: &Document) -> Vec<Conflict> {
    let mut found = Found(Vec::new());
    // The schema is looked at first of all; the resin on the shelf; what was typed holds itself to bounds.
    let Document {
        schema: _,
        name,
        contents,
        piece,
        brief,
        tape_tolerance,
        form,
        resin: _,
        conditions,
        recipe,
        depth_override,
        stages,
        pours,
        typed: _,
    } = document;
    found.text(Written::Name, name, 1, bounds::NAME_CHARACTERS);
    found.contents(contents);
    found.piece(piece);
    found.brief(brief);
    found.within(&bounds::TAPE_TOLERANCE, *tape_tolerance);
    found.form(form);
    found.recipe(recipe);
    found.conditions(conditions);
    if let Some(DepthOverride { depth, reason }) = depth_override {
        found.within(&bounds::TAKEN_DEPTH, *depth);
        found.text(Written::Reason, reason, 0, bounds::REASON_CHARACTERS);
    }
    found.stages(stages);
    found.pours(pours);
    found.0
}

/// What has been found so far.
pub(super) struct Found(Vec<Conflict>);

impl Found {
    pub(super) fn within<Q: ShopMeasured>(&mut self, bound: &Bound<Q>, value: Q) {
        self.0.extend(bound.check(value).err().map(Conflict::OutOfRange));
    }

    pub(super) fn number(&mut self, bound: &NumberBound, value: f64) {
        self.0.extend(bound.check(value).err().map(Conflict::OutOfRange));
    }

    pub(super) fn text(&mut self, what: Written, text: &str, least: usize, most: usize) {
        let characters = text.trim().chars().count();
        if !(least..=most).contains(&characters) || text.chars().any(char::is_control) {
            self.0.push(Conflict::Text { what, characters, most });
        }
    }

    pub(super) fn count(&mut self, what: Countable, found: usize, most: usize) {
        if found > most {
            self.0.push(Conflict::TooMany { what, found, most });
        }
    }

    fn year(&mut self, year: i16) {
        if !bounds::PLANNED_YEARS.contains(&year) {
            self.0.push(Conflict::Year { year });
        }
    }

    fn moment(&mut self, at: Timestamp) {
        self.year(at.to_zoned_datetime(TimeZone::UTC).year());
    }

    fn piece(&mut self, piece: &Piece) {
        let Piece { length, width, thickness, trim_margin, flattening, squaring } = *piece;
        self.within(&bounds::FINISHED_LENGTH, length);
        self.within(&bounds::FINISHED_WIDTH, width);
        self.within(&bounds::FINISHED_THICKNESS, thickness);
        self.within(&bounds::TRIM_MARGIN, trim_margin);
        self.within(&bounds::FLATTENING, flattening);
        self.within(&bounds::SQUARING, squaring);
    }

    fn brief(&mut self, brief: &Brief) {
        let Brief { finish, deadline, minded, is_outdoor: _, touches_food: _, is_lit: _ } = brief;
        self.text(Written::Finish, finish, 0, bounds::REASON_CHARACTERS);
        self.text(Written::Minded, minded, 0, bounds::MINDED_CHARACTERS);
        if let Some(deadline) = deadline {
            self.year(deadline.year());
        }
    }

    fn form(&mut self, form: &FormChoices) {
        let FormChoices { overfill, bucket_residue_ratio, leak_ratio, fall } = *form;
        self.within(&bounds::OVERFILL, overfill);
        self.number(&bounds::BUCKET_RESIDUE_PERCENT, bucket_residue_ratio * 100.0);
        self.number(&bounds::LEAK_PERCENT, leak_ratio * 100.0);
        self.within(&bounds::FALL, fall);
    }

    fn conditions(&mut self, conditions: &Conditions) {
        let Conditions {
            air,
            air_from: _,
            heated,
            dried_to_percent,
            resin,
            cooling,
            bucket,
            waits,
        } = *conditions;
        self.within(&bounds::AIR_TEMPERATURE, air);
        self.within(&bounds::HEATED, heated);
        dried_to_percent.into_iter().for_each(|dry| self.number(&bounds::DRIED_PERCENT, dry));
        self.within(&bounds::RESIN_TEMPERATURE, resin);
        let Cooling { by: _, at, lasts } = cooling;
        if let Some(cold) = at {
            self.within(&bounds::COOLING_TEMPERATURE, cold);
        }
        self.number(&bounds::COOLING_HOURS, lasts.h());
        self.within(&bounds::BUCKET, bucket);
        self.number(&bounds::WAITS_MINUTES, waits.s() / 60.0);
    }

    fn pours(&mut self, pours: &Pours) {
        let Pours { not_before, lead, outside_air, sanding, split, taken, given_up, poured_of } =
            pours;
        self.moment(*not_before);
        lead.iter().for_each(|lead| self.number(&bounds::LEAD_HOURS, lead.h()));
        self.text(Written::Reason, outside_air, 0, bounds::REASON_CHARACTERS);
        self.number(&bounds::SANDING_MINUTES, sanding.s() / 60.0);
        match split {
            Split::Fewest | Split::Search => {}
            Split::Equal { count } => self.number(&bounds::LAYER_COUNT, f64::from(*count)),
            Split::ByHand { levels } => {
                self.count(Countable::Levels, levels.len(), bounds::MOST_LEVELS);
                levels.iter().for_each(|level| self.within(&bounds::LEVEL, *level));
            }
        }
        self.count(Countable::Pours, taken.len(), bounds::MOST_POURS);
        self.count(Countable::Pours, given_up.len(), bounds::MOST_POURS);
        self.count(Countable::Pours, poured_of.len(), bounds::MOST_POURS);
        for TakenPour { id: _, at, to } in taken.iter().chain(given_up) {
            self.moment(*at);
            self.within(&bounds::POURED_TO, *to);
        }
    }

    fn contents(&mut self, contents: &Contents) {
        match contents {
            Contents::River(river) => self.river(river),
            Contents::Inlay(Inlay { board, cavities }) => {
                self.board(board);
                self.cavities(cavities);
            }
            Contents::Block(Block { cutting, swirl, pot, build }) => {
                self.swirl(swirl);
                self.cutting(cutting);
                self.pot(pot.as_ref());
                self.build(build);
            }
            Contents::Tubes(Tubes { count, hollow, wall, tube, label, pot }) => {
                self.moulding(*count, hollow, *wall);
                self.pot(pot.as_ref());
                self.tube(tube, label);
            }
            Contents::Embed(Embed { inserts, build }) => {
                self.inserts(inserts);
                self.build(build);
            }
            Contents::Moulds(Moulds { cavities, wall, pot }) => {
                self.count(Countable::CavityRows, cavities.len(), bounds::MOST_CAVITY_ROWS);
                cavities.iter().for_each(|row| self.cavity_row(row, *wall));
                self.pot(pot.as_ref());
            }
            Contents::Coat(Coat { thickness, coats, run_off_ratio, edges: _ }) => {
                self.within(&bounds::COAT_THICKNESS, *thickness);
                self.number(&bounds::COATS, f64::from(*coats));
                self.number(&bounds::RUN_OFF_PERCENT, run_off_ratio * 100.0);
            }
        }
    }

    fn river(&mut self, river: &River) {
        let River {
            boards,
            shaping: _,
            point_tolerance,
            stations,
            base_gap,
            seal: _,
            seal_with_base: _,
            drawn_at,
            drawn_before,
            cavities,
            inserts,
            checks,
            build,
        } = river;
        for at in drawn_before.iter().chain([drawn_at]) {
            self.number(&bounds::DRAWN_AT_M, at.x_m);
            self.number(&bounds::DRAWN_AT_M, at.y_m);
        }
        // How many boards a river has is told of with how they are shaped.
        boards.iter().take(*bounds::BOARDS.end() + 1).for_each(|board| self.board(board));
        let points = boards.iter().filter_map(|board| board.shape.as_ref()).map(points_of).sum();
        self.count(Countable::Points, points, bounds::MOST_POINTS);
        self.within(&bounds::TAPE_TOLERANCE, *point_tolerance);
        self.count(Countable::Stations, stations.len(), *bounds::STATIONS.end());
        for Station { at, width, from_wall } in stations {
            self.within(&bounds::STATION_PLACE, *at);
            self.within(&bounds::RIVER_WIDTH, *width);
            if let Some(offset) = from_wall {
                self.within(&bounds::RIVER_OFFSET, *offset);
            }
        }
        self.within(&bounds::BASE_GAP, *base_gap);
        self.cavities(cavities);
        self.inserts(inserts);
        let Checks { dry_fill, figure: _ } = checks;
        if let Some(bulk) = dry_fill {
            self.within(&bounds::DRY_FILL, *bulk);
        }
        self.build(build);
    }

    fn board(&mut self, board: &Board) {
        let Board { timber, thickness, density, moisture_percent, absorption, weighed, shape } =
            board;
        self.text(Written::Timber, timber, 0, bounds::NAME_CHARACTERS);
        self.within(&bounds::BOARD_THICKNESS, *thickness);
        self.within(&bounds::TIMBER_DENSITY, *density);
        self.number(&bounds::TIMBER_MOISTURE_PERCENT, *moisture_percent);
        self.within(&bounds::ABSORPTION, *absorption);
        if let Some(mass) = weighed {
            self.within(&bounds::MASS, *mass);
        }
        if let Some(BoardShape { outline, underside }) = shape {
            self.outline(outline);
            match underside {
                Underside::Same => {}
                Underside::Bevels(bevels) => {
                    bevels.iter().for_each(|bevel| self.within(&bounds::BEVEL, *bevel));
                }
                Underside::Outline(lower) => self.outline(lower),
            }
        }
    }

    fn outline(&mut self, outline: &Outline) {
        for point in outline.rings().flatten() {
            let Point { x_m, y_m } = *point;
            self.within(&bounds::PLACE, Length::from_m(x_m));
            self.within(&bounds::PLACE, Length::from_m(y_m));
        }
    }

    fn cavities(&mut self, cavities: &[Cavity]) {
        self.count(Countable::Cavities, cavities.len(), bounds::MOST_ROWS);
        let things = cavities.iter().map(|cavity| cavity.count as usize).sum();
        self.count(Countable::Things, things, bounds::MOST_THINGS);
        for Cavity { name, count, shape: _, length, width, depth, is_through: _ } in cavities {
            self.text(Written::Cavity, name, 0, bounds::NAME_CHARACTERS);
            self.number(&bounds::COUNT, f64::from(*count));
            for side in [length, width, depth] {
                self.within(&bounds::CAVITY_SIDE, *side);
            }
        }
    }

    fn inserts(&mut self, inserts: &[Insert]) {
        self.count(Countable::Inserts, inserts.len(), bounds::MOST_ROWS);
        let things = inserts.iter().map(|insert| insert.count as usize).sum();
        self.count(Countable::Things, things, bounds::MOST_THINGS);
        for Insert { name, count, shape, mass, density, above_floor } in inserts {
            self.text(Written::Insert, name, 0, bounds::NAME_CHARACTERS);
            self.number(&bounds::COUNT, f64::from(*count));
            self.insert_shape(shape);
            self.within(&bounds::MASS, *mass);
            self.within(&bounds::OBJECT_DENSITY, *density);
            self.within(&bounds::ABOVE_FLOOR, *above_floor);
        }
    }

    fn insert_shape(&mut self, shape: &InsertShape) {
        let mut sides = |all: &[&Length]| {
            all.iter().for_each(|side| self.within(&bounds::INSERT_SIDE, **side));
        };
        match shape {
            InsertShape::Ball { diameter } => sides(&[diameter]),
            InsertShape::Cylinder { diameter, height } => sides(&[diameter, height]),
            InsertShape::Block { length, width, height } => sides(&[length, width, height]),
            // How many triangles a file may have is for its reader.
            InsertShape::Mesh { file, volume, size, triangles: _, was_inside_out: _ } => {
                sides(&[&size[0], &size[1], &size[2]]);
                self.text(Written::File, file, 0, bounds::REASON_CHARACTERS);
                self.within(&bounds::MESH_VOLUME, *volume);
            }
            InsertShape::Water { volume, height } => {
                sides(&[height]);
                self.within(&bounds::WATER, *volume);
            }
            InsertShape::Weight { height } => sides(&[height]),
        }
    }

    fn tube(&mut self, tube: &Tube, label: &Label) {
        let Tube { outside, length, plugs } = *tube;
        self.within(&bounds::TUBE_SIDE, outside);
        self.within(&bounds::TUBE_LENGTH, length);
        self.within(&bounds::TUBE_PLUGS, plugs);
        let Label { tube, tube_length, paper, overlap, trim } = *label;
        self.within(&bounds::TUBE_SIDE, tube);
        self.within(&bounds::TUBE_LENGTH, tube_length);
        self.within(&bounds::LABEL_PAPER, paper);
        self.within(&bounds::LABEL_MARGIN, overlap);
        self.within(&bounds::LABEL_MARGIN, trim);
    }

    fn pot(&mut self, pot: Option<&Pot>) {
        let Some(Pot { diameter, height, shelf, gap }) = pot else { return };
        self.within(&bounds::POT_SIDE, *diameter);
        self.within(&bounds::POT_SIDE, *height);
        self.within(&bounds::POT_GAP, *shelf);
        self.within(&bounds::POT_GAP, *gap);
    }
}

fn points_of(shape: &BoardShape) -> usize {
    let below = match &shape.underside {
        Underside::Outline(lower) => lower.point_count(),
        Underside::Bevels(bevels) => bevels.len(),
        Underside::Same => 0,
    };
    shape.outline.point_count() + below
}
