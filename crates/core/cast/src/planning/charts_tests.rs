//! Charts and changes against what a maker would find.

use super::*;
use crate::document::{Conditions, DepthOverride, Document, Kind};
use crate::heat::Holds;
use crate::heat::conditions::poured;
use crate::{Evaluation, Inputs, Site, evaluate};
use fondant_heat::cooling::Cooling;
use fondant_materials::resin::{Calibration, DeepestAllowed, Record, ResinClass, shipped};
use fondant_numerics::Stop;
use fondant_pours::{ShopHours, Workday};
use fondant_quantities::{Length, Span, Temperature};
use fondant_shapes::form::Piece;
use jiff::civil::Time;

fn plan() -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(1200.0), mm(600.0), mm(60.0), Length::ZERO);
    Document::begin(Kind::River, "x".into(), piece, "2026-11-23T09:00:00Z".parse().unwrap())
}

fn inputs(plan: &Document, resin: &Record) -> Inputs {
    let day = Workday { opens: Time::constant(8, 0, 0, 0), closes: Time::constant(18, 0, 0, 0) };
    let site = Site::plain(ShopHours::new([Some(day); 7], "UTC").unwrap());
    Inputs::new(plan.clone(), resin.clone(), &site)
}

fn worked(plan: &Document, resin: &Record) -> Evaluation {
    evaluate(&inputs(plan, resin), &Stop::NEVER).unwrap()
}

fn slow() -> Record {
    shipped::generic(ResinClass::SlowCasting)
}

#[test]
fn the_strictest_of_model_datasheet_and_rule_holds() {
    let plan = plan();
    let model = worked(&plan, &slow()).heat;
    assert_eq!(model.limits.holds, Holds::Model);
    let mut resin = slow();
    let at = Temperature::from_celsius(20.0);
    resin.datasheet.deepest = Some(DeepestAllowed { depth: Length::from_mm(38.0), at });
    let sheet = worked(&plan, &resin).heat;
    assert_eq!(sheet.limits.holds, Holds::Datasheet);
    assert!((sheet.allowed.mm() - 38.0).abs() < 0.1);
    resin.datasheet.rule_of_thumb = Some(Length::from_mm(30.0));
    let rule = worked(&plan, &resin).heat;
    assert_eq!(rule.limits.holds, Holds::RuleOfThumb);
    assert!((rule.allowed.mm() - 30.0).abs() < 1e-9);
}

#[test]
fn a_deeper_wish_counts_only_with_a_reason() {
    let mut plan = plan();
    let depth = Length::from_mm(70.0);
    plan.depth_override = Some(DepthOverride { depth, reason: " ".into() });
    let without = worked(&plan, &slow()).heat;
    assert!(without.limits.needs_reason && without.allowed < depth);
    plan.depth_override = Some(DepthOverride { depth, reason: "Poured so last year.".into() });
    let with = worked(&plan, &slow()).heat;
    assert_eq!((with.limits.holds, with.allowed), (Holds::Maker, depth));
    plan.depth_override =
        Some(DepthOverride { depth: Length::from_mm(20.0), reason: String::new() });
    let less = worked(&plan, &slow()).heat;
    assert_eq!((less.limits.holds, less.allowed.mm().round()), (Holds::Wish, 20.0));
}

#[test]
fn a_resin_that_has_learnt_is_poured_with_less_caution() {
    let mut resin = slow();
    resin.calibration = Some(Calibration {
        rate: 1.0,
        heat: 1.0,
        covariance: [2e-4, 1e-4, -1e-4],
        lot: "24-07".into(),
        at: jiff::Timestamp::UNIX_EPOCH,
    });
    let (before, after) = (worked(&plan(), &slow()).heat, worked(&plan(), &resin).heat);
    assert!(after.limits.caution < before.limits.caution);
    assert!(after.allowed > before.allowed);
}

#[test]
fn waiting_in_the_bucket_makes_a_fast_resin_hotter() {
    let mut plan = plan();
    plan.conditions.bucket = fondant_quantities::Mass::from_kg(10.0);
    let fast = shipped::generic(ResinClass::FastCasting);
    let evaluation = worked(&plan, &fast);
    let waits = [0.0, 600.0, 1200.0].map(Span::from_s);
    let peaks = peak_by_wait(&inputs(&plan, &fast), &evaluation, &waits, &Stop::NEVER).unwrap();
    assert!(peaks[1].1 > peaks[0].1 && peaks[2].1 > peaks[1].1, "{peaks:?}");
    plan.conditions.waits = Span::from_s(1200.0);
    assert!(worked(&plan, &fast).heat.poured.conversion > 0.0);
}

