//! Random plans with random facts: no page contradicts another. `FONDANT_PLANS` sets how many.

use axum::http::StatusCode;
use fondant_app::records::CastId;
use fondant_cast::document::{Flood, PourId, Stage};
use fondant_materials::resin::ResinId;
use fondant_materials::resin::shipped::{COATING, MEDIUM_CASTING, SLOW_CASTING};
use fondant_pours::layers::Purpose;
use fondant_quantities::{Length, Temperature};
use fondant_testkit::{TestApp, documents};
use icalendar::{Calendar, CalendarDateTime, Component, DatePerhapsTime};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};

use crate::common::{get, post};

/// Plans that are walked where nothing else is asked for.
const PLANS: u32 = 8;

/// Numbers between 0 and 1 that fill the range evenly: multiples of the golden ratio.
struct Even(f64);

impl Even {
    fn next(&mut self) -> f64 {
        self.0 = (self.0 + 0.618_033_988_75).fract();
        self.0
    }

    fn between(&mut self, low: f64, high: f64) -> f64 {
        low + (high - low) * self.next()
    }
}

/// A pour as the table for other programs has it.
struct Row {
    at: Timestamp,
    opens: Timestamp,
    peak_c: f64,
    form_opens: Timestamp,
}

fn rows(csv: &str) -> Vec<Row> {
    let time = |text: &str| text.parse::<Timestamp>().expect("a time");
    let read = |line: &str| {
        let cells: Vec<&str> = line.split(',').collect();
        Row {
            at: time(cells[1]),
            opens: time(cells[6]),
            peak_c: cells[8].parse().expect("a figure"),
            form_opens: time(cells[11]),
        }
    };
    csv.lines().skip(1).map(read).collect()
}

fn local(at: Timestamp, format: &str) -> String {
    at.to_zoned_datetime(TimeZone::UTC).strftime(format).to_string()
}

/// What stands between two pieces of a page, without its tags.
fn said(page: &str, from: &str, to: &str) -> String {
    let rest = page.split_once(from).unwrap_or_else(|| panic!("no {from}")).1;
    let inside = rest.split_once(to).map_or(rest, |parts| parts.0);
    let mut text = String::new();
    let mut is_tag = false;
    for c in inside.chars() {
        match c {
            '<' => is_tag = true,
            '>' => is_tag = false,
            c if !is_tag => text.push(if c.is_whitespace() { ' ' } else { c }),
            _ => {}
        }
    }
    text
}

/// A river as random as a maker's, taken. `None` where nothing can be poured of it.
async fn taken(app: &TestApp, even: &mut Even) -> Option<(CastId, Vec<PourId>)> {
    let mut document = documents::river_top("As it goes");
    document.piece.thickness = Length::from_mm(even.between(8.0, 37.0));
    let width = even.between(60.0, 300.0);
    for station in &mut documents::river(&mut document).stations {
        station.width = Length::from_mm(width * even.between(0.7, 1.2));
    }
    let resins = [SLOW_CASTING, MEDIUM_CASTING, COATING];
    document.resin = ResinId(resins[(even.next() * 3.0) as usize].into());
    document.conditions.air = Temperature::from_celsius(even.between(18.0, 24.0));
    if even.next() < 0.5 {
        let resin = Some(ResinId(resins[(even.next() * 3.0) as usize].into()));
        let depth = Length::from_mm(even.between(1.0, 6.0));
        document.stages.below =
            vec![Stage { depth, resin: resin.clone(), ..Stage::begin(Purpose::Base) }];
        document.stages.flood = (even.next() < 0.5).then(|| Flood::begin(resin));
    }
    let cast = app.create(&document).await;
    let form = [("revision", "1"), ("sure", "yes")];
    let answer = post(app, &format!("/casts/{cast}/pours/settle"), &form).await;
    let taken = app.document(cast).await.pours.taken;
    (answer.status == StatusCode::OK).then(|| (cast, taken.iter().map(|pour| pour.id).collect()))
}

/// The base is poured early or late, and touched some hours later.
async fn happen(app: &TestApp, even: &mut Even, (cast, pours): (CastId, &[PourId])) {
    let csv = get(app, &format!("/casts/{cast}/pours.csv")).await.text;
    let planned = rows(&csv);
    let late = SignedDuration::from_mins(even.between(-20.0, 200.0) as i64);
    let at = planned[0].at + late;
    let touched = planned[0].opens + SignedDuration::from_mins(even.between(-240.0, 120.0) as i64);
    let touched = touched.max(at + SignedDuration::from_mins(20));
    app.set_now(touched + SignedDuration::from_mins(5));
    let found = if touched < planned[0].opens { "clear" } else { "tacky" };
    let pour = pours[0].0.to_string();
    for (what, at) in [("poured", at), (found, touched)] {
        let at = local(at, "%Y-%m-%dT%H:%M");
        let form = [
            ("revision", "2"),
            ("fact_pour", &*pour),
            ("fact_what", what),
            ("fact_at", &*at),
            ("fact_sure", "yes"),
        ];
        let written = post(app, &format!("/casts/{cast}/pours/facts"), &form).await;
        assert_eq!(written.status, StatusCode::OK, "{}", said(&written.text, "<main", "</main>"));
    }
}

