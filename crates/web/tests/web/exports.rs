//! What goes out of a cast in open formats, and comes in again.

use std::io::Cursor;

use axum::http::StatusCode;
use fondant_app::records::CastId;
use fondant_app::{Request, casts};
use fondant_cast::facts::Fact;
use fondant_files::records::whole::WholeReader;
use fondant_testkit::{TestApp, documents};
use jiff::SignedDuration;

use crate::common::{bring, get, post, upload};
use crate::uploads::{TWO_BOARDS, app};

/// What goes out as a file comes in again as the same cast, in another workshop too.
#[tokio::test]
async fn a_whole_cast_goes_out_and_comes_in_again() {
    let (app, cast) = app().await;
    bring(&app, cast, "instead", ("slab.svg", TWO_BOARDS.as_bytes())).await;
    let before = app.document(cast).await;
    let file = get(&app, &format!("/casts/{}/export/cast.json", cast.0)).await.text;
    let other = TestApp::new(&documents::workshop(9, 17)).await;
    let bring_in = async |text: &str| {
        upload(&other, "/casts/import", &[], ("file", "top.json", text.as_bytes())).await
    };
    let taken = bring_in(&file).await;
    assert_eq!(taken.status, StatusCode::SEE_OTHER, "{}", taken.text);
    let id: i64 = taken.header("location").split('/').nth(2).unwrap().parse().unwrap();
    assert_eq!(other.document(CastId(id)).await, before);
    // A field that is misspelled is named; a newer version and other JSON are refused.
    for (from, to, says) in [
        ("\"piece\": {", "\"piece\": {\"lenght_m\": 2,", "field “document.piece.lenght_m”"),
        ("\"version\": 1", "\"version\": 2", "is of version 2"),
        ("fondant-cast", "something", "is not a cast from Fondant"),
        ("\"length_m\": 1.2", "\"length_m\": -1.2", "length"),
    ] {
        assert!(file.contains(from), "{from}: {file}");
        let refused = bring_in(&file.replacen(from, to, 1)).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "{to}");
        assert!(refused.text.contains(says), "{says}: {}", refused.text);
    }
}

