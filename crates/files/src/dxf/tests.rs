//! Drawings as programs write them, broken ones, and what is written and read again.

use super::*;
use crate::FileError;
use crate::drawing::sheet::{Part, Sheet};
use crate::drawing::{Drawing, Options, Why};
use fondant_quantities::Length;
use fondant_shapes::geometry::{Outline, Point, Ring, signed_area_m2};
use proptest::prelude::*;
use std::f64::consts::PI;

fn drawing(header: &str, entities: &str) -> String {
    format!("{header}0\nSECTION\n2\nENTITIES\n{entities}0\nENDSEC\n0\nEOF\n")
}

fn read_text(text: &str) -> Result<Drawing, FileError> {
    read(text.as_bytes(), &Options::default())
}

/// Areas of the outlines together, mm².
fn sum(drawing: &Drawing) -> f64 {
    drawing.rings.iter().map(|closed| signed_area_m2(&closed.ring).abs() * 1e6).sum()
}

fn area(text: &str) -> f64 {
    sum(&read_text(text).unwrap())
}

#[test]
fn lines_arcs_circles_and_ellipses_close_to_their_areas() {
    let stadium = drawing(
        "",
        "0\nLINE\n10\n0\n20\n0\n11\n100\n21\n0\n0\nARC\n10\n100\n20\n20\n40\n20\n50\n270\n51\n90\n\
         0\nLINE\n10\n100\n20\n40\n11\n0\n21\n40\n0\nARC\n10\n0\n20\n20\n40\n20\n50\n90\n51\n270\n",
    );
    assert!((area(&stadium) / (4000.0 + PI * 400.0) - 1.0).abs() < 2e-3, "{}", area(&stadium));
    let circle = drawing("", "0\nCIRCLE\n10\n0\n20\n0\n40\n50\n");
    assert!((area(&circle) / (PI * 2500.0) - 1.0).abs() < 2e-3);
    let ellipse =
        drawing("", "0\nELLIPSE\n10\n0\n20\n0\n11\n60\n21\n0\n40\n0.5\n41\n0\n42\n6.283185307\n");
    assert!((area(&ellipse) / (PI * 1800.0) - 1.0).abs() < 3e-3, "{}", area(&ellipse));
}

#[test]
fn bulges_and_splines_bend() {
    // Two half circles on a chord of 100.
    let disc =
        drawing("", "0\nLWPOLYLINE\n90\n2\n70\n1\n10\n0\n20\n0\n42\n1\n10\n100\n20\n0\n42\n1\n");
    assert!((area(&disc) / (PI * 2500.0) - 1.0).abs() < 2e-3, "{}", area(&disc));
    // A quarter circle as a rational quadratic, closed with two lines.
    let w = 0.5f64.sqrt();
    let quarter = drawing(
        "",
        &format!(
            "0\nSPLINE\n71\n2\n40\n0\n40\n0\n40\n0\n40\n1\n40\n1\n40\n1\n41\n1\n41\n{w}\n41\n1\n\
             10\n100\n20\n0\n10\n100\n20\n100\n10\n0\n20\n100\n\
             0\nLINE\n10\n0\n20\n100\n11\n0\n21\n0\n0\nLINE\n10\n0\n20\n0\n11\n100\n21\n0\n"
        ),
    );
    assert!((area(&quarter) / (PI * 2500.0) - 1.0).abs() < 2e-3, "{}", area(&quarter));
    let old = drawing(
        "",
        "0\nPOLYLINE\n70\n1\n0\nVERTEX\n10\n0\n20\n0\n0\nVERTEX\n10\n100\n20\n0\n0\nVERTEX\n10\n0\n20\n50\n0\nSEQEND\n",
    );
    assert!((area(&old) - 2500.0).abs() < 1e-6);
}

