//! The pours of every kind but the river, against arithmetic by hand; what a plan does when nothing
//! can be poured; depths that are searched through whole plans; touches on later pours.

use fondant_cast::document::{Cavities, PourId, Pressed, PressedShape, Split};
use fondant_cast::facts::rest::{self, as_planned, question};
use fondant_cast::facts::{Fact, FactRow, by_facts};
use fondant_cast::pours::{as_given, take};
use fondant_cast::{
    Contents, Document, Evaluation, Inputs, Kind, PourTrouble, Site, Standing, evaluate,
};
use fondant_materials::resin::{ResinClass, shipped};
use fondant_numerics::Stop;
use fondant_pours::simulate::observe::{Observed, Touch};
use fondant_pours::{Break, Joint, ScheduleError, ShopHours, Workday};
use fondant_quantities::{Absorption, Density, Length, Volume};
use fondant_shapes::blanks::{Hollow, Tube};
use fondant_shapes::form::Piece;
use fondant_shapes::timber::{Cavity, CavityShape};
use jiff::SignedDuration;

const fn mm(value: f64) -> Length {
    Length::from_mm(value)
}

fn hours(day: &str) -> ShopHours {
    let day = Workday::read_day(day).expect("hours");
    ShopHours::new(vec![day; 7].try_into().expect("a week"), "UTC").expect("a zone")
}

/// A cast with nothing sawn off, left in buckets, absorbed or poured over.
fn cast(kind: Kind, length: f64, width: f64, thickness: f64) -> Document {
    let piece = Piece {
        flattening: Length::ZERO,
        ..Piece::slab(mm(length), mm(width), mm(thickness), Length::ZERO)
    };
    let mut document = Document::begin(
        kind,
        "By hand".into(),
        piece,
        "2026-11-23T08:00:00Z".parse().expect("a time"),
    );
    document.form.bucket_residue_ratio = 0.0;
    document.form.overfill = Length::ZERO;
    document
}

fn worked(document: &Document, hours: &ShopHours) -> Evaluation {
    let resin = shipped::find(&document.resin).expect("it ships");
    let inputs = Inputs::new(document.clone(), resin, &Site::plain(hours.clone()));
    evaluate(&inputs, &Stop::NEVER).expect("it is worked out")
}

/// Millilitres of each pour.
fn poured_ml(evaluation: &Evaluation) -> Vec<f64> {
    let schedule = evaluation.pours.as_ref().expect("pour times");
    schedule.pours.iter().map(|pour| pour.layer.volume.l() * 1e3).collect()
}

fn assert_close(found: &[f64], by_hand: &[f64]) {
    let near = |(a, b): (&f64, &f64)| (a - b).abs() < 1e-6 * b.max(1.0);
    let same = found.len() == by_hand.len() && found.iter().zip(by_hand).all(near);
    assert!(same, "{found:?}, by hand {by_hand:?}");
}

#[test]
fn three_coats_are_three_pours_of_their_face() {
    let mut document = cast(Kind::Coat, 800.0, 400.0, 30.0);
    let Contents::Coat(coat) = &mut document.contents else { panic!("a coat") };
    (coat.thickness, coat.coats, coat.run_off_ratio, coat.edges) = (mm(1.0), 3, 0.0, false);
    let evaluation = worked(&document, &hours("07:00-22:00"));
    // 0.8 m × 0.4 m × 1 mm each.
    assert_close(&poured_ml(&evaluation), &[320.0; 3]);
    let schedule = evaluation.pours.unwrap();
    for (below, above) in schedule.pours.iter().zip(&schedule.pours[1..]) {
        match above.joint {
            Joint::WetOnTacky => assert!(above.at >= below.opens && above.done <= below.closes),
            // A coat that has set is sanded before the next.
            _ => assert!(above.at > below.closes),
        }
    }
}

#[test]
fn an_inlay_is_poured_by_what_lies_below_each_level() {
    let mut document = cast(Kind::Inlay, 400.0, 200.0, 30.0);
    let pocket = |length: f64, width: f64, depth: f64| Cavity {
        name: "pocket".into(),
        count: 1,
        shape: CavityShape::Pocket,
        length: mm(length),
        width: mm(width),
        depth: mm(depth),
        is_through: false,
    };
    let Contents::Inlay(inlay) = &mut document.contents else { panic!("an inlay") };
    inlay.board.absorption = Absorption::ZERO;
    inlay.cavities = vec![pocket(100.0, 50.0, 10.0), pocket(40.0, 40.0, 6.0)];
    document.pours.split = Split::ByHand { levels: vec![mm(5.0)] };
    let evaluation = worked(&document, &hours("07:00-22:00"));
    // To 5 mm: 100 × 50 × 5 and, as the smaller begins at 4 mm, 40 × 40 × 1. Above it the rest.
    assert_close(&poured_ml(&evaluation), &[25.0 + 1.6, 25.0 + 8.0]);
}

