//! Faults that once took a page, what was typed, or the server down.

use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use fondant_app::{App, Background, Clock, Works};
use fondant_cast::{Document, Kind};
use fondant_quantities::Length;
use fondant_shapes::form::Piece;
use fondant_store::Store;
use fondant_testkit::{Http, Outage, TestApp, documents};
use fondant_web::{Web, router};

use crate::common::{form_fields, get, post, send, send_to, shop_fields};

async fn app() -> TestApp {
    TestApp::new(&documents::workshop(8, 18)).await
}

fn form_of(path: &str, fields: &[(&str, &str)], is_fragment: bool) -> Request<Body> {
    let body = url::form_urlencoded::Serializer::new(String::new()).extend_pairs(fields).finish();
    let mut request = Request::post(path)
        .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded")
        .header("Sec-Fetch-Site", "same-origin");
    if is_fragment {
        request = request.header("HX-Request", "true");
    }
    request.body(Body::from(body)).expect("a request")
}

/// "Any 5xx or empty answer is swapped over the workspace and wipes what was typed … after an
/// outage of the database the same page goes on. /health: liveness and readiness, each with a
/// deadline."
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn an_outage_of_the_database_loses_nothing_that_was_typed_and_is_waited_out() {
    let app = app().await;
    let cast = app.cast("Kept").await;
    let outage = Outage::before(&app.db.address).await;
    let store = Store::connect(outage.address()).await.unwrap();
    let web = router(Web { app: App::new(store, Clock::new(documents::now)), ..app.web() });
    let ask = async |path: &str| {
        send_to(web.clone(), Request::get(path).body(Body::empty()).unwrap()).await
    };
    assert_eq!(ask("/health/ready").await.status, StatusCode::OK);
    let path = format!("/casts/{cast}/form");
    let edit = form_fields(&[("overfill", "6 mm")]);

    outage.begin();
    let answer = send_to(web.clone(), form_of(&path, &edit, true)).await;
    assert_eq!(answer.status, StatusCode::SERVICE_UNAVAILABLE);
    assert_eq!(answer.header("hx-reswap"), "none");
    assert!(answer.text.contains("nothing was saved") || answer.text.contains("Nothing was saved"));
    // Sent by its address, the error page carries what was typed, to be sent again.
    let page = send_to(web.clone(), form_of(&path, &edit, false)).await;
    assert_eq!(page.status, StatusCode::SERVICE_UNAVAILABLE);
    assert!(page.text.contains("value=\"6 mm\"") && page.text.contains("Try again"));
    assert_eq!(ask("/health").await.status, StatusCode::OK);
    assert_eq!(ask("/health/ready").await.status, StatusCode::SERVICE_UNAVAILABLE);

    outage.end();
    let answer = send_to(web.clone(), form_of(&path, &edit, true)).await;
    assert_eq!(answer.status, StatusCode::OK, "{}", answer.text);
    assert!((app.document(cast).await.form.overfill.mm() - 6.0).abs() < 1e-9);
    assert_eq!(ask("/health/ready").await.status, StatusCode::OK);
}

/// "One queue: 200 heavy requests made ordinary computed pages answer 503 for 160 s."
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn pages_keep_their_lane_beside_two_hundred_heavy_requests() {
    let app = std::sync::Arc::new(app().await);
    let cast = app.cast("Busy").await;
    let heavy: Vec<_> = (0..200)
        .map(|_| {
            let app = app.clone();
            tokio::spawn(async move { get(&app, &format!("/casts/{cast}/depth-map")).await.status })
        })
        .collect();
    for station in ["piece", "timber", "form", "heat", "pours"] {
        let page = get(&app, &format!("/casts/{cast}/{station}")).await;
        assert_eq!(page.status, StatusCode::OK, "{station}");
    }
    for asked in heavy {
        let status = asked.await.unwrap();
        assert!([StatusCode::OK, StatusCode::SERVICE_UNAVAILABLE].contains(&status), "{status}");
    }
}

