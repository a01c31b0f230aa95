use super::*;
use crate::sample::{METRIC, begin, hours, river_top, worked};
use fondant_quantities::Temperature;
use jiff::SignedDuration;

fn strip_of(change: impl FnOnce(&mut Document), now: Timestamp) -> Strip {
    let mut document = river_top();
    change(&mut document);
    let shop = hours(8, 18);
    let evaluation = worked(&document, &shop).unwrap();
    strip(StripInput {
        cast: CastId(7),
        document: &document,
        evaluation: &evaluation,
        zone: shop.zone(),
        now,
        poured: 0,
        misfits: false,
        has_ended: false,
        shown: METRIC,
    })
}

#[test]
fn every_figure_has_a_unit_a_name_and_a_working() {
    let strip = strip_of(|_| {}, begin());
    assert_eq!(strip.figures.len(), 5);
    for figure in &strip.figures {
        assert!(!figure.value.is_empty() && !figure.label.is_empty(), "{figure:?}");
        assert!(!figure.working.formula.is_empty(), "{} has no formula", figure.id);
        assert!(!figure.working.notes.is_empty(), "{} has no assumption", figure.id);
        assert!(!figure.working.changes.is_empty(), "{} cannot be changed", figure.id);
    }
    // 1000 × 250 × 42 mm of river and 1000 × 500 × 2 mm of base, 9 mL that two
    // metres of live edge absorb, 3 % on top.
    assert_eq!(strip.figures[0].value, "11.9\u{202f}L");
    assert_eq!(strip.figures[1].value, "13.0\u{202f}kg");
}

#[test]
fn the_next_act_is_the_first_pour_until_its_hour_has_passed() {
    let strip_now = strip_of(|_| {}, begin());
    assert_eq!(strip_now.next, "Pour the base");
    assert!(strip_now.next_detail.starts_with("then layer 1"));
    let late = strip_of(|_| {}, begin() + SignedDuration::from_hours(100));
    assert!(late.next_detail.contains("has passed"));
}

#[test]
fn without_pour_times_the_strip_says_why() {
    let hot = strip_of(
        |document| {
            document.resin = fondant_materials::resin::ResinId("coating-epoxy".into());
            document.conditions.air = Temperature::from_celsius(40.0);
            document.conditions.resin = Temperature::from_celsius(40.0);
        },
        begin(),
    );
    assert_eq!(hot.next, "No pour times yet");
    assert!(hot.next_detail.contains("layers of at most"), "{}", hot.next_detail);
    assert!(hot.figures[2].is_hot && hot.figures[3].is_hot);
    assert_eq!(hot.figures[4].value, "–");
}
