//! From a plan to its pours: alternatives, changes that help, what happened,
//! in the shop's own air.

use fondant_cast::document::{AirFrom, PourId, Pours, Split, TakenPour};
use fondant_cast::facts::{Fact, FactRow, by_facts};
use fondant_cast::planning::{Alternative, Fix, Wish, alternatives, offers, with};
use fondant_cast::pours::{as_given, levels_of, take};
use fondant_cast::{Document, Evaluation, Inputs, Kind, Site, Standing, evaluate};
use fondant_heat::climate::profile::{DayNight, Known, Profile, Way};
use fondant_heat::cooling::CoolingBy;
use fondant_materials::resin::{Record, shipped};
use fondant_numerics::Stop;
use fondant_pours::Schedule;
use fondant_pours::layers::LayerKind;
use fondant_pours::simulate::observe::Touch;
use fondant_pours::{Joint, ShopHours, Workday};
use fondant_quantities::{Length, Span, Temperature};
use fondant_shapes::form::Piece;
use fondant_shapes::timber::Station;
use jiff::civil::Time;
use jiff::{SignedDuration, Timestamp};

fn begin() -> Timestamp {
    "2026-11-23T09:00:00Z".parse().expect("a time")
}

fn site(opens: i8, closes: i8, coldest: f64, warmest: f64) -> Site {
    let day =
        Workday { opens: Time::constant(opens, 0, 0, 0), closes: Time::constant(closes, 0, 0, 0) };
    let hours = ShopHours::new([Some(day); 7], "UTC").expect("hours");
    let c = Temperature::from_celsius;
    let day_night = DayNight {
        coldest: c(coldest),
        warmest: c(warmest),
        warmest_at: Time::constant(15, 0, 0, 0),
        humidity_percent: 55.0,
    };
    let profile = Profile { by: Way::DayNight, day_night, ..Profile::default() };
    let (from, to) =
        (begin() - SignedDuration::from_hours(48), begin() + SignedDuration::from_hours(1500));
    let air = profile.series(hours.zone(), from, to, Known::default()).expect("a series");
    Site { air, ..Site::plain(hours) }
}

fn top() -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(1500.0), mm(760.0), mm(34.0), mm(10.0));
    let mut plan = Document::river_top("Top".into(), piece, begin());
    plan.contents.river_mut().expect("a river").stations =
        [(0.0, 217.0), (760.0, 250.0), (1520.0, 186.0)]
            .map(|(at, width)| Station { at: mm(at), width: mm(width), from_wall: None })
            .to_vec();
    plan.conditions.air_from = AirFrom::Shop;
    plan
}

fn resin(plan: &Document) -> Record {
    shipped::find(&plan.resin).expect("it ships")
}

fn inputs(plan: &Document, site: &Site) -> Inputs {
    Inputs::new(plan.clone(), resin(plan), site)
}

fn worked(plan: &Document, site: &Site) -> Evaluation {
    evaluate(&inputs(plan, site), &Stop::NEVER).expect("no conflicts")
}

fn taken(schedule: &Schedule) -> Vec<TakenPour> {
    let (mut next, mut pours) = (0, Pours::from(begin()));
    take(&mut pours, &as_given(schedule), || {
        next += 1;
        PourId(next)
    });
    pours.taken
}

#[test]
fn every_wish_has_its_plan_and_the_one_suggested_holds() {
    let (plan, site) = (top(), site(8, 18, 16.0, 21.0));
    let task = worked(&plan, &site).pour_task.expect("a task");
    let all = alternatives(&task, &|_| true).expect("alternatives");
    for wish in Wish::ALL {
        assert_eq!(all.iter().filter(|a| a.wishes.contains(&wish)).count(), 1, "{wish:?}");
    }
    let of = |wish| all.iter().find(|a| a.wishes.contains(&wish)).expect("an alternative");
    let soonest = of(Wish::Soonest);
    let half_an_hour = SignedDuration::from_mins(30);
    for other in &all {
        assert!(!other.pours.is_empty());
        assert!(soonest.hard <= other.hard + half_an_hour);
        assert!(of(Wish::Coolest).peak() <= other.peak());
        assert!(of(Wish::FewestPours).pours.len() <= other.pours.len());
        assert!(of(Wish::Steadiest).held.held >= other.held.held);
    }
    let suggested: Vec<_> = all.iter().filter(|a| a.is_suggested).collect();
    assert_eq!(suggested.len(), 1);
    assert!(suggested[0].held.held >= soonest.held.held);
}

