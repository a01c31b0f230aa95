//! Today, the calendar and the shop's air through the router.

use crate::common::{get, post, post_as};
use fondant_app::beginning::{NewCast, NewWorkshop};
use fondant_app::records::CastId;
use fondant_app::{AppError, Request, casts, settings};
use fondant_cast::agenda::Agenda;
use fondant_cast::document::{AirFrom, PourId, Split};
use fondant_cast::facts::Fact;
use fondant_cast::pours::{as_given, take};
use fondant_cast::{Inputs, Site, evaluate};
use fondant_devices::forecast::{Behaviour, SimulatedForecast};
use fondant_heat::climate::indoor::Indoor;
use fondant_heat::climate::profile::{Profile, ProfileError, Way};
use fondant_materials::resin::shipped;
use fondant_numerics::Stop;
use fondant_quantities::{Length, Temperature};
use fondant_testkit::{TestApp, documents};
use icalendar::{Calendar, CalendarDateTime, Component, DatePerhapsTime};
use jiff::SignedDuration;

async fn app() -> TestApp {
    TestApp::new(&documents::workshop(8, 18)).await
}

/// A cast whose proposal was taken, by its own page.
async fn taken(app: &TestApp, name: &str) -> i64 {
    settled(app, app.cast(name).await.0).await
}

async fn settled(app: &TestApp, cast: i64) -> i64 {
    let answer =
        post(app, &format!("/casts/{cast}/pours/settle"), &[("revision", "1"), ("sure", "yes")])
            .await;
    assert!(answer.text.contains("Taken."), "{}", answer.text);
    cast
}

async fn feed(app: &TestApp) -> String {
    let page = get(app, "/shop").await.text;
    let address = page.split("<code>").nth(1).and_then(|rest| rest.split("</code>").next());
    let path = address.and_then(|a| a.find("/feed/").map(|at| a[at..].to_owned()));
    get(app, &path.expect("a feed's address")).await.text
}

/// Ids, beginnings and sequences of a calendar's events.
fn events(text: &str) -> Vec<(String, String, i64)> {
    let calendar: Calendar = text.parse().expect("a calendar library reads it");
    let mut all: Vec<(String, String, i64)> = calendar
        .iter()
        .filter_map(|component| component.as_event())
        .map(|event| {
            let start = match event.get_start() {
                Some(DatePerhapsTime::DateTime(CalendarDateTime::Utc(at))) => at.to_rfc3339(),
                other => panic!("no beginning in UTC: {other:?}"),
            };
            let sequence = event.property_value("SEQUENCE").and_then(|text| text.parse().ok());
            let uid = event.get_uid().expect("an id").to_owned();
            (uid, start, sequence.unwrap_or(-1))
        })
        .collect();
    all.sort();
    all
}

