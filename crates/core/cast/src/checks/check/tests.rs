use super::*;
use crate::checks::Countable;
use crate::document::{Contents, DepthOverride, Embed, Inlay, Kind, PourId, Split, TakenPour};
use fondant_quantities::{Length, Mass, Temperature, Volume};
use fondant_shapes::blanks::pot::Pot;
use fondant_shapes::form::Piece;
use fondant_shapes::geometry::Point;
use fondant_shapes::geometry::ruled::Underside;
use fondant_shapes::timber::{Insert, RiverError};

fn begun(kind: Kind) -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(1200.0), mm(600.0), mm(36.0), mm(10.0));
    Document::begin(kind, "Sample".into(), piece, "2026-11-23T09:00:00Z".parse().unwrap())
}

fn plan() -> Document {
    begun(Kind::River)
}

#[test]
fn a_new_plan_of_any_kind_has_no_conflicts() {
    for kind in Kind::ALL {
        assert_eq!(begun(kind).conflicts(), [], "{kind:?}");
    }
}

#[test]
fn contradictions_are_found_wherever_the_document_came_from() {
    let mut broken = plan();
    broken.piece.length = Length::from_mm(900.0);
    assert!(matches!(broken.conflicts()[0], Conflict::River(RiverError::BeyondForm { .. })));
    broken.spread_stations(Length::from_mm(1220.0), Length::from_mm(920.0));
    assert_eq!(broken.conflicts(), []);

    let mut broken = plan();
    broken.contents.river_mut().unwrap().boards[0].thickness = Length::from_mm(30.0);
    assert!(matches!(broken.conflicts()[0], Conflict::BoardsTooThin { .. }));

    let mut broken = plan();
    broken.conditions.air = Temperature::from_celsius(-40.0);
    broken.name = " ".into();
    assert_eq!(broken.conflicts().len(), 2, "{:?}", broken.conflicts());

    for moment in ["1969-12-31T08:00:00Z", "9998-12-30T08:00:00Z"] {
        let mut broken = plan();
        broken.pours.not_before = moment.parse().unwrap();
        assert_eq!(broken.conflicts().len(), 1, "{moment}");
    }

    let newer = Document { schema: SCHEMA_VERSION + 1, ..plan() };
    assert_eq!(newer.conflicts(), [Conflict::NewerSchema { found: SCHEMA_VERSION + 1 }]);
}

#[test]
fn outlines_that_cross_overlap_or_lie_outside_are_refused_with_their_place() {
    let mut drawn = plan();
    drawn.outlines_from_sketch();
    let shift = |plan: &mut Document, x: f64, y: f64| {
        let shape = plan.contents.river_mut().unwrap().boards[0].shape.as_mut().unwrap();
        shape.outline = shape.outline.map(|p| p.plus(Point::from_mm(x, y)));
    };
    let mut overlapping = drawn.clone();
    shift(&mut overlapping, 0.0, 180.0);
    let found = overlapping.conflicts();
    assert!(matches!(found[..], [Conflict::Overlap { first: 0, second: 1, .. }]), "{found:?}");
    assert!(found[0].place().is_some());

    let mut outside = drawn.clone();
    shift(&mut outside, 0.0, -700.0);
    assert!(matches!(outside.conflicts()[..], [Conflict::OutsideForm { board: 0, .. }]));

    let mut crossed = drawn.clone();
    let shape = crossed.contents.river_mut().unwrap().boards[1].shape.as_mut().unwrap();
    shape.outline.outer.swap(0, 2);
    let found = crossed.conflicts();
    assert!(matches!(found[0], Conflict::Outline { board: 1, .. }), "{found:?}");
    assert!(found[0].place().is_some());

    let mut bare = drawn;
    bare.contents.river_mut().unwrap().boards[1].shape = None;
    assert!(matches!(bare.conflicts()[..], [Conflict::NoOutline { board: 1 }]));
}

#[test]
fn what_does_not_fit_into_its_cavity_or_form_is_refused() {
    let mut tube = begun(Kind::Tubes);
    let Contents::Tubes(tubes) = &mut tube.contents else { panic!("tubes") };
    tubes.tube.length = Length::from_mm(1300.0);
    assert!(matches!(tube.conflicts()[0], Conflict::TubeTooLarge { is_length: true }));
    let mut deep = begun(Kind::Inlay);
    deep.contents.cavities_mut().unwrap()[0].depth = Length::from_mm(60.0);
    assert!(matches!(deep.conflicts()[..], [Conflict::CavityTooDeep { .. }]));
    deep.contents.cavities_mut().unwrap().clear();
    assert_eq!(deep.conflicts(), [Conflict::NothingToFill]);
    let mut tall = begun(Kind::Embed);
    tall.contents.inserts_mut().unwrap()[0].above_floor = Length::from_mm(190.0);
    assert!(matches!(tall.conflicts()[..], [Conflict::InsertTooTall { .. }]));
}

