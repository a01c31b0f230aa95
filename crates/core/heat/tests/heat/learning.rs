//! Calibration from synthetic logs whose true parameters are known.

use fondant_heat::bucket::{BUCKET_FILM_W_M2K, Bucket, Lumped};
use fondant_heat::calibration::Refusal;
use fondant_heat::calibration::cup::{Cup, WaterTest, water_test};
use fondant_heat::calibration::factors::Factors;
use fondant_heat::calibration::forecast::{Layer, peak};
use fondant_heat::calibration::learning::{LossFrom, learn};
use fondant_heat::calibration::log::{Log, Reading};
use fondant_heat::{Poured, Surroundings};
use fondant_materials::resin::{Calibrated, Record, ResinClass, shipped};
use fondant_numerics::Stop;
use fondant_quantities::{Mass, Temperature};

const TRUTH: Factors = Factors { rate: 1.3, heat: 0.92, loss: 1.15 };

/// A small generator of evenly spread numbers, the same on every machine
/// (SplitMix64, G. L. Steele and others, OOPSLA 2014).
struct Chance(u64);

impl Chance {
    fn even(&mut self) -> f64 {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        ((z ^ (z >> 31)) >> 11) as f64 / (1u64 << 53) as f64
    }

    fn normal(&mut self) -> f64 {
        let radius = (-2.0 * self.even().max(1e-12).ln()).sqrt();
        radius * (std::f64::consts::TAU * self.even()).cos()
    }
}

/// A cup of a resin and the layer whose peak is asked for.
struct Job {
    record: Record,
    resin: Calibrated,
    cup: Cup,
    layer: Layer,
}

fn job(class: ResinClass, kg: f64, celsius: f64, depth_mm: f64) -> Job {
    let air = Temperature::from_celsius(celsius);
    Job {
        record: shipped::generic(class),
        resin: shipped::model(class),
        cup: Cup { mass: Mass::from_kg(kg), air },
        layer: Layer {
            depth_m: depth_mm * 1e-3,
            poured: Poured::fresh(air.k()),
            surroundings: Surroundings::still_air(air.k()),
            stop: Stop::NEVER,
        },
    }
}

/// What happens in a cup, without the noise of a thermometer: up to 2.2 times the time of the peak.
fn course_of(job: &Job) -> Vec<Reading> {
    let scaled = job.resin.scaled(TRUTH.rate, TRUTH.heat);
    let mut bucket =
        Bucket::as_high_as_wide(&job.resin, job.cup.mass, job.cup.air, BUCKET_FILM_W_M2K);
    bucket.loss_per_s *= TRUTH.loss;
    let start_k = job.cup.air.k();
    let mut top = (0.0, 0.0);
    Lumped::new(&scaled, bucket, start_k, 0.0)
        .run(100.0 * 3600.0, |m| {
            if m.temperature_k > top.1 {
                top = (m.t_s, m.temperature_k);
            }
        })
        .expect("the solver goes on");
    let times: Vec<f64> = (0..120).map(|i| 2.2 * top.0 * f64::from(i) / 119.0).collect();
    let curve =
        job.cup.temperatures(&job.resin, &TRUTH, start_k, &times, &Stop::NEVER).expect("a curve");
    times.into_iter().zip(curve).map(|(t_s, t_k)| Reading { t_s, t_k }).collect()
}

/// The log of a course by a thermometer with noise, a share of whose readings are outliers.
fn log_of(course: &[Reading], noise_k: f64, outliers: f64, chance: &mut Chance) -> Log {
    let readings = course
        .iter()
        .map(|&Reading { t_s, t_k }| {
            let jump = if chance.even() < outliers { 12.0 * (chance.even() - 0.3) } else { 0.0 };
            Reading { t_s, t_k: t_k + noise_k * chance.normal() + jump }
        })
        .collect();
    Log { readings, rows: 120, gaps: Vec::new() }
}

/// Warm water in the same cup, whose film is what the loss of the truth means.
fn water_of(job: &Job, loss: f64, chance: &mut Chance) -> WaterTest {
    let film = film_for(job, loss);
    let volume = job.cup.volume(&job.resin);
    let diameter = (4.0 * volume.m3() / std::f64::consts::PI).cbrt();
    let rate =
        film * 1.5 * std::f64::consts::PI * diameter.powi(2) / (volume.m3() * 992.0 * 4179.0);
    let readings: Vec<Reading> = (0..40)
        .map(|i| {
            let t_s = f64::from(i) * 120.0;
            let t_k = job.cup.air.k() + 25.0 * (-rate * t_s).exp() + 0.3 * chance.normal();
            Reading { t_s, t_k }
        })
        .collect();
    water_test(volume, job.cup.air, &readings).expect("cooling water")
}

fn film_for(job: &Job, loss: f64) -> f64 {
    let (mut low, mut high) = (1.0, 30.0);
    for _ in 0..60 {
        let middle = 0.5 * (low + high);
        if job.cup.loss_for_film(&job.resin, middle) < loss { low = middle } else { high = middle }
    }
    low
}

fn true_peak(job: &Job) -> f64 {
    peak(&job.resin.scaled(TRUTH.rate, TRUTH.heat), &job.layer).expect("a peak").value
}

