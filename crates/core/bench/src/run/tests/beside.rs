//! Colour by a recipe, vacuum, warm and cold water.

use fondant_heat::cooling::CoolingBy;

use super::*;
use crate::warming::Bath;

fn tinting(colour: &str, share: f64) -> Tinting {
    Tinting { colour: colour.to_owned(), share, ceiling: Some(0.05), cup: String::new() }
}

/// Two batches of 4.0 kg that are to be coloured.
fn coloured() -> Book {
    let density = plan().resin.density;
    let recipe = vec![tinting("sea", 0.002), tinting("foam", 0.0005)];
    Book::new(RunPlan { mixed: Mass::from_kg(8.0) / density, ready: Vec::new(), recipe, ..plan() })
}

fn tint(book: &mut Book, batch: u32, colour: &str, g: f64) {
    let (colour, mass) = (colour.to_owned(), Mass::from_kg(g / 1000.0));
    book.write(Happening::Tinted { batch, colour, mass });
}

fn next_tint(book: &Book) -> (u32, usize, f64) {
    let Act::Tint { batch, colour, target } = book.next() else { panic!("{:?}", book.next()) };
    (batch, colour, (target.kg() * 1e6).round() / 1000.0)
}

/// 4000 g take 8.0 g of 0.2 % and 2.0 g of 0.05 %; 5.0 g of the first leave 3.0 g.
#[test]
fn a_recipe_asks_for_what_is_missing_of_each_colour() {
    let mut book = coloured();
    book.weigh(1, Part::B, 1241.4);
    book.weigh(1, Part::A, 2758.6);
    assert_eq!(next_tint(&book), (1, 0, 8.0));
    tint(&mut book, 1, "sea", 5.0);
    assert_eq!(next_tint(&book), (1, 0, 3.0));
    tint(&mut book, 1, "sea", 2.9);
    assert_eq!(next_tint(&book), (1, 1, 2.0), "a tenth of a gram is not missed");
    tint(&mut book, 1, "foam", 2.0);
    assert_eq!(book.next(), Act::Mix { batch: 1 });
}

/// 3000 g in place of 4000 g take 6.0 g of 0.2 %, not 8.0 g.
#[test]
fn colour_goes_with_what_was_weighed() {
    let mut book = coloured();
    book.weigh(1, Part::B, 931.0);
    book.weigh(1, Part::A, 2069.0);
    assert_eq!(next_tint(&book), (1, 0, 6.0));
}

/// Found right at 6.0 g and no foam: the second bucket of 4000 g gets the same, not the recipe's.
#[test]
fn buckets_that_follow_match_the_first() {
    let mut book = coloured();
    book.weigh(1, Part::B, 1241.4);
    book.weigh(1, Part::A, 2758.6);
    tint(&mut book, 1, "sea", 6.0);
    book.write(Happening::Coloured { batch: 1 });
    assert_eq!(book.next(), Act::Mix { batch: 1 });
    assert_eq!(book.try_write(Happening::Coloured { batch: 1 }), Err(Refused::Done));
    book.mix_and_pour(1, 0.0);
    book.weigh(2, Part::B, 1241.4);
    book.weigh(2, Part::A, 2758.6);
    assert_eq!(next_tint(&book), (2, 0, 6.0));
    tint(&mut book, 2, "sea", 6.0);
    assert_eq!(book.next(), Act::Mix { batch: 2 });
}

/// Where the resin is weighed first, colour goes in before the hardener: there is time to find it.
#[test]
fn colour_comes_before_the_hardener_where_the_resin_comes_first() {
    let mut book = coloured();
    let first = |book: &Book| acts(&book.run(), PartOrder::ResinFirst)[0];
    assert!(matches!(first(&book), Act::Weigh { part: Part::A, .. }));
    book.weigh(1, Part::A, 2758.6);
    assert!(matches!(first(&book), Act::Tint { colour: 0, .. }));
    book.write(Happening::Coloured { batch: 1 });
    assert!(matches!(first(&book), Act::Weigh { part: Part::B, .. }));
}

