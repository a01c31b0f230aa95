use super::super::sample::agenda;
use super::*;

#[test]
fn two_pours_at_once_collide_unless_there_are_hands_for_both() {
    let both = [agenda(&[0], false), agenda(&[0, 30], false)];
    let found = collisions(&both, 1);
    assert_eq!(found, [Collision::Hands { first: (0, 0), second: (1, 0) }]);
    assert_eq!(found[0].gives_way(), (1, 0));
    assert_eq!(collisions(&both, 2), []);
    assert_eq!(collisions(&[agenda(&[0], false), agenda(&[2], false)], 1), []);
}

#[test]
fn a_pot_holds_one_cast_until_it_is_hard() {
    let both = [agenda(&[0], true), agenda(&[5], true)];
    assert_eq!(collisions(&both, 1), [Collision::Pot { first: (0, 0), second: (1, 0) }]);
    assert_eq!(collisions(&[agenda(&[0], true), agenda(&[60], true)], 1), []);
    assert_eq!(collisions(&[agenda(&[0], true), agenda(&[5], false)], 1), []);
}
