//! Files that would harm a server which read them itself: each is answered with a sentence by a
//! process of its own, and what is sound beside them is read.

use std::fmt::Write;
use std::process::Command;
use std::sync::Arc;

use fondant_app::{App, Readers};
use fondant_files::drawing::{Drawing, Options};
use fondant_files::logs::Scale;
use fondant_files::logs::cup::CupOptions;
use fondant_files::reading::Format;
use fondant_files::{FileError, records};
use fondant_materials::resin::ResinClass;
use fondant_materials::resin::shipped::generic;
use fondant_shapes::geometry::signed_area_m2;
use fondant_testkit::{TestApp, documents};

const SOUND: &str = r#"<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="100mm"
    viewBox="0 0 200 100"><rect width="120" height="80"/></svg>"#;

fn svg(inside: &str) -> Vec<u8> {
    format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\" \
         width=\"200mm\" height=\"100mm\" viewBox=\"0 0 200 100\">{inside}\
         <rect width=\"120\" height=\"80\"/></svg>"
    )
    .into_bytes()
}

fn image(href: &str) -> Vec<u8> {
    svg(&format!("<image width=\"10\" height=\"10\" href=\"{href}\"/>"))
}

/// Groups deeper than any stack, between comments that look like their ends.
fn fooled_depth() -> Vec<u8> {
    svg(&format!("{}{}", "<g><!--</g>-->".repeat(20_000), "</g>".repeat(20_000)))
}

/// Elements of a kind, each by the next.
fn chained(element: &str, by: &str, count: usize) -> Vec<u8> {
    let mut defs = String::from("<defs>");
    for index in 0..count {
        let _ = write!(
            defs,
            "<{element} id=\"c{index}\" {by}=\"url(#c{})\" width=\"9\" height=\"9\">\
             <rect width=\"9\" height=\"9\" {by}=\"url(#c{})\"/></{element}>",
            index + 1,
            index + 1
        );
    }
    let _ = write!(defs, "</defs><rect width=\"5\" height=\"5\" {by}=\"url(#c0)\"/>");
    svg(&defs)
}

/// A marker of many points on each point of a path of many.
fn markers() -> Vec<u8> {
    let path: String = (0..6000).map(|i| format!("L{} {}", i % 200, i % 97)).collect();
    svg(&format!(
        "<defs><marker id=\"m\" markerWidth=\"9\" markerHeight=\"9\"><path d=\"M0 0{path}\"/></marker></defs>\
         <path fill=\"none\" stroke=\"#000\" style=\"marker:url(#m)\" d=\"M0 0{path}\"/>"
    ))
}

/// Rules of style, each looked at for each element.
fn styles() -> Vec<u8> {
    let rules: String = (0..1000).map(|i| format!(".c{i}{{fill:red}}")).collect();
    let rects: String =
        (0..1000).map(|i| format!("<rect class=\"c{i}\" width=\"1\" height=\"1\"/>")).collect();
    svg(&format!("<style>{rules}</style>{rects}"))
}

async fn app() -> (TestApp, App) {
    let test = TestApp::new(&documents::workshop(8, 18)).await;
    let program = Readers::Program(env!("CARGO_BIN_EXE_fondant").into());
    let app = test.app.clone().with_readers(program);
    (test, app)
}

