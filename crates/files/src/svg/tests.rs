use super::*;
use crate::drawing::Why;
use crate::drawing::sheet::{Part, Sheet};
use fondant_quantities::Length;
use fondant_shapes::geometry::{Outline, Ring, signed_area_m2};
use proptest::prelude::*;

fn read_text(text: &str) -> Result<Drawing, FileError> {
    read(text.as_bytes(), &Options::default())
}

/// Area of a ring by its place, mm².
fn area(drawing: &Drawing, ring: usize) -> f64 {
    signed_area_m2(&drawing.rings[ring].ring).abs() * 1e6
}

fn svg(head: &str, body: &str) -> String {
    format!("<svg xmlns=\"http://www.w3.org/2000/svg\" {head}>{body}</svg>")
}

#[test]
fn units_view_boxes_and_transforms_are_honoured() {
    let boxed = svg(
        "width=\"200mm\" height=\"100mm\" viewBox=\"0 0 20 10\"",
        "<g transform=\"translate(2 1) scale(2)\"><rect x=\"1\" y=\"1\" width=\"5\" height=\"2\"/></g>",
    );
    let found = read_text(&boxed).unwrap();
    // 5 × 2 units, doubled, ten millimetres each.
    assert!((area(&found, 0) - 4000.0).abs() < 1e-2, "{found:?}");
    assert!((found.bounds().min.x_m - 0.04).abs() < 1e-6);
    assert_eq!(found.said, Some(Length::from_mm(10.0)));
    let inches = svg("width=\"4in\" height=\"4in\"", "<rect width=\"96\" height=\"96\"/>");
    assert!((area(&read_text(&inches).unwrap(), 0) - 645.16).abs() < 1e-3);
}

#[test]
fn circles_are_flattened_closely() {
    let circle = svg(
        "width=\"300mm\" height=\"300mm\" viewBox=\"0 0 300 300\"",
        "<circle cx=\"150\" cy=\"150\" r=\"100\"/>",
    );
    let area = area(&read_text(&circle).unwrap(), 0);
    assert!((area / (std::f64::consts::PI * 1e4) - 1.0).abs() < 1.5e-3, "{area}");
}

#[test]
fn what_is_no_drawing_is_refused_with_its_reason() {
    assert_eq!(read_text(""), Err(FileError::Empty));
    assert_eq!(read_text("hello"), Err(FileError::NotThis { wanted: "SVG".into() }));
    let odd = read(&[0xff, 0xfe, 0x00], &Options::default());
    assert_eq!(odd, Err(FileError::NotThis { wanted: "SVG".into() }));
    assert!(matches!(read_text("<svg"), Err(FileError::Broken(_))));
    let large = vec![b' '; SVG_LIMIT + 1];
    assert!(matches!(read(&large, &Options::default()), Err(FileError::TooLarge { .. })));
}

#[test]
fn bombs_are_not_set_off() {
    let mut entities = format!("<!ENTITY e0 \"{}\">", "x".repeat(100));
    for level in 1..20 {
        entities += &format!("<!ENTITY e{level} \"{}\">", format!("&e{};", level - 1).repeat(10));
    }
    let bomb = format!("<!DOCTYPE svg [{entities}]>{}", svg("", "<text>&e19;</text>"));
    assert!(matches!(read_text(&bomb), Err(FileError::Broken(_))), "entities");
    let uses = svg("", &"<use href=\"#a\"/>".repeat(30_000));
    assert!(matches!(read_text(&uses), Err(FileError::TooMuch(_))));
    let deep = format!("{}{}", "<g>".repeat(5000), "</g>".repeat(5000));
    assert!(matches!(read_text(&svg("", &deep)), Err(FileError::TooMuch(_))));
}