#[test]
fn tubes_are_poured_at_once_round_their_plugs() {
    let mut document = cast(Kind::Tubes, 100.0, 100.0, 30.0);
    let Contents::Tubes(tubes) = &mut document.contents else { panic!("tubes") };
    tubes.count = 12;
    tubes.hollow = Hollow::Round { diameter: mm(24.0), depth: mm(60.0) };
    tubes.tube = Tube { outside: mm(10.0), length: mm(52.0), plugs: mm(6.0) };
    tubes.pot = None;
    let evaluation = worked(&document, &hours("07:00-22:00"));
    // 12 × π/4 (24² × 60 − 10² × 58) mm³.
    let by_hand =
        12.0 * std::f64::consts::FRAC_PI_4 * (24.0 * 24.0 * 60.0 - 10.0 * 10.0 * 58.0) / 1e3;
    assert_close(&poured_ml(&evaluation), &[by_hand]);
}

#[test]
fn moulds_are_poured_net_of_the_timber_in_each() {
    let mut document = cast(Kind::Moulds, 100.0, 100.0, 30.0);
    let Contents::Moulds(moulds) = &mut document.contents else { panic!("moulds") };
    let hollow = Hollow::Box { length: mm(60.0), width: mm(40.0), depth: mm(12.0) };
    let shape = PressedShape::Volume { volume: Volume::from_l(0.010) };
    let density = Density::from_kg_m3(650.0);
    let pressed = Some(Pressed { count: 1, shape, density, is_sealed: false });
    moulds.cavities = vec![Cavities { pressed, ..Cavities::empty(24, hollow) }];
    moulds.pot = None;
    let evaluation = worked(&document, &hours("07:00-22:00"));
    // 24 × (60 × 40 × 12 mm³ − 10 mL).
    assert_close(&poured_ml(&evaluation), &[24.0 * (28.8 - 10.0)]);
}

#[test]
fn a_shop_that_is_never_open_long_enough_pours_nothing_and_says_so() {
    let document = cast(Kind::Embed, 300.0, 300.0, 40.0);
    let evaluation = worked(&document, &hours("12:00-12:05"));
    let refused = evaluation.pours.as_ref().expect_err("nothing can be poured");
    let hands = match refused {
        PourTrouble::Schedule(ScheduleError::NoTimeToPour { hands }) => *hands,
        other => panic!("{other:?}"),
    };
    assert!(hands.s() > 300.0, "it takes longer than the shop is open");
    // What it takes is known all the same.
    assert!(evaluation.measured.sizing.total.l() > 3.0);
    assert_eq!(evaluation.standing, Standing::Proposed);
}

#[test]
fn searched_depths_are_never_worse_than_the_fewest_layers() {
    let mut document = cast(Kind::Inlay, 900.0, 400.0, 60.0);
    let Contents::Inlay(inlay) = &mut document.contents else { panic!("an inlay") };
    inlay.board.absorption = Absorption::ZERO;
    inlay.cavities[0] = Cavity {
        shape: CavityShape::Pocket,
        length: mm(600.0),
        width: mm(250.0),
        depth: mm(33.5),
        ..inlay.cavities[0].clone()
    };
    let hours = hours("08:00-18:00");
    let fewest = worked(&document, &hours);
    document.pours.split = Split::Search;
    let searched = worked(&document, &hours);
    let total: f64 = poured_ml(&searched).iter().sum();
    assert!((total - 600.0 * 250.0 * 33.5 / 1e3).abs() < 1e-3, "{total}");
    let (fewest, searched) = (fewest.pours.unwrap(), searched.pours.unwrap());
    assert!(searched.breaks.is_empty());
    // The quick search stops within an hour of the best.
    assert!(searched.hard <= fewest.hard + SignedDuration::from_hours(1));
    let deepest = searched.pours.iter().map(|pour| pour.layer.depth().mm()).fold(0.0, f64::max);
    assert!(deepest < 33.5, "a medium resin is not poured 33.5 mm deep");
}

