//! Rate and heat of a resin from the log of a cup of it.
//!
//! Three factors on the generic model are fitted: on the rate, on the heat, and on
//! what the cup loses. A slow resin in a small cup hardly warms, and then a
//! wrong loss passes for a wrong heat: a loss taken 15 % too low can turn a
//! deep pour that will overheat into one that looks safe. So a log is used
//! where it settles its own loss; else the loss must have been measured, and
//! the answer must not hang on it; else it is refused.

use crate::bucket::BUCKET_FILM_W_M2K;
use fondant_materials::resin::{Calibrated, HEAT_RANGE, RATE_RANGE, Record};
use fondant_numerics::Stop;
use fondant_numerics::least_squares::{LeastSquares, least_squares};

use super::cup::{Cup, WaterTest};
use super::factors::Factors;
use super::log::{Log, Reading};
use super::refusal::Refusal;

/// Fewest readings.
const FEWEST: usize = 12;
/// A thermometer is taken to be no better than this, K.
const LEAST_NOISE_K: f64 = 0.1;
/// Largest standard deviation of the residuals of a fit that is accepted, K (convention).
const MOST_NOISE_K: f64 = 1.5;
/// Readings further off than this many standard deviations are left out.
const OUTLIER_SPREADS: f64 = 4.0;
/// Share of outliers above which the thermometer is taken to be faulty.
const MOST_OUTLIERS: f64 = 0.15;
/// A rise from which a cup may settle its own loss, K.
const RISE_FOR_LOSS_K: f64 = 25.0;
/// The loss counts as settled where its standard deviation is at most this.
const SETTLED_LOSS: f64 = 0.06;
/// A measured loss is never better than this: the cup stands elsewhere today.
const LEAST_LOSS_DEVIATION: f64 = 0.03;
/// How far a film may be off that somebody only looked up, as a share.
const UNKNOWN_LOSS_DEVIATION: f64 = 0.25;
/// Error of the loss by which an answer is tested, as a share.
const WRONG_LOSS: f64 = 0.15;
/// Most that this error may move the heat, as a share, where the loss was taken from
/// elsewhere.
const MOST_MOVED: f64 = 0.03;
/// Losses outside these belong to another cup, or to a slip.
const LOSS_RANGE: (f64, f64) = (0.1, 3.0);
/// The search may look a little beyond, so that a fit at the edge shows as such.
const SEARCH_BEYOND: f64 = 1.5;
/// Largest difference of the first reading to the stated mix temperature that a slow thermometer explains, K.
const START_RANGE_K: f64 = 4.0;
/// How far the first temperature may be off, K.
const START_DEVIATION_K: f64 = 1.0;
/// Past the peak by this share of the time to it a log has seen it fall.
const PAST_PEAK_RATIO: f64 = 1.25;

/// Where the loss of the cup comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum LossFrom {
    /// The log settles it.
    ThisLog,
    /// Water in the same cup.
    Water,
}

/// What a log has taught.
#[derive(Debug, Clone, PartialEq)]
pub struct Lesson {
    /// The factors.
    pub factors: Factors,
    /// Variances of the natural logarithms of rate and heat, and their covariance.
    pub covariance: [f64; 3],
    /// Spread of the readings about the curve, K.
    pub noise_k: f64,
    /// Where the loss comes from.
    pub loss_from: LossFrom,
    /// The water said another loss than this log by this share, where it did.
    pub water_disagrees: Option<f64>,
    /// Readings that were thrown out.
    pub outliers: Vec<Reading>,
    /// The fitted curve at the times of the log.
    pub curve: Vec<Reading>,
}

impl Lesson {
    /// The resin as the model runs on it with this lesson.
    #[must_use]
    pub fn calibrated(&self, resin: &Record) -> Calibrated {
        let Factors { rate, heat, .. } = self.factors;
        Calibrated::taught(resin.properties.clone(), rate, heat, self.covariance)
    }
}

