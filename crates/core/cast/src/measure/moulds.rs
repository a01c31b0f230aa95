//! Moulds: rows of equal cavities, with a tube or with pieces in each.

use fondant_quantities::{Area, Length, Volume};
use fondant_shapes::blanks::{Hollow, Stance, Tube};
use fondant_shapes::volume::layout::{Bed, Laid, Layout, What, around, rows};
use fondant_shapes::volume::sizing::{LineKind, UncertaintySource};
use fondant_shapes::volume::{Fill, Profile};

use super::measured::{Room, Submerged};
use super::outlines::{bed, empty, prism};
use crate::document::{Cavities, Document, Moulds, Tubes};

/// What a mould's cavity holds is known to about this share of itself.
const MOULD_RATIO: f64 = 0.02;
/// Cavities are drawn as they are up to this many; more are told in words.
const MOST_DRAWN: usize = 120;
/// A piece of which only the volume is known is drawn, and heats, as one that stands up to this share
/// of the cavity's depth (convention).
const USUAL_HEIGHT_RATIO: f64 = 0.7;
/// Slices of a round floor: within each its area is taken as quadratic, and all of them are scaled to
/// the volume of the cavity.
const FLOOR_SLICES: usize = 8;

/// What stands or lies in each cavity of a row, as one solid.
#[derive(Debug, Clone, Copy)]
struct Solid {
    volume: Volume,
    from: Length,
    to: Length,
    /// Seen from above, for drawing.
    size: (Length, Length),
    is_round: bool,
    /// Where a volume lies is not known: it takes the same share of every level.
    is_spread: bool,
}

/// Equal cavities, and what is in each.
#[derive(Debug, Clone, Copy)]
struct Row {
    count: u32,
    hollow: Hollow,
    wall: Length,
    solid: Option<Solid>,
}

/// The room in many equal cavities with a tube in each.
pub(super) fn tubes(document: &Document, tubes: &Tubes) -> Room {
    let solid = Some(tube_in(&tubes.tube, &tubes.hollow));
    room(document, &[Row { count: tubes.count, hollow: tubes.hollow, wall: tubes.wall, solid }])
}

/// A tube stands on the floor, or lies half way up the cavity.
fn tube_in(tube: &Tube, hollow: &Hollow) -> Solid {
    let (outside, length) = (tube.outside, tube.length + tube.plugs);
    match tube.stance(hollow) {
        Some(Stance::Lying) => {
            let from = (hollow.depth() - outside) * 0.5;
            Solid {
                volume: tube.volume(),
                from,
                to: from + outside,
                size: (length, outside),
                is_round: false,
                is_spread: false,
            }
        }
        _ => Solid {
            volume: tube.volume(),
            from: Length::ZERO,
            to: length,
            size: (outside, outside),
            is_round: true,
            is_spread: false,
        },
    }
}

/// The room in rows of cavities with pieces pressed into them.
pub(super) fn moulds(document: &Document, moulds: &Moulds) -> Room {
    let all: Vec<Row> = moulds.cavities.iter().map(|row| row_of(row, moulds.wall)).collect();
    let mut room = room(document, &all);
    for (index, row) in moulds.cavities.iter().enumerate() {
        let Some(pressed) = row.pressed else { continue };
        let volume = pressed.volume() * f64::from(row.count);
        room.submerged.push(Submerged {
            what: What::Insert(index),
            volume,
            mass: volume * pressed.density,
            weighed: None,
        });
    }
    room
}

fn row_of(row: &Cavities, wall: Length) -> Row {
    let solid = row.pressed.map(|pressed| {
        let (side, height) = pressed_in(row);
        let from = row.lies_at();
        let (volume, size) = (pressed.volume(), (side, side));
        let is_spread = pressed.height().is_none();
        Solid { volume, from, to: from + height, size, is_round: false, is_spread }
    });
    Row { count: row.count, hollow: row.hollow, wall, solid }
}

/// Side and height of what is pressed into a cavity, all of it taken as one square piece on its floor.
pub(crate) fn pressed_in(row: &Cavities) -> (Length, Length) {
    let usual = row.hollow.depth() * USUAL_HEIGHT_RATIO;
    let height = row.pressed.and_then(|pressed| pressed.height()).unwrap_or(usual);
    (Length::from_m((row.taken() / height).m2().max(0.0).sqrt()), height)
}

/// How many cavities lie along and across a mould that is not much longer than wide.
pub(crate) fn grid(count: u32, hollow: Hollow, wall: Length) -> [f64; 2] {
    let count = f64::from(count);
    let (cell_l, cell_w) = cell(&hollow, wall);
    let columns = (count.sqrt() * (cell_w / cell_l).sqrt() * 1.3).ceil().clamp(1.0, count);
    [columns, (count / columns).ceil()]
}

fn cell(hollow: &Hollow, wall: Length) -> (Length, Length) {
    let (length, width) = hollow.mouth();
    (length + wall * 2.0, width + wall * 2.0)
}