#[test]
fn the_header_names_the_unit() {
    let inches = "0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n1\n0\nENDSEC\n";
    let square = "0\nLWPOLYLINE\n70\n1\n10\n0\n20\n0\n10\n1\n20\n0\n10\n1\n20\n1\n10\n0\n20\n1\n";
    assert!((area(&drawing(inches, square)) - 645.16).abs() < 1e-6);
    let survey_feet = inches.replace("70\n1", "70\n21");
    let side_mm = area(&drawing(&survey_feet, square)).sqrt();
    assert!((side_mm - 304.800_609_6).abs() < 1e-6, "{side_mm}");
    // Nothing for a bench is drawn in parsecs: it is asked for.
    let parsecs = inches.replace("70\n1", "70\n19");
    assert_eq!(read_text(&drawing(&parsecs, square)).unwrap().said, None);
    // Where it names none, that is known, and the maker's word counts.
    let silent = drawing("", square);
    assert_eq!(read_text(&silent).unwrap().said, None);
    let unit = Some(Length::from_mm(10.0));
    let told = read(silent.as_bytes(), &Options { unit, ..Options::default() }).unwrap();
    assert!((sum(&told) - 100.0).abs() < 1e-9);
}

#[test]
fn what_is_broken_is_refused_at_its_line() {
    assert_eq!(read_text(""), Err(FileError::Empty));
    assert_eq!(read_text("hello\nworld\n"), Err(FileError::NotThis { wanted: "DXF".into() }));
    for odd in ["NaN", "inf", "1e400", "x"] {
        let text = drawing("", &format!("0\nLINE\n10\n{odd}\n20\n0\n11\n1\n21\n1\n"));
        assert!(matches!(read_text(&text), Err(FileError::BrokenLine { line: 8, .. })), "{odd}");
    }
    assert!(matches!(read_text("0\nSECTION\n2\n"), Err(FileError::BrokenLine { .. })));
    // The knots of a spline never decrease.
    let knots = "0\nSPLINE\n71\n1\n40\n1\n40\n0\n40\n1\n40\n0\n10\n0\n20\n0\n10\n1\n20\n1\n";
    let backwards = read_text(&drawing("", knots)).unwrap();
    assert!(backwards.rings.is_empty() && backwards.open.is_empty(), "{backwards:?}");
    // Codes out of order make no panic, only nothing.
    let orphan = drawing("", "0\nLWPOLYLINE\n20\n5\n42\n1\n0\nVERTEX\n10\n1\n0\nSPLINE\n40\n1\n");
    assert!(read_text(&orphan).unwrap().rings.is_empty());
}

const SQUARE: &str = "10\n0\n20\n0\n10\n10\n20\n0\n10\n10\n20\n10\n10\n0\n20\n10\n";

fn square(layer: &str, more: &str) -> String {
    format!("0\nLWPOLYLINE\n8\n{layer}\n{more}70\n1\n{SQUARE}")
}

fn tables(layers: &[(&str, i32, i32)]) -> String {
    let rows: String = layers
        .iter()
        .map(|(name, flags, colour)| format!("0\nLAYER\n2\n{name}\n70\n{flags}\n62\n{colour}\n"))
        .collect();
    format!("0\nSECTION\n2\nTABLES\n0\nTABLE\n2\nLAYER\n{rows}0\nENDTAB\n0\nENDSEC\n")
}

#[test]
fn what_is_not_seen_is_left_out_with_its_reason() {
    let head = tables(&[("boards", 0, 7), ("off", 0, -3), ("frozen", 1, 3)]);
    let apart = |by: i32| SQUARE.replace("10\n0\n", &format!("10\n{}\n", 100 * by));
    let body = [
        square("boards", ""),
        square("off", ""),
        square("frozen", ""),
        square("Defpoints", ""),
        square("boards", "60\n1\n"),
        square("boards", "67\n1\n"),
        square("boards", "210\n1\n220\n0\n230\n0\n"),
        "0\nTEXT\n8\nboards\n10\n0\n20\n0\n1\nhello\n".to_owned(),
    ];
    let text = drawing(&head, &body.concat());
    let found = read_text(&text).unwrap();
    assert_eq!((found.rings.len(), found.rings[0].times), (1, 1), "{found:?} {}", apart(1));
    let reasons: Vec<(Why, &str)> =
        found.left_out.iter().map(|left| (left.why, left.what.as_str())).collect();
    let line = "LWPOLYLINE";
    let expected = [
        (Why::NoLine, "TEXT"),
        (Why::LayerOff, line),
        (Why::LayerFrozen, line),
        (Why::NeverPlotted, line),
        (Why::Hidden, line),
        (Why::OnLayout, line),
        (Why::Tilted, line),
    ];
    assert_eq!(reasons, expected);
    // The maker may take another layer instead.
    let off = found.layers.iter().position(|layer| layer.name == "off");
    let options = Options { layers: off.map(|place| vec![place]), ..Options::default() };
    let other = read(text.as_bytes(), &options).unwrap();
    assert_eq!(other.layers[other.rings[0].layer].name, "off");
    assert!(other.left_out.iter().any(|left| left.why == Why::Unticked && left.count == 1));
}

