use super::*;
use fondant_quantities::Length;

fn plan() -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(1200.0), mm(600.0), mm(36.0), mm(10.0));
    Document::river_top("Coffee table".into(), piece, "2026-11-23T09:00:00Z".parse().unwrap())
}

#[test]
fn a_new_river_is_a_guess_until_a_width_is_measured() {
    let mut plan = plan();
    assert!(plan.river_is_guess());
    plan.contents.river_mut().unwrap().stations[1].width = Length::from_mm(140.0);
    assert!(!plan.river_is_guess());
}

#[test]
fn the_document_survives_json() {
    for kind in Kind::ALL {
        let plan = Document::begin(kind, "x".into(), plan().piece, plan().pours.not_before);
        let text = serde_json::to_string(&plan).unwrap();
        assert!(text.contains("\"thickness_m\":0.036"), "{text}");
        assert_eq!(serde_json::from_str::<Document>(&text).unwrap(), plan);
    }
}

#[test]
fn outlines_drawn_from_stations_enclose_the_same_river() {
    let mut plan = plan();
    plan.contents.river_mut().unwrap().stations[1].width = Length::from_mm(260.0);
    let river = plan.river().unwrap().unwrap();
    plan.outlines_from_sketch();
    let timber: f64 = plan.board_shapes().iter().flatten().map(|s| s.outline.area().m2()).sum();
    let form = CastSize::of(&plan.piece).area().m2();
    assert!((form - timber - river.area().m2()).abs() < 1e-12);
    assert_eq!(plan.conflicts(), []);
}
