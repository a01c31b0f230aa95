//! Adaptive integration of stiff systems y' = f(t, y): the Rosenbrock method
//! RODAS of order 4 with an embedded result of order 3.
//!
//! Six evaluations of f, one of its Jacobian and six linear solves make a step.
//! The method is L-stable and stiffly accurate, so that conduction never limits
//! the step, and has a continuous result of order 3 between the ends of a step.
//! Source: E. Hairer, G. Wanner, *Solving Ordinary Differential Equations II*,
//! 2nd ed. 1996, section VI.4 (coefficients of RODAS).

use crate::sums::{add_all, add_scaled, largest_ratio};

/// A system that can evaluate itself and solve with its own Jacobian.
///
/// The caller's structure (a chain of cells, two unknowns) decides how the
/// linear systems are solved; the method only sees slices.
pub trait StiffSystem {
    /// Writes f(t, y) to `dydt`.
    fn rates(&mut self, t: f64, y: &[f64], dydt: &mut [f64]);
    /// Writes f(t, y) to `dydt` and keeps the Jacobian at `y`. Writes ∂f/∂t to
    /// `by_time`, and says whether any of it is not 0.
    fn linearise(&mut self, t: f64, y: &[f64], dydt: &mut [f64], by_time: &mut [f64]) -> bool;
    /// Prepares to solve with `shift`·I − J; `false` where that is not
    /// possible and a shorter step (a larger shift) must be tried.
    fn factorise(&mut self, shift: f64) -> bool;
    /// Solves (`shift`·I − J) x = `x` in place.
    fn solve(&self, x: &mut [f64]);
}

const GAMMA: f64 = 0.25;
const A: [&[f64]; 4] = [
    &[1.544],
    &[0.946_678_528_081_582_6, 0.255_701_169_898_328_4],
    &[3.314_825_187_068_521, 2.896_124_015_972_201, 0.998_641_913_997_781_7],
    &[1.221_224_509_226_641, 6.019_134_481_288_629, 12.537_083_329_320_87, -0.687_886_036_105_895],
];
const C: [&[f64]; 5] = [
    &[-5.6688],
    &[-2.430_093_356_833_875, -0.206_359_915_709_191_5],
    &[-0.107_352_905_815_137_5, -9.594_562_251_023_355, -20.470_286_148_096_16],
    &[7.496_443_313_967_647, -10.246_804_314_643_52, -33.999_903_528_199_05, 11.708_908_932_061_6],
    &[
        8.083_246_795_921_522,
        -7.981_132_988_064_893,
        -31.521_594_328_743_71,
        16.319_305_431_231_36,
        -6.058_818_238_834_054,
    ],
];
/// Moments of the stages within a step, and their weights of ∂f/∂t.
const AT: [f64; 6] = [0.0, 0.386, 0.21, 0.63, 1.0, 1.0];
const BY_TIME: [f64; 6] = [0.25, -0.1043, 0.1035, -0.036_200_000_000_000_23, 0.0, 0.0];
const DENSE_2: [f64; 5] = [
    10.126_235_083_445_86,
    -7.487_995_877_610_167,
    -34.800_918_615_557_47,
    -7.992_771_707_568_823,
    1.025_137_723_295_662,
];
const DENSE_3: [f64; 5] = [
    -0.676_280_339_280_689_8,
    6.087_714_651_680_015,
    16.430_843_208_924_78,
    24.767_225_114_183_86,
    -6.594_389_125_716_872,
];

/// A step is kept this much shorter than the error estimate would allow.
const SAFETY: f64 = 0.9;
/// The step may change by at most these factors from one to the next.
const SHRINK: f64 = 0.2;
const GROW: f64 = 5.0;
/// Steps shorter than this (in the unit of time, seconds here) mean that the
/// system cannot be integrated to the asked accuracy.
const SHORTEST_STEP: f64 = 1e-9;

/// What an integration cost. Tests pin these, so that a slower method shows.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Work {
    /// Steps taken.
    pub accepted: u32,
    /// Steps tried and thrown away.
    pub rejected: u32,
    /// Evaluations of f, those with a Jacobian included.
    pub evaluations: u32,
}

/// The step became too short to go on, at this time.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error, serde::Serialize, serde::Deserialize)]
#[error("the time step fell below {SHORTEST_STEP} s at {at} s")]
pub struct StepTooShort {
    /// Time reached.
    pub at: f64,
}

/// The integrator: its step size and its working arrays.
#[derive(Debug, Clone)]
pub struct Rosenbrock {
    unknowns: usize,
    next_step: f64,
    last_step: f64,
    u: [Vec<f64>; 6],
    start: Vec<f64>,
    end: Vec<f64>,
    dense_2: Vec<f64>,
    dense_3: Vec<f64>,
    rates: Vec<f64>,
    by_time: Vec<f64>,
    work: Work,
}

