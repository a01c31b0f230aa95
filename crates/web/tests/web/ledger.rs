//! The record of a cast and the ledger through the router.

use axum::http::StatusCode;
use fondant_app::casts::pours;
use fondant_app::records::CastId;
use fondant_cast::forecast::MODEL_VERSION;
use fondant_materials::resin::shipped;
use fondant_testkit::{TestApp, documents};

use crate::common::{get, post, post_as};

async fn app() -> TestApp {
    TestApp::new(&documents::workshop(8, 18)).await
}

/// What the form at the end of a cast sends.
const END: [(&str, &str); 5] = [
    ("outcome", "finished"),
    ("ended", "2026-11-20T17:30"),
    ("people", "Bento & <Ana>"),
    ("humidity", "71"),
    ("flag_watched", "no"),
];

async fn close(app: &TestApp, cast: CastId, changed: &[(&str, &str)]) -> crate::common::Answer {
    let mut entries: Vec<(&str, &str)> = vec![("revision", "1")];
    for (name, value) in END {
        let value = changed.iter().find(|(n, _)| *n == name).map_or(value, |(_, v)| v);
        entries.push((name, value));
    }
    entries.extend(changed.iter().filter(|(n, _)| !END.iter().any(|(name, _)| name == n)));
    post_as(app, &format!("/casts/{cast}/record/close"), &entries, false).await
}

#[tokio::test]
async fn a_cast_that_ends_stands_in_the_ledger_and_can_be_worked_on_again() {
    let app = app().await;
    let cast = app.cast("Alder bench").await;
    assert!(get(&app, "/ledger").await.text.contains("No cast has come to its end yet"));
    assert_eq!(close(&app, cast, &[]).await.status, StatusCode::SEE_OTHER);
    let ledger = get(&app, "/ledger").await.text;
    for said in ["Alder bench", "20 Nov 2026", "Bento &#38; &#60;Ana&#62;", "without a fault"] {
        assert!(ledger.contains(said), "{said} is not in {ledger}");
    }
    let record = get(&app, &format!("/casts/{cast}/record")).await.text;
    for said in ["Finished on", "71\u{202f}%", "Watched for bubbles", "It is in the ledger"] {
        assert!(record.contains(said), "{said} is not in {record}");
    }
    let csv = get(&app, "/ledger.csv?words=alder").await.text;
    let mut lines = csv.lines();
    assert!(lines.next().expect("a head").starts_with("cast,name,ended_at,outcome,kind,resin"));
    assert!(lines.next().expect("a cast").contains("Alder bench,2026-11-20T"), "{csv}");
    assert_eq!(get(&app, "/ledger.csv?words=beech").await.text.lines().count(), 0, "no cast");
    let again = [("revision", "1"), ("record", "1")];
    post_as(&app, &format!("/casts/{cast}/record/reopen"), &again, false).await;
    assert!(!get(&app, "/ledger").await.text.contains("Alder bench"));
}

#[tokio::test]
async fn what_is_wrong_in_a_record_is_said_at_its_field_and_nothing_is_kept() {
    let app = app().await;
    let cast = app.cast("Alder bench").await;
    for (name, typed, says) in [
        ("ended", "soon", "A day and a time"),
        ("ended", "2031-01-01T10:00", "still to come"),
        ("humidity", "1300", "too much"),
        ("bucket", "warm", "warm"),
        ("grit_step", "-3", "between 1"),
    ] {
        let answer = close(&app, cast, &[(name, typed)]).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{name} {typed}");
        assert!(answer.text.contains(says), "{name} {typed}: {}", answer.text);
        assert!(answer.text.contains(&format!("value=\"{typed}\"")), "{typed} is not shown again");
        assert!(answer.text.contains(&format!("id=\"{name}-refusal\"")), "{name}");
    }
    // What was chosen is shown again too.
    let answer = close(&app, cast, &[("outcome", "given_up"), ("grit_step", "-3")]).await;
    assert!(answer.text.contains("value=\"given_up\" checked"), "{}", answer.text);
    let late = close(&app, cast, &[]).await.status;
    assert_eq!(late, StatusCode::SEE_OTHER);
    let mark = format!("/casts/{cast}/record/faults");
    let faults: [&[(&str, &str)]; 4] = [
        &[("kind", "nonsense")],
        &[("kind", "bubbles"), ("at_x", "20 mm")],
        &[("kind", "bubbles"), ("size", "big")],
        &[("kind", "bubbles"), ("at_z", "10 mm")],
    ];
    for (entries, field) in faults.into_iter().zip(["kind", "at_y", "size", "at_x"]) {
        let answer = post_as(&app, &mark, entries, false).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{entries:?}");
        assert!(answer.text.contains(&format!("id=\"{field}-refusal\"")), "{field}");
    }
    let record = get(&app, &format!("/casts/{cast}/record")).await.text;
    assert!(record.contains("No fault is marked"));
}

