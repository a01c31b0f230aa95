//! Outlines from and to DXF (ASCII): lines, polylines with bulges, arcs,
//! circles, ellipses and splines, in the units that its header names.
//!
//! A reader of group codes of its own: it tells the line of what is wrong, and
//! malformed pairs are errors, where the readers at hand panic.

use fondant_quantities::Length;
use fondant_shapes::geometry::{Outline, Point, Ring};

use crate::rings::Pieces;
use crate::{DRAWING_LIMIT, FLATTENED_TO, FileError, sized};

/// Segments of a full turn at most: 0.05 mm at five metres.
const MOST_SEGMENTS: f64 = 720.0;
/// Points along a spline for each of its control points.
const SPLINE_STEPS: usize = 12;
/// Highest degree of a spline.
const MOST_DEGREE: usize = 9;

/// A group code and its value.
struct Pair<'a> {
    code: i32,
    value: &'a str,
    /// Line of the value, from 1.
    line: usize,
}

/// Closed outlines of a drawing, in metres. Without a unit in the header a
/// length counts as millimetres. The y axis of DXF points up and ours down the
/// sheet: the drawing is turned over about its origin, which stays where it is.
///
/// # Errors
/// [`FileError`]: why it was not read.
pub fn read(bytes: &[u8]) -> Result<Vec<Outline>, FileError> {
    sized(bytes, DRAWING_LIMIT)?;
    if bytes.starts_with(b"AutoCAD Binary DXF") {
        return Err(FileError::Broken("binary DXF is not read; save it as text".into()));
    }
    let text = String::from_utf8_lossy(bytes);
    let pairs = pairs(&text)?;
    if !pairs.iter().any(|p| p.code == 0 && p.value == "SECTION") {
        return Err(FileError::NotThis { wanted: "DXF".into() });
    }
    let unit = unit(&pairs)?;
    let mut pieces = Pieces::default();
    for entity in entities(&pairs) {
        for line in entity.lines(unit)? {
            pieces.add(line)?;
        }
    }
    let outlines = pieces.outlines()?;
    Ok(outlines.iter().map(|o| o.map(|p| Point { x_m: p.x_m, y_m: -p.y_m }).cleaned()).collect())
}

fn pairs(text: &str) -> Result<Vec<Pair<'_>>, FileError> {
    let mut lines = text.lines().enumerate();
    let mut pairs = Vec::new();
    while let Some((index, code)) = lines.next() {
        let code = code.trim();
        if code.is_empty() && lines.clone().all(|(_, rest)| rest.trim().is_empty()) {
            break;
        }
        let line = index + 1;
        let code = code.parse().map_err(|_| match index {
            0 => FileError::NotThis { wanted: "DXF".into() },
            _ => FileError::BrokenLine { what: "a group code is not a number".into(), line },
        })?;
        let Some((_, value)) = lines.next() else {
            return Err(FileError::BrokenLine { what: "the file breaks off".into(), line });
        };
        pairs.push(Pair { code, value: value.trim(), line: line + 1 });
        if pairs.last().is_some_and(|p| p.code == 0 && p.value == "EOF") {
            break;
        }
    }
    Ok(pairs)
}

/// One unit of the drawing ($INSUNITS of the header).
fn unit(pairs: &[Pair<'_>]) -> Result<Length, FileError> {
    let Some(at) = pairs.iter().position(|p| p.code == 9 && p.value == "$INSUNITS") else {
        return Ok(Length::from_mm(1.0));
    };
    let Some(pair) = pairs.get(at + 1) else { return Ok(Length::from_mm(1.0)) };
    Ok(Length::from_mm(match pair.value {
        "0" | "4" => 1.0,
        "1" => 25.4,
        "2" => 304.8,
        "5" => 10.0,
        "6" => 1000.0,
        "8" => 25.4e-6,
        "9" => 0.0254,
        "10" => 914.4,
        "13" => 1e-3,
        "14" => 100.0,
        _ => {
            return Err(FileError::BrokenLine {
                what: "its unit is not one of a drawing for a bench".into(),
                line: pair.line,
            });
        }
    }))
}

/// An entity's name and the pairs that follow it.
struct Entity<'a> {
    name: &'a str,
    pairs: &'a [Pair<'a>],
    /// Vertices of an old polyline.
    vertices: Vec<&'a [Pair<'a>]>,
}

