//! Which resins are proposed for a cast: one that a maker would laugh at is left out. What a
//! maker chooses by name is not judged here.
//!
//! The rules are those of the classes as they are sold: how much is mixed at a time, how deep, over
//! what. Figures are starting values of this model; the resin's own datasheet comes first.

use fondant_materials::resin::{Hazard, Properties, ResinClass};
use fondant_quantities::{Length, Volume};

use crate::document::{Contents, Document, Kind};
use crate::measure::Measured;

/// A small-batch epoxy, a casting urethane or a polyester is for pieces that a cup or two fill.
const SMALL: Volume = Volume::from_l(2.0);
/// A fast casting epoxy runs away in larger casts.
const MIDDLING: Volume = Volume::from_l(6.0);
/// A coating epoxy is thick, and hot in layers deeper than a finger.
const COAT_AT_MOST: Length = Length::from_mm(12.0);

/// Why a resin is not proposed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Unsuitable {
    /// It is for smaller casts.
    TooMuch,
    /// It is for thinner casts.
    TooDeep,
    /// It is no coat.
    NoCoat,
    /// It attacks or clouds what lies in the cast: artwork, labels, objects.
    OverArtwork,
    /// It foams with the moisture of bare timber.
    BareTimber,
}

/// Whether a resin may be proposed for a cast in the place of its own.
///
/// # Errors
/// [`Unsuitable`]: the first reason why not.
pub fn suits(
    document: &Document,
    measured: &Measured,
    resin: &Properties,
) -> Result<(), Unsuitable> {
    let (volume, depth) = (measured.sizing.total, measured.fill.depth());
    let at_most = match resin.class {
        ResinClass::SmallBatch | ResinClass::Urethane | ResinClass::Polyester => Some(SMALL),
        ResinClass::FastCasting => Some(MIDDLING),
        ResinClass::SlowCasting | ResinClass::MediumCasting | ResinClass::Coating => None,
    };
    if at_most.is_some_and(|most| volume > most) {
        return Err(Unsuitable::TooMuch);
    }
    let is_coat = document.kind() == Kind::Coat;
    if resin.class == ResinClass::Coating && !is_coat && depth > COAT_AT_MOST {
        return Err(Unsuitable::TooDeep);
    }
    if is_coat && resin.class != ResinClass::Coating {
        return Err(Unsuitable::NoCoat);
    }
    if resin.hazards.contains(&Hazard::Flammable) && holds_something(document) {
        return Err(Unsuitable::OverArtwork);
    }
    if resin.hazards.contains(&Hazard::HatesMoisture) && has_timber(document) {
        return Err(Unsuitable::BareTimber);
    }
    Ok(())
}

/// Something lies in the resin that its solvent could reach: an object, a label, paint.
fn holds_something(document: &Document) -> bool {
    match &document.contents {
        // Print and paint run in styrene.
        Contents::Tubes(_) | Contents::Embed(_) => true,
        contents => !contents.inserts().is_empty(),
    }
}

fn has_timber(document: &Document) -> bool {
    match &document.contents {
        Contents::River(_) | Contents::Inlay(_) => true,
        Contents::Moulds(moulds) => moulds.cavities.iter().any(|row| row.pressed.is_some()),
        _ => false,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::measure::measure;
    use fondant_materials::resin::shipped::generic;
    use fondant_shapes::form::Piece;

    fn begun(kind: Kind, (l, w, t): (f64, f64, f64)) -> Document {
        let mm = Length::from_mm;
        let piece = Piece::slab(mm(l), mm(w), mm(t), Length::ZERO);
        let begin = "2026-11-23T09:00:00Z".parse().unwrap();
        Document::begin(kind, "x".into(), piece, begin)
    }

    fn judged(document: &Document, class: ResinClass) -> Result<(), Unsuitable> {
        suits(document, &measure(document).unwrap(), &generic(class).properties)
    }

    /// "Polyester over artwork, a small-batch resin for 26 L."
    #[test]
    fn suggestions_are_those_of_somebody_who_has_poured() {
        let river = begun(Kind::River, (1800.0, 800.0, 40.0));
        assert!(measure(&river).unwrap().sizing.total.l() > 6.0);
        for (class, why) in [
            (ResinClass::SmallBatch, Unsuitable::TooMuch),
            (ResinClass::FastCasting, Unsuitable::TooMuch),
            (ResinClass::Polyester, Unsuitable::TooMuch),
            (ResinClass::Coating, Unsuitable::TooDeep),
        ] {
            assert_eq!(judged(&river, class), Err(why), "{class:?}");
        }
        assert_eq!(judged(&river, ResinClass::SlowCasting), Ok(()));
        assert_eq!(judged(&river, ResinClass::MediumCasting), Ok(()));

        let embed = begun(Kind::Embed, (100.0, 100.0, 100.0));
        assert_eq!(judged(&embed, ResinClass::Polyester), Err(Unsuitable::OverArtwork));
        assert_eq!(judged(&embed, ResinClass::SmallBatch), Ok(()));
        let tubes = begun(Kind::Tubes, (70.0, 20.0, 20.0));
        assert_eq!(judged(&tubes, ResinClass::Polyester), Err(Unsuitable::OverArtwork));
        assert_eq!(judged(&tubes, ResinClass::Urethane), Ok(()));
        let inlay = begun(Kind::Inlay, (400.0, 200.0, 30.0));
        assert_eq!(judged(&inlay, ResinClass::Urethane), Err(Unsuitable::BareTimber));
        let coat = begun(Kind::Coat, (1000.0, 500.0, 30.0));
        assert_eq!(judged(&coat, ResinClass::SlowCasting), Err(Unsuitable::NoCoat));
        assert_eq!(judged(&coat, ResinClass::Coating), Ok(()));
    }
}