#[test]
fn a_touch_on_a_later_pour_moves_that_pour() {
    let mut document = cast(Kind::Inlay, 900.0, 400.0, 60.0);
    let Contents::Inlay(inlay) = &mut document.contents else { panic!("an inlay") };
    inlay.cavities[0].depth = mm(18.0);
    document.pours.split = Split::Equal { count: 3 };
    let hours = hours("00:00-23:45");
    let schedule = worked(&document, &hours).pours.expect("pour times");
    let mut next = 0;
    take(&mut document.pours, &as_given(&schedule), || {
        next += 1;
        PourId(next)
    });
    let evaluation = worked(&document, &hours);
    let task = evaluation.pour_task.expect("a task");
    let given = task.taken().expect("taken");
    let rows: Vec<FactRow> = (1..)
        .zip(&given[..2])
        .map(|(number, planned)| FactRow {
            number,
            fact: Fact::Poured { pour: planned.id, at: planned.given.at, resin_at: None },
            recorded_at: planned.given.at,
        })
        .collect();
    let second = &schedule.pours[1];
    let touched = |found, hours: i64| {
        let at = second.opens + SignedDuration::from_hours(hours);
        let fact = Fact::Touched { pour: given[1].id, at, found, cup: None };
        let rows: Vec<FactRow> =
            rows.iter().cloned().chain([FactRow { number: 9, fact, recorded_at: at }]).collect();
        by_facts(&task, &given, &rows).expect("it follows")
    };
    let (slow, fast) = (touched(Touch::Clear, 2), touched(Touch::Tacky, -1));
    assert!(slow.rates.of(0) < 1.0 && slow.schedule.pours[1].opens > second.opens);
    assert!(fast.rates.of(0) > 1.0 && fast.schedule.pours[1].opens < second.opens);
    // A pour dragged while another has happened is judged by what has happened.
    let early = second.opens - SignedDuration::from_hours(1);
    let moved = rest::moved(&task, &given, &rows, (2, early)).expect("it follows");
    assert_eq!(moved.pours[0].at, schedule.pours[0].at);
    assert!(moved.breaks.iter().any(|b| matches!(b, Break::NotSticky { pour: 2, .. })));
    assert_eq!(as_planned(&given, &rows, &moved)[2].at, early);
    // Two touches that cannot both be: the one further from the model is the suspect.
    let touch = |found, at| Fact::Touched { pour: given[1].id, at, found, cup: None };
    let hard_soon = touch(Touch::Hard, second.opens - SignedDuration::from_hours(2));
    let asked = question(&task, &given, &rows, &hard_soon).expect("it follows");
    assert!(asked.is_some_and(|q| q.is_beyond || q.rate > 1.3), "{asked:?}");
    let known = FactRow { number: 9, fact: hard_soon, recorded_at: second.opens };
    let with: Vec<FactRow> = rows.iter().cloned().chain([known]).collect();
    let sticky = touch(Touch::Tacky, second.opens + SignedDuration::from_mins(30));
    assert_eq!(question(&task, &given, &rows, &sticky).expect("it follows"), None);
    let asked = question(&task, &given, &with, &sticky).expect("it follows").expect("a question");
    assert_eq!(asked.suspect.map(|row| row.number), Some(9), "{asked:?}");
    let third = |observed: &Observed| observed.schedule.pours[2].opens;
    assert!(third(&fast) < third(&slow));
}

/// An inlay of 18 mm in three layers of 6 mm, of which one is in, becomes 30 mm deep, or shallower.
#[test]
fn what_is_in_stays_where_the_form_becomes_another() {
    let mut document = cast(Kind::Inlay, 900.0, 400.0, 60.0);
    let deep = |document: &mut Document, depth: f64| {
        let Contents::Inlay(inlay) = &mut document.contents else { panic!("an inlay") };
        inlay.cavities[0].depth = mm(depth);
    };
    deep(&mut document, 18.0);
    document.pours.split = Split::Equal { count: 3 };
    let hours = hours("00:00-23:45");
    let schedule = worked(&document, &hours).pours.expect("pour times");
    let mut next = 0;
    take(&mut document.pours, &as_given(&schedule), || {
        next += 1;
        PourId(next)
    });
    let first = document.pours.taken[0];
    let fact = Fact::Poured { pour: first.id, at: first.at, resin_at: None };
    let rows = [FactRow { number: 1, fact, recorded_at: first.at }];
    let now = first.at + SignedDuration::from_hours(1);
    let over = |document: &Document, rows: &[FactRow]| {
        let evaluation = worked(document, &hours);
        assert_eq!(evaluation.standing, Standing::Outdated);
        rest::over_poured(&evaluation.pour_task.expect("a task"), rows, now)
    };
    deep(&mut document, 30.0);
    assert!(over(&document, &[]).is_none(), "nothing is in: all of it is planned");
    let (planned, schedule) = over(&document, &rows).expect("something comes over it");
    assert_eq!((planned[0].id, planned[0].given.at), (first.id, first.at));
    assert!(schedule.breaks.is_empty(), "{:?}", schedule.breaks);
    let ends: Vec<f64> = planned.iter().map(|pour| pour.given.layer.to.mm()).collect();
    assert!((ends[0] - 6.0).abs() < 1e-6 && (ends[ends.len() - 1] - 30.0).abs() < 1e-6, "{ends:?}");
    assert!(ends.is_sorted());
    for (pour, below) in schedule.pours.iter().zip(&schedule.pours[1..]).map(|(b, p)| (p, b)) {
        assert!(pour.at > now && pour.at >= below.opens, "{} before {}", pour.at, below.opens);
    }
    // Taken, it is the plan of this form.
    let given: Vec<_> = planned.iter().map(|pour| pour.given).collect();
    let mut taken = document.clone();
    take(&mut taken.pours, &given, || {
        next += 1;
        PourId(next)
    });
    assert_eq!(taken.pours.taken[0], first);
    assert_eq!(worked(&taken, &hours).standing, Standing::Taken);
    deep(&mut document, 5.0);
    assert!(over(&document, &rows).is_none(), "6 mm are in");
}

