//! A river measured by filling or weighing alone, rows of cavities, and pieces in them, by the router.

use axum::http::StatusCode;
use fondant_cast::document::{Contents, Pressed, PressedShape, Shaping};
use fondant_cast::{Kind, measure};
use fondant_quantities::Length;
use fondant_shapes::blanks::Hollow;
use fondant_testkit::{TestApp, documents};

use crate::common::{as_sent, get, post};

async fn app() -> TestApp {
    TestApp::new(&documents::workshop(8, 18)).await
}

const BOARDS: [(&str, &str); 10] = [
    ("board", "0"),
    ("b_thickness-0", "40"),
    ("b_density-0", "650"),
    ("b_moisture-0", "9"),
    ("b_absorbs-0", "0"),
    ("board", "1"),
    ("b_thickness-1", "40"),
    ("b_density-1", "650"),
    ("b_moisture-1", "9"),
    ("b_absorbs-1", "0"),
];

#[tokio::test]
async fn a_river_is_measured_by_what_the_form_took() {
    let app = app().await;
    let cast = app.cast("Filled").await;
    let station = format!("/casts/{}/timber", cast.0);
    let sent = |revision: &'static str, more: &[(&'static str, &'static str)]| {
        let head = [("revision", revision), ("name", "Filled")];
        [&head[..], &BOARDS[..], more].concat()
    };
    let drawn = app.document(cast).await.contents.river().unwrap().stations.clone();
    let mut stations: Vec<(String, String)> = Vec::new();
    for station in &drawn {
        stations.push(("at".into(), format!("{} mm", station.at.mm())));
        stations.push(("river".into(), format!("{} mm", station.width.mm())));
        stations.push(("wall".into(), String::new()));
    }
    let mut first = sent("1", &[("tape", "1 mm"), ("reshape", "amounts")]);
    first.extend(stations.iter().map(|(name, value)| (name.as_str(), value.as_str())));
    let page = post(&app, &station, &first).await;
    assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    assert!(page.text.contains("The room beside the boards is a guess."));

    let filled = post(&app, &station, &sent("2", &[("dry_fill", "9.5 L")])).await;
    assert!(!filled.text.contains("beside the boards is a guess"), "{}", filled.text);
    let document = app.document(cast).await;
    assert_eq!(document.contents.river().unwrap().shaping, Shaping::Amounts);
    let between = measure(&document).unwrap().sizing.lines[0].volume;
    assert!((between.l() - 9.5).abs() < 1e-9, "{between:?}");

    // What cannot be is refused at its field, and nothing changes.
    let too_much = post(&app, &station, &sent("3", &[("dry_fill", "900 L")])).await;
    assert_eq!(too_much.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(too_much.text.contains("id=\"dry_fill-refusal\""), "{}", too_much.text);
    assert_eq!(app.document(cast).await, document);

    // The boards on the scale are another way; litres there are a slip that is named.
    let weighed = [("dry_fill", ""), ("weighed-0", "8.45 kg"), ("weighed-1", "7.8 kg")];
    post(&app, &station, &sent("3", &weighed)).await;
    let document = app.document(cast).await;
    let form = 1.52 * 0.78 * 0.04 * 1e3;
    let between = measure(&document).unwrap().sizing.lines[0].volume;
    assert!((between.l() - (form - 13.0 - 12.0)).abs() < 1e-6, "{between:?}");
    let slip = [("dry_fill", ""), ("weighed-0", "8.45 L"), ("weighed-1", "7.8 kg")];
    let slip = post(&app, &station, &sent("4", &slip)).await;
    assert!(slip.text.contains("id=\"weighed-0-refusal\"") && slip.text.contains("not litres"));

    // A board goes with its weight, and one comes without.
    let both = [("dry_fill", ""), ("weighed-0", "8.45 kg"), ("weighed-1", "7.8 kg")];
    post(&app, &station, &sent("4", &[&both[..], &[("board_out", "0")]].concat())).await;
    let boards = app.document(cast).await.contents.boards().to_vec();
    assert_eq!(boards.len(), 1);
    assert!((boards[0].weighed.unwrap().kg() - 7.8).abs() < 1e-9);
    let form = get(&app, &format!("/casts/{}/form", cast.0)).await;
    assert!(form.text.contains("boards on a scale, by their density"));
}

