use proptest::prelude::*;

use super::*;
use crate::causes::Test;
use crate::figures::Figure;
use crate::seeded::Seeded;

/// A value with which a test holds, or does not.
fn value(test: Test, holds: bool) -> f64 {
    match (test, holds) {
        (Test::Over(limit), true) | (Test::Under(limit), false) => {
            limit + limit.abs().max(1.0) * 0.2
        }
        (Test::Under(limit), true) | (Test::Over(limit), false) => {
            limit - limit.abs().max(1.0) * 0.2
        }
        (Test::Yes, true) | (Test::No, false) => 1.0,
        (Test::No, true) | (Test::Yes, false) => 0.0,
    }
}

/// Causes that a figure can speak for at all.
fn plantable() -> Vec<&'static Row> {
    let speaks = |row: &&Row| row.signs.iter().any(|sign| sign.seen >= 3.0);
    FaultKind::ALL.into_iter().flat_map(rows).filter(speaks).collect()
}

/// A cast whose figures speak for one cause, and for one more of the same fault as a decoy with half of
/// its signs; one figure in six was not kept.
fn planted(row: &Row, seeded: &mut Seeded) -> Figures {
    let mut figures = Figures::default();
    let others: Vec<&Row> = rows(row.fault).filter(|other| other.cause != row.cause).collect();
    let decoy = others[seeded.below(others.len())];
    for other in &others {
        for sign in other.signs {
            let is_decoy = other.cause == decoy.cause && seeded.below(4) == 0;
            if seeded.below(6) > 0 {
                figures.set(sign.figure, value(sign.test, is_decoy && sign.seen > 1.0));
            }
        }
    }
    for sign in row.signs {
        figures.set(sign.figure, value(sign.test, sign.seen > 1.0));
    }
    figures
}

#[test]
fn a_planted_cause_is_found_among_decoys() {
    let mut seeded = Seeded::new(20_261_128);
    let causes = plantable();
    let (mut first, mut third) = (0, 0);
    const CASTS: usize = 200;
    for _ in 0..CASTS {
        let row = causes[seeded.below(causes.len())];
        let found = diagnose(row.fault, &planted(row, &mut seeded), &Confirmed::default());
        let at = found.iter().position(|likely| likely.cause == row.cause).unwrap();
        first += usize::from(at == 0);
        third += usize::from(at < 3);
    }
    assert!(first * 100 >= CASTS * 80, "first in {first} of {CASTS}");
    assert!(third * 100 >= CASTS * 95, "among three in {third} of {CASTS}");
}

#[test]
fn without_its_evidence_a_cause_says_what_to_look_at() {
    let mut seeded = Seeded::new(7);
    for row in plantable() {
        let mut figures = planted(row, &mut seeded);
        for sign in row.signs {
            figures.forget(sign.figure);
        }
        let found = diagnose(row.fault, &figures, &Confirmed::default());
        let likely = found.iter().find(|likely| likely.cause == row.cause).unwrap();
        let asked: Vec<Figure> = likely.unknown().map(|one| one.sign.figure).collect();
        assert_eq!(asked.len(), row.signs.len(), "{row:?}");
        assert!(likely.is_unknown());
    }
}

#[test]
fn what_a_shop_has_confirmed_moves_the_order() {
    let mut confirmed = Confirmed::default();
    let share = |confirmed: &Confirmed, cause| {
        let found = diagnose(FaultKind::Yellow, &Figures::default(), confirmed);
        found.into_iter().find(|likely| likely.cause == cause).unwrap().share
    };
    let before = share(&confirmed, Cause::Sunlight);
    for _ in 0..10 {
        confirmed.add(FaultKind::Yellow, Cause::Sunlight);
    }
    // As many findings as the table counts for: half of the way to all of them.
    assert!((share(&confirmed, Cause::Sunlight) - (0.5 * before + 0.5)).abs() < 1e-12);
    let found = diagnose(FaultKind::Yellow, &Figures::default(), &confirmed);
    assert_eq!((found[0].cause, found[0].confirmed), (Cause::Sunlight, 10));
}

/// Bubbles with a cold bucket: 2 × 4 of 3 + 8 + 1.5 + 1.5 + 1 + 1.5 + 1.5 + 1 + 0.8.
#[test]
fn the_arithmetic_by_hand() {
    let mut figures = Figures::default();
    figures.set(Figure::Bucket, 290.0);
    let found = diagnose(FaultKind::Bubbles, &figures, &Confirmed::default());
    assert_eq!(found[0].cause, Cause::ColdResin);
    assert!((found[0].share - 8.0 / 19.8).abs() < 1e-12, "{}", found[0].share);
}

#[test]
fn every_fault_has_causes_and_no_cause_twice() {
    for fault in FaultKind::ALL {
        let mut causes: Vec<Cause> = rows(fault).map(|row| row.cause).collect();
        assert!(causes.len() >= 2, "{fault:?}");
        causes.sort_unstable();
        let count = causes.len();
        causes.dedup();
        assert_eq!(causes.len(), count, "{fault:?}");
        for row in rows(fault) {
            assert!(row.prior > 0.0);
            for sign in row.signs {
                assert!(
                    sign.seen > 0.0 && sign.unseen > 0.0 && (sign.seen - sign.unseen).abs() > 1e-9,
                    "{row:?}"
                );
            }
        }
    }
}

proptest! {
    #[test]
    fn shares_make_a_whole_whatever_is_known(
        fault in 0..FaultKind::ALL.len(),
        known in prop::collection::vec((0..Figure::ALL.len(), -1e6..1e6_f64), 0..30),
    ) {
        let mut figures = Figures::default();
        for (figure, value) in known {
            figures.set(Figure::ALL[figure], value);
        }
        let found = diagnose(FaultKind::ALL[fault], &figures, &Confirmed::default());
        let sum: f64 = found.iter().map(|likely| likely.share).sum();
        prop_assert!((sum - 1.0).abs() < 1e-9);
        prop_assert!(found.windows(2).all(|pair| pair[0].share >= pair[1].share));
    }
}
