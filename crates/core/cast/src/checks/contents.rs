//! Contradictions between the figures of a document, kind by kind.

use fondant_quantities::bounds;
use fondant_quantities::{Area, Length, Volume};
use fondant_shapes::blanks::{Hollow, Tube};
use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::Outline;
use fondant_shapes::geometry::faults::faults;
use fondant_shapes::geometry::overlay::{clip, overlap};
use fondant_shapes::geometry::ruled::Underside;
use fondant_shapes::timber::Insert;
use fondant_shapes::volume::Profile;

use super::conflict::Conflict;
use crate::document::amounts::{Amounts, thickest};
use crate::document::{Contents, Document, Inlay, Moulds, River, Shaping};

/// Lengths that differ by less are one: a figure typed in inches and one in
/// millimetres may differ in the last bit.
const SLIP: Length = Length::from_mm(1e-6);

/// Adds every contradiction of a document whose figures are within their bounds.
pub(super) fn contradictions(document: &Document, all: &mut Vec<Conflict>) {
    let cast = CastSize::of(&document.piece);
    let overfill = document.form.overfill;
    match &document.contents {
        Contents::River(river) => {
            boards(document, river, &cast, all);
            // The resin stands as high as the thickest board.
            let thickest = river.boards.iter().map(|b| b.thickness).fold(Length::ZERO, Length::max);
            inserts(&river.inserts, &cast, river.base_gap + thickest + overfill, all);
        }
        Contents::Inlay(inlay) => cavities(inlay, cast.thickness, all),
        Contents::Embed(embed) => inserts(&embed.inserts, &cast, cast.thickness + overfill, all),
        Contents::Tubes(tubes) => {
            tube(&tubes.hollow, &tubes.tube, all);
            hollow(&tubes.hollow, tubes.tube.volume(), all);
        }
        Contents::Moulds(moulds) => rows(moulds, all),
        Contents::Block(_) | Contents::Coat(_) => {}
    }
}

fn boards(document: &Document, river: &River, cast: &CastSize, all: &mut Vec<Conflict>) {
    let boards = &river.boards;
    match river.shaping {
        Shaping::Stations if boards.len() != 2 => {
            all.push(Conflict::NotTwoBoards { found: boards.len() });
        }
        Shaping::Stations => {
            if let Some(Err(errors)) = document.river() {
                all.extend(errors.into_iter().map(Conflict::River));
            }
        }
        Shaping::Outlines => outlines(river, cast, all),
        Shaping::Amounts => amounts(river, cast, all),
    }
    let thinner = boards.iter().map(|b| b.thickness.m()).fold(f64::INFINITY, f64::min);
    let thinner = Length::from_m(thinner);
    let finished = document.piece.thickness;
    if !boards.is_empty() && thinner + SLIP < finished {
        all.push(Conflict::BoardsTooThin { thinner, finished });
    }
}

fn outlines(river: &River, cast: &CastSize, all: &mut Vec<Conflict>) {
    let boards = &river.boards;
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
    if all.len() == before {
        overlaps(&faces, all);
    }
}

fn amounts(river: &River, cast: &CastSize, all: &mut Vec<Conflict>) {
    if !bounds::BOARDS.contains(&river.boards.len()) {
        all.push(Conflict::BoardCount { found: river.boards.len() });
        return;
    }
    let amounts = Amounts::of(river, cast);
    if let (Some(by), false) = (amounts.by, amounts.fit(cast)) {
        all.push(Conflict::AmountBeyondForm { by, room: cast.area() * thickest(river) });
    }
}

fn overlaps(faces: &[[Outline; 2]], all: &mut Vec<Conflict>) {
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

fn cavities(inlay: &Inlay, board: Length, all: &mut Vec<Conflict>) {
    if inlay.cavities.is_empty() {
        all.push(Conflict::NothingToFill);
    }
    for (cavity, c) in inlay.cavities.iter().enumerate() {
        if c.depth > board + SLIP {
            all.push(Conflict::CavityTooDeep { cavity, depth: c.depth, board });
        }
    }
}

fn tube(hollow: &Hollow, tube: &Tube, all: &mut Vec<Conflict>) {
    if tube.stance(hollow).is_none() {
        let (length, width) = hollow.mouth();
        let is_length = tube.length + tube.plugs > hollow.depth().max(length) + SLIP;
        if is_length {
            all.push(Conflict::TubeTooLarge { is_length });
        }
        if !is_length || tube.outside >= length.min(width) {
            all.push(Conflict::TubeTooLarge { is_length: false });
        }
    }
}

fn rows(moulds: &Moulds, all: &mut Vec<Conflict>) {
    if moulds.cavities.is_empty() {
        all.push(Conflict::NothingToFill);
    }
    for (row, cavities) in moulds.cavities.iter().enumerate() {
        let Some(pressed) = cavities.pressed else { continue };
        let (cavity, inside) = (cavities.hollow.volume(), pressed.volume());
        if inside >= cavity {
            all.push(Conflict::RowTooSmall { row, cavity, inside });
        }
        let depth = cavities.hollow.depth() - cavities.lies_at();
        if !cavities.fits_beside() {
            all.push(Conflict::PressedTooWide { row });
        } else if let Some(height) = pressed.height().filter(|height| *height > depth + SLIP) {
            all.push(Conflict::PressedTooTall { row, height, depth });
        }
    }
}

fn hollow(hollow: &Hollow, inside: Volume, all: &mut Vec<Conflict>) {
    let cavity = hollow.volume();
    if inside >= cavity {
        all.push(Conflict::CavityTooSmall { cavity, inside });
    }
}

fn inserts(inserts: &[Insert], cast: &CastSize, resin: Length, all: &mut Vec<Conflict>) {
    for (insert, i) in inserts.iter().enumerate() {
        let top = i.above_floor + i.height();
        if top > resin + SLIP {
            all.push(Conflict::InsertTooTall { insert, top, resin });
        }
        let (l, w) = i.footprint();
        if l.max(w) > cast.length.max(cast.width) || l.min(w) > cast.length.min(cast.width) {
            all.push(Conflict::InsertTooWide { insert });
        }
    }
    let profiles: Vec<Profile> = inserts.iter().map(Profile::of_insert).collect();
    for (insert, profile) in profiles.iter().enumerate() {
        // Where it is widest, all of them together must leave room.
        let middle = (profile.from + profile.to) / 2.0;
        let there: Area = profiles.iter().map(|p| p.area_at(middle)).sum();
        if there >= cast.area() {
            all.push(Conflict::InsertTooWide { insert });
        }
    }
    let inside: Volume = inserts.iter().map(Insert::volume_of_all).sum();
    let cavity = cast.area() * resin;
    if inside >= cavity {
        all.push(Conflict::CavityTooSmall { cavity, inside });
    }
}
