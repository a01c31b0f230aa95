use super::*;
use crate::Conflict;
use crate::document::{
    Cavities, Contents, Document, Kind, Moulds, Pressed, PressedShape, Shaping, Tubes,
};
use fondant_quantities::{Absorption, Density, Length, Mass, Slope, Volume};
use fondant_shapes::blanks::Hollow;
use fondant_shapes::form::Piece;
use fondant_shapes::geometry::ruled::Underside;
use fondant_shapes::geometry::{Outline, Point};
use fondant_shapes::timber::{Board, BoardShape, CavityShape, InsertShape};
use fondant_shapes::volume::LineKind;
use fondant_shapes::volume::methods::Method;
use proptest::prelude::*;

mod amounts;
mod rows;

fn mm(v: f64) -> Length {
    Length::from_mm(v)
}

fn begun(kind: Kind, l: f64, w: f64, t: f64) -> Document {
    let mut piece = Piece::slab(mm(l), mm(w), mm(t), Length::ZERO);
    piece.flattening = Length::ZERO;
    let mut plan =
        Document::begin(kind, "x".into(), piece, "2026-11-23T09:00:00Z".parse().unwrap());
    plan.form.bucket_residue_ratio = 0.0;
    plan.form.overfill = Length::ZERO;
    for board in plan.contents.river_mut().into_iter().flat_map(|river| &mut river.boards) {
        board.absorption = Absorption::ZERO;
    }
    if let Contents::Inlay(inlay) = &mut plan.contents {
        inlay.board.absorption = Absorption::ZERO;
    }
    plan
}

fn tubes_of(document: &mut Document) -> &mut Tubes {
    match &mut document.contents {
        Contents::Tubes(tubes) => tubes,
        other => panic!("{:?}", other.kind()),
    }
}

fn moulds_of(document: &mut Document) -> &mut Moulds {
    match &mut document.contents {
        Contents::Moulds(moulds) => moulds,
        other => panic!("{:?}", other.kind()),
    }
}

/// A form of 1000 × 500 mm with rectangular boards of 40 mm: x, y, length, width.
fn drawn(boards: &[(f64, f64, f64, f64)]) -> Document {
    let mut plan = begun(Kind::River, 1000.0, 500.0, 40.0);
    plan.contents.river_mut().unwrap().base_gap = Length::ZERO;
    plan.contents.river_mut().unwrap().shaping = Shaping::Outlines;
    plan.contents.river_mut().unwrap().boards = boards
        .iter()
        .map(|(x, y, l, w)| {
            let outline =
                Outline::rectangle(mm(*l), mm(*w)).map(|p| p.plus(Point::from_mm(*x, *y)));
            Board {
                absorption: Absorption::ZERO,
                shape: Some(BoardShape::square(outline)),
                ..Board::usual(mm(40.0))
            }
        })
        .collect();
    plan
}

fn litres(plan: &Document) -> f64 {
    measure(plan).unwrap().sizing.total.l()
}

#[test]
fn stations_and_their_outlines_measure_the_same() {
    let mut plan = begun(Kind::River, 1000.0, 500.0, 40.0);
    plan.contents.river_mut().unwrap().stations[1].width = mm(210.0);
    let by_stations = litres(&plan);
    plan.outlines_from_sketch();
    assert!((litres(&plan) / by_stations - 1.0).abs() < 1e-9);
}

