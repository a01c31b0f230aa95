//! What `usvg` makes of a drawing, as pieces of line.

use std::collections::HashSet;

use fondant_shapes::geometry::overlay::{Filled, filled, within};
use fondant_shapes::geometry::{Bounds, Outline, Point, Ring, faults};
use kurbo::{BezPath, PathEl};
use usvg::tiny_skia_path::{PathSegment, Transform};

use super::size::Scale;
use super::source::Source;
use crate::drawing::MOST_POINTS;
use crate::drawing::joining::Piece;
use crate::{FLATTENED_TO, FileError};

/// Largest coordinate that is read, m. A curve with such a point would be cut into chords without end.
const FARTHEST_M: f64 = 1e4;
/// Areas whose clip leaves all but this share are left as they are.
const WHOLE: f64 = 1e-6;

/// The pieces of line of a drawing.
pub(super) struct Found<'a> {
    source: &'a Source,
    scale: &'a Scale,
    origin: Point,
    lines: Vec<Piece>,
    points: usize,
    drawn: HashSet<String>,
    clipped: HashSet<String>,
    /// Regions by which what is being looked at is cut, one within the other.
    clips: Vec<Vec<Outline>>,
    /// Ids of the groups around it.
    groups: Vec<String>,
}

impl<'a> Found<'a> {
    pub(super) fn new(source: &'a Source, scale: &'a Scale, origin: Point) -> Self {
        Self {
            source,
            scale,
            origin,
            lines: Vec::new(),
            points: 0,
            drawn: HashSet::new(),
            clipped: HashSet::new(),
            clips: Vec::new(),
            groups: Vec::new(),
        }
    }

    /// The pieces, the ids of what was drawn, and of what was cut away whole.
    pub(super) fn done(self) -> (Vec<Piece>, HashSet<String>, HashSet<String>) {
        (self.lines, self.drawn, self.clipped)
    }

    /// Gathers what is in a group.
    pub(super) fn gather(&mut self, group: &usvg::Group) -> Result<(), FileError> {
        let before = self.clips.len();
        let mut clip = group.clip_path();
        while let Some(path) = clip {
            let region = self.region(path, group.abs_transform())?;
            self.clips.push(region);
            clip = path.clip_path();
        }
        self.groups.push(group.id().to_owned());
        for node in group.children() {
            match node {
                usvg::Node::Group(inner) => self.gather(inner)?,
                usvg::Node::Path(path) if path.is_visible() => self.path(path)?,
                usvg::Node::Path(_) | usvg::Node::Image(_) | usvg::Node::Text(_) => {}
            }
        }
        self.groups.pop();
        self.clips.truncate(before);
        Ok(())
    }

    /// What a clip path leaves to be seen.
    fn region(&mut self, clip: &usvg::ClipPath, at: Transform) -> Result<Vec<Outline>, FileError> {
        let mut region = Vec::new();
        let at = at.pre_concat(clip.transform());
        self.regions_of(clip.root(), at, &mut region)?;
        Ok(region)
    }

    fn regions_of(
        &mut self,
        group: &usvg::Group,
        at: Transform,
        region: &mut Vec<Outline>,
    ) -> Result<(), FileError> {
        for node in group.children() {
            match node {
                usvg::Node::Group(inner) => self.regions_of(inner, at, region)?,
                usvg::Node::Path(path) => {
                    let to = at.pre_concat(path.abs_transform());
                    let mut rings = self.flattened(path.data(), to, true)?;
                    rings.retain(|ring| ring.len() > 3);
                    let rule = path.fill().map(usvg::Fill::rule);
                    region.extend(match rule {
                        Some(usvg::FillRule::EvenOdd) => filled(&rings, Filled::EvenOdd),
                        _ => filled(&rings, Filled::NonZero),
                    });
                }
                usvg::Node::Image(_) | usvg::Node::Text(_) => {}
            }
        }
        Ok(())
    }

    fn path(&mut self, path: &usvg::Path) -> Result<(), FileError> {
        let own = Some(path.id()).filter(|id| !id.is_empty());
        // A shape that is drawn again by reference has no id; who refers to it has.
        let mut ids = own.into_iter().chain(self.groups.iter().rev().map(String::as_str));
        let found = ids.find_map(|id| Some((id.to_owned(), self.source.shapes.get(id)?)));
        let (layer, name) = match &found {
            Some((id, shape)) => {
                self.drawn.insert(id.clone());
                (shape.layer, shape.name.clone())
            }
            None => (0, None),
        };
        // What is filled and not stroked is seen as an area, closed or not.
        let is_area = path.fill().is_some() && path.stroke().is_none();
        let lines = self.flattened(path.data(), path.abs_transform(), is_area)?;
        let mut is_left = false;
        for line in lines {
            for line in self.cut(line) {
                is_left = true;
                self.lines.push(Piece { line, layer, name: name.clone() });
            }
        }
        if let Some((id, _)) = found.filter(|_| !is_left) {
            self.drawn.remove(&id);
            self.clipped.insert(id);
        }
        Ok(())
    }

