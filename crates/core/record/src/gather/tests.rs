use fondant_bench::weighing::Part;
use fondant_bench::{Happening, Row, RunPlan};
use fondant_materials::resin::{ResinClass, shipped};
use fondant_pours::layers::LayerKind;
use fondant_quantities::{Length, Temperature};

use super::*;

pub(crate) fn plan() -> RunPlan {
    let resin = shipped::model(ResinClass::SlowCasting);
    RunPlan {
        pour: None,
        layer: LayerKind::Main(1),
        mixed: Volume::from_l(2.0),
        in_form: Volume::from_l(2.0),
        from: Length::ZERO,
        to: Length::from_mm(20.0),
        batch: Mass::from_kg(1.1),
        bucket: Mass::from_kg(5.0),
        resin_at: Temperature::from_celsius(23.0),
        air: Temperature::from_celsius(20.0),
        mixing: Span::from_s(300.0),
        ready: vec![ReadyItem::Level, ReadyItem::Release],
        window: None,
        watch: Span::from_s(1800.0),
        cover: Span::from_h(5.0),
        gels: Span::from_h(8.0),
        pot_bar: None,
        pot_levels: Vec::new(),
        out_of_pot: 0,
        vacuum_mbar: None,
        chill: None,
        recipe: Vec::new(),
        cups: Vec::new(),
        join: None,
        resin,
    }
}

/// A run of two buckets of 1 and 1.2 kg, the second 6 % rich in B; a row a minute.
fn run() -> Run {
    let plan = plan();
    let a_share = plan.resin.mix.share_a_by_mass();
    let kg = Mass::from_kg;
    let mut all = vec![Happening::Ready { item: ReadyItem::Level }];
    for (batch, mass, off, warm, tint) in [(1, 1.0, 1.0, 22.0, 0.02), (2, 1.2, 1.06, 17.5, 0.03)] {
        let (a, b) = (a_share * mass, (1.0 - a_share) * mass * off);
        all.extend([
            Happening::Weighed { batch, part: Part::A, mass: kg(a) },
            Happening::Weighed { batch, part: Part::B, mass: kg(b) },
            Happening::Tinted { batch, colour: "blue".into(), mass: kg(tint * (a + b)) },
            Happening::MixBegun {
                batch,
                resin_at: Some(Temperature::from_celsius(warm)),
                lot: Some("L7".into()),
            },
            Happening::SecondPot { batch },
            Happening::Noted { note: "slow".into() },
            Happening::MixEnded { batch },
            Happening::PourBegun { batch },
            Happening::PourEnded { batch, left: kg(0.1), is_full: false },
        ]);
    }
    all.push(Happening::Watched);
    Run::of(plan, &a_row_a_minute(all))
}

/// What happened, as the rows of a run.
pub(crate) fn a_row_a_minute(all: impl IntoIterator<Item = Happening>) -> Vec<Row> {
    let row = |(number, what)| Row {
        number,
        at: Timestamp::UNIX_EPOCH + SignedDuration::from_mins(number),
        recorded_at: Timestamp::UNIX_EPOCH,
        by: String::new(),
        what,
    };
    (0..).zip(all).map(row).collect()
}

#[test]
fn figures_of_a_run_by_hand() {
    let run = run();
    let runs = [&run];
    let mut figures = Figures::default();
    of_the_buckets(&runs, &mut figures);
    of_the_watch(&runs, &mut figures);
    of_the_pot(&runs, &mut figures);
    of_the_ready_list(&runs, &mut figures);
    let a_share = run.plan.resin.mix.share_a_by_mass();
    let mass = 1.0 + 1.2 * (a_share + (1.0 - a_share) * 1.06);
    for (figure, expected) in [
        (Figure::Mass, mass),
        (Figure::LeftOver, 0.2 / mass),
        (Figure::Bucket, 273.15 + 17.5),
        (Figure::Mixing, 180.0),
        (Figure::SecondPot, 1.0),
        (Figure::TintShare, 0.03),
        (Figure::TintSpread, 0.01 / 0.025),
        (Figure::Lots, 1.0),
        (Figure::Watched, 1.0),
        (Figure::Covered, 0.0),
        (Figure::ToppedUp, 0.0),
        (Figure::Level, 1.0),
        (Figure::Release, 0.0),
    ] {
        let found = figures.get(figure).unwrap_or(f64::NAN);
        assert!((found - expected).abs() < 1e-9, "{figure:?}: {found}, not {expected}");
    }
    let off = figures.get(Figure::RatioError).unwrap();
    assert!((0.05..0.07).contains(&off), "{off}");
    for unknown in
        [Figure::Pressure, Figure::PressureLoss, Figure::JointsSealed, Figure::AfterWindow]
    {
        assert_eq!(figures.get(unknown), None, "{unknown:?}");
    }
}