/// Of 200 logs: how many were used, and how often the interval of the peak
/// then held the truth.
fn coverage(job: &Job, water: Option<f64>, noise_k: f64, outliers: f64) -> (usize, f64) {
    let (truth, course) = (true_peak(job), course_of(job));
    let (mut believed, mut covered) = (0, 0);
    for seed in 0..200 {
        let mut chance = Chance(seed);
        let log = log_of(&course, noise_k, outliers, &mut chance);
        let water = water.map(|loss| water_of(job, loss, &mut chance));
        let Ok(lesson) = learn(&job.record, &job.cup, &log, water.as_ref(), &Stop::NEVER) else {
            continue;
        };
        believed += 1;
        let found = peak(&lesson.calibrated(&job.record), &job.layer).expect("a peak");
        if (found.low..=found.high).contains(&truth) {
            covered += 1;
        }
    }
    (believed, f64::from(covered) / believed.max(1) as f64)
}

fn assert_honest(job: &Job, what: &str, water: Option<f64>, noise_k: f64, outliers: f64) {
    let (believed, share) = coverage(job, water, noise_k, outliers);
    assert!(believed >= 150, "{what}: only {believed} of 200 believed");
    assert!((0.85..=0.95).contains(&share), "{what}: {share} of {believed}");
}

#[test]
fn intervals_of_a_medium_resin_hold_the_truth_nine_times_in_ten() {
    let cup = job(ResinClass::MediumCasting, 0.2, 22.0, 15.0);
    assert_honest(&cup, "loss from the log", None, 0.3, 0.0);
    assert_honest(&cup, "one in twenty jumps", None, 0.3, 0.05);
}

#[test]
fn with_a_log_of_water_they_hold_it_as_often() {
    let cup = job(ResinClass::MediumCasting, 0.2, 22.0, 15.0);
    assert_honest(&cup, "loss from water", Some(1.15), 0.4, 0.0);
    assert_honest(&cup, "loss 15 % too low", Some(1.15 * 0.85), 0.3, 0.0);
}

#[test]
fn intervals_of_a_slow_resin_in_a_big_cup_hold_the_truth_nine_times_in_ten() {
    let cup = job(ResinClass::SlowCasting, 3.0, 20.0, 50.0);
    assert_honest(&cup, "loss from the log", None, 0.3, 0.0);
    assert_honest(&cup, "loss 15 % too high", Some(1.15 * 1.15), 0.4, 0.0);
}

#[test]
fn intervals_of_a_coating_resin_hold_the_truth_nine_times_in_ten() {
    let cup = job(ResinClass::Coating, 0.15, 22.0, 6.0);
    assert_honest(&cup, "loss from the log", None, 0.5, 0.05);
}

#[test]
fn a_small_cup_of_a_slow_resin_is_refused_with_what_to_do_instead() {
    let small = job(ResinClass::SlowCasting, 0.5, 20.0, 50.0);
    let course = course_of(&small);
    for seed in 0..40 {
        let mut chance = Chance(seed);
        let log = log_of(&course, 0.3, 0.0, &mut chance);
        let alone = learn(&small.record, &small.cup, &log, None, &Stop::NEVER).unwrap_err();
        assert!(matches!(alone, Refusal::HardlyWarmed { .. }), "{alone}");
        for loss in [1.15, 1.15 * 0.85] {
            let water = water_of(&small, loss, &mut chance);
            let hangs =
                learn(&small.record, &small.cup, &log, Some(&water), &Stop::NEVER).unwrap_err();
            assert!(matches!(hangs, Refusal::HangsOnLoss { .. }), "{hangs}");
        }
    }
}

#[test]
fn a_wrong_water_log_is_noticed_where_the_log_knows_better() {
    let cup = job(ResinClass::MediumCasting, 0.2, 22.0, 15.0);
    let mut chance = Chance(7);
    let log = log_of(&course_of(&cup), 0.3, 0.0, &mut chance);
    let water = water_of(&cup, 1.15 * 0.7, &mut chance);
    let lesson = learn(&cup.record, &cup.cup, &log, Some(&water), &Stop::NEVER).unwrap();
    assert_eq!(lesson.loss_from, LossFrom::ThisLog);
    assert!(lesson.water_disagrees.unwrap() > 0.2, "{:?}", lesson.water_disagrees);
    assert!((lesson.factors.rate / TRUTH.rate - 1.0).abs() < 0.04, "{:?}", lesson.factors);
}

#[test]
fn logs_that_cannot_teach_are_refused_by_what_is_wrong_with_them() {
    let cup = job(ResinClass::MediumCasting, 0.2, 22.0, 15.0);
    let good = log_of(&course_of(&cup), 0.3, 0.0, &mut Chance(3));
    let teach = |log: &Log| learn(&cup.record, &cup.cup, log, None, &Stop::NEVER);
    assert!(teach(&good).is_ok());

    let mut early = good.clone();
    early.readings.truncate(50);
    assert!(matches!(teach(&early), Err(Refusal::EndsEarly { .. })));

    let mut gap = good.clone();
    let (from, to) = (gap.readings[45].t_s, gap.readings[64].t_s);
    gap.readings.drain(46..64);
    gap.gaps = vec![(from, to)];
    assert!(matches!(teach(&gap), Err(Refusal::GapAtPeak { .. })));

    let mut scale = good.clone();
    for reading in &mut scale.readings {
        reading.t_k = (reading.t_k - 273.15) * 1.8 + 32.0 + 273.15;
    }
    assert!(matches!(teach(&scale), Err(Refusal::LooksLikeFahrenheit { .. })));

    let mut loose = good.clone();
    for (index, reading) in loose.readings.iter_mut().enumerate() {
        if index % 4 == 1 {
            reading.t_k -= 9.0;
        }
    }
    assert!(matches!(teach(&loose), Err(Refusal::Jumps { .. })), "{:?}", teach(&loose));

    let slow = job(ResinClass::SlowCasting, 0.2, 22.0, 15.0);
    let other = learn(&slow.record, &slow.cup, &good, None, &Stop::NEVER);
    assert!(other.is_err(), "another resin's log: {other:?}");
}
