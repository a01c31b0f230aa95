//! What happened is obeyed by every page, and a touch that cannot be is questioned.

use axum::http::StatusCode;
use fondant_app::Request;
use fondant_cast::Contents;
use fondant_cast::document::{PourId, Split};
use fondant_cast::facts::Fact;
use fondant_testkit::{TestApp, documents, eventually};
use jiff::{SignedDuration, Timestamp};

use crate::common::{get, post, post_as};

async fn app() -> TestApp {
    TestApp::new(&documents::workshop(0, 23)).await
}

/// A cast of three layers that was taken, with its pours and its address.
async fn taken(app: &TestApp) -> (i64, Vec<(PourId, Timestamp)>, String) {
    let mut document = documents::river_top("By what happened");
    document.pours.split = Split::Equal { count: 2 };
    let cast = app.create(&document).await;
    let pours = format!("/casts/{cast}/pours");
    let answer = post(app, &format!("{pours}/settle"), &[("revision", "1"), ("sure", "yes")]).await;
    assert_eq!(answer.status, StatusCode::OK);
    let taken = app.document(cast).await.pours.taken;
    (cast.0, taken.iter().map(|pour| (pour.id, pour.at)).collect(), pours)
}

fn local(at: Timestamp) -> String {
    at.to_zoned_datetime(jiff::tz::TimeZone::UTC).strftime("%Y-%m-%dT%H:%M").to_string()
}

/// "The strip and the rail show the plan while the axis shows what happened."
#[tokio::test]
async fn every_page_shows_what_happened() {
    let app = app().await;
    let (cast, layers, pours) = taken(&app).await;
    let late = layers[0].1 + SignedDuration::from_hours(5);
    app.set_now(late + SignedDuration::from_mins(30));
    let pour = layers[0].0.0.to_string();
    let at = local(late);
    let fact =
        [("revision", "2"), ("fact_pour", &*pour), ("fact_what", "poured"), ("fact_at", &*at)];
    let written = post(&app, &format!("{pours}/facts"), &fact).await;
    assert_eq!(written.status, StatusCode::OK, "{}", written.text);
    // The second layer was planned for the first one's window as it was planned.
    let csv = get(&app, &format!("{pours}.csv")).await.text;
    let rows: Vec<Vec<&str>> = csv.lines().skip(1).map(|line| line.split(',').collect()).collect();
    assert!(rows[0][1].starts_with(&at), "{csv}");
    // Where the base opens later than the second pour is planned, every page says to wait for it.
    let (opens, second) = (rows[0][6], rows[1][1]);
    assert!(opens > second, "poured five hours late: {csv}");
    let opens: Timestamp = opens.parse().expect("a time");
    let said = opens.strftime("%H:%M").to_string();
    for page in ["timber", "form", "heat", "pours"] {
        let text = get(&app, &format!("/casts/{cast}/{page}")).await.text;
        assert!(text.contains("Wait for the window of the base"), "{page}");
        assert!(text.contains(&said), "{page}: {said}");
    }
    let today = get(&app, "/today").await.text;
    assert!(today.contains("Wait for the window before layer 1, test the cup"), "{today}");
    // One button takes the rest along.
    assert!(get(&app, &pours).await.text.contains("Re-plan the rest"));
    let fitted = post(&app, &format!("{pours}/fit"), &[("revision", "2")]).await;
    assert_eq!(fitted.status, StatusCode::OK, "{}", fitted.text);
    assert!(!fitted.text.contains("Wait for the window of the base"));
    let now = app.document(fondant_app::records::CastId(cast)).await.pours.taken;
    assert_eq!(now[0].at, layers[0].1, "what was planned for a pour that happened stays");
    assert!(now[1].at >= opens, "{} {opens}", now[1].at);
    assert_eq!(
        now.iter().map(|pour| pour.id).collect::<Vec<_>>(),
        layers.iter().map(|layer| layer.0).collect::<Vec<_>>()
    );
}

