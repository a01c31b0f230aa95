//! A run from the ready list to its end.

use fondant_cast::shop::PartOrder;
use fondant_materials::resin::{ResinClass, shipped};
use fondant_pours::layers::LayerKind;
use fondant_pours::simulate::observe::Touch;
use fondant_quantities::{Length, Mass, Span, Temperature, Volume};
use jiff::{SignedDuration, Timestamp};
use proptest::prelude::*;

mod beside;

use super::*;
use crate::swirl::Edges;
use crate::weighing::{Pair, Part};

/// 11 L of slow casting epoxy, 12.1 kg, in buckets of 4.1 kg: three of 4033 g, with 2782 g of A and
/// 1252 g of B each (100 : 45 by mass).
fn plan() -> RunPlan {
    let resin = shipped::model(ResinClass::SlowCasting);
    RunPlan {
        pour: None,
        layer: LayerKind::Main(1),
        mixed: Volume::from_l(11.0),
        in_form: Volume::from_l(10.7),
        from: Length::ZERO,
        to: Length::from_mm(20.0),
        batch: Mass::from_kg(4.1),
        bucket: Mass::from_kg(5.0),
        resin_at: Temperature::from_celsius(23.0),
        air: Temperature::from_celsius(20.0),
        mixing: Span::from_s(300.0),
        ready: vec![ReadyItem::Level, ReadyItem::Gear],
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

/// A run that is written down minute by minute.
struct Book {
    plan: RunPlan,
    rows: Vec<Row>,
}

impl Book {
    fn new(plan: RunPlan) -> Self {
        Self { plan, rows: Vec::new() }
    }

    fn run(&self) -> Run {
        Run::of(self.plan.clone(), &self.rows)
    }

    fn try_write(&mut self, what: Happening) -> Result<(), Refused> {
        if let Some(refused) = self.run().refuses(&what, &self.rows) {
            return Err(refused);
        }
        let number = self.rows.len() as i64 + 1;
        let at = Timestamp::UNIX_EPOCH + SignedDuration::from_mins(number);
        self.rows.push(Row { number, at, recorded_at: at, by: String::new(), what });
        Ok(())
    }

    fn write(&mut self, what: Happening) {
        self.try_write(what).unwrap();
    }

    fn weigh(&mut self, batch: u32, part: Part, g: f64) {
        self.write(Happening::Weighed { batch, part, mass: Mass::from_kg(g / 1000.0) });
    }

    fn mix_and_pour(&mut self, batch: u32, left_g: f64) {
        self.write(Happening::MixBegun { batch, resin_at: None, lot: None });
        self.write(Happening::MixEnded { batch });
        self.write(Happening::PourBegun { batch });
        let left = Mass::from_kg(left_g / 1000.0);
        self.write(Happening::PourEnded { batch, left, is_full: false });
    }

    fn next(&self) -> Act {
        acts(&self.run(), PartOrder::HardenerFirst)[0]
    }
}

fn grams(mass: Mass) -> i64 {
    (mass.kg() * 1000.0).round() as i64
}

#[test]
fn a_pour_of_three_batches_with_one_over_pour() {
    let mut book = Book::new(plan());
    assert_eq!(book.next(), Act::Ready(ReadyItem::Level));
    book.write(Happening::Ready { item: ReadyItem::Level });
    book.write(Happening::Ready { item: ReadyItem::Gear });
    let Act::Weigh { batch: 1, part: Part::B, target } = book.next() else { panic!() };
    assert_eq!(grams(target), 1252, "12.1 kg in three, 45 of 145 of it");
    book.weigh(1, Part::B, 1252.0);
    // 100 g of A too much: 2882 g ask for 1296.9 g of B, so 44.9 g are to be added.
    book.weigh(1, Part::A, 2882.0);
    let weighed = book.run().batches[0].weighed().unwrap();
    let (part, more) = weighed.way_back(&book.plan.resin);
    assert_eq!((part, grams(more)), (Part::B, 45));
    book.write(Happening::Added { batch: 1, part, mass: more });
    book.mix_and_pour(1, 0.0);
    // 4179 g went in; of 12100 g two batches of 3960 g are left, 1229 g of B each.
    let run = book.run();
    assert_eq!(grams(run.poured()), 4179);
    assert_eq!((run.to_come().count, grams(run.to_come().each)), (2, 3961));
    book.weigh(2, Part::B, 1229.0);
    book.weigh(2, Part::A, 2731.0);
    book.mix_and_pour(2, 0.0);
    assert_eq!(book.run().to_come().count, 1);
    book.write(Happening::Resized { batch: 3, mass: Mass::from_kg(2.0) });
    let Act::Weigh { batch: 3, target, .. } = book.next() else { panic!() };
    assert_eq!(grams(target), 621, "2000 · 45/145");
    book.weigh(3, Part::B, 621.0);
    book.weigh(3, Part::A, 1379.0);
    book.write(Happening::MixBegun { batch: 3, resin_at: None, lot: None });
    book.write(Happening::MixEnded { batch: 3 });
    book.write(Happening::PourBegun { batch: 3 });
    let full = Happening::PourEnded { batch: 3, left: Mass::from_kg(0.1), is_full: true };
    book.write(full);
    let run = book.run();
    assert_eq!(run.to_come().count, 0, "the form is full");
    assert!(run.all_in().is_some());
    assert!(matches!(book.next(), Act::Look { .. }));
}

#[test]
fn nothing_is_taken_twice_and_nothing_poured_unmixed() {
    let mut book = Book::new(plan());
    let mass = Mass::from_kg(1.0);
    let early = book.try_write(Happening::MixBegun { batch: 1, resin_at: None, lot: None });
    assert_eq!(early, Err(Refused::NotTaken { part: Part::A }));
    book.weigh(1, Part::A, 2782.0);
    let again = book.try_write(Happening::Weighed { batch: 1, part: Part::A, mass });
    assert_eq!(again, Err(Refused::Taken { part: Part::A, mass: Mass::from_kg(2.782), row: 1 }));
    assert_eq!(
        book.try_write(Happening::MixBegun { batch: 1, resin_at: None, lot: None }),
        Err(Refused::NotTaken { part: Part::B })
    );
    assert_eq!(book.try_write(Happening::PourBegun { batch: 1 }), Err(Refused::NotMet));
    assert_eq!(book.try_write(Happening::Watched), Err(Refused::NothingIn));
    assert_eq!(book.try_write(Happening::Finished), Err(Refused::StillToPour));
    let jump = Happening::Weighed { batch: 5, part: Part::A, mass };
    assert_eq!(book.try_write(jump), Err(Refused::NothingLeft), "batch 2 comes first");
    let none = Happening::Weighed { batch: 1, part: Part::B, mass: Mass::ZERO };
    assert_eq!(book.try_write(none), Err(Refused::Mass));
}

#[test]
fn an_undo_keeps_both_rows_and_ends_where_the_parts_have_met() {
    let mut book = Book::new(plan());
    book.weigh(1, Part::A, 2782.0);
    book.write(Happening::Withdrawn { row: 1, reason: "the scale was not at zero".into() });
    assert!(book.run().batches.is_empty());
    book.weigh(1, Part::A, 2750.0);
    book.weigh(1, Part::B, 1238.0);
    book.write(Happening::MixBegun { batch: 1, resin_at: None, lot: None });
    let late = Happening::Withdrawn { row: 3, reason: String::new() };
    assert_eq!(book.try_write(late), Err(Refused::Done));
    assert_eq!(book.rows.len(), 5);
}

#[test]
fn what_ran_short_is_one_more_batch_and_a_lost_bucket_too() {
    let mut book = Book::new(RunPlan { mixed: Volume::from_l(2.0), ..plan() });
    book.weigh(1, Part::A, 1517.0);
    book.weigh(1, Part::B, 683.0);
    book.mix_and_pour(1, 0.0);
    assert!(book.run().all_in().is_some());
    book.write(Happening::RanShort { volume: Volume::from_l(0.5) });
    assert_eq!(grams(book.run().to_come().each), 550, "0.5 L at 1.1 kg/L");
    assert!(book.run().all_in().is_none());
    book.weigh(2, Part::A, 379.0);
    book.write(Happening::Lost { batch: 2, reason: "wrong bottle".into() });
    assert_eq!(grams(book.run().to_come().each), 550);
    assert_eq!(book.run().next_number(), 3);
}

#[test]
fn a_bucket_in_which_a_has_met_b_comes_before_everything() {
    let mut book = Book::new(plan());
    book.weigh(1, Part::A, 2782.0);
    book.weigh(1, Part::B, 1252.0);
    book.weigh(2, Part::A, 2782.0);
    book.write(Happening::MixBegun { batch: 1, resin_at: None, lot: None });
    assert!(matches!(book.next(), Act::MixOn { batch: 1, .. }));
    let running: Vec<ClockKind> =
        clocks(&book.run(), Timestamp::UNIX_EPOCH).iter().map(|clock| clock.kind).collect();
    assert_eq!(running, [ClockKind::Bucket { batch: 1 }, ClockKind::Mixing { batch: 1 }]);
    book.write(Happening::MixEnded { batch: 1 });
    assert_eq!(book.next(), Act::Pour { batch: 1 });
    book.write(Happening::PourBegun { batch: 1 });
    assert_eq!(book.next(), Act::PourOn { batch: 1 });
    book.write(Happening::Paused);
    let weigh = Happening::Weighed { batch: 2, part: Part::B, mass: Mass::from_kg(1.0) };
    assert_eq!(book.try_write(weigh), Err(Refused::Resting));
    // A bucket does not rest.
    let ended = Happening::PourEnded { batch: 1, left: Mass::ZERO, is_full: false };
    assert_eq!(book.try_write(ended), Ok(()));
}

#[test]
fn a_pot_is_closed_read_and_vented() {
    let small = RunPlan { mixed: Volume::from_l(1.0), pot_bar: Some(3.0), ..plan() };
    let mut book = Book::new(small);
    book.weigh(1, Part::A, 758.6);
    book.weigh(1, Part::B, 341.4);
    book.mix_and_pour(1, 0.0);
    assert!(matches!(book.next(), Act::ClosePot { .. }));
    assert_eq!(book.try_write(Happening::Vented), Err(Refused::PotOpen));
    book.write(Happening::Gauge { over_bar: 3.0 });
    assert!(matches!(book.next(), Act::Vent { .. }));
    book.write(Happening::Vented);
    assert_eq!(book.try_write(Happening::Gauge { over_bar: 1.0 }), Err(Refused::PotOpen));
    book.write(Happening::Finished);
    assert_eq!(book.try_write(Happening::Looked), Err(Refused::Over));
    assert_eq!(book.try_write(Happening::Noted { note: "clear".into() }), Ok(()));
}

#[test]
fn rows_are_read_as_they_were_written() {
    let all = [
        Happening::Weighed { batch: 1, part: Part::A, mass: Mass::from_kg(1.0) },
        Happening::Touched { found: Touch::Tacky, cup: None },
        Happening::Withdrawn { row: 3, reason: "slip".into() },
        Happening::PourEnded { batch: 1, left: Mass::ZERO, is_full: true },
    ];
    for what in all {
        let text = serde_json::to_string(&what).unwrap();
        assert_eq!(serde_json::from_str::<Happening>(&text).unwrap(), what, "{text}");
    }
    let kept = serde_json::to_string(&plan()).unwrap();
    assert_eq!(serde_json::from_str::<RunPlan>(&kept).unwrap(), plan());
}

#[test]
fn an_early_reading_is_the_start_and_a_later_one_moves_the_rate() {
    let c = Temperature::from_celsius;
    let mut book = Book::new(plan());
    book.weigh(1, Part::A, 2782.0);
    book.weigh(1, Part::B, 1252.0);
    book.write(Happening::MixBegun { batch: 1, resin_at: Some(c(22.0)), lot: None });
    book.write(Happening::Read { batch: 1, temperature: c(25.0) });
    let batch = &book.run().batches[0];
    assert_eq!(batch.bucket(&book.plan).unwrap().1.at, c(25.0), "a minute after A met B");
    assert!(batch.read().is_empty());
    for temperature in [c(25.2), c(25.4), c(25.9)] {
        book.write(Happening::Read { batch: 1, temperature });
    }
    let read = book.run().batches[0].read();
    assert_eq!(read.iter().map(|reading| reading.after.s()).collect::<Vec<_>>(), [240.0]);
}

proptest! {
    /// However the scale is off, what is weighed by the targets comes to the whole, at the ratio.
    #[test]
    fn batches_follow_what_was_weighed(off in prop::collection::vec(0.9..1.1f64, 12)) {
        let mut book = Book::new(plan());
        let mut off = off.into_iter();
        while book.run().to_come().count > 0 {
            let number = book.run().next_number();
            let Some(share) = off.next() else { break };
            let first = Pair::of(book.run().next_mass(number), &book.plan.resin).b * share;
            book.write(Happening::Weighed { batch: number, part: Part::B, mass: first });
            let a = book.run().batches.last().unwrap().target(&book.plan).a;
            book.write(Happening::Weighed { batch: number, part: Part::A, mass: a });
            let weighed = book.run().batches.last().unwrap().weighed().unwrap();
            prop_assert!(weighed.ratio_error(&book.plan.resin).abs() < 1e-9);
            book.mix_and_pour(number, 0.0);
        }
        let (poured, wanted) = (book.run().poured().kg(), book.plan.mass().kg());
        // The last batch is the only one that nothing follows: a tenth of it at most, and the
        // fiftieth of a batch that calls for no other.
        prop_assert!(poured > wanted - 0.02 * 4.1 - 1e-9 && poured < wanted + 0.1 * 4.2, "{poured}");
    }
}

/// Three cups of 6, 4 and 2.1 kg, joined at 38 °C.
fn swirl() -> RunPlan {
    let cup = |colour: &str, kg| Cup { colour: colour.to_owned(), mass: Mass::from_kg(kg) };
    RunPlan {
        ready: Vec::new(),
        cups: vec![cup("white", 2.1), cup("blue", 4.0), cup("black", 6.0)],
        join: Some(Temperature::from_celsius(38.0)),
        ..plan()
    }
}

#[test]
fn cups_of_a_swirl_are_mixed_one_by_one_and_wait_for_each_other() {
    let mut book = Book::new(swirl());
    let fill = |book: &mut Book, batch: u32, kg: f64| {
        let pair = Pair::of(Mass::from_kg(kg), &book.plan.resin);
        book.weigh(batch, Part::B, pair.b.kg() * 1000.0);
        book.weigh(batch, Part::A, pair.a.kg() * 1000.0);
        book.write(Happening::MixBegun { batch, resin_at: None, lot: None });
        book.write(Happening::MixEnded { batch });
    };
    assert_eq!(book.run().cup_of(1).unwrap().colour, "white");
    fill(&mut book, 1, 2.1);
    // The white cup waits: the blue one is weighed.
    let Act::Weigh { batch: 2, target, .. } = book.next() else { panic!("{:?}", book.next()) };
    assert_eq!(grams(target), grams(Pair::of(Mass::from_kg(4.0), &book.plan.resin).b));
    fill(&mut book, 2, 4.0);
    // Lost: its colour is mixed again, before the black one.
    book.write(Happening::Lost { batch: 2, reason: "it fell".into() });
    let run = book.run();
    assert_eq!((run.cup_of(3).unwrap().colour.as_str(), run.to_come().count), ("blue", 2));
    fill(&mut book, 3, 4.0);
    assert_eq!(book.run().cup_of(4).unwrap().colour, "black");
    assert!(!book.run().is_joining());
    fill(&mut book, 4, 6.0);
    let run = book.run();
    assert!(run.is_joining() && run.to_come().count == 0);
    let joins: Vec<u32> = clocks(&run, Timestamp::UNIX_EPOCH)
        .iter()
        .filter_map(|clock| match clock.kind {
            ClockKind::Join { batch } => Some(batch),
            _ => None,
        })
        .collect();
    assert_eq!(joins, [1, 3, 4]);
    assert_eq!(book.next(), Act::Pour { batch: 1 });
    assert_eq!(book.try_write(Happening::Rated { edges: Edges::Crisp }), Err(Refused::NothingIn));
    for batch in [1, 3, 4] {
        book.write(Happening::PourBegun { batch });
        book.write(Happening::PourEnded { batch, left: Mass::ZERO, is_full: false });
    }
    assert!(book.run().all_in().is_some());
    // A litre ran short: one more bucket, of no cup.
    book.write(Happening::RanShort { volume: Volume::from_l(1.0) });
    let run = book.run();
    assert_eq!((run.to_come().count, grams(run.to_come().each)), (1, 1100));
    assert_eq!(run.cup_of(5), None);
}

#[test]
fn a_swirl_is_rated_also_when_its_run_is_over() {
    let mut book = Book::new(RunPlan { ready: Vec::new(), ..plan() });
    let pair = Pair::of(Mass::from_kg(4.0), &book.plan.resin);
    book.weigh(1, Part::B, pair.b.kg() * 1000.0);
    book.weigh(1, Part::A, pair.a.kg() * 1000.0);
    book.write(Happening::MixBegun { batch: 1, resin_at: None, lot: None });
    book.write(Happening::MixEnded { batch: 1 });
    book.write(Happening::PourBegun { batch: 1 });
    book.write(Happening::PourEnded { batch: 1, left: Mass::ZERO, is_full: true });
    book.write(Happening::Finished);
    book.write(Happening::Rated { edges: Edges::Soft });
    book.write(Happening::Rated { edges: Edges::Crisp });
    assert_eq!(book.run().rated, Some(Edges::Crisp), "the last word counts");
}
