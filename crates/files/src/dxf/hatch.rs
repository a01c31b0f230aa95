//! The boundaries of hatches.

use fondant_shapes::geometry::{Point, Ring};

use super::pairs::Pair;
use super::spline::{BSpline, degree};
use crate::FileError;
use crate::drawing::flat;

/// Flags of a boundary: a polyline; the box of a text within the hatch.
const POLYLINE: i64 = 2;
const TEXT_BOX: i64 = 8;

/// Pairs of a hatch, read one after the other: their codes mean other things in other places.
struct Ahead<'a> {
    pairs: &'a [Pair<'a>],
}

impl Ahead<'_> {
    fn is_at(&self, code: i32) -> bool {
        self.pairs.first().is_some_and(|p| p.code == code)
    }

    fn next(&mut self) -> Result<Option<f64>, FileError> {
        let Some((first, rest)) = self.pairs.split_first() else { return Ok(None) };
        self.pairs = rest;
        first.number().map(Some)
    }

    /// The number of the next pair if it is of this code.
    fn take(&mut self, code: i32) -> Result<Option<f64>, FileError> {
        if self.is_at(code) { self.next() } else { Ok(None) }
    }

    fn number(&mut self, code: i32) -> Result<f64, FileError> {
        Ok(self.take(code)?.unwrap_or_default())
    }

    fn count(&mut self, code: i32) -> Result<usize, FileError> {
        Ok(self.number(code)?.clamp(0.0, 1e6) as usize)
    }

    fn point(&mut self, x: i32, y: i32) -> Result<Point, FileError> {
        Ok(Point { x_m: self.number(x)?, y_m: self.number(y)? })
    }
}

/// The closed lines around a hatch, in its own plane.
pub(super) fn boundaries(pairs: &[Pair<'_>], tolerance: f64) -> Result<Vec<Ring>, FileError> {
    // Before the number of its boundaries stands its elevation, which is no corner.
    let Some(begin) = pairs.iter().position(|p| p.code == 91) else { return Ok(Vec::new()) };
    let mut ahead = Ahead { pairs: &pairs[begin..] };
    let count = ahead.count(91)?;
    let mut rings = Vec::new();
    for _ in 0..count {
        while !ahead.is_at(92) {
            if ahead.pairs.is_empty() || ahead.is_at(75) {
                return Ok(rings);
            }
            ahead.pairs = &ahead.pairs[1..];
        }
        let kind = ahead.number(92)? as i64;
        let ring = match kind & POLYLINE {
            0 => edges(&mut ahead, tolerance)?,
            _ => polyline(&mut ahead, tolerance)?,
        };
        if kind & TEXT_BOX == 0 {
            rings.push(ring);
        }
    }
    Ok(rings)
}

fn polyline(ahead: &mut Ahead<'_>, tolerance: f64) -> Result<Ring, FileError> {
    let mut count = 0;
    // Whether it bulges and whether it is closed come in either order; a boundary is closed.
    while let Some(pair) = ahead.pairs.first().filter(|p| matches!(p.code, 72 | 73 | 93)) {
        if pair.code == 93 {
            count = ahead.count(93)?;
        } else {
            ahead.next()?;
        }
    }
    let mut vertices = Vec::new();
    for _ in 0..count {
        if !ahead.is_at(10) {
            break;
        }
        vertices.push((ahead.point(10, 20)?, ahead.number(42)?));
    }
    Ok(flat::bulging(&vertices, true, tolerance))
}

/// Lines and curves that follow each other.
fn edges(ahead: &mut Ahead<'_>, tolerance: f64) -> Result<Ring, FileError> {
    let mut ring = Ring::new();
    for _ in 0..ahead.count(93)? {
        if !ahead.is_at(72) {
            break;
        }
        let mut part = edge(ahead, tolerance)?;
        // An edge may be written against the direction of the others.
        if let (Some(end), [first, .., last]) = (ring.last(), &part[..])
            && last.minus(*end).norm_m() < first.minus(*end).norm_m()
        {
            part.reverse();
        }
        ring.extend(part);
    }
    ring.extend(ring.first().copied());
    Ok(ring)
}

fn edge(ahead: &mut Ahead<'_>, tolerance: f64) -> Result<Ring, FileError> {
    Ok(match ahead.number(72)? as i64 {
        1 => vec![ahead.point(10, 20)?, ahead.point(11, 21)?],
        2 => {
            let (middle, radius) = (ahead.point(10, 20)?, ahead.number(40)?);
            let (from, sweep) = turn(ahead)?;
            flat::arc(middle, radius, from, sweep, tolerance)
        }
        3 => {
            let (middle, major) = (ahead.point(10, 20)?, ahead.point(11, 21)?);
            let ratio = ahead.number(40)?;
            let minor = Point { x_m: -major.y_m * ratio, y_m: major.x_m * ratio };
            let (from, sweep) = turn(ahead)?;
            flat::elliptic(middle, (major, minor), from, sweep, tolerance)
        }
        4 => spline(ahead, tolerance)?,
        _ => Ring::new(),
    })
}

/// Where an arc begins and how far it goes, radians. One that runs clockwise counts its angles
/// clockwise too.
fn turn(ahead: &mut Ahead<'_>) -> Result<(f64, f64), FileError> {
    let (from, to) = (ahead.number(50)?.to_radians(), ahead.number(51)?.to_radians());
    let is_counterclockwise = ahead.take(73)?.is_none_or(|v| v != 0.0);
    let sweep = flat::sweep(from, to);
    Ok(if is_counterclockwise { (from, sweep) } else { (-from, -sweep) })
}

fn spline(ahead: &mut Ahead<'_>, tolerance: f64) -> Result<Ring, FileError> {
    let degree = degree(ahead.number(94)?);
    let _is_rational = ahead.take(73)?;
    let _is_periodic = ahead.take(74)?;
    let (knot_count, control_count) = (ahead.count(95)?, ahead.count(96)?);
    let mut knots = Vec::new();
    for _ in 0..knot_count {
        let Some(knot) = ahead.take(40)? else { break };
        knots.push(knot);
    }
    let (mut control, mut weights) = (Vec::new(), Vec::new());
    for _ in 0..control_count {
        if !ahead.is_at(10) {
            break;
        }
        control.push(ahead.point(10, 20)?);
        weights.extend(ahead.take(42)?);
    }
    Ok(BSpline { control, weights, knots, degree }.line(tolerance).unwrap_or_default())
}