#[tokio::test]
async fn rows_of_cavities_come_and_go_with_what_is_pressed_into_them() {
    let app = app().await;
    let cast = app.create(&documents::of_kind(Kind::Moulds)).await;
    let piece = format!("/casts/{}/piece", cast.0);
    let rows = [
        ("revision", "1"),
        ("name", "Rows"),
        ("mould_wall", "8"),
        ("finish", ""),
        ("deadline", ""),
        ("row", "0"),
        ("row_name-0", "square"),
        ("row_colour-0", ""),
        ("count-0", "4"),
        ("hollow-0", "box"),
        ("length-0", "60"),
        ("width-0", "40"),
        ("depth-0", "12"),
        ("row", "1"),
        ("row_name-1", "trough"),
        ("row_colour-1", "slate"),
        ("count-1", "3"),
        ("hollow-1", "trough"),
        ("length-1", "130"),
        ("width-1", "20"),
        ("depth-1", "18"),
    ];
    let page = post(&app, &piece, &rows).await;
    assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    let timber = format!("/casts/{}/timber", cast.0);
    let pressed = [
        ("revision", "2"),
        ("pressed", "0"),
        ("pr_shape-0", "block"),
        ("pr_count-0", "2"),
        ("pr_length-0", "25"),
        ("pr_width-0", "20"),
        ("pr_height-0", "5"),
        ("pr_density-0", "600"),
        ("pressed", "1"),
        ("pr_shape-1", "none"),
    ];
    let page = post(&app, &timber, &pressed).await;
    assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    assert!(page.text.contains("Seal them first") && page.text.contains("2 colours"));
    let Contents::Moulds(moulds) = app.document(cast).await.contents else { panic!("moulds") };
    let mm = Length::from_mm;
    assert_eq!(
        moulds.cavities[1].hollow,
        Hollow::Trough { length: mm(130.0), width: mm(20.0), depth: mm(18.0) }
    );
    let Some(Pressed { count: 2, shape: PressedShape::Block { .. }, .. }) =
        moulds.cavities[0].pressed
    else {
        panic!("{:?}", moulds.cavities[0].pressed)
    };
    assert!((moulds.cavities[0].each().l() * 1e3 - (28.8 - 5.0)).abs() < 1e-9);
    // Until they are sealed that is work before the first pour, and a question at the bench.
    assert_eq!(moulds.bare_pieces(), 8);

    let tall = pressed.map(|(name, value)| match name {
        "revision" => (name, "3"),
        "pr_height-0" => (name, "14"),
        _ => (name, value),
    });
    let refused = post(&app, &timber, &tall).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("id=\"pr_height-0-refusal\""), "{}", refused.text);
    // One row less; what was pressed into the other stays.
    let one: Vec<_> =
        rows.iter().map(|(n, v)| if *n == "revision" { (*n, "3") } else { (*n, *v) }).collect();
    let page = post(&app, &piece, &one[..13]).await;
    assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    let Contents::Moulds(moulds) = app.document(cast).await.contents else { panic!("moulds") };
    assert_eq!(moulds.cavities.len(), 1);
    assert!(moulds.cavities[0].pressed.is_some());
}

#[tokio::test]
async fn a_block_is_loaded_into_a_pressure_pot() {
    let app = app().await;
    let cast = app.create(&documents::of_kind(Kind::Block)).await;
    let page = get(&app, &format!("/casts/{}/form", cast.0)).await;
    assert!(page.text.contains("It goes under pressure"), "{}", page.text);
    let mut document = app.document(cast).await;
    *document.contents.pot_mut().unwrap() = Some(fondant_shapes::blanks::pot::Pot {
        diameter: Length::from_mm(300.0),
        height: Length::from_mm(260.0),
        shelf: Length::from_mm(6.0),
        gap: Length::from_mm(5.0),
    });
    let potted = app.create(&document).await;
    let page = get(&app, &format!("/casts/{}/form", potted.0)).await;
    assert!(page.text.contains("1 block on level 1"), "{}", page.text);
    document.contents.pot_mut().unwrap().as_mut().unwrap().diameter = Length::from_mm(100.0);
    let small = app.create(&document).await;
    let page = get(&app, &format!("/casts/{}/form", small.0)).await;
    assert!(page.text.contains("does not stand in this pot"), "{}", page.text);
}

/// The usual object stood higher than a usual river is deep: it was refused at fields that were not there
/// yet, and the button did nothing.
#[tokio::test]
async fn an_object_and_a_cavity_that_are_added_lie_in_the_resin() {
    let app = app().await;
    for thickness in [120.0, 38.0, 12.0, 4.0] {
        let mut river = documents::river_top("Added");
        river.piece.thickness = Length::from_mm(thickness);
        for board in &mut river.contents.river_mut().unwrap().boards {
            board.thickness = Length::from_mm(thickness + 4.0);
        }
        let cast = app.create(&river).await;
        let station = format!("/casts/{cast}/timber");
        let page = get(&app, &station).await.text;
        for (revision, added) in [("1", "ins"), ("2", "cav")] {
            let mut form = as_sent(&page);
            form.retain(|(name, _)| name != "revision");
            form.push(("revision".into(), revision.into()));
            form.push(("add".into(), added.into()));
            let form: Vec<(&str, &str)> =
                form.iter().map(|(name, value)| (name.as_str(), value.as_str())).collect();
            let answer = post(&app, &station, &form).await;
            assert_eq!(answer.status, StatusCode::OK, "{thickness} {added}: {}", answer.text);
        }
    }
}