#[tokio::test]
async fn the_calendar_keeps_its_ids_over_a_re_plan() {
    let app = app().await;
    let cast = taken(&app, "Bench; with, signs").await;
    let text = feed(&app).await;
    assert!(text.contains("BEGIN:VALARM") && text.contains("TRIGGER:-PT1800S"), "{text}");
    assert!(text.contains("REFRESH-INTERVAL;VALUE=DURATION:PT1H"), "{text}");
    // Long lines are folded.
    let plain = text.replace("\r\n ", "");
    let installation = app.shop().await.workshop.installation;
    assert_eq!(installation.len(), 32);
    assert!(plain.contains(&format!("@{installation}.fondant")), "{plain}");
    assert!(plain.contains(&format!("/casts/{cast}/pours\r\n")), "{plain}");
    assert!(plain.contains(" g A + ") && plain.contains(" g B of "), "{plain}");
    let before = events(&text);
    assert!(before.iter().any(|event| event.0.contains("-window-")));
    let pours = before.iter().filter(|event| event.0.contains("-pour-"));
    let first = pours.min_by_key(|event| event.1.clone()).expect("a pour").clone();
    assert!(first.0.starts_with(&format!("cast-{cast}-pour-")), "{}", first.0);

    let at = documents::now() + SignedDuration::from_hours(24);
    let at = at.as_second().to_string();
    let moved = [("revision", "2"), ("pour", "0"), ("at", at.as_str())];
    let answer = post(&app, &format!("/casts/{cast}/pours/move"), &moved).await;
    assert_eq!(answer.status, 200, "{}", answer.text);
    let after = events(&feed(&app).await);
    let ids = |all: &[(String, String, i64)]| -> Vec<String> {
        all.iter().map(|event| event.0.clone()).filter(|id| !id.contains("sand")).collect()
    };
    assert_eq!(ids(&before), ids(&after));
    let then = after.iter().find(|event| event.0 == first.0).expect("the same pour");
    assert_ne!(then.1, first.1);
    assert!(then.2 > first.2, "the sequence rises");
    assert_eq!(get(&app, "/feed/guessed/pours.ics").await.status, 404);
    // A new address ends the former one.
    post_as(&app, "/shop/feed", &[], false).await;
    assert_eq!(events(&feed(&app).await).len(), after.len());
}

#[tokio::test]
async fn windows_of_the_calendar_follow_the_air_of_the_shop() {
    let app = app().await;
    let mut plan = documents::river_top("Bench");
    plan.conditions.air_from = AirFrom::Shop;
    settled(&app, app.create(&plan).await.0).await;
    let first = feed(&app).await;
    let stamps = first.lines().filter(|line| line.starts_with("DTSTAMP"));
    let now = documents::now().strftime("DTSTAMP:%Y%m%dT%H%M%SZ").to_string();
    assert!(stamps.clone().count() > 4 && stamps.clone().all(|stamp| stamp == now), "{first}");
    assert_eq!(feed(&app).await, first, "the same air, the same calendar");
    let workshop = app.shop().await.workshop;
    let mut changed = workshop.settings.clone();
    changed.shop.air = Profile::constant(Temperature::from_celsius(17.0), 50.0);
    let saved = settings::save(&app.app, workshop.id, workshop.revision, &changed).await;
    saved.expect("kept");
    let (before, after) = (events(&first), events(&feed(&app).await));
    let window = |all: &[(String, String, i64)]| {
        all.iter().find(|event| event.0.contains("-window-")).expect("a window").clone()
    };
    let (was, is) = (window(&before), window(&after));
    assert!(is.1 > was.1, "colder air opens it later: {} {}", was.1, is.1);
    assert!(is.2 > was.2, "and the sequence rises");
}

#[tokio::test]
async fn two_tabs_never_move_the_same_pours() {
    let app = app().await;
    let cast = taken(&app, "Top").await;
    let at = (documents::now() + SignedDuration::from_hours(25)).as_second().to_string();
    let stale = [("revision", "1"), ("pour", "0"), ("at", at.as_str())];
    let answer = post(&app, &format!("/casts/{cast}/pours/move"), &stale).await;
    assert_eq!(answer.status, 409);
}

#[tokio::test]
async fn opening_once_is_kept_with_the_shop_and_nothing_stale_is_applied() {
    let app = TestApp::new(&documents::workshop(9, 11)).await;
    let mut plan = documents::river_top("Short hours");
    plan.pours.split = Split::Equal { count: 2 };
    let cast = app.create(&plan).await.0;
    let offers = get(&app, &format!("/casts/{cast}/pours/offers")).await.text;
    let button =
        offers.split("<li>").find(|li| li.contains("Open at") || li.contains("Stay until"));
    let offer = button.and_then(|li| li.split("value=\"").nth(1)?.split('"').next());
    let offer = offer.unwrap_or_else(|| panic!("no such offer: {offers}"));
    let fix = format!("/casts/{cast}/pours/fix");
    let stale = post(&app, &fix, &[("revision", "7"), ("offer", offer)]).await;
    assert_eq!(stale.status, 409);
    let exceptions = async || app.shop().await.workshop.settings.shop.exceptions.len();
    assert_eq!(exceptions().await, 0);
    let fixed = post(&app, &fix, &[("revision", "1"), ("offer", offer)]).await;
    assert_eq!(fixed.status, 200, "{}", fixed.text);
    assert_eq!(exceptions().await, 1);
    assert!(get(&app, "/shop").await.text.contains("2026-11-"));
    // The cast itself has not changed by it, and what was offered is no longer what would happen.
    let gone = post(&app, &fix, &[("revision", "1"), ("offer", offer)]).await;
    assert_eq!((gone.status.as_u16(), gone.header("hx-reswap")), (409, "none"), "{}", gone.text);
    let none = post(&app, &fix, &[("revision", "1"), ("offer", "99")]).await;
    assert_eq!(none.status, 400);
}