/// "A touch before the planned hour is refused though the layer was poured earlier."
#[tokio::test]
async fn a_touch_counts_from_the_hour_at_which_it_was_poured() {
    let app = app().await;
    let (_, layers, pours) = taken(&app).await;
    let early = layers[1].1 - SignedDuration::from_hours(1);
    app.set_now(layers[1].1);
    let pour = layers[1].0.0.to_string();
    let touch_at = local(early + SignedDuration::from_mins(30));
    let touch = |revision: &'static str| {
        let (pour, at) = (pour.clone(), touch_at.clone());
        [
            ("revision", revision.to_owned()),
            ("fact_pour", pour),
            ("fact_what", "clear".to_owned()),
            ("fact_at", at),
        ]
    };
    let send = async |form: [(&str, String); 4]| {
        let form: Vec<(&str, &str)> = form.iter().map(|(n, v)| (*n, v.as_str())).collect();
        post(&app, &format!("{pours}/facts"), &form).await
    };
    let before = send(touch("2")).await;
    assert!(before.text.contains("goes in later by the plan"), "{}", before.text);
    let poured = [
        ("revision", "2".to_owned()),
        ("fact_pour", pour.clone()),
        ("fact_what", "poured".to_owned()),
        ("fact_at", local(early)),
    ];
    assert_eq!(send(poured).await.status, StatusCode::OK);
    assert_eq!(send(touch("2")).await.status, StatusCode::OK);
}

/// "Could hold 43 of 100" was taken without saying so.
#[tokio::test]
async fn pours_that_often_would_not_hold_are_questioned_before_they_are_taken() {
    let app = app().await;
    let mut document = documents::river_top("Close to its limit");
    // Forty millimetres of the medium resin in five layers, each in a window of a few hours.
    document.resin =
        fondant_materials::resin::ResinId(fondant_materials::resin::shipped::MEDIUM_CASTING.into());
    document.pours.split = Split::Equal { count: 6 };
    let cast = app.create(&document).await;
    let settle = format!("/casts/{cast}/pours/settle");
    let questioned = post(&app, &settle, &[("revision", "1")]).await;
    assert_eq!(questioned.status, StatusCode::UNPROCESSABLE_ENTITY, "{}", questioned.text);
    assert!(questioned.text.contains("of 100 tries"));
    assert!(questioned.text.contains("Take them anyway"));
    assert!(app.document(cast).await.pours.taken.is_empty(), "nothing is taken yet");
    let sure = post(&app, &settle, &[("revision", "1"), ("sure", "yes")]).await;
    assert_eq!(sure.status, StatusCode::OK);
    assert!(!app.document(cast).await.pours.taken.is_empty());
}

#[tokio::test]
async fn a_touch_that_cannot_be_is_questioned_and_kept_once_it_is_sure() {
    let app = app().await;
    let (cast, layers, pours) = taken(&app).await;
    let soon = layers[0].1 + SignedDuration::from_mins(40);
    app.set_now(soon);
    let (pour, at) = (layers[0].0.0.to_string(), local(soon));
    let hard = [("revision", "2"), ("fact_pour", &*pour), ("fact_what", "hard"), ("fact_at", &*at)];
    let questioned = post(&app, &format!("{pours}/facts"), &hard).await;
    assert_eq!(questioned.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        questioned.text.contains("more than twice as fast as the model"),
        "{}",
        questioned.text
    );
    assert!(questioned.text.contains("Write it down anyway"));
    let open = app.open(fondant_app::records::CastId(cast)).await;
    assert!(open.facts(&app.app).await.unwrap().is_empty());
    let sure = [&hard[..], &[("fact_sure", "yes")]].concat();
    assert_eq!(post(&app, &format!("{pours}/facts"), &sure).await.status, StatusCode::OK);
    assert_eq!(open.facts(&app.app).await.unwrap().len(), 1);
}

