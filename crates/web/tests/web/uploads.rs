//! Photos, drawings and meshes brought in through the real router; and forms
//! that the shop has.

use crate::common::{bring, get, post, post_as, upload};
use axum::http::StatusCode;
use fondant_app::casts::photos;
use fondant_app::forms;
use fondant_app::records::{CastId, Shows};
use fondant_cast::document::Shaping;
use fondant_cast::{Document, Kind, measure};
use fondant_files::{PHOTO_LIMIT, SVG_LIMIT, made_up, photo};
use fondant_quantities::Length;
use fondant_shapes::form::Piece;
use fondant_testkit::{TestApp, documents};

pub(crate) async fn app() -> (TestApp, CastId) {
    let app = TestApp::new(&documents::workshop(8, 18)).await;
    let piece = Piece::slab(
        Length::from_mm(1200.0),
        Length::from_mm(600.0),
        Length::from_mm(34.0),
        Length::from_mm(10.0),
    );
    let plan = Document::river_top("Traced".into(), piece, documents::now());
    let cast = app.create(&plan).await;
    (app, cast)
}

pub(crate) const TWO_BOARDS: &str = r#"<svg xmlns="http://www.w3.org/2000/svg" width="1220mm" height="620mm" viewBox="0 0 1220 620">
    <path d="M0 0H1220V200Q610 260 0 200Z"/><path d="M0 420H1220V620H0Z"/></svg>"#;

#[tokio::test]
async fn outlines_come_in_from_svg_and_go_out_as_svg_and_dxf() {
    let (app, cast) = app().await;
    let taken = bring(&app, cast, "instead", ("slab.svg", TWO_BOARDS.as_bytes())).await;
    assert_eq!(taken.status, StatusCode::SEE_OTHER, "{}", taken.text);
    let plan = app.document(cast).await;
    let river = plan.contents.river().unwrap();
    assert_eq!((river.shaping, river.boards.len()), (Shaping::Outlines, 2));
    // The bulge is a parabola of 30 mm over 1220: two thirds of the box.
    let timber = 1.22 * (0.2 + 0.03 * 2.0 / 3.0) + 1.22 * 0.2;
    let between = (1.22 * 0.62 - timber) * 38.0;
    let drawn = measure(&plan).unwrap().sizing.lines[0].volume.l();
    assert!((drawn / between - 1.0).abs() < 2e-3, "{drawn} against {between}");

    for (file, mark) in [
        ("outlines.svg", "viewBox=\"0.0000 0.0000 1220.0000 620.0000\""),
        ("outlines.dxf", "LWPOLYLINE"),
    ] {
        let out = get(&app, &format!("/casts/{}/export/{file}", cast.0)).await;
        assert!(out.text.contains(mark), "{file}: {}", out.text);
        // What goes out comes in again as it was.
        let again = bring(&app, cast, "instead", (file, out.text.as_bytes())).await;
        assert_eq!(again.status, StatusCode::SEE_OTHER, "{file}: {}", again.text);
        let back = measure(&app.document(cast).await).unwrap().sizing.lines[0].volume.l();
        assert!((back / drawn - 1.0).abs() < 1e-4, "{file}: {back}");
    }
}

#[tokio::test]
async fn a_second_drawing_gives_the_boards_their_undersides() {
    let (app, cast) = app().await;
    bring(&app, cast, "instead", ("upper.svg", TWO_BOARDS.as_bytes())).await;
    let square = measure(&app.document(cast).await).unwrap().sizing.lines[0].volume.l();
    // Each live edge stands 20 mm farther out below.
    let below = TWO_BOARDS
        .replace("V200Q610 260 0 200", "V220Q610 280 0 220")
        .replace("M0 420H1220", "M0 400H1220");
    let taken = bring(&app, cast, "under", ("lower.svg", below.as_bytes())).await;
    assert_eq!(taken.status, StatusCode::SEE_OTHER, "{}", taken.text);
    let sloped = measure(&app.document(cast).await).unwrap().sizing.lines[0].volume.l();
    // Two wedges of half 20 × 38 mm along 1220.
    let wedges = 1.22 * 0.02 * 38.0;
    assert!((square - sloped - wedges).abs() < 0.02, "{square} − {sloped} against {wedges}");
    // Faces, undersides and form go out together and come in again as one.
    for file in ["outlines.svg", "outlines.dxf"] {
        let out = get(&app, &format!("/casts/{}/export/{file}", cast.0)).await;
        let again = bring(&app, cast, "instead", (file, out.text.as_bytes())).await;
        assert_eq!(again.status, StatusCode::SEE_OTHER, "{file}: {}", again.text);
        let back = measure(&app.document(cast).await).unwrap();
        let again = back.sizing.lines[0].volume.l();
        assert!((again / sloped - 1.0).abs() < 1e-5, "{file}: {again} for {sloped}");
        assert!((back.cast.length.mm() - 1220.0).abs() < 1e-6, "{file}");
    }
}

