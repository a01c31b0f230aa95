//! Casts as archives: out of one workshop and into another, with all that happened to them.

use std::io::Cursor;

use fondant_app::casts::{archived, exchange};
use fondant_app::forms::{self, Booking};
use fondant_app::records::{CastId, Picture, Shows};
use fondant_app::{App, Clock, Request, casts, ending, finishing, shelf, whole};
use fondant_bench::reading::{Place, Quantity};
use fondant_cast::Kind;
use fondant_cast::facts::Fact;
use fondant_files::records::NotARecord;
use fondant_files::records::archive::Archive;
use fondant_files::records::whole::{WholeReader, WholeWriter};
use fondant_files::{made_up, photo};
use fondant_finish::work::{StepKind, Told};
use fondant_materials::resin::shelf::{Colour, ColourBase, ColourKind};
use fondant_pours::simulate::observe::Touch;
use fondant_quantities::Span;
use fondant_record::causes::Cause;
use fondant_record::readings::{CourseReadings, ReadCurve};
use fondant_testkit::{TestApp, TestDb, documents};
use jiff::SignedDuration;

use crate::app;
use crate::ending::{at, bubbles, poured_cold, told};

pub(crate) async fn out(app: &TestApp, cast: CastId) -> Vec<u8> {
    archived::zipped(&app.app, &app.open(cast).await).await.unwrap().unwrap()
}

pub(crate) async fn brought_in(app: &TestApp, bytes: Vec<u8>) -> CastId {
    let read: Archive = app.app.read_cast(bytes).await.unwrap().unwrap().unwrap();
    let shop = app.shop().await;
    exchange::import(&app.app, &shop, read, &Request::default()).await.unwrap().unwrap()
}

#[tokio::test]
async fn a_cast_with_a_past_comes_out_of_another_workshop_as_it_went_in() {
    let (app, cast) = poured_cold().await;
    // A touch that was withdrawn, a photo, a fault with its cause, and its end.
    let pour = app.document(cast).await.pours.taken[0].id;
    let touched = Fact::Touched {
        pour,
        at: documents::now() - SignedDuration::from_mins(10),
        found: Touch::Tacky,
        cup: None,
    };
    let revision = app.open(cast).await.record.revision;
    casts::facts::log(&app.app, cast, revision, &Request::default(), touched).await.unwrap();
    let rows = app.open(cast).await.facts(&app.app).await.unwrap();
    let withdrawn = rows.last().unwrap().number;
    let revision = app.open(cast).await.record.revision;
    casts::facts::withdraw(&app.app, cast, revision, withdrawn).await.unwrap();
    let kept = photo::keep(&made_up::slab_photo(240).unwrap()).unwrap();
    let open = app.open(cast).await;
    let (jpeg, request) = (kept.jpeg.clone(), Request::default());
    casts::photos::add(&app.app, &open, (jpeg, Shows::Bench), &request).await.unwrap().unwrap();
    let worked =
        Told::Took { step: StepKind::Sand, took: Span::from_h(1.0), planned: Span::from_h(1.0) };
    finishing::tell_of(&app.app, cast, &worked, &request).await.unwrap().unwrap();
    let row =
        finishing::finishing(&app.app, &app.open(cast).await).await.unwrap().work.last.unwrap();
    let back = Told::Withdrawn { row };
    finishing::tell_of(&app.app, cast, &back, &request).await.unwrap().unwrap();
    let fault = ending::mark(&app.app, cast, &bubbles(), &Request::default()).await.unwrap();
    ending::confirm(&app.app, cast, (fault, Some(Cause::ColdResin))).await.unwrap();
    for shows in [Shows::Step(StepKind::Sand), Shows::Fault(fault)] {
        let file = (kept.jpeg.clone(), shows);
        let request = Request::default();
        casts::photos::add(&app.app, &open, file, &request).await.unwrap().unwrap();
    }
    let revision = app.open(cast).await.record.revision;
    ending::close(&app.app, cast, at(revision), told()).await.unwrap();

    let bytes = out(&app, cast).await;
    let fresh = crate::app().await;
    // Its numbers begin elsewhere: none of the archive may lean on those of the workshop it left.
    fresh.cast("Another").await;
    let twin = brought_in(&fresh, bytes.clone()).await;
    assert!(out(&fresh, twin).await == bytes);
    let document = fresh.document(twin).await;
    assert_eq!(document.pours.taken.len(), app.document(cast).await.pours.taken.len());
    assert!(the_photo(&fresh, twin).await == the_photo(&app, cast).await);
    let shown = casts::photos::all(&fresh.app, &fresh.open(twin).await).await.unwrap();
    let [of_fault, of_step, of_bench] = shown.as_slice() else { panic!("{shown:?}") };
    assert!(matches!(of_fault.shows, Shows::Fault(_)));
    assert_eq!((of_step.shows, of_bench.shows), (Shows::Step(StepKind::Sand), Shows::Bench));
    // Into the workshop that it came from it comes a second time, beside itself.
    let second = brought_in(&app, bytes.clone()).await;
    assert!(second != cast && out(&app, second).await == bytes);
}