#[tokio::test]
async fn the_plan_leaves_as_a_table_and_the_day_as_a_sheet() {
    let app = app().await;
    let cast = taken(&app, "Top").await;
    let table = get(&app, &format!("/casts/{cast}/pours.csv")).await;
    assert!(table.header("content-type").starts_with("text/csv"));
    let rows: Vec<&str> = table.text.lines().collect();
    assert!(rows[0].starts_with("layer,pour_at,done_by,depth_mm"));
    assert!(rows[1].starts_with("base,2026-11-23T") && rows.len() >= 3);
    let days: Vec<String> =
        (23..27).map(|day| format!("/today/sheet?date=2026-11-{day}")).collect();
    let mut all = String::new();
    for day in &days {
        all += &get(&app, day).await.text;
    }
    assert!(all.contains("Mix and pour the base") && all.contains("open the form"));
    assert_eq!(get(&app, "/today/sheet?date=tomorrow").await.status, 404);
}

#[tokio::test]
async fn a_form_that_changes_puts_the_taken_plan_out_of_date() {
    let app = app().await;
    let cast = taken(&app, "Top").await;
    assert!(get(&app, "/today").await.text.contains("Mix and pour the base"));
    let fields = crate::common::form_fields(&[("revision", "2"), ("overfill", "5 mm")]);
    let saved = post(&app, &format!("/casts/{cast}/form"), &fields).await;
    assert_eq!(saved.status, 200, "{}", saved.text);
    let page = get(&app, &format!("/casts/{cast}/pours")).await.text;
    assert!(page.contains("Out of date."));
    assert!(!get(&app, "/today").await.text.contains("Mix and pour the base"));
}

#[tokio::test]
async fn a_forecast_that_fails_is_told_of_and_nothing_breaks() {
    for behaviour in [Behaviour::Silent, Behaviour::Jumps, Behaviour::Lies] {
        let mut workshop = documents::workshop(8, 18);
        workshop.shop.air = Profile { by: Way::Forecast, ..Profile::default() };
        let app = TestApp::new(&workshop).await;
        assert!(app.shop().await.around.air_trouble.is_none());
        let source = SimulatedForecast { behaviour, ..SimulatedForecast::coast() };
        let blind = app.another().await.with_weather(source);
        let trouble = blind.shop().await.expect("a shop").around.air_trouble.clone();
        assert_eq!(trouble, Some(ProfileError::NoForecast));
    }
}