/// A drawing of a frame, a block, an open line and a hidden layer says all that before it is taken.
#[tokio::test]
async fn a_drawing_is_looked_at_before_anything_of_it_is_taken() {
    let (app, cast) = app().await;
    let before = app.document(cast).await;
    let drawing = r##"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1600 1000">
        <rect width="1600" height="1000" fill="#fff"/>
        <g id="boards"><path id="oak" d="M100 100H1300V300H100Z"/><path d="M100 500H1300V650Q700 700 100 650Z"/></g>
        <g id="notes" style="display:none"><rect width="50" height="20"/></g>
        <path fill="none" stroke="#000" d="M100 800H400V900H100V802.5"/><text>Slab</text></svg>"##;
    let path = format!("/casts/{}/outlines", cast.0);
    let looked = upload(&app, &path, &[], ("outlines", "slab.svg", drawing.as_bytes())).await;
    let here = looked.header("location").to_owned();
    let page = get(&app, &here).await.text;
    for said in [
        "2 boards",
        "Nothing of the cast has been changed yet",
        "the file does not say",
        "is open by 0.66",
        "1 × text",
        "1 × rect on layer notes: hidden",
        "oak, layer boards",
    ] {
        assert!(page.contains(said), "{said}: {page}");
    }
    assert_eq!(app.document(cast).await, before);
    // Without a unit nothing is taken; the choice of another role is kept.
    let reading = page.split("name=\"reading\" value=\"").nth(1).unwrap();
    let reading = reading.split('"').next().unwrap();
    let take = format!("{here}/take");
    let mut form = vec![("revision", "1"), ("reading", reading), ("role-1", "out")];
    let refused = post(&app, &take, &form).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("Say first which unit"), "{}", refused.text);
    assert!(refused.text.contains("1 board,"), "{}", refused.text);
    form.push(("fit", "1200 mm"));
    let taken = post(&app, &take, &form).await;
    assert_eq!(taken.status, StatusCode::SEE_OTHER, "{}", taken.text);
    let document = app.document(cast).await;
    let [board] = document.contents.boards() else { panic!("one board") };
    let area = board.shape.as_ref().unwrap().outline.area().m2();
    // The bulge is a parabola of 25 mm over 1200: two thirds of the box.
    assert!((area - 1.2 * (0.15 + 0.025 * 2.0 / 3.0)).abs() < 1e-4, "{area}");
}

#[tokio::test]
async fn drawings_that_cannot_be_read_are_refused_and_change_nothing() {
    let (app, cast) = app().await;
    let before = app.document(cast).await;
    let path = format!("/casts/{}/outlines", cast.0);
    let looped = "<!DOCTYPE svg [<!ENTITY a \"&b;\"><!ENTITY b \"&a;\">]><svg>&a;</svg>";
    let nan = "0\nSECTION\n2\nENTITIES\n0\nLINE\n10\nNaN\n20\n0\n11\n1\n21\n1\n0\nENDSEC\n0\nEOF\n";
    let large = vec![b' '; SVG_LIMIT + 5];
    let cases: [(&str, &[u8], &str); 5] = [
        ("a.svg", b"", "The file is empty"),
        ("a.svg", looped.as_bytes(), "It cannot be read"),
        ("a.dxf", nan.as_bytes(), "at line 8"),
        ("a.svg", &large, "Fondant reads up to 8 MB"),
        ("a.png", b"\x89PNG", "This file is not SVG"),
    ];
    for (name, bytes, sentence) in cases {
        let refused = upload(&app, &path, &[("revision", "1")], ("outlines", name, bytes)).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "{name}");
        assert!(refused.text.contains(sentence), "{sentence}: {}", refused.text);
    }
    // Read, and refused as a cast.
    let crossing = TWO_BOARDS.replace("M0 420H1220V620H0Z", "M0 100H1220V620H0Z");
    let refused = bring(&app, cast, "instead", ("a.svg", crossing.as_bytes())).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("lie on each other"), "{}", refused.text);
    assert!(refused.text.contains("class=\"fault\""), "where is marked");
    let looked = upload(&app, &path, &[], ("outlines", "a.svg", TWO_BOARDS.as_bytes())).await;
    let take = format!("{}/take", looked.header("location"));
    let stale = post(&app, &take, &[("revision", "7")]).await;
    assert!(stale.text.contains("changed in another tab"));
    assert_eq!(app.document(cast).await, before);
}

