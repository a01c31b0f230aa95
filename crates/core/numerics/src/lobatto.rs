//! Polynomials through the nodes of Gauss and Lobatto, on a length of 1.
//!
//! What is smooth over a length is carried by its values at a few nodes, two of them at its ends, and is
//! the polynomial through them: the error falls with every further node by a factor, where that of equal
//! cells falls by their square alone. The weights of the nodes integrate polynomials up to the degree
//! 2p − 1 exactly, p being the degree of the polynomial through the nodes.
//! Source: C. Canuto, M. Y. Hussaini, A. Quarteroni, T. A. Zang, *Spectral Methods: Fundamentals in
//! Single Domains*, 2006, sections 2.2 and 2.3 (nodes, weights, slopes); J.-P. Berrut, L. N. Trefethen,
//! *Barycentric Lagrange interpolation*, SIAM Review 46 (2004).

use std::sync::OnceLock;

/// The highest degree there is.
pub const HIGHEST_DEGREE: usize = 15;

/// The nodes of one degree and what is worked out of them.
#[derive(Debug, Clone, PartialEq)]
pub struct Lobatto {
    nodes: Vec<f64>,
    weights: Vec<f64>,
    /// Slopes at the nodes of the polynomials that are 1 at one node each, row by row.
    slopes: Vec<f64>,
    stiffness: Vec<f64>,
    /// Factors of interpolation between the nodes.
    barycentric: Vec<f64>,
}

/// The highest point of a polynomial.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Crest {
    /// Value at the crest.
    pub value: f64,
    /// Where, 0…1.
    pub at: f64,
}

impl Lobatto {
    /// Of a degree, held to 1…[`HIGHEST_DEGREE`]. Each is worked out once.
    #[must_use]
    pub fn of_degree(degree: usize) -> &'static Self {
        static ALL: [OnceLock<Lobatto>; HIGHEST_DEGREE + 1] =
            [const { OnceLock::new() }; HIGHEST_DEGREE + 1];
        let degree = degree.clamp(1, HIGHEST_DEGREE);
        ALL[degree].get_or_init(|| Self::work_out(degree))
    }

    fn work_out(degree: usize) -> Self {
        let count = degree + 1;
        let legendre: Vec<(f64, f64)> = (0..count).map(|i| extremum(degree, i)).collect();
        let size = (degree * count) as f64;
        // Weights on 0…1: half of 2 / (p (p + 1) P²).
        let weights: Vec<f64> = legendre.iter().map(|(_, p)| 1.0 / (size * p * p)).collect();
        let nodes: Vec<f64> = legendre.iter().map(|(x, _)| 0.5 * (1.0 + x)).collect();
        let barycentric: Vec<f64> = (0..count)
            .map(|i| {
                let others = (0..count).filter(|j| *j != i);
                1.0 / others.map(|j| nodes[i] - nodes[j]).product::<f64>()
            })
            .collect();
        let slopes = slopes_of(&nodes, &barycentric);
        let mut stiffness = vec![0.0; count * count];
        for (i, j) in pairs(count) {
            let both =
                (0..count).map(|q| weights[q] * slopes[q * count + i] * slopes[q * count + j]);
            stiffness[i * count + j] = both.sum();
        }
        Self { nodes, weights, slopes, stiffness, barycentric }
    }

    /// Where the nodes are, 0…1, ascending; the first is 0 and the last 1.
    #[must_use]
    pub fn nodes(&self) -> &[f64] {
        &self.nodes
    }

    /// How much each node counts in an integral over the length; they sum to 1.
    #[must_use]
    pub fn weights(&self) -> &[f64] {
        &self.weights
    }

    /// The integral of the product of two slopes, those of the polynomials that are 1 at one node each,
    /// row by row. It is symmetric; its rows sum to 0.
    #[must_use]
    pub fn stiffness(&self) -> &[f64] {
        &self.stiffness
    }

    /// The polynomial through `values` at a place, 0…1.
    #[must_use]
    pub fn value_at(&self, values: &[f64], at: f64) -> f64 {
        let (mut above, mut below) = (0.0, 0.0);
        for ((node, factor), value) in self.nodes.iter().zip(&self.barycentric).zip(values) {
            let off = at - node;
            if off.abs() < 1e-12 {
                return *value;
            }
            above += factor * value / off;
            below += factor / off;
        }
        above / below
    }

    /// The highest point of the polynomial through `values`, found beside the highest node: its place by
    /// the cubic through the values and slopes of the two nodes around it.
    #[must_use]
    pub fn crest(&self, values: &[f64]) -> Crest {
        let (at, highest) = highest_of(values);
        let node = Crest { value: highest, at: self.nodes[at] };
        let slope = self.slope_at(values, at);
        let next = if slope > 0.0 { at + 1 } else { at.wrapping_sub(1) };
        if slope == 0.0 || next >= values.len() {
            return node;
        }
        let gap = self.nodes[next] - self.nodes[at];
        let slopes = [slope * gap, self.slope_at(values, next) * gap];
        let Some(share) = top_of_cubic(values[next] - highest, slopes) else { return node };
        let place = self.nodes[at] + share * gap;
        let value = self.value_at(values, place);
        if value > highest { Crest { value, at: place } } else { node }
    }

    fn slope_at(&self, values: &[f64], node: usize) -> f64 {
        let row = &self.slopes[node * values.len()..][..values.len()];
        row.iter().zip(values).map(|(slope, value)| slope * value).sum()
    }
}