#[test]
fn a_window_missed_by_short_hours_is_mended_by_the_smallest_changes() {
    let mut plan = top();
    plan.pours.split = Split::Equal { count: 2 };
    let site = site(9, 11, 17.0, 20.0);
    let evaluation = worked(&plan, &site);
    let sanded = evaluation.pours.as_ref().expect("pours").sanded_joints();
    assert!(sanded > 0);
    let others: Vec<Record> = shipped::all().into_iter().filter(|r| r.id != plan.resin).collect();
    let found = offers(&inputs(&plan, &site), &evaluation, &others, &Stop::NEVER);
    assert!(!found.is_empty());
    for offer in &found {
        assert!(offer.sanded < sanded, "{:?}", offer.fix);
        // What is offered is what comes of it.
        let changed = with(&plan, &offer.fix, &site).expect("it can be made");
        let after = worked(&changed.document, &changed.site).pours.expect("pours");
        assert_eq!(
            (after.hard, after.sanded_joints()),
            (offer.hard, offer.sanded),
            "{:?}",
            offer.fix
        );
    }
    let once = |f: &Fix| matches!(f, Fix::OpenOnce(..) | Fix::StayOnce(..));
    assert!(found.iter().any(|offer| once(&offer.fix)), "{found:#?}");
}

#[test]
fn a_hopeless_heat_is_mended_by_cooling_or_by_another_resin() {
    let mut plan = top();
    plan.conditions.air_from = AirFrom::Steady;
    plan.conditions.air = Temperature::from_celsius(40.0);
    plan.conditions.resin = Temperature::from_celsius(40.0);
    plan.resin = fondant_materials::resin::ResinId(shipped::COATING.into());
    let site = site(8, 18, 17.0, 20.0);
    let evaluation = worked(&plan, &site);
    assert!(evaluation.pours.is_err());
    let others: Vec<Record> = shipped::all().into_iter().filter(|r| r.id != plan.resin).collect();
    let found = offers(&inputs(&plan, &site), &evaluation, &others, &Stop::NEVER);
    assert!(found.iter().any(|offer| matches!(offer.fix, Fix::Resin(..))), "{found:#?}");
}

/// Sides and bucket limits came from an equal split when layers were set by hand: a bucket for a
/// thick last layer was judged by a thinner one.
#[test]
fn buckets_and_sides_are_those_of_the_layers_set_by_hand() {
    let site = site(8, 18, 19.0, 21.0);
    let mut equal = top();
    equal.conditions.bucket = fondant_quantities::Mass::from_kg(20.0);
    equal.pours.split = Split::Equal { count: 2 };
    let mut by_hand = equal.clone();
    let task = |plan: &Document| worked(plan, &site).pour_task.expect("a task");
    let main = {
        let fill = &worked(&equal, &site).measured.fill;
        (fill.base(), fill.depth())
    };
    // The same two layers, said by hand.
    by_hand.pours.split = Split::ByHand { levels: vec![(main.0 + main.1) * 0.5] };
    assert_eq!(task(&equal).in_bucket(), task(&by_hand).in_bucket());
    // A sliver, then all the rest: that is what a bucket must be good for.
    by_hand.pours.split = Split::ByHand { levels: vec![main.0 + Length::from_mm(2.0)] };
    let mut whole = equal.clone();
    whole.pours.split = Split::Equal { count: 1 };
    let thick = |plan: &Document| {
        let evaluation = worked(plan, &site);
        let schedule = evaluation.pours.expect("a schedule");
        schedule.pours.iter().map(|p| p.layer.depth().mm()).fold(0.0, f64::max)
    };
    assert!(thick(&by_hand) > thick(&equal) + 5.0);
    let hard = |plan: &Document| worked(plan, &site).pours.expect("a schedule").hard;
    assert_ne!(hard(&by_hand), hard(&equal));
}

