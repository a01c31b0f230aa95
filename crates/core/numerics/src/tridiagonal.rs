//! Tridiagonal linear systems, factorised once and solved many times.

/// Factors of a tridiagonal matrix, without pivoting, from both ends to the row in the middle.
///
/// From one end each row waits for the one before it, and a processor that could do four things at once
/// does one. From both ends there are two such chains that know nothing of each other ("twisted"
/// factorisation: G. Meurant, *SIAM J. Matrix Anal. Appl.* 13 (1992) 707–728, section 2).
///
/// The matrices of conduction are diagonally dominant, for which elimination
/// without pivoting is stable (Higham, *Accuracy and Stability of Numerical
/// Algorithms*, 2nd ed., §9.5). A pivot that is not positive is reported, so
/// that a time step can be made shorter.
#[derive(Debug, Clone, Default)]
pub struct Tridiagonal {
    /// One over the pivot of each row.
    inverse: Vec<f64>,
    /// What each row takes over from its neighbour towards its own end, as it is eliminated.
    inwards: Vec<f64>,
    /// What each row takes over from its neighbour towards the middle, over its pivot.
    outwards: Vec<f64>,
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
        for all in [&mut self.inverse, &mut self.inwards, &mut self.outwards] {
            all.clear();
            all.resize(n, 0.0);
        }
        let Some(middle) = n.checked_sub(1).map(|_| n / 2) else { return true };
        let is_good = |pivot: f64| pivot > 0.0;
        let mut carried = 0.0;
        for i in 0..middle {
            let pivot = diagonal[i] - carried;
            if !is_good(pivot) {
                return false;
            }
            let inverse = 1.0 / pivot;
            let factor = lower[i] * inverse;
            (self.inverse[i], self.outwards[i], self.inwards[i + 1]) =
                (inverse, upper[i] * inverse, factor);
            carried = factor * upper[i];
        }
        let from_above = carried;
        carried = 0.0;
        for i in (middle + 1..n).rev() {
            let pivot = diagonal[i] - carried;
            if !is_good(pivot) {
                return false;
            }
            let inverse = 1.0 / pivot;
            let factor = upper[i - 1] * inverse;
            (self.inverse[i], self.outwards[i]) = (inverse, lower[i - 1] * inverse);
            // The middle has no neighbour further in: there this is what it takes over from below.
            let to = if i - 1 == middle { &mut self.outwards } else { &mut self.inwards };
            to[i - 1] = factor;
            carried = factor * lower[i - 1];
        }
        let pivot = diagonal[middle] - from_above - carried;
        if !is_good(pivot) {
            return false;
        }
        self.inverse[middle] = 1.0 / pivot;
        true
    }

    /// Solves in place for one right-hand side.
    pub fn solve(&self, x: &mut [f64]) {
        let n = self.inverse.len();
        if n == 0 {
            return;
        }
        let middle = n / 2;
        self.eliminate(&mut x[..n], middle);
        for (x, inverse) in x.iter_mut().zip(&self.inverse) {
            *x *= inverse;
        }
        self.substitute(&mut x[..n], middle);
    }

    /// From both ends to the middle, whose row takes over from both.
    fn eliminate(&self, x: &mut [f64], middle: usize) {
        let (above, rest) = x.split_at_mut(middle);
        let Some((at, below)) = rest.split_first_mut() else { return };
        // Above the middle there are as many rows as below it, or one more.
        let (first, above) = above.split_at_mut(middle - below.len());
        let mut top = first.first().copied().unwrap_or(0.0);
        let mut bottom = 0.0;
        let factors = self.inwards[first.len()..middle].iter();
        let rows = above.iter_mut().zip(below.iter_mut().rev());
        let factors = factors.zip(self.inwards[middle + 1..].iter().rev());
        for ((upper, lower), (from_above, from_below)) in rows.zip(factors) {
            top = *upper - from_above * top;
            bottom = *lower - from_below * bottom;
            (*upper, *lower) = (top, bottom);
        }
        *at -= self.inwards[middle] * top + self.outwards[middle] * bottom;
    }

    /// From the middle to both ends.
    fn substitute(&self, x: &mut [f64], middle: usize) {
        let (above, rest) = x.split_at_mut(middle);
        let Some((at, below)) = rest.split_first_mut() else { return };
        let (first, above) = above.split_at_mut(middle - below.len());
        let (mut top, mut bottom) = (*at, *at);
        let rows = above.iter_mut().rev().zip(below);
        let factors = self.outwards[first.len()..middle].iter().rev();
        let factors = factors.zip(&self.outwards[middle + 1..]);
        for ((upper, lower), (from_below, from_above)) in rows.zip(factors) {
            top = *upper - from_below * top;
            bottom = *lower - from_above * bottom;
            (*upper, *lower) = (top, bottom);
        }
        for (x, from_below) in first.iter_mut().zip(&self.outwards) {
            *x -= from_below * top;
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn any_number_of_rows_is_solved(
            rows in proptest::collection::vec((0.1f64..3.0, -1.0f64..1.0, -1.0f64..1.0, -5.0f64..5.0), 1..40),
        ) {
            let n = rows.len();
            let lower: Vec<f64> = rows[1..].iter().map(|row| row.1).collect();
            let upper: Vec<f64> = rows[..n - 1].iter().map(|row| row.2).collect();
            let diagonal: Vec<f64> = rows.iter().map(|row| 2.0 + row.0).collect();
            let mut matrix = Tridiagonal::default();
            prop_assert!(matrix.factorise(&lower, &diagonal, &upper));
            let mut x: Vec<f64> = rows.iter().map(|row| row.3).collect();
            matrix.solve(&mut x);
            for (i, row) in rows.iter().enumerate() {
                let below = if i > 0 { lower[i - 1] * x[i - 1] } else { 0.0 };
                let above = if i + 1 < n { upper[i] * x[i + 1] } else { 0.0 };
                prop_assert!((below + diagonal[i] * x[i] + above - row.3).abs() < 1e-12, "row {i}");
            }
        }
    }

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