impl Rosenbrock {
    /// An integrator for `n` unknowns that tries `first_step` first.
    #[must_use]
    pub fn new(n: usize, first_step: f64) -> Self {
        Self {
            unknowns: n,
            next_step: first_step,
            last_step: 0.0,
            u: Default::default(),
            start: Vec::new(),
            end: Vec::new(),
            dense_2: Vec::new(),
            dense_3: Vec::new(),
            rates: Vec::new(),
            by_time: Vec::new(),
            work: Work::default(),
        }
    }

    /// Makes the working arrays, before the first step: many an integrator is copied and never used.
    fn make_room(&mut self) {
        let own = [
            &mut self.start,
            &mut self.end,
            &mut self.dense_2,
            &mut self.dense_3,
            &mut self.rates,
            &mut self.by_time,
        ];
        for all in self.u.iter_mut().chain(own) {
            all.resize(self.unknowns, 0.0);
        }
    }

    /// What has been spent since the integrator was made.
    #[must_use]
    pub fn work(&self) -> Work {
        self.work
    }

    /// Takes one step from time `t`, at most to `t_end`, and writes the new
    /// state to `y`. `tolerance[i]` is the error allowed to `y[i]` in a step.
    /// Returns the length of the step taken.
    ///
    /// # Errors
    /// [`StepTooShort`] where no step is short enough for the tolerance.
    pub fn step(
        &mut self,
        system: &mut impl StiffSystem,
        t: f64,
        t_end: f64,
        y: &mut [f64],
        tolerance: &[f64],
    ) -> Result<f64, StepTooShort> {
        self.make_room();
        self.start.copy_from_slice(y);
        let moves = system.linearise(t, y, &mut self.rates, &mut self.by_time);
        self.work.evaluations += 1;
        let mut h = self.next_step;
        loop {
            // A last step that would leave a sliver is stretched to the end.
            let cut = t + 1.0001 * h >= t_end;
            if cut {
                h = t_end - t;
            }
            if h < SHORTEST_STEP {
                if cut && h >= 0.0 {
                    self.last_step = h;
                    return Ok(h);
                }
                return Err(StepTooShort { at: t });
            }
            let error = if system.factorise(1.0 / (GAMMA * h)) {
                self.stages(system, t, h, moves);
                largest_ratio(&self.u[5], tolerance)
            } else {
                f64::INFINITY
            };
            let factor = (SAFETY / error.sqrt().sqrt()).clamp(SHRINK, GROW);
            if error <= 1.0 {
                // A step cut short at the end says little about the next one.
                self.next_step = if cut { self.next_step.max(h * factor) } else { h * factor };
                self.last_step = h;
                self.work.accepted += 1;
                y.copy_from_slice(&self.end);
                self.prepare_dense_output();
                return Ok(h);
            }
            self.work.rejected += 1;
            h *= if factor.is_nan() { SHRINK } else { factor.min(0.8) };
            self.next_step = h;
        }
    }

    /// The six stages; leaves the result in `end`, its error estimate in `u[5]`.
    fn stages(&mut self, system: &mut impl StiffSystem, t: f64, h: f64, moves: bool) {
        let n = self.start.len();
        self.u[0].copy_from_slice(&self.rates);
        if moves {
            add_scaled(&mut self.u[0], h * BY_TIME[0], &self.by_time);
        }
        system.solve(&mut self.u[0]);
        for stage in 1..6 {
            if stage < 5 {
                self.end.copy_from_slice(&self.start);
                add_all(&mut self.end, A[stage - 1], &self.u);
            } else {
                add_scaled(&mut self.end, 1.0, &self.u[4]);
            }
            let (before, current) = self.u.split_at_mut(stage);
            let k = &mut current[0][..n];
            system.rates(t + AT[stage] * h, &self.end, k);
            if moves && stage < 4 {
                add_scaled(k, h * BY_TIME[stage], &self.by_time);
            }
            let mut by_h = [0.0; 5];
            for (by_h, coefficient) in by_h.iter_mut().zip(C[stage - 1]) {
                *by_h = coefficient / h;
            }
            add_all(k, &by_h[..stage], before);
            system.solve(k);
        }
        add_scaled(&mut self.end, 1.0, &self.u[5]);
        self.work.evaluations += 5;
    }

    fn prepare_dense_output(&mut self) {
        self.dense_2.fill(0.0);
        self.dense_3.fill(0.0);
        add_all(&mut self.dense_2, &DENSE_2, &self.u);
        add_all(&mut self.dense_3, &DENSE_3, &self.u);
    }

    /// Length of the last step taken.
    #[must_use]
    pub fn last_step(&self) -> f64 {
        self.last_step
    }

    /// The unknown `i` at the fraction `theta` (0…1) of the last step.
    #[must_use]
    pub fn at(&self, theta: f64, i: usize) -> f64 {
        let rest = 1.0 - theta;
        self.start[i] * rest
            + theta * (self.end[i] + rest * (self.dense_2[i] + theta * self.dense_3[i]))
    }

