//! Blocks, moulds of many cavities, and coats.

use fondant_quantities::{Length, Volume};
use fondant_shapes::blanks::Hollow;
use fondant_shapes::form::CastSize;
use fondant_shapes::volume::layout::{Bed, Laid, Layout, What, around, rows};
use fondant_shapes::volume::sizing::{LineKind, UncertaintySource};
use fondant_shapes::volume::{Fill, Profile};

use super::inserts;
use super::measured::{Room, Submerged};
use super::outlines::{bed, empty, prism};
use crate::document::{Coat, Document, Embed, Moulds, Tubes};

/// How far a coat's thickness may be off, as a share of itself, for 95 in 100 (convention).
pub(crate) const COAT_RATIO: f64 = 0.10;
/// What a mould's cavity holds is known to about this share of itself.
const MOULD_RATIO: f64 = 0.02;
/// Cavities are drawn as they are up to this many; more are told in words.
const MOST_DRAWN: usize = 120;

/// The room in a box.
pub(super) fn block(document: &Document, cast: &CastSize) -> Room {
    let depth = cast.thickness + document.form.overfill;
    let fill = Fill::prism(cast.area(), Length::ZERO, depth);
    let mut all = empty(bed(Bed::Form, cast.length, cast.width, Length::ZERO), fill);
    all.in_form.line(
        LineKind::Container { length: cast.length, width: cast.width, depth: cast.thickness },
        cast.area() * cast.thickness,
    );
    let overfill = document.form.overfill;
    all.in_form.line(LineKind::Overfill { depth: overfill }, cast.area() * overfill);
    all.in_form.uncertain(UncertaintySource::Tape, box_sd(cast, depth, document.tape_tolerance));
    all
}

/// The room round objects in a box.
pub(super) fn embed(document: &Document, embed: &Embed, cast: &CastSize) -> Room {
    let mut room = block(document, cast);
    inserts::add(&embed.inserts, &mut room);
    room
}

/// The room in many equal cavities with a tube in each.
pub(super) fn tubes(document: &Document, tubes: &Tubes) -> Room {
    let tube = &tubes.tube;
    let height = tube.length + tube.plugs;
    equal_cavities(
        document,
        &Equal {
            count: tubes.count,
            hollow: tubes.hollow,
            wall: tubes.wall,
            taken: tube.volume(),
            taken_to: height,
            drawn: (tube.outside, height),
            drawn_round: true,
        },
    )
}

/// The room in many equal cavities with timber pressed into each.
pub(super) fn moulds(document: &Document, moulds: &Moulds) -> Room {
    let depth = moulds.hollow.depth();
    let (side, height) = timber_in(moulds);
    let mut room = equal_cavities(
        document,
        &Equal {
            count: moulds.count,
            hollow: moulds.hollow,
            wall: moulds.wall,
            taken: moulds.timber,
            taken_to: depth,
            drawn: (side, height),
            drawn_round: false,
        },
    );
    if moulds.timber > Volume::ZERO {
        room.submerged.push(Submerged {
            what: What::Insert(0),
            volume: moulds.timber,
            mass: moulds.timber * moulds.timber_density,
            weighed: None,
        });
    }
    room
}

/// Side and height of the timber in a cavity, taken as a square piece that stands on its floor.
pub(crate) fn timber_in(moulds: &Moulds) -> (Length, Length) {
    let height = moulds.hollow.depth() * 0.7;
    (Length::from_m((moulds.timber / height).m2().max(0.0).sqrt()), height)
}

/// How many cavities lie along and across a mould that is not much longer than wide.
pub(crate) fn grid(count: u32, hollow: Hollow, wall: Length) -> [f64; 2] {
    let count = f64::from(count);
    let (mouth_l, mouth_w) = hollow.mouth();
    let (cell_l, cell_w) = (mouth_l + wall * 2.0, mouth_w + wall * 2.0);
    let columns = (count.sqrt() * (cell_w / cell_l).sqrt() * 1.3).ceil().clamp(1.0, count);
    [columns, (count / columns).ceil()]
}

/// Many equal cavities, and what stands in each.
struct Equal {
    count: u32,
    hollow: Hollow,
    wall: Length,
    /// Volume of what stands in each, and the level up to which it stands.
    taken: Volume,
    taken_to: Length,
    /// Side and height of what stands in each, for drawing.
    drawn: (Length, Length),
    drawn_round: bool,
}

fn equal_cavities(document: &Document, equal: &Equal) -> Room {
    let (hollow, depth) = (equal.hollow, equal.hollow.depth());
    let count = f64::from(equal.count);
    let overfill = document.form.overfill;
    let area = hollow.volume() / depth;
    let inside = Profile::prism(Length::ZERO, equal.taken_to, equal.taken / equal.taken_to * count);
    let fill = Fill::prism(area * count, Length::ZERO, depth + overfill).with_solid(inside);
    let mut room = empty(side_by_side(equal), fill);
    let each = hollow.volume() - equal.taken;
    room.in_form.line(LineKind::Moulds { count: equal.count, each }, each * count);
    room.in_form.line(LineKind::Overfill { depth: overfill }, area * overfill * count);
    room.in_form.uncertain(UncertaintySource::Tape, hollow.volume() * (count * MOULD_RATIO * 0.5));
    room
}

/// Cavities side by side, a wall apart.
fn side_by_side(equal: &Equal) -> Layout {
    let (hollow, wall, depth) = (equal.hollow, equal.wall, equal.hollow.depth());
    let (mouth_l, mouth_w) = hollow.mouth();
    let (cell_l, cell_w) = (mouth_l + wall * 2.0, mouth_w + wall * 2.0);
    let [columns, lines] = grid(equal.count, hollow, wall);
    let (length, width) = (cell_l * columns, cell_w * lines);
    let mut layout = bed(Bed::Mould, length, width, depth + wall);
    let drawn = (equal.count as usize).min(MOST_DRAWN);
    for (index, middle) in rows(drawn, length, width, cell_l / cell_w).into_iter().enumerate() {
        let shape = prism(&around(middle, mouth_l, mouth_w, hollow.is_round()));
        let (from, to) = (wall, wall + depth);
        layout.laid.push(Laid { what: What::Hollow(index), shape, from, to });
        let (size, top) = equal.drawn;
        if size > Length::ZERO {
            let shape = prism(&around(middle, size, size, equal.drawn_round));
            layout.laid.push(Laid { what: What::Insert(index), shape, from, to: from + top });
        }
    }
    layout
}

/// The room over a face.
pub(super) fn coat(document: &Document, coat: &Coat, cast: &CastSize) -> Room {
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
    all.in_form.uncertain(UncertaintySource::Coat, coated * (0.5 * COAT_RATIO));
    // The face is read off a tape; thickness of the coat is no reading.
    let reading = document.tape_tolerance / 3f64.sqrt();
    let face = reading * Length::from_m(cast.length.m().hypot(cast.width.m()));
    all.in_form.uncertain(UncertaintySource::Tape, face * thickness);
    all
}

/// Standard deviation of a box whose three sides are read off a tape.
fn box_sd(cast: &CastSize, depth: Length, tolerance: Length) -> Volume {
    let each = tolerance.m() / 3f64.sqrt();
    let (l, w, d) = (cast.length.m(), cast.width.m(), depth.m());
    Volume::from_m3(each * (l * w).hypot(l * d).hypot(w * d))
}
