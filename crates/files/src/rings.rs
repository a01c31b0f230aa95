//! Lines and curves, as drawing programs leave them, joined to closed outlines.

use fondant_shapes::geometry::{Outline, Point, Ring, faults, signed_area_m2};

use crate::{FileError, MOST_POINTS};

/// Ends closer than this are one, metres: a tenth of a millimetre.
const JOINED_M: f64 = 1e-4;
/// Closed lines that enclose less are construction marks, square metres.
const SPECK_M2: f64 = 1e-6;
/// Most pieces whose ends are looked at.
const MOST_PIECES: usize = 8_000;
/// Most closed lines: forty boards with ten holes each.
const MOST_CLOSED: usize = 400;

/// Pieces of line, open or closed, gathered from a drawing.
#[derive(Debug, Default)]
pub struct Pieces {
    lines: Vec<Ring>,
    points: usize,
}

impl Pieces {
    /// Adds a piece; a piece of fewer than two points is nothing.
    ///
    /// # Errors
    /// Where the drawing has too many points, or one that is not a number.
    pub fn add(&mut self, line: Ring) -> Result<(), FileError> {
        self.points += line.len();
        if self.points > MOST_POINTS || self.lines.len() > MOST_PIECES {
            return Err(FileError::TooMuch("too many points".into()));
        }
        if line.iter().any(|p| !p.x_m.is_finite() || !p.y_m.is_finite()) {
            return Err(FileError::Broken("a coordinate is not a number".into()));
        }
        if line.len() > 1 {
            self.lines.push(line);
        }
        Ok(())
    }

    /// Joins ends that meet, and gives holes to the outline around them.
    ///
    /// # Errors
    /// [`FileError::NothingClosed`] where no piece closes.
    pub fn outlines(self) -> Result<Vec<Outline>, FileError> {
        let (mut closed, mut open): (Vec<Ring>, Vec<Ring>) =
            self.lines.into_iter().partition(is_closed);
        let mut loose = 0;
        while let Some(mut chain) = open.pop() {
            while !is_closed(&chain) {
                let end = chain[chain.len() - 1];
                let Some((index, turned)) = nearest_end(&open, end) else { break };
                let mut next = open.swap_remove(index);
                if turned {
                    next.reverse();
                }
                chain.extend(next.into_iter().skip(1));
            }
            if is_closed(&chain) && chain.len() > 3 {
                closed.push(chain);
            } else {
                loose += 1;
            }
        }
        closed.retain(|ring| signed_area_m2(ring).abs() > SPECK_M2);
        if closed.len() > MOST_CLOSED {
            return Err(FileError::TooMuch("too many closed outlines".into()));
        }
        if closed.is_empty() {
            return Err(FileError::NothingClosed { open: loose });
        }
        Ok(nested(closed))
    }
}

fn is_closed(line: &Ring) -> bool {
    line.len() > 2 && line[0].minus(line[line.len() - 1]).norm_m() <= JOINED_M
}

/// The piece with an end nearest to a point, and whether it must be turned.
fn nearest_end(pieces: &[Ring], end: Point) -> Option<(usize, bool)> {
    let mut best: Option<(f64, usize, bool)> = None;
    for (index, piece) in pieces.iter().enumerate() {
        for (turned, tip) in [(false, piece[0]), (true, piece[piece.len() - 1])] {
            let distance = tip.minus(end).norm_m();
            if distance <= JOINED_M && best.is_none_or(|(least, ..)| distance < least) {
                best = Some((distance, index, turned));
            }
        }
    }
    best.map(|(_, index, turned)| (index, turned))
}

/// Rings inside an odd number of others are holes of the smallest of these.
fn nested(mut rings: Vec<Ring>) -> Vec<Outline> {
    rings.sort_by(|a, b| signed_area_m2(b).abs().total_cmp(&signed_area_m2(a).abs()));
    let mut outlines: Vec<Outline> = Vec::new();
    let mut depth: Vec<(Ring, usize, Option<usize>)> = Vec::new();
    for ring in rings {
        let probe = ring[0].towards(ring[1], 0.5);
        let around = depth.iter().rev().find(|(outer, ..)| faults::contains(outer, probe));
        let (level, home) = around.map_or((0, None), |(_, level, home)| (level + 1, *home));
        let home = if level % 2 == 0 {
            outlines.push(Outline::new(ring.clone()));
            Some(outlines.len() - 1)
        } else {
            if let Some(outline) = home.and_then(|i| outlines.get_mut(i)) {
                outline.holes.push(ring.clone());
            }
            home
        };
        depth.push((ring, level, home));
    }
    outlines.iter().map(Outline::cleaned).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn line(points: &[(f64, f64)]) -> Ring {
        points.iter().map(|(x, y)| Point::from_mm(*x, *y)).collect()
    }

    #[test]
    fn four_loose_lines_close_to_a_rectangle() {
        let mut pieces = Pieces::default();
        for side in [
            [(0.0, 0.0), (100.0, 0.0)],
            [(100.0, 50.0), (100.0, 0.03)],
            [(0.0, 50.0), (100.0, 50.0)],
            [(0.0, 50.0), (0.0, 0.0)],
        ] {
            pieces.add(line(&side)).unwrap();
        }
        let outlines = pieces.outlines().unwrap();
        assert_eq!(outlines.len(), 1);
        assert!((outlines[0].area().m2() - 0.005).abs() < 1e-5);
    }

    #[test]
    fn a_ring_in_a_ring_is_a_hole_and_one_in_that_is_a_board_again() {
        let square = |half: f64| {
            line(&[(-half, -half), (half, -half), (half, half), (-half, half), (-half, -half)])
        };
        let mut pieces = Pieces::default();
        for half in [20.0, 100.0, 60.0] {
            pieces.add(square(half)).unwrap();
        }
        let outlines = pieces.outlines().unwrap();
        assert_eq!(outlines.len(), 2);
        assert_eq!(outlines[0].holes.len(), 1);
        assert!((outlines[0].area().m2() - (0.04 - 0.0144)).abs() < 1e-12);
    }

    #[test]
    fn open_lines_and_numbers_that_are_none_are_refused() {
        let mut pieces = Pieces::default();
        pieces.add(line(&[(0.0, 0.0), (100.0, 0.0), (100.0, 50.0)])).unwrap();
        assert_eq!(pieces.outlines(), Err(FileError::NothingClosed { open: 1 }));
        let odd = Pieces::default().add(vec![Point { x_m: f64::NAN, y_m: 0.0 }; 2]);
        assert!(matches!(odd, Err(FileError::Broken(_))));
        let long = Pieces::default().add(vec![Point::default(); MOST_POINTS + 1]);
        assert!(matches!(long, Err(FileError::TooMuch(_))));
    }
}