fn entities<'a>(pairs: &'a [Pair<'a>]) -> Vec<Entity<'a>> {
    let begin = pairs.iter().position(|p| p.code == 2 && p.value == "ENTITIES");
    let Some(begin) = begin else { return Vec::new() };
    let rest = &pairs[begin + 1..];
    let starts: Vec<usize> =
        rest.iter().enumerate().filter(|(_, p)| p.code == 0).map(|(i, _)| i).collect();
    let mut all: Vec<Entity<'a>> = Vec::new();
    for (i, &start) in starts.iter().enumerate() {
        let end = starts.get(i + 1).copied().unwrap_or(rest.len());
        let (name, body) = (rest[start].value, &rest[start + 1..end]);
        match name {
            "ENDSEC" => break,
            "VERTEX" => {
                if let Some(polyline) = all.last_mut().filter(|e| e.name == "POLYLINE") {
                    polyline.vertices.push(body);
                }
            }
            "SEQEND" => {}
            _ => all.push(Entity { name, pairs: body, vertices: Vec::new() }),
        }
    }
    all
}

fn number(pair: &Pair<'_>) -> Result<f64, FileError> {
    match pair.value.parse::<f64>() {
        Ok(value) if value.is_finite() => Ok(value),
        _ => Err(FileError::BrokenLine {
            what: "a coordinate is not a number".into(),
            line: pair.line,
        }),
    }
}

/// The first value of a code, or a default.
fn first(pairs: &[Pair<'_>], code: i32, default: f64) -> Result<f64, FileError> {
    pairs.iter().find(|p| p.code == code).map_or(Ok(default), number)
}

fn all(pairs: &[Pair<'_>], code: i32) -> Result<Vec<f64>, FileError> {
    pairs.iter().filter(|p| p.code == code).map(number).collect()
}

impl Entity<'_> {
    fn lines(&self, unit: Length) -> Result<Vec<Ring>, FileError> {
        let p = self.pairs;
        let point = |x: f64, y: f64| Point { x_m: x * unit.m(), y_m: y * unit.m() };
        let at = |x: i32, y: i32| Ok::<_, FileError>(point(first(p, x, 0.0)?, first(p, y, 0.0)?));
        Ok(match self.name {
            "LINE" => vec![vec![at(10, 20)?, at(11, 21)?]],
            "CIRCLE" => {
                let radius = first(p, 40, 0.0)? * unit.m();
                vec![turn(at(10, 20)?, radius, 0.0, std::f64::consts::TAU)]
            }
            "ARC" => {
                let radius = first(p, 40, 0.0)? * unit.m();
                let from = first(p, 50, 0.0)?.to_radians();
                let to = first(p, 51, 360.0)?.to_radians();
                vec![turn(at(10, 20)?, radius, from, sweep(from, to))]
            }
            "ELLIPSE" => {
                let (from, to) = (first(p, 41, 0.0)?, first(p, 42, std::f64::consts::TAU)?);
                let circle = turn(Point::default(), 1.0, from, sweep(from, to));
                let (middle, major) = (at(10, 20)?, at(11, 21)?);
                let ratio = first(p, 40, 1.0)?;
                let minor = Point { x_m: -major.y_m * ratio, y_m: major.x_m * ratio };
                vec![
                    circle
                        .into_iter()
                        .map(|c| middle.plus(major.times(c.x_m)).plus(minor.times(c.y_m)))
                        .collect(),
                ]
            }
            "LWPOLYLINE" => vec![polyline(&light_vertices(p, unit)?, self.is_closed()?)],
            "POLYLINE" => {
                let mut vertices = Vec::new();
                for v in &self.vertices {
                    let place = point(first(v, 10, 0.0)?, first(v, 20, 0.0)?);
                    vertices.push((place, first(v, 42, 0.0)?));
                }
                vec![polyline(&vertices, self.is_closed()?)]
            }
            "SPLINE" => vec![self.spline(unit)?],
            _ => Vec::new(),
        })
    }

    fn is_closed(&self) -> Result<bool, FileError> {
        Ok(first(self.pairs, 70, 0.0)? as i64 & 1 == 1)
    }

    fn spline(&self, unit: Length) -> Result<Ring, FileError> {
        let p = self.pairs;
        let points = |x: i32, y: i32| -> Result<Vec<Point>, FileError> {
            let (xs, ys) = (all(p, x)?, all(p, y)?);
            Ok(xs
                .into_iter()
                .zip(ys)
                .map(|(x, y)| Point { x_m: x, y_m: y }.times(unit.m()))
                .collect())
        };
        let control = points(10, 20)?;
        let (knots, degree) =
            (all(p, 40)?, first(p, 71, 3.0)?.clamp(1.0, MOST_DEGREE as f64) as usize);
        let in_order = knots.windows(2).all(|pair| pair[0] <= pair[1]);
        if control.len() <= degree || knots.len() != control.len() + degree + 1 || !in_order {
            // Without a sound net of control points, the points it runs through.
            return points(11, 21);
        }
        let weights = all(p, 41)?;
        let weights =
            if weights.len() == control.len() { weights } else { vec![1.0; control.len()] };
        let (from, to) = (knots[degree], knots[control.len()]);
        let steps = control.len().saturating_mul(SPLINE_STEPS).min(crate::MOST_POINTS);
        Ok((0..=steps)
            .filter_map(|i| {
                let t = from + (to - from) * i as f64 / steps as f64;
                de_boor(&control, &weights, &knots, degree, t)
            })
            .collect())
    }
}

fn light_vertices(pairs: &[Pair<'_>], unit: Length) -> Result<Vec<(Point, f64)>, FileError> {
    let mut vertices: Vec<(Point, f64)> = Vec::new();
    for pair in pairs {
        match (pair.code, vertices.last_mut()) {
            (10, _) => vertices.push((Point { x_m: number(pair)? * unit.m(), y_m: 0.0 }, 0.0)),
            (20, Some(last)) => last.0.y_m = number(pair)? * unit.m(),
            (42, Some(last)) => last.1 = number(pair)?,
            _ => {}
        }
    }
    Ok(vertices)
}

/// From one angle counterclockwise to the other; a full turn where they agree.
fn sweep(from: f64, to: f64) -> f64 {
    let sweep = (to - from).rem_euclid(std::f64::consts::TAU);
    if sweep < 1e-9 { std::f64::consts::TAU } else { sweep }
}

/// Part of a circle as a line, closed exactly where it is a full turn.
fn turn(middle: Point, radius: f64, from: f64, sweep: f64) -> Ring {
    let steps = segments(radius, sweep);
    let at = |angle: f64| {
        let (sin, cos) = angle.sin_cos();
        middle.plus(Point { x_m: radius * cos, y_m: radius * sin })
    };
    let mut ring: Ring = (0..=steps).map(|i| at(from + sweep * i as f64 / steps as f64)).collect();
    if (sweep.abs() - std::f64::consts::TAU).abs() < 1e-9 {
        let last = ring.len() - 1;
        ring[last] = ring[0];
    }
    ring
}

/// Steps that keep a chord within the flattening of its arc.
fn segments(radius: f64, sweep: f64) -> usize {
    let ratio = (1.0 - FLATTENED_TO.m() / radius.abs().max(FLATTENED_TO.m())).clamp(-1.0, 1.0);
    let step = (2.0 * ratio.acos()).max(std::f64::consts::TAU / MOST_SEGMENTS);
    (sweep.abs() / step).ceil().clamp(8.0, MOST_SEGMENTS) as usize
}

/// A polyline whose edges may bulge: the bulge is the tangent of a quarter of
/// the arc's angle.
fn polyline(vertices: &[(Point, f64)], closed: bool) -> Ring {
    let mut ring = Vec::new();
    for (index, (a, bulge)) in vertices.iter().enumerate() {
        ring.push(*a);
        let next = if index + 1 < vertices.len() { index + 1 } else { 0 };
        if (next == 0 && !closed) || bulge.abs() < 1e-9 {
            continue;
        }
        let b = vertices[next].0;
        let (chord, sweep) = (b.minus(*a), 4.0 * bulge.atan());
        let radius = 0.5 * chord.norm_m() / (0.5 * sweep).sin().abs().max(1e-12);
        let height = 0.5 * chord.norm_m() / (0.5 * sweep).tan();
        let normal =
            Point { x_m: -chord.y_m, y_m: chord.x_m }.times(1.0 / chord.norm_m().max(1e-12));
        let middle = a.towards(b, 0.5).plus(normal.times(height));
        let from = a.minus(middle).y_m.atan2(a.minus(middle).x_m);
        let arc = turn(middle, radius, from, sweep);
        ring.extend(arc[1..arc.len() - 1].iter().copied());
    }
    if closed && let Some(first) = ring.first().copied() {
        ring.push(first);
    }
    ring
}

/// A point of a rational B-spline (C. de Boor, *A Practical Guide to Splines*,
/// chapter IX, in homogeneous coordinates).
fn de_boor(
    control: &[Point],
    weights: &[f64],
    knots: &[f64],
    degree: usize,
    t: f64,
) -> Option<Point> {
    let last = control.len() - 1;
    let span = knots.partition_point(|knot| *knot <= t).saturating_sub(1).clamp(degree, last);
    let mut d: Vec<(Point, f64)> = (0..=degree)
        .map(|j| {
            let i = span - degree + j;
            (control[i].times(weights[i]), weights[i])
        })
        .collect();
    for round in 1..=degree {
        for j in (round..=degree).rev() {
            let i = span - degree + j;
            let width = knots[i + degree + 1 - round] - knots[i];
            let share = if width.abs() > 1e-15 { (t - knots[i]) / width } else { 0.0 };
            d[j] = (d[j - 1].0.towards(d[j].0, share), d[j - 1].1 * (1.0 - share) + d[j].1 * share);
        }
    }
    let (p, w) = d[degree];
    (w.abs() > 1e-12).then(|| p.times(1.0 / w))
}

/// A drawing at 1:1 in millimetres: each ring a closed polyline on a layer of
/// its outline's name.
#[must_use]
pub fn write(outlines: &[(String, Outline)], width: Length) -> String {
    let mut out = String::from(
        "0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1015\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n",
    );
    for (name, outline) in outlines {
        let layer: String =
            name.chars().map(|c| if c.is_alphanumeric() { c } else { '_' }).collect();
        for ring in outline.rings() {
            out.push_str(&format!(
                "0\nLWPOLYLINE\n100\nAcDbEntity\n8\n{layer}\n100\nAcDbPolyline\n90\n{}\n70\n1\n",
                ring.len()
            ));
            for p in ring {
                // Up the sheet again.
                let y = width.m() - p.y_m;
                out.push_str(&format!("10\n{:.5}\n20\n{:.5}\n", p.x_m * 1e3, y * 1e3));
            }
        }
    }
    out.push_str("0\nENDSEC\n0\nEOF\n");
    out
}

#[cfg(test)]
mod tests;
