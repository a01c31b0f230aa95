//! Drawings as programs write them, broken ones, and what is written and read again.

use super::*;
use proptest::prelude::*;
use std::f64::consts::PI;

fn drawing(header: &str, entities: &str) -> String {
    format!("{header}0\nSECTION\n2\nENTITIES\n{entities}0\nENDSEC\n0\nEOF\n")
}

fn area(text: &str) -> f64 {
    read(text.as_bytes()).unwrap().iter().map(|o| o.area().m2() * 1e6).sum()
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
    let parsecs = inches.replace("70\n1", "70\n19");
    let refused = read(drawing(&parsecs, square).as_bytes());
    assert!(matches!(refused, Err(FileError::BrokenLine { line: 8, .. })), "{refused:?}");
}

#[test]
fn what_is_broken_is_refused_at_its_line() {
    assert_eq!(read(b""), Err(FileError::Empty));
    assert_eq!(read(b"hello\nworld\n"), Err(FileError::NotThis { wanted: "DXF".into() }));
    for odd in ["NaN", "inf", "1e400", "x"] {
        let text = drawing("", &format!("0\nLINE\n10\n{odd}\n20\n0\n11\n1\n21\n1\n"));
        assert!(
            matches!(read(text.as_bytes()), Err(FileError::BrokenLine { line: 8, .. })),
            "{odd}"
        );
    }
    assert!(matches!(read(b"0\nSECTION\n2\n"), Err(FileError::BrokenLine { .. })));
    // The knots of a spline never decrease.
    let knots = "0\nSPLINE\n71\n1\n40\n1\n40\n0\n40\n1\n40\n0\n10\n0\n20\n0\n10\n1\n20\n1\n";
    let backwards = read(drawing("", knots).as_bytes());
    assert!(matches!(backwards, Err(FileError::NothingClosed { .. })), "{backwards:?}");
    // Codes out of order make no panic, only nothing.
    let orphan = drawing("", "0\nLWPOLYLINE\n20\n5\n42\n1\n0\nVERTEX\n10\n1\n0\nSPLINE\n40\n1\n");
    assert!(matches!(read(orphan.as_bytes()), Err(FileError::NothingClosed { .. })));
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
        let small = Outline::circle(middle, Length::from_mm(hole * 0.1), 12);
        let with_hole = Outline { holes: vec![small.outer], ..outline };
        let text = write(&[("board 1".into(), with_hole.clone())], Length::from_mm(500.0));
        let again = read(text.as_bytes()).unwrap();
        let sum: f64 = again.iter().map(|o| o.area().m2()).sum();
        prop_assert!((sum - with_hole.area().m2()).abs() < 2e-6);
    }

    #[test]
    fn no_pairs_make_it_panic(codes in proptest::collection::vec((-5i32..110, "[A-Z0-9.-]{0,9}"), 0..60)) {
        let body: String = codes.iter().map(|(c, v)| format!("{c}\n{v}\n")).collect();
        let _ = read(drawing("", &body).as_bytes());
    }
}
