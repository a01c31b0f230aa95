//! What is in stays of the resin that it was poured with, whatever its cast gets.

use fondant_cast::document::{Split, Stage, TakenPour};
use fondant_cast::facts::left::left;
use fondant_cast::facts::resins::{forget, keep, may_differ};
use fondant_cast::facts::rest::{over_poured, replanned};
use fondant_cast::facts::{Fact, FactRow, by_facts};
use fondant_cast::pours::{as_given, take};
use fondant_cast::{Document, Evaluation, Inputs, Kind, PourId, Site, Standing, evaluate};
use fondant_materials::resin::{ResinId, shipped};
use fondant_numerics::Stop;
use fondant_pours::layers::Purpose;
use fondant_pours::{Break, Joint, Schedule, ScheduledPour, ShopHours, Workday};
use fondant_quantities::Length;
use fondant_shapes::form::Piece;
use fondant_shapes::timber::Station;
use jiff::SignedDuration;

fn mm(value: f64) -> Length {
    Length::from_mm(value)
}

fn id(name: &str) -> ResinId {
    ResinId(name.into())
}

fn worked(document: &Document) -> Evaluation {
    worked_in(document, 7)
}

/// In a shop that is open on so many days from Monday on.
fn worked_in(document: &Document, days: usize) -> Evaluation {
    let day = Workday::read_day("07:00-22:00").expect("hours");
    let week = (0..7).map(|place| if place < days { day.clone() } else { Vec::new() });
    let week = week.collect::<Vec<_>>().try_into().expect("a week");
    let site = Site::plain(ShopHours::new(week, "UTC").expect("hours"));
    let find = |id: &ResinId| shipped::find(id).expect("it ships");
    let others = document.stage_resins().iter().map(find).collect();
    let inputs = Inputs::new(document.clone(), find(&document.resin), &site);
    evaluate(&inputs.with_stage_resins(others), &Stop::NEVER).expect("no conflicts")
}

/// A block 26 mm thick, of two layers of medium resin.
fn begun() -> (Document, [FactRow; 1]) {
    begun_in(2, 26.0)
}

/// A block of medium resin whose plan is taken and whose first layer is in.
fn begun_in(layers: u32, thickness_mm: f64) -> (Document, [FactRow; 1]) {
    let piece = Piece::slab(mm(300.0), mm(200.0), mm(thickness_mm), mm(10.0));
    let begin = "2026-11-23T07:00:00Z".parse().expect("a time");
    let mut document = Document::begin(Kind::Block, "Lamp foot".into(), piece, begin);
    document.resin = id(shipped::MEDIUM_CASTING);
    document.pours.split = Split::Equal { count: layers };
    taken(document)
}

/// A cast whose plan is taken and whose first layer is in.
fn taken(mut document: Document) -> (Document, [FactRow; 1]) {
    let schedule = worked(&document).pours.expect("pour times");
    let mut next = 0;
    take(&mut document.pours, &as_given(&schedule), || {
        next += 1;
        PourId(next)
    });
    let TakenPour { id: pour, at, .. } = document.pours.taken[0];
    let fact = Fact::Poured { pour, at, resin_at: None };
    (document, [FactRow { number: 1, fact, recorded_at: at }])
}

/// The same cast of slow resin.
fn changed(before: &Document) -> Document {
    into(shipped::SLOW_CASTING, before)
}

fn into(resin: &str, before: &Document) -> Document {
    let mut after = before.clone();
    after.resin = id(resin);
    assert!(may_differ(before, &after));
    let planned = worked(before).planned.expect("it is taken");
    keep(&mut after, (before, &planned), &[before.pours.taken[0].id]);
    after
}

fn happened(document: &Document, rows: &[FactRow]) -> Schedule {
    let evaluation = worked(document);
    let (task, planned) = (evaluation.pour_task.expect("a task"), evaluation.planned);
    by_facts(&task, &planned.expect("it is taken"), rows).expect("it is followed").schedule
}

fn window(pour: &ScheduledPour) -> [jiff::Timestamp; 2] {
    [pour.opens, pour.closes]
}

