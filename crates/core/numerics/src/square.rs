//! Small symmetric matrices, of as many rows as an element has nodes.

use crate::lanes::{Wide, each};

/// Rows are kept in groups of four, filled up with zeros, which the processor takes at a time.
const GROUP: usize = 4;
/// Most rows there are.
pub const MOST_ROWS: usize = GROUP * GROUPS;
const GROUPS: usize = 4;
/// Rows of the matrix that changes nothing.
const UNITS: [[[f64; GROUP]; GROUPS]; MOST_ROWS] = units();

const fn units() -> [[[f64; GROUP]; GROUPS]; MOST_ROWS] {
    let mut rows = [[[0.0; GROUP]; GROUPS]; MOST_ROWS];
    let mut i = 0;
    while i < MOST_ROWS {
        rows[i][i / GROUP][i % GROUP] = 1.0;
        i += 1;
    }
    rows
}

/// A small symmetric matrix.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Square {
    size: usize,
    /// Groups of each row.
    groups: usize,
    rows: Vec<[f64; GROUP]>,
}

impl Square {
    /// Zeros; of [`MOST_ROWS`] rows at most.
    #[must_use]
    pub fn zeros(size: usize) -> Self {
        let size = size.min(MOST_ROWS);
        let groups = size.div_ceil(GROUP);
        Self { size, groups, rows: vec![[0.0; GROUP]; size * groups] }
    }

    /// Rows and columns.
    #[must_use]
    pub fn size(&self) -> usize {
        self.size
    }

    /// An entry.
    #[must_use]
    pub fn at(&self, row: usize, column: usize) -> f64 {
        self.rows[row * self.groups + column / GROUP][column % GROUP]
    }

    /// Adds to an entry; the one on the other side of the diagonal is the caller's too.
    pub fn add(&mut self, row: usize, column: usize, value: f64) {
        self.rows[row * self.groups + column / GROUP][column % GROUP] += value;
    }

    /// Adds to the diagonal, from its beginning.
    pub fn add_diagonal(&mut self, values: &[f64]) {
        for (i, value) in values.iter().enumerate().take(self.size) {
            self.add(i, i, *value);
        }
    }

    /// The upper left part of another, in place.
    pub fn copy_part(&mut self, of: &Self) {
        for (row, from) in
            self.rows.chunks_exact_mut(self.groups).zip(of.rows.chunks_exact(of.groups))
        {
            row.copy_from_slice(&from[..row.len()]);
        }
        // What of the other lies beyond this one's columns.
        for row in self.rows.chunks_exact_mut(self.groups) {
            if let Some(last) = row.last_mut() {
                last[(self.size - 1) % GROUP + 1..].fill(0.0);
            }
        }
    }

    /// Its inverse, in place, by the rule of Gauss and Jordan without pivoting; `false` where it is not
    /// positive definite.
    pub fn invert(&mut self) -> bool {
        Wide::new().run(
            #[inline(always)]
            || self.invert_here(),
        )
    }

    #[inline(always)]
    fn invert_here(&mut self) -> bool {
        let groups = self.groups;
        for k in 0..self.size {
            let pivot = self.at(k, k);
            if pivot.is_nan() || pivot <= 0.0 {
                return false;
            }
            let inverse = 1.0 / pivot;
            // Whole groups throughout: a lone entry written before its group is read holds up the
            // processor.
            let unit = &UNITS[k];
            let mut own = [[0.0; GROUP]; GROUPS];
            for ((own, row), unit) in
                own.iter_mut().zip(&self.rows[k * groups..][..groups]).zip(unit)
            {
                *own = each(|j| (row[j] * (1.0 - unit[j]) + unit[j]) * inverse);
            }
            for (i, row) in self.rows.chunks_exact_mut(groups).enumerate() {
                if i == k {
                    row.copy_from_slice(&own[..groups]);
                    continue;
                }
                let factor = row[k / GROUP][k % GROUP];
                for ((row, own), unit) in row.iter_mut().zip(&own).zip(unit) {
                    *row = each(|j| row[j] * (1.0 - unit[j]) - factor * own[j]);
                }
            }
        }
        true
    }

    /// Adds `times` the product with `x` to `y`.
    #[inline(always)]
    pub fn add_product(&self, times: f64, x: &[f64], y: &mut [f64]) {
        for (group, y) in y[..self.size].chunks_mut(GROUP).enumerate() {
            let mut sum = [0.0; GROUP];
            for (row, x) in self.rows[group..].iter().step_by(self.groups).zip(x) {
                for (sum, value) in sum.iter_mut().zip(row) {
                    *sum += value * x;
                }
            }
            for (y, sum) in y.iter_mut().zip(sum) {
                *y += times * sum;
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn an_inverse_undoes_the_product(
            size in 1usize..=MOST_ROWS, entries in proptest::collection::vec(-1.0f64..1.0, 256),
        ) {
            let mut matrix = Square::zeros(size);
            for i in 0..size {
                for j in 0..i {
                    matrix.add(i, j, entries[i * 16 + j]);
                    matrix.add(j, i, entries[i * 16 + j]);
                }
            }
            matrix.add_diagonal(&vec![size as f64; size]);
            let x = &entries[..size];
            let mut product = vec![0.0; size];
            matrix.add_product(2.0, x, &mut product);
            prop_assert!(matrix.invert());
            let mut solved = vec![1.0; size];
            matrix.add_product(0.5, &product, &mut solved);
            for (solved, x) in solved.iter().zip(x) {
                prop_assert!((solved - 1.0 - x).abs() < 1e-12);
            }
        }
    }

    #[test]
    fn a_part_is_the_upper_left_and_nothing_else() {
        let mut whole = Square::zeros(4);
        for i in 0..4 {
            for j in 0..4 {
                whole.add(i, j, (10 * i + j) as f64);
            }
        }
        let mut part = Square::zeros(3);
        part.copy_part(&whole);
        let mut product = [0.0; 3];
        part.add_product(1.0, &[1.0; 3], &mut product);
        // Its columns, summed over its rows.
        for (sum, known) in product.iter().zip([30.0, 33.0, 36.0]) {
            assert!((sum - known).abs() < 1e-12);
        }
        assert!((part.at(2, 1) - 21.0).abs() < 1e-15);
    }

    #[test]
    fn a_matrix_that_is_not_positive_definite_is_refused() {
        let mut matrix = Square::zeros(2);
        matrix.add(0, 1, 2.0);
        matrix.add(1, 0, 2.0);
        matrix.add_diagonal(&[1.0, 1.0]);
        assert!(!matrix.invert());
    }
}