#[test]
fn a_base_and_a_thinner_board_and_overfill_are_lines_of_their_own() {
    let mut plan = drawn(&[(0.0, 0.0, 1000.0, 200.0), (0.0, 300.0, 1000.0, 200.0)]);
    assert!((litres(&plan) - 0.1 * 40.0).abs() < 1e-9);
    plan.contents.river_mut().unwrap().base_gap = mm(2.0);
    plan.form.overfill = mm(1.0);
    plan.contents.river_mut().unwrap().boards[1].thickness = mm(43.0);
    let measured = measure(&plan).unwrap();
    let of = |wanted: fn(&LineKind) -> bool| {
        measured.sizing.lines.iter().find(|l| wanted(&l.kind)).map_or(0.0, |l| l.volume.l())
    };
    assert!((of(|k| matches!(k, LineKind::Around { .. })) - 0.1 * 43.0).abs() < 1e-9);
    assert!((of(|k| matches!(k, LineKind::ThinnerBoards { .. })) - 0.2 * 3.0).abs() < 1e-9);
    assert!((of(|k| matches!(k, LineKind::Base { .. })) - 1.0).abs() < 1e-9);
    assert!((of(|k| matches!(k, LineKind::Overfill { .. })) - 0.1).abs() < 1e-9);
    // V(z) is the same volume, and its levels are the lines'.
    assert!((measured.fill.volume().l() - measured.sizing.poured.l()).abs() < 1e-9);
    assert!((measured.fill.volume_to(mm(2.0)).l() - 1.0).abs() < 1e-9);
}

#[test]
fn a_live_edge_that_slopes_displaces_its_wedge() {
    let mut plan = drawn(&[(0.0, 0.0, 1000.0, 200.0), (0.0, 300.0, 1000.0, 200.0)]);
    let shape = plan.contents.river_mut().unwrap().boards[0].shape.as_mut().unwrap();
    // Its far edge stands 30 mm farther out below: half of 30 × 40 mm over a metre.
    shape.underside = Underside::Bevels(vec![Length::ZERO, Length::ZERO, mm(30.0)]);
    assert!((litres(&plan) - (4.0 - 0.6)).abs() < 1e-9);
    // Half way up the wedge three quarters of it are below.
    let fill = measure(&plan).unwrap().fill;
    assert!((fill.volume_to(mm(20.0)).l() - (2.0 - 0.45)).abs() < 1e-9);
}

#[test]
fn what_reaches_over_the_wall_is_sawn_off_and_marked() {
    let plan = drawn(&[(-100.0, 0.0, 1200.0, 200.0)]);
    let measured = measure(&plan).unwrap();
    assert!((measured.sizing.total.l() - (0.5 - 0.2) * 40.0).abs() < 1e-6);
    assert_eq!(measured.trim_marks[0].len(), 4, "{:?}", measured.trim_marks);
    assert!((measured.submerged[0].volume.l() - 8.0).abs() < 1e-6);
}

#[test]
fn a_bevel_over_the_wall_is_sliced_closely_enough() {
    let mut plan = drawn(&[(0.0, 0.0, 1000.0, 200.0)]);
    let shape = plan.contents.river_mut().unwrap().boards[0].shape.as_mut().unwrap();
    // The near edge lies on the wall and its slope falls entirely outside; the
    // far one rises half outside of nothing.
    shape.outline = shape.outline.map(|p| p.plus(Point::from_mm(0.0, 20.0)));
    shape.underside = Underside::Bevels(vec![mm(40.0)]);
    // The wedge of 40 × 40 mm is cut off by the wall 20 mm out: 600 mm² are left.
    let timber = 200.0 * 40.0 + 600.0;
    assert!((litres(&plan) - (500.0 * 40.0 - timber) * 1e-3).abs() < 3e-3, "{}", litres(&plan));
}