/// The highest of them, and which it is.
#[must_use]
pub fn highest_of(values: &[f64]) -> (usize, f64) {
    let mut found = (0, f64::MIN);
    for (i, value) in values.iter().enumerate() {
        if *value > found.1 {
            found = (i, *value);
        }
    }
    found
}

/// Where a cubic on 0…1 has its top that rises from 0 at its beginning, given its value at the end and
/// its slopes at both: the first root of its slope.
fn top_of_cubic(end: f64, [first, last]: [f64; 2]) -> Option<f64> {
    let by_square = 3.0 * (first + last) - 6.0 * end;
    let by_one = 6.0 * end - 4.0 * first - 2.0 * last;
    let root = (by_one * by_one - 4.0 * by_square * first).sqrt();
    let share = 2.0 * first / (root - by_one);
    (share > 0.0 && share < 1.0).then_some(share)
}

/// A place on −1…1 where the Legendre polynomial P of a degree has an extremum or an end, and P there:
/// by Newton's method from the extrema of Chebyshev's polynomial.
fn extremum(degree: usize, which: usize) -> (f64, f64) {
    let p = degree as f64;
    let mut x = -(std::f64::consts::PI * which as f64 / p).cos();
    for _ in 0..50 {
        let (value, before) = legendre(degree, x);
        // (1 − x²) P' = p (P₋₁ − x P), whose roots are sought; its slope is −p (p + 1) P.
        let step = (before - x * value) / ((p + 1.0) * value);
        x += step;
        if step.abs() < 1e-16 {
            break;
        }
    }
    (x, legendre(degree, x).0)
}

/// P of a degree and of the one before it.
fn legendre(degree: usize, x: f64) -> (f64, f64) {
    let (mut before, mut value) = (1.0, x);
    for k in 1..degree {
        let k = k as f64;
        (before, value) = (value, ((2.0 * k + 1.0) * x * value - k * before) / (k + 1.0));
    }
    (value, before)
}

fn slopes_of(nodes: &[f64], barycentric: &[f64]) -> Vec<f64> {
    let count = nodes.len();
    let mut slopes = vec![0.0; count * count];
    for (i, j) in pairs(count).filter(|(i, j)| i != j) {
        let slope = barycentric[j] / barycentric[i] / (nodes[i] - nodes[j]);
        slopes[i * count + j] = slope;
        // A constant has no slope.
        slopes[i * count + i] -= slope;
    }
    slopes
}