#[tokio::test]
async fn the_room_is_fitted_to_the_shops_own_log() {
    let app = app().await;
    let short = "2026-11-22T06:00Z,14.5,62\n2026-11-22T06:15Z,14.7,61";
    post_as(&app, "/shop/log/keep", &[("log", short), ("clock", "written")], false).await;
    let refused = post_as(&app, "/shop/fit", &[("revision", "1")], false).await;
    assert_eq!(refused.status, 422);
    assert!(refused.text.contains("Bring a longer log"), "{}", refused.text);
    // A room four kelvins warmer and six hours late wrote this.
    let outside = app.app.outside().expect("weather");
    let room = Indoor::default();
    let log: String = room
        .follow(&outside)
        .iter()
        .filter(|r| r.at < documents::now())
        .map(|r| format!("{},{:.2},{:.0}\n", r.at, r.temperature.celsius(), r.humidity_percent))
        .collect();
    post_as(&app, "/shop/log/keep", &[("log", &log), ("clock", "written")], false).await;
    let fitted = post_as(&app, "/shop/fit", &[("revision", "1")], false).await;
    assert_eq!(fitted.status, 200, "{}", fitted.text);
    assert!(fitted.text.contains("4\u{202f}°C warmer than outside"), "{}", fitted.text);
    assert!(get(&app, "/shop").await.text.contains("value=\"forecast\" selected"));
}

/// Dates that may be read both ways are asked for once for each logger; another logger is another
/// question.
#[tokio::test]
async fn the_order_of_a_loggers_dates_is_asked_once() {
    let app = app().await;
    let log = |day: u32| format!("Date,Temp (°C),RH\n03/{day:02}/2026 06:00,15,60\n");
    let look = async |text: &str, more: (&str, &str)| {
        let form = [("log", text), ("clock", "utc"), more];
        post_as(&app, "/shop/log", &form, false).await
    };
    let asked = look(&log(4), ("scale", "")).await;
    assert_eq!(asked.status, 422);
    assert!(asked.text.contains("day or with the month first"), "{}", asked.text);
    let told = look(&log(4), ("dates", "month")).await;
    assert!(told.text.contains("Its dates have the month first."), "{}", told.text);
    assert!(told.text.contains("Temperature of the log"), "drawn before it is kept");
    let form = [("log", &*log(4)), ("clock", "utc"), ("dates", "month")];
    post_as(&app, "/shop/log/keep", &form, false).await;
    let next = look(&log(5), ("scale", "")).await;
    assert!(next.text.contains("Its dates have the month first."), "{}", next.text);
    let other = log(5).replace("Date", "Zeit");
    assert_eq!(look(&other, ("scale", "")).await.status, 422);
}

/// A workshop in which a plan is taken for each of many casts.
fn many_casts(count: usize) -> NewWorkshop {
    let mut document = documents::river_top("Top");
    document.conditions.air_from = AirFrom::Shop;
    let settings = documents::workshop(8, 18);
    let site = Site::plain(settings.hours().expect("hours"));
    let resin = shipped::find(&document.resin).expect("a resin");
    let worked = |document: &_| {
        let inputs = Inputs::new(Clone::clone(document), resin.clone(), &site);
        evaluate(&inputs, &Stop::NEVER).expect("it works out")
    };
    let proposed = worked(&document).pours.expect("pours");
    let mut place = 0;
    take(&mut document.pours, &as_given(&proposed), || {
        place += 1;
        PourId::of_place(place - 1)
    });
    let taken = worked(&document);
    let (planned, schedule) = (taken.planned.expect("a plan"), taken.pours.expect("pours"));
    let agenda = Agenda::of(&document, &planned, &schedule, 0, documents::now());
    let cast = |number: usize| {
        let mut document = document.clone();
        document.name = format!("Top {number}");
        let agenda = Some(agenda.clone());
        NewCast {
            document,
            changed: documents::now(),
            facts: Vec::new(),
            agenda,
            forecast: None,
            photo: None,
        }
    };
    NewWorkshop { casts: (0..count).map(cast).collect(), ..NewWorkshop::empty(settings) }
}