/// "What *Take these times* takes is what is suggested."
#[tokio::test]
async fn times_that_a_comparison_does_not_suggest_are_questioned_before_they_are_taken() {
    let app = TestApp::new(&documents::workshop(7, 22)).await.at_work();
    let mut document = documents::river_top("Compared");
    document.pours.split = Split::Equal { count: 2 };
    let cast = app.create(&document).await;
    let pours = format!("/casts/{cast}/pours");
    let compared = eventually(&app.db, "the plans are compared", async || {
        let page = get(&app, &format!("{pours}/alternatives")).await.text;
        page.contains("is-suggested").then_some(page)
    })
    .await;
    // The button under the axis becomes that of the suggested plan; the other stays beside it.
    let (_, button) = compared.split_once("hx-swap-oob").expect("the button");
    assert!(button.contains("Take the suggested plan") && button.contains("the times drawn here"));
    let settle = format!("{pours}/settle");
    let asked = post(&app, &settle, &[("revision", "1")]).await;
    let taken = app.document(cast).await.pours.taken;
    let is_question = asked.text.contains("The comparison below suggests another plan");
    assert!(is_question && taken.is_empty(), "{}", asked.text);
    let sure = post(&app, &settle, &[("revision", "1"), ("sure", "yes")]).await;
    assert_eq!(sure.status, StatusCode::OK);
    assert!(!app.document(cast).await.pours.taken.is_empty());
    let after = get(&app, &format!("{pours}/alternatives")).await.text;
    assert!(!after.contains("hx-swap-oob"), "what is taken is not taken again");
}

