use super::*;
use crate::sample::{METRIC, evaluated, of_kind, river_top};
use crate::svg::{NARROW, WIDE};
use fondant_cast::{Document, Kind};

fn drawn_of(document: &Document, extent: Extent, frame: Frame) -> String {
    let evaluation = evaluated(document);
    let schedule = evaluation.pours.as_ref().unwrap();
    let layers: Vec<Layer> = schedule.pours.iter().map(|pour| pour.layer).collect();
    let section = Section {
        layout: &evaluation.measured.layout,
        fill: &evaluation.measured.fill,
        at: evaluation.measured.layout.middle(),
        layers: &layers,
        marks: &[],
        shown: METRIC,
    };
    draw(&section, extent, frame).into_string()
}

fn drawn(extent: Extent, frame: Frame) -> String {
    drawn_of(&river_top(), extent, frame)
}

/// Width and height of the first shape of a class.
fn size(svg: &str, class: &str) -> (f64, f64) {
    let d = svg.split(&format!("class=\"{class}\" d=\"M")).nth(1).unwrap();
    let d = d.split('Z').next().unwrap();
    let points: Vec<(f64, f64)> = d
        .split('L')
        .map(|p| p.split_once(' ').map(|(x, y)| (x.parse().unwrap(), y.parse().unwrap())).unwrap())
        .collect();
    let span = |of: &dyn Fn(&(f64, f64)) -> f64| {
        let all: Vec<f64> = points.iter().map(of).collect();
        all.iter().copied().fold(f64::MIN, f64::max) - all.iter().copied().fold(f64::MAX, f64::min)
    };
    (span(&|p| p.0), span(&|p| p.1))
}

#[test]
fn boards_are_drawn_to_scale() {
    for extent in [Extent::Whole, Extent::Mini] {
        let (w, h) = size(&drawn(extent, WIDE), "timber");
        // The near board is 100 mm wide in the middle and 40 mm thick.
        assert!((w / h - 2.5).abs() < 0.03, "{extent:?}: {w} × {h}");
    }
}

#[test]
fn the_enlarged_river_names_its_layers_from_the_base_up() {
    let svg = drawn(Extent::Gap, WIDE);
    assert!(svg.contains("300\u{202f}mm"), "the width of the river");
    assert!(svg.contains("base, 2\u{202f}mm"));
    assert!(svg.contains("layer 1, 42\u{202f}mm") || svg.contains("layer 1, 21\u{202f}mm"));
    let phone = drawn(Extent::Gap, NARROW);
    assert!(!phone.contains("base, "), "a phone has room for depths alone");
}

#[test]
fn the_small_one_has_no_text_and_keeps_low_for_every_kind() {
    assert!(!drawn(Extent::Mini, WIDE).contains("<text"));
    for kind in Kind::ALL {
        let svg = drawn_of(&of_kind(kind), Extent::Mini, NARROW);
        let height: f64 = svg
            .split("viewBox=\"0 0 ")
            .nth(1)
            .and_then(|rest| rest.split('"').next())
            .and_then(|size| size.split(' ').nth(1))
            .and_then(|h| h.parse().ok())
            .unwrap();
        assert!(height < 80.0, "{kind:?}: {height}");
    }
}
