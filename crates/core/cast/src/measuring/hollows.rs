//! Blocks, inserts, cavities, moulds and coats.

use super::{Contents, Sunk, Ways};
use crate::document::Plan;
use crate::kind::Kind;
use fondant_quantities::{Area, Length, Volume};
use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::ruled::{Ruled, Underside};
use fondant_shapes::timber::{Cavity, CavityShape, Insert};
use fondant_shapes::volume::layout::{Bed, Laid, Layout, What, around, rows, shelves};
use fondant_shapes::volume::sizing::{Doubt, InForm, LineKind};
use fondant_shapes::volume::{Fill, Profile};

/// What an insert displaces is known to about this share of itself.
const INSERT_RATIO: f64 = 0.03;
/// What a coat's thickness comes out at, as a share of itself.
const COAT_RATIO: f64 = 0.10;
/// What a mould's cavity holds is known to about this share of itself.
const MOULD_RATIO: f64 = 0.02;

/// Most of a list's equal things that are drawn.
const MOST_DRAWN: u32 = 40;

fn empty(layout: Layout, fill: Fill) -> Contents {
    Contents {
        river: None,
        layout,
        fill,
        in_form: InForm::default(),
        sunk: Vec::new(),
        ways: Ways::default(),
        trim_marks: Vec::new(),
        bare: Vec::new(),
    }
}

fn bed(bed: Bed, length: Length, width: Length, height: Length) -> Layout {
    Layout { bed, length, width, height, laid: Vec::new() }
}

/// The doubt of a box whose three sides are read off a tape.
fn box_doubt(cast: &CastSize, depth: Length, tolerance: Length) -> Volume {
    let each = tolerance.m() / 3f64.sqrt();
    let (l, w, d) = (cast.length.m(), cast.width.m(), depth.m());
    Volume::from_m3(each * (l * w).hypot(l * d).hypot(w * d))
}

fn prism(outline: &fondant_shapes::geometry::Outline) -> Ruled {
    Ruled::new(outline, &Underside::Same)
}

pub(super) fn block(plan: &Plan, cast: &CastSize) -> Contents {
    let depth = cast.thickness + plan.form.overfill;
    let fill =
        Fill::prism(cast.area(), Length::ZERO, depth).with_narrowest(cast.length.min(cast.width));
    let mut all = empty(bed(Bed::Form, cast.length, cast.width, Length::ZERO), fill);
    all.in_form.line(
        LineKind::Container { length: cast.length, width: cast.width, depth: cast.thickness },
        cast.area() * cast.thickness,
    );
    let overfill = plan.form.overfill;
    all.in_form.line(LineKind::Overfill { depth: overfill }, cast.area() * overfill);
    all.in_form.doubt(Doubt::Tape, box_doubt(cast, depth, plan.river.tape_tolerance));
    all
}

pub(super) fn embed(plan: &Plan, cast: &CastSize) -> Contents {
    let mut all = block(plan, cast);
    add_inserts(plan, &mut all);
    all
}

/// Inserts, wherever resin is: they take away from it and are pulled by it.
pub(super) fn add_inserts(plan: &Plan, all: &mut Contents) {
    let (length, width) = (all.layout.length, all.layout.width);
    let total: u32 = plan.inserts.iter().map(|i| i.count).sum();
    let mut middles = rows(total as usize, length, width, 1.0).into_iter();
    for (index, insert) in plan.inserts.iter().enumerate() {
        let profile = Profile::of_insert(insert);
        let (from, to) = (profile.from, profile.to);
        all.fill = all.fill.clone().with_solid(profile);
        all.sunk.push(Sunk {
            what: What::Insert(index),
            volume: insert.volume_of_all(),
            mass: insert.mass * f64::from(insert.count),
        });
        let (l, w) = insert.footprint();
        for middle in middles.by_ref().take(insert.count as usize) {
            let shape = prism(&around(middle, l, w, insert.is_round()));
            all.layout.laid.push(Laid { what: What::Insert(index), shape, from, to });
        }
    }
    let inside: Volume = plan.inserts.iter().map(Insert::volume_of_all).sum();
    all.in_form.line(LineKind::Inserts { count: total }, inside * -1.0);
    all.in_form.doubt(Doubt::Inserts, inside * (0.5 * INSERT_RATIO));
}

