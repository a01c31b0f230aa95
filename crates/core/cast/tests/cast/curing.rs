//! When a piece is cured through, against the converged columns of an independent implementation.

use fondant_cast::document::{Flood, Stage};
use fondant_cast::planning::{CuredThrough, cured_through};
use fondant_cast::{Document, Evaluation, Inputs, Kind, Site, evaluate};
use fondant_materials::resin::{InLayer, ResinId, shipped};
use fondant_numerics::Stop;
use fondant_pours::layers::Purpose;
use fondant_pours::{ShopHours, Workday};
use fondant_quantities::{Length, Span, Temperature};
use fondant_shapes::form::Piece;

/// A wide shallow block of slow casting resin in a shop of 20 °C, poured at once.
fn block(change: impl FnOnce(&mut Inputs)) -> (Inputs, Evaluation) {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(700.0), mm(600.0), mm(20.0), mm(0.0));
    let begin = "2026-11-23T08:00:00Z".parse().expect("a time");
    let mut document = Document::begin(Kind::Block, "Block".into(), piece, begin);
    document.conditions.air = Temperature::from_celsius(20.0);
    document.conditions.resin = Temperature::from_celsius(20.0);
    let day = Workday::read_day("08:00-18:00").expect("hours");
    let days = vec![day; 7].try_into().expect("seven days");
    let site = Site::plain(ShopHours::new(days, "UTC").expect("hours"));
    let resin = shipped::find(&document.resin).expect("it ships");
    let mut inputs = Inputs::new(document, resin, &site);
    change(&mut inputs);
    let evaluation = evaluate(&inputs, &Stop::NEVER).expect("it is worked out");
    (inputs, evaluation)
}

fn cured((inputs, evaluation): &(Inputs, Evaluation)) -> (CuredThrough, f64) {
    let found = cured_through(inputs, &inputs.document, evaluation, &Stop::NEVER);
    let found = found.expect("it has pour times");
    let done = evaluation.pours.as_ref().expect("pours").pours[0].done;
    let after_h = found.at.map_or(f64::INFINITY, |at| Span::between(done, at).h());
    (found, after_h)
}

/// Converged: 168.3 h for 20 mm and 163.8 h for 30 mm at 20 °C, 172.7 h and 168.6 h at 15 °C.
#[test]
fn the_hour_is_that_of_a_converged_column_of_its_depth() {
    let warm = block(|_| {});
    let (found, after_h) = cured(&warm);
    assert_eq!(warm.1.pours.as_ref().expect("pours").pours.len(), 1);
    assert!(!found.is_by_datasheet && (163.8..168.3).contains(&after_h), "{after_h} h");
    let cold = block(|inputs| {
        inputs.document.conditions.air = Temperature::from_celsius(15.0);
        inputs.document.conditions.resin = Temperature::from_celsius(15.0);
    });
    let (_, after_h) = cured(&cold);
    assert!((168.6..172.7).contains(&after_h), "{after_h} h");
}

#[test]
fn a_datasheet_that_asks_for_longer_is_believed_and_a_shorter_one_is_not() {
    let sheet = |days: f64| {
        block(|inputs| {
            let (after, at) = (Span::from_h(24.0 * days), Temperature::from_celsius(22.0));
            let full = InLayer { after, depth: Length::from_mm(20.0), at };
            inputs.resin.datasheet.full_cure = Some(full);
        })
    };
    let (found, after_h) = cured(&sheet(14.0));
    assert!(found.is_by_datasheet && (after_h - 336.0).abs() < 0.1, "{after_h} h");
    let (found, after_h) = cured(&sheet(5.0));
    assert!(!found.is_by_datasheet && after_h > 160.0, "{after_h} h");
}

/// "Of a cast that names one resin twice, another one's datasheet was asked."
#[test]
fn each_stage_is_asked_of_its_own_resin() {
    let found = block(|inputs| {
        let named = |id: &str| Some(ResinId(id.into()));
        let coating = named(shipped::COATING);
        let stages = &mut inputs.document.stages;
        stages.below = vec![Stage { resin: coating.clone(), ..Stage::begin(Purpose::Base) }];
        stages.above = vec![Stage { resin: coating, ..Stage::begin(Purpose::Top) }];
        stages.flood = Some(Flood::begin(named(shipped::FAST_CASTING)));
        let records = inputs.document.stages.named_resins().map(|id| {
            let mut record = shipped::find(id).expect("it ships");
            let (depth, at) = (Length::from_mm(20.0), Temperature::from_celsius(22.0));
            let days = if id.0 == shipped::FAST_CASTING { 300.0 } else { 1.0 };
            record.datasheet.full_cure =
                Some(InLayer { after: Span::from_h(24.0 * days), depth, at });
            record
        });
        inputs.stage_resins = records.collect();
    });
    let (cured, after_h) = cured(&found);
    assert!(cured.is_by_datasheet && after_h > 24.0 * 300.0, "{after_h} h");
}