/// "60 rows × 999 inserts: 160 MB page." As many things as can be entered are still one page.
#[tokio::test]
async fn as_many_objects_as_can_be_entered_make_a_page_of_bounded_size() {
    let app = app().await;
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(1200.0), mm(800.0), mm(60.0), Length::ZERO);
    let mut document = Document::begin(Kind::Embed, "Many".into(), piece, documents::now());
    let inserts = document.contents.inserts_mut().unwrap();
    let one = inserts[0].clone();
    let mut rows = 0;
    inserts.clear();
    // Up to what is refused.
    while rows < 60 {
        let row = fondant_shapes::timber::Insert { count: 40, ..one.clone() };
        document.contents.inserts_mut().unwrap().push(row);
        if !document.conflicts().is_empty() {
            document.contents.inserts_mut().unwrap().pop();
            break;
        }
        rows += 1;
    }
    let things: u32 = document.contents.inserts().iter().map(|row| row.count).sum();
    assert!((1000..=60 * 999).contains(&things) && rows < 60, "{things} things in {rows} rows");
    let cast = app.create(&document).await;
    for station in ["timber", "form", "heat", "pours"] {
        let page = get(&app, &format!("/casts/{cast}/{station}")).await;
        assert_eq!(page.status, StatusCode::OK);
        assert!(page.text.len() < 2_000_000, "{station}: {} bytes", page.text.len());
    }
}

/// "Stale pour moves answer a full error page instead of the choice."
#[tokio::test]
async fn a_pour_moved_on_an_old_revision_leads_to_the_choice() {
    let app = app().await;
    let cast = app.cast("Moved twice").await;
    let pours = format!("/casts/{cast}/pours");
    post(&app, &format!("{pours}/settle"), &[("revision", "1"), ("sure", "yes")]).await;
    let at = documents::now().as_second() + 30 * 3600;
    let moved = [("revision", "1"), ("pour", "1"), ("at", &*at.to_string())];
    let late = post(&app, &format!("{pours}/move"), &moved).await;
    assert_eq!(late.status, StatusCode::CONFLICT);
    assert!(late.text.contains("id=\"workspace\"") && late.text.contains("changed in another tab"));
    // Sent again as the choice does, it is done on the newer one.
    let again = [("revision", "2"), ("pour", "1"), ("at", &*at.to_string())];
    assert_eq!(post(&app, &format!("{pours}/move"), &again).await.status, StatusCode::OK);
}

/// "`pours/move` takes any moment": every page still opens.
#[tokio::test]
async fn a_pour_moved_to_the_year_9000_is_refused_with_a_sentence() {
    let app = app().await;
    let cast = app.cast("Far").await;
    let pours = format!("/casts/{cast}/pours");
    post(&app, &format!("{pours}/settle"), &[("revision", "1"), ("sure", "yes")]).await;
    for at in ["221845392000", "-377705023201", "9223372036854775807", "soon"] {
        let moved = [("revision", "2"), ("pour", "1"), ("at", at)];
        let refused = post(&app, &format!("{pours}/move"), &moved).await;
        assert!(refused.status.is_client_error(), "{at}: {}", refused.status);
        assert!(get(&app, &format!("{pours}/try?pour=1&at={at}")).await.status.is_client_error());
    }
    assert_eq!(get(&app, &pours).await.status, StatusCode::OK);
    assert_eq!(app.open(cast).await.record.revision, 2);
}

