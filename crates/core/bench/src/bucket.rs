//! How long a mixed bucket can still be poured: the lumped model of its mass from the moment when A
//! met B, moved by readings of an infrared gun.
//!
//! A reading moves one number, a factor on the rate of cure. Its prior is the resin's own spread
//! (10 % where nothing is known of the bottle), a reading is good to [`READING_SD_K`].

use fondant_heat::HeatError;
use fondant_heat::Poured;
use fondant_heat::bucket::{BUCKET_FILM_W_M2K, Bucket, Lumped, pot_life_s};
use fondant_materials::resin::Calibrated;
use fondant_quantities::{Mass, Span, Temperature};

/// Spread of one infrared reading about the resin's own temperature, K (convention).
pub const READING_SD_K: f64 = 1.0;
/// Nine of ten deviates of a normal distribution lie within this many standard deviations.
const NINE_IN_TEN: f64 = 1.644_853_627;
/// Rates between which a reading may move the model: further is another resin, or a slip.
const FACTOR: (f64, f64) = (0.4, 2.5);
/// Step of the logarithm of the rate that slopes are taken over.
const SLOPE_STEP: f64 = 0.01;
/// Rounds of Gauss and Newton; one number settles in four.
const ROUNDS: usize = 8;
/// Rise above which a bucket runs away, K/min (convention).
pub const RUNAWAY_K_MIN: f64 = 3.0;
/// Temperature above which it does (convention).
pub const RUNAWAY_AT: Temperature = Temperature::from_celsius(60.0);

/// A bucket as it was mixed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Mixed {
    /// Mass in the bucket.
    pub mass: Mass,
    /// Temperature of the resin when A met B.
    pub at: Temperature,
    /// Air around it.
    pub air: Temperature,
}

/// A temperature read from the bucket.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Reading {
    /// Time since A met B.
    pub after: Span,
    /// Temperature that was read.
    pub temperature: Temperature,
}

/// Whether a bucket heats itself faster than it can lose.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Runaway {
    /// Rate of rise, K/min.
    pub rise_k_min: f64,
    /// Temperature of the bucket.
    pub at: Temperature,
}

/// What is known of a mixed bucket.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BucketClock {
    /// Rate of cure against the resin's own, by the readings.
    pub rate: f64,
    /// Standard deviation of its logarithm.
    pub rate_sd: f64,
    /// How long it can be poured, from when A met B; `None` for two weeks or more.
    pub life: Option<Span>,
    /// The same, at the earliest and the latest nine times in ten.
    pub life_between: [Option<Span>; 2],
}

/// The clock of a bucket by the readings of it.
///
/// # Errors
/// [`HeatError`] of the solver.
pub fn clock(
    resin: &Calibrated,
    mixed: Mixed,
    readings: &[Reading],
) -> Result<BucketClock, HeatError> {
    let (log_rate, rate_sd) = fitted(resin, mixed, readings)?;
    let life = |deviations: f64| -> Result<Option<Span>, HeatError> {
        let rate = (log_rate + deviations * rate_sd).exp();
        let life_s = pot_life_s(&resin.scaled(rate, 1.0), mixed.mass, mixed.air, mixed.at)?;
        Ok(life_s.map(Span::from_s))
    };
    Ok(BucketClock {
        rate: log_rate.exp(),
        rate_sd,
        life: life(0.0)?,
        life_between: [life(NINE_IN_TEN)?, life(-NINE_IN_TEN)?],
    })
}