/// "Out of date: take one of the alternatives again", and none was offered, as something was poured.
/// What is poured stays in the plan and on every page; what is left is proposed over it and taken.
#[tokio::test]
async fn a_form_that_becomes_deeper_once_its_base_is_poured_keeps_the_base() {
    let app = app().await;
    let (cast, layers, pours) = taken(&app).await;
    let (base, at) = layers[0];
    app.set_now(at + SignedDuration::from_mins(90));
    let (pour, poured_at) = (base.0.to_string(), local(at));
    let fact = [
        ("revision", "2"),
        ("fact_pour", &*pour),
        ("fact_what", "poured"),
        ("fact_at", &*poured_at),
    ];
    let written = post(&app, &format!("{pours}/facts"), &fact).await;
    assert_eq!(written.status, StatusCode::OK, "{}", written.text);
    let id = fondant_app::records::CastId(cast);
    let change = async |base_gap: f64, overfill: f64| {
        let mm = fondant_quantities::Length::from_mm;
        let revision = app.open(id).await.record.revision;
        let changed = fondant_app::casts::change(&app.app, id, revision, |open| {
            let mut document = open.record.document.clone();
            document.form.overfill = mm(overfill);
            let Contents::River(river) = &mut document.contents else { panic!("a river") };
            river.base_gap = mm(base_gap);
            Ok::<_, fondant_app::AppError>(document)
        });
        changed.await.unwrap().revision.to_string()
    };
    let kept = app.document(id).await.pours.taken;
    // The base is in to 2 mm, and boards that stand 5 mm high have another: that is said.
    let none = change(5.0, 2.0).await;
    let page = get(&app, &pours).await.text;
    assert!(
        page.contains("ends where this form has none") && !page.contains("Put what is left"),
        "{page}"
    );
    // That it was poured can still be withdrawn.
    assert!(page.contains("A layer of an earlier plan was poured"), "{page}");
    assert!(page.contains("Withdraw") && !page.contains("fact_pour"), "{page}");
    for page in ["timber", "heat", "pours"] {
        let text = get(&app, &format!("/casts/{cast}/{page}")).await.text;
        assert!(text.contains("nothing can be planned over what is poured"), "{page}");
        assert!(!text.contains("Pour the base"), "{page}");
    }
    let refused = post(&app, &format!("{pours}/fit"), &[("revision", &*none)]).await;
    assert!(!refused.status.is_success(), "{}", refused.text);
    let later = (at + SignedDuration::from_hours(30)).as_second().to_string();
    let moved = [("revision", &*none), ("pour", "0"), ("at", &*later)];
    let dragged = post(&app, &format!("{pours}/move"), &moved).await;
    assert!(!dragged.status.is_success(), "{}", dragged.text);
    assert_eq!(app.document(id).await.pours.taken, kept);
    let revision = change(2.0, 12.0).await;
    let page = get(&app, &pours).await.text;
    assert!(page.contains("What is poured stays as it is"), "{page}");
    assert!(page.contains("Put what is left into the plan") && !page.contains("Pour the base"));
    assert!(page.contains("Next act") && page.contains("Pour layer 1"), "{page}");
    // What is in can be touched meanwhile; what is only proposed has not happened.
    let moment = local(at + SignedDuration::from_mins(80));
    let touch = |pour: &'static str| {
        let (app, pours, revision, moment) = (&app, &pours, &revision, &moment);
        let pour = if pour.is_empty() { base.0.to_string() } else { pour.to_owned() };
        async move {
            let fact = [
                ("revision", &**revision),
                ("fact_pour", &*pour),
                ("fact_what", "clear"),
                ("fact_at", &**moment),
            ];
            post(app, &format!("{pours}/facts"), &fact).await
        }
    };
    let touched = touch("").await;
    assert_eq!(touched.status, StatusCode::OK, "{}", touched.text);
    assert!(touched.text.contains("The base: still liquid"), "{}", touched.text);
    let proposed = touch("-2").await;
    assert!(proposed.text.contains("The plan you took has no such layer"), "{}", proposed.text);
    // At the bench nothing of it can be begun before it is in the plan.
    let bench = get(&app, &format!("/casts/{cast}/bench")).await.text;
    assert!(
        !bench.contains("name=\"pour\"") && bench.contains("Take times that fit it"),
        "{bench}"
    );
    let begun = post_as(&app, &format!("/casts/{cast}/runs"), &[("pour", "-2")], false).await;
    assert_ne!(begun.status, StatusCode::SEE_OTHER, "{}", begun.text);
    let fitted = post(&app, &format!("{pours}/fit"), &[("revision", &*revision)]).await;
    assert_eq!(fitted.status, StatusCode::OK, "{}", fitted.text);
    let now = app.document(id).await.pours.taken;
    assert_eq!(now[0], kept[0], "the base keeps its hour and its id");
    let top = now.last().expect("a pour").to;
    let deeper = top - kept.last().expect("a pour").to;
    assert!((deeper.mm() - 10.0).abs() < 0.01, "{} mm", deeper.mm());
    assert!(now[1..].iter().all(|pour| pour.at >= app.app.now()), "nothing in the past: {now:?}");
    let text = get(&app, &pours).await.text;
    assert!(text.contains("Taken.") && !text.contains("Put what is left"), "{text}");
    let today = get(&app, "/today").await.text;
    assert!(today.contains("Mix and pour layer 1") && !today.contains("has no hours"), "{today}");
}

/// A flag dragged before that takes the plan too, with what is in as it was.
#[tokio::test]
async fn what_is_left_can_be_moved_before_it_is_in_the_plan() {
    let app = app().await;
    let (cast, layers, pours) = taken(&app).await;
    let id = fondant_app::records::CastId(cast);
    let (pour, at) = layers[0];
    app.set_now(at + SignedDuration::from_mins(90));
    let base = Fact::Poured { pour, at, resin_at: None };
    let request = Request::default();
    let written = fondant_app::casts::facts::log(&app.app, id, 2, &request, base);
    let revision = written.await.unwrap().revision;
    let changed = fondant_app::casts::change(&app.app, id, revision, |open| {
        let mut document = open.record.document.clone();
        document.form.overfill = fondant_quantities::Length::from_mm(9.0);
        Ok::<_, fondant_app::AppError>(document)
    });
    let revision = changed.await.unwrap().revision.to_string();
    let later = (at + SignedDuration::from_hours(30)).as_second().to_string();
    let tried = get(&app, &format!("{pours}/try?pour=1&at={later}")).await;
    assert_eq!(tried.status, StatusCode::OK, "{}", tried.text);
    let moved = [("revision", &*revision), ("pour", "1"), ("at", &*later)];
    let answer = post(&app, &format!("{pours}/move"), &moved).await;
    assert_eq!(answer.status, StatusCode::OK, "{}", answer.text);
    let now = app.document(id).await.pours.taken;
    assert_eq!((now[0].id, now[0].at), (pour, at), "the base is where it was");
    assert_eq!(now[1].at.as_second().to_string(), later);
    assert!(get(&app, &pours).await.text.contains("Taken."));
}