/// "Unknown `fact_what` counts as poured."
#[tokio::test]
async fn what_happened_must_be_one_of_the_things_that_happen() {
    let app = app().await;
    let cast = app.cast("Odd").await;
    let pours = format!("/casts/{cast}/pours");
    post(&app, &format!("{pours}/settle"), &[("revision", "1"), ("sure", "yes")]).await;
    let pour = app.document(cast).await.pours.taken[0].id.0.to_string();
    let fact = [
        ("revision", "2"),
        ("fact_pour", &*pour),
        ("fact_what", "exploded"),
        ("fact_at", "2026-11-23T08:30"),
    ];
    let refused = post(&app, &format!("{pours}/facts"), &fact).await;
    assert!(refused.status.is_client_error(), "{}", refused.status);
    assert!(app.open(cast).await.facts(&app.app).await.unwrap().is_empty());
}

/// "An unreadable `form` value releases a booking."
#[tokio::test]
async fn a_damaged_booking_changes_nothing() {
    let app = app().await;
    let cast = app.cast("Booked").await;
    let form = [
        ("name", "Long"),
        ("kind", "sheet_form"),
        ("length", "1600"),
        ("width", "800"),
        ("height", "60"),
        ("cavities", "1"),
        ("condition", "ready"),
    ];
    post(&app, "/forms", &form).await;
    let book = format!("/casts/{cast}/book");
    let booked = async || {
        let all = fondant_app::forms::all(&app.app, &app.shop().await).await.unwrap().all;
        all.iter().filter(|form| form.booked_by.is_some()).count()
    };
    let id = fondant_app::forms::all(&app.app, &app.shop().await).await.unwrap().all[0].id;
    post(&app, &book, &[("form", &*id.0.to_string())]).await;
    assert_eq!(booked().await, 1);
    for damaged in [&[("form", "x1")][..], &[("other", "1")], &[]] {
        assert_eq!(post(&app, &book, damaged).await.status, StatusCode::BAD_REQUEST);
    }
    assert_eq!(booked().await, 1);
    post(&app, &book, &[("form", "")]).await;
    assert_eq!(booked().await, 0);
}

/// "One unreadable JSON row fails the whole Casts or Today page."
#[tokio::test]
async fn pages_open_beside_rows_that_cannot_be_read() {
    let app = app().await;
    let (broken, whole) = (app.cast("Broken").await, app.cast("Whole").await);
    for cast in [broken, whole] {
        post(&app, &format!("/casts/{cast}/pours/settle"), &[("revision", "1"), ("sure", "yes")])
            .await;
    }
    let damage = format!(
        "update cast_revision set plan = '[1]' where cast_id = {broken}; \
         update agenda set document = '{{}}' where cast_id = {broken}; \
         insert into shelf_item (workshop_id, kind, slug, revision, document, updated_at) \
         select {0}, kind, 'odd', 1, '\"?\"', now() from (values ('resin'), ('lot'), ('colour')) k(kind); \
         insert into owned_form (workshop_id, revision, document) values ({0}, 1, '7')",
        app.workshop.0
    );
    app.db.run(&damage).await;
    for path in ["/casts", "/today", "/shelf", "/forms", "/shop"] {
        let page = get(&app, path).await;
        assert_eq!(page.status, StatusCode::OK, "{path}: {}", page.text);
    }
    let casts = get(&app, "/casts").await.text;
    assert!(casts.contains("Whole") && casts.contains("Broken"));
    assert!(get(&app, "/today").await.text.contains("Whole"));
    for station in ["form", "resin", "pours"] {
        let page = get(&app, &format!("/casts/{whole}/{station}")).await;
        assert_eq!(page.status, StatusCode::OK, "{station}");
    }
}

/// "Shop: switching the air's source and back loses heater, dehumidifier, offset, lag."
#[tokio::test]
async fn trying_another_source_of_air_keeps_the_figures_of_the_first() {
    let app = app().await;
    let forecast = [
        ("air", "forecast"),
        ("offset", "3 K"),
        ("lag", "7 h"),
        ("set_point", "16 °C"),
        ("dry_to", "55 %"),
    ];
    let saved = post(&app, "/shop", &shop_fields(&forecast)).await;
    assert!(saved.status.is_success() || saved.status.is_redirection(), "{}", saved.text);
    let room = app.shop().await.workshop.settings.shop.air.indoor;
    // The other way's page sends only its own figures.
    let steady = shop_fields(&[("revision", "2"), ("air", "constant"), ("steady_t", "18 °C")]);
    post(&app, "/shop", &steady).await;
    let air = app.shop().await.workshop.settings.shop.air;
    assert_eq!(air.indoor, room, "the room stays as it was");
    assert!((air.constant.temperature.celsius() - 18.0).abs() < 1e-9);
    assert_ne!(room, fondant_heat::climate::indoor::Indoor::default());
}