#[test]
fn a_layer_that_is_in_does_not_become_of_the_resin_that_is_chosen_for_the_rest() {
    let (before, rows) = begun();
    let after = changed(&before);
    let (was, is) = (happened(&before, &rows), happened(&after, &rows));
    assert_eq!(window(&is.pours[0]), window(&was.pours[0]), "the lower layer is as it was");
    assert!(is.hard > was.hard + SignedDuration::from_hours(6), "the upper one is of slow resin");
    // Had the maker planned a base of the one resin under the other, it would be the same column.
    let mut staged = after;
    let depth = before.pours.taken[0].to;
    staged.pours.poured_of.clear();
    staged.pours.split = Split::Equal { count: 1 };
    let resin = Some(id(shipped::MEDIUM_CASTING));
    staged.stages.below = vec![Stage { depth, resin, ..Stage::begin(Purpose::Base) }];
    let column = happened(&staged, &rows);
    for (one, other) in is.pours.iter().zip(&column.pours) {
        assert_eq!(window(one), window(other));
        assert!((one.peak.k() - other.peak.k()).abs() < 1e-6, "{:?} {:?}", one.peak, other.peak);
    }
    assert_eq!(is.hard, column.hard);
}

#[test]
fn each_resin_comes_to_what_is_mixed_of_it() {
    let (before, rows) = begun();
    let after = worked(&changed(&before));
    let layers = worked(&before).planned.expect("it is taken");
    let [upper, lower] = after.needs.as_slice() else { panic!("two resins: {:?}", after.needs) };
    assert_eq!(
        (&upper.resin.id, &lower.resin.id.0[..]),
        (&id(shipped::SLOW_CASTING), shipped::MEDIUM_CASTING)
    );
    let mixed = after.measured.mixed_ratio();
    for (need, layer) in [(lower, &layers[0]), (upper, &layers[1])] {
        let volume = mixed.of(&layer.given.layer);
        assert!((need.parts.volume.l() / volume.l() - 1.0).abs() < 1e-9, "{need:?} {volume:?}");
    }
    assert!((after.total().l() / worked(&before).total().l() - 1.0).abs() < 1e-9);
    // What is in need not be bought once more.
    let [to_come, none] = &left(&after, &rows)[..] else { panic!("two resins") };
    assert_eq!((to_come, none.parts.volume.l(), none.uncertainty.l()), (upper, 0.0, 0.0));
    let before = worked(&before);
    let [to_come] = &left(&before, &rows)[..] else { panic!("one resin") };
    let whole = lower.parts.volume + upper.parts.volume;
    let ratio = to_come.uncertainty / before.own().uncertainty;
    assert!((ratio - upper.parts.volume / whole).abs() < 1e-9, "{ratio}");
    assert_eq!(left(&before, &[]), before.needs);
}

#[test]
fn over_what_is_in_a_deeper_form_is_filled_with_the_resin_that_is_chosen() {
    let (before, rows) = begun();
    let mut after = changed(&before);
    after.form.overfill = after.form.overfill + mm(9.0);
    let evaluation = worked(&after);
    assert_eq!(evaluation.standing, Standing::Outdated);
    let task = evaluation.pour_task.as_ref().expect("a task");
    let now = rows[0].recorded_at + SignedDuration::from_hours(1);
    let (planned, _) = over_poured(task, &rows, now).expect("something comes over it");
    let of = |place: usize| after.resin_of(&planned[place].given.layer).0;
    assert_eq!(of(0), shipped::MEDIUM_CASTING);
    assert!(
        planned.len() > 1 && (1..planned.len()).all(|place| of(place) == shipped::SLOW_CASTING)
    );
    // A week later nothing is proposed for a day that is gone.
    let later = now + SignedDuration::from_hours(24 * 7);
    let (planned, schedule) = over_poured(task, &rows, later).expect("something comes over it");
    assert!(planned[1..].iter().all(|pour| pour.given.at >= later), "{planned:?}");
    assert!(schedule.breaks.is_empty(), "{:?}", schedule.breaks);
    // On a Friday after hours: the shop opens on Monday.
    let friday = "2026-11-27T22:30:00Z".parse().expect("a time");
    let task = worked_in(&after, 5).pour_task.expect("a task");
    let (planned, schedule) = over_poured(&task, &rows, friday).expect("something comes over it");
    assert_eq!(planned[1].given.at, "2026-11-30T07:00:00Z".parse().expect("a time"));
    assert!(schedule.breaks.is_empty(), "{:?}", schedule.breaks);
    assert_eq!(evaluation.needs.len(), 2);
    assert!(evaluation.needs.iter().all(|need| need.parts.volume.l() > 0.1));
}

