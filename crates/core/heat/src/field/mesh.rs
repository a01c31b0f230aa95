//! Where the cells of a section or block lie.

/// One direction of a mesh: the faces between cells, rising, m.
#[derive(Debug, Clone, PartialEq)]
pub struct Axis {
    faces_m: Vec<f64>,
}

/// How cells are sized along an axis.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sizing {
    /// Cell at a place where something changes, m.
    pub smallest_m: f64,
    /// Cell far from any such place, m.
    pub largest_m: f64,
    /// Each cell is at most this much larger than its neighbour.
    pub growth: f64,
}

impl Axis {
    /// One cell that is `width_m` thick: a direction in which nothing changes.
    #[must_use]
    pub fn single(width_m: f64) -> Self {
        Self { faces_m: vec![0.0, width_m] }
    }

    /// `count` equal cells in each of the stretches between the places given.
    #[must_use]
    pub fn equal(stretches: &[(f64, f64, usize)]) -> Self {
        let mut faces_m: Vec<f64> = stretches.first().map(|s| s.0).into_iter().collect();
        for (from, to, count) in stretches {
            faces_m.extend(
                (1..=*count).map(|i| from + (to - from) * (i as f64 / (*count).max(1) as f64)),
            );
        }
        Self { faces_m }
    }

    /// Cells that are small at every place given but `plain` ones and grow
    /// from there. `plain` says of a place's index whether nothing changes there:
    /// a line of symmetry, the end of a board.
    #[must_use]
    pub fn graded(places_m: &[f64], plain: impl Fn(usize) -> bool, sizing: Sizing) -> Self {
        let mut faces_m = vec![places_m[0]];
        for (index, pair) in places_m.windows(2).enumerate() {
            let size = |at| if plain(at) { sizing.largest_m } else { sizing.smallest_m };
            let widths = stretch(pair[1] - pair[0], size(index), size(index + 1), sizing);
            let mut at = pair[0];
            for width in &widths[..widths.len() - 1] {
                at += width;
                faces_m.push(at);
            }
            faces_m.push(pair[1]);
        }
        Self { faces_m }
    }

    /// Number of cells.
    #[must_use]
    pub fn cells(&self) -> usize {
        self.faces_m.len() - 1
    }

    /// The faces between cells, and the two ends.
    #[must_use]
    pub fn faces_m(&self) -> &[f64] {
        &self.faces_m
    }

    /// Thickness of a cell.
    #[must_use]
    pub fn width_m(&self, cell: usize) -> f64 {
        self.faces_m[cell + 1] - self.faces_m[cell]
    }

    /// Middle of a cell.
    #[must_use]
    pub fn middle_m(&self, cell: usize) -> f64 {
        0.5 * (self.faces_m[cell] + self.faces_m[cell + 1])
    }
}

/// Widths from both ends inwards that add up to the length.
fn stretch(length: f64, from: f64, to: f64, sizing: Sizing) -> Vec<f64> {
    let (mut left, mut right) = (Vec::new(), Vec::new());
    let (mut a, mut b) = (from, to);
    let mut rest = length;
    while rest > 0.5 * a.min(b) || left.is_empty() {
        if a <= b {
            left.push(a);
            rest -= a;
            a = (a * sizing.growth).min(sizing.largest_m);
        } else {
            right.push(b);
            rest -= b;
            b = (b * sizing.growth).min(sizing.largest_m);
        }
    }
    let scale = length / (length - rest);
    left.into_iter().chain(right.into_iter().rev()).map(|width| width * scale).collect()
}

/// A box of cells: x across, y along, z up. The cells of x follow one another.
#[derive(Debug, Clone, PartialEq)]
pub struct Mesh {
    /// Whether cells are rings: x counts from the axis of something round, y is an angle, rad.
    pub is_round: bool,
    /// Faces across the form, x.
    pub x: Axis,
    /// Faces along the form, y.
    pub y: Axis,
    /// Faces upwards, z.
    pub z: Axis,
}

impl Mesh {
    /// Number of cells.
    #[must_use]
    pub fn cells(&self) -> usize {
        self.x.cells() * self.y.cells() * self.z.cells()
    }

    /// Cells from one to the next in each direction.
    #[must_use]
    pub fn strides(&self) -> [usize; 3] {
        [1, self.x.cells(), self.x.cells() * self.y.cells()]
    }

    /// The axis of a direction, 0 to 2.
    #[must_use]
    pub fn axis(&self, direction: usize) -> &Axis {
        [&self.x, &self.y, &self.z][direction]
    }

    /// The place of a cell along each axis.
    #[must_use]
    pub fn place(&self, cell: usize) -> [usize; 3] {
        let (nx, ny) = (self.x.cells(), self.y.cells());
        [cell % nx, cell / nx % ny, cell / (nx * ny)]
    }

    /// Volume of a cell, m³.
    #[must_use]
    pub fn volume_m3(&self, cell: usize) -> f64 {
        let [i, j, k] = self.place(cell);
        let across = if self.is_round { self.x.middle_m(i) } else { 1.0 };
        across * self.x.width_m(i) * self.y.width_m(j) * self.z.width_m(k)
    }

    /// Area of a cell's face at its low or high end in a direction, m².
    #[must_use]
    pub fn face_m2(&self, cell: usize, direction: usize, is_high: bool) -> f64 {
        let place = self.place(cell);
        let width = |direction: usize| self.axis(direction).width_m(place[direction]);
        let across = match (self.is_round, direction) {
            (true, 0) => self.x.faces_m[place[0] + usize::from(is_high)],
            (true, 2) => self.x.middle_m(place[0]),
            _ => 1.0,
        };
        across * width((direction + 1) % 3) * width((direction + 2) % 3)
    }

    /// The middle of a cell.
    #[must_use]
    pub fn middle_m(&self, cell: usize) -> [f64; 3] {
        let [i, j, k] = self.place(cell);
        [self.x.middle_m(i), self.y.middle_m(j), self.z.middle_m(k)]
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn a_graded_axis_has_every_place_among_its_faces_and_grows_gently(
            gaps in prop::collection::vec(0.001f64..0.4, 1..6),
            smallest in 0.0005f64..0.004,
        ) {
            let mut places = vec![0.0];
            for gap in gaps {
                places.push(places[places.len() - 1] + gap);
            }
            let sizing = Sizing { smallest_m: smallest, largest_m: 0.02, growth: 1.25 };
            let axis = Axis::graded(&places, |_| false, sizing);
            for place in &places {
                prop_assert!(axis.faces_m().iter().any(|face| (face - place).abs() < 1e-12));
            }
            for cell in 0..axis.cells() {
                prop_assert!(axis.width_m(cell) > 0.0 && axis.width_m(cell) < 0.032);
            }
        }
    }

    #[test]
    fn cells_are_counted_across_first() {
        let mesh = Mesh {
            is_round: false,
            x: Axis::equal(&[(0.0, 0.3, 3)]),
            y: Axis::single(1.0),
            z: Axis::equal(&[(0.0, 0.01, 2), (0.01, 0.05, 4)]),
        };
        assert_eq!(mesh.cells(), 18);
        assert_eq!(mesh.place(7), [1, 0, 2]);
        let middle = mesh.middle_m(7);
        assert!((middle[0] - 0.15).abs() < 1e-12 && (middle[2] - 0.015).abs() < 1e-12);
    }
}