/// "NUL bytes in paths → 503."
#[tokio::test]
async fn control_characters_in_an_address_are_no_page() {
    let app = app().await;
    for path in
        ["/casts/%00", "/shelf/resins/a%00b", "/casts/1/%0a", "/feed/%00.ics", "/shelf/resins/%7F"]
    {
        let page = get(&app, path).await;
        assert_eq!(page.status, StatusCode::NOT_FOUND, "{path}");
    }
}

/// "Form bodies over 8 MB → a broken connection."
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_form_of_twenty_megabytes_is_answered_with_a_sentence() {
    let app = app().await;
    let cast = app.cast("Large").await;
    app.serving(async |base| {
        let http = Http::new(&base);
        let huge = "x".repeat(20 << 20);
        let sent = [("revision", "1"), ("base_gap", &*huge)];
        for path in [format!("/casts/{cast}/form"), "/shop/log".to_owned(), "/forms".to_owned()] {
            let answer = http.post(&path, &sent).await.expect("an answer");
            assert_eq!(answer.status, StatusCode::PAYLOAD_TOO_LARGE, "{path}");
            assert!(answer.text.contains("larger than Fondant accepts"), "{}", answer.text);
        }
    })
    .await;
}

/// "`Host: evil.example` is accepted (DNS rebinding)."
#[tokio::test]
async fn a_request_under_a_foreign_name_is_refused_with_all_headers() {
    let app = app().await;
    for path in ["/today", "/health", "/assets/app.css"] {
        let request = Request::get(path).header(header::HOST, "evil.example");
        let answer = send(&app, request.body(Body::empty()).unwrap()).await;
        assert_eq!(answer.status, StatusCode::MISDIRECTED_REQUEST, "{path}");
        assert!(!answer.text.contains("What does the shop do next?"));
        assert!(!answer.header("content-security-policy").is_empty());
    }
}

/// "The feed's address is made from the client's Host."
#[tokio::test]
async fn the_feeds_address_comes_from_the_settings() {
    let app = app().await;
    let page = |web: Web, host: &str| {
        let request = Request::get("/shop").header(header::HOST, host);
        send_to(router(web), request.body(Body::empty()).unwrap())
    };
    let own = page(app.web(), "localhost:7350").await.text;
    assert!(own.contains("http://127.0.0.1:7350/feed/") && !own.contains("localhost:7350/feed"));
    let mut web = app.web();
    web.settings.public_url = Some("https://bench.example/".parse().unwrap());
    let public = page(web, "bench.example").await.text;
    assert!(public.contains("https://bench.example/feed/"));
}

/// Abandoned over HTTP, a field is not asked for again by itself, and can be begun again.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn an_abandoned_field_stays_abandoned_until_it_is_asked_for() {
    let app = app().await;
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(300.0), mm(140.0), mm(120.0), Length::ZERO);
    let long = Document::begin(Kind::Block, "Long".into(), piece, documents::now());
    let cast = app.create(&long).await;
    let field = format!("/casts/{cast}/field");
    assert_eq!(get(&app, &field).await.status, StatusCode::OK);
    let _background = Background::start(&app.app, Works::Here);
    let gone = post(&app, &format!("{field}/abandon"), &[]).await;
    assert!(gone.status.is_success(), "{}", gone.status);
    assert_eq!(get(&app, &field).await.status, StatusCode::OK);
}
