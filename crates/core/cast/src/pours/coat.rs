//! A flood coat that comes to a plan which was taken, or leaves it: what is poured in the form stays.

use fondant_quantities::Length;
use jiff::Timestamp;

use crate::document::{PourId, TakenPour};
use crate::measure::Surfaces;

/// Levels closer than this count as the same.
const SAME_LEVEL: Length = Length::from_mm(0.01);

/// A plan that was taken, with the flood coat that the cast has now: one that it had keeps its pour, a
/// new one has `new`, one that it has no more is left out. `None` where more than the coat has
/// changed, where nothing has, and where the coat that would leave is among those `poured`.
#[must_use]
pub fn recoated(
    taken: &[TakenPour],
    Surfaces { face, top }: Surfaces,
    new: (PourId, Timestamp),
    poured: &[PourId],
) -> Option<Vec<TakenPour>> {
    let is_at = |pour: &&TakenPour, level: Length| (pour.to - level).m().abs() < SAME_LEVEL.m();
    let in_form = taken.iter().position(|pour| is_at(&pour, face))? + 1;
    let coat = taken.get(in_form);
    if taken.len() > in_form + 1 {
        return None;
    }
    let mut all = taken[..in_form].to_vec();
    if top - face > SAME_LEVEL {
        let (id, at) = coat.map_or(new, |coat| (coat.id, coat.at));
        all.push(TakenPour { id, at, to: top });
    } else if coat.is_some_and(|coat| poured.contains(&coat.id)) {
        return None;
    }
    (all != taken).then_some(all)
}

#[cfg(test)]
mod tests {
    use super::*;

    const fn mm(value: f64) -> Length {
        Length::from_mm(value)
    }

    fn pour(id: i64, to_mm: f64) -> TakenPour {
        TakenPour { id: PourId(id), at: Timestamp::UNIX_EPOCH, to: mm(to_mm) }
    }

    #[test]
    fn a_coat_comes_changes_and_goes_and_the_form_stays_as_it_was() {
        let new = (PourId(9), Timestamp::UNIX_EPOCH);
        let in_form = vec![pour(1, 2.0), pour(2, 42.0)];
        let at = |top| Surfaces { face: mm(42.0), top: mm(top) };
        let coated = recoated(&in_form, at(43.6), new, &[]).unwrap();
        assert_eq!(coated, [pour(1, 2.0), pour(2, 42.0), pour(9, 43.6)]);
        let thicker =
            recoated(&coated, at(44.0), (PourId(10), Timestamp::UNIX_EPOCH), &[]).unwrap();
        assert_eq!(thicker[2], pour(9, 44.0), "the same pour, thicker");
        assert_eq!(recoated(&thicker, at(42.0), new, &[PourId(2)]), Some(in_form.clone()));
        assert_eq!(recoated(&thicker, at(42.0), new, &[PourId(9)]), None, "it is poured");
        assert_eq!(recoated(&in_form, at(42.0), new, &[]), None, "nothing has changed");
        let deeper = Surfaces { face: mm(50.0), top: mm(51.6) };
        assert_eq!(recoated(&in_form, deeper, new, &[]), None, "another form");
        assert_eq!(recoated(&[], at(43.6), new, &[]), None);
    }
}