/// The agenda said in-form litres where the plan mixes more.
#[test]
fn an_agenda_says_what_is_mixed() {
    let site = site(8, 18, 18.0, 21.0);
    let mut plan = top();
    plan.form.bucket_residue_ratio = 0.05;
    let proposed = worked(&plan, &site).pours.expect("a schedule");
    plan.pours.taken = taken(&proposed);
    let evaluation = worked(&plan, &site);
    let (planned, schedule) =
        (evaluation.planned.expect("taken"), evaluation.pours.expect("times"));
    let agenda = fondant_cast::agenda::Agenda::of(&plan, &planned, &schedule, 0, begin());
    let mixed: f64 = agenda.pours.iter().map(|pour| pour.volume.l()).sum();
    let total = evaluation.measured.sizing.total.l();
    assert!((mixed / total - 1.0).abs() < 1e-9, "{mixed} of {total} L");
    for (entry, pour) in agenda.pours.iter().zip(&schedule.pours) {
        assert!(entry.volume.l() > pour.layer.volume.l() * 1.04, "{:?}", entry.layer);
    }
}

/// The judge waived sanding where no opening is long enough for it.
#[test]
fn a_joint_that_is_never_sanded_is_a_break() {
    use fondant_pours::simulate::Break;
    let site = site(8, 12, 18.0, 21.0);
    let mut plan = top();
    plan.pours.sanding = Span::from_h(6.0);
    let proposed = worked(&plan, &site).pours.expect("a schedule");
    let mut given = as_given(&proposed);
    let last = given.len() - 1;
    given[last].at += SignedDuration::from_hours(15 * 24);
    let judged = worked(&plan, &site).pour_task.expect("a task").judged(&given).expect("times");
    let is_never = |b: &Break| matches!(b, Break::NeverSanded { pour, .. } if *pour == last);
    assert!(judged.breaks.iter().any(is_never), "{:?}", judged.breaks);
}

/// Comparing stopped at the first way to split that had no time, where the search goes on.
#[test]
fn alternatives_are_found_wherever_the_search_finds_a_plan() {
    // Open so short that few layers cannot be mixed and poured in one go, and more can.
    let mut plan = top();
    plan.conditions.bucket = fondant_quantities::Mass::from_kg(2.0);
    let mut found = 0;
    for minutes in [10, 25, 40, 60, 100] {
        let closes = Time::midnight().saturating_add(SignedDuration::from_mins(8 * 60 + minutes));
        let day = Workday { opens: Time::constant(8, 0, 0, 0), closes };
        let hours = ShopHours::new([Some(day); 7], "UTC").expect("hours");
        let short = Site { hours, ..site(8, 18, 18.0, 21.0) };
        let evaluation = worked(&plan, &short);
        let Some(task) = &evaluation.pour_task else { continue };
        let compared = alternatives(task, &|_| true);
        assert_eq!(evaluation.pours.is_ok(), compared.is_ok(), "{minutes} min: {compared:?}");
        let Ok(compared) = compared else { continue };
        found += 1;
        // The same inputs give the same plans, whatever the threads do.
        let again = alternatives(task, &|_| true).expect("alternatives");
        let hard = |all: &[Alternative]| -> Vec<Timestamp> { all.iter().map(|a| a.hard).collect() };
        assert_eq!(hard(&compared), hard(&again), "{minutes} min");
    }
    assert!((1..5).contains(&found), "{found} of five could be poured");
}