/// "A flood coat that was added to a cast in hand threw its plan away, and with it what was poured."
/// What is poured stays; the coat comes after it, in its own hours, and is run at the bench.
#[tokio::test]
async fn a_flood_coat_is_added_to_a_cast_that_is_poured() {
    let app = app().await;
    let (cast, layers, pours) = taken(&app).await;
    for (pour, at) in &layers {
        app.set_now(*at + SignedDuration::from_mins(90));
        let (pour, at) = (pour.0.to_string(), local(*at));
        let fact =
            [("revision", "2"), ("fact_pour", &*pour), ("fact_what", "poured"), ("fact_at", &*at)];
        let written = post(&app, &format!("{pours}/facts"), &fact).await;
        assert_eq!(written.status, StatusCode::OK, "{}", written.text);
    }
    let (_, last) = *layers.last().expect("layers");
    let now = last + SignedDuration::from_hours(96);
    app.set_now(now);
    let finish = format!("/casts/{cast}/finish");
    let school = [("request", "a-flood-coat"), ("school", "flood_coat")];
    post_as(&app, &format!("{finish}/told"), &school, false).await;
    let told = get(&app, &finish).await.text;
    assert!(told.contains("Put it into the plan at Pours"), "{told}");
    let today = async || get(&app, "/today").await.text;
    assert!(today().await.contains("Put its flood coat into the plan"));
    let change = async |revision: &str, what: (&str, &str)| {
        let begin = ("not_before", "2026-11-23T09:00");
        let form = [("revision", revision), begin, ("sanding", "60 min"), what];
        post(&app, &pours, &form).await.text
    };
    let added = change("2", ("stage_add", "flood")).await;
    assert!(added.contains("Put the coat into the plan"), "{added}");
    assert!(today().await.contains("Take the hours of its flood coat"), "{}", today().await);
    let cast = fondant_app::records::CastId(cast);
    let kept = app.document(cast).await.pours.taken;
    assert_eq!(kept.len(), layers.len(), "what was taken is still there");
    let fitted = post(&app, &format!("{pours}/fit"), &[("revision", "3")]).await;
    assert_eq!(fitted.status, StatusCode::OK, "{}", fitted.text);
    let coated = app.document(cast).await.pours.taken;
    assert_eq!(coated[..layers.len()], kept, "their hours and ids stay");
    assert_eq!(coated.len(), layers.len() + 1);
    // Hard after some two days, six hours of work on the face: a quarter of an hour from now at most.
    let coat = coated.last().expect("a coat");
    let soon = now + SignedDuration::from_mins(15);
    assert!((now..=soon).contains(&coat.at), "{} at {now}", coat.at);
    let text = get(&app, &pours).await.text;
    assert!(text.contains("Taken.") && !text.contains("Put the coat into"), "{text}");
    assert!(!today().await.contains("its flood coat"), "its pour is what is due");
    let told = get(&app, &finish).await.text;
    assert!(told.contains("in the plan for") && told.contains("Pour it at the bench"), "{told}");
    let run = [("pour", &*coat.id.0.to_string())];
    let begun = post_as(&app, &format!("/casts/{cast}/runs"), &run, false).await;
    assert_eq!(begun.status, StatusCode::SEE_OTHER, "{}", begun.text);
    let bench = get(&app, begun.header("location")).await.text;
    assert!(bench.contains("lood coat"), "{bench}");
}