#[test]
fn methods_stand_side_by_side_and_the_believed_one_is_the_figure() {
    let mut plan = drawn(&[(0.0, 0.0, 1000.0, 200.0), (0.0, 300.0, 1000.0, 200.0)]);
    plan.contents.river_mut().unwrap().checks.dry_fill = Some(Volume::from_l(4.1));
    for board in &mut plan.contents.river_mut().unwrap().boards {
        board.weighed = Some(Mass::from_kg(5.2));
    }
    let ways = measure(&plan).unwrap().ways;
    assert_eq!(ways.readings.len(), 3);
    assert!((ways.reading(Method::Weighed).unwrap().volume.l() - 4.0).abs() < 1e-9);
    assert_eq!(ways.disagreements, []);
    // 10.4 kg are 16 L: taken for litres they leave 5.6 L too much.
    assert!((ways.slip.unwrap().error.l() - 5.6).abs() < 1e-9);

    plan.contents.river_mut().unwrap().checks.figure = Some(Method::DryFill);
    let believed = measure(&plan).unwrap();
    assert!((believed.sizing.total.l() - 4.1).abs() < 1e-9);
    assert!((believed.fill.volume().l() - 4.1).abs() < 1e-9);

    // A dry fill that is the mistake itself is known for it.
    plan.contents.river_mut().unwrap().checks.dry_fill = Some(Volume::from_l(20.0 - 10.4));
    let ways = measure(&plan).unwrap().ways;
    assert!(ways.looks_like_slip);
    assert!(!ways.disagreements.is_empty());
}

/// A form of 1000 × 500 mm with three measured widths.
fn three_widths() -> Document {
    let mut plan = begun(Kind::River, 1000.0, 500.0, 40.0);
    let river = plan.contents.river_mut().unwrap();
    river.base_gap = Length::ZERO;
    for (station, width) in river.stations.iter_mut().zip([90.0, 140.0, 110.0]) {
        station.width = mm(width);
    }
    plan
}

/// "Clicking By outlines shrinks the doubt of the same three widths."
#[test]
fn outlines_drawn_from_widths_are_as_sure_as_the_widths() {
    let plan = three_widths();
    let by_widths = measure(&plan).unwrap();
    let mut drawn = plan;
    drawn.outlines_from_sketch();
    let by_outlines = measure(&drawn).unwrap();
    let off = |a: Volume, b: Volume| (a.l() - b.l()).abs();
    assert!(off(by_widths.sizing.total, by_outlines.sizing.total) < 1e-9);
    assert!(off(by_widths.sizing.uncertainty, by_outlines.sizing.uncertainty) < 1e-9);
    assert_eq!(by_outlines.ways.disagreements, []);
    // A corner that was moved is measured by itself.
    let shape = drawn.contents.river_mut().unwrap().boards[0].shape.as_mut().unwrap();
    shape.outline = shape.outline.map(|p| p.plus(Point::from_mm(0.0, -0.5)));
    let moved = measure(&drawn).unwrap();
    assert!(moved.sizing.uncertainty.l() < 0.5 * by_widths.sizing.uncertainty.l());
    // A guess that was drawn is a guess still.
    let mut guess = begun(Kind::River, 1000.0, 500.0, 40.0);
    guess.outlines_from_sketch();
    assert!(guess.river_is_guess());
}

/// "Adding a third board accuses the old widths."
#[test]
fn a_third_board_is_not_held_against_the_widths() {
    let mut plan = three_widths();
    plan.outlines_from_sketch();
    let third =
        Outline::rectangle(mm(200.0), mm(40.0)).map(|p| p.plus(Point::from_mm(400.0, 230.0)));
    let river = plan.contents.river_mut().unwrap();
    let board = Board { shape: Some(BoardShape::square(third)), ..river.boards[0].clone() };
    river.boards.push(board);
    let ways = measure(&plan).unwrap().ways;
    assert!(ways.reading(Method::Stations).is_none());
    assert_eq!(ways.disagreements, []);
}

/// What a scale says of a board holds for its lift too: the larger volume is held down.
#[test]
fn a_weighed_board_is_held_down_by_what_lifts_more() {
    let mut plan = drawn(&[(0.0, 0.0, 200.0, 180.0)]);
    let board = &mut plan.contents.river_mut().unwrap().boards[0];
    // 1.44 L as drawn, 2.105 L by mass and density.
    (board.weighed, board.density) = (Some(Mass::from_kg(2.0)), Density::from_kg_m3(950.0));
    let submerged = measure(&plan).unwrap().submerged[0];
    assert!((submerged.volume.l() - 2000.0 / 950.0).abs() < 1e-9);
    assert!((submerged.weighed.unwrap().drawn.l() - 1.44).abs() < 1e-9);
}

