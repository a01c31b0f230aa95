//! Resin of one temperature throughout: a bucket or cup, or a batch that
//! loses no heat at all.

use crate::cure::{CureRate, Slopes, viscosity_pa_s};
use fondant_materials::resin::Calibrated;
use fondant_numerics::Stop;
use fondant_numerics::roots::first_true;
use fondant_numerics::rosenbrock::{Rosenbrock, StiffSystem};
use fondant_quantities::{Mass, Temperature};

use crate::error::HeatError;

/// Mean film coefficient over all sides of a bucket in still air, W/(m²·K).
pub const BUCKET_FILM_W_M2K: f64 = 8.0;
const FIRST_STEP_S: f64 = 1.0;
/// Error allowed in a step: temperature in K, conversion.
const TOLERANCE: [f64; 2] = [1e-4, 1e-6];
const MOMENTS: [f64; 8] = [0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875, 1.0];

/// How a lumped batch loses heat.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bucket {
    /// Air around it, K.
    pub air_k: f64,
    /// UA / (m cp), 1/s; 0 is adiabatic.
    pub loss_per_s: f64,
}

impl Bucket {
    /// A batch that loses nothing.
    pub const ADIABATIC: Self = Self { air_k: 293.15, loss_per_s: 0.0 };

    /// A cylinder as high as it is wide that the batch just fills, losing heat
    /// on all faces through the film and half-way through the resin:
    /// `U = 1 / (1/h + D / 10k)`, `A = 1.5 π D²`.
    #[must_use]
    pub fn as_high_as_wide(
        resin: &Calibrated,
        mass: Mass,
        air: Temperature,
        film_w_m2k: f64,
    ) -> Self {
        let volume_m3 = (mass / resin.density).m3();
        let diameter_m = (4.0 * volume_m3 / std::f64::consts::PI).cbrt();
        let area_m2 = 1.5 * std::f64::consts::PI * diameter_m.powi(2);
        let u = 1.0 / (1.0 / film_w_m2k + diameter_m / (10.0 * resin.conductivity_w_m_k));
        Self { air_k: air.k(), loss_per_s: u * area_m2 / (mass.kg() * resin.heat_capacity_j_kg_k) }
    }
}

/// One moment of a lumped batch.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LumpedMoment {
    /// Seconds from mixing.
    pub t_s: f64,
    /// Temperature, K.
    pub temperature_k: f64,
    /// Conversion.
    pub conversion: f64,
    /// dT/dt, K/s.
    pub warming_k_s: f64,
}

/// The course of a lumped batch.
#[derive(Debug, Clone)]
pub struct Lumped {
    system: System,
    method: Rosenbrock,
    y: [f64; 2],
    time_s: f64,
    stop: Stop,
}

#[derive(Debug, Clone)]
struct System {
    cure: CureRate,
    rise_k: f64,
    bucket: Bucket,
    slopes: Slopes,
    inverse_conversion: f64,
    inverse_temperature: f64,
}

impl System {
    fn warming_k_s(&self, t_k: f64, conversion: f64) -> f64 {
        self.rise_k * self.cure.rate_per_s(conversion, t_k)
            - self.bucket.loss_per_s * (t_k - self.bucket.air_k)
    }
}

impl StiffSystem for System {
    fn rates(&mut self, _: f64, y: &[f64], dydt: &mut [f64]) {
        dydt[1] = self.cure.rate_per_s(y[1], y[0]);
        dydt[0] = self.rise_k * dydt[1] - self.bucket.loss_per_s * (y[0] - self.bucket.air_k);
    }
    fn linearise(&mut self, _: f64, y: &[f64], dydt: &mut [f64], _: &mut [f64]) -> bool {
        self.slopes = self.cure.slopes(y[1], y[0]);
        dydt[1] = self.slopes.rate_per_s;
        dydt[0] = self.rise_k * dydt[1] - self.bucket.loss_per_s * (y[0] - self.bucket.air_k);
        false
    }
    fn factorise(&mut self, shift: f64) -> bool {
        let conversion = shift - self.slopes.by_conversion_per_s;
        self.inverse_conversion = 1.0 / conversion;
        let temperature = shift + self.bucket.loss_per_s
            - self.rise_k * self.slopes.by_temperature_per_s_k * shift / conversion;
        self.inverse_temperature = 1.0 / temperature;
        conversion > 0.0 && temperature > 0.0
    }
    fn solve(&self, x: &mut [f64]) {
        let pull = self.rise_k * self.slopes.by_conversion_per_s * self.inverse_conversion;
        x[0] = (x[0] + pull * x[1]) * self.inverse_temperature;
        x[1] = (x[1] + self.slopes.by_temperature_per_s_k * x[0]) * self.inverse_conversion;
    }
}

