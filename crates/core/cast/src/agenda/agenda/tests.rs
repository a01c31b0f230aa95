use fondant_pours::layers::Purpose;

use super::super::sample::{agenda, at};
use super::*;

#[test]
fn acts_come_in_order_and_what_is_poured_is_not_asked_for_again() {
    let mut plan = agenda(&[0, 12], false);
    let kinds: Vec<ActKind> = plan.acts().iter().map(|act| act.kind).collect();
    assert_eq!(kinds[0], ActKind::Pour);
    assert!(kinds.contains(&ActKind::Open));
    assert_eq!(kinds.iter().filter(|kind| **kind == ActKind::Level).count(), 3);
    assert!(kinds.contains(&ActKind::Opens) && kinds.contains(&ActKind::Cover));
    plan.poured = 1;
    let next = plan.next(at(11));
    assert_eq!((next[0].kind, next[0].pour), (ActKind::Pour, 1));
    assert!(plan.next(at(99)).iter().any(|act| act.kind == ActKind::Pour), "missed, not gone");
}

#[test]
fn a_pour_on_a_liquid_layer_waits_for_its_window() {
    let mut plan = agenda(&[0, 8], false);
    plan.pours[1].waits_for = Some(at(10));
    plan.poured = 1;
    let acts: Vec<(ActKind, Timestamp)> =
        plan.next(at(7)).iter().map(|act| (act.kind, act.at)).collect();
    let of = |kind| acts.iter().find(|act| act.0 == kind).map(|act| act.1);
    assert_eq!(of(ActKind::Wait), Some(at(8)));
    assert_eq!(of(ActKind::Pour), Some(at(10)), "never before the window opens");
    assert_eq!(of(ActKind::Opens), Some(at(10)));
    let place = |kind| acts.iter().position(|act| act.0 == kind);
    assert!(place(ActKind::Opens) < place(ActKind::Pour), "it opens, and then is poured");
}

#[test]
fn a_sequence_rises_when_something_changes_and_only_then() {
    let former = agenda(&[0, 12], false);
    let same = Agenda { changed: at(5), sequence: 900, ..former.clone() };
    assert_eq!(same.following(&former), former);
    let later = Agenda { changed: at(5), sequence: 3, ..agenda(&[0, 13], false) };
    let found = later.following(&former);
    assert_eq!((found.changed, found.sequence), (at(5), 8), "though the clock went back");
    assert_eq!(found.pours[1].at, at(13));
}

#[test]
fn what_is_poured_keeps_its_hours_when_the_plan_fits_no_longer() {
    let plan = agenda(&[0, 12, 30], false);
    let ids: Vec<PourId> = plan.pours.iter().map(|pour| pour.id).collect();
    assert_eq!(plan.of_poured(&[]), None);
    let kinds = |plan: &Agenda| -> Vec<ActKind> {
        plan.next(at(3)).into_iter().map(|act| act.kind).collect()
    };
    let lacking = plan.of_poured(&ids[..1]).unwrap();
    assert_eq!((lacking.pours.len(), lacking.poured, lacking.fit), (1, 1, Fit::Lacking));
    // Its window is the one that counts, and when the form opens is not known yet.
    let left = kinds(&lacking);
    assert!(left.contains(&ActKind::Opens) && left.contains(&ActKind::Closes));
    assert!(!left.contains(&ActKind::Pour) && !left.contains(&ActKind::Open));
    assert!(!lacking.is_over(at(9999)), "the rest is still to be poured");
    assert_eq!(lacking.of_poured(&ids[..1]), Some(lacking), "as it was");
    let mut coated = plan.clone();
    coated.pours[2].layer = LayerKind::Stage(Purpose::Flood, 1);
    coated.form_opens = Some(at(40));
    let uncoated = coated.of_poured(&ids[..2]).unwrap();
    assert_eq!((uncoated.fit, uncoated.hard), (Fit::Poured, at(40)), "the form is full");
    let all = plan.of_poured(&ids).unwrap();
    assert_eq!((all.pours.len(), all.fit), (3, Fit::Poured));
    assert!(kinds(&all).contains(&ActKind::Open) && all.is_over(at(9999)));
}