#[test]
fn a_block_an_embed_and_their_levels() {
    let block = begun(Kind::Block, 300.0, 200.0, 60.0);
    assert!((litres(&block) - 3.6).abs() < 1e-9);
    let mut embed = begun(Kind::Embed, 100.0, 100.0, 120.0);
    embed.contents.inserts_mut().unwrap()[0].shape = InsertShape::Ball { diameter: mm(60.0) };
    embed.contents.inserts_mut().unwrap()[0].above_floor = mm(30.0);
    embed.form.fall = Slope::from_mm_m(2.0);
    let measured = measure(&embed).unwrap();
    let ball = std::f64::consts::PI / 6.0 * 0.216;
    // A fall of 0.2 mm from end to end costs half of it over the surface.
    assert!((measured.sizing.total.l() - (1.2 - ball + 0.001)).abs() < 1e-9);
    // Half of the ball lies below its middle.
    assert!((measured.fill.volume_to(mm(60.0)).l() - (0.6 - ball / 2.0)).abs() < 1e-9);
    assert_eq!(measured.submerged.len(), 1);
}

#[test]
fn cavities_moulds_tubes_and_coats() {
    let mut inlay = begun(Kind::Inlay, 600.0, 200.0, 30.0);
    inlay.contents.cavities_mut().unwrap()[0].shape = CavityShape::Pocket;
    inlay.contents.cavities_mut().unwrap()[0].length = mm(100.0);
    inlay.contents.cavities_mut().unwrap()[0].width = mm(40.0);
    inlay.contents.cavities_mut().unwrap()[0].depth = mm(10.0);
    inlay.form.overfill = mm(1.0);
    let Contents::Inlay(contents) = &mut inlay.contents else { panic!("an inlay") };
    contents.board.absorption = Absorption::from_ml_m2(100.0);
    // 44 mL, and 0.0068 m² of walls and floor that absorb 0.68 mL.
    assert!((litres(&inlay) * 1e3 - 44.68).abs() < 1e-9);

    let mut tubes = begun(Kind::Tubes, 70.0, 20.0, 20.0);
    tubes_of(&mut tubes).count = 10;
    tubes_of(&mut tubes).hollow = Hollow::Round { diameter: mm(20.0), depth: mm(70.0) };
    tubes_of(&mut tubes).tube.outside = mm(10.0);
    tubes_of(&mut tubes).tube.length = mm(60.0);
    tubes_of(&mut tubes).tube.plugs = mm(10.0);
    assert!((litres(&tubes) * 1e3 - 164.933_614).abs() < 1e-5);

    let mut moulds = begun(Kind::Moulds, 100.0, 100.0, 10.0);
    let hollow = Hollow::Water { volume: Volume::from_l(0.095), depth: mm(10.0) };
    moulds_of(&mut moulds).cavities = vec![Cavities {
        pressed: Some(Pressed {
            count: 2,
            shape: PressedShape::Volume { volume: Volume::from_l(0.010) },
            density: Density::from_kg_m3(700.0),
            is_sealed: false,
        }),
        ..Cavities::empty(4, hollow)
    }];
    let measured = measure(&moulds).unwrap();
    assert!((measured.sizing.total.l() - 0.3).abs() < 1e-9);
    // All eight pieces of 7 g: the hold-down is theirs together.
    assert!((measured.submerged[0].mass.kg() - 0.056).abs() < 1e-12);

    let mut coat = begun(Kind::Coat, 1000.0, 500.0, 30.0);
    let Contents::Coat(contents) = &mut coat.contents else { panic!("a coat") };
    contents.thickness = mm(2.0);
    contents.run_off_ratio = 0.1;
    // 1 L on the face and 3 × 30 × 1 mm on the edges, a tenth runs off.
    assert!((litres(&coat) - (1.0 + 0.09) * 1.1).abs() < 1e-9);
}

