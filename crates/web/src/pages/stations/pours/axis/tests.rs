use super::*;
use crate::sample::{METRIC, begin, hours, river_top, worked};
use crate::svg::{FULL, NARROW};
use fondant_cast::Document;
use fondant_cast::document::PourId;
use fondant_heat::climate::AirSeries;
use fondant_heat::climate::trouble::{Trouble, TroubleKind};
use fondant_pours::ShopHours;
use fondant_pours::simulate::observe::Touch;
use fondant_quantities::Temperature;
use jiff::Timestamp;

fn drawn(plan: &Document, shop: &ShopHours, now: Timestamp, frame: Frame) -> String {
    let evaluation = worked(plan, shop).unwrap();
    let schedule = evaluation.pours.as_ref().unwrap();
    let hard = "hard: open the form";
    let air = AirSeries::steady(Temperature::from_celsius(20.0), 50.0);
    let limits = fondant_cast::Site::plain(shop.clone()).air_limits(&evaluation.resin);
    let cold = Trouble {
        kind: TroubleKind::Cold,
        from: schedule.pours[0].at,
        to: schedule.pours[0].opens,
        worst: 282.0,
    };
    let view = HoursAxis {
        schedule,
        hours: shop,
        air: &air,
        limits,
        troubles: &[cold],
        touches: &[(0, schedule.pours[0].opens, Touch::Clear)],
        ids: &[PourId(11), PourId(12)],
        poured: 1,
        takes_facts: true,
        now,
        hard,
        shown: METRIC,
    };
    draw(&view, frame).into_string()
}

#[test]
fn the_air_its_trouble_touches_and_acts_are_drawn() {
    let svg = drawn(&river_top(), &hours(8, 18), begin(), FULL);
    assert!(svg.contains("class=\"air-band\"") && svg.contains(">too cold<"));
    assert!(svg.contains("class=\"touch clear\"") && svg.contains("class=\"cover\""));
    assert!(svg.matches("class=\"watch\"").count() >= 2);
}

#[test]
fn what_happened_is_written_on_rows_that_have_begun_and_only_up_to_now() {
    let shop = hours(8, 18);
    let evaluation = worked(&river_top(), &shop).unwrap();
    let pours = &evaluation.pours.as_ref().unwrap().pours;
    assert!(pours.len() > 1);
    let early = drawn(&river_top(), &shop, pours[0].at, FULL);
    assert!(!early.contains("row-reach"), "nothing has happened yet");
    let later = drawn(&river_top(), &shop, pours[0].at + SignedDuration::from_hours(3), FULL);
    assert_eq!(later.matches("row-reach").count(), 2, "touches of one, the pour of the next");
    assert_eq!(later.matches("data-poured=\"1\"").count(), 1);
    assert!(later.contains("data-id=\"11\"") && later.contains("data-id=\"12\""));
}

#[test]
fn the_name_of_a_day_is_never_cut_off() {
    // Where the axis begins at noon the first name would stand on its edge.
    let mut late = river_top();
    late.pours.not_before = begin() + SignedDuration::from_hours(8);
    let svg = drawn(&late, &hours(8, 19), begin(), NARROW);
    for name in svg.split("class=\"mid bold\" x=\"").skip(1) {
        let x: f64 = name.split('"').next().unwrap().parse().unwrap();
        assert!((12.0..=NARROW.width - 12.0).contains(&x), "{x}");
    }
    assert!(svg.contains("class=\"mid bold\""), "days are named: {svg}");
}

#[test]
fn what_is_poured_stays_and_the_rest_can_be_moved() {
    let svg = drawn(&river_top(), &hours(8, 18), begin(), FULL);
    assert!(!svg.contains("data-pour=\"0\"") && svg.contains("data-pour=\"1\""));
    assert!(svg.contains("data-from=") && svg.contains("role=\"slider\""));
}

#[test]
fn every_layer_has_a_wedge_a_roof_and_a_flag_with_its_hour() {
    let (plan, shop) = (river_top(), hours(8, 18));
    let evaluation = worked(&plan, &shop).unwrap();
    let schedule = evaluation.pours.as_ref().unwrap();
    let svg = drawn(&plan, &shop, begin(), FULL);
    assert_eq!(svg.matches("class=\"resin-solid\"").count(), schedule.pours.len());
    assert_eq!(svg.matches("class=\"brass\"").count(), schedule.pours.len());
    for pour in &schedule.pours {
        assert!(svg.contains(&METRIC.day_and_time(pour.at, shop.zone())));
    }
    assert!(svg.contains(">Base<") && svg.contains(">Layer 1<"));
    assert!(svg.contains("hard: open the form"));
}

#[test]
fn closed_hours_are_shaded_and_now_is_drawn_only_while_it_is_on_the_axis() {
    let (plan, shop) = (river_top(), hours(8, 18));
    let svg = drawn(&plan, &shop, begin() + SignedDuration::from_hours(20), FULL);
    assert!(svg.matches("class=\"night\"").count() >= 2);
    assert!(svg.contains(">now<"));
    let later = drawn(&plan, &shop, begin() + SignedDuration::from_hours(2400), FULL);
    assert!(!later.contains(">now<"));
}

#[test]
fn a_missed_window_ends_in_hard_and_sanding() {
    let mut plan = river_top();
    plan.conditions.air = Temperature::from_celsius(26.0);
    plan.conditions.resin = Temperature::from_celsius(26.0);
    let svg = drawn(&plan, &hours(10, 11), begin(), FULL);
    assert!(svg.contains("hard: sand"));
}

#[test]
fn a_phone_names_layers_beside_their_flags() {
    let svg = drawn(&river_top(), &hours(8, 18), begin(), NARROW);
    assert!(svg.contains(">Base: "));
}
