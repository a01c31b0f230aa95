//! Points that are found again by where they lie.

use std::collections::HashMap;

use fondant_shapes::geometry::Point;

/// Points gathered in cells as wide as the distance within which they are one, metres.
pub(super) struct Cells {
    within: f64,
    cells: HashMap<(i64, i64), Vec<usize>>,
    points: Vec<Point>,
}

impl Cells {
    pub(super) fn new(within: f64) -> Self {
        Self { within: within.max(1e-9), cells: HashMap::new(), points: Vec::new() }
    }

    fn cell(&self, p: Point) -> (i64, i64) {
        ((p.x_m / self.within).floor() as i64, (p.y_m / self.within).floor() as i64)
    }

    /// The places of all points that lie close enough, with their distances.
    pub(super) fn around(&self, p: Point) -> impl Iterator<Item = (f64, usize)> + '_ {
        let (x, y) = self.cell(p);
        let cells = (-1..=1).flat_map(|i| (-1..=1).map(move |j| (i, j)));
        cells
            .filter_map(move |(i, j)| self.cells.get(&(x.saturating_add(i), y.saturating_add(j))))
            .flatten()
            .map(move |index| (self.points[*index].minus(p).norm_m(), *index))
            .filter(|(distance, _)| *distance <= self.within)
    }

    /// The nearest of them.
    pub(super) fn near(&self, p: Point) -> Option<usize> {
        self.around(p).min_by(|a, b| a.0.total_cmp(&b.0)).map(|(_, index)| index)
    }

    /// Adds a point; its place.
    pub(super) fn add(&mut self, p: Point) -> usize {
        let cell = self.cell(p);
        self.points.push(p);
        self.cells.entry(cell).or_default().push(self.points.len() - 1);
        self.points.len() - 1
    }

    pub(super) fn at(&self, place: usize) -> Point {
        self.points[place]
    }

    pub(super) fn len(&self) -> usize {
        self.points.len()
    }
}