/// Blanks of casting urethane, 22 g each: a lone cavity of 22.5 g that loses 22 W/(m²·K) over
/// 52 cm² peaks at 59.1 °C.
#[test]
fn blanks_of_urethane_are_one_pour_of_a_batch_each() {
    let mut document = cast(Kind::Tubes, 75.0, 22.0, 22.0);
    document.resin = shipped::generic(ResinClass::Urethane).id.clone();
    let Contents::Tubes(tubes) = &mut document.contents else { panic!("tubes") };
    tubes.count = 24;
    tubes.hollow = Hollow::Round { diameter: mm(22.0), depth: mm(75.0) };
    tubes.tube = Tube { outside: mm(11.0), length: mm(60.0), plugs: mm(15.0) };
    tubes.pot = None;
    let evaluation = worked(&document, &hours("07:00-22:00"));
    // π/4 (22² − 11²) × 75 mm³ of 1049.1 kg/m³.
    let each = std::f64::consts::FRAC_PI_4 * (22.0 * 22.0 - 11.0 * 11.0) * 75.0 * 1.0491e-3;
    assert!((each - 22.43).abs() < 0.01);
    let grams = evaluation.measured.sizing.total.l() * 1049.1;
    assert!((grams - 24.0 * each).abs() < 0.5, "{grams}");
    let schedule = evaluation.pours.as_ref().expect("pour times");
    assert_eq!(schedule.pours.len(), 1);
    let peak_c = schedule.peak().celsius();
    assert!((peak_c - 59.1).abs() < 3.0, "{peak_c} °C");
    // What is mixed at a time is what the blanks take, not the shop's largest bucket.
    assert!((evaluation.batch.kg() * 1e3 - grams).abs() < 1e-6, "{:?}", evaluation.batch);
}

/// A middle cavity has less of the mould to warm, and no face of its own that cools.
#[test]
fn a_cavity_among_others_is_warmer_than_one_alone() {
    let peak_c = |count: u32| {
        let mut document = cast(Kind::Tubes, 75.0, 22.0, 22.0);
        document.resin = shipped::generic(ResinClass::Urethane).id.clone();
        let Contents::Tubes(tubes) = &mut document.contents else { panic!("tubes") };
        tubes.count = count;
        worked(&document, &hours("07:00-22:00")).heat.whole.expect("a peak").peak.celsius()
    };
    let (one, row, many) = (peak_c(1), peak_c(2), peak_c(12));
    assert!(one < row && row < many, "{one} {row} {many}");
}

/// Narrow hollows of a board lose their heat to it sideways, by their own three dimensions.
#[test]
fn a_crack_is_cooler_than_a_pocket_as_deep() {
    let peak_c = |width: f64| {
        let mut document = cast(Kind::Inlay, 400.0, 200.0, 30.0);
        document.resin = shipped::generic(ResinClass::Coating).id.clone();
        let Contents::Inlay(inlay) = &mut document.contents else { panic!("an inlay") };
        inlay.cavities = vec![Cavity {
            name: "hollow".into(),
            count: 1,
            shape: CavityShape::Pocket,
            length: mm(150.0),
            width: mm(width),
            depth: mm(12.0),
            is_through: false,
        }];
        worked(&document, &hours("07:00-22:00")).heat.whole.expect("a peak").peak.celsius()
    };
    let (crack, pocket) = (peak_c(6.0), peak_c(80.0));
    // A slab of 12 mm of this resin peaks at 68.6 °C at 22 °C.
    assert!(crack < 40.0 && pocket > crack + 10.0 && pocket < 70.0, "{crack} {pocket}");
}
