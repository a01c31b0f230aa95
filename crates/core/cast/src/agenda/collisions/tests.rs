use super::super::sample::agenda;
use super::*;

#[test]
fn two_pours_at_once_collide_unless_there_are_hands_for_both() {
    let mut both = [agenda(&[0], false), agenda(&[0, 30], false)];
    let found = collisions(&both, &[], 1);
    assert_eq!(found, [Collision::Hands { first: (0, 0), second: (1, 0) }]);
    assert_eq!(found[0].gives_way(), (1, 0));
    // Of one bucket each, two pairs of hands do both.
    for agenda in &mut both {
        agenda.pours[0].batches = 1;
    }
    assert_eq!(collisions(&both, &[], 2), []);
    assert_eq!(collisions(&[agenda(&[0], false), agenda(&[2], false)], &[], 1), []);
}

#[test]
fn a_pot_holds_one_cast_until_it_is_hard() {
    let both = [agenda(&[0], true), agenda(&[5], true)];
    assert_eq!(collisions(&both, &[], 1), [Collision::Pot { first: (0, 0), second: (1, 0) }]);
    assert_eq!(collisions(&[agenda(&[0], true), agenda(&[60], true)], &[], 1), []);
    assert_eq!(collisions(&[agenda(&[0], true), agenda(&[5], false)], &[], 1), []);
}

/// Hands were counted twice: each of two plans counts both pairs, and together they would
/// need four.
#[test]
fn two_pours_that_each_keep_both_pairs_of_hands_busy_collide() {
    let both = [agenda(&[0], false), agenda(&[0], false)];
    assert!(both.iter().all(|agenda| agenda.pours[0].batches == 2));
    assert_eq!(collisions(&both, &[], 2), [Collision::Hands { first: (0, 0), second: (1, 0) }]);
    assert_eq!(collisions(&both, &[], 4), []);
}

/// Only neighbours were compared: a long cure hid behind a short one.
#[test]
fn what_stays_long_in_the_pot_collides_with_all_that_come() {
    let mut long = agenda(&[0], true);
    long.hard = long.pours[0].done + jiff::SignedDuration::from_hours(100);
    let all = [long, agenda(&[5], true), agenda(&[70], true)];
    let found = collisions(&all, &[], 1);
    assert_eq!(
        found,
        [
            Collision::Pot { first: (0, 0), second: (1, 0) },
            Collision::Pot { first: (0, 0), second: (2, 0) },
        ]
    );
}

/// One person is at the bench for two hours: a pour due in one has nobody, one due in three has, and the
/// run's own pour is no other.
#[test]
fn a_run_at_the_bench_keeps_hands_busy() {
    let mut all = [agenda(&[1], false), agenda(&[3], false)];
    for agenda in &mut all {
        agenda.pours[0].batches = 1;
    }
    let until = all[0].pours[0].at + jiff::SignedDuration::from_mins(60);
    let run = |pour| [AtBench { until, pour }];
    let due = Collision::Bench { run: 0, second: (0, 0) };
    assert_eq!(collisions(&all, &run(None), 1), [due]);
    assert_eq!(collisions(&all, &run(None), 2), []);
    assert_eq!(collisions(&all, &run(Some((0, 0))), 1), [], "its own pour");
}