#[tokio::test]
async fn from_a_photo_and_its_corners_to_boards() {
    let (app, cast) = app().await;
    let kept = photo::keep(&made_up::slab_photo(1200).unwrap()).unwrap();
    let photos = format!("/casts/{}/photos", cast.0);
    let added = upload(&app, &photos, &[], ("photo", "slab.jpg", &kept.jpeg)).await;
    assert_eq!(added.status, StatusCode::SEE_OTHER, "{}", added.text);
    let page = added.header("location").to_owned();
    assert!(get(&app, &page).await.text.contains("Where are the four corners?"));

    let corner = |i: usize| {
        let (x, y) = made_up::CORNERS[i];
        format!("{},{}", x * 0.6, y * 0.6)
    };
    let corners = [0, 1, 2, 3].map(corner);
    let form = |order: [usize; 4]| {
        vec![
            ("length", "1220 mm"),
            ("width", "620 mm"),
            ("corner0", corners[order[0]].as_str()),
            ("corner1", corners[order[1]].as_str()),
            ("corner2", corners[order[2]].as_str()),
            ("corner3", corners[order[3]].as_str()),
            // The tape read wrongly along the near wall.
            ("end0", corners[0].as_str()),
            ("end1", corners[1].as_str()),
            ("check_length", "1.25 m"),
        ]
    };
    let crossed = post_as(&app, &page, &form([0, 2, 1, 3]), false).await;
    assert_eq!(crossed.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(crossed.text.contains("in the wrong order"));
    assert!(crossed.text.contains(&corners[2]), "what was marked is kept");
    let in_line = post_as(&app, &page, &form([0, 0, 1, 2]), false).await;
    assert!(in_line.text.contains("on one line, or two on one spot"));

    let squared = post_as(&app, &page, &form([0, 1, 2, 3]), false).await;
    assert_eq!(squared.status, StatusCode::SEE_OTHER, "{}", squared.text);
    let found = get(&app, &page).await;
    assert!(found.text.contains("2 outlines found"), "{}", found.text);
    assert!(found.text.contains("off by −2.4\u{202f}%. Look at the corners"), "{}", found.text);
    let picture = get(&app, &format!("{page}/squared.jpg")).await;
    assert_eq!(picture.header("content-type"), "image/jpeg");
    assert!(picture.header("cache-control").contains("immutable"));

    let taken =
        post_as(&app, &format!("{page}/take"), &[("revision", "1"), ("cooler", "0")], false).await;
    assert_eq!(taken.status, StatusCode::SEE_OTHER, "{}", taken.text);
    let plan = app.document(cast).await;
    let timber: f64 = plan.board_shapes().iter().flatten().map(|s| s.outline.area().m2()).sum();
    assert!((timber / made_up::timber_m2() - 1.0).abs() < 0.01, "{timber}");
    let drawing = get(&app, &format!("/casts/{}/timber", cast.0)).await;
    assert!(drawing.text.contains("squared.jpg"), "the photo lies under the drawing");

    let removed = post_as(&app, &format!("{page}/remove"), &[], false).await;
    assert_eq!(removed.status, StatusCode::SEE_OTHER);
    assert_eq!(get(&app, &page).await.status, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn what_is_no_photo_is_refused() {
    let (app, cast) = app().await;
    let photos = format!("/casts/{}/photos", cast.0);
    let large = vec![0u8; PHOTO_LIMIT + 1];
    let cases: [(&[u8], &str); 3] = [
        (b"", "The file is empty"),
        (b"GIF89a and so on", "This file is not JPEG or PNG"),
        (&large, "Fondant reads up to 20 MB"),
    ];
    for (bytes, sentence) in cases {
        let refused = upload(&app, &photos, &[], ("photo", "x.jpg", bytes)).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(refused.text.contains(sentence), "{sentence}");
    }
    assert!(photos::all(&app.app, &app.open(cast).await).await.unwrap().is_empty());
}

#[tokio::test]
async fn a_mesh_becomes_an_object_and_an_open_one_is_refused() {
    let app = TestApp::new(&documents::workshop(8, 18)).await;
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(90.0), mm(90.0), mm(110.0), mm(5.0));
    let plan = Document::begin(Kind::Embed, "Cone".into(), piece, documents::now());
    let cast = app.create(&plan).await;
    let path = format!("/casts/{}/mesh", cast.0);
    let face = |a: [i32; 3], b: [i32; 3], c: [i32; 3]| {
        let v = |p: [i32; 3]| format!("vertex {} {} {}\n", p[0], p[1], p[2]);
        format!("facet normal 0 0 0\nouter loop\n{}{}{}endloop\nendfacet\n", v(a), v(b), v(c))
    };
    let (o, x, y, z) = ([0, 0, 0], [30, 0, 0], [0, 30, 0], [0, 0, 30]);
    let three = [face(o, y, x), face(o, x, z), face(o, z, y)].concat();
    let open = format!("solid t\n{three}endsolid t\n");
    let closed = format!("solid t\n{three}{}endsolid t\n", face(x, y, z));
    let refused = upload(&app, &path, &[], ("mesh", "t.stl", open.as_bytes())).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("The mesh is open: 3 edges"), "{}", refused.text);
    let looked = upload(&app, &path, &[], ("mesh", "t.stl", closed.as_bytes())).await;
    let here = looked.header("location").to_owned();
    let page = get(&app, &here).await.text;
    assert!(page.contains("One closed surface of 4 triangles."), "{page}");
    // 30 in would not go into the form: millimetres are likely.
    assert!(page.contains("<option value=\"mm\" selected>millimetres: 30 × 30 × 30"), "{page}");
    let form = [("revision", "1"), ("unit", "mm"), ("mass", "5 g")];
    let taken = post(&app, &format!("{here}/take"), &form).await;
    assert_eq!(taken.status, StatusCode::SEE_OTHER, "{}", taken.text);
    let inserts = app.document(cast).await.contents.inserts().to_vec();
    assert!((inserts[1].volume().l() - 0.0045).abs() < 1e-9);
    let page = get(&app, &format!("/casts/{}/timber", cast.0)).await;
    assert!(page.text.contains("from t.stl: closed, 4 triangles, 30 × 30 × 30"));
}

#[tokio::test]
async fn forms_are_added_offered_booked_and_let_go() {
    let (app, cast) = app().await;
    let form = [
        ("name", "Long form"),
        ("kind", "sheet_form"),
        ("length", "1400"),
        ("width", "620"),
        ("height", "60"),
        ("cavities", "1"),
        ("condition", "ready"),
    ];
    let mut bad = form;
    bad[2].1 = "long";
    let refused = post_as(&app, "/forms", &bad, false).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("value=\"long\""));
    assert_eq!(post_as(&app, "/forms", &form, false).await.status, StatusCode::SEE_OTHER);
    let id = forms::all(&app.app, &app.shop().await).await.unwrap().all[0].id;
    let station = format!("/casts/{}/form", cast.0);
    let offered = get(&app, &station).await;
    assert!(offered.text.contains("cut down: 180\u{202f}mm off its length"), "{}", offered.text);

    let book = format!("/casts/{}/book", cast.0);
    let number = id.0.to_string();
    assert_eq!(
        post_as(&app, &book, &[("form", &number)], false).await.status,
        StatusCode::SEE_OTHER
    );
    assert!(get(&app, &station).await.text.contains("Let it go"));
    assert!(get(&app, "/forms").await.text.contains("booked by Traced"));
    let other = app.cast("Another").await;
    let taken =
        post_as(&app, &format!("/casts/{}/book", other.0), &[("form", &number)], false).await;
    assert_eq!(taken.status, StatusCode::CONFLICT);
    let kept = post_as(&app, &format!("/forms/{number}/remove"), &[], false).await;
    assert_eq!(kept.status, StatusCode::CONFLICT);
    post_as(&app, &book, &[("form", "")], false).await;
    let gone = post_as(&app, &format!("/forms/{number}/remove"), &[], false).await;
    assert_eq!(gone.status, StatusCode::SEE_OTHER);
    assert!(get(&app, "/forms").await.text.contains("None yet."));
}

