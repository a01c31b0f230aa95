//! What a plan obeys beside the heat: the air at each pour, the work before the first, the present;
//! a day and night shop at 82 % humidity by hand.

use fondant_cast::document::{AirFrom, Flood, PourId, TakenPour};
use fondant_cast::planning::{Fix, offers};
use fondant_cast::{Document, Evaluation, Inputs, Kind, PourTrouble, Site, Standing, evaluate};
use fondant_heat::climate::profile::{DayNight, Known, Profile, Way};
use fondant_heat::climate::trouble::TroubleKind;
use fondant_materials::resin::{ResinId, shipped};
use fondant_numerics::Stop;
use fondant_pours::{Break, ScheduleError, ScheduledPour, ShopHours, Workday};
use fondant_quantities::{Length, Span, Temperature};
use fondant_shapes::form::Piece;
use jiff::civil::Time;
use jiff::{SignedDuration, Timestamp};

fn begin() -> Timestamp {
    "2026-11-23T08:00:00Z".parse().expect("a time")
}

fn after(hours: i64) -> Timestamp {
    begin() + SignedDuration::from_hours(hours)
}

/// Open from 8 to 18, with air between two temperatures and as much water in it as gives this
/// humidity in its mean.
fn site(coldest: f64, warmest: f64, humidity_percent: f64) -> Site {
    let day = Workday::read_day("08:00-18:00").expect("hours");
    let hours = ShopHours::new(vec![day; 7].try_into().expect("a week"), "UTC").expect("a zone");
    let c = Temperature::from_celsius;
    let day_night = DayNight {
        coldest: c(coldest),
        warmest: c(warmest),
        warmest_at: Time::constant(15, 0, 0, 0),
        humidity_percent,
    };
    let profile = Profile { by: Way::DayNight, day_night, ..Profile::default() };
    let air = profile.series(hours.zone(), after(-48), after(1500), Known::default());
    Site { air: air.expect("a series"), ..Site::plain(hours) }
}

fn document(kind: Kind) -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(600.0), mm(300.0), mm(30.0), Length::ZERO);
    let mut document = Document::begin(kind, "x".into(), piece, begin());
    document.conditions.air_from = AirFrom::Shop;
    document
}

fn inputs(document: &Document, site: &Site) -> Inputs {
    Inputs::new(document.clone(), shipped::find(&document.resin).expect("it ships"), site)
}

fn worked(document: &Document, site: &Site) -> Evaluation {
    evaluate(&inputs(document, site), &Stop::NEVER).expect("it is worked out")
}

/// "A coat whose resin needs 18 °C made the base break, which stands 16 °C."
#[test]
fn a_layer_is_judged_by_the_air_that_its_own_resin_stands() {
    let mut document = document(Kind::River);
    document.resin = ResinId(shipped::MEDIUM_CASTING.into());
    let site = site(16.5, 17.5, 50.0);
    let evaluation = worked(&document, &site);
    let schedule = evaluation.pours.as_ref().expect("medium resin cures at 16 °C");
    assert!(schedule.breaks.is_empty(), "{:?}", schedule.breaks);
    let id = |place: usize| PourId::of_place(place);
    let taken = |(place, pour): (usize, &ScheduledPour)| TakenPour {
        id: id(place),
        at: pour.at,
        to: pour.layer.to,
    };
    document.pours.taken = schedule.pours.iter().enumerate().map(taken).collect();
    let coat = document.pours.taken.len();
    document.stages.flood = Some(Flood::begin(Some(ResinId(shipped::COATING.into()))));
    let top = evaluation.measured.surfaces().face + Flood::THICKNESS;
    let at = schedule.form_opens() + SignedDuration::from_hours(48);
    document.pours.taken.push(TakenPour { id: id(coat), at, to: top });
    let coating = shipped::find(&ResinId(shipped::COATING.into())).expect("it ships");
    let coated = inputs(&document, &site).with_stage_resins(vec![coating]);
    let coated = evaluate(&coated, &Stop::NEVER).expect("it is worked out");
    assert_eq!(coated.standing, Standing::Taken);
    let breaks = &coated.pours.as_ref().expect("pours").breaks;
    let cold: Vec<usize> = breaks
        .iter()
        .filter_map(|broken| match broken {
            Break::UnfitAir { pour, unfit } if unfit.kind == TroubleKind::Cold => Some(*pour),
            _ => None,
        })
        .collect();
    assert_eq!(cold, [coat], "{breaks:?}");
}

