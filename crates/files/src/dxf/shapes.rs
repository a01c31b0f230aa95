//! Entities as lines, in the drawing's units and in their own plane.

use std::f64::consts::TAU;

use fondant_shapes::geometry::{Point, Ring};

use super::pairs::{Pair, first, flags};
use super::place::{Matrix, plane};
use super::tables::Entity;
use super::{hatch, spline};
use crate::FileError;
use crate::drawing::{Why, flat};

/// Flags of a polyline: in space; a mesh; faces. And of its vertex: a corner of a spline's frame.
const IN_SPACE: i64 = 8;
const MESHES: i64 = 16 | 64;
const FRAME_CORNER: i64 = 16;

/// The lines of an entity and the map from its plane to that of the drawing.
pub(super) type Lines = Result<(Vec<Ring>, Matrix), Why>;

/// The lines of an entity, flattened to a tolerance; the inner error says why it has none.
pub(super) fn lines(entity: &Entity<'_>, tolerance: f64) -> Result<Lines, FileError> {
    let p = entity.pairs;
    let at = |x: i32, y: i32| {
        Ok::<_, FileError>(Point { x_m: first(p, x, 0.0)?, y_m: first(p, y, 0.0)? })
    };
    let in_the_drawing = |line: Ring| Ok((vec![line], Matrix::ONE));
    let Some(own) = plane(p)? else {
        // These lie in space whatever their plane says.
        return Ok(match entity.name {
            "LINE" => in_the_drawing(vec![at(10, 20)?, at(11, 21)?]),
            "SPLINE" => in_the_drawing(spline::line(p, tolerance)?),
            _ => Err(Why::Tilted),
        });
    };
    Ok(match entity.name {
        "LINE" => in_the_drawing(vec![at(10, 20)?, at(11, 21)?]),
        "SPLINE" => in_the_drawing(spline::line(p, tolerance)?),
        "CIRCLE" => {
            Ok((vec![flat::arc(at(10, 20)?, first(p, 40, 0.0)?, 0.0, TAU, tolerance)], own))
        }
        "ARC" => {
            let (from, to) = (first(p, 50, 0.0)?.to_radians(), first(p, 51, 360.0)?.to_radians());
            let (radius, sweep) = (first(p, 40, 0.0)?, flat::sweep(from, to));
            Ok((vec![flat::arc(at(10, 20)?, radius, from, sweep, tolerance)], own))
        }
        "ELLIPSE" => in_the_drawing(ellipse(p, (at(10, 20)?, at(11, 21)?), tolerance)?),
        "LWPOLYLINE" => {
            let is_closed = flags(p, 70)? & 1 == 1;
            Ok((vec![flat::bulging(&light_vertices(p)?, is_closed, tolerance)], own))
        }
        "POLYLINE" => heavy(entity, own, tolerance)?,
        "HATCH" | "MPOLYGON" => Ok((hatch::boundaries(p, tolerance)?, own)),
        _ => Err(Why::NoLine),
    })
}

/// Part of an ellipse; its axes are given in the drawing, the sense of its angles by its plane.
fn ellipse(
    p: &[Pair<'_>],
    (middle, major): (Point, Point),
    tolerance: f64,
) -> Result<Ring, FileError> {
    let (from, to) = (first(p, 41, 0.0)?, first(p, 42, TAU)?);
    let ratio = first(p, 40, 1.0)? * if first(p, 230, 1.0)? < 0.0 { -1.0 } else { 1.0 };
    let minor = Point { x_m: -major.y_m * ratio, y_m: major.x_m * ratio };
    Ok(flat::elliptic(middle, (major, minor), from, flat::sweep(from, to), tolerance))
}

/// A polyline of vertices that are entities of their own.
fn heavy(entity: &Entity<'_>, own: Matrix, tolerance: f64) -> Result<Lines, FileError> {
    let kind = flags(entity.pairs, 70)?;
    if kind & MESHES != 0 {
        return Ok(Err(Why::NoLine));
    }
    let mut vertices = Vec::new();
    for v in &entity.vertices {
        if flags(v, 70)? & FRAME_CORNER == 0 {
            let place = Point { x_m: first(v, 10, 0.0)?, y_m: first(v, 20, 0.0)? };
            vertices.push((place, first(v, 42, 0.0)?));
        }
    }
    let plane = if kind & IN_SPACE != 0 { Matrix::ONE } else { own };
    Ok(Ok((vec![flat::bulging(&vertices, kind & 1 == 1, tolerance)], plane)))
}

fn light_vertices(pairs: &[Pair<'_>]) -> Result<Vec<(Point, f64)>, FileError> {
    let mut vertices: Vec<(Point, f64)> = Vec::new();
    for pair in pairs {
        match (pair.code, vertices.last_mut()) {
            (10, _) => vertices.push((Point { x_m: pair.number()?, y_m: 0.0 }, 0.0)),
            (20, Some(last)) => last.0.y_m = pair.number()?,
            (42, Some(last)) => last.1 = pair.number()?,
            _ => {}
        }
    }
    Ok(vertices)
}
