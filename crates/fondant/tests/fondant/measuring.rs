//! Measuring in headless Chromium: every kind from its beginning to a net
//! mass, outlines dragged, traced over a photo and brought in, and what is
//! printed at its true size.

use std::path::PathBuf;
use std::sync::Arc;

use fondant_app::records::CastId;
use fondant_cast::{Document, Kind};
use fondant_files::{made_up, photo};
use fondant_quantities::Length;
use fondant_shapes::form::Piece;
use fondant_testkit::{TestApp, documents};

/// Serves the application and drives a browser on it.
async fn app() -> Arc<TestApp> {
    Arc::new(TestApp::new(&documents::workshop(8, 18)).await)
}

/// A cast of a kind in the shop.
async fn cast(app: &TestApp, kind: Kind, sides_mm: [f64; 3]) -> CastId {
    let [l, w, t] = sides_mm.map(Length::from_mm);
    let trim = Length::from_mm(if kind == Kind::River { 10.0 } else { 0.0 });
    let piece = Piece::slab(l, w, t, trim);
    app.create(&Document::begin(kind, "Measured".into(), piece, documents::now())).await
}

/// A file in a folder of this test's own.
pub(crate) fn file(name: &str, bytes: &[u8]) -> PathBuf {
    let folder = std::env::temp_dir().join(format!("fondant-measuring-{}", std::process::id()));
    std::fs::create_dir_all(&folder).expect("a folder");
    let path = folder.join(name);
    std::fs::write(&path, bytes).expect("a file");
    path
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn every_kind_from_its_beginning_to_a_net_mass() {
    app()
        .await
        .drive(|browser| async move {
            for kind in Kind::ALL {
                browser.open("/casts/new").await;
                browser.click(&format!("a.kind[href$='={}']", kind.slug())).await;
                browser.enter("#name", &format!("A {} of ours", kind.slug())).await;
                browser.click("button[type=submit]").await;
                browser.find("#workspace .rail").await;
                let mass = browser.text("#f-mass .n").await;
                assert!(mass.ends_with('g'), "{kind:?}: {mass}");
                // A larger piece takes more, seen without a reload; a board with
                // inlay is filled as it is, however long.
                if kind == Kind::Inlay {
                    continue;
                }
                browser.press("1").await;
                browser.wait_for_text("h1", "What will it be").await;
                let (field, more) = match kind {
                    Kind::Moulds => ("#count-0", "60"),
                    Kind::Tubes => ("#count", "60"),
                    _ => ("#length", "1900"),
                };
                browser.enter(field, more).await;
                browser.find("button[data-act=undo]:not([disabled])").await;
                assert_ne!(browser.text("#f-mass .n").await, mass, "{kind:?}");
            }
            let log = browser.log().await;
            assert!(log.is_empty(), "{log:#?}");
        })
        .await;
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_point_is_dragged_and_the_figures_move_and_come_back() {
    let app = app().await;
    let id = cast(&app, Kind::River, [1200.0, 600.0, 34.0]).await;
    app.drive(move |browser| async move {
        browser.open(&format!("/casts/{}/timber", id.0)).await;
        browser.click("button[value=outlines]").await;
        browser.wait_for_text("h1", "How do the boards lie?").await;
        browser.find(".editor-drawing .handle").await;
        let before = browser.text("#f-volume .n").await;
        // A board of ten by its near edge's corner: the river narrows.
        let outline = browser.value("#outline-0").await;
        browser.drag(".handle:nth-child(2)", (0.0, 40.0)).await;
        browser.find("#workspace[data-revision='3']").await;
        assert_ne!(browser.value("#outline-0").await, outline);
        let after = browser.text("#f-volume .n").await;
        assert_ne!(after, before);

        // A point and an edge typed, a board moved by keys, and all undone by keys.
        browser.run("document.querySelector('.editor-drawing').focus()").await;
        browser.type_here(".").await;
        browser.wait_for_text("#inspector", "Point 3, along").await;
        browser.enter("#inspector input", "35 mm").await;
        browser.find("#workspace[data-revision='4']").await;
        assert!(browser.value("#outline-0").await.contains("35,"));
        browser.wait_for_gone("html.is-working").await;
        // A hole is cut by a key, and a corner of it is pulled out.
        browser.run("document.querySelector('.editor-drawing').focus()").await;
        browser.type_here("h").await;
        browser.find("#workspace[data-revision='5']").await;
        let holed = browser.value("#outline-0").await;
        assert_eq!(holed.matches('/').count(), 1, "{holed}");
        browser.drag(".handle:last-child", (0.0, -40.0)).await;
        browser.find("#workspace[data-revision='6']").await;
        let pulled = browser.value("#outline-0").await;
        let rim = |text: &str| text.split('/').next().unwrap().to_owned();
        assert!(pulled != holed && rim(&pulled) == rim(&holed), "{holed}, then {pulled}");
        browser.run("document.querySelector('.editor-drawing').focus()").await;
        browser.type_here("d").await;
        browser.wait_for_text("#boards", "Board 3").await;
        // The copy lies on the river between the boards, or is refused with its place.
        let refused = browser
            .run("return document.querySelector('.sheet > .refusal')?.textContent ?? ''")
            .await;
        assert!(refused.as_str().is_some_and(|s| s.is_empty() || s.contains("lie on each other")));

        browser.open(&format!("/casts/{}/timber", id.0)).await;
        // The section follows the line.
        browser.drag(".cut-line", (-120.0, 0.0)).await;
        let at = browser.value("#cut").await;
        browser.wait_for_text("#section-caption", at.split('.').next().unwrap()).await;
        let address = browser.client.current_url().await.unwrap();
        assert!(address.query().is_some_and(|q| q.starts_with("cut=")), "{address}");

        // A board pulled over the other is refused with the place marked, and
        // a reload shows what is kept.
        let kept = browser.value("#outline-0").await;
        browser.drag(".board-shape:nth-of-type(2) path:nth-child(2)", (0.0, -150.0)).await;
        browser.wait_for_text(".sheet > .refusal", "where the drawing marks it").await;
        browser.find(".editor-drawing .fault").await;
        browser.client.refresh().await.unwrap();
        assert_eq!(browser.value("#outline-0").await, kept);
    })
    .await;
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn from_a_photo_and_its_corners_to_a_volume() {
    let app = app().await;
    let id = cast(&app, Kind::River, [1200.0, 600.0, 34.0]).await;
    let kept = photo::keep(&made_up::slab_photo(1000).expect("a photo")).expect("a picture");
    let path = file("slab.jpg", &kept.jpeg);
    let wrong = file("notes.txt", b"no picture at all");
    app.drive(move |browser| async move {
        browser.open(&format!("/casts/{}/files", id.0)).await;
        browser.choose_file("#photo", &wrong).await;
        browser.click("form[action$=photos] button").await;
        browser.wait_for_text("#photo-refusal", "This file is not JPEG or PNG").await;
        browser.choose_file("#photo", &path).await;
        browser.click("form[action$=photos] button").await;
        browser.wait_for_text("h1", "Where are the four corners?").await;
        browser.find(".corner-marks").await;
        // One corner dragged by the mouse, the others typed.
        browser.drag(".corner:nth-of-type(1)", (6.0, 6.0)).await;
        assert_ne!(browser.value("#corner0").await, "100,67");
        for (index, (x, y)) in made_up::CORNERS.into_iter().enumerate() {
            browser.enter(&format!("#corner{index}"), &format!("{},{}", x / 2.0, y / 2.0)).await;
        }
        browser.enter("#length", "1220").await;
        browser.enter("#width", "620").await;
        browser.click("form button.main").await;
        browser.wait_for_text("#sum", "2 outlines found").await;
        browser.click("form[action$=take] button").await;
        browser.wait_for_text("h1", "How do the boards lie?").await;
        browser.find(".editor-drawing image").await;
        let timber = browser.text("#f-timber .n").await;
        // 38 mm boards: the made-up boards cover 0.52 m².
        let litres: f64 = timber.trim_end_matches(" L").parse().expect("litres");
        let expected = made_up::timber_m2() * 38.0;
        assert!((litres / expected - 1.0).abs() < 0.02, "{litres} against {expected}");
    })
    .await;
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_drawing_is_brought_in_and_a_huge_file_is_refused_before_it_travels() {
    let app = app().await;
    let id = cast(&app, Kind::River, [1200.0, 600.0, 34.0]).await;
    let svg = r#"<svg xmlns="http://www.w3.org/2000/svg" width="1220mm" height="620mm" viewBox="0 0 1220 620">
        <path d="M0 0H1220V200H0Z"/><path d="M0 420H1220V620H0Z"/></svg>"#;
    let drawing = file("slab.svg", svg.as_bytes());
    let huge = file("huge.svg", &vec![b' '; 9 << 20]);
    app.drive(move |browser| async move {
        browser.open(&format!("/casts/{}/files", id.0)).await;
        browser.choose_file("#outlines", &huge).await;
        browser.click("form[action$=outlines] button").await;
        browser.wait_for_text("#outlines-refusal", "Fondant reads up to 8 MB").await;
        browser.choose_file("#outlines", &drawing).await;
        browser.click("form[action$=outlines] button").await;
        browser.wait_for_text("#sum", "2 boards").await;
        browser.click("button[formmethod=post]").await;
        browser.wait_for_text("h1", "How do the boards lie?").await;
        assert_eq!(browser.value("#outline-0").await, "0,0 1220,0 1220,200 0,200");
    })
    .await;
}

/// A drawing in no unit: a frame, two boards of one block, one of them mirrored, a clamp that is no
/// board, and a line of text.
pub(crate) fn framed_dxf() -> String {
    let polyline = |layer: &str, points: &[(f64, f64)]| {
        let points: String = points.iter().map(|(x, y)| format!("10\n{x}\n20\n{y}\n")).collect();
        format!("0\nLWPOLYLINE\n8\n{layer}\n70\n1\n{points}")
    };
    let box_of = |left: f64, low: f64, long: f64, high: f64| {
        [(left, low), (left + long, low), (left + long, low + high), (left, low + high)]
    };
    let board = polyline("0", &[(0.0, 0.0), (48.0, 0.0), (48.0, 7.0), (24.0, 9.0), (0.0, 7.0)]);
    let insert = |x: f64, y: f64, flip: f64| {
        format!("0\nINSERT\n8\nboards\n2\nBOARD\n10\n{x}\n20\n{y}\n42\n{flip}\n")
    };
    format!(
        "0\nSECTION\n2\nBLOCKS\n0\nBLOCK\n2\nBOARD\n10\n0\n20\n0\n{board}0\nENDBLK\n0\nENDSEC\n\
         0\nSECTION\n2\nENTITIES\n{}{}{}{}{}0\nENDSEC\n0\nEOF\n",
        polyline("0", &box_of(-6.0, -6.0, 60.0, 36.0)),
        insert(0.0, 0.0, 1.0),
        insert(0.0, 24.0, -1.0),
        polyline("0", &box_of(20.0, 11.0, 3.0, 2.0)),
        "0\nTEXT\n8\n0\n10\n0\n20\n0\n1\nTop\n",
    )
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_drawing_with_a_frame_and_blocks_is_looked_at_unticked_and_taken() {
    let app = app().await;
    let id = cast(&app, Kind::River, [1200.0, 600.0, 34.0]).await;
    let drawing = file("framed.dxf", framed_dxf().as_bytes());
    app.drive(move |browser| async move {
        browser.open(&format!("/casts/{}/files", id.0)).await;
        browser.choose_file("#outlines", &drawing).await;
        browser.click("form[action$=outlines] button").await;
        // The frame is left out by itself; the clamp counts as a board until it is.
        browser.wait_for_text("#sum", "3 boards").await;
        browser.wait_for_text("#left-out", "1 × TEXT on layer 0: not a line.").await;
        browser.click("button[formmethod=post]").await;
        browser.wait_for_text("#unit-refusal", "Say first which unit").await;
        browser.run("document.querySelector('#unit').value = 'in'").await;
        browser.run("document.querySelector('[name=role-3]').value = 'out'").await;
        browser.click("button[formmethod=post]").await;
        browser.wait_for_text("h1", "How do the boards lie?").await;
        let first = browser.value("#outline-0").await;
        assert!(first.contains("1219.2,"), "{first}");
        assert_eq!(
            browser.run("return document.querySelectorAll('[id^=outline-]').length").await,
            2
        );
        browser.assert_quiet().await;
    })
    .await;
}

/// Width and height of a PDF's first page, millimetres, and how many pages.
fn pages(pdf: &[u8]) -> (f64, f64, usize) {
    let text = String::from_utf8_lossy(pdf);
    let media = text.split("/MediaBox").nth(1).expect("a page");
    let inside = media.split(['[', ']']).nth(1).expect("its box");
    let sides: Vec<f64> = inside.split_whitespace().map(|v| v.parse().expect("points")).collect();
    let count = text.matches("/Type /Page\n").count() + text.matches("/Type /Page/").count();
    ((sides[2] - sides[0]) * 25.4 / 72.0, (sides[3] - sides[1]) * 25.4 / 72.0, count)
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn labels_and_cut_lists_are_printed_at_their_true_size() {
    let app = app().await;
    let tubes = cast(&app, Kind::Tubes, [75.0, 22.0, 22.0]).await;
    let river = cast(&app, Kind::River, [1200.0, 600.0, 34.0]).await;
    app.drive(move |browser| async move {
        browser.open(&format!("/casts/{}/labels", tubes.0)).await;
        browser.find(".label-sheet").await;
        let (w, h, count) = pages(&browser.print().await);
        assert!((w - 210.0).abs() < 0.5 && (h - 297.0).abs() < 0.5, "{w} × {h} mm");
        assert_eq!(count, 1, "one sheet, one page");
        // A CSS millimetre is a millimetre on such a page: the line has fifty.
        let line = browser
            .run("return document.querySelector('.check-line').getBoundingClientRect().width / 96 * 25.4")
            .await;
        assert!((line.as_f64().unwrap() - 50.0).abs() < 0.5, "{line}");
        browser.open(&format!("/casts/{}/cut-list", river.0)).await;
        browser.wait_for_text("h1", "cut list").await;
        // On the paper that is in the printer; this one has letter.
        let (w, h, count) = pages(&browser.print().await);
        assert!((w - 215.9).abs() < 0.5 && (h - 279.4).abs() < 0.5, "{w} × {h} mm");
        assert_eq!(count, 1);
    })
    .await;
}