impl Lumped {
    /// A batch mixed at this temperature and conversion.
    #[must_use]
    pub fn new(resin: &Calibrated, bucket: Bucket, t_k: f64, conversion: f64) -> Self {
        Self {
            system: System {
                cure: CureRate::new(&resin.cure),
                rise_k: resin.adiabatic_rise().k(),
                bucket,
                slopes: Slopes {
                    rate_per_s: 0.0,
                    by_conversion_per_s: 0.0,
                    by_temperature_per_s_k: 0.0,
                },
                inverse_conversion: 0.0,
                inverse_temperature: 0.0,
            },
            method: Rosenbrock::new(2, FIRST_STEP_S),
            y: [t_k, conversion],
            time_s: 0.0,
            stop: Stop::NEVER,
        }
    }

    /// The same for as long as an answer is wanted.
    #[must_use]
    pub fn until(self, stop: &Stop) -> Self {
        Self { stop: stop.clone(), ..self }
    }

    /// One step towards `end_s`; its length, s.
    fn step(&mut self, end_s: f64) -> Result<f64, HeatError> {
        if self.stop.is_requested() {
            return Err(HeatError::Abandoned { at_s: self.time_s });
        }
        Ok(self.method.step(&mut self.system, self.time_s, end_s, &mut self.y, &TOLERANCE)?)
    }

    /// Its state at the time reached.
    #[must_use]
    pub fn now(&self) -> LumpedMoment {
        LumpedMoment {
            t_s: self.time_s,
            temperature_k: self.y[0],
            conversion: self.y[1],
            warming_k_s: self.system.warming_k_s(self.y[0], self.y[1]),
        }
    }

    /// Follows the batch to `end_s`, showing several moments of every step.
    ///
    /// # Errors
    /// [`HeatError::Step`] where the solver cannot go on; [`HeatError::Abandoned`].
    pub fn run(&mut self, end_s: f64, mut see: impl FnMut(LumpedMoment)) -> Result<(), HeatError> {
        while self.time_s < end_s {
            let h = self.step(end_s)?;
            if h <= 0.0 {
                break;
            }
            for theta in MOMENTS {
                see(self.moment(theta, h));
            }
            self.time_s += h;
        }
        Ok(())
    }

    fn moment(&self, theta: f64, h: f64) -> LumpedMoment {
        let (temperature_k, conversion) = (self.method.at(theta, 0), self.method.at(theta, 1));
        LumpedMoment {
            t_s: self.time_s + theta * h,
            temperature_k,
            conversion,
            warming_k_s: self.system.warming_k_s(temperature_k, conversion),
        }
    }

    /// The temperatures at times from now on, which must not fall, K.
    ///
    /// # Errors
    /// [`HeatError::Step`] where the solver cannot go on; [`HeatError::Abandoned`].
    pub fn temperatures_at(&mut self, times_s: &[f64]) -> Result<Vec<f64>, HeatError> {
        let end_s = times_s.last().copied().unwrap_or(self.time_s);
        let mut all = Vec::with_capacity(times_s.len());
        while all.len() < times_s.len() && times_s[all.len()] <= self.time_s {
            all.push(self.y[0]);
        }
        while self.time_s < end_s {
            let h = self.step(end_s)?;
            if h <= 0.0 {
                break;
            }
            while all.len() < times_s.len() && times_s[all.len()] <= self.time_s + h * (1.0 + 1e-9)
            {
                all.push(self.method.at(((times_s[all.len()] - self.time_s) / h).min(1.0), 0));
            }
            self.time_s += h;
        }
        all.resize(times_s.len(), self.y[0]);
        Ok(all)
    }