/// A tab that was open while another changed the cast closes nothing by itself.
#[tokio::test]
async fn a_stale_tab_closes_no_cast() {
    let app = app().await;
    let cast = app.cast("Alder bench").await;
    let answer = close(&app, cast, &[("revision", "0")]).await;
    assert_eq!(answer.status, StatusCode::SEE_OTHER, "the first of both counts");
    let other = app.cast("Other").await;
    let entries = [("revision", "9"), ("outcome", "finished"), ("ended", "2026-11-20T17:30")];
    let answer = post_as(&app, &format!("/casts/{other}/record/close"), &entries, false).await;
    assert_eq!(answer.status, StatusCode::CONFLICT, "{}", answer.text);
    assert!(!get(&app, "/ledger").await.text.contains("Other"));
}

#[tokio::test]
async fn a_fault_is_explained_and_what_it_was_is_kept() {
    let app = app().await;
    let cast = app.cast("Alder bench").await;
    let mark = format!("/casts/{cast}/record/faults");
    let fault = [
        ("kind", "soft_places"),
        ("at_x", "200 mm"),
        ("at_y", "100 mm"),
        ("at_z", "12 mm"),
        ("fault_note", "<b>left</b>"),
    ];
    post_as(&app, &mark, &fault, false).await;
    let record = format!("/casts/{cast}/record");
    let page = get(&app, &record).await.text;
    for said in [
        "Soft or sticky places",
        "Not mixed through",
        "is not known: look at it",
        "12\u{202f}mm above the floor",
        "Cut across at it",
        "&#60;b&#62;left",
    ] {
        assert!(page.contains(said), "{said} is not in {page}");
    }
    let confirmed = post_as(&app, &format!("{mark}/1"), &[("cause", "ratio")], false).await;
    assert_eq!(confirmed.status, StatusCode::SEE_OTHER);
    assert!(get(&app, &record).await.text.contains("It was this: A and B in the wrong ratio"));
    let none = post_as(&app, &format!("{mark}/1"), &[("cause", "sunlight")], false).await;
    assert_eq!(none.status, StatusCode::NOT_FOUND);
    let missing = post_as(&app, &format!("{mark}/77"), &[("cause", "ratio")], false).await;
    assert_eq!(missing.status, StatusCode::NOT_FOUND);
    post_as(&app, &format!("{mark}/1"), &[("do", "unmark")], false).await;
    assert!(get(&app, &record).await.text.contains("No fault is marked"));
}

#[tokio::test]
async fn addresses_of_the_ledger_that_make_no_sense_show_all_or_say_so() {
    let app = app().await;
    let cast = app.cast("Alder bench").await;
    close(&app, cast, &[]).await;
    for query in [
        "kind=%27;drop",
        "sort=nonsense&order=up",
        "from=yesterday&after=x",
        "fault=none",
        "words=%25_%5C",
    ] {
        let answer = get(&app, &format!("/ledger?{query}")).await;
        assert_eq!(answer.status, StatusCode::OK, "{query}: {}", answer.text);
    }
    assert_eq!(get(&app, "/ledger/compare").await.status, StatusCode::BAD_REQUEST);
    let gone = get(&app, "/ledger/compare?one=1&other=99").await;
    assert_eq!(gone.status, StatusCode::NOT_FOUND);
    let same = get(&app, "/ledger/compare?one=1&other=1").await;
    assert_eq!(same.status, StatusCode::OK, "{}", same.text);
}

