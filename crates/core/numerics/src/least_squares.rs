//! Bounded nonlinear least squares: the Levenberg–Marquardt method on unknowns
//! that are folded into their bounds by a sine (F. James and M. Roos, *Computer
//! Physics Communications* 10 (1975) 343–367, section 1.3).

use levenberg_marquardt::{LeastSquaresProblem, LevenbergMarquardt};
use nalgebra::storage::Owned;
use nalgebra::{DMatrix, DVector, Dyn};

/// Slopes are taken over this share of an unknown's range.
const SLOPE_SHARE: f64 = 1e-5;
/// The search ends where a step changes the sum of squares, or the unknowns, by less than this share: half
/// of the digits of a number, as MINPACK's short form has it (J. Moré and others, ANL-80-74, 1980). Closer
/// to the least sum the slopes, which are differences, lead nowhere.
const ENOUGH: f64 = 1.49e-8;

/// The unknowns at which the sum of squares is least.
#[derive(Debug, Clone, PartialEq)]
pub struct LeastSquares {
    /// The unknowns.
    pub x: Vec<f64>,
    /// What is left of each residual.
    pub residuals: Vec<f64>,
    /// The inverse of JᵀJ, by rows: the covariance where every residual has a
    /// standard deviation of one.
    pub inverse_normal: Vec<Vec<f64>>,
}

/// Why there is no least sum of squares.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
pub enum LeastSquaresError {
    /// The residuals cannot be computed at the start or on the way.
    #[error("the residuals cannot be computed")]
    NoResiduals,
    /// The residuals do not settle all unknowns.
    #[error("the readings do not settle all unknowns")]
    Undetermined,
}

struct Problem<'a, F> {
    u: DVector<f64>,
    bounds: &'a [(f64, f64)],
    residuals: F,
}

fn folded(u: f64, (low, high): (f64, f64)) -> f64 {
    low + 0.5 * (high - low) * (u.sin() + 1.0)
}

fn unfolded(x: f64, (low, high): (f64, f64)) -> f64 {
    // A start on a bound would not move: the slope of the sine is 0 there.
    (2.0 * (x - low) / (high - low) - 1.0).clamp(-0.98, 0.98).asin()
}

impl<F: Fn(&[f64]) -> Option<Vec<f64>>> Problem<'_, F> {
    fn x(&self) -> Vec<f64> {
        self.u.iter().zip(self.bounds).map(|(u, bounds)| folded(*u, *bounds)).collect()
    }

    /// Slopes of the residuals against the unknowns themselves.
    fn slopes(&self) -> Option<DMatrix<f64>> {
        let x = self.x();
        let columns: Option<Vec<DVector<f64>>> = (0..x.len())
            .map(|index| {
                let (low, high) = self.bounds[index];
                let step = SLOPE_SHARE * (high - low);
                let at = |offset: f64| {
                    let mut moved = x.clone();
                    moved[index] += offset;
                    (self.residuals)(&moved).map(DVector::from_vec)
                };
                Some((at(step)? - at(-step)?) / (2.0 * step))
            })
            .collect();
        Some(DMatrix::from_columns(&columns?))
    }
}

impl<F: Fn(&[f64]) -> Option<Vec<f64>>> LeastSquaresProblem<f64, Dyn, Dyn> for Problem<'_, F> {
    type ParameterStorage = Owned<f64, Dyn>;
    type ResidualStorage = Owned<f64, Dyn>;
    type JacobianStorage = Owned<f64, Dyn, Dyn>;

    fn set_params(&mut self, u: &DVector<f64>) {
        self.u.copy_from(u);
    }

    fn params(&self) -> DVector<f64> {
        self.u.clone()
    }

    fn residuals(&self) -> Option<DVector<f64>> {
        (self.residuals)(&self.x()).map(DVector::from_vec)
    }

    fn jacobian(&self) -> Option<DMatrix<f64>> {
        let mut slopes = self.slopes()?;
        for (index, mut column) in slopes.column_iter_mut().enumerate() {
            let (low, high) = self.bounds[index];
            column *= 0.5 * (high - low) * self.u[index].cos();
        }
        Some(slopes)
    }
}

/// Seeks the unknowns within `bounds` that make the sum of squares least,
/// from `start`.
///
/// # Errors
/// [`LeastSquaresError`] where residuals cannot be computed or do not settle
/// the unknowns.
pub fn least_squares(
    start: &[f64],
    bounds: &[(f64, f64)],
    residuals: impl Fn(&[f64]) -> Option<Vec<f64>>,
) -> Result<LeastSquares, LeastSquaresError> {
    let u = start.iter().zip(bounds).map(|(x, b)| unfolded(*x, *b)).collect::<Vec<_>>();
    let problem = Problem { u: DVector::from_vec(u), bounds, residuals };
    let (problem, _) =
        LevenbergMarquardt::new().with_tol(ENOUGH).with_patience(40).minimize(problem);
    let left = problem.residuals().ok_or(LeastSquaresError::NoResiduals)?;
    let slopes = problem.slopes().ok_or(LeastSquaresError::NoResiduals)?;
    let inverse =
        (slopes.transpose() * &slopes).try_inverse().ok_or(LeastSquaresError::Undetermined)?;
    if inverse.iter().any(|value| !value.is_finite()) {
        return Err(LeastSquaresError::Undetermined);
    }
    let rows = inverse.row_iter().map(|row| row.iter().copied().collect()).collect();
    Ok(LeastSquares { x: problem.x(), residuals: left.as_slice().to_vec(), inverse_normal: rows })
}

#[cfg(test)]
mod tests {
    use super::*;

    /// y = a e^(−b t) at eight times.
    fn decay(x: &[f64]) -> Vec<f64> {
        (0..8).map(|t| x[0] * (-x[1] * f64::from(t)).exp()).collect()
    }

    #[test]
    fn exact_readings_give_back_what_made_them() {
        let truth = decay(&[3.0, 0.4]);
        let fit = least_squares(&[1.0, 1.0], &[(0.1, 10.0), (0.01, 5.0)], |x| {
            Some(decay(x).iter().zip(&truth).map(|(a, b)| a - b).collect())
        })
        .unwrap();
        assert!((fit.x[0] - 3.0).abs() < 1e-6 && (fit.x[1] - 0.4).abs() < 1e-6, "{:?}", fit.x);
        assert!(fit.inverse_normal[0][0] > 0.0);
    }

    #[test]
    fn a_bound_holds() {
        let truth = decay(&[3.0, 0.4]);
        let fit = least_squares(&[1.0, 1.0], &[(0.1, 2.0), (0.01, 5.0)], |x| {
            Some(decay(x).iter().zip(&truth).map(|(a, b)| a - b).collect())
        })
        .unwrap();
        assert!(fit.x[0] <= 2.0 && fit.x[0] > 1.99, "{:?}", fit.x);
    }

    #[test]
    fn unknowns_that_nothing_depends_on_are_not_settled() {
        let found =
            least_squares(&[1.0, 1.0], &[(0.1, 2.0), (0.1, 2.0)], |x| Some(vec![x[0] - 1.5; 3]));
        assert_eq!(found.unwrap_err(), LeastSquaresError::Undetermined);
        let found = least_squares(&[1.0], &[(0.1, 2.0)], |_| None);
        assert_eq!(found.unwrap_err(), LeastSquaresError::NoResiduals);
    }
}
