//! Drawings that other programs wrote, read and compared with what they hold; the table of them
//! stands in docs/formats.md.

use std::fmt::Write as _;
use std::path::{Path, PathBuf};

use fondant_files::drawing::{Drawing, Options};
use fondant_files::reading::{Answer, Asked, Format};
use fondant_shapes::geometry::{faults, signed_area_m2};

/// Curves lie within this of their chords, mm: what an outline of a length may be off by.
const FLATTENED_MM: f64 = 0.05;

fn corpus() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/corpus")
}

/// A drawing of the corpus, and what it holds.
struct Case {
    file: String,
    outlines: usize,
    area_mm2: f64,
}

fn cases() -> Vec<Case> {
    let text = std::fs::read_to_string(corpus().join("cases.csv")).expect("the list of cases");
    let case = |line: &str| {
        let mut parts = line.split(',');
        let mut next = || parts.next().expect("three columns");
        let file = next().to_owned();
        let outlines = next().parse().expect("a count");
        Case { file, outlines, area_mm2: next().parse().expect("an area") }
    };
    text.lines().skip(1).map(case).collect()
}

/// Area inside an odd number of the outlines, mm².
fn net(drawing: &Drawing) -> f64 {
    let mut sum = 0.0;
    for closed in &drawing.rings {
        let probe = closed.ring[0].towards(closed.ring[1], 0.5);
        let others = drawing.rings.iter().filter(|other| *other != closed);
        let depth = others.filter(|other| faults::contains(&other.ring, probe)).count();
        let sign = if depth % 2 == 0 { 1.0 } else { -1.0 };
        sum += sign * signed_area_m2(&closed.ring).abs() * 1e6;
    }
    sum
}

fn around(drawing: &Drawing) -> f64 {
    let rings = drawing.rings.iter().map(|closed| &closed.ring);
    let edges = rings.flat_map(|ring| {
        (0..ring.len()).map(|i| ring[(i + 1) % ring.len()].minus(ring[i]).norm_m() * 1e3)
    });
    edges.sum()
}

/// A row of the table; panics where the drawing holds something else.
fn row(case: &Case) -> String {
    let Case { file, outlines, area_mm2 } = case;
    let bytes = std::fs::read(corpus().join(file)).expect("the drawing");
    let format = if file.ends_with(".dxf") { Format::Dxf } else { Format::Svg };
    let read = Asked::Drawing(format, Options::default()).read(&bytes);
    let Ok(Answer::Drawing(drawing)) = read else { panic!("{file}: {read:?}") };
    assert_eq!(drawing.rings.len(), *outlines, "{file}: {drawing:?}");
    let found = net(&drawing);
    // A minus before nothing would come and go.
    let off = ((found - area_mm2) * 100.0).round() / 100.0 + 0.0;
    let most = FLATTENED_MM * around(&drawing) + 1e-3;
    assert!(off.abs() < most, "{file}: {found} mm² for {area_mm2}");
    let unit = match drawing.said {
        Some(unit) => format!("{} mm", (unit.mm() * 1e4).round() / 1e4),
        None => "asked".to_owned(),
    };
    let left: Vec<String> =
        drawing
            .left_out
            .iter()
            .map(|left| format!("{} × {} ({:?})", left.count, left.what, left.why))
            .chain((!drawing.open.is_empty()).then(|| {
                format!("{} open by {:.2} mm", drawing.open.len(), drawing.open[0].gap.mm())
            }))
            .collect();
    let left = if left.is_empty() { "nothing".to_owned() } else { left.join(", ") };
    format!("| {file} | {outlines} | {area_mm2} | {off:+.2} | {unit} | {left} |")
}

#[test]
fn drawings_of_other_programs_hold_what_they_are_read_to_hold() {
    let mut table = String::from(
        "| file | outlines | area, mm² | off by, mm² | a unit is | not read |\n|---|---|---|---|---|---|\n",
    );
    for case in cases() {
        let _ = writeln!(table, "{}", row(&case));
    }
    let (begin, end) = ("<!-- corpus -->\n", "<!-- end of corpus -->");
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/formats.md");
    let docs = std::fs::read_to_string(&path).expect("docs/formats.md");
    let (before, rest) = docs.split_once(begin).expect("the mark before the table");
    let (written, after) = rest.split_once(end).expect("the mark after the table");
    if std::env::var_os("FONDANT_WRITE_TABLES").is_some() {
        std::fs::write(&path, format!("{before}{begin}{table}{end}{after}")).expect("written");
    } else {
        assert_eq!(written, table, "docs/formats.md is out of date: ./run formats writes it again");
    }
}