    /// Follows the batch until a condition first holds, and says when, or
    /// `None` where it does not by `end_s`. The state is then past that moment
    /// by less than one step.
    ///
    /// # Errors
    /// [`HeatError::Step`] where the solver cannot go on; [`HeatError::Abandoned`].
    pub fn run_until(
        &mut self,
        end_s: f64,
        holds: impl Fn(LumpedMoment) -> bool,
    ) -> Result<Option<f64>, HeatError> {
        if holds(self.now()) {
            return Ok(Some(self.time_s));
        }
        while self.time_s < end_s {
            let h = self.step(end_s)?;
            if h <= 0.0 {
                break;
            }
            for (index, theta) in MOMENTS.into_iter().enumerate() {
                if holds(self.moment(theta, h)) {
                    let from = if index == 0 { 0.0 } else { MOMENTS[index - 1] };
                    let within = first_true(|s| holds(self.moment(from + s * (theta - from), h)));
                    let at = self.time_s + (from + within * (theta - from)) * h;
                    self.time_s += h;
                    return Ok(Some(at));
                }
            }
            self.time_s += h;
        }
        Ok(None)
    }
}

/// How long a mixed mass can be poured: until it is too thick or too warm.
/// `None` where neither happens within two weeks.
///
/// # Errors
/// [`HeatError`] of the solver.
pub fn pot_life_s(
    resin: &Calibrated,
    mass: Mass,
    air: Temperature,
    mixed: Temperature,
) -> Result<Option<f64>, HeatError> {
    let bucket = Bucket::as_high_as_wide(resin, mass, air, BUCKET_FILM_W_M2K);
    let (limit_pa_s, limit_k) = (resin.viscosity.pot_limit_pa_s, resin.working.pot_limit.k());
    Lumped::new(resin, bucket, mixed.k(), 0.0).run_until(14.0 * 86_400.0, |m| {
        m.temperature_k >= limit_k
            || viscosity_pa_s(resin, m.conversion, m.temperature_k) >= limit_pa_s
    })
}

/// Smallest batch that is mixed, kg (convention).
const SMALLEST_KG: f64 = 0.1;
/// Masses that can be poured in time are rounded down to this, kg.
const MASS_STEP_KG: f64 = 0.05;

/// The largest mass, no more than `most`, that can be poured for this long after
/// it is mixed. More in one bucket warms itself and thickens sooner. `None`
/// where even 100 g are too thick by then.
///
/// # Errors
/// [`HeatError`] of the solver.
pub fn pourable_mass(
    resin: &Calibrated,
    most: Mass,
    needed_s: f64,
    air: Temperature,
    mixed: Temperature,
) -> Result<Option<Mass>, HeatError> {
    let lasts = |kg: f64| -> Result<bool, HeatError> {
        let life_s = pot_life_s(resin, Mass::from_kg(kg), air, mixed)?;
        Ok(life_s.is_none_or(|life_s| life_s >= needed_s))
    };
    if lasts(most.kg())? {
        return Ok(Some(most));
    }
    if most.kg() <= SMALLEST_KG || !lasts(SMALLEST_KG)? {
        return Ok(None);
    }
    let (mut fits, mut spoils) = (SMALLEST_KG, most.kg());
    while spoils - fits > 0.5 * MASS_STEP_KG {
        let kg = 0.5 * (fits + spoils);
        if lasts(kg)? { fits = kg } else { spoils = kg }
    }
    let rounded = (fits / MASS_STEP_KG).floor() * MASS_STEP_KG;
    Ok(Some(Mass::from_kg(rounded.max(SMALLEST_KG))))
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_materials::resin::shipped;
    use proptest::prelude::*;

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(48))]

        /// What is said to be pourable is, a little more is not, and nobody is
        /// told to mix more than he asked for.
        #[test]
        fn the_pourable_mass_is_the_largest(
            class in 0usize..7,
            most_kg in 0.2..20.0f64,
            minutes in 2.0..90.0f64,
            mixed_c in 16.0..30.0f64,
        ) {
            let resin = &shipped::models()[class];
            let c = Temperature::from_celsius;
            let (most, needed_s) = (Mass::from_kg(most_kg), 60.0 * minutes);
            let life_s = |kg: f64| {
                let life = pot_life_s(resin, Mass::from_kg(kg), c(20.0), c(mixed_c)).unwrap();
                life.unwrap_or(f64::INFINITY)
            };
            match pourable_mass(resin, most, needed_s, c(20.0), c(mixed_c)).unwrap() {
                Some(mass) => {
                    prop_assert!(mass <= most && life_s(mass.kg()) >= needed_s);
                    let more_kg = mass.kg() + 2.0 * MASS_STEP_KG;
                    prop_assert!(more_kg >= most_kg || life_s(more_kg) < needed_s);
                }
                None => prop_assert!(life_s(SMALLEST_KG) < needed_s),
            }
        }
    }
}