/// The logarithm of the rate that prior and readings agree on best, and its spread.
fn fitted(resin: &Calibrated, mixed: Mixed, readings: &[Reading]) -> Result<(f64, f64), HeatError> {
    let prior_sd = resin.covariance()[0].sqrt().max(1e-3);
    let mut readings = readings.to_vec();
    readings.retain(|reading| reading.after >= Span::ZERO);
    readings.sort_by(|a, b| a.after.s().total_cmp(&b.after.s()));
    if readings.is_empty() {
        return Ok((0.0, prior_sd));
    }
    let times_s: Vec<f64> = readings.iter().map(|reading| reading.after.s()).collect();
    let temperatures =
        |log_rate: f64| course(resin, mixed, log_rate.exp()).temperatures_at(&times_s);
    let (least, most) = (FACTOR.0.ln(), FACTOR.1.ln());
    let (mut log_rate, mut sd) = (0.0f64, prior_sd);
    for _ in 0..ROUNDS {
        let (here, there) = (temperatures(log_rate)?, temperatures(log_rate + SLOPE_STEP)?);
        let mut squares = 1.0 / (prior_sd * prior_sd);
        let mut pull = -log_rate * squares;
        for ((reading, here), there) in readings.iter().zip(&here).zip(&there) {
            let slope = (there - here) / SLOPE_STEP / READING_SD_K;
            pull += slope * (reading.temperature.k() - here) / READING_SD_K;
            squares += slope * slope;
        }
        sd = squares.sqrt().recip();
        // Near a runaway slopes are steep: a step of more than a quarter would overshoot.
        let step = (pull / squares).clamp(-0.25, 0.25);
        log_rate = (log_rate + step).clamp(least, most);
        if step.abs() < 1e-6 {
            break;
        }
    }
    Ok((log_rate, sd))
}

/// The course of a mixed mass from the moment when A met B, at a rate of cure against the resin's own.
pub(crate) fn course(resin: &Calibrated, mixed: Mixed, rate: f64) -> Lumped {
    let resin = resin.scaled(rate, 1.0);
    let bucket = Bucket::as_high_as_wide(&resin, mixed.mass, mixed.air, BUCKET_FILM_W_M2K);
    Lumped::new(&resin, bucket, mixed.at.k(), 0.0)
}

impl BucketClock {
    /// The state of its resin some time after A met B.
    ///
    /// # Errors
    /// [`HeatError`] of the solver.
    pub fn poured_after(
        &self,
        resin: &Calibrated,
        mixed: Mixed,
        after: Span,
    ) -> Result<Poured, HeatError> {
        let mut course = course(resin, mixed, self.rate);
        course.run(after.s().max(0.0), |_| {})?;
        let now = course.now();
        Ok(Poured { t_k: now.temperature_k, conversion: now.conversion })
    }

    /// The bucket's temperature and its rate of rise, K/min, some time after A met B.
    ///
    /// # Errors
    /// [`HeatError`] of the solver.
    pub fn after(
        &self,
        resin: &Calibrated,
        mixed: Mixed,
        after: Span,
    ) -> Result<(Temperature, f64), HeatError> {
        let mut course = course(resin, mixed, self.rate);
        course.run(after.s().max(0.0), |_| {})?;
        let now = course.now();
        Ok((Temperature::from_k(now.temperature_k), now.warming_k_s * 60.0))
    }
}