async fn the_photo(app: &TestApp, cast: CastId) -> Vec<u8> {
    let photos = casts::photos::all(&app.app, &app.open(cast).await).await.unwrap();
    casts::photos::picture(&app.app, cast, photos[0].id, Picture::Photo).await.unwrap()
}

#[tokio::test]
async fn casts_of_every_kind_travel_as_archives() {
    let (app, fresh) = (app().await, app().await);
    for kind in Kind::ALL {
        let cast = app.create(&documents::of_kind(kind)).await;
        let bytes = out(&app, cast).await;
        let twin = brought_in(&fresh, bytes.clone()).await;
        assert_eq!(fresh.document(twin).await, app.document(cast).await, "{kind:?}");
        assert!(out(&fresh, twin).await == bytes, "{kind:?}");
    }
}

/// One in the middle of its pours goes on where it has come to.
#[tokio::test]
async fn a_taken_plan_that_travels_is_on_today_there() {
    let (app, cast) = poured_cold().await;
    let fresh = crate::app().await;
    let twin = brought_in(&fresh, out(&app, cast).await).await;
    let shop = fresh.shop().await;
    let due = fresh.app.agendas(&shop, documents::now()).await.unwrap();
    let [own] = due.as_slice() else { panic!("{due:?}") };
    assert_eq!(own.cast, twin);
    assert_eq!(
        (own.agenda.pours.len(), own.agenda.poured, own.is_old),
        (fresh.document(twin).await.pours.taken.len(), 1, false)
    );
}