async fn read(
    app: &App,
    format: Format,
    file: Vec<u8>,
) -> Result<Result<Drawing, FileError>, fondant_app::AppError> {
    app.read_drawing(format, Options::default(), file.into()).await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn nothing_in_a_drawing_hangs_or_ends_the_server() {
    let (_test, app) = app().await;
    let folder = tempfile();
    let pipe = folder.join("pipe.png");
    let made = Command::new("mkfifo").arg(&pipe).status().expect("mkfifo runs");
    assert!(made.success());
    let hostile = [
        ("an endless device", image("/dev/zero")),
        ("a pipe that nobody writes", image(&pipe.display().to_string())),
        ("a file of the server", image("/etc/passwd")),
        ("comments that end groups", fooled_depth()),
        ("patterns", chained("pattern", "fill", 500)),
        ("clip paths", chained("clipPath", "clip-path", 2000)),
        // The time doubles with each: of twenty, it would be stopped by its time as the clip paths are.
        ("masks", chained("mask", "mask", 12)),
        ("markers", markers()),
        ("styles", styles()),
    ];
    let reading = hostile.map(|(what, file)| {
        let app = app.clone();
        (what, tokio::spawn(async move { read(&app, Format::Svg, file).await }))
    });
    for (what, one) in reading {
        let answered = one.await.expect("no panic");
        match answered.unwrap_or_else(|error| panic!("{what}: {error}")) {
            // What was harmless after all has the one board in it, and nothing of other files.
            Ok(drawing) => {
                let areas = drawing.rings.iter().map(|closed| signed_area_m2(&closed.ring).abs());
                let largest = areas.fold(0.0, f64::max);
                assert!((largest - 0.120 * 0.080).abs() < 1e-3, "{what}: {largest}");
            }
            Err(error) => {
                assert!(
                    matches!(error, FileError::TooMuch(_) | FileError::Broken(_)),
                    "{what}: {error}"
                );
            }
        }
        let sound = read(&app, Format::Svg, SOUND.into()).await.expect("a reader");
        assert_eq!(sound.expect("a drawing").rings.len(), 1, "after {what}");
    }
    std::fs::remove_dir_all(folder).expect("it was made here");
}

fn tempfile() -> std::path::PathBuf {
    let folder = std::env::temp_dir().join(format!("fondant-reading-{}", std::process::id()));
    std::fs::create_dir_all(&folder).expect("a folder");
    folder
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_process_reads_what_this_one_would() {
    let (test, app) = app().await;
    let kinds = [(Format::Svg, SOUND), (Format::Dxf, "0\nSECTION\n"), (Format::Svg, "hello")];
    for (kind, text) in kinds {
        let there = read(&app, kind, text.into()).await.expect("a reader");
        let here = read(&test.app, kind, text.into()).await.expect("a reader");
        assert_eq!(there, here, "{text}");
    }
    let open = "solid x\nfacet normal 0 0 0\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\n\
                endloop\nendfacet\nendsolid x\n";
    let there = app.read_solid(Arc::new(open.into())).await.expect("a reader");
    assert_eq!(there, test.app.read_solid(Arc::new(open.into())).await.expect("a reader"));
    assert!(matches!(there, Err(FileError::Mesh(_))), "{there:?}");
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn logs_casts_and_resins_are_read_by_a_process_too() {
    let (test, app) = app().await;
    let resin = generic(ResinClass::Coating);
    for text in [records::resin::write(&resin).expect("JSON"), "{\"id\":3}".into()] {
        let there = app.read_resin(text.clone().into()).await.expect("a reader");
        assert_eq!(there, test.app.read_resin(text.into()).await.expect("a reader"));
    }
    let cast =
        records::cast::write(&documents::river_top("Travelling"), vec![resin]).expect("JSON");
    // Deeper than any parser goes, and a list that breaks off.
    for text in [cast, "[".repeat(100_000), "{\"format\":\"fondant-cast\"".into()] {
        let there = app.read_cast(text.clone().into()).await.expect("a reader");
        assert_eq!(there, test.app.read_cast(text.into()).await.expect("a reader"));
    }
    let options = CupOptions { scale: Some(Scale::Fahrenheit), ..CupOptions::default() };
    for text in ["0 68\n10 104\n20 98.6", "0 68\nlots"] {
        let there = app.read_cup(options, text.into()).await.expect("a reader");
        assert_eq!(there, test.app.read_cup(options, text.into()).await.expect("a reader"));
    }
}

/// More files at once than wait for their turn: those are told to come again, and the others read.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn many_files_at_once_take_turns() {
    let (_test, app) = app().await;
    let all = (0..60).map(|_| {
        let app = app.clone();
        tokio::spawn(async move { read(&app, Format::Svg, SOUND.into()).await.is_ok() })
    });
    let mut read = 0;
    for one in all.collect::<Vec<_>>() {
        read += usize::from(one.await.expect("no panic"));
    }
    assert!((26..=60).contains(&read), "{read}");
}