/// Fits a log of a cup of `resin`, by the generic model of its class.
///
/// # Errors
/// [`Refusal`] where the fit cannot be trusted.
pub fn learn(
    resin: &Record,
    cup: &Cup,
    log: &Log,
    water: Option<&WaterTest>,
    stop: &Stop,
) -> Result<Lesson, Refusal> {
    // A new log speaks of the generic model, whatever an earlier one has taught.
    let resin = &resin.generic();
    let readings = &log.readings;
    let rise_k = inspect(cup, log)?;
    let unknown = Loss { factor: 1.0, deviation: UNKNOWN_LOSS_DEVIATION };
    let fitting = Fitting { resin, cup, stop };
    let rough = fitting.of(&calmed(readings), unknown, None)?;
    let (kept, outliers) = fitting.without_outliers(readings, &rough)?;
    let free = fitting.of(&kept, unknown, Some(&rough))?;
    let settled = rise_k >= RISE_FOR_LOSS_K && free.loss_deviation() <= SETTLED_LOSS;
    if rise_k >= RISE_FOR_LOSS_K {
        // For a warm cup that no curve comes near, heat loss is not the cause.
        believable(&free)?;
    }
    let measured = water.map(|test| Loss {
        factor: cup.loss_for_film(resin, test.film_w_m2k),
        deviation: test.deviation_ratio.max(LEAST_LOSS_DEVIATION),
    });
    let apart = measured.map(|loss| (free.factors.loss / loss.factor).ln());
    let (best, loss_from) = match measured {
        _ if settled => (free, LossFrom::ThisLog),
        Some(loss) => {
            let fitted = fitting.of(&kept, loss, Some(&free))?;
            let wrong = Loss { factor: loss.factor * (1.0 - WRONG_LOSS), ..loss };
            let other = fitting.of(&kept, wrong, Some(&fitted))?;
            let moved = other.factors.heat / fitted.factors.heat - 1.0;
            if moved.abs() > MOST_MOVED {
                return Err(Refusal::HangsOnLoss { rise_k, moved_percent: moved.abs() * 100.0 });
            }
            (fitted, LossFrom::Water)
        }
        None if rise_k >= RISE_FOR_LOSS_K => return Err(Refusal::LossUnsettled),
        None => return Err(Refusal::HardlyWarmed { rise_k }),
    };
    believable(&best)?;
    let times: Vec<f64> = readings.iter().map(|r| r.t_s).collect();
    let curve = fitting.curve(&best.factors, best.start_k, &times)?;
    let c = &best.covariance;
    Ok(Lesson {
        factors: best.factors,
        covariance: [c[0][0], c[1][1], c[0][1]],
        noise_k: best.noise_k,
        loss_from,
        water_disagrees: apart
            .filter(|apart| loss_from == LossFrom::ThisLog && apart.abs() > 0.1)
            .map(|apart| apart.exp() - 1.0),
        outliers,
        curve: times.into_iter().zip(curve).map(|(t_s, t_k)| Reading { t_s, t_k }).collect(),
    })
}

/// Whether a curve of this resin comes near the log.
fn believable(fitted: &Fitted) -> Result<(), Refusal> {
    let Factors { rate, heat, .. } = fitted.factors;
    let within = |range: (f64, f64), value: f64| (range.0..=range.1).contains(&value);
    if fitted.noise_k > MOST_NOISE_K {
        return Err(Refusal::DoesNotFit { noise_k: fitted.noise_k });
    }
    if !within(RATE_RANGE, rate) || !within(HEAT_RANGE, heat) {
        return Err(Refusal::OutOfRange { rate, heat });
    }
    Ok(())
}