fn room(document: &Document, all: &[Row]) -> Room {
    let overfill = document.form.overfill;
    let deepest = all.iter().map(|row| row.hollow.depth()).fold(Length::ZERO, Length::max);
    let mut fill = Fill::new(Length::ZERO, deepest + overfill);
    for row in all {
        let count = f64::from(row.count);
        let spread = row.solid.filter(|solid| solid.is_spread);
        let left = spread.map_or(1.0, |solid| 1.0 - solid.volume / row.hollow.volume());
        for profile in hollow_profiles(&row.hollow, count, left) {
            fill = fill.with_hollow(profile);
        }
        let (rim, over) = (row.hollow.depth(), surface(&row.hollow) * count);
        fill = fill.with_hollow(Profile::prism(rim, rim + overfill, over));
        if let Some(solid) = row.solid.filter(|solid| !solid.is_spread) {
            let area = solid.volume / (solid.to - solid.from) * count;
            fill = fill.with_solid(Profile::prism(solid.from, solid.to, area));
        }
    }
    let mut room = empty(side_by_side(all, deepest), fill);
    for row in all {
        let (hollow, count) = (row.hollow, f64::from(row.count));
        let each = hollow.volume() - row.solid.map_or(Volume::ZERO, |solid| solid.volume);
        room.in_form.line(LineKind::Moulds { count: row.count, each }, each * count);
        room.in_form
            .line(LineKind::Overfill { depth: overfill }, surface(&hollow) * overfill * count);
        let half = hollow.volume() * (count * MOULD_RATIO * 0.5);
        room.in_form.uncertain(UncertaintySource::Tape, half);
    }
    room
}

/// The resin's surface in a full cavity.
fn surface(hollow: &Hollow) -> Area {
    match hollow {
        Hollow::Trough { length, width, .. } => *length * *width,
        _ => hollow.volume() / hollow.depth(),
    }
}

/// What equal cavities hold by the level, of which `left` is a share.
fn hollow_profiles(hollow: &Hollow, count: f64, left: f64) -> Vec<Profile> {
    let (depth, count) = (hollow.depth(), count * left);
    let Hollow::Trough { length, width, .. } = *hollow else {
        let area = hollow.volume() / depth * count;
        return vec![Profile::prism(Length::ZERO, depth, area)];
    };
    let radius = (width * 0.5).min(depth);
    let half_chord = |level: Length| {
        let below = (width * 0.5 - level).m();
        ((width * 0.5).m().powi(2) - below * below).max(0.0).sqrt()
    };
    let area = |level: Length| length * Length::from_m(2.0 * half_chord(level)) * count;
    let mut all: Vec<Profile> = (0..FLOOR_SLICES)
        .map(|slice| {
            let at = |share: f64| radius * ((slice as f64 + share) / FLOOR_SLICES as f64);
            let areas = [area(at(0.0)), area(at(0.5)), area(at(1.0))];
            Profile { from: at(0.0), to: at(1.0), areas }
        })
        .collect();
    let walls = length * width * (depth - radius);
    let floor = hollow.volume() - walls;
    let sliced: Volume = all.iter().map(|slice| slice.volume_to(slice.to)).sum();
    let scale = floor * count / sliced;
    for slice in &mut all {
        slice.areas = slice.areas.map(|area| area * scale);
    }
    all.push(Profile::prism(radius, depth, length * width * count));
    all
}

/// Rows of cavities one beside the other, a wall apart.
fn side_by_side(all: &[Row], deepest: Length) -> Layout {
    let (mut length, mut width) = (Length::ZERO, Length::ZERO);
    let wall = all.iter().map(|row| row.wall).fold(Length::ZERO, Length::max);
    let mut left = MOST_DRAWN;
    let mut laid = Vec::new();
    let mut before = 0;
    for row in all {
        let ((cell_l, cell_w), [columns, lines]) =
            (cell(&row.hollow, row.wall), grid(row.count, row.hollow, row.wall));
        let (own_l, own_w) = (cell_l * columns, cell_w * lines);
        let drawn = (row.count as usize).min(left);
        left -= drawn;
        let floor = wall + deepest - row.hollow.depth();
        for (index, (x, y)) in rows(drawn, own_l, own_w, cell_l / cell_w).into_iter().enumerate() {
            laid.extend(drawn_in(row, before + index, (x, y + width), floor));
        }
        before += drawn;
        length = length.max(own_l);
        width = width + own_w;
    }
    Layout { laid, ..bed(Bed::Mould, length, width, deepest + wall) }
}

/// A cavity and what is in it, as they are drawn: its mouth level with the others'.
fn drawn_in(row: &Row, index: usize, middle: (Length, Length), floor: Length) -> Vec<Laid> {
    let (length, width) = row.hollow.mouth();
    let shape = prism(&around(middle, length, width, row.hollow.is_round()));
    let to = floor + row.hollow.depth();
    let mut all = vec![Laid { what: What::Hollow(index), shape, from: floor, to }];
    if let Some(solid) = row.solid.filter(|solid| solid.size.0 > Length::ZERO) {
        let shape = prism(&around(middle, solid.size.0, solid.size.1, solid.is_round));
        let (from, to) = (floor + solid.from, floor + solid.to);
        all.push(Laid { what: What::Insert(index), shape, from, to });
    }
    all
}
