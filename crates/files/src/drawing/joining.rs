//! Pieces of line, as drawing programs leave them, joined to closed rings.
//!
//! Ends that meet are knots of a net. What hangs from the net by one end is open; what is left is
//! walked round face by face, so that boards which touch at a corner, or share an edge that is drawn
//! once, come apart (M. de Berg et al., *Computational Geometry*, section 2.2).

mod cells;
mod faces;
mod knots;
mod piece;

use fondant_quantities::Length;
use fondant_shapes::geometry::{Bounds, Outline, Ring, signed_area_m2};

use super::{Closed, MOST_KEPT_POINTS, MOST_OPEN, MOST_POINTS, MOST_RINGS, Omitted, Open, Why};
use crate::FileError;
use cells::Cells;
use knots::Net;

pub use piece::Piece;

/// Largest coordinate that is read, m; squares of larger ones overflow.
const FARTHEST_M: f64 = 4e8;
/// Closed rings that enclose less are construction marks, square metres.
const SPECK_M2: f64 = 1e-6;

/// Pieces of line gathered from a drawing.
#[derive(Debug, Default)]
pub struct Pieces {
    all: Vec<Piece>,
    points: usize,
}

/// What the pieces of a drawing come to.
#[derive(Debug, Default)]
pub struct Joined {
    /// Closed rings, the largest first.
    pub rings: Vec<Closed>,
    /// What stays open, the longest first.
    pub open: Vec<Open>,
}

impl Pieces {
    /// Adds a piece; a piece of fewer than two points is nothing.
    ///
    /// # Errors
    /// Where the drawing has too many points, or one that is not a number.
    pub fn add(&mut self, piece: Piece) -> Result<(), FileError> {
        self.points += piece.line.len();
        if self.points > MOST_POINTS {
            return Err(FileError::TooMuch("too many points".into()));
        }
        if piece.line.iter().any(|p| !p.x_m.is_finite() || !p.y_m.is_finite()) {
            return Err(FileError::Broken("a coordinate is not a number".into()));
        }
        if piece.line.iter().any(|p| p.x_m.abs().max(p.y_m.abs()) > FARTHEST_M) {
            return Err(FileError::Broken("a coordinate is farther away than the moon".into()));
        }
        if piece.line.len() > 1 {
            self.all.push(piece);
        }
        Ok(())
    }

    /// Joins ends that are closer than `join`. `omitted` counts what is too small or too much,
    /// by the names of the layers.
    ///
    /// # Errors
    /// Where there is more than is handed on.
    pub fn joined(
        self,
        join: Length,
        layers: &[String],
        omitted: &mut Omitted,
    ) -> Result<Joined, FileError> {
        let within = join.m();
        let (closed, open): (Vec<Piece>, Vec<Piece>) =
            self.all.into_iter().partition(|piece| is_closed(&piece.line, within));
        let mut rings: Vec<Closed> = closed.into_iter().map(ring_of).collect();
        let mut net = Net::new(open, within);
        let loose = net.take_loose();
        rings.extend(faces::closed(&mut net));
        let loose = loose.into_iter().chain(net.take_bridges());
        let (open, more) = knots::open_lines(loose, within, MOST_OPEN);
        let name = |layer: usize| layers.get(layer).map_or("", String::as_str);
        for closed in &mut rings {
            closed.ring = Outline::new(std::mem::take(&mut closed.ring)).cleaned().outer;
        }
        rings.retain(|closed| {
            let is_speck = signed_area_m2(&closed.ring).abs() <= SPECK_M2;
            if is_speck {
                omitted.add("outline", name(closed.layer), Why::Speck, 1);
            }
            !is_speck
        });
        let mut rings = once_each(rings);
        for closed in rings.drain(MOST_RINGS.min(rings.len())..) {
            omitted.add("outline", name(closed.layer), Why::TooMany, 1);
        }
        for line in more {
            omitted.add("line", name(line.layer), Why::TooMany, 1);
        }
        let points: usize = rings.iter().map(|closed| closed.ring.len()).sum();
        if points + open.iter().map(|open| open.line.len()).sum::<usize>() > MOST_KEPT_POINTS {
            return Err(FileError::TooMuch("its outlines have too many points".into()));
        }
        Ok(Joined { rings, open })
    }
}

fn is_closed(line: &Ring, within: f64) -> bool {
    line.len() > 3 && line[0].minus(line[line.len() - 1]).norm_m() <= within
}

/// A closed piece without its last point, which is its first again.
fn ring_of(piece: Piece) -> Closed {
    let Piece { mut line, layer, name } = piece;
    line.pop();
    Closed { ring: line, layer, times: 1, name }
}

/// Rings whose middles and corners lie closer than this are one, metres.
const SAME_PLACE_M: f64 = 1e-4;

/// The rings in order of size, each that is drawn several times once.
fn once_each(mut rings: Vec<Closed>) -> Vec<Closed> {
    let area = |closed: &Closed| signed_area_m2(&closed.ring).abs();
    rings.sort_by(|a, b| area(b).total_cmp(&area(a)));
    let mut kept: Vec<(Bounds, Closed)> = Vec::new();
    let mut middles = Cells::new(SAME_PLACE_M);
    for closed in rings {
        let bounds = Bounds::of(&closed.ring);
        let is_twin = |(other, one): &(Bounds, Closed)| {
            let apart = [other.min.minus(bounds.min), other.max.minus(bounds.max)];
            apart.iter().all(|d| d.norm_m() <= SAME_PLACE_M)
                && (area(one) - area(&closed)).abs() < 1e-4 * area(&closed) + SPECK_M2
        };
        let twin = middles.around(bounds.middle()).map(|(_, i)| i).find(|i| is_twin(&kept[*i]));
        if let Some(twin) = twin {
            let twin = &mut kept[twin].1;
            twin.times += 1;
            twin.name = twin.name.take().or(closed.name);
        } else {
            middles.add(bounds.middle());
            kept.push((bounds, closed));
        }
    }
    kept.into_iter().map(|(_, closed)| closed).collect()
}

#[cfg(test)]
mod tests;
