//! Tridiagonal linear systems, factorised once and solved many times.

/// LU factors of a tridiagonal matrix, without pivoting.
///
/// The matrices of conduction are diagonally dominant, for which elimination
/// without pivoting is stable (Higham, *Accuracy and Stability of Numerical
/// Algorithms*, 2nd ed., §9.5). A pivot that is not positive is reported, so
/// that a time step can be made shorter.
#[derive(Debug, Clone, Default)]
pub struct Tridiagonal {
    lower_over_pivot: Vec<f64>,
    inverse_pivot: Vec<f64>,
    /// Over the pivot of their row, so that one row waits for the next no longer than it has to.
    upper_over_pivot: Vec<f64>,
}

impl Tridiagonal {
    /// Factorises the matrix with the given bands; `false` where a pivot is
    /// not positive and the factors must not be used.
    ///
    /// `lower[i]` couples row `i + 1` to `i`, `upper[i]` row `i` to `i + 1`.
    /// Both need at least `diagonal.len() - 1` entries.
    #[must_use]
    pub fn factorise(&mut self, lower: &[f64], diagonal: &[f64], upper: &[f64]) -> bool {
        let n = diagonal.len();
        self.lower_over_pivot.clear();
        self.inverse_pivot.clear();
        self.upper_over_pivot.clear();
        let mut carried = 0.0;
        for i in 0..n {
            let pivot = diagonal[i] - carried;
            if pivot.is_nan() || pivot <= 0.0 {
                return false;
            }
            let inverse = 1.0 / pivot;
            self.inverse_pivot.push(inverse);
            if i + 1 < n {
                let factor = lower[i] * inverse;
                self.lower_over_pivot.push(factor);
                self.upper_over_pivot.push(upper[i] * inverse);
                carried = factor * upper[i];
            }
        }
        true
    }

    /// Solves in place for one right-hand side.
    pub fn solve(&self, x: &mut [f64]) {
        let Some((first, rest)) = x[..self.inverse_pivot.len()].split_first_mut() else { return };
        let mut before = *first;
        for (x, lower) in rest.iter_mut().zip(&self.lower_over_pivot) {
            before = *x - lower * before;
            *x = before;
        }
        for (x, inverse) in x.iter_mut().zip(&self.inverse_pivot) {
            *x *= inverse;
        }
        let rows = self.upper_over_pivot.len();
        let mut next = x[rows];
        for (x, upper) in x[..rows].iter_mut().zip(&self.upper_over_pivot).rev() {
            next = *x - upper * next;
            *x = next;
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_solution_satisfies_the_system() {
        let (lower, diagonal, upper) =
            ([-1.0, -2.0, -0.5], [4.0, 5.0, 6.0, 3.0], [-1.5, -1.0, -2.0]);
        let rhs = [1.0, -2.0, 3.0, 0.5];
        let mut matrix = Tridiagonal::default();
        assert!(matrix.factorise(&lower, &diagonal, &upper));
        let mut x = rhs;
        matrix.solve(&mut x);
        for i in 0..4 {
            let mut sum = diagonal[i] * x[i];
            if i > 0 {
                sum += lower[i - 1] * x[i - 1];
            }
            if i < 3 {
                sum += upper[i] * x[i + 1];
            }
            assert!((sum - rhs[i]).abs() < 1e-14, "row {i}: {sum}");
        }
    }

    #[test]
    fn a_pivot_that_vanishes_is_reported() {
        assert!(!Tridiagonal::default().factorise(&[1.0], &[1.0, 1.0], &[1.0]));
    }
}