#[test]
fn layers_by_hand_and_a_seal_coat_are_poured_as_they_are_set() {
    let (mut plan, site) = (top(), site(7, 20, 18.0, 21.0));
    let river = plan.contents.river_mut().expect("a river");
    (river.seal, river.seal_with_base) = (true, false);
    plan.pours.split = Split::ByHand { levels: [14.0, 26.0].map(Length::from_mm).to_vec() };
    let evaluation = worked(&plan, &site);
    let schedule = evaluation.pours.expect("pours");
    let kinds: Vec<LayerKind> = schedule.pours.iter().map(|p| p.layer.kind).collect();
    let main = |n| LayerKind::Main(n);
    assert_eq!(kinds, [LayerKind::Seal, LayerKind::Base, main(1), main(2), main(3)]);
    assert_eq!(
        levels_of(&schedule).iter().map(|l| l.mm().round()).collect::<Vec<_>>(),
        [14.0, 26.0]
    );
    // A sealed edge absorbs its coat and no more.
    let lines = &evaluation.measured.sizing.lines;
    use fondant_shapes::volume::sizing::LineKind;
    assert!(lines.iter().any(|line| matches!(line.kind, LineKind::SealCoat { .. })));
    assert!(!lines.iter().any(|line| matches!(line.kind, LineKind::Absorption { .. })));
}

#[test]
fn a_taken_plan_stands_until_the_form_changes() {
    let (mut plan, site) = (top(), site(8, 18, 16.0, 21.0));
    let proposed = worked(&plan, &site);
    assert_eq!(proposed.standing, Standing::Proposed);
    let schedule = proposed.pours.expect("pours");
    plan.pours.taken = taken(&schedule);
    let kept = worked(&plan, &site);
    assert_eq!(kept.standing, Standing::Taken);
    let kept = kept.pours.expect("pours");
    assert_eq!((kept.hard, kept.breaks.len()), (schedule.hard, 0));
    plan.form.overfill = Length::from_mm(5.0);
    assert_eq!(worked(&plan, &site).standing, Standing::Outdated);
    // Colder air moves its windows and says what breaks; the times stay.
    plan.form.overfill = Length::from_mm(2.0);
    let cold = self::site(8, 18, 9.0, 14.0);
    let colder = worked(&plan, &cold).pours.expect("pours");
    assert_eq!(colder.pours[0].at, schedule.pours[0].at);
    assert!(colder.pours[0].opens > schedule.pours[0].opens);
}

#[test]
fn touches_move_the_windows_the_way_they_point() {
    let (mut plan, site) = (top(), site(0, 23, 20.0, 20.0));
    plan.pours.split = Split::Equal { count: 2 };
    let schedule = worked(&plan, &site).pours.expect("pours");
    plan.pours.taken = taken(&schedule);
    let evaluation = worked(&plan, &site);
    let task = evaluation.pour_task.expect("a task");
    let given = task.taken().expect("taken");
    let pour = given[0].id;
    let (at, base) = (schedule.pours[0].at, &schedule.pours[0]);
    let row = |number, fact| FactRow { number, fact, recorded_at: at };
    let poured = row(1, Fact::Poured { pour, at, resin_at: None });
    let touch = |hours: f64, found| {
        let when = base.opens + SignedDuration::from_secs((hours * 3600.0) as i64);
        row(2, Fact::Touched { pour, at: when, found, cup: None })
    };
    let by = |rows: &[FactRow]| by_facts(&task, &given, rows).expect("it follows");

    let as_planned = by(&[poured, touch(1.0, Touch::Tacky)]);
    assert!((as_planned.rates.of(0) - 1.0).abs() < 1e-9);
    assert_eq!(as_planned.schedule.pours[0].opens, base.opens);
    let slow = by(&[poured, touch(2.0, Touch::Clear)]);
    assert!(slow.rates.of(0) < 1.0);
    let shift = slow.schedule.pours[0].opens - base.opens;
    // Still liquid two hours on says that it opens some twenty minutes later.
    assert!((130..=150).contains(&(shift.as_secs() / 60)), "{shift}");
    let fast = by(&[poured, touch(-2.0, Touch::Tacky)]);
    assert!(fast.rates.of(0) > 1.0 && fast.schedule.pours[0].opens < base.opens);
    let both = by(&[
        poured,
        touch(2.0, Touch::Clear),
        row(
            3,
            Fact::Touched {
                pour,
                at: base.opens - SignedDuration::from_hours(3),
                found: Touch::Hard,
                cup: None,
            },
        ),
    ]);
    assert!(both.contradictory);
    // Poured four hours late, all that follows is late.
    let late =
        row(1, Fact::Poured { pour, at: at + SignedDuration::from_hours(4), resin_at: None });
    let moved = by(&[late]);
    assert!(moved.schedule.pours[0].opens >= base.opens + SignedDuration::from_hours(3));
    assert!(moved.schedule.pours[1..].iter().all(|p| !matches!(p.joint, Joint::First)));
}