/// A resin that the other shop lacks comes with the cast, and with nothing else: where the cast is
/// refused, the shelf stays as it was.
#[tokio::test]
async fn a_cast_brings_its_resin_or_nothing() {
    let (app, cast) = app().await;
    let file = get(&app, &format!("/casts/{}/export/cast.json", cast.0)).await.text;
    let own = app.document(cast).await.resin.0;
    let file = file.replace(&format!("\"{own}\""), "\"harbour-epoxy\"");
    let other = TestApp::new(&documents::workshop(9, 17)).await;
    let bring_in = async |text: &str| {
        let fields = [("request", "the-same")];
        upload(&other, "/casts/import", &fields, ("file", "top.json", text.as_bytes())).await
    };
    let has_it = async || get(&other, "/shelf/resins/harbour-epoxy").await.status == StatusCode::OK;
    let impossible = file.replacen("\"length_m\": 1.2", "\"length_m\": -1.2", 1);
    assert_eq!(bring_in(&impossible).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(!has_it().await);
    let first = bring_in(&file).await;
    assert_eq!(first.status, StatusCode::SEE_OTHER, "{}", first.text);
    assert!(has_it().await);
    // Sent twice it is begun once.
    assert_eq!(bring_in(&file).await.header("location"), first.header("location"));
    // Without the resin there is nothing to go by.
    let mut bare: serde_json::Value = serde_json::from_str(&file).unwrap();
    bare["resins"] = serde_json::json!([]);
    let (bare, third) = (bare.to_string(), TestApp::new(&documents::workshop(9, 17)).await);
    let refused = upload(&third, "/casts/import", &[], ("file", "top.json", bare.as_bytes())).await;
    assert!(refused.text.contains("The resin “harbour-epoxy”"), "{}", refused.text);
}

#[tokio::test]
async fn the_cut_list_goes_out_as_a_table_and_as_a_drawing() {
    let (app, cast) = app().await;
    let table = get(&app, &format!("/casts/{}/export/cut-list.csv", cast.0)).await.text;
    let mut lines = table.lines();
    assert_eq!(lines.next(), Some("part,count,length_mm,width_mm,thickness_mm"));
    assert!(lines.any(|line| line.starts_with("base,1,1")), "{table}");
    let drawing = get(&app, &format!("/casts/{}/export/cut-list.dxf", cast.0)).await.text;
    let read = fondant_files::dxf::read(drawing.as_bytes(), &Default::default()).unwrap();
    let on = |word: &str| {
        let is = |layer: usize| read.layers[layer].name.starts_with(word);
        read.rings.iter().filter(|closed| is(closed.layer)).count()
    };
    let pieces: usize = table
        .lines()
        .skip(1)
        .map(|line| line.split(',').nth(1).unwrap().parse::<usize>().unwrap())
        .sum();
    assert_eq!(on("Cuts"), pieces, "{table}");
    assert!(on("Stock") > 0);
}

/// On paper a proposal says that it is one; a plan that is taken has each bucket's parts and its acts in
/// order; what is poured is ticked with its time, and what should be is marked.
#[tokio::test]
async fn the_plan_on_paper_says_what_it_is_and_ticks_what_is_done() {
    let app = TestApp::new(&documents::workshop(0, 23)).await;
    let cast = app.cast("Plan on paper").await;
    let paper = async || get(&app, &format!("/casts/{cast}/plan")).await.text;
    let proposed = paper().await;
    assert!(proposed.contains("<b>Proposed.</b>") && !proposed.contains("What is done, in order"));
    let settle = format!("/casts/{cast}/pours/settle");
    let settled = post(&app, &settle, &[("revision", "1"), ("sure", "yes")]).await;
    assert_eq!(settled.status, StatusCode::OK);
    let taken = paper().await;
    assert!(!taken.contains("<b>Proposed.</b>") && !taken.contains('☑'), "{taken}");
    let pours = app.document(cast).await.pours.taken;
    // Of each pour and of all the resin, by mass and by volume.
    assert_eq!(taken.matches(" A + ").count(), 2 * (pours.len() + 1), "{taken}");
    assert_eq!(taken.matches("Mix and pour").count(), pours.len());
    app.set_now(pours[0].at + SignedDuration::from_hours(3));
    assert!(paper().await.contains("☐ late"));
    let at = pours[0].at + SignedDuration::from_mins(20);
    let fact = Fact::Poured { pour: pours[0].id, at, resin_at: None };
    casts::facts::log(&app.app, cast, 2, &Request::default(), fact).await.unwrap();
    let done = paper().await;
    let zone = app.shop().await.hours().zone().clone();
    let time = at.to_zoned_datetime(zone).strftime("%H:%M").to_string();
    let row = format!("☑</td><td class=\"whitespace-nowrap\"><b>{time}</b></td><td>Mix and pour");
    assert!(done.contains(&row) && !done.contains("☐ late"), "{row}: {done}");
}

/// A browser saves the whole workshop, and the file brings it into another.
#[tokio::test]
async fn the_whole_workshop_is_saved_from_a_page() {
    let app = TestApp::new(&documents::workshop(0, 23)).await;
    for name in ["One", "Two"] {
        app.cast(name).await;
    }
    assert!(get(&app, "/shop").await.text.contains("href=\"/shop/workshop.zip\""));
    let file = get(&app, "/shop/workshop.zip").await;
    assert_eq!(file.header("content-length"), file.bytes.len().to_string());
    let (mut reader, whole) = WholeReader::open(Cursor::new(file.bytes)).unwrap();
    assert_eq!(whole.casts, 2);
    let first = fondant_files::records::archive::read(&reader.cast(0).unwrap()).unwrap();
    assert_eq!(first.document.name, "One");
}