/// 0.2 % of the blue cup's 4000 g are 8.0 g; the white one before it gets none, and one that is mixed
/// again after it was lost follows the recipe.
#[test]
fn a_colour_goes_into_its_cup_alone() {
    let recipe = vec![Tinting { cup: "blue".into(), ..tinting("sea", 0.002) }];
    let mut book = Book::new(RunPlan { recipe, ..swirl() });
    let fill = |book: &mut Book, batch: u32, kg: f64| {
        let pair = Pair::of(Mass::from_kg(kg), &book.plan.resin);
        book.weigh(batch, Part::B, pair.b.kg() * 1000.0);
        book.weigh(batch, Part::A, pair.a.kg() * 1000.0);
    };
    fill(&mut book, 1, 2.1);
    assert_eq!(book.next(), Act::Mix { batch: 1 }, "the white cup stays white");
    book.write(Happening::MixBegun { batch: 1, resin_at: None, lot: None });
    book.write(Happening::MixEnded { batch: 1 });
    fill(&mut book, 2, 4.0);
    assert_eq!(next_tint(&book), (2, 0, 8.0));
    tint(&mut book, 2, "sea", 6.0);
    book.write(Happening::Coloured { batch: 2 });
    book.write(Happening::MixBegun { batch: 2, resin_at: None, lot: None });
    book.write(Happening::MixEnded { batch: 2 });
    book.write(Happening::Lost { batch: 2, reason: "it fell".into() });
    fill(&mut book, 3, 4.0);
    assert_eq!(book.run().cup_of(3).unwrap().colour, "blue");
    assert_eq!(next_tint(&book), (3, 0, 8.0), "a lost cup settles nothing");
}

/// Three buckets of 6 + 4 min each and a quarter of an hour of the watch; nothing where it rests, or where
/// nobody has touched it since the morning, but a bucket that heats itself always.
#[test]
fn a_run_keeps_hands_busy_until_its_last_bucket_is_in() {
    let shop = fondant_cast::ShopSettings::default();
    let mut book = Book::new(RunPlan { ready: Vec::new(), ..plan() });
    let now = Timestamp::UNIX_EPOCH + SignedDuration::from_hours(10);
    let minutes = |book: &Book, last: Timestamp| {
        let until = book.run().hands_until(&shop, last, now)?;
        Some(until.duration_since(now).as_mins())
    };
    assert_eq!(minutes(&book, now), Some(45));
    let morning = now - SignedDuration::from_hours(4);
    assert_eq!(minutes(&book, morning), None);
    book.write(Happening::Paused);
    assert_eq!(minutes(&book, now), None);
    book.write(Happening::Resumed);
    book.weigh(1, Part::B, 1252.0);
    book.weigh(1, Part::A, 2782.0);
    book.write(Happening::MixBegun { batch: 1, resin_at: None, lot: None });
    assert_eq!(minutes(&book, morning), Some(45), "it heats itself");
    book.write(Happening::Abandoned { reason: "cold".into() });
    assert_eq!(minutes(&book, now), None);
}

