//! Blocks and coats.

use fondant_quantities::{Length, Volume};
use fondant_shapes::form::CastSize;
use fondant_shapes::volume::Fill;
use fondant_shapes::volume::layout::Bed;
use fondant_shapes::volume::sizing::{LineKind, UncertaintySource};

use super::inserts;
use super::measured::Room;
use super::outlines::{bed, empty};
use crate::document::{Coat, Document, Embed};

/// How far a coat's thickness may be off, as a share of itself, for 95 in 100 (convention).
pub(crate) const COAT_RATIO: f64 = 0.10;

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
