use super::*;
use crate::document::Document;
use crate::planning::peak_by_depth;
use crate::{PourTrouble, Site};
use fondant_materials::resin::{ResinId, shipped};
use fondant_pours::{ShopHours, Workday};
use fondant_quantities::{Absorption, Density, Length, Temperature, TemperatureDelta, Volume};
use fondant_shapes::form::Piece;
use fondant_shapes::timber::Station;
use jiff::civil::Time;

fn hours() -> ShopHours {
    let day = Workday { opens: Time::constant(8, 0, 0, 0), closes: Time::constant(18, 0, 0, 0) };
    ShopHours::new([Some(day); 7], "UTC").unwrap()
}

/// 1.5 m × 0.76 m × 34 mm finished, a river of 200–300 mm between 38 mm boards.
fn river_top() -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(1500.0), mm(760.0), mm(34.0), mm(10.0));
    let mut plan =
        Document::river_top("Top".into(), piece, "2026-11-23T09:00:00Z".parse().unwrap());
    plan.contents.river_mut().unwrap().stations =
        [(0.0, 217.0), (500.0, 281.0), (1000.0, 137.0), (1520.0, 186.0)]
            .map(|(at, width)| Station { at: mm(at), width: mm(width), from_wall: None })
            .to_vec();
    for board in &mut plan.contents.river_mut().unwrap().boards {
        board.absorption = Absorption::ZERO;
    }
    plan
}

fn inputs(plan: &Document, hours: &ShopHours) -> Inputs {
    let resin = shipped::find(&plan.resin).unwrap();
    Inputs::new(plan.clone(), resin, &Site::plain(hours.clone()))
}

fn worked(plan: &Document, hours: &ShopHours) -> Result<Evaluation, NotEvaluated> {
    evaluate(&inputs(plan, hours), &Stop::NEVER)
}

#[test]
fn a_worked_job_comes_out_as_by_hand() {
    let evaluation = worked(&river_top(), &hours()).unwrap();
    // Mean width by trapezoids: (500·249 + 500·209 + 520·161.5) / 1520 = 205.911 mm.
    let mean = evaluation.measured.river.as_ref().unwrap().mean_width().mm();
    assert!((mean - 205.9079).abs() < 1e-3, "{mean}");
    // River 1.520 × 0.2059079 × 38 mm, base 1.52 × 0.78 × 2 mm, overfill 2 mm, 3 % on top.
    let litres = (1.52 * 0.205_907_9 * 40.0 + 1.52 * 0.78 * 2.0) * 1.03;
    assert!((evaluation.measured.sizing.total.l() - litres).abs() < 1e-3);
    assert!((evaluation.own().parts.mass.kg() - litres * 1.1).abs() < 1e-3);
    let board = (1.52 * 0.78 - 1.52 * 0.205_907_9) / 2.0 * 0.038;
    assert!((evaluation.held[0].lift.hold_down.kg() - 2.0 * board * 450.0).abs() < 1e-2);
}

#[test]
fn layers_are_no_deeper_than_allowed_and_their_volume_is_what_is_poured() {
    let evaluation = worked(&river_top(), &hours()).unwrap();
    let schedule = evaluation.pours.unwrap();
    assert!(schedule.pours.len() >= 2);
    for pour in &schedule.pours {
        assert!(pour.layer.depth().m() <= evaluation.heat.allowed.m() + 1e-9);
    }
    let sum: Volume = schedule.pours.iter().map(|p| p.layer.volume).sum();
    assert!((sum.l() - evaluation.measured.sizing.poured.l()).abs() < 1e-9);
    assert!(schedule.peak() <= evaluation.resin.working.peak_limit);
}

#[test]
fn a_warmer_shop_runs_hotter_and_allows_less_depth() {
    let at = |celsius: f64| {
        let mut plan = river_top();
        plan.conditions.air = Temperature::from_celsius(celsius);
        worked(&plan, &hours()).unwrap().heat
    };
    let (cool, warm) = (at(18.0), at(24.0));
    assert!(warm.whole.unwrap().peak > cool.whole.unwrap().peak);
    assert!(warm.allowed < cool.allowed);
}

#[test]
fn a_coating_resin_needs_many_thin_layers() {
    let mut plan = river_top();
    plan.resin = ResinId("coating-epoxy".into());
    let coating = worked(&plan, &hours()).unwrap();
    let slow = worked(&river_top(), &hours()).unwrap();
    assert!(coating.heat.whole.unwrap().margin < TemperatureDelta::ZERO);
    let pours = |e: &Result<Schedule, PourTrouble>| e.as_ref().map_or(0, |s| s.pours.len());
    assert!(pours(&coating.pours) > pours(&slow.pours));
}

#[test]
fn a_plan_in_conflict_is_not_worked_out() {
    let mut plan = river_top();
    plan.contents.river_mut().unwrap().boards[1].density = Density::from_kg_m3(9.0);
    let Err(NotEvaluated::Conflicts(found)) = worked(&plan, &hours()) else { panic!("refused") };
    assert!(matches!(found[..], [Conflict::OutOfRange(_)]), "{found:?}");
}

#[test]
fn the_depth_curve_rises_through_the_whole_pour() {
    let plan = river_top();
    let evaluation = worked(&plan, &hours()).unwrap();
    let curve = peak_by_depth(&inputs(&plan, &hours()), &evaluation, &Stop::NEVER).unwrap();
    assert!(curve.windows(2).all(|pair| pair[1].peak > pair[0].peak));
    let whole = evaluation.heat.whole.unwrap();
    let after = curve.partition_point(|point| point.depth < whole.depth);
    assert!(curve[after - 1].peak < whole.peak && whole.peak <= curve[after].peak);
    let limit = evaluation.resin.working.peak_limit;
    assert!(curve[curve.len() - 1].peak > limit, "the curve passes the limit");
}

#[test]
fn a_fast_resin_is_followed_until_it_has_cooled() {
    let mut plan = river_top();
    plan.resin = ResinId("medium-casting-epoxy".into());
    let whole = worked(&plan, &hours()).unwrap().heat.whole.unwrap();
    let hard_s = whole.events.hard_s.unwrap();
    let last = whole.trace.samples.last().unwrap();
    assert!(last.t_s > hard_s, "hard at {hard_s} s, shown to {} s", last.t_s);
    assert!(last.hottest_k - plan.conditions.air.k() < 3.0);
}