#[test]
fn a_bucket_under_vacuum_is_aired_before_it_is_poured() {
    let small = RunPlan { mixed: Volume::from_l(1.0), ready: Vec::new(), ..plan() };
    let mut book = Book::new(RunPlan { vacuum_mbar: Some(80.0), ..small });
    book.weigh(1, Part::B, 341.4);
    book.weigh(1, Part::A, 758.6);
    let mbar = |mbar| Happening::Evacuated { batch: 1, mbar };
    assert_eq!(book.try_write(mbar(None)), Err(Refused::NotMet));
    book.write(Happening::MixBegun { batch: 1, resin_at: None, lot: None });
    book.write(Happening::MixEnded { batch: 1 });
    assert_eq!(book.next(), Act::Pour { batch: 1 });
    assert_eq!(book.try_write(Happening::Aired { batch: 1 }), Err(Refused::ChamberOpen));
    book.write(mbar(None));
    assert_eq!(book.next(), Act::Air { batch: 1 });
    let running = clocks(&book.run(), Timestamp::UNIX_EPOCH);
    let kinds: Vec<ClockKind> = running.iter().map(|clock| clock.kind).collect();
    // Its minutes count on the bucket's clock, which goes on.
    assert_eq!(kinds, [ClockKind::Bucket { batch: 1 }, ClockKind::Vacuum { batch: 1 }]);
    book.write(mbar(Some(90.0)));
    assert_eq!(book.run().batches[0].vacuum.last().unwrap().1, Some(90.0));
    // Poured without a word: air must have come in.
    let mut quick = Book::new(book.plan.clone());
    quick.rows.clone_from(&book.rows);
    quick.write(Happening::PourBegun { batch: 1 });
    assert_eq!(quick.run().batches[0].evacuated(), None);
    book.write(Happening::Aired { batch: 1 });
    assert_eq!(book.next(), Act::Pour { batch: 1 });
    assert_eq!(book.try_write(mbar(None)), Err(Refused::Done), "once");
}

/// A kilogram from 18 °C to 27 °C in plenty of water at 38 °C takes about twelve minutes; read colder
/// than foretold (half a kelvin in a minute in place of one), it takes twice as long.
#[test]
fn bottles_in_warm_water_have_a_clock_that_a_reading_moves() {
    let c = Temperature::from_celsius;
    let ready = vec![ReadyItem::Warm];
    let mut book = Book::new(RunPlan { resin_at: c(27.0), air: c(20.0), ready, ..plan() });
    let read = Happening::BottleRead { temperature: c(18.5) };
    assert_eq!(book.try_write(read.clone()), Err(Refused::NoBath));
    let bath = Bath {
        bottle: Mass::from_kg(1.0),
        bottle_at: c(18.0),
        water: Mass::from_kg(100.0),
        water_at: c(38.0),
    };
    book.write(Happening::Bathed { bath });
    let minutes = |book: &Book| {
        let (begun, until) = book.run().warms().unwrap();
        until.unwrap().duration_since(begun).as_secs_f64() / 60.0
    };
    assert!((minutes(&book) - 12.2).abs() < 0.5, "{}", minutes(&book));
    book.write(read);
    assert!((20.0..30.0).contains(&minutes(&book)), "{}", minutes(&book));
    book.write(Happening::Ready { item: ReadyItem::Warm });
    assert_eq!(book.run().warms(), None);
}

/// 5 kg of ice, 3 kg an hour later: 2 kg an hour, and 1.5 h of it are left.
#[test]
fn ice_is_foretold_from_two_looks_and_the_cold_lasts_past_the_peak() {
    let lasts = Some(Span::from_h(6.0));
    let chill = Some(Chill { by: CoolingBy::Bath, at: None, lasts });
    let small = RunPlan { mixed: Volume::from_l(1.0), ready: Vec::new(), chill, ..plan() };
    let mut book = Book::new(small);
    let look = |kg: f64| Happening::Chilled {
        water: Temperature::from_celsius(4.0),
        ice: Some(Mass::from_kg(kg)),
    };
    assert_eq!(book.try_write(look(5.0)), Err(Refused::NothingIn));
    book.weigh(1, Part::B, 341.4);
    book.weigh(1, Part::A, 758.6);
    book.mix_and_pour(1, 0.0);
    let (begun, until) = book.run().chills().unwrap();
    assert_eq!(until, Some(begun + SignedDuration::from_hours(6)));
    book.write(look(5.0));
    assert_eq!(book.run().ice_until(), None);
    let at = book.rows.last().unwrap().at + SignedDuration::from_hours(1);
    let number = book.rows.len() as i64 + 1;
    let what = look(3.0);
    book.rows.push(Row { number, at, recorded_at: at, by: String::new(), what });
    let gone = book.run().ice_until().unwrap();
    assert_eq!(gone, at + SignedDuration::from_mins(90));
}