#[tokio::test]
async fn an_amount_that_cannot_be_read_is_told_and_left_out() {
    let app = app().await;
    let cast = app.cast("Alder bench").await;
    close(&app, cast, &[]).await;
    let page = get(&app, "/ledger?least_size=soon&most_cost=-3").await.text;
    assert!(page.contains("Alder bench") && page.contains("value=\"soon\""), "{page}");
    assert_eq!(page.matches("It is left out until then.").count(), 2, "{page}");
    let page = get(&app, "/ledger?least_size=1%20mL&most_cost=100000").await.text;
    assert!(page.contains("Alder bench") && !page.contains("left out"), "{page}");
    let page = get(&app, "/ledger?most_size=1%20mL").await.text;
    assert!(!page.contains("Alder bench"), "{page}");
}

#[tokio::test]
async fn the_record_on_paper_says_to_the_customer_what_concerns_the_piece() {
    let app = app().await;
    let cast = app.cast("Alder bench").await;
    close(&app, cast, &[("note", "for us alone")]).await;
    let paper = get(&app, &format!("/casts/{cast}/record/sheet")).await.text;
    for said in [
        "Alder bench",
        "Size",
        "QR code of",
        "Warmth softens resin",
        "Highest temperature, by the model",
    ] {
        assert!(paper.contains(said), "{said} is not in {paper}");
    }
    for unsaid in ["for us alone", "over the resin", "Watched", "Cost"] {
        assert!(!paper.contains(unsaid), "{unsaid} is in {paper}");
    }
    let own = get(&app, &format!("/casts/{cast}/record/sheet?shop=true")).await.text;
    assert!(own.contains("for us alone") && own.contains("Watched for bubbles"), "{own}");
}

#[tokio::test]
async fn what_a_fault_taught_goes_into_the_next_cast_where_it_is_ticked() {
    let app = app().await;
    let cast = app.cast("Alder bench").await;
    let mark = format!("/casts/{cast}/record/faults");
    post_as(&app, &mark, &[("kind", "fish_eyes")], false).await;
    post_as(&app, &format!("{mark}/1"), &[("cause", "silicone")], false).await;
    close(&app, cast, &[]).await;
    let page = get(&app, &format!("/casts/{cast}/record")).await.text;
    for said in ["What it taught", "Watch out at the bench:", "Fish-eyes: ", "(it was this)"] {
        assert!(page.contains(said), "{said} is not in {page}");
    }
    let begin = async |entries: &[(&str, &str)]| {
        let begun = post_as(&app, &format!("/casts/{cast}/copy"), entries, false).await;
        assert_eq!(begun.status, StatusCode::SEE_OTHER);
        let to = begun.headers["location"].to_str().expect("an address").to_owned();
        get(&app, &to).await.text
    };
    let minded = begin(&[("request", "a"), ("lesson", "mind-silicone")]).await;
    let left = begin(&[("request", "b")]).await;
    let field = |page: &str| {
        let field = page.split("name=\"minded\"").nth(1).expect("the field is there");
        field.split('>').next().unwrap_or_default().to_owned()
    };
    assert!(field(&minded).contains("value=\"No silicone in the room"), "{}", field(&minded));
    assert!(!field(&left).contains("silicone"), "{}", field(&left));
}

/// What was promised says by what, and that the cast has another resin since.
#[tokio::test]
async fn a_promise_says_by_which_model_and_resin_it_was_made() {
    let app = app().await;
    let cast = app.cast("Alder bench").await;
    let none = get(&app, &format!("/casts/{cast}/record")).await.text;
    assert!(!none.contains("Promised by"), "{none}");
    pours::settle(&app.app, cast, 1).await.expect("the times are taken");
    let open = app.open(cast).await;
    let resin = open.record.document.resin.0.clone();
    let record = get(&app, &format!("/casts/{cast}/record")).await.text;
    let by = format!("Promised by heat model {MODEL_VERSION}, with");
    assert!(
        record.contains(&by) && record.contains("as its class and datasheet have it."),
        "{record}"
    );
    assert!(!record.contains("The cast has"), "{record}");
    let other = shipped::all().into_iter().find(|one| one.id.0 != resin).expect("another resin");
    let revision = open.record.revision.to_string();
    let change = [("resin", other.id.0.as_str()), ("revision", &*revision)];
    post(&app, &format!("/casts/{cast}/resin"), &change).await;
    let record = get(&app, &format!("/casts/{cast}/record")).await.text;
    assert!(record.contains(&format!("The cast has {} now.", other.name)), "{record}");
}