proptest::proptest! {
    #![proptest_config(proptest::prelude::ProptestConfig {
        rng_seed: proptest::test_runner::RngSeed::Fixed(20_261_124),
        ..proptest::prelude::ProptestConfig::with_cases(16)
    })]
    #[test]
    fn what_follows_a_moved_pour_breaks_nothing_where_it_was_put_right(
        moved in 0usize..3,
        quarters in 1i64..120,
        coldest in 13.0f64..19.0,
    ) {
        let (mut plan, site) = (top(), site(7, 19, coldest, 21.0));
        plan.pours.split = Split::Equal { count: 2 };
        let proposed = worked(&plan, &site);
        let schedule = proposed.pours.expect("pours");
        let task = proposed.pour_task.expect("a task");
        let mut given = as_given(&schedule);
        given[moved].at += SignedDuration::from_mins(15 * quarters);
        let ladder = task.ladder_of(&given);
        let refitted = fondant_pours::refit(&task.task(&ladder), &given, moved)
            .expect("it follows");
        let judged = task.judged(&refitted).expect("it follows");
        // Earlier pours and the moved one stay where they were put.
        for index in 0..=moved {
            proptest::prop_assert_eq!(refitted[index].at, given[index].at);
        }
        let late = judged.breaks.iter().filter(|b| b.pour() > moved).count();
        proptest::prop_assert_eq!(late, 0, "{:?}", judged.breaks);
        // Where nothing breaks, every pour has its reason.
        if judged.breaks.is_empty() {
            proptest::prop_assert!(judged.pours.iter().all(|pour| pour.binding.is_some()));
        }
    }
}

#[test]
fn more_hands_and_bigger_buckets_shorten_a_pour() {
    let (mut plan, site) = (top(), site(8, 18, 18.0, 20.0));
    let takes = |plan: &Document, site: &Site| {
        let schedule = worked(plan, site).pours.expect("pours");
        let pour = schedule.pours.last().expect("a pour");
        (pour.done - pour.at, pour.batches)
    };
    let (alone, buckets) = takes(&plan, &site);
    let (together, _) = takes(&plan, &Site { hands: 2, ..site.clone() });
    assert!(together < alone);
    plan.conditions.bucket = fondant_quantities::Mass::from_kg(10.0);
    let (bigger, fewer) = takes(&plan, &site);
    assert!(fewer < buckets && bigger < alone);
}

#[test]
fn a_deep_layer_is_covered_past_its_peak_and_a_thin_one_after_half_an_hour() {
    let (plan, site) = (top(), site(8, 18, 18.0, 20.0));
    let schedule = worked(&plan, &site).pours.expect("pours");
    let (base, deep) = (&schedule.pours[0], schedule.pours.last().expect("a pour"));
    assert_eq!(base.cover_from(), base.done + SignedDuration::from_mins(30));
    assert!(deep.layer.depth().mm() > 6.0);
    assert_eq!(deep.cover_from(), deep.peak_at.max(deep.done + SignedDuration::from_mins(30)));
}

#[test]
fn one_warm_hour_does_not_make_the_whole_day_too_warm() {
    // The mean of the air decides how deep; its course decides when.
    let (plan, even) = (top(), site(8, 18, 20.0, 20.0));
    let swinging = site(8, 18, 15.0, 25.0);
    let (steady, swung) = (worked(&plan, &even), worked(&plan, &swinging));
    let apart = (steady.heat.allowed - swung.heat.allowed).mm().abs();
    assert!(apart < 1.5, "{apart} mm");
    let (steady, swung) = (steady.pours.expect("pours"), swung.pours.expect("pours"));
    assert_ne!(steady.pours[1].opens, swung.pours[1].opens);
}