    /// All unknowns at the fraction `theta` (0…1) of the last step, to `state`.
    pub fn state_at(&self, theta: f64, state: &mut Vec<f64>) {
        let rest = 1.0 - theta;
        let ends = self.start.iter().zip(&self.end);
        let dense = self.dense_2.iter().zip(&self.dense_3);
        state.clear();
        state.extend(ends.zip(dense).map(|((start, end), (dense_2, dense_3))| {
            start * rest + theta * (end + rest * (dense_2 + theta * dense_3))
        }));
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// y' = −2 y (1 + y), whose solution from 1 is 1 / (2 e^{2t} − 1).
    #[derive(Default)]
    struct Logistic {
        jacobian: f64,
        shifted: f64,
    }

    impl StiffSystem for Logistic {
        fn rates(&mut self, _: f64, y: &[f64], dydt: &mut [f64]) {
            dydt[0] = -2.0 * y[0] * (1.0 + y[0]);
        }
        fn linearise(&mut self, t: f64, y: &[f64], dydt: &mut [f64], _: &mut [f64]) -> bool {
            self.rates(t, y, dydt);
            self.jacobian = -2.0 - 4.0 * y[0];
            false
        }
        fn factorise(&mut self, shift: f64) -> bool {
            self.shifted = shift - self.jacobian;
            self.shifted > 0.0
        }
        fn solve(&self, x: &mut [f64]) {
            x[0] /= self.shifted;
        }
    }

    fn exact(t: f64) -> f64 {
        1.0 / (2.0 * (2.0 * t).exp() - 1.0)
    }

    /// Errors at the end and in the middle of steps of equal length.
    fn errors(steps: u32) -> (f64, f64) {
        let (mut system, mut y, mut t) = (Logistic::default(), [1.0], 0.0);
        let h = 1.0 / f64::from(steps);
        let mut dense = 0.0f64;
        for _ in 0..steps {
            let mut method = Rosenbrock::new(1, h);
            method.step(&mut system, t, t + h, &mut y, &[1e9]).unwrap();
            dense = dense.max((method.at(0.5, 0) - exact(t + 0.5 * h)).abs());
            t += h;
        }
        ((y[0] - exact(1.0)).abs(), dense)
    }

    #[test]
    fn the_result_is_of_order_four_and_the_dense_one_of_order_three() {
        let (coarse, fine) = (errors(64), errors(128));
        let order = (coarse.0 / fine.0).log2();
        assert!((3.8..4.3).contains(&order), "order {order}");
        // Local error of the dense result is O(h⁴).
        let dense = (coarse.1 / fine.1).log2();
        assert!((3.6..4.4).contains(&dense), "dense order {dense}");
    }

    /// y' = −5 (y − cos t), driven from outside.
    #[derive(Default)]
    struct Driven {
        shifted: f64,
    }

    impl StiffSystem for Driven {
        fn rates(&mut self, t: f64, y: &[f64], dydt: &mut [f64]) {
            dydt[0] = -5.0 * (y[0] - t.cos());
        }
        fn linearise(&mut self, t: f64, y: &[f64], dydt: &mut [f64], by_time: &mut [f64]) -> bool {
            self.rates(t, y, dydt);
            by_time[0] = -5.0 * t.sin();
            true
        }
        fn factorise(&mut self, shift: f64) -> bool {
            self.shifted = shift + 5.0;
            true
        }
        fn solve(&self, x: &mut [f64]) {
            x[0] /= self.shifted;
        }
    }

    #[test]
    fn a_system_driven_from_outside_is_followed_to_order_four() {
        let exact = |t: f64| {
            let forced = |t: f64| (25.0 * t.cos() + 5.0 * t.sin()) / 26.0;
            forced(t) - forced(0.0) * (-5.0 * t).exp()
        };
        let error = |steps: u32| {
            let (mut system, mut y, mut t) = (Driven::default(), [0.0], 0.0);
            let h = 1.0 / f64::from(steps);
            for _ in 0..steps {
                Rosenbrock::new(1, h).step(&mut system, t, t + h, &mut y, &[1e9]).unwrap();
                t += h;
            }
            (y[0] - exact(1.0)).abs()
        };
        let order = (error(40) / error(80)).log2();
        assert!((3.7..4.4).contains(&order), "order {order}");
    }

    #[test]
    fn the_tolerance_is_met_and_the_end_is_hit() {
        let (mut system, mut y, mut t) = (Logistic::default(), [1.0], 0.0);
        let mut method = Rosenbrock::new(1, 0.01);
        while t < 3.0 {
            t += method.step(&mut system, t, 3.0, &mut y, &[1e-7]).unwrap();
        }
        assert!((t - 3.0).abs() < 1e-12);
        assert!((y[0] - exact(3.0)).abs() < 1e-6);
        let work = method.work();
        assert!(work.accepted < 60, "{work:?}");
    }
}