/// What shows before any fit. Returns by how much the cup warmed, K.
fn inspect(cup: &Cup, log: &Log) -> Result<f64, Refusal> {
    let readings = &log.readings;
    if readings.len() < FEWEST {
        return Err(Refusal::TooFew { found: readings.len() });
    }
    let mut first: Vec<f64> = readings[..5].iter().map(|r| r.t_k).collect();
    first.sort_by(f64::total_cmp);
    let start_k = first[2];
    let air_k = cup.air.k();
    let as_fahrenheit_k = (start_k - 273.15 - 32.0) / 1.8 + 273.15;
    if start_k - air_k > 25.0 && (as_fahrenheit_k - air_k).abs() < 15.0 {
        return Err(Refusal::LooksLikeFahrenheit { celsius: start_k - 273.15 });
    }
    if start_k - air_k > 25.0 {
        return Err(Refusal::BeginsWarm { celsius: start_k - 273.15 });
    }
    // The peak as the middle of three neighbours shows it: one reading may lie.
    let (peak_at, peak_k) = readings
        .windows(3)
        .map(|w| {
            let mut three = [w[0].t_k, w[1].t_k, w[2].t_k];
            three.sort_by(f64::total_cmp);
            (w[1].t_s, three[1])
        })
        .fold((0.0, f64::MIN), |best, now| if now.1 > best.1 { now } else { best });
    let end = readings[readings.len() - 1];
    let rise_k = peak_k - start_k;
    if end.t_s < PAST_PEAK_RATIO * peak_at || end.t_k > peak_k - 0.08 * rise_k.max(0.0) {
        return Err(Refusal::EndsEarly { hours: end.t_s / 3600.0 });
    }
    let around = (0.85 * peak_at, 1.15 * peak_at);
    let covers =
        |gap: &&(f64, f64)| gap.0 < around.1 && gap.1 > around.0 && gap.1 - gap.0 > 0.12 * peak_at;
    if let Some((from, to)) = log.gaps.iter().find(covers) {
        return Err(Refusal::GapAtPeak { from_min: from / 60.0, to_min: to / 60.0 });
    }
    Ok(rise_k)
}

/// What is known of the loss before the fit.
#[derive(Debug, Clone, Copy)]
struct Loss {
    factor: f64,
    deviation: f64,
}

struct Fitted {
    factors: Factors,
    start_k: f64,
    noise_k: f64,
    /// Of the logarithms of rate, heat and loss, and of the start.
    covariance: Vec<Vec<f64>>,
}

impl Fitted {
    fn loss_deviation(&self) -> f64 {
        self.covariance[2][2].sqrt()
    }
}

/// What is fitted to readings.
struct Fitting<'a> {
    resin: &'a Calibrated,
    cup: &'a Cup,
    stop: &'a Stop,
}

