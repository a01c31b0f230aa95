//! Pours as a document keeps them once they are taken.

use fondant_pours::layers::LayerKind;
use fondant_pours::{Given, Schedule};
use fondant_quantities::Length;

use crate::document::{PourId, Pours, TakenPour};

/// Levels closer than this count as the same: a pour keeps its id when its surface stays where it was.
const SAME_LEVEL: Length = Length::from_mm(0.01);
/// A pour whose surface moves by less than this share of the way to the next one is still that
/// pour: a board that was planed by a millimetre does not make other layers.
const SAME_POUR_RATIO: f64 = 0.25;

/// The levels of a schedule's main layers, but for the top: as the maker would
/// set them by hand.
#[must_use]
pub fn levels_of(schedule: &Schedule) -> Vec<Length> {
    let main: Vec<Length> = schedule
        .pours
        .iter()
        .filter(|pour| matches!(pour.layer.kind, LayerKind::Main(_)))
        .map(|pour| pour.layer.to)
        .collect();
    main[..main.len().saturating_sub(1)].to_vec()
}

/// A schedule's pours at their times.
#[must_use]
pub fn as_given(schedule: &Schedule) -> Vec<Given> {
    schedule.pours.iter().map(|pour| Given::planned(pour.layer, pour.at)).collect()
}

/// Takes another plan for a cast; `allot` gives ids to pours that neither the plan before nor the one
/// given up last has.
pub fn take(pours: &mut Pours, given: &[Given], allot: impl FnMut() -> PourId) {
    pours.give_up();
    let former = std::mem::take(&mut pours.given_up);
    let times: Vec<_> = given.iter().map(|pour| (pour.at, pour.layer.to)).collect();
    pours.taken = with_ids(&times, &former, allot);
}

/// Times and levels as pours, in order of their levels. Which pour is which is told by the surface
/// that it reaches: where layers are split, merged or moved, the pour up to a level stays the pour
/// up to that level.
#[must_use]
pub fn with_ids(
    pours: &[(jiff::Timestamp, Length)],
    former: &[TakenPour],
    mut allot: impl FnMut() -> PourId,
) -> Vec<TakenPour> {
    let mut ids: Vec<Option<PourId>> = vec![None; pours.len()];
    let mut left: Vec<TakenPour> = former.to_vec();
    let apart = |a: Length, b: Length| (a - b).m().abs();
    let mut claim = |within: &dyn Fn(usize) -> Length| {
        for (index, id) in ids.iter_mut().enumerate().filter(|(_, id)| id.is_none()) {
            let level = pours[index].1;
            let nearest = (0..left.len())
                .min_by(|a, b| apart(left[*a].to, level).total_cmp(&apart(left[*b].to, level)));
            if let Some(nearest) = nearest
                && apart(left[nearest].to, level) <= within(index).m()
            {
                *id = Some(left.remove(nearest).id);
            }
        }
    };
    // Surfaces that stayed go first, so that one that moved takes no other's place.
    claim(&|_| SAME_LEVEL);
    claim(&|index| {
        let below = if index == 0 { Length::ZERO } else { pours[index - 1].1 };
        (pours[index].1 - below) * SAME_POUR_RATIO
    });
    pours
        .iter()
        .zip(ids)
        .map(|((at, to), id)| TakenPour { id: id.unwrap_or_else(&mut allot), at: *at, to: *to })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_pours::layers::Layer;
    use fondant_quantities::Volume;
    use jiff::Timestamp;

    fn taken(levels_mm: &[f64], former: &[TakenPour], next: &mut i64) -> Vec<TakenPour> {
        let pours: Vec<_> =
            levels_mm.iter().map(|mm| (Timestamp::UNIX_EPOCH, Length::from_mm(*mm))).collect();
        with_ids(&pours, former, || {
            *next += 1;
            PourId(*next)
        })
    }

    fn ids(pours: &[TakenPour]) -> Vec<i64> {
        pours.iter().map(|pour| pour.id.0).collect()
    }

    #[test]
    fn a_pour_keeps_its_id_when_layers_are_split_again_merged_or_moved() {
        let mut next = 100;
        let first = taken(&[2.0, 22.0, 42.0], &[], &mut next);
        assert_eq!(ids(&first), [101, 102, 103]);
        let moved = taken(&[2.0, 22.0, 42.0], &first, &mut next);
        assert_eq!(ids(&moved), [101, 102, 103], "moved in time alone");
        let split = taken(&[2.0, 22.0, 32.0, 42.0], &first, &mut next);
        assert_eq!(ids(&split), [101, 102, 104, 103], "the new layer is a new pour");
        let merged = taken(&[2.0, 42.0], &split, &mut next);
        assert_eq!(ids(&merged), [101, 103]);
        let again = taken(&[2.0, 22.0, 42.0], &merged, &mut next);
        assert_eq!(ids(&again), [101, 105, 103], "what was merged away does not come back");
    }

    #[test]
    fn a_plan_given_up_and_taken_again_has_the_same_pours() {
        let mut next = 100;
        let mut pours = Pours::from(Timestamp::UNIX_EPOCH);
        pours.taken = taken(&[2.0, 22.0, 42.0], &[], &mut next);
        let mm = Length::from_mm;
        let layer = |from: f64, to: f64, number| {
            Layer::new(LayerKind::Main(number), mm(from), mm(to), Volume::from_l(1.0))
        };
        let given = [layer(0.0, 22.0, 1), layer(22.0, 42.0, 2)]
            .map(|layer| Given::planned(layer, Timestamp::UNIX_EPOCH));
        pours.give_up();
        take(&mut pours, &given, || PourId(999));
        assert_eq!(ids(&pours.taken), [102, 103]);
        assert!(pours.given_up.is_empty());
    }

    #[test]
    fn a_form_that_becomes_a_little_deeper_has_the_same_pours() {
        let mut next = 100;
        let first = taken(&[2.0, 22.0, 42.0], &[], &mut next);
        let deeper = taken(&[2.0, 22.5, 43.0], &first, &mut next);
        assert_eq!(ids(&deeper), [101, 102, 103]);
        let other = taken(&[2.0, 33.0, 64.0], &first, &mut next);
        assert_eq!(ids(&other), [101, 104, 105]);
    }
}