#[test]
fn nothing_is_poured_in_damp_air_but_later_that_day() {
    // Of 82 % in the mean between 14 and 22 °C: damp in the morning, drier as it warms.
    let site = site(14.0, 22.0, 82.0);
    let document = document(Kind::Coat);
    let evaluation = worked(&document, &site);
    let schedule = evaluation.pours.as_ref().expect("pour times");
    let limits = site.air_limits(&evaluation.resin);
    for pour in &schedule.pours {
        let mut at = pour.at;
        while at <= pour.done {
            let air = site.air.at(at);
            assert!(air.humidity_percent < limits.humidity_stop_percent, "{at}");
            assert!(air.temperature >= limits.coldest, "{at}");
            let over = Temperature::from_celsius(20.0) - site.air.dew_point(at);
            assert!(over.k() >= 3.0, "{at}: {} K", over.k());
            at += SignedDuration::from_mins(15);
        }
    }
    // At eight the air is as damp as at night.
    assert!(schedule.pours[0].at > after(0), "{}", schedule.pours[0].at);
    assert!(site.air.at(after(0)).humidity_percent >= limits.humidity_stop_percent);
}

#[test]
fn air_that_is_never_fit_is_told_with_what_would_help() {
    let site = site(20.0, 20.0, 90.0);
    let mut document = document(Kind::Coat);
    let evaluation = worked(&document, &site);
    let Err(PourTrouble::Schedule(ScheduleError::NoFitAir { least })) = &evaluation.pours else {
        panic!("{:?}", evaluation.pours.map(|s| s.pours.len()))
    };
    assert_eq!(least.kind, TroubleKind::TooHumid);
    assert!((least.figure - 90.0).abs() < 0.5, "{least:?}");
    let found = offers(&inputs(&document, &site), &evaluation, &[], &Stop::NEVER);
    let dried = found.iter().find_map(|offer| match offer.fix {
        Fix::Dry(percent) => Some(percent),
        _ => None,
    });
    assert_eq!(dried, Some(75.0), "the smallest that helps: {found:?}");
    document.conditions.dried_to_percent = dried;
    assert!(worked(&document, &site).pours.is_ok());
    document.conditions.dried_to_percent = None;
    document.pours.outside_air = "a test piece".into();
    assert!(worked(&document, &site).pours.is_ok(), "lifted with a reason");
}

/// Heating lowers the relative humidity.
#[test]
fn a_heater_dries_cool_air() {
    let (site, document) = (site(16.0, 16.0, 88.0), document(Kind::Coat));
    let evaluation = worked(&document, &site);
    assert!(evaluation.pours.is_err(), "88 % at 16 °C");
    let found = offers(&inputs(&document, &site), &evaluation, &[], &Stop::NEVER);
    assert!(
        found.iter().any(|offer| matches!(offer.fix, Fix::Heat(k) if k.k() > 0.0)),
        "{found:?}"
    );
}

#[test]
fn a_pour_dragged_into_damp_air_is_told_of() {
    let site = site(14.0, 22.0, 82.0);
    let document = document(Kind::Coat);
    let evaluation = worked(&document, &site);
    let task = evaluation.pour_task.as_ref().expect("a task");
    let mut given = fondant_cast::pours::as_given(evaluation.pours.as_ref().expect("pour times"));
    given[0].at = after(0);
    let is_air = |b: &Break| matches!(b, Break::UnfitAir { pour: 0, .. });
    assert!(task.judged(&given).expect("judged").breaks.iter().any(is_air));
    given[0].is_poured = true;
    assert!(!task.judged(&given).expect("judged").breaks.iter().any(is_air), "it has happened");
}

#[test]
fn the_first_pour_waits_for_the_form() {
    let site = site(20.0, 20.0, 50.0);
    let mut document = document(Kind::Block);
    let first =
        |document: &Document| worked(document, &site).pours.expect("pour times").pours[0].at;
    assert_eq!(first(&document), begin(), "all is ready");
    document.pours.lead = None;
    // Two hours and a day at the least: a form of five sheets and its sealant.
    assert!(first(&document) > after(25), "{}", first(&document));
    document.pours.lead = Some(Span::from_h(3.0));
    assert_eq!(first(&document), after(3));
}

#[test]
fn nothing_is_proposed_in_the_past() {
    let site = site(20.0, 20.0, 50.0);
    let document = document(Kind::Coat);
    let now = after(50) + SignedDuration::from_mins(20);
    let late = inputs(&document, &site).at(now);
    let evaluation = evaluate(&late, &Stop::NEVER).expect("it is worked out");
    assert_eq!(evaluation.pours.expect("pour times").pours[0].at, after(51), "the next full hour");
    let early = inputs(&document, &site).at(after(-5));
    assert_eq!(early.now, None, "what begins later does not depend on the hour");
}