impl Fitting<'_> {
    /// The best curve through readings; sought from an earlier one, where there is one.
    fn of(
        &self,
        readings: &[Reading],
        loss: Loss,
        earlier: Option<&Fitted>,
    ) -> Result<Fitted, Refusal> {
        let times: Vec<f64> = readings.iter().map(|r| r.t_s).collect();
        let wide =
            |(low, high): (f64, f64)| ((low / SEARCH_BEYOND).ln(), (high * SEARCH_BEYOND).ln());
        let start_k = readings[0].t_k;
        let bounds = [
            wide(RATE_RANGE),
            wide(HEAT_RANGE),
            wide(LOSS_RANGE),
            (start_k - START_RANGE_K, start_k + START_RANGE_K),
        ];
        let solve = |noise_k: f64, from: &[f64]| -> Result<LeastSquares, Refusal> {
            least_squares(from, &bounds, |x| {
                let factors = Factors { rate: x[0].exp(), heat: x[1].exp(), loss: x[2].exp() };
                let curve = self.curve(&factors, x[3], &times).ok()?;
                let mut all: Vec<f64> =
                    curve.iter().zip(readings).map(|(c, r)| (c - r.t_k) / noise_k).collect();
                all.push((x[2] - loss.factor.ln()) / loss.deviation);
                all.push((x[3] - start_k) / START_DEVIATION_K);
                Some(all)
            })
            .map_err(|error| Refusal::NoFit(error.to_string()))
        };
        let count = readings.len();
        let noise_of = |fit: &LeastSquares, unit: f64| {
            let sum: f64 = fit.residuals[..count].iter().map(|r| r * r).sum();
            (unit * (sum / (count as f64 - 4.0)).sqrt()).max(LEAST_NOISE_K)
        };
        // The spread is not known before the first fit, and weighs what is known of
        // the loss against the readings in the second.
        let mut noise_k = 0.4;
        let from = earlier.map_or(
            [0.0, 0.0, loss.factor.ln(), start_k],
            |Fitted { factors, start_k, .. }| {
                [factors.rate.ln(), factors.heat.ln(), factors.loss.ln(), *start_k]
            },
        );
        let mut best = solve(noise_k, &from)?;
        for _ in 0..2 {
            noise_k = noise_of(&best, noise_k);
            best = solve(noise_k, &best.x.clone())?;
        }
        let x = &best.x;
        Ok(Fitted {
            factors: Factors { rate: x[0].exp(), heat: x[1].exp(), loss: x[2].exp() },
            start_k: x[3],
            noise_k: noise_of(&best, noise_k),
            covariance: best.inverse_normal.clone(),
        })
    }

    /// What the thermometer would show.
    fn curve(&self, factors: &Factors, start_k: f64, times_s: &[f64]) -> Result<Vec<f64>, Refusal> {
        self.cup
            .temperatures(self.resin, factors, start_k, times_s, self.stop)
            .map_err(|error| Refusal::NoFit(error.to_string()))
    }

    /// Throws out what lies far from a first fit that readings far away pull little.
    fn without_outliers(
        &self,
        readings: &[Reading],
        first: &Fitted,
    ) -> Result<(Vec<Reading>, Vec<Reading>), Refusal> {
        let times: Vec<f64> = readings.iter().map(|r| r.t_s).collect();
        let curve = self.curve(&first.factors, first.start_k, &times)?;
        let off: Vec<f64> = readings.iter().zip(&curve).map(|(r, c)| r.t_k - c).collect();
        let limit = OUTLIER_SPREADS * spread(&off).max(LEAST_NOISE_K);
        let (kept, thrown): (Vec<_>, Vec<_>) =
            readings.iter().zip(&off).partition(|(_, off)| off.abs() <= limit);
        let only =
            |all: Vec<(&Reading, &f64)>| all.into_iter().map(|(r, _)| *r).collect::<Vec<_>>();
        if thrown.len() as f64 > MOST_OUTLIERS * readings.len() as f64 {
            return Err(Refusal::Jumps { found: thrown.len(), of: readings.len() });
        }
        Ok((only(kept), only(thrown)))
    }
}

/// Each reading as the median of itself and its neighbours.
fn calmed(readings: &[Reading]) -> Vec<Reading> {
    (0..readings.len())
        .map(|index| {
            let from = index.saturating_sub(2);
            let to = (index + 3).min(readings.len());
            let mut near: Vec<f64> = readings[from..to].iter().map(|r| r.t_k).collect();
            near.sort_by(f64::total_cmp);
            Reading { t_s: readings[index].t_s, t_k: near[near.len() / 2] }
        })
        .collect()
}

/// 1.4826 times the median of what is off: the standard deviation of what is
/// normal, whatever a few do.
fn spread(off: &[f64]) -> f64 {
    let mut sizes: Vec<f64> = off.iter().map(|v| v.abs()).collect();
    sizes.sort_by(f64::total_cmp);
    1.4826 * sizes[sizes.len() / 2]
}

/// The film that a factor on the loss stands for, for showing it, W/(m²·K).
#[must_use]
pub fn film_of(resin: &Calibrated, cup: &Cup, loss: f64) -> f64 {
    // Film and resin in series: of their sum only the film is free.
    let usual = 1.0 / BUCKET_FILM_W_M2K;
    let diameter_m = (4.0 * cup.volume(resin).m3() / std::f64::consts::PI).cbrt();
    let inside = diameter_m / (10.0 * resin.conductivity_w_m_k);
    1.0 / ((usual + inside) / loss - inside).max(1e-3)
}