pub(super) fn inlay(plan: &Plan, cast: &CastSize) -> Contents {
    let deepest = plan.cavities.iter().map(|c| c.depth).fold(Length::ZERO, Length::max);
    let overfill = plan.form.overfill;
    let mut fill = Fill::new(Length::ZERO, deepest + overfill);
    let mut narrowest = Length::ZERO;
    let mut layout = bed(Bed::Board, cast.length, cast.width, cast.thickness);
    // Drawn on no more of each than fit to the eye.
    let drawn = |c: &Cavity| c.count.min(MOST_DRAWN) as usize;
    let sizes: Vec<(Length, Length)> = plan
        .cavities
        .iter()
        .flat_map(|c| std::iter::repeat_n((c.length, c.width), drawn(c)))
        .collect();
    let mut middles = shelves(&sizes, cast.length, cast.width).into_iter();
    let rim: Area = plan.cavities.iter().map(Cavity::rim_area).sum();
    for (index, cavity) in plan.cavities.iter().enumerate() {
        let profile = Profile { from: deepest - cavity.depth, to: deepest, areas: cavity.areas() };
        fill = fill.with_hollow(profile);
        narrowest = narrowest.max(cavity.length.min(cavity.width));
        for middle in middles.by_ref().take(drawn(cavity)) {
            layout.laid.push(Laid {
                what: What::Hollow(index),
                shape: cavity_shape(cavity, middle),
                from: cast.thickness - cavity.depth,
                to: cast.thickness,
            });
        }
    }
    let fill = fill
        .with_hollow(Profile::prism(deepest, deepest + overfill, rim))
        .with_narrowest(narrowest);
    let mut all = empty(layout, fill);
    super::boards::cavities(&plan.cavities, &mut all.in_form);
    all.in_form.line(LineKind::Overfill { depth: overfill }, rim * overfill);
    // Boxes are read off a tape: every side by its own share.
    let reading = plan.river.tape_tolerance / 3f64.sqrt();
    let squares: f64 = plan
        .cavities
        .iter()
        .map(|c| {
            let shares = [c.length, c.width, c.depth].map(|side| (reading / side).powi(2));
            (c.volume_of_all().m3()).powi(2) * shares.iter().sum::<f64>()
        })
        .sum();
    all.in_form.doubt(Doubt::Tape, Volume::from_m3(squares.sqrt()));
    let drinks = plan.timber.boards.first().map_or(0.0, |b| b.absorption_ml_m2);
    all.bare = plan.cavities.iter().map(|c| (c.wetted_area(), drinks)).collect();
    all
}

/// A cavity as it is drawn: a knot narrows to its floor, a crack to nothing.
fn cavity_shape(cavity: &Cavity, middle: (Length, Length)) -> Ruled {
    let (is_round, floor) = match cavity.shape {
        CavityShape::Knot => (true, (0.3, 0.3)),
        CavityShape::Bore => (true, (1.0, 1.0)),
        CavityShape::Crack => (false, (1.0, 0.05)),
        CavityShape::RoundChannel => (false, (1.0, 0.4)),
        CavityShape::Pocket | CavityShape::Channel => (false, (1.0, 1.0)),
    };
    Ruled {
        lower: around(middle, cavity.length * floor.0, cavity.width * floor.1, is_round),
        upper: around(middle, cavity.length, cavity.width, is_round),
    }
}

