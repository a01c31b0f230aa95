use fondant_bench::weighing::Part;
use fondant_bench::{Happening, Row, RunPlan};
use fondant_cast::{Inputs, Kind, Site, evaluate};
use fondant_materials::resin::{ResinClass, ResinId, shipped};
use fondant_pours::layers::LayerKind;
use fondant_pours::{ShopHours, Workday};
use fondant_quantities::{Length, Money, Temperature};
use fondant_shapes::form::Piece;

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
        hard: None,
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

/// What a cast is gathered from, with a lot and a colour on the shelf.
fn gathered<'a>(
    (document, evaluation): (&'a Document, &'a Evaluation),
    runs: &'a [Run],
    lots: &'a [(String, Lot)],
) -> Gathered<'a> {
    Gathered { document, evaluation, runs, lots, colours: &[], opened: None }
}

/// A run of two buckets of 1 and 1.2 kg, the second 6 % rich in B; a row a minute.
pub(crate) fn run() -> Run {
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

/// A lot bought on the first of June 1969 is 214 days old on the first of January 1970; the second bucket
/// is emptied 8 minutes after A met B.
#[test]
fn old_lots_and_waiting_buckets_are_figures() {
    let run = run();
    let lot = Lot {
        resin: ResinId("own".into()),
        lot: "S-1".into(),
        bought: jiff::civil::date(1969, 6, 1),
        opened: None,
        left: Volume::from_l(2.0),
        cost: Money::from_units(90.0),
        held: Some(Volume::from_l(6.0)),
    };
    let lots = [("L7".to_owned(), lot)];
    let (document, evaluation) = block();
    let mut figures = Figures::default();
    let runs = [&run];
    of_the_lots(&gathered((&document, &evaluation), &[], &lots), &runs, &mut figures);
    let days = figures.get(Figure::LotAge).unwrap() / 86_400.0;
    assert!((214.0..214.1).contains(&days), "{days}");
    of_the_buckets(&runs, &mut figures);
    let share = figures.get(Figure::BucketShare).unwrap();
    let (met, mixed) = run.batches[1].bucket(&run.plan).unwrap();
    let life = fondant_heat::bucket::pot_life_s(&run.plan.resin, mixed.mass, mixed.air, mixed.at);
    let (last, _) = run.batches[1].poured.unwrap();
    let waited = Span::between(met, last).s();
    // Both buckets wait as long; the warmer one lives shorter.
    assert!(share >= waited / life.unwrap().unwrap() - 1e-9 && share < 1.0, "{share}");
    let nothing = gathered((&document, &evaluation), &[], &[]);
    let mut none = Figures::default();
    of_the_lots(&nothing, &runs, &mut none);
    assert_eq!(none.get(Figure::LotAge), None);
}

/// A block of 20 mm of slow resin that is opened when its forecast says, and at half of that.
#[test]
fn a_form_that_is_opened_early_is_told_with_what_was_soft() {
    let (document, evaluation) = block();
    let run = Run::of(plan(), &poured_at(evaluation.pours.as_ref().unwrap().pours[0].at));
    let schedule = evaluation.pours.as_ref().unwrap();
    let all_in = run.all_in().unwrap();
    assert_eq!(run.hard_at(), Some(all_in + Span::from_h(24.0).signed()), "its plan does not say");
    let forecast = Span::between(all_in, schedule.form_opens());
    let at = |share: f64| {
        let opened = all_in + (forecast * share).signed();
        let from =
            Gathered { opened: Some(opened), ..gathered((&document, &evaluation), &[], &[]) };
        let mut figures = Figures::default();
        of_the_opening(&from, &[&run], &Stop::NEVER, &mut figures);
        [Figure::CureShare, Figure::DemouldMargin].map(|one| figures.get(one).unwrap())
    };
    let ([whole, hard], [half, soft]) = (at(1.0), at(0.5));
    assert!((whole - 1.0).abs() < 1e-6 && (half - 0.5).abs() < 1e-6, "{whole} {half}");
    let margin = evaluation.resin.working.demould_margin.k();
    assert!((hard - margin).abs() < 2.5, "{hard} K when it is called hard at {margin} K");
    assert!(soft < hard - 5.0, "{soft} K, {hard} K");
}

/// A run of one bucket that went in at a time.
fn poured_at(begun: Timestamp) -> Vec<Row> {
    let mut rows = a_row_a_minute([
        Happening::MixBegun { batch: 1, resin_at: None, lot: None },
        Happening::PourBegun { batch: 1 },
        Happening::PourEnded { batch: 1, left: Mass::ZERO, is_full: true },
    ]);
    for row in &mut rows {
        row.at = begun + row.at.duration_since(Timestamp::UNIX_EPOCH);
    }
    rows
}

pub(crate) fn block() -> (Document, Evaluation) {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(700.0), mm(600.0), mm(20.0), Length::ZERO);
    let begin = "2026-11-23T09:00:00Z".parse().unwrap();
    let document = Document::begin(Kind::Block, "Block".into(), piece, begin);
    let day = Workday::read_day("08:00-18:00").unwrap();
    let hours = ShopHours::new(vec![day; 7].try_into().unwrap(), "UTC").unwrap();
    let resin = shipped::find(&document.resin).unwrap();
    let inputs = Inputs::new(document.clone(), resin, &Site::plain(hours));
    (document, evaluate(&inputs, &Stop::NEVER).unwrap())
}
