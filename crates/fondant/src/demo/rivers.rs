//! River tops.

use fondant_cast::document::{Flood, River, Shaping};
use fondant_cast::{Contents, Document};
use fondant_files::made_up;
use fondant_materials::resin::{ResinId, shipped};
use fondant_quantities::{Density, Length, Mass, Slope, Temperature, Volume};
use fondant_shapes::form::Piece;
use fondant_shapes::geometry::ruled::Underside;
use fondant_shapes::geometry::{Outline, Point};
use fondant_shapes::timber::{Board, BoardShape, Station};
use jiff::Timestamp;

fn piece(length_mm: f64, width_mm: f64, thickness_mm: f64) -> Piece {
    let mm = Length::from_mm;
    Piece::slab(mm(length_mm), mm(width_mm), mm(thickness_mm), mm(10.0))
}

fn board(timber: &str, thickness_mm: f64, kg_m3: f64, moisture_percent: f64) -> Board {
    Board {
        timber: timber.into(),
        density: Density::from_kg_m3(kg_m3),
        moisture_percent,
        ..Board::usual(Length::from_mm(thickness_mm))
    }
}

/// The river of a document that has one.
fn river(document: &mut Document) -> &mut River {
    match &mut document.contents {
        Contents::River(river) => river,
        _ => unreachable!("these documents are begun as rivers"),
    }
}

/// Place, width and distance from the near wall, mm.
fn stations(measured: &[(f64, f64, f64)]) -> Vec<Station> {
    measured
        .iter()
        .map(|(at, width, from_wall)| Station {
            at: Length::from_mm(*at),
            width: Length::from_mm(*width),
            from_wall: Some(Length::from_mm(*from_wall)),
        })
        .collect()
}

pub(super) fn hall_table(begin: Timestamp) -> Document {
    let mut document = Document::river_top(
        "Hall table, elm with a wide bay".into(),
        piece(1500.0, 760.0, 34.0),
        begin,
    );
    let river = river(&mut document);
    river.boards[0] = board("elm", 38.0, 560.0, 9.0);
    river.boards[1] = board("elm", 38.0, 575.0, 9.5);
    river.stations = stations(&[
        (0.0, 217.0, 296.0),
        (190.0, 209.0, 292.0),
        (380.0, 196.0, 273.0),
        (570.0, 262.0, 238.0),
        (760.0, 274.0, 271.0),
        (950.0, 148.0, 308.0),
        (1140.0, 236.0, 228.0),
        (1330.0, 281.0, 262.0),
        (1520.0, 186.0, 312.0),
    ]);
    document.conditions.air = Temperature::from_celsius(19.0);
    document.conditions.resin = Temperature::from_celsius(21.0);
    document
}

pub(super) fn side_table(begin: Timestamp) -> Document {
    let mut document = Document::river_top(
        "Side table, pear and a thread of green".into(),
        piece(640.0, 420.0, 20.0),
        begin,
    );
    let river = river(&mut document);
    river.boards[0] = board("pear", 25.0, 700.0, 8.5);
    river.boards[1] = board("pear", 24.0, 700.0, 8.0);
    river.stations = stations(&[
        (0.0, 38.0, 190.0),
        (165.0, 52.0, 176.0),
        (330.0, 44.0, 205.0),
        (495.0, 61.0, 196.0),
        (660.0, 35.0, 214.0),
    ]);
    document.resin = ResinId("medium-casting-epoxy".into());
    document.conditions.air = Temperature::from_celsius(21.0);
    document.conditions.resin = Temperature::from_celsius(21.0);
    document
}

pub(super) fn bar(begin: Timestamp) -> Document {
    let mut document = Document::river_top(
        "Bar top for the ferry steps, deep oak".into(),
        piece(2400.0, 620.0, 64.0),
        begin,
    );
    let river = river(&mut document);
    river.boards[0] = board("oak", 68.0, 690.0, 11.0);
    river.boards[1] = board("oak", 70.0, 705.0, 10.5);
    river.stations = stations(&[
        (0.0, 120.0, 255.0),
        (400.0, 165.0, 230.0),
        (800.0, 210.0, 196.0),
        (1200.0, 174.0, 240.0),
        (1600.0, 232.0, 205.0),
        (2000.0, 190.0, 226.0),
        (2420.0, 138.0, 260.0),
    ]);
    let coating = ResinId(shipped::COATING.into());
    document.stages.flood = Some(Flood::begin(Some(coating)));
    document.conditions.air = Temperature::from_celsius(18.0);
    document
}

pub(super) fn bench(begin: Timestamp) -> Document {
    Document::river_top("Bench seat, boards just in".into(), piece(1200.0, 380.0, 40.0), begin)
}

/// Drawn by outlines over its photo: two live edges that slope, checked by a
/// dry fill and by weight.
pub(super) fn window_seat(begin: Timestamp) -> Document {
    let mut document = Document::river_top(
        "Window seat, chestnut over a dark pool".into(),
        piece(1200.0, 600.0, 36.0),
        begin,
    );
    let steps: Vec<f64> = (0..=40).map(|i| f64::from(i) * made_up::LENGTH.mm() / 40.0).collect();
    let (length, width) = (made_up::LENGTH.mm(), made_up::WIDTH.mm());
    let edge = |of: &dyn Fn(f64) -> f64| -> Vec<Point> {
        steps.iter().map(|x| Point::from_mm(*x, of(*x))).collect()
    };
    let mut near = edge(&made_up::near_edge_mm);
    near.reverse();
    near.extend([Point::from_mm(0.0, 0.0), Point::from_mm(length, 0.0)]);
    let mut far = edge(&made_up::far_edge_mm);
    far.extend([Point::from_mm(length, width), Point::from_mm(0.0, width)]);
    let river = river(&mut document);
    river.shaping = Shaping::Outlines;
    for (index, outer) in [near, far].into_iter().enumerate() {
        let outline = Outline::new(outer).cleaned();
        // The live edge is the first forty of its edges, leaning out below.
        let bevels = vec![Length::from_mm(if index == 0 { 7.0 } else { 10.0 }); 40];
        river.boards[index] = Board {
            weighed: Some(Mass::from_kg(if index == 0 { 5.7 } else { 5.9 })),
            shape: Some(BoardShape { outline, underside: Underside::Bevels(bevels) }),
            ..board("chestnut", 40.0, 540.0, 9.0)
        };
    }
    river.checks.dry_fill = Some(Volume::from_l(9.1));
    document.form.fall = Slope::from_mm_m(0.5);
    document.conditions.air = Temperature::from_celsius(19.5);
    document
}