#[tokio::test]
async fn a_cast_that_is_changed_with_resin_in_it_is_told_of() {
    let app = app().await;
    let cast = CastId(taken(&app, "Half in").await);
    let agenda = app.app.agendas(&app.shop().await, documents::now()).await.unwrap();
    let base = agenda[0].agenda.pours[0].clone();
    app.set_now(base.done);
    let fact = Fact::Poured { pour: base.id, at: base.at, resin_at: None };
    casts::facts::log(&app.app, cast, 2, &Request::default(), fact).await.unwrap();
    let whole = get(&app, "/today").await.text;
    assert!(whole.contains("Mix and pour layer 1") && !whole.contains("has no hours"));
    let revision = app.open(cast).await.record.revision;
    let changed = casts::change(&app.app, cast, revision, |open| {
        let mut document = open.record.document.clone();
        document.form.overfill = Length::from_mm(9.0);
        Ok::<_, AppError>(document)
    });
    changed.await.unwrap();
    let left = get(&app, "/today").await.text;
    assert!(left.contains("“Half in” was changed since its pours were taken"), "{left}");
    assert!(left.contains("Window closes") && !left.contains("Mix and pour"), "{left}");
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn two_hundred_casts_still_make_one_page() {
    let app = TestApp::with(&many_casts(200)).await;
    let page = get(&app, "/today").await;
    assert_eq!(page.status, 200);
    assert!(page.text.contains("more casts are due") && page.text.contains("more after these"));
}

/// On paper each bucket has its parts, what is poured is ticked, and what should be is marked.
#[tokio::test]
async fn the_day_sheet_ticks_what_is_done_and_marks_what_is_late() {
    let app = app().await;
    let cast = CastId(taken(&app, "On paper").await);
    let agenda = app.app.agendas(&app.shop().await, documents::now()).await.unwrap();
    let first = agenda[0].agenda.pours[0].clone();
    let date = first.at.to_zoned_datetime(app.shop().await.hours().zone().clone()).date();
    let sheet = async || get(&app, &format!("/today/sheet?date={date}")).await.text;
    let page = sheet().await;
    assert!(page.contains(" A + ") && !page.contains("☐ late") && !page.contains("☑"), "{page}");
    app.set_now(first.done + SignedDuration::from_mins(10));
    assert!(sheet().await.contains("☐ late"));
    let fact = Fact::Poured { pour: first.id, at: first.at, resin_at: None };
    casts::facts::log(&app.app, cast, 2, &Request::default(), fact).await.unwrap();
    let page = sheet().await;
    assert!(page.contains("☑") && !page.contains("☐ late"), "{page}");
}

#[tokio::test]
async fn what_is_out_of_its_form_stands_on_today_and_in_the_calendar_step_by_step() {
    let app = app().await;
    let cast = taken(&app, "Alder bench").await;
    let now = get(&app, "/today").await.text;
    assert!(!now.contains("id=\"finishing\""), "nothing is hard yet");
    let planned = feed(&app).await;
    assert!(planned.contains("Sand: Alder bench"), "it is dated before the form opens: {planned}");
    let before = events(&planned);
    app.set_now(app.app.now() + SignedDuration::from_hours(24 * 8));
    let hard = get(&app, "/today").await.text;
    let section = hard.split("id=\"finishing\"").nth(1).expect("the section");
    assert!(
        section.contains("Out of the form</b>") && section.contains("Alder bench"),
        "{section}"
    );
    let finish = format!("/casts/{cast}/finish/told");
    let done = [("do", "done"), ("step", "demould"), ("request", "a")];
    let told = post_as(&app, &finish, &done, false).await;
    assert!(told.status.is_redirection(), "{} {}", told.status, told.text);
    let next = get(&app, "/today").await.text;
    let section = next.split("id=\"finishing\"").nth(1).expect("the section");
    assert!(!section.contains("<b>Out of the form</b>"), "{section}");
    // The work moves on with the days, under the same ids.
    let sand = |all: &[(String, String, i64)]| {
        let found = all.iter().find(|(id, ..)| id.contains("finish-sand"));
        found.cloned().expect("it is sanded")
    };
    let (was, is) = (sand(&before), sand(&events(&feed(&app).await)));
    assert!(was.0 == is.0 && was.1 < is.1 && was.2 < is.2, "{was:?} {is:?}");
}