/// Takes away the layer under the boards and the one over the resin.
async fn app_without_base(app: &TestApp, cast: CastId) {
    let fields = [("revision", "2"), ("figure", "outlines"), ("base_gap", "0"), ("overfill", "0")];
    let path = format!("/casts/{}/form", cast.0);
    let answer = post(app, &path, &crate::common::form_fields(&fields)).await;
    assert_eq!(answer.status, StatusCode::OK, "{}", answer.text);
}

#[tokio::test]
async fn a_copied_board_was_never_on_the_scale() {
    let (app, cast) = app().await;
    bring(&app, cast, "instead", ("slab.svg", TWO_BOARDS.as_bytes())).await;
    let form = format!("/casts/{}/form", cast.0);
    let weighed =
        [("revision", "2"), ("figure", "outlines"), ("weighed-0", "6 kg"), ("weighed-1", "6 kg")];
    assert_eq!(
        post(&app, &form, &crate::common::form_fields(&weighed)).await.status,
        StatusCode::OK
    );
    let board = |number: &'static str, outline: &'static str| {
        [
            ("board", number),
            ("b_timber", "ash"),
            ("b_thickness", "38"),
            ("b_density", "650"),
            ("b_moisture", "9"),
            ("b_absorbs", "0"),
            ("outline", outline),
            ("bevels", ""),
            ("lower", ""),
        ]
        .map(|(name, value)| {
            (if name == "board" { name.to_owned() } else { format!("{name}-{number}") }, value)
        })
    };
    let mut fields = vec![("revision".to_owned(), "3"), ("points_tolerance".to_owned(), "1")];
    fields.extend(board("0", "0,0 1220,0 1220,200 0,200"));
    fields.extend(board("7", "0,420 1220,420 1220,620 0,620"));
    let fields: Vec<(&str, &str)> = fields.iter().map(|(n, v)| (n.as_str(), *v)).collect();
    let kept = post(&app, &format!("/casts/{}/timber", cast.0), &fields).await;
    assert_eq!(kept.status, StatusCode::OK, "{}", kept.text);
    let boards = app.document(cast).await.contents.boards().to_vec();
    assert!(boards[0].weighed.is_some() && boards[1].weighed.is_none());
}