fn pairs(count: usize) -> impl Iterator<Item = (usize, usize)> {
    (0..count).flat_map(move |i| (0..count).map(move |j| (i, j)))
}

#[cfg(test)]
mod tests {
    use super::*;

    /// x^k at the nodes.
    fn power(of: &Lobatto, k: i32) -> Vec<f64> {
        of.nodes().iter().map(|x| x.powi(k)).collect()
    }

    #[test]
    fn the_nodes_of_degree_three_are_those_of_the_tables() {
        let of = Lobatto::of_degree(3);
        // Abramowitz and Stegun, table 25.6: ±1 and ±√(1/5), weights 1/6 and 5/6 on −1…1.
        let inner = 0.5 * (1.0 - 0.2f64.sqrt());
        for (node, known) in of.nodes().iter().zip([0.0, inner, 1.0 - inner, 1.0]) {
            assert!((node - known).abs() < 1e-15, "{node} {known}");
        }
        for (weight, known) in of.weights().iter().zip([1.0, 5.0, 5.0, 1.0]) {
            assert!((weight - known / 12.0).abs() < 1e-15, "{weight}");
        }
    }

    #[test]
    fn polynomials_are_integrated_met_and_sloped_exactly() {
        for degree in 1..=HIGHEST_DEGREE {
            let of = Lobatto::of_degree(degree);
            for k in 0..2 * degree as i32 {
                let sum: f64 = of.weights().iter().zip(power(of, k)).map(|(w, x)| w * x).sum();
                assert!((sum - 1.0 / f64::from(k + 1)).abs() < 1e-13, "x^{k} of {degree}: {sum}");
            }
            for k in 0..=degree as i32 {
                let values = power(of, k);
                assert!((of.value_at(&values, 0.37) - 0.37f64.powi(k)).abs() < 1e-12);
                let slope = of.slope_at(&values, degree);
                assert!((slope - f64::from(k)).abs() < 1e-9, "x^{k} of {degree}: {slope}");
            }
        }
    }

    #[test]
    fn the_stiffness_is_the_integral_of_two_slopes() {
        let of = Lobatto::of_degree(6);
        let (square, cube) = (power(of, 2), power(of, 3));
        let rows = of.stiffness().chunks(7);
        let applied = rows.map(|row| row.iter().zip(&cube).map(|(k, v)| k * v).sum::<f64>());
        let both: f64 = applied.zip(&square).map(|(k, v)| k * v).sum();
        // ∫ 2x · 3x² dx = 6/4.
        assert!((both - 1.5).abs() < 1e-12, "{both}");
    }

    #[test]
    fn a_crest_between_nodes_is_found_where_it_is() {
        let of = Lobatto::of_degree(7);
        for place in [0.02, 0.2, 0.33, 0.5, 0.61, 0.9] {
            let hill = |x: f64| 330.0 - 40.0 * (x - place).powi(2) + 9.0 * (x - place).powi(3);
            let values: Vec<f64> = of.nodes().iter().map(|x| hill(*x)).collect();
            let crest = of.crest(&values);
            assert!((crest.at - place).abs() < 1e-9 && (crest.value - 330.0).abs() < 1e-9);
        }
    }

    #[test]
    fn a_slope_is_highest_at_its_end_and_a_level_anywhere() {
        let of = Lobatto::of_degree(5);
        let up: Vec<f64> = of.nodes().iter().map(|x| 300.0 + x).collect();
        assert_eq!(of.crest(&up), Crest { value: 301.0, at: 1.0 });
        let down: Vec<f64> = of.nodes().iter().map(|x| 300.0 - x).collect();
        assert_eq!(of.crest(&down), Crest { value: 300.0, at: 0.0 });
        let level = of.crest(&[300.0; 6]);
        assert!((level.value - 300.0).abs() < 1e-9 && (0.0..=1.0).contains(&level.at));
    }
}
