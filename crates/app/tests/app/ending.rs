//! Casts that come to their end, their faults, and the ledger, on a real database.

use fondant_app::ending::{self, Ending, Seen, Told, ending};
use fondant_app::records::{CastId, LedgerAsked, LedgerSort, NewRow};
use fondant_app::{AppError, Request, bench, ledger};
use fondant_bench::Happening;
use fondant_bench::weighing::{Pair, Part};
use fondant_quantities::{Length, Mass, Temperature};
use fondant_record::causes::Cause;
use fondant_record::end::Outcome;
use fondant_record::fault::{Fault, FaultKind, Place};
use fondant_record::figures::{Figure, Figures};
use fondant_testkit::{TestApp, documents};
use jiff::SignedDuration;

use crate::{app, damage, taken};

pub(crate) fn told() -> Told {
    let mut figures = Figures::default();
    figures.set_flag(Figure::JointsSealed, true);
    Told {
        outcome: Outcome::Finished,
        ended_at: documents::now(),
        people: "Bento".into(),
        note: "A quiet river".into(),
        figures,
    }
}

/// As somebody saw it who saw no record.
pub(crate) const fn at(cast: i32) -> Seen {
    Seen { cast, record: Some(0) }
}

pub(crate) fn bubbles() -> Fault {
    let mm = Length::from_mm;
    let place = Some(Place { x: mm(400.0), y: mm(300.0), z: Some(mm(12.0)) });
    Fault { kind: FaultKind::Bubbles, place, size: Some(mm(12.0)), note: String::new() }
}

pub(crate) async fn seen(app: &TestApp, cast: CastId) -> Ending {
    let open = app.open(cast).await;
    let planned = open.worked(&app.app).await.unwrap();
    let facts = open.facts(&app.app).await.unwrap();
    let worked = app.app.happened(&planned, &facts).await.unwrap();
    ending(&app.app, &open, &worked).await.unwrap()
}

/// A river top of which one bucket went in, mixed at 15 °C.
pub(crate) async fn poured_cold() -> (TestApp, CastId) {
    let app = app().await;
    let (cast, pours) = taken(&app).await;
    let run = bench::begin(&app.app, cast, Some(pours[0])).await.unwrap();
    let open = app.open(cast).await;
    let plan = bench::runs(&app.app, &open).await.unwrap().remove(0).plan;
    let pair = Pair::of(Mass::from_kg(1.0), &plan.resin);
    let weighed = |part, mass| Happening::Weighed { batch: 1, part, mass };
    let cold = Some(Temperature::from_celsius(15.0));
    let all = [
        weighed(Part::B, pair.b),
        weighed(Part::A, pair.a),
        Happening::MixBegun { batch: 1, resin_at: cold, lot: None },
        Happening::SecondPot { batch: 1 },
        Happening::MixEnded { batch: 1 },
        Happening::PourBegun { batch: 1 },
        Happening::PourEnded { batch: 1, left: Mass::ZERO, is_full: false },
    ];
    for (place, what) in (0..).zip(all) {
        let at = documents::now() - SignedDuration::from_mins(60 - 4 * place);
        let row = NewRow { key: format!("r{place}"), at, by: String::new(), what };
        bench::write_down(&app.app, (cast, run), row).await.unwrap();
    }
    (app, cast)
}

#[tokio::test]
async fn a_record_keeps_what_was_measured_and_its_fault_has_its_cause() {
    let (app, cast) = poured_cold().await;
    ending::mark(&app.app, cast, &bubbles(), &Request::default()).await.unwrap();
    let before = seen(&app, cast).await;
    assert!(before.kept.is_none() && before.forecast.is_some());
    for (figure, value) in [
        (Figure::Mass, 1.0),
        (Figure::Bucket, 288.15),
        (Figure::Mixing, 480.0),
        (Figure::SecondPot, 1.0),
    ] {
        let found = before.figures.get(figure).unwrap();
        assert!((found - value).abs() < 1e-6, "{figure:?}: {found}");
    }
    let revision = app.open(cast).await.record.revision;
    ending::close(&app.app, cast, at(revision), told()).await.unwrap();
    let after = seen(&app, cast).await;
    let kept = after.kept.unwrap().end;
    assert_eq!((kept.figures, kept.people.as_str()), (before.measured, "Bento"));
    assert_eq!(after.figures.get(Figure::JointsSealed), Some(1.0));
    assert!(kept.cost > 0.0 && kept.volume_m3 > 0.0, "{} {}", kept.cost, kept.volume_m3);
    // Cold resin comes before the rest, and its evidence is the bucket's temperature.
    let [explained] = after.faults.as_slice() else { panic!("{:?}", after.faults) };
    assert_eq!(explained.causes[0].cause, Cause::ColdResin);
    assert!(explained.causes[0].speaks_for().any(|one| one.sign.figure == Figure::Bucket));
    // What was confirmed moves the diagnosis of the next cast, not its own.
    let own = explained.causes[0].share;
    let fault = explained.kept.id;
    ending::confirm(&app.app, cast, (fault, Some(Cause::ColdResin))).await.unwrap();
    let confirmed = seen(&app, cast).await;
    assert!((confirmed.faults[0].causes[0].share - own).abs() < 1e-12);
    let next = app.cast("Next").await;
    ending::mark(&app.app, next, &bubbles(), &Request::default()).await.unwrap();
    let next = seen(&app, next).await;
    let cold = next.faults[0].causes.iter().find(|one| one.cause == Cause::ColdResin).unwrap();
    assert_eq!(cold.confirmed, 1);
    let none = ending::confirm(&app.app, cast, (fault, Some(Cause::GritLeftOut))).await;
    assert!(matches!(none, Err(AppError::NotFound("cause"))), "{none:?}");
}