/// Whether a bucket runs away, by the model and by the last two readings.
#[must_use]
pub fn runaway(modelled: (Temperature, f64), readings: &[Reading]) -> Option<Runaway> {
    let read = match readings {
        [.., before, last] => {
            let minutes = (last.after - before.after).s() / 60.0;
            // Readings a few seconds apart differ by their noise.
            let rise = (last.temperature - before.temperature).k() / minutes.max(0.5);
            Some(Runaway { rise_k_min: rise, at: last.temperature })
        }
        [only] => Some(Runaway { rise_k_min: 0.0, at: only.temperature }),
        [] => None,
    };
    let modelled = Runaway { rise_k_min: modelled.1, at: modelled.0 };
    let is = |found: &Runaway| found.rise_k_min > RUNAWAY_K_MIN || found.at > RUNAWAY_AT;
    read.filter(is).or_else(|| Some(modelled).filter(is))
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_materials::resin::{ResinClass, shipped};

    fn c(celsius: f64) -> Temperature {
        Temperature::from_celsius(celsius)
    }

    fn mixed(kg: f64) -> Mixed {
        Mixed { mass: Mass::from_kg(kg), at: c(24.0), air: c(21.0) }
    }

    fn read(resin: &Calibrated, of: Mixed, rate: f64, minutes: &[f64]) -> Vec<Reading> {
        let times: Vec<f64> = minutes.iter().map(|min| min * 60.0).collect();
        let found = course(resin, of, rate).temperatures_at(&times).unwrap();
        let reading = |(s, k): (&f64, f64)| Reading {
            after: Span::from_s(*s),
            temperature: Temperature::from_k(k),
        };
        times.iter().zip(found).map(reading).collect()
    }

    #[test]
    fn without_readings_it_is_the_pot_life_of_this_mass() {
        let resin = shipped::model(ResinClass::Coating);
        let of = mixed(1.0);
        let found = clock(&resin, of, &[]).unwrap();
        let life = pot_life_s(&resin, of.mass, of.air, of.at).unwrap().unwrap();
        assert!((found.life.unwrap().s() - life).abs() < 1e-6 && (found.rate - 1.0).abs() < 1e-12);
        let [early, late] = found.life_between.map(Option::unwrap);
        assert!(early.s() < life && life < late.s());
        assert!((found.rate_sd - 0.10).abs() < 1e-9, "a bottle nobody knows");
    }

    #[test]
    fn readings_move_the_clock_towards_what_they_say() {
        let resin = shipped::model(ResinClass::FastCasting);
        let of = mixed(2.0);
        let readings = read(&resin, of, 1.25, &[12.0, 22.0, 30.0]);
        let found = clock(&resin, of, &readings).unwrap();
        assert!(found.rate > 1.1 && found.rate < 1.26, "{found:?}");
        assert!(found.rate_sd < 0.1);
        let truth = pot_life_s(&resin.scaled(1.25, 1.0), of.mass, of.air, of.at).unwrap().unwrap();
        let [early, late] = found.life_between.map(|life| life.unwrap().s());
        assert!(early < truth && truth < late, "{early} {truth} {late}");
        assert!(found.life < clock(&resin, of, &[]).unwrap().life, "faster than the sheet says");
    }

    /// Bottles drawn from the prior, readings with their noise: the truth lies within the interval
    /// 85 to 95 times in a hundred.
    #[test]
    fn nine_in_ten_is_nine_in_ten() {
        // Deviates of a standard normal by the sum of twelve uniforms, from a fixed seed.
        let mut state = 0x9e37_79b9_7f4a_7c15_u64;
        let mut normal = || {
            let sum: f64 = (0..12)
                .map(|_| {
                    state ^= state << 13;
                    state ^= state >> 7;
                    state ^= state << 17;
                    (state >> 11) as f64 / (1u64 << 53) as f64
                })
                .sum();
            sum - 6.0
        };
        let (mut within, mut all) = (0, 0);
        for class in [ResinClass::FastCasting, ResinClass::Coating, ResinClass::MediumCasting] {
            let resin = shipped::model(class);
            for kg in [0.4, 1.0, 2.5] {
                for _ in 0..30 {
                    let (of, rate) = (mixed(kg), (0.1 * normal()).exp());
                    let life = pot_life_s(&resin.scaled(rate, 1.0), of.mass, of.air, of.at);
                    let life = life.unwrap().unwrap();
                    let minutes = [0.25, 0.5, 0.75].map(|share| share * life / 60.0);
                    let mut readings = read(&resin, of, rate, &minutes);
                    for reading in &mut readings {
                        let off = READING_SD_K * normal();
                        reading.temperature = Temperature::from_k(reading.temperature.k() + off);
                    }
                    let found = clock(&resin, of, &readings).unwrap();
                    let [early, late] = found.life_between.map(|life| life.unwrap().s());
                    within += usize::from(early <= life && life <= late);
                    all += 1;
                }
            }
        }
        let share = within as f64 / f64::from(all);
        assert!((0.85..=0.95).contains(&share), "{within} of {all}");
    }

    #[test]
    fn a_bucket_that_runs_away_is_told_by_gun_or_model() {
        let reading = |minutes: f64, celsius| Reading {
            after: Span::from_s(minutes * 60.0),
            temperature: c(celsius),
        };
        let calm = (c(30.0), 0.5);
        assert_eq!(runaway(calm, &[reading(5.0, 28.0), reading(6.0, 30.0)]), None);
        let found = runaway(calm, &[reading(5.0, 30.0), reading(6.0, 34.0)]).unwrap();
        assert!((found.rise_k_min - 4.0).abs() < 1e-9);
        assert!(runaway(calm, &[reading(5.0, 61.0)]).is_some());
        assert!(runaway((c(45.0), 3.2), &[]).is_some());
        assert_eq!(runaway(calm, &[]), None);
    }
}
