//! A plan and what it asks of the shop are one thing.

use fondant_app::records::{Asked, CastState, Listed, Step};
use fondant_app::{CastAgenda, Request, casts, settings};
use fondant_cast::Document;
use fondant_cast::agenda::Fit;
use fondant_cast::document::AirFrom;
use fondant_cast::facts::Fact;
use fondant_files::logs::Scale;
use fondant_files::logs::air::ReadAir;
use fondant_heat::climate::log::AirLog;
use fondant_quantities::Length;
use fondant_testkit::{TestApp, documents};
use jiff::SignedDuration;
use jiff::civil::Time;

use crate::{app, edit, taken};

async fn agendas(app: &TestApp) -> Vec<CastAgenda> {
    let shop = app.shop().await;
    app.app.agendas(&shop, documents::now()).await.expect("agendas")
}

/// "Plan and agenda in two transactions": whatever changes the one has changed the other when it
/// answers, without anybody having asked for the agenda in between.
#[tokio::test]
async fn whatever_changes_a_plan_changes_its_agenda_with_it() {
    let app = app().await;
    let (cast, _) = taken(&app).await;
    let first = agendas(&app).await;
    assert_eq!(first.len(), 1);
    let planned = app.document(cast).await.pours.taken[0].at;
    assert!(first[0].agenda.acts()[0].at <= planned);

    // Another form: the plan is out of date, and asks for nothing.
    edit(&app, cast, 2, |document| document.form.overfill = Length::from_mm(9.0)).await.unwrap();
    assert!(agendas(&app).await.is_empty());
    // Undone, it is back as it was.
    casts::step(&app.app, cast, 3, Step::Undo).await.unwrap();
    assert_eq!(agendas(&app).await[0].agenda, first[0].agenda);
    // Given up, it is gone.
    casts::pours::release(&app.app, cast, 4).await.unwrap();
    assert!(agendas(&app).await.is_empty());
}

/// "A cast that was changed with resin in it left Today, and was planning again."
#[tokio::test]
async fn a_cast_that_is_changed_with_resin_in_it_stays_in_hand() {
    let app = app().await;
    let (cast, pours) = taken(&app).await;
    let first = agendas(&app).await.remove(0).agenda;
    let base = first.pours[0].clone();
    app.set_now(base.done);
    let fact = Fact::Poured { pour: pours[0], at: base.at, resin_at: None };
    casts::facts::log(&app.app, cast, 2, &Request::default(), fact).await.unwrap();
    let poured = agendas(&app).await.remove(0).agenda;
    let revision = app.open(cast).await.record.revision;
    let thicker = |document: &mut Document| document.form.overfill = Length::from_mm(9.0);
    edit(&app, cast, revision, thicker).await.unwrap();
    let left = agendas(&app).await.remove(0).agenda;
    let [kept] = left.pours.as_slice() else { panic!("{left:?}") };
    assert_eq!((kept.id, kept.at, left.fit), (pours[0], base.at, Fit::Lacking));
    // A little more depth over it moves the window of the base by minutes.
    let apart = kept.opens.duration_since(poured.pours[0].opens).abs();
    assert!(apart < SignedDuration::from_mins(10) && left.sequence > poured.sequence, "{apart}");
    // However late it gets: it is neither planning nor done.
    app.set_now(first.hard + SignedDuration::from_hours(24 * 90));
    let shop = app.shop().await;
    let in_hand = Asked { listed: Listed::Of(CastState::Pouring), ..Asked::default() };
    let listed = casts::list(&app.app, &shop, &in_hand).await.unwrap();
    assert_eq!(listed.casts.iter().map(|cast| cast.id).collect::<Vec<_>>(), [cast]);
    let due = app.app.agendas(&shop, app.app.now()).await.unwrap();
    assert_eq!(due.len(), 1);
    app.set_now(base.done);
    casts::step(&app.app, cast, revision + 1, Step::Undo).await.unwrap();
    let back = agendas(&app).await.remove(0).agenda;
    assert_eq!((back.pours, back.fit), (poured.pours, Fit::Whole));
}

/// "An hour's repair skips casts in steady air."
#[tokio::test]
async fn other_hours_reach_casts_in_steady_air_too() {
    let app = app().await;
    let (cast, _) = taken(&app).await;
    assert_eq!(app.document(cast).await.conditions.air_from, AirFrom::Steady);
    let before = agendas(&app).await;
    let shop = app.shop().await;
    let mut later = documents::workshop(8, 18);
    later.days[0][0].closes = Time::constant(12, 0, 0, 0);
    settings::save(&app.app, shop.id, 1, &later).await.unwrap();
    let after = agendas(&app).await;
    assert!(!after[0].is_old);
    assert_eq!(before[0].agenda.hard, after[0].agenda.hard, "the times are the maker's own");
    let breaks = app.open(cast).await.worked(&app.app).await.unwrap();
    let schedule = breaks.evaluation.pours.clone().unwrap();
    assert!(!schedule.breaks.is_empty(), "the base goes in after noon, outside the new hours");
}

/// "A log import saves readings, then a dummy workshop revision, and on 409 says nothing was saved."
#[tokio::test]
async fn a_log_is_kept_whole_or_not_and_the_settings_stay_as_they_were() {
    let app = app().await;
    let shop = app.shop().await;
    let reading = |hour: i64| fondant_heat::climate::AirAt {
        at: documents::now() - jiff::SignedDuration::from_hours(hour),
        temperature: fondant_quantities::Temperature::from_celsius(17.0),
        humidity_percent: 60.0,
    };
    let log = AirLog {
        readings: vec![reading(3), reading(2)],
        rows: 2,
        gaps: Vec::new(),
        lacks_humidity: false,
    };
    // Somebody changes the settings meanwhile: readings are saved all the same.
    settings::save(&app.app, shop.id, 1, &documents::workshop(9, 17)).await.unwrap();
    let read = ReadAir {
        log,
        heading: String::new(),
        scale: Scale::Celsius,
        order: None,
        blank: 0,
        footer: 0,
        was_descending: false,
        missing: 0,
    };
    let request = Request::keyed(Some("a-log"));
    let kept = settings::keep_log(&app.app, &shop, (&read, None), &request).await.unwrap();
    // The same request again keeps it once.
    assert_eq!(settings::keep_log(&app.app, &shop, (&read, None), &request).await.unwrap(), kept);
    let now = app.shop().await;
    assert_eq!(now.workshop.revision, 2);
    assert_eq!(settings::readings(&app.app, &now).await.unwrap().len(), 2);
    settings::withdraw_log(&app.app, &now, kept).await.unwrap();
    assert!(settings::readings(&app.app, &app.shop().await).await.unwrap().is_empty());
}