#[test]
fn a_second_change_of_mind_leaves_it_of_the_resin_that_it_was_poured_with() {
    let (before, rows) = begun();
    let second = changed(&before);
    let mut third = second.clone();
    third.resin = id(shipped::MEDIUM_CASTING);
    let planned = worked(&second).planned.expect("it is taken");
    keep(&mut third, (&second, &planned), &[before.pours.taken[0].id]);
    assert_eq!(third.pours.poured_of, second.pours.poured_of);
    let pours = |document: &Document| happened(document, &rows).pours;
    assert_eq!(pours(&third), pours(&before), "all of it is of one resin again");
    forget(&mut third, &[]);
    assert_eq!(third, before, "the note was wrong: nothing is in");
}

/// Nothing is left to be poured of what was chosen.
#[test]
fn a_cast_that_is_all_in_can_be_told_another_resin() {
    let (before, rows) = begun_in(1, 12.0);
    let after = changed(&before);
    let only = |document: &Document| window(&happened(document, &rows).pours[0]);
    assert_eq!(only(&after), only(&before));
    let evaluation = worked(&after);
    assert!(evaluation.batch.kg() > 0.1, "{:?}", evaluation.batch);
    let left = &evaluation.own().parts;
    assert_eq!((left.volume.l(), left.mass.kg()), (0.0, 0.0));
}

/// A polyester is too hot in a layer that an epoxy fills, whatever its hour.
#[test]
fn what_is_left_is_split_further_where_the_other_resin_gets_too_hot_in_it() {
    let (before, rows) = begun();
    let after = into(shipped::POLYESTER, &before);
    let is_hot = |schedule: &Schedule| {
        schedule.breaks.iter().any(|broken| matches!(broken, Break::TooHot { .. }))
    };
    assert!(is_hot(&happened(&after, &rows)));
    let evaluation = worked(&after);
    let (task, planned) = (evaluation.pour_task.expect("a task"), evaluation.planned);
    let now = rows[0].recorded_at + SignedDuration::from_hours(1);
    let given = replanned(&task, &planned.expect("it is taken"), &rows, now).expect("a plan");
    assert!(given.len() > before.pours.taken.len(), "{given:?}");
    let mut cooler = after;
    let mut next = 10;
    take(&mut cooler.pours, &given, || {
        next += 1;
        PourId(next)
    });
    let schedule = happened(&cooler, &rows);
    assert!(!is_hot(&schedule), "{:?}", schedule.breaks);
    assert_eq!(cooler.resin_of(&schedule.pours[0].layer).0, shipped::MEDIUM_CASTING);
    // Where nothing gets too hot, no layer is added.
    let evaluation = worked(&before);
    let (task, planned) = (evaluation.pour_task.expect("a task"), evaluation.planned);
    let given = replanned(&task, &planned.expect("it is taken"), &rows, now).expect("a plan");
    assert_eq!(given.len(), before.pours.taken.len());
}

/// Thin layers beside timber are hard sooner than the one that they come in place of, and their hours are
/// found by that.
#[test]
fn layers_that_come_in_place_of_a_thick_one_wait_no_longer_than_they_have_to() {
    let piece = Piece::slab(mm(1500.0), mm(760.0), mm(34.0), mm(10.0));
    let begin = "2026-11-23T07:00:00Z".parse().expect("a time");
    let mut river = Document::river_top("Long table".into(), piece, begin);
    let stations = &mut river.contents.river_mut().expect("a river").stations;
    *stations =
        [0.0, 1520.0].map(|at| Station { at: mm(at), width: mm(260.0), from_wall: None }).to_vec();
    let (before, rows) = taken(river);
    let after = into(shipped::MEDIUM_CASTING, &before);
    let evaluation = worked(&after);
    let (task, planned) = (evaluation.pour_task.expect("a task"), evaluation.planned);
    let now = rows[0].recorded_at + SignedDuration::from_hours(10);
    let given = replanned(&task, &planned.expect("it is taken"), &rows, now).expect("a plan");
    let mut split = after;
    let mut next = 10;
    take(&mut split.pours, &given, || {
        next += 1;
        PourId(next)
    });
    let schedule = happened(&split, &rows);
    assert!(schedule.breaks.is_empty(), "{:?}", schedule.breaks);
    let sanded = schedule.pours.iter().filter_map(|pour| match pour.joint {
        Joint::AfterCure { sanding, .. } => Some(pour.at.duration_since(sanding)),
        _ => None,
    });
    let waits: Vec<SignedDuration> = sanded.collect();
    assert!(
        !waits.is_empty() && waits.iter().all(|wait| *wait < SignedDuration::from_hours(12)),
        "{waits:?}"
    );
}
