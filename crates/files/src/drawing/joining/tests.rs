use super::*;
use crate::drawing::joining::piece::length;
use crate::drawing::{JOINED, LeftOut};
use fondant_shapes::geometry::Point;
use proptest::prelude::*;

fn mm(points: &[(f64, f64)]) -> Ring {
    points.iter().map(|(x, y)| Point::from_mm(*x, *y)).collect()
}

fn joined(lines: Vec<Ring>) -> (Joined, Vec<LeftOut>) {
    let mut pieces = Pieces::default();
    for line in lines {
        pieces.add(Piece { line, layer: 0, name: None }).unwrap();
    }
    let mut omitted = Omitted::default();
    let joined = pieces.joined(JOINED, &[String::new()], &mut omitted).unwrap();
    (joined, omitted.sorted())
}

fn areas(joined: &Joined) -> Vec<f64> {
    joined.rings.iter().map(|c| (signed_area_m2(&c.ring).abs() * 1e6).round()).collect()
}

/// The four sides of a rectangle as lines of their own.
fn sides(left: f64, near: f64, long: f64, wide: f64) -> Vec<Ring> {
    let at = [
        (left, near),
        (left + long, near),
        (left + long, near + wide),
        (left, near + wide),
        (left, near),
    ];
    at.windows(2).map(mm).collect()
}

#[test]
fn lines_of_boards_that_touch_at_a_corner_come_apart() {
    let mut lines = sides(0.0, 0.0, 300.0, 100.0);
    lines.extend(sides(300.0, 100.0, 200.0, 50.0));
    lines.reverse();
    assert_eq!(areas(&joined(lines).0), [30_000.0, 10_000.0]);
}

#[test]
fn an_edge_that_two_boards_share_is_drawn_once_or_twice() {
    let mut lines = sides(0.0, 0.0, 300.0, 100.0);
    let other = sides(300.0, 0.0, 200.0, 100.0);
    for count in [3, 4] {
        lines.extend(other.iter().take(count).cloned());
        assert_eq!(areas(&joined(lines.clone()).0), [30_000.0, 20_000.0]);
    }
}

#[test]
fn an_open_line_is_handed_on_with_its_gap() {
    let mut lines = sides(0.0, 0.0, 300.0, 100.0);
    lines.extend([
        mm(&[(0.0, 200.0), (80.0, 200.0), (80.0, 260.0)]),
        mm(&[(80.0, 260.0), (0.0, 260.0), (0.0, 201.5)]),
    ]);
    let (found, _) = joined(lines);
    assert_eq!(areas(&found), [30_000.0]);
    let [open] = &found.open[..] else { panic!("{:?}", found.open) };
    assert!((open.gap.mm() - 1.5).abs() < 1e-9, "{open:?}");
    assert!((length(&open.line) - 0.2785).abs() < 1e-9);
}

#[test]
fn a_line_between_two_boards_belongs_to_neither() {
    let mut lines = sides(0.0, 0.0, 300.0, 100.0);
    lines.extend(sides(400.0, 0.0, 200.0, 100.0));
    lines.push(mm(&[(300.0, 100.0), (400.0, 100.0)]));
    let (found, _) = joined(lines);
    assert_eq!(areas(&found), [30_000.0, 20_000.0]);
    assert_eq!(found.open.len(), 1);
}

#[test]
fn an_outline_that_is_drawn_twice_counts_once() {
    let ring = mm(&[(0.0, 0.0), (90.0, 0.0), (90.0, 50.0), (0.0, 50.0), (0.0, 0.0)]);
    let turned: Ring = ring.iter().rev().copied().collect();
    let (found, _) = joined(vec![ring, turned]);
    assert_eq!((found.rings.len(), found.rings[0].times), (1, 2));
}

/// A hatch and the line around it differ by a hair, which must not make a hole of the one in the
/// other, wherever they lie.
#[test]
fn an_outline_and_its_hatch_are_one_wherever_they_lie() {
    for at in [0.0, 12.5, 100.05, -7.35, 0.5e-3] {
        let ring = |by: f64| {
            let (a, b) = (at + by, at + 90.0 - by);
            mm(&[(a, a), (b, a), (b, b), (a, b), (a, a)])
        };
        let (found, _) = joined(vec![ring(0.0), ring(1e-7), ring(-1e-7)]);
        assert_eq!((found.rings.len(), found.rings[0].times), (1, 3), "{at}");
    }
}

#[test]
fn specks_are_told_of() {
    let speck = mm(&[(0.0, 0.0), (0.5, 0.0), (0.5, 0.5), (0.0, 0.0)]);
    let (found, omitted) = joined(vec![speck]);
    assert!(found.rings.is_empty());
    assert_eq!((omitted[0].why, omitted[0].count), (Why::Speck, 1));
}

#[test]
fn a_million_points_are_read_and_no_more() {
    let odd = Piece { line: vec![Point { x_m: f64::NAN, y_m: 0.0 }; 2], layer: 0, name: None };
    assert!(matches!(Pieces::default().add(odd), Err(FileError::Broken(_))));
    let long = Piece { line: vec![Point::default(); MOST_POINTS + 1], layer: 0, name: None };
    assert!(matches!(Pieces::default().add(long), Err(FileError::TooMuch(_))));
    let boards = MOST_RINGS + 50;
    let lines: Vec<Ring> = (0..boards)
        .flat_map(|i| sides((i % 250) as f64 * 20.0, (i / 250) as f64 * 20.0, 10.0, 10.0))
        .collect();
    let (found, omitted) = joined(lines);
    assert_eq!((found.rings.len(), omitted[0].count), (MOST_RINGS, boards - MOST_RINGS));
}

proptest! {
    /// The sides of boards in any order and direction close to the boards.
    #[test]
    fn sides_close_in_any_order(
        seed in proptest::collection::vec(any::<u32>(), 40), columns in 1usize..4,
    ) {
        let mut lines: Vec<Ring> = (0..columns * 2)
            .flat_map(|i| sides(60.0 * (i % columns) as f64, 40.0 * (i / columns) as f64, 60.0, 40.0))
            .collect();
        for (index, value) in seed.iter().enumerate() {
            let (a, b) = (index % lines.len(), *value as usize % lines.len());
            lines.swap(a, b);
            if value % 2 == 0 {
                lines[a].reverse();
            }
        }
        prop_assert_eq!(areas(&joined(lines).0), vec![2400.0; columns * 2]);
    }
}