fn blocks(body: &str) -> String {
    format!("0\nSECTION\n2\nBLOCKS\n{body}0\nENDSEC\n")
}

#[test]
fn blocks_are_placed_with_scale_turn_array_and_nesting() {
    let leaf = format!("0\nBLOCK\n2\nLeaf\n10\n5\n20\n5\n{}0\nENDBLK\n", square("0", ""));
    let tree =
        "0\nBLOCK\n2\nTree\n10\n0\n20\n0\n0\nINSERT\n2\nleaf\n41\n2\n42\n-3\n50\n90\n0\nENDBLK\n";
    let insert = "0\nINSERT\n8\nboards\n2\nTREE\n10\n100\n20\n50\n70\n3\n71\n2\n44\n80\n45\n90\n";
    let found = read_text(&drawing(&blocks(&format!("{leaf}{tree}")), insert)).unwrap();
    assert_eq!(found.rings.len(), 6);
    assert!((sum(&found) - 6.0 * 100.0 * 6.0).abs() < 1e-6, "{}", sum(&found));
    // About its base point in the middle, turned by a quarter: 30 wide and 20 high.
    let bounds = found.bounds();
    let size = bounds.max.minus(bounds.min);
    assert!((size.x_m - 0.190).abs() < 1e-9 && (size.y_m - 0.110).abs() < 1e-9, "{size:?}");
    assert_eq!(found.layers[found.rings[0].layer].name, "boards");
    // A block within itself, and one that is not there.
    let looped = "0\nBLOCK\n2\nA\n0\nINSERT\n2\nA\n0\nINSERT\n2\nB\n0\nENDBLK\n";
    let found = read_text(&drawing(&blocks(looped), "0\nINSERT\n2\nA\n")).unwrap();
    let reasons: Vec<Why> = found.left_out.iter().map(|left| left.why).collect();
    assert_eq!(reasons, [Why::BlockMissing, Why::BlockTooDeep]);
}

#[test]
fn what_is_seen_from_behind_is_mirrored() {
    let behind = "210\n0\n220\n0\n230\n-1\n";
    let arc = format!("0\nARC\n{behind}10\n-100\n20\n0\n40\n20\n50\n90\n51\n270\n");
    let chord = "0\nLINE\n10\n100\n20\n20\n11\n100\n21\n-20\n";
    let found = read_text(&drawing("", &format!("{arc}{chord}"))).unwrap();
    assert!((sum(&found) / (PI * 200.0) - 1.0).abs() < 5e-3);
    // The half left of its middle as it is written lies right of it as it is seen.
    assert!((found.bounds().max.x_m - 0.120).abs() < 5e-5, "{:?}", found.bounds());
}

#[test]
fn boundaries_of_hatches_are_outlines() {
    let polyline =
        "91\n1\n92\n2\n72\n1\n73\n1\n93\n2\n10\n0\n20\n0\n42\n1\n10\n100\n20\n0\n42\n1\n97\n0\n";
    let hatch =
        format!("0\nHATCH\n10\n0\n20\n0\n30\n0\n2\nSOLID\n{polyline}75\n0\n98\n1\n10\n7\n20\n7\n");
    assert!((area(&drawing("", &hatch)) / (PI * 2500.0) - 1.0).abs() < 2e-3);
    let edges = "91\n1\n92\n1\n93\n2\n72\n1\n10\n0\n20\n20\n11\n0\n21\n-20\n\
                 72\n2\n10\n0\n20\n0\n40\n20\n50\n90\n51\n270\n73\n0\n97\n0\n";
    let hatch = format!("0\nHATCH\n{edges}75\n0\n");
    let found = read_text(&drawing("", &hatch)).unwrap();
    assert!((sum(&found) / (PI * 200.0) - 1.0).abs() < 5e-3, "{}", sum(&found));
    // Clockwise from 90° to 270°, counted clockwise, is the right half.
    assert!(found.bounds().max.x_m < 1e-9, "{:?}", found.bounds());
}

