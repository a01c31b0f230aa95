//! Measuring a document, whatever its kind.

use fondant_pours::layers::{self, SealCoat, Stages};
use fondant_quantities::{Absorption, Area, Length, Volume};
use fondant_shapes::form::{CastSize, FREEBOARD};
use fondant_shapes::volume::methods::disagreements;
use fondant_shapes::volume::sizing::Losses;
use fondant_shapes::volume::{Fill, Sizing};

use super::measured::{Measured, Room};
use super::{boards, cavities, hollows, moulds};
use crate::checks::Conflict;
use crate::document::{Contents, Document};

/// Least volume of a fill: a drop.
const LEAST_FILL: Volume = Volume::from_m3(5e-8);

/// Why a document cannot be kept: its conflicts, and what shows only when it is
/// measured.
#[must_use]
pub fn refusals(document: &Document) -> Vec<Conflict> {
    measure(document).err().unwrap_or_default()
}

/// Measures a document.
///
/// # Errors
/// Its conflicts, where it has any (see [`Document::conflicts`]); nothing
/// to fill; objects that leave no room beside the boards.
pub fn measure(document: &Document) -> Result<Measured, Vec<Conflict>> {
    let conflicts = document.conflicts();
    if !conflicts.is_empty() {
        return Err(conflicts);
    }
    let mut cast = CastSize::of(&document.piece);
    if let Some((_, hollow, _)) = document.contents.moulding() {
        let (length, width) = hollow.mouth();
        cast = CastSize { length, width, thickness: hollow.depth() };
    }
    let room = room(document, &cast)?;
    let Room { river, mut layout, fill, in_form, submerged, mut ways, trim_marks, bare } = room;
    if document.kind().has_form() {
        layout.height = fill.depth() + FREEBOARD;
    }
    ways.disagreements = disagreements(&ways.readings);
    let sizing = Sizing::new(in_form, &losses(document, &cast, &fill, &bare));
    if let Some(conflict) = crate::checks::stages::room(document, fill.depth()) {
        return Err(vec![conflict]);
    }
    if sizing.total < LEAST_FILL {
        return Err(vec![Conflict::NothingToFill]);
    }
    if !fill.only_rises() {
        return Err(vec![Conflict::InsertTooWide { insert: too_wide(document, &cast) }]);
    }
    let seal = document.contents.river().filter(|river| river.seal);
    let seal = seal.map(|river| SealCoat { edges: sizing.bare, with_base: river.seal_with_base });
    let stages = Stages { seal, ..document.layered() };
    Ok(Measured { cast, river, layout, fill, stages, sizing, submerged, ways, trim_marks })
}

/// What the resin may fill, by the kind of cast.
fn room(document: &Document, cast: &CastSize) -> Result<Room, Vec<Conflict>> {
    Ok(match &document.contents {
        Contents::River(river) => boards::room(document, river, cast)?,
        Contents::Inlay(inlay) => cavities::inlay(document, inlay, cast),
        Contents::Block(_) => hollows::block(document, cast),
        Contents::Embed(embed) => hollows::embed(document, embed, cast),
        Contents::Tubes(tubes) => moulds::tubes(document, tubes),
        Contents::Moulds(all) => moulds::moulds(document, all),
        Contents::Coat(coat) => hollows::coat(document, coat, cast),
    })
}

/// The row of objects without which the rest would fit; the one that takes up the widest area
/// where no single one is to blame.
fn too_wide(document: &Document, cast: &CastSize) -> usize {
    let inserts = document.contents.inserts();
    let fits_without = |row: &usize| {
        let mut without = document.clone();
        without.contents.inserts_mut().is_some_and(|all| {
            all.remove(*row);
            true
        }) && room(&without, cast).is_ok_and(|room| room.fill.only_rises())
    };
    let widest = |row: &usize| inserts[*row].areas().map(Area::m2).into_iter().fold(0.0, f64::max);
    (0..inserts.len())
        .find(fits_without)
        .or_else(|| (0..inserts.len()).max_by(|a, b| widest(a).total_cmp(&widest(b))))
        .unwrap_or_default()
}

fn losses(
    document: &Document,
    cast: &CastSize,
    fill: &Fill,
    bare: &[(Area, Absorption)],
) -> Losses {
    // A fall only matters where one surface reaches from end to end.
    let rise = if document.kind().has_form() {
        cast.length * (document.form.fall.mm_m() * 1e-3)
    } else {
        Length::ZERO
    };
    // The surface of the resin, from the last tenth of a millimetre of it.
    let skin = Length::from_mm(0.1);
    let surface = fill.volume_between(fill.depth() - skin, fill.depth()) / skin;
    let drinking: Area =
        bare.iter().filter(|(_, absorbs)| absorbs.ml_m2() > 0.0).map(|(area, _)| *area).sum();
    // A sealed edge absorbs nothing more than its coat.
    let (absorbed, seal_coat) = match document.seals() {
        true => (Volume::ZERO, layers::seal_coat(drinking).volume),
        false => {
            let litres = bare.iter().map(|(area, absorbs)| area.m2() * absorbs.ml_m2() * 1e-3);
            (Volume::from_l(litres.sum()), Volume::ZERO)
        }
    };
    Losses {
        bare: drinking,
        absorbed,
        seal_coat,
        rise,
        level: surface * rise * 0.5,
        leak_ratio: document.form.leak_ratio,
        residue_ratio: document.form.bucket_residue_ratio,
    }
}