#[tokio::test]
async fn a_fault_sent_twice_is_marked_once_and_can_be_taken_back() {
    let app = app().await;
    let cast = app.cast("Once").await;
    let request = Request::keyed(Some("mark-1"));
    let first = ending::mark(&app.app, cast, &bubbles(), &request).await.unwrap();
    assert_eq!(ending::mark(&app.app, cast, &bubbles(), &request).await.unwrap(), first);
    assert_eq!(seen(&app, cast).await.faults.len(), 1);
    ending::unmark(&app.app, cast, first).await.unwrap();
    assert!(seen(&app, cast).await.faults.is_empty());
    let gone = ending::unmark(&app.app, cast, first).await;
    assert!(matches!(gone, Err(AppError::NotFound("fault"))), "{gone:?}");
}

#[tokio::test]
async fn what_has_changed_since_is_not_closed_and_what_was_closed_is_opened_again() {
    let app = app().await;
    let cast = app.cast("Twice").await;
    let late = ending::close(&app.app, cast, at(7), told()).await;
    assert!(matches!(late, Err(AppError::Stale { expected: 7, current: 1 })), "{late:?}");
    ending::close(&app.app, cast, at(1), told()).await.unwrap();
    let asked = fondant_app::records::Asked::default();
    let shop = app.shop().await;
    let listed = fondant_app::casts::list(&app.app, &shop, &asked).await.unwrap();
    assert!(listed.casts.is_empty(), "it has left the list of what is worked on");
    ending::reopen(&app.app, cast, Seen { cast: 1, record: Some(1) }).await.unwrap();
    let listed = fondant_app::casts::list(&app.app, &shop, &asked).await.unwrap();
    assert_eq!(listed.casts.len(), 1);
    // What was said waits for the next end; a tab that saw the record as it was before takes nothing.
    let kept = seen(&app, cast).await.kept.unwrap();
    assert_eq!((kept.is_open, kept.end.note.as_str()), (true, "A quiet river"));
    let stale = ending::close(&app.app, cast, Seen { cast: 1, record: Some(1) }, told()).await;
    assert!(matches!(stale, Err(AppError::Stale { .. })), "{stale:?}");
    let over = Told { note: "Another".into(), ..told() };
    ending::close(&app.app, cast, Seen { cast: 1, record: None }, over).await.unwrap();
    let kept = seen(&app, cast).await.kept.unwrap();
    assert_eq!((kept.is_open, kept.end.note.as_str()), (false, "Another"));
}

/// A cast of the ledger is in no list, and one that is brought back is worked on again.
#[tokio::test]
async fn a_cast_of_the_ledger_is_in_no_other_list() {
    use fondant_app::records::{Asked, Keep, Listed};
    let app = app().await;
    let cast = closed(&app, &["Ended"]).await[0];
    let shop = app.shop().await;
    for listed in [Listed::Open, Listed::PutAway, Listed::Deleted] {
        let asked = Asked { listed, ..Asked::default() };
        let found = fondant_app::casts::list(&app.app, &shop, &asked).await.unwrap();
        assert!(found.casts.is_empty(), "{listed:?}");
    }
    let counts = fondant_app::casts::counts(&app.app, &shop).await.unwrap();
    assert_eq!((counts.put_away, counts.of), (0, [0; 4]));
    fondant_app::casts::keep(&app.app, &shop, cast, Keep::Open).await.unwrap();
    assert!(!app.open(cast).await.record.has_ended);
    assert_eq!(fondant_app::casts::counts(&app.app, &shop).await.unwrap().of[0], 1);
}

/// Casts of the ledger, by name, with their ends a day apart.
async fn closed(app: &TestApp, names: &[&str]) -> Vec<CastId> {
    let mut casts = Vec::new();
    for (name, day) in names.iter().zip(0..) {
        let cast = app.cast(name).await;
        let ended_at = documents::now() - SignedDuration::from_hours(24 * day);
        ending::close(&app.app, cast, at(1), Told { ended_at, ..told() }).await.unwrap();
        casts.push(cast);
    }
    casts
}