    /// What the clips leave of a line.
    fn cut(&self, line: Ring) -> Vec<Ring> {
        let mut left = vec![line];
        for region in &self.clips {
            left = left.into_iter().flat_map(|line| cut_by(line, region)).collect();
        }
        left
    }

    /// Data of a path as lines in metres from the origin.
    fn flattened(
        &mut self,
        data: &usvg::tiny_skia_path::Path,
        transform: Transform,
        is_area: bool,
    ) -> Result<Vec<Ring>, FileError> {
        let Some(data) = data.clone().transform(transform) else { return Ok(Vec::new()) };
        let farthest = FARTHEST_M / self.scale.pixel.m();
        let reaches = |p: &usvg::tiny_skia_path::Point| f64::from(p.x.abs().max(p.y.abs()));
        if !data.points().iter().all(|p| reaches(p) <= farthest) {
            return Err(FileError::TooMuch("it has a point ten kilometres away".into()));
        }
        let tolerance = FLATTENED_TO.m() / self.scale.pixel.m();
        let (mut rings, mut line, mut left) = (Vec::new(), Ring::new(), MOST_POINTS - self.points);
        kurbo::flatten(bezier(&data), tolerance, |element| {
            left = left.saturating_sub(1);
            if left == 0 {
                return;
            }
            match element {
                PathEl::MoveTo(p) => {
                    rings.push(std::mem::take(&mut line));
                    line.push(self.metres(p));
                }
                PathEl::LineTo(p) => line.push(self.metres(p)),
                PathEl::ClosePath => line.extend(line.first().copied()),
                // Flattening leaves lines alone.
                PathEl::QuadTo(..) | PathEl::CurveTo(..) => {}
            }
        });
        rings.push(line);
        self.points = MOST_POINTS - left;
        if left == 0 {
            return Err(FileError::TooMuch("too many points".into()));
        }
        rings.retain(|ring| ring.len() > 1);
        if is_area {
            for ring in &mut rings {
                if ring.len() > 2 && ring.first() != ring.last() {
                    ring.extend(ring.first().copied());
                }
            }
        }
        Ok(rings)
    }

    fn metres(&self, p: kurbo::Point) -> Point {
        Point { x_m: p.x, y_m: p.y }.times(self.scale.pixel.m()).minus(self.origin)
    }
}

/// The parts of a line within a region. An open line is there or not.
fn cut_by(line: Ring, region: &[Outline]) -> Vec<Ring> {
    if line.first() != line.last() || line.len() < 4 {
        let holds = |r: &Outline, p: Point| {
            faults::contains(&r.outer, p) && !r.holes.iter().any(|hole| faults::contains(hole, p))
        };
        let is_in = |p: &Point| region.iter().any(|r| holds(r, *p));
        return if line.iter().any(is_in) { vec![line] } else { Vec::new() };
    }
    let whole = Outline::new(line[..line.len() - 1].to_vec());
    // A page around everything is the usual clip, and cuts nothing.
    let is_page = |r: &Outline| {
        let b = r.bounds();
        r.outer.len() <= 5
            && r.holes.is_empty()
            && (b_area(&b) - r.area().m2()).abs() < 1e-9
            && b.holds(&whole.bounds())
    };
    if region.iter().any(is_page) {
        return vec![line];
    }
    let parts = within(&whole, region);
    let left: f64 = parts.iter().map(|part| part.area().m2()).sum();
    if (left / whole.area().m2() - 1.0).abs() < WHOLE {
        return vec![line];
    }
    let closed = |mut ring: Ring| {
        ring.extend(ring.first().copied());
        ring
    };
    parts
        .into_iter()
        .flat_map(|part| std::iter::once(part.outer).chain(part.holes))
        .map(closed)
        .collect()
}

fn b_area(bounds: &Bounds) -> f64 {
    (bounds.max.x_m - bounds.min.x_m) * (bounds.max.y_m - bounds.min.y_m)
}

fn bezier(data: &usvg::tiny_skia_path::Path) -> BezPath {
    let at = |p: usvg::tiny_skia_path::Point| (f64::from(p.x), f64::from(p.y));
    let mut path = BezPath::new();
    for segment in data.segments() {
        match segment {
            PathSegment::MoveTo(p) => path.move_to(at(p)),
            PathSegment::LineTo(p) => path.line_to(at(p)),
            PathSegment::QuadTo(a, p) => path.quad_to(at(a), at(p)),
            PathSegment::CubicTo(a, b, p) => path.curve_to(at(a), at(b), at(p)),
            PathSegment::Close => path.close_path(),
        }
    }
    path
}