#[test]
fn what_a_file_does_not_say_is_known_and_asked() {
    let square = "<rect width=\"10\" height=\"10\"/>";
    let said = |head: &str| read_text(&svg(head, square)).unwrap().said.map(|unit| unit.mm());
    let near = |a: Option<f64>, mm: f64| a.is_some_and(|a| (a - mm).abs() < 1e-9);
    assert_eq!(said("viewBox=\"0 0 100 50\""), None);
    assert_eq!(said("width=\"100%\" height=\"100%\" viewBox=\"0 0 100 50\""), None);
    assert_eq!(said("width=\"100\" height=\"50\" viewBox=\"0 0 100 50\""), None);
    assert_eq!(said(""), None);
    assert!(near(said("width=\"100mm\" viewBox=\"0 0 50 50\""), 2.0));
    assert!(near(said("width=\"10cm\" height=\"20cm\" viewBox=\"0 0 100 100\""), 1.0));
    assert!(near(said("width=\"96px\" height=\"96px\""), 25.4 / 96.0));
    // The maker's word is the length of a user unit, whatever the file says.
    let heads =
        ["", "viewBox=\"0 0 100 50\"", "width=\"7in\" height=\"9in\" viewBox=\"3 3 100 50\""];
    for head in heads {
        let options = Options { unit: Some(Length::from_mm(25.4)), ..Options::default() };
        let found = read(svg(head, square).as_bytes(), &options).unwrap();
        assert!((area(&found, 0) - 254.0 * 254.0).abs() < 0.1, "{head}: {}", area(&found, 0));
    }
}

const SHEET: &str = "width=\"200mm\" height=\"100mm\" viewBox=\"0 0 200 100\"";

#[test]
fn layers_have_names_and_may_be_hidden() {
    let body = "<g id=\"l1\" g:groupmode=\"layer\" g:label=\"Top face\" xmlns:g=\"urn:g\">\
                <rect id=\"oak\" width=\"50\" height=\"20\"/></g>\
                <g id=\"l2\" g:groupmode=\"layer\" g:label=\"Guides\" xmlns:g=\"urn:g\" style=\"display:none\">\
                <rect x=\"60\" width=\"9\" height=\"9\"/></g><text>hello</text>";
    let file = svg(SHEET, body);
    let found = read_text(&file).unwrap();
    let names: Vec<(&str, bool)> =
        found.layers.iter().map(|l| (l.name.as_str(), l.is_read)).collect();
    assert_eq!(names, [("", true), ("Top face", true), ("Guides", false)]);
    assert_eq!((found.rings.len(), found.rings[0].name.as_deref()), (1, Some("oak")));
    let left: Vec<(&str, &str, Why)> =
        found.left_out.iter().map(|l| (&*l.what, &*l.layer, l.why)).collect();
    assert_eq!(left, [("text", "", Why::NoLine), ("rect", "Guides", Why::Hidden)]);
    let options = Options { layers: Some(vec![2]), ..Options::default() };
    let other = read(file.as_bytes(), &options).unwrap();
    assert_eq!((other.rings.len(), other.rings[0].layer), (1, 2));
    assert!(other.left_out.iter().any(|l| l.why == Why::Unticked && l.layer == "Top face"));
}

#[test]
fn transforms_with_units_move_what_they_move() {
    for transform in [
        "transform=\"translate(20px, 10px) rotate(90deg)\"",
        "style=\"transform: translate(20px, 10px) rotate(0.25turn)\"",
        "class=\"a\"",
    ] {
        let rules =
            "<style>.a { transform: translate(20px, 10px) rotate(100grad); fill: red }</style>";
        let body = format!("{rules}<rect {transform} width=\"50\" height=\"20\"/>");
        let bounds = read_text(&svg(SHEET, &body)).unwrap().bounds();
        let found = [bounds.min.x_m, bounds.min.y_m, bounds.max.x_m, bounds.max.y_m];
        for (found, expected) in found.into_iter().zip([0.0, 0.01, 0.02, 0.06]) {
            assert!((found - expected).abs() < 1e-6, "{transform}: {bounds:?}");
        }
    }
}