async fn feed(app: &TestApp) -> Vec<(String, Timestamp)> {
    let page = get(app, "/shop").await.text;
    let address = said(&page, "<code>", "</code>");
    let path = &address[address.find("/feed/").expect("a feed's address")..];
    let calendar: Calendar = get(app, path).await.text.parse().expect("a calendar");
    let begins = |event: &icalendar::Event| match event.get_start() {
        Some(DatePerhapsTime::DateTime(CalendarDateTime::Utc(at))) => {
            Timestamp::from_second(at.timestamp()).expect("a time")
        }
        other => panic!("no beginning in UTC: {other:?}"),
    };
    let events = calendar.iter().filter_map(|component| component.as_event());
    events.map(|e| (e.get_uid().expect("an id").to_owned(), begins(e))).collect()
}

/// Every page of a cast of which the base is poured.
async fn agree(app: &TestApp, cast: CastId, pours: &[PourId]) {
    let rows = rows(&get(app, &format!("/casts/{cast}/pours.csv")).await.text);
    assert_eq!(rows.len(), pours.len());
    let begins = |place: usize| match place.checked_sub(1).map(|below| rows[below].opens) {
        Some(opens) if place > 0 && rows[place].at < opens => opens,
        _ => rows[place].at,
    };
    let hottest = rows.iter().map(|row| row.peak_c).fold(f64::MIN, f64::max);
    let hours = rows[0].form_opens.duration_since(rows[0].at).as_secs_f64() / 3600.0;
    for station in ["timber", "resin", "heat", "pours"] {
        let page = get(app, &format!("/casts/{cast}/{station}")).await.text;
        let next = said(&page, "<div class=\"next\">", "</div>");
        match rows.get(1) {
            Some(_) => {
                let when = local(begins(1), "%a %H:%M");
                assert!(next.contains(&when), "{station}: “{next}” without {when}");
            }
            None => assert!(next.contains("Let it cure"), "{station}: {next}"),
        }
        let figure = |id: &str| -> f64 {
            let text = said(&page, &format!("id=\"f-{id}\""), "<span class=\"l\">");
            let digits: String = text.chars().filter(|c| c.is_ascii_digit() || *c == '.').collect();
            digits.parse().unwrap_or_else(|_| panic!("{station} {id}: “{text}”"))
        };
        assert!((figure("hottest") - hottest).abs() <= 0.56, "{station}: {hottest}");
        assert!((figure("open") - hours).abs() <= 0.52, "{station}: {hours}");
    }
    let events = feed(app).await;
    let of = |id: &str| {
        let id = format!("cast-{cast}-{id}");
        let event = events.iter().find(|event| event.0.starts_with(&id));
        event.unwrap_or_else(|| panic!("no {id} in {events:?}")).1
    };
    let minutes = |a: Timestamp, b: Timestamp| a.duration_since(b).as_secs().abs() / 60;
    for (place, pour) in pours.iter().enumerate() {
        assert!(minutes(of(&format!("pour-{}", pour.0)), begins(place)) < 1, "pour {place}");
    }
    assert!(minutes(of("open"), rows[0].form_opens) < 1);
    let Some(next) = rows.get(1).map(|_| begins(1)) else { return };
    // Today lists what comes within a day.
    if next.duration_since(app.app.now()) < SignedDuration::from_hours(24) {
        let today = get(app, "/today").await.text;
        let when = local(next, "%a %H:%M");
        assert!(today.contains(&when), "Today without {when}");
    }
    let sheet = get(app, &format!("/today/sheet?date={}", local(next, "%Y-%m-%d"))).await.text;
    assert!(sheet.contains(&local(next, "%H:%M")), "the sheet of {next}");
}

#[tokio::test]
async fn no_page_contradicts_another() {
    let asked = std::env::var("FONDANT_PLANS").ok().and_then(|text| text.parse().ok());
    let plans = asked.unwrap_or(PLANS);
    let mut even = Even(0.271);
    let mut walked = 0;
    for _ in 0..plans {
        let app = TestApp::new(&documents::workshop(0, 23)).await;
        let Some((cast, pours)) = taken(&app, &mut even).await else { continue };
        happen(&app, &mut even, (cast, &pours)).await;
        agree(&app, cast, &pours).await;
        walked += 1;
    }
    assert!(walked * 2 >= plans, "{walked} of {plans} plans could be poured");
}