/// Every number of a document as JSON, by its path.
fn numbers(value: &serde_json::Value, path: &str, found: &mut Vec<String>) {
    match value {
        serde_json::Value::Number(_) => found.push(path.to_owned()),
        serde_json::Value::Array(all) => {
            for (index, value) in all.iter().enumerate() {
                numbers(value, &format!("{path}/{index}"), found);
            }
        }
        serde_json::Value::Object(all) => {
            for (name, value) in all {
                numbers(value, &format!("{path}/{name}"), found);
            }
        }
        _ => {}
    }
}

/// A document of a kind with something in every list and every choice made.
fn full(kind: Kind) -> Document {
    let mm = Length::from_mm;
    let mut document = begun(kind);
    let Contents::Inlay(Inlay { cavities, .. }) = begun(Kind::Inlay).contents else {
        panic!("an inlay")
    };
    let Contents::Embed(Embed { inserts, .. }) = begun(Kind::Embed).contents else {
        panic!("an embed")
    };
    if kind == Kind::River {
        document.outlines_from_sketch();
    }
    if let Some(river) = document.contents.river_mut() {
        river.cavities = cavities;
        river.inserts = inserts;
        river.stations[0].from_wall = Some(mm(10.0));
        river.checks.dry_fill = Some(Volume::from_l(4.0));
        river.boards[0].weighed = Some(Mass::from_kg(5.0));
        river.boards[0].shape.as_mut().unwrap().underside = Underside::Bevels(vec![mm(3.0)]);
        river.boards[1].shape.as_mut().unwrap().underside =
            Underside::Outline(river.boards[1].shape.as_ref().unwrap().outline.clone());
    }
    if let Some(pot) = document.contents.pot_mut() {
        let (diameter, height) = (mm(300.0), mm(300.0));
        *pot = Some(Pot { diameter, height, shelf: mm(3.0), gap: mm(5.0) });
    }
    document.depth_override =
        Some(DepthOverride { depth: mm(30.0), reason: "poured before".into() });
    document.pours.split = Split::ByHand { levels: vec![mm(20.0)] };
    let at = document.pours.not_before;
    document.pours.taken = vec![TakenPour { id: PourId(1), at, to: mm(20.0) }];
    document
}

#[test]
fn every_number_of_a_document_has_its_bound() {
    // The id of a pour is a name; the triangles of a mesh are counted by the reader of its file.
    let unbounded = |path: &str| path.ends_with("/id") || path.ends_with("/triangles");
    for kind in Kind::ALL {
        let document = full(kind);
        assert_eq!(document.conflicts(), [], "{kind:?}");
        let json = serde_json::to_value(&document).unwrap();
        let mut paths = Vec::new();
        numbers(&json, "", &mut paths);
        assert!(paths.len() > 15, "{kind:?}: {paths:?}");
        for path in paths.iter().filter(|path| !unbounded(path)) {
            for absurd in [serde_json::json!(4e9), serde_json::json!(-4e9)] {
                let mut broken = json.clone();
                *broken.pointer_mut(path).unwrap() = absurd.clone();
                // A count that cannot be negative does not even read.
                let whole = serde_json::json!(absurd.as_f64().unwrap() as i64);
                let read = serde_json::from_value::<Document>(broken.clone()).or_else(|_| {
                    *broken.pointer_mut(path).unwrap() = whole;
                    serde_json::from_value::<Document>(broken)
                });
                let Ok(read) = read else { continue };
                assert_ne!(read.conflicts(), [], "{kind:?} {path} = {absurd}");
            }
        }
    }
}

#[test]
fn every_moment_of_a_document_lies_in_years_in_which_somebody_plans() {
    let absurd: jiff::Timestamp = "9000-01-01T00:00:00Z".parse().unwrap();
    let mut document = full(Kind::River);
    document.pours.taken[0].at = absurd;
    assert_eq!(document.conflicts(), [Conflict::Year { year: 9000 }]);
    let mut document = full(Kind::River);
    document.pours.not_before = absurd;
    assert_eq!(document.conflicts(), [Conflict::Year { year: 9000 }]);
    let mut document = full(Kind::River);
    document.brief.deadline = Some(jiff::civil::date(9000, 1, 1));
    assert_eq!(document.conflicts(), [Conflict::Year { year: 9000 }]);
}

#[test]
fn rows_and_points_beyond_what_a_page_can_carry_are_refused() {
    let mut document = full(Kind::River);
    let insert = document.contents.inserts()[0].clone();
    *document.contents.inserts_mut().unwrap() = vec![Insert { count: 999, ..insert }; 60];
    let things = Conflict::TooMany { what: Countable::Things, found: 59_940, most: 2000 };
    assert_eq!(document.conflicts(), [things]);
    let mut document = full(Kind::River);
    let shape = document.contents.river_mut().unwrap().boards[0].shape.as_mut().unwrap();
    let point = shape.outline.outer[0];
    shape.outline.outer.resize(50_000, point);
    let found = document.conflicts();
    assert!(matches!(found[..], [Conflict::TooMany { what: Countable::Points, .. }]), "{found:?}");
}