/// Two in the morning of the first of December in UTC is the last evening of November on a western coast.
#[tokio::test]
async fn a_month_of_the_ledger_is_that_of_the_shop() {
    for (zone, month) in [("America/Vancouver", "2026-11"), ("UTC", "2026-12")] {
        let mut workshop = documents::workshop(8, 18);
        workshop.time_zone = zone.into();
        let app = TestApp::new(&workshop).await;
        let cast = app.cast("Late tray").await;
        let ended_at = "2026-12-01T02:00:00Z".parse().unwrap();
        ending::close(&app.app, cast, at(1), Told { ended_at, ..told() }).await.unwrap();
        let all = LedgerAsked::default();
        let shop = app.shop().await;
        let page = ledger::page(&app.app, &shop, &all, Figure::Volume).await.unwrap();
        let months: Vec<&str> = page.groups[0].iter().map(|group| &*group.label).collect();
        assert_eq!(months, [month], "{zone}");
    }
}

#[tokio::test]
async fn the_ledger_finds_sorts_and_counts() {
    let app = app().await;
    let casts = closed(&app, &["Birch tray", "ash table", "Cherry board"]).await;
    ending::mark(&app.app, casts[1], &bubbles(), &Request::default()).await.unwrap();
    let shop = app.shop().await;
    let asked = async |asked: LedgerAsked| {
        let page = ledger::page(&app.app, &shop, &asked, Figure::Volume).await.unwrap();
        let names: Vec<String> = page.rows.iter().map(|row| row.name.clone()).collect();
        (names.join(", "), page.totals)
    };
    let all = LedgerAsked::default();
    let (names, totals) = asked(all.clone()).await;
    assert_eq!(names, "Birch tray, ash table, Cherry board");
    assert_eq!((totals.casts, totals.finished, totals.sound, totals.faults), (3, 3, 2, 1));
    assert!(totals.cost_of_faults > 0.0 && totals.cost_of_faults < totals.cost);
    let by_name =
        LedgerAsked { sort: LedgerSort::Name, is_ascending: true, ..LedgerAsked::default() };
    assert_eq!(asked(by_name.clone()).await.0, "ash table, Birch tray, Cherry board");
    let after = LedgerAsked { after: Some(casts[1]), ..by_name };
    assert_eq!(asked(after).await.0, "Birch tray, Cherry board");
    let faulty = LedgerAsked { fault: Some(FaultKind::Bubbles), ..all.clone() };
    assert_eq!(asked(faulty).await.0, "ash table");
    // Words are looked for in all of the record; what stands for others in a pattern does not here.
    for (words, found) in
        [("bento CHERRY", "Cherry board"), ("quiet TABLE", "ash table"), ("100%", ""), ("_", "")]
    {
        let asked_words = LedgerAsked { words: words.into(), ..all.clone() };
        assert_eq!(asked(asked_words).await.0, found, "{words}");
    }
    for (people, found) in [("bent", 3), ("Bento", 3), ("quiet", 0), ("%", 0)] {
        let by = LedgerAsked { people: people.into(), ..all.clone() };
        assert_eq!(asked(by).await.1.casts, found, "{people}");
    }
    let of_no_timber = LedgerAsked { timber: "bento".into(), ..all.clone() };
    assert_eq!(asked(of_no_timber).await.1.casts, 0);
    let from = Some(documents::now() - SignedDuration::from_hours(30));
    assert_eq!(asked(LedgerAsked { from, ..all.clone() }).await.0, "Birch tray, ash table");
    let third = asked(all.clone()).await.1.volume_m3 / 3.0;
    let larger = LedgerAsked { volume_m3: [Some(third * 1.01), None], ..all.clone() };
    assert_eq!(asked(larger).await.0, "");
    let as_large = LedgerAsked {
        volume_m3: [Some(third * 0.99), Some(third * 1.01)],
        cost: [Some(0.0), None],
        ..all.clone()
    };
    assert_eq!(asked(as_large).await.1.casts, 3);
    let free = LedgerAsked { cost: [None, Some(0.0)], ..all.clone() };
    assert_eq!(asked(free).await.1.casts, 0);
    let given_up = LedgerAsked { outcome: Some(Outcome::GivenUp), ..all };
    assert_eq!(asked(given_up).await.1.casts, 0);
}

#[tokio::test]
async fn two_casts_are_compared_by_the_spread_of_the_others() {
    let app = app().await;
    let names = ["a", "b", "c", "d", "e", "f"];
    let casts = closed(&app, &names).await;
    for (cast, humidity) in casts.iter().zip([0.5, 0.8, 0.51, 0.49, 0.5, 0.52]) {
        let change = format!(
            "update record set told = '{{\"humidity\": {humidity}}}' where cast_id = {cast}"
        );
        damage(&app, &change).await;
    }
    let shop = app.shop().await;
    let found = ledger::compare(&app.app, &shop, (casts[0], casts[1])).await.unwrap();
    assert_eq!((found.differences[0].figure, found.is_one_kind), (Figure::Humidity, true));
    // The spread of 0.51, 0.49, 0.5 and 0.52: 0.0129, mean 0.505.
    let apart = found.differences[0].deviations.unwrap();
    assert!((apart - 0.3 / 0.012_909_944).abs() < 1e-3, "{apart}");
    let none = ledger::compare(&app.app, &shop, (casts[0], CastId(999))).await;
    assert!(matches!(none, Err(AppError::NotFound("record"))), "{none:?}");
}