#[tokio::test]
async fn outlines_are_typed_too_and_a_crossing_is_marked_where_it_is() {
    let (app, cast) = app().await;
    let path = format!("/casts/{}/timber", cast.0);
    let boards = |outline: &'static str| {
        let mut form = vec![("revision", "2"), ("points_tolerance", "1")];
        form.extend([
            ("board", "0"),
            ("b_timber-0", "ash"),
            ("b_thickness-0", "38"),
            ("b_density-0", "650"),
        ]);
        form.extend([
            ("b_moisture-0", "9"),
            ("b_absorbs-0", "0"),
            ("outline-0", outline),
            ("bevels-0", "0 0 10"),
            ("lower-0", ""),
        ]);
        form
    };
    let begin = [
        ("revision", "1"),
        ("tape", "1"),
        ("reshape", "outlines"),
        ("at", "0"),
        ("river", "150"),
        ("wall", ""),
        ("at", "1220"),
        ("river", "150"),
        ("wall", ""),
        ("board", "0"),
        ("b_timber-0", "ash"),
        ("b_thickness-0", "38"),
        ("b_density-0", "650"),
        ("b_moisture-0", "9"),
        ("b_absorbs-0", "0"),
        ("board", "1"),
        ("b_timber-1", "ash"),
        ("b_thickness-1", "38"),
        ("b_density-1", "650"),
        ("b_moisture-1", "9"),
        ("b_absorbs-1", "0"),
    ];
    let drawn = post(&app, &path, &begin).await;
    assert_eq!(drawn.status, StatusCode::OK, "{}", drawn.text);
    assert!(drawn.text.contains("How do the boards lie?"));
    assert_eq!(app.document(cast).await.contents.river_mut().unwrap().shaping, Shaping::Outlines);

    let crossed = post(&app, &path, &boards("0,0 600,200 600,0 0,200")).await;
    assert_eq!(crossed.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(crossed.text.contains("crosses itself where the drawing marks it"));
    assert!(
        crossed.text.contains("&#34;marks&#34;:[[300.0,100.0]]")
            || crossed.text.contains("marks&quot;:[[300.0,100.0]]"),
        "{}",
        crossed.text
    );
    let wrong = post(&app, &path, &boards("0,0 6oo,0 600,200")).await;
    assert!(
        wrong.text.contains("outline-0-refusal") && wrong.text.contains("“6oo,0” is not a point")
    );
    // A board that fills the form, without a layer under it, leaves nothing.
    app_without_base(&app, cast).await;
    let mut full = boards("0,0 1220,0 1220,620 0,620");
    full[0].1 = "3";
    let nothing = post(&app, &path, &full).await;
    assert_eq!(nothing.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(nothing.text.contains("There is nothing to fill"), "{}", nothing.text);
    let mut board = boards("0,0 0,200 600,200 600,0");
    board[0].1 = "3";
    let kept = post(&app, &path, &board).await;
    assert_eq!(kept.status, StatusCode::OK, "{}", kept.text);
    assert_eq!(app.document(cast).await.contents.boards().len(), 1);
}

/// A photo of a step stands at the step and in the record, one of a fault at the fault; neither is offered
/// to be traced. What is no photo is told where it was chosen.
#[tokio::test]
async fn photos_of_steps_and_faults_stand_where_they_belong() {
    let (app, cast) = app().await;
    let kept_photo = photo::keep(&made_up::slab_photo(900).unwrap());
    let jpeg = kept_photo.unwrap().jpeg;
    let record = format!("/casts/{}/record", cast.0);
    let fault = [("request", "f"), ("kind", "bubbles")];
    let marked = post_as(&app, &format!("{record}/faults"), &fault, false).await;
    assert!(marked.status.is_redirection(), "{}", marked.text);
    let page = get(&app, &record).await.text;
    let (_, from) = page.split_once("/record/faults/").expect("a fault");
    let number: String = from.chars().take_while(char::is_ascii_digit).collect();
    let of_fault = format!("{record}/faults/{number}/photos");
    let of_step = format!("/casts/{}/finish/photos", cast.0);
    let sand = [("step", "sand"), ("request", "s")];
    let file = ("photo", "sanded.jpg", jpeg.as_slice());
    for _ in 0..2 {
        let kept = upload(&app, &of_step, &sand, file).await;
        assert!(kept.header("location").ends_with("/finish#photo-step-sand"), "{}", kept.text);
    }
    let kept = upload(&app, &of_fault, &[("request", "g")], file).await;
    let place = format!("/record#photo-fault-{number}");
    assert!(kept.header("location").ends_with(&place), "{}", kept.text);
    let finish = get(&app, &format!("/casts/{}/finish", cast.0)).await.text;
    assert_eq!(finish.matches("small.jpg").count(), 1, "sent twice it is kept once");
    let record_page = get(&app, &record).await.text;
    assert_eq!(record_page.matches("small.jpg").count(), 2);
    assert!(
        record_page.contains("Bubbles inside, photo 1")
            && record_page.contains("How it was finished")
    );
    assert!(!get(&app, &format!("/casts/{}/files", cast.0)).await.text.contains("<img"));
    // The small one is small, and the same again.
    let (_, from) = record_page.split_once("<img src=\"").expect("a photo");
    let address = from.split('"').next().unwrap().to_owned();
    for _ in 0..2 {
        let small = get(&app, &address).await;
        assert_eq!(small.header("content-type"), "image/jpeg");
    }
    let photos = photos::all(&app.app, &app.open(cast).await).await.unwrap();
    let small = photos::small(&app.app, cast, photos[0].id).await.unwrap();
    assert!(small.len() * 2 < jpeg.len(), "{} of {} bytes", small.len(), jpeg.len());
    let other = ("photo", "sanded.txt", b"no photo".as_slice());
    let refused = upload(&app, &of_step, &[("step", "sand"), ("request", "t")], other).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    let says = refused.text.split("id=\"photo-step-sand-refusal\" role=\"alert\">").nth(1).unwrap();
    assert!(!says.starts_with('<'), "a sentence at the step: {says}");
    let nowhere =
        upload(&app, &format!("{record}/faults/999/photos"), &[("request", "h")], file).await;
    assert_eq!(nowhere.status, StatusCode::NOT_FOUND);
    // A fault that is taken back leaves its photo with the cast.
    let back = [("do", "unmark")];
    post_as(&app, &format!("{record}/faults/{number}"), &back, false).await;
    let left = photos::all(&app.app, &app.open(cast).await).await.unwrap();
    assert_eq!(left.iter().filter(|photo| photo.shows == Shows::Bench).count(), 1);
}