#[test]
fn what_is_mixed_for_the_layers_is_the_total() {
    for kind in Kind::ALL {
        let mut plan = begun(kind, 120.0, 90.0, 40.0);
        if let Some(river) = plan.contents.river_mut() {
            river.seal = true;
        }
        plan.form.bucket_residue_ratio = 0.04;
        plan.form.leak_ratio = 0.02;
        let measured = measure(&plan).unwrap();
        // The seal coat was counted twice: in the total, and as a pour of its own.
        let layers = measured.filling().split(3);
        let ratio = measured.mixed_ratio();
        let mixed: Volume = layers.iter().map(|layer| ratio.of(layer)).sum();
        assert!((mixed / measured.sizing.total - 1.0).abs() < 1e-9, "{kind:?}");
    }
}

proptest! {
    #[test]
    fn moving_and_turning_a_board_inside_changes_nothing(
        x in 20.0f64..500.0, y in 20.0f64..200.0, quarter in 0usize..4,
    ) {
        let plain = drawn(&[(10.0, 10.0, 300.0, 200.0)]);
        let mut moved = plain.clone();
        let shape = moved.contents.river_mut().unwrap().boards[0].shape.as_mut().unwrap();
        let centre = shape.outline.centroid();
        shape.outline = shape.outline.map(|p| {
            let d = p.minus(centre);
            let turned = match quarter {
                0 => d,
                1 => Point { x_m: -d.y_m, y_m: d.x_m },
                2 => d.times(-1.0),
                _ => Point { x_m: d.y_m, y_m: -d.x_m },
            };
            turned.plus(Point::from_mm(x + 150.0, y + 130.0))
        });
        prop_assert!((litres(&moved) - litres(&plain)).abs() < 1e-9);
    }

    #[test]
    fn boards_take_away_what_they_take_away_one_by_one(
        a in 50.0f64..400.0, b in 50.0f64..400.0, bevel in -20.0f64..30.0,
    ) {
        let both = {
            let mut plan = drawn(&[(50.0, 0.0, a, 150.0), (520.0, 250.0, b, 150.0)]);
            let shape = plan.contents.river_mut().unwrap().boards[1].shape.as_mut().unwrap();
            shape.underside = Underside::Bevels(vec![mm(bevel); 4]);
            plan
        };
        let one = |index: usize| {
            let mut plan = both.clone();
            plan.contents.river_mut().unwrap().boards = vec![plan.contents.river_mut().unwrap().boards[index].clone()];
            20.0 - litres(&plan)
        };
        prop_assert!((20.0 - litres(&both) - one(0) - one(1)).abs() < 1e-9);
    }
}

/// The blame for a fill that cannot be always fell on the first row: here a pebble, while two
/// blocks lie half over each other.
#[test]
fn the_object_that_is_too_wide_is_the_one_to_blame() {
    let mut plan = begun(Kind::Embed, 200.0, 120.0, 60.0);
    let inserts = plan.contents.inserts_mut().unwrap();
    let block = |length: f64, width: f64, from: f64| fondant_shapes::timber::Insert {
        shape: InsertShape::Block { length: mm(length), width: mm(width), height: mm(20.0) },
        count: 1,
        above_floor: mm(from),
        ..inserts[0].clone()
    };
    let (pebble, low, high) =
        (block(10.0, 10.0, 2.0), block(150.0, 100.0, 2.0), block(150.0, 100.0, 18.0));
    *inserts = vec![pebble, low, high];
    assert_eq!(plan.conflicts(), [], "each of them fits by itself");
    assert_eq!(measure(&plan).unwrap_err(), [Conflict::InsertTooWide { insert: 1 }]);
}