/// The pairs of a text in the binary form.
fn binary(text: &str, is_short: bool) -> Vec<u8> {
    let mut out = b"AutoCAD Binary DXF\r\n\x1a\0".to_vec();
    let lines: Vec<&str> = text.lines().collect();
    for pair in lines.chunks_exact(2) {
        let code: i16 = pair[0].parse().unwrap();
        if is_short {
            out.push(code as u8);
        } else {
            out.extend(code.to_le_bytes());
        }
        match code {
            10..=59 | 210..=239 => out.extend(pair[1].parse::<f64>().unwrap().to_le_bytes()),
            60..=79 => out.extend(pair[1].parse::<i16>().unwrap().to_le_bytes()),
            90..=99 => out.extend(pair[1].parse::<i32>().unwrap().to_le_bytes()),
            _ => out.extend([pair[1].as_bytes(), b"\0"].concat()),
        }
    }
    out
}

#[test]
fn the_binary_form_says_the_same() {
    let text = drawing(&tables(&[("Eiche", 0, 7)]), &square("Eiche", ""));
    let plain = read_text(&text).unwrap();
    for is_short in [false, true] {
        let bytes = binary(&text, is_short);
        assert_eq!(read(&bytes, &Options::default()).unwrap(), plain, "{is_short}");
        for end in [23, 30, bytes.len() - 3] {
            let cut = read(&bytes[..end], &Options::default());
            assert!(matches!(cut, Err(FileError::BrokenLine { .. } | FileError::NotThis { .. })));
        }
    }
}

#[test]
fn names_are_read_in_their_code_page() {
    let head = "0\nSECTION\n2\nHEADER\n9\n$DWGCODEPAGE\n3\nANSI_1251\n0\nENDSEC\n";
    let text = drawing(head, &square("LAYER", ""));
    let bytes: Vec<u8> =
        text.as_bytes().iter().map(|byte| if *byte == b'Y' { 0xC4 } else { *byte }).collect();
    assert_eq!(read(&bytes, &Options::default()).unwrap().layers[0].name, "LAДER");
    let escaped = read_text(&drawing("", &square("B\\U+00F6den", ""))).unwrap();
    assert_eq!(escaped.layers[0].name, "Böden");
}

proptest! {
    #[test]
    fn what_is_written_is_read_again(
        points in proptest::collection::vec((0.0f64..1000.0, 0.0f64..500.0), 3..3 + 1), hole in 5.0f64..20.0,
    ) {
        let outer: Ring = points.iter().map(|(x, y)| Point::from_mm(*x, *y)).collect();
        let outline = Outline::new(outer).cleaned();
        prop_assume!(outline.area().m2() > 1e-3);
        let middle = outline.centroid();
        let small = Outline::circle(middle, Length::from_mm(hole * 0.4), 12);
        let with_hole = Outline { holes: vec![small.outer], ..outline };
        let part =
            Part { name: "board 1".into(), layer: "Boards".into(), outline: with_hole.clone() };
        let form = (Length::from_mm(1000.0), Length::from_mm(500.0));
        let text = write(&Sheet { title: String::new(), form, parts: vec![part] });
        let again = read_text(&text).unwrap();
        // The hole is an outline of its own.
        let hole = signed_area_m2(&again.rings[1].ring).abs();
        let sum = sum(&again) * 1e-6 - 2.0 * hole;
        prop_assert!((sum - with_hole.area().m2()).abs() < 2e-6);
    }

    #[test]
    fn no_pairs_make_it_panic(codes in proptest::collection::vec((-5i32..110, "[A-Z0-9.-]{0,9}"), 0..60)) {
        let body: String = codes.iter().map(|(c, v)| format!("{c}\n{v}\n")).collect();
        let _ = read_text(&drawing("", &body));
    }
}