/// A shop with a shelf, a form that is booked, readings of its air and casts of every kind comes out of a
/// fresh installation as the same bytes; what was ended midway goes on, and nothing comes twice.
#[tokio::test]
async fn a_whole_workshop_moves_into_a_fresh_installation() {
    let (app, cast) = poured_cold().await;
    for kind in Kind::ALL {
        app.create(&documents::of_kind(kind)).await;
    }
    let shop = app.shop().await;
    let sea = Colour {
        name: "Sea".into(),
        kind: ColourKind::Dye,
        base: ColourBase::Solvent,
        ceiling_percent: 2.0,
        price_kg: None,
    };
    shelf::add(&app.app, &shop, &sea, &Request::default()).await.unwrap();
    for (name, booked) in [("Free tray", false), ("Booked tray", true)] {
        let id = crate::bookings::form(&app, name).await;
        if booked {
            forms::book(&app.app, cast, Booking::Take(id)).await.unwrap();
        }
    }
    let write = async |app: &TestApp| {
        let mut out = Cursor::new(Vec::new());
        let casts = whole::write(&app.app, &mut out).await.unwrap();
        (casts, out.into_inner())
    };
    let (casts, bytes) = write(&app).await;
    assert_eq!(casts, 1 + Kind::ALL.len());

    let db = TestDb::migrated().await;
    let fresh = App::new(db.store.clone(), Clock::new(documents::now));
    assert_eq!(whole::read(&fresh, Cursor::new(&bytes)).await.unwrap(), casts);
    let mut again = Cursor::new(Vec::new());
    whole::write(&fresh, &mut again).await.unwrap();
    assert!(again.into_inner() == bytes, "the same bytes");
    // Read once more, as after an end midway: nothing is added.
    assert_eq!(whole::read(&fresh, Cursor::new(&bytes)).await.unwrap(), casts);
    let mut twice = Cursor::new(Vec::new());
    assert_eq!(whole::write(&fresh, &mut twice).await.unwrap(), casts);
    assert!(twice.into_inner() == bytes);
    assert_eq!(app.document(cast).await.pours.taken.len(), {
        let shop = fresh.shop().await.unwrap();
        fresh.agendas(&shop, documents::now()).await.unwrap()[0].agenda.pours.len()
    });
    // Hours that no shop has would leave an installation that shows nothing.
    let (_, mut whole) = WholeReader::open(Cursor::new(&bytes)).unwrap();
    (whole.time_zone, whole.casts) = ("Nowhere/At all".into(), 0);
    let nowhere = WholeWriter::begin(Cursor::new(Vec::new()), &whole).unwrap().end().unwrap();
    let db = TestDb::migrated().await;
    let empty = App::new(db.store.clone(), Clock::new(documents::now));
    let refused = whole::read(&empty, nowhere).await;
    assert!(matches!(refused, Err(whole::WholeError::File(_))), "{refused:?}");
    assert!(empty.shop().await.is_err(), "nothing was begun");
    // Another workshop is not overwritten.
    let other = crate::app().await;
    other.cast("Its own").await;
    let refused = whole::read(&other.app, Cursor::new(&bytes)).await;
    assert!(matches!(refused, Err(whole::WholeError::Begun)), "of the same settings: {refused:?}");
    let mut out = Cursor::new(Vec::new());
    assert_eq!(whole::write(&other.app, &mut out).await.unwrap(), 1, "and nothing was added");
    let damaged = whole::read(&other.app, Cursor::new(&bytes[..bytes.len() / 2])).await;
    assert!(matches!(damaged, Err(whole::WholeError::File(_))), "{damaged:?}");
}

async fn refused(app: &TestApp, archive: &Archive) -> String {
    let bytes = fondant_files::records::archive::write(archive).unwrap();
    let read = app.app.read_cast(bytes).await.unwrap().unwrap();
    let Err(NotARecord::CannotBe(what)) = read else { panic!("{read:?}") };
    what
}

#[tokio::test]
async fn what_no_bench_would_have_taken_is_refused() {
    let (app, cast) = poured_cold().await;
    ending::mark(&app.app, cast, &bubbles(), &Request::default()).await.unwrap();
    let sound = archived::archive(&app.app, &app.open(cast).await).await.unwrap();
    let changed = |change: &dyn Fn(&mut Archive)| {
        let mut archive = sound.clone();
        change(&mut archive);
        archive
    };
    let unmixed = changed(&|archive| {
        let begun = archive.runs[0].rows.remove(2);
        assert!(matches!(begun.what, fondant_bench::Happening::MixBegun { .. }));
    });
    assert!(refused(&app, &unmixed).await.starts_with("row 3 of run 1"));
    let twice = changed(&|archive| archive.runs.push(archive.runs[0].clone()));
    assert_eq!(refused(&app, &twice).await, "two runs of one pour in hand");
    let ended = changed(&|archive| archive.runs[0].ended_at = Some(documents::now()));
    assert_eq!(refused(&app, &ended).await, "run 1 with another end than its rows");
    let smokes = changed(&|archive| {
        let points = vec![(Span::from_h(1.0), 1e30)];
        let curve = ReadCurve { place: Place::Surface, quantity: Quantity::Temperature, points };
        let begun = documents::now();
        archive.readings = Some(CourseReadings { begun, curves: vec![curve] });
    });
    assert_eq!(refused(&app, &smokes).await, "readings that no instrument can have");
    let other = changed(&|archive| archive.faults[0].cause = Some(Cause::GritLeftOut));
    assert_eq!(refused(&app, &other).await, "a cause that its fault cannot have");
}