#[test]
fn clip_paths_cut_and_markers_are_no_boards() {
    let body = "<defs><clipPath id=\"c\" transform=\"translate(10 0)\"><rect width=\"30\" height=\"90\"/></clipPath>\
                <marker id=\"m\" markerWidth=\"9\" markerHeight=\"9\"><circle r=\"3\"/></marker></defs>\
                <g transform=\"scale(2)\" clip-path=\"url(#c)\"><rect width=\"50\" height=\"20\"/>\
                <rect id=\"away\" x=\"60\" width=\"9\" height=\"9\"/></g>\
                <path style=\"marker-end:url(#m)\" fill=\"none\" stroke=\"#000\" d=\"M0 60H90V90\"/>";
    let found = read_text(&svg(SHEET, body)).unwrap();
    // 30 of 50 are left, twice as large.
    assert!((area(&found, 0) - 60.0 * 40.0).abs() < 1e-2, "{found:?}");
    assert_eq!((found.rings.len(), found.open.len()), (1, 1));
    assert_eq!((found.left_out[0].why, found.left_out[0].count), (Why::ClippedAway, 1));
}

/// A clip path with a hole: by either rule of filling, of an area and of an open line.
#[test]
fn a_clip_path_with_a_hole_leaves_the_hole_out() {
    let way = "M0 0H100V60H0Z M20 20V40H60V20Z";
    for rule in ["clip-rule=\"evenodd\"", ""] {
        let body = format!(
            "<defs><clipPath id=\"c\"><path {rule} d=\"{way}\"/></clipPath></defs>\
             <g clip-path=\"url(#c)\"><rect width=\"90\" height=\"50\"/>\
             <path id=\"gone\" fill=\"none\" stroke=\"#000\" d=\"M25 25L55 35\"/></g>"
        );
        let found = read_text(&svg(SHEET, &body)).unwrap();
        let mut areas: Vec<f64> = (0..found.rings.len()).map(|i| area(&found, i)).collect();
        areas.sort_by(f64::total_cmp);
        assert_eq!(areas.len(), 2, "{rule}: {found:?}");
        assert!((areas[0] - 800.0).abs() < 1e-2 && (areas[1] - 4500.0).abs() < 1e-2, "{areas:?}");
        assert_eq!((found.open.len(), found.left_out[0].why), (0, Why::ClippedAway));
    }
}

/// Hidden by a rule of a style sheet: said so, and a layer of it can be ticked.
#[test]
fn what_a_style_sheet_hides_is_hidden_and_can_be_ticked() {
    let rules = "<style>.off, g.guides > rect.deep { display: none } #veiled { visibility: hidden }\
                 rect.seen { display: inline !important }</style>";
    let body = format!(
        "{rules}<g id=\"boards\"><rect width=\"50\" height=\"20\"/><rect class=\"off\" width=\"9\" height=\"9\"/>\
         <rect id=\"veiled\" width=\"8\" height=\"8\"/>\
         <rect class=\"seen off\" style=\"display:none\" x=\"80\" width=\"7\" height=\"7\"/></g>\
         <g id=\"spare\" class=\"off\"><rect x=\"60\" width=\"9\" height=\"9\"/></g>"
    );
    let file = svg(SHEET, &body);
    let found = read_text(&file).unwrap();
    let layers: Vec<(&str, bool)> =
        found.layers.iter().map(|l| (l.name.as_str(), l.is_read)).collect();
    assert_eq!(layers, [("", true), ("boards", true), ("spare", false)]);
    assert_eq!(found.rings.len(), 2, "{found:?}");
    assert!(found.left_out.iter().all(|left| left.why == Why::Hidden), "{:?}", found.left_out);
    assert_eq!(found.left_out.iter().map(|left| left.count).sum::<usize>(), 3);
    let options = Options { layers: Some(vec![2]), ..Options::default() };
    let ticked = read(file.as_bytes(), &options).unwrap();
    assert!((area(&ticked, 0) - 81.0).abs() < 1e-2, "{ticked:?}");
}