#[test]
fn changes_are_each_a_run_of_their_own() {
    let plan = plan();
    let medium = shipped::generic(ResinClass::MediumCasting);
    let evaluation = worked(&plan, &medium);
    let all = changes(&inputs(&plan, &medium), &evaluation, Some(&slow()), &Stop::NEVER).unwrap();
    assert_eq!(all.len(), 6);
    for change in &all[1..] {
        assert!(change.peak < all[0].peak, "{change:?}");
    }
    let safe = |change: &Change| change.deepest.unwrap().safe_m();
    assert!(safe(&all[5]) > safe(&all[0]));
}

#[test]
fn the_map_falls_with_warmth_both_ways() {
    let air: Vec<f64> = (0..4).map(|i| 285.15 + 4.0 * f64::from(i)).collect();
    let resin: Vec<f64> = (0..3).map(|i| 288.15 + 6.0 * f64::from(i)).collect();
    let map = depth_map((Cooling::default(), 0.0), &slow().generic(), &air, &resin, &Stop::NEVER);
    for row in &map.depth_m {
        assert!(row.windows(2).all(|pair| pair[1] < pair[0]), "{row:?}");
    }
    for column in 0..air.len() {
        assert!(map.depth_m.windows(2).all(|pair| pair[1][column] < pair[0][column]));
    }
}

/// `.min(449.0)` hid a bucket that runs away: however long it waits, its own temperature is told.
#[test]
fn a_bucket_that_runs_away_is_told_as_hot_as_it_gets() {
    let mut plan = plan();
    plan.conditions.bucket = fondant_quantities::Mass::from_kg(20.0);
    plan.conditions.resin = Temperature::from_celsius(35.0);
    let resin = shipped::generic(ResinClass::Coating);
    let (inputs, mut evaluation) = (inputs(&plan, &resin), worked(&plan, &resin));
    evaluation.batch = plan.conditions.bucket;
    let waits: Vec<Span> = (1..=12).map(|n| Span::from_s(600.0 * f64::from(n))).collect();
    let told = peak_by_wait(&inputs, &evaluation, &waits, &Stop::NEVER).unwrap();
    let conditions = inputs.site.in_mean_air(&plan).conditions;
    let mut ran_away = false;
    for (waits, peak) in told {
        let bucket = Conditions { waits, ..conditions };
        let bucket_k =
            poured(&bucket, evaluation.batch, &evaluation.resin, &Stop::NEVER).unwrap().t_k;
        ran_away |= bucket_k > 450.0;
        assert!(peak.k() >= bucket_k - 1e-6, "{} K of a bucket at {bucket_k} K", peak.k());
    }
    assert!(ran_away);
}

/// Resin that has stood for a time, poured as the chart of waits has it, has the peak of that chart.
#[test]
fn a_bucket_that_stands_makes_its_layer_as_hot_as_the_chart_says() {
    let (plan, resin) = (plan(), shipped::generic(ResinClass::FastCasting));
    let (inputs, evaluation) = (inputs(&plan, &resin), worked(&plan, &resin));
    let wait = Span::from_s(600.0);
    let chart = peak_by_wait(&inputs, &evaluation, &[Span::ZERO, wait], &Stop::NEVER).unwrap();
    let depth = evaluation.measured.filling().depth_in_one().min(evaluation.heat.allowed);
    let document = inputs.site.in_mean_air(&inputs.document);
    let of = |waits| {
        let conditions = Conditions { waits, ..document.conditions };
        let state = poured(&conditions, evaluation.batch, &evaluation.resin, &Stop::NEVER).unwrap();
        let cast = (&document, &evaluation);
        peak_of(cast, &evaluation.resin, depth, state, &Stop::NEVER).unwrap()
    };
    assert!((of(Span::ZERO) - chart[0].1).k().abs() < 1e-6);
    assert!((of(wait) - chart[1].1).k().abs() < 1e-6 && chart[1].1 > chart[0].1);
}