pub(super) fn moulds(plan: &Plan) -> Contents {
    let moulding = &plan.moulding;
    let count = f64::from(moulding.count);
    let (hollow, depth) = (moulding.hollow, moulding.hollow.depth());
    let (mouth_l, mouth_w) = hollow.mouth();
    let overfill = plan.form.overfill;
    let area = hollow.volume() / depth;
    let inside = if plan.kind == Kind::TubeBlanks {
        Profile::prism(
            Length::ZERO,
            moulding.tube.length + moulding.tube.plugs,
            moulding.tube.volume() / (moulding.tube.length + moulding.tube.plugs) * count,
        )
    } else {
        Profile::prism(Length::ZERO, depth, moulding.timber / depth * count)
    };
    // Round a tube the resin stands in a ring, which loses its heat outwards as
    // a slab of twice its thickness does to both sides.
    let ring = if plan.kind == Kind::TubeBlanks { moulding.tube.outside } else { Length::ZERO };
    let narrowest = mouth_l.min(mouth_w) - ring;
    let fill = Fill::prism(area * count, Length::ZERO, depth + overfill)
        .with_solid(inside)
        .with_narrowest(narrowest);
    // Cavities stand side by side, a wall apart.
    let (cell_l, cell_w) = (mouth_l + moulding.wall * 2.0, mouth_w + moulding.wall * 2.0);
    let columns = (count.sqrt() * (cell_w / cell_l).sqrt() * 1.3).ceil().clamp(1.0, count);
    let lines = (count / columns).ceil();
    let (length, width) = (cell_l * columns, cell_w * lines);
    let mut layout = bed(Bed::Mould, length, width, depth + moulding.wall);
    // Cavities are drawn as they are up to some hundred; more are told in words.
    for (index, middle) in rows(moulding.count.min(120) as usize, length, width, cell_l / cell_w)
        .into_iter()
        .enumerate()
    {
        let shape = prism(&around(middle, mouth_l, mouth_w, hollow.is_round()));
        let (from, to) = (moulding.wall, moulding.wall + depth);
        layout.laid.push(Laid { what: What::Hollow(index), shape, from, to });
        let (size, top) = stands_in(plan);
        if size > Length::ZERO {
            let shape = prism(&around(middle, size, size, plan.kind == Kind::TubeBlanks));
            layout.laid.push(Laid { what: What::Insert(index), shape, from, to: from + top });
        }
    }
    let mut all = empty(layout, fill);
    let taken =
        if plan.kind == Kind::TubeBlanks { moulding.tube.volume() } else { moulding.timber };
    let each = hollow.volume() - taken;
    all.in_form.line(LineKind::Moulds { count: moulding.count, each }, each * count);
    all.in_form.line(LineKind::Overfill { depth: overfill }, area * overfill * count);
    all.in_form.doubt(Doubt::Tape, hollow.volume() * (count * MOULD_RATIO * 0.5));
    if plan.kind == Kind::Moulds && taken > Volume::ZERO {
        all.sunk.push(Sunk {
            what: What::Insert(0),
            volume: taken,
            mass: taken * moulding.timber_density,
        });
    }
    all
}

/// Side and height of what stands in a cavity, for drawing.
fn stands_in(plan: &Plan) -> (Length, Length) {
    let moulding = &plan.moulding;
    if plan.kind == Kind::TubeBlanks {
        return (moulding.tube.outside, moulding.tube.length + moulding.tube.plugs);
    }
    let height = moulding.hollow.depth() * 0.7;
    (Length::from_m((moulding.timber / height).m2().max(0.0).sqrt()), height)
}

pub(super) fn coat(plan: &Plan, cast: &CastSize) -> Contents {
    let coat = &plan.coat;
    let thickness = coat.thickness * f64::from(coat.coats);
    let fill = Fill::prism(cast.area(), Length::ZERO, thickness);
    let mut all = empty(bed(Bed::Face, cast.length, cast.width, cast.thickness), fill);
    all.in_form.line(LineKind::Face { area: cast.area(), thickness }, cast.area() * thickness);
    let edges = (cast.length + cast.width) * cast.thickness * 2.0;
    if coat.edges {
        // Half of what lies on a level face stays on an upright one.
        let on_edge = thickness * 0.5;
        all.in_form.line(LineKind::Edges { area: edges, thickness: on_edge }, edges * on_edge);
    }
    let coated = all.in_form.total();
    all.in_form.line(LineKind::RunOff { ratio: coat.run_off_ratio }, coated * coat.run_off_ratio);
    all.in_form.doubt(Doubt::Coat, coated * (0.5 * COAT_RATIO));
    // The face is read off a tape; how thick a coat comes out is no reading.
    let reading = plan.river.tape_tolerance / 3f64.sqrt();
    let face = reading * Length::from_m(cast.length.m().hypot(cast.width.m()));
    all.in_form.doubt(Doubt::Tape, face * thickness);
    all
}