#[test]
fn declarations_of_drawing_programs_and_other_encodings_are_read() {
    let body = "<rect id=\"Nu\u{df}baum\" width=\"50\" height=\"20\"/>";
    let plain = svg(&format!("xmlns:x=\"&ns_x;\" {SHEET}"), body);
    let doctype = "<!DOCTYPE svg [<!ENTITY ns_x \"urn:x\">]>";
    let latin: Vec<u8> = format!("<?xml version=\"1.0\" encoding=\"ISO-8859-1\"?>{doctype}{plain}")
        .chars()
        .map(|c| c as u32 as u8)
        .collect();
    let wide = format!("\u{feff}<?xml version=\"1.0\" encoding=\"UTF-16\"?>{doctype}{plain}");
    let wide: Vec<u8> = wide.encode_utf16().flat_map(u16::to_be_bytes).collect();
    for file in [latin, wide] {
        let found = read(&file, &Options::default()).unwrap();
        assert_eq!(found.rings[0].name.as_deref(), Some("Nußbaum"));
        assert!((area(&found, 0) - 1000.0).abs() < 1e-2);
    }
}

#[test]
fn a_filled_area_is_closed_and_a_line_is_not() {
    let filled = "<path d=\"M0 0L10 0L10 10\"/>";
    assert_eq!(read_text(&svg(SHEET, filled)).unwrap().rings.len(), 1);
    let line = "<path fill=\"none\" stroke=\"#000\" d=\"M0 0L10 0L10 10\"/><path fill=\"none\" d=\"M0 0H9V9Z\"/>";
    let found = read_text(&svg(SHEET, line)).unwrap();
    assert_eq!((found.rings.len(), found.open.len()), (0, 1));
    assert_eq!(found.left_out[0].why, Why::Unpainted);
}

proptest! {
    #[test]
    fn what_is_written_is_read_again(
        radii in proptest::collection::vec(20.0f64..200.0, 3..60), hole in 2.0f64..8.0,
    ) {
        let n = radii.len() as f64;
        let ring = |scale: &dyn Fn(f64) -> f64| -> Ring {
            radii
                .iter()
                .enumerate()
                .map(|(i, r)| {
                    let (sin, cos) = (std::f64::consts::TAU * i as f64 / n).sin_cos();
                    Point::from_mm(300.0 + scale(*r) * cos, 250.0 + scale(*r) * sin)
                })
                .collect()
        };
        let outline =
            Outline { outer: ring(&|r| r), holes: vec![ring(&|_| hole)] }.cleaned();
        let part = Part {
            name: "board <1>".into(),
            layer: "a & b".into(),
            outline: outline.clone(),
        };
        let form = (Length::from_mm(600.0), Length::from_mm(500.0));
        let text = write(&Sheet { title: "a & b".into(), form, parts: vec![part] });
        let again = read_text(&text).unwrap();
        prop_assert_eq!(again.rings.len(), 2);
        prop_assert_eq!(&again.layers[again.rings[0].layer].name, "a & b");
        let net = (area(&again, 0) - area(&again, 1)) * 1e-6;
        // usvg keeps single precision: a hair in a thousand.
        prop_assert!((net / outline.area().m2() - 1.0).abs() < 1e-5);
    }

    #[test]
    fn no_text_makes_it_panic(text in "<svg[ -~]{0,200}") {
        let _ = read_text(&text);
    }
}

/// A slip of the finger, forty digits long, is no curve of as many chords.
#[test]
fn a_curve_that_reaches_to_the_moon_is_refused_at_once() {
    for d in [
        "M0 0H122V20Q61 26 44444444444444444444444444444444440 20Z",
        "M0 0C1 1 1e38 1 5 5Z",
        "M0 0A1e20 1e20 0 0 1 1e9 5Z",
        "M-99999999999 0L5 5L0 9Z",
    ] {
        let refused = read_text(&svg("", &format!("<path d=\"{d}\"/>")));
        assert!(matches!(refused, Err(FileError::TooMuch(_))), "{d}: {refused:?}");
    }
}