#[test]
fn a_narrow_river_waits_longer_for_its_windows_and_for_its_rim() {
    let as_wide = |width_mm: f64| {
        let mut plan = top();
        plan.conditions.air_from = AirFrom::Steady;
        for station in &mut plan.contents.river_mut().expect("a river").stations {
            station.width = Length::from_mm(width_mm);
        }
        worked(&plan, &site(0, 23, 20.0, 20.0)).pours.expect("a plan")
    };
    let (narrow, wide) = (as_wide(70.0), as_wide(420.0));
    let open_for = |s: &Schedule| s.pours[1].opens.duration_since(s.pours[1].at);
    let hour = SignedDuration::from_hours(1);
    assert!(open_for(&narrow) > open_for(&wide) + hour, "{:?}", open_for(&narrow));
    assert!(narrow.peak() < wide.peak());
    // The model's own column is hard before the rim of the wide one is.
    let (middle, last) = (wide.run.top().and_then(|top| top.hard_s), wide.pours[0].at);
    let middle = last + SignedDuration::from_secs_f64(middle.expect("hard"));
    assert!(wide.hard > middle + hour, "{} {middle}", wide.hard);
}

#[test]
fn where_the_river_is_narrowest_windows_open_later() {
    let mut plan = top();
    let site = site(8, 18, 20.0, 20.0);
    plan.contents.river_mut().expect("a river").stations[2].width = Length::from_mm(90.0);
    let found = worked(&plan, &site);
    let (task, pours) = (found.pour_task.expect("a task"), found.pours.expect("a plan"));
    let (width, later) = task.later_at_narrowest(&pours).unwrap().expect("another width");
    assert!(width < Length::from_mm(110.0) && task.width().unwrap() > Length::from_mm(240.0));
    // The base of 2 mm is hardly warmer than the timber, wide or narrow.
    assert!(later.s() >= 0.0 && later < Span::from_h(2.0), "{later:?}");
    for station in &mut plan.contents.river_mut().expect("a river").stations {
        station.width = Length::from_mm(200.0);
    }
    let found = worked(&plan, &site);
    let task = found.pour_task.expect("a task");
    assert_eq!(task.later_at_narrowest(&found.pours.expect("a plan")), Ok(None));
}

#[test]
fn a_bath_lets_a_block_be_poured_deeper_and_is_followed_to_its_end() {
    let deepest = |by, hours: f64| {
        let mm = Length::from_mm;
        let piece = Piece::slab(mm(150.0), mm(150.0), mm(150.0), Length::ZERO);
        let mut plan = Document::begin(Kind::Embed, "Clear".into(), piece, begin());
        plan.conditions.cooling.by = by;
        plan.conditions.cooling.lasts = Span::from_h(hours);
        let heat = worked(&plan, &site(8, 18, 20.0, 20.0)).heat;
        heat.deepest.expect("a depth").safe_m()
    };
    let still = deepest(CoolingBy::Nothing, 0.0);
    let (short, long) = (deepest(CoolingBy::Bath, 1.0), deepest(CoolingBy::Bath, 0.0));
    // In still air a cube of 111 mm is the largest; in water at 4 °C one of 175 mm.
    assert!(still < 0.150 && long > 0.150, "{still} {long}");
    assert!(short >= 0.98 * still && short < long, "taken out after an hour: {short}");
}

#[test]
fn a_fan_that_is_taken_away_later_hardly_changes_the_sides() {
    let loss = |hours: f64| {
        let mut plan = top();
        plan.conditions.cooling.by = CoolingBy::Fan;
        plan.conditions.cooling.lasts = Span::from_h(hours);
        let task = worked(&plan, &site(8, 18, 20.0, 20.0)).pour_task.expect("a task");
        task.task(&task.ladders()[0]).sides
    };
    let (taken, stays) = (loss(6.0), loss(0.0));
    assert!((taken.loss_w_m3k - stays.loss_w_m3k).abs() < 1.0, "{taken:?} {stays:?}");
    assert!(taken.hard_ratio >= 1.0 && stays.hard_ratio >= 1.0, "{taken:?} {stays:?}");
}
