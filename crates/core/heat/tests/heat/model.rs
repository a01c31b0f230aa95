//! The heat model against closed forms, laws of conservation and its own
//! convergence.

use fondant_heat::{
    Accuracy, Air, Bucket, Deepest, Goal, Lumped, Poured, Stack, Surroundings, deepest_layer,
};
use fondant_materials::resin::{Calibrated, Properties, shipped};
use fondant_numerics::Stop;
use proptest::prelude::*;

const ROOM_K: f64 = 293.15;
const HOUR_S: f64 = 3600.0;

fn fine(degree: usize) -> Accuracy {
    Accuracy { degree, longest_m: 1.0, temperature_k: 1e-5, conversion: 1e-7, stop: Stop::NEVER }
}

fn slow() -> Calibrated {
    shipped::models().remove(0)
}

/// The resin without any reaction.
fn inert() -> Calibrated {
    slow().scaled(1e-30, 1.0)
}

const CLOSED: Surroundings = Surroundings {
    air: Air::Steady(ROOM_K),
    top_film_w_m2k: 0.0,
    base_resistance_m2k_w: f64::INFINITY,
    under_k: None,
    side_loss_w_m3k: 0.0,
    then: None,
};

fn single(
    resin: &Calibrated,
    around: &Surroundings,
    depth_m: f64,
    t_k: f64,
    accuracy: &Accuracy,
) -> Stack {
    let mut stack = Stack::new(resin, around.clone(), accuracy);
    stack.pour(depth_m, t_k, 0.0).expect("a layer in range");
    stack
}

/// Mean excess temperature of a slab cooling from 1 by equal films on both
/// faces: Σ 2 sin²ζ / (ζ (ζ + sin ζ cos ζ)) e^(−ζ² Fo), ζ tan ζ = Bi, for half
/// the depth (Incropera and DeWitt, *Fundamentals of Heat and Mass Transfer*, §5.5).
fn cooling_series(biot: f64, fourier: f64) -> f64 {
    (0..60)
        .map(|n| {
            let (mut low, mut high) = (f64::from(n) * std::f64::consts::PI, 0.0);
            high += low + std::f64::consts::FRAC_PI_2 - 1e-12;
            for _ in 0..100 {
                let middle = 0.5 * (low + high);
                if middle * middle.tan() < biot { low = middle } else { high = middle }
            }
            let z = 0.5 * (low + high);
            2.0 * z.sin().powi(2) / (z * (z + z.sin() * z.cos())) * (-z * z * fourier).exp()
        })
        .sum()
}

#[test]
fn a_cooling_slab_follows_the_fourier_series_the_closer_the_higher_the_degree() {
    let (depth_m, film) = (0.05, 10.0);
    let around = Surroundings {
        top_film_w_m2k: film,
        base_resistance_m2k_w: 1.0 / film,
        ..Surroundings::still_air(ROOM_K)
    };
    let resin = inert();
    let diffusivity =
        resin.conductivity_w_m_k / (resin.density.kg_m3() * resin.heat_capacity_j_kg_k);
    let half = 0.5 * depth_m;
    let biot = film * half / resin.conductivity_w_m_k;
    let fourier = diffusivity * HOUR_S / (half * half);
    let exact = ROOM_K + 20.0 * cooling_series(biot, fourier);
    let error = |degree| {
        let mut stack = single(&resin, &around, depth_m, ROOM_K + 20.0, &fine(degree));
        stack.run(HOUR_S, Goal::Time).unwrap();
        (stack.mean_temperature_k() - exact).abs()
    };
    let (coarse, finer) = (error(2), error(4));
    assert!(coarse < 0.3 && finer < 1e-4, "{coarse} and {finer} K");
    // Two degrees more take it by a factor that no power of the cells would.
    assert!(coarse / finer > 100.0, "{coarse} and {finer} K");
}

#[test]
fn the_peak_converges_faster_than_any_power_of_the_degree() {
    // 62.5207 °C is the converged value of an independent solver.
    let error = |degree| {
        let mut stack =
            single(&slow(), &Surroundings::still_air(ROOM_K), 0.05, ROOM_K, &fine(degree));
        stack.run(12.0 * HOUR_S, Goal::Time).unwrap();
        (stack.peak().unwrap().0 - 273.15 - 62.5207).abs()
    };
    let (three, five, seven) = (error(3), error(5), error(7));
    assert!(three < 0.1 && five < 0.002 && seven < 0.0003, "{three} {five} {seven} K");
    assert!(three > 10.0 * five, "{three} {five} K");
}

#[test]
fn the_default_accuracy_is_a_twentieth_of_a_kelvin_in_a_few_dozen_steps() {
    let mut stack =
        single(&slow(), &Surroundings::still_air(ROOM_K), 0.05, ROOM_K, &Accuracy::default());
    stack.run(72.0 * HOUR_S, Goal::Time).unwrap();
    let (peak_k, peak_s) = stack.peak().unwrap();
    assert!((peak_k - 273.15 - 62.5207).abs() < 0.05, "{}", peak_k - 273.15);
    assert!((peak_s - 18_716.0).abs() < 60.0, "{peak_s}");
    let work = stack.work();
    assert!(work.accepted <= 32 && work.evaluations <= 200, "{work:?}");
}

#[test]
fn with_closed_boundaries_all_heat_of_cure_stays_in_the_resin() {
    for resin in shipped::models() {
        let mut stack = single(&resin, &CLOSED, 0.03, ROOM_K, &Accuracy::default());
        stack.run(10.0 * HOUR_S, Goal::Time).unwrap();
        stack.pour(0.02, 303.15, 0.0).unwrap();
        let before = (stack.mean_temperature_k(), stack.mean_conversion());
        stack.run(60.0 * HOUR_S, Goal::Time).unwrap();
        let warmed = stack.mean_temperature_k() - before.0;
        let released = resin.adiabatic_rise().k() * (stack.mean_conversion() - before.1);
        assert!(released > 20.0, "{}: {released}", resin.name);
        assert!((warmed / released - 1.0).abs() < 1e-6, "{}: {warmed} {released}", resin.name);
    }
}

#[test]
fn an_insulated_slab_and_a_batch_without_loss_end_at_the_same_temperature() {
    let resin = slow();
    let mut slab = single(&resin, &CLOSED, 0.05, ROOM_K, &fine(10));
    slab.run(24.0 * HOUR_S, Goal::Time).unwrap();
    let mut batch = Lumped::new(&resin, Bucket::ADIABATIC, ROOM_K, 0.0);
    batch.run(24.0 * HOUR_S, |_| {}).unwrap();
    assert!((slab.mean_temperature_k() - batch.now().temperature_k).abs() < 0.01);
    let rise = batch.now().temperature_k - ROOM_K;
    assert!((rise - resin.adiabatic_rise().k() * batch.now().conversion).abs() < 1e-6);
}

#[test]
fn a_slab_poured_in_two_halves_at_once_is_one_slab() {
    let resin = slow();
    let around = Surroundings::still_air(ROOM_K);
    let mut whole = single(&resin, &around, 0.04, ROOM_K, &fine(12));
    whole.run(12.0 * HOUR_S, Goal::Time).unwrap();
    let mut halves = single(&resin, &around, 0.02, ROOM_K, &fine(8));
    halves.pour(0.02, ROOM_K, 0.0).unwrap();
    halves.run(12.0 * HOUR_S, Goal::Time).unwrap();
    assert!((whole.peak().unwrap().0 - halves.peak().unwrap().0).abs() < 0.001);
}

#[test]
fn warm_resin_in_a_cold_shop_is_followed_past_its_first_cooling() {
    // It cools by kelvins first and peaks hours later: a run that took the
    // cooling for the peak would call any depth safe.
    let mut stack =
        single(&slow(), &Surroundings::still_air(285.15), 0.07, 298.15, &Accuracy::default());
    stack.run(14.0 * 24.0 * HOUR_S, Goal::Peak { enough_k: 400.0 }).unwrap();
    let (peak_k, peak_s) = stack.peak().unwrap();
    assert!(peak_k > 298.15 + 30.0, "{peak_k}");
    assert!(peak_s > 2.0 * HOUR_S);
}

#[test]
fn the_deepest_layer_is_just_under_the_limit_and_a_little_deeper_is_over() {
    for resin in shipped::models() {
        let around = Surroundings::still_air(ROOM_K);
        let limit_k = resin.working.peak_limit.k();
        let found =
            deepest_layer(&resin, &around, Poured::fresh(ROOM_K), limit_k, &Accuracy::default())
                .unwrap();
        let Deepest::Limited { depth_m } = found else { panic!("{found:?}") };
        let peak = |depth| {
            let mut stack = single(&resin, &around, depth, ROOM_K, &Accuracy::default());
            stack.run(7.0 * 24.0 * HOUR_S, Goal::Peak { enough_k: 500.0 }).unwrap();
            stack.peak().unwrap().0
        };
        assert!((peak(depth_m) - limit_k).abs() < 0.1, "{}", resin.name);
        assert!(peak(depth_m * 1.02) > limit_k, "{}", resin.name);
    }
}

/// A slab between walls of fixed temperature whose reaction gives heat and is
/// never used up, at a Frank-Kamenetskii number: by how much it warms, K.
fn warming_at(delta: f64) -> f64 {
    // RT/E = 0.01, where the slab runs away from 0.8878 on (0.8785 for RT/E
    // going to 0; D. A. Frank-Kamenetskii, *Diffusion and Heat Exchange in
    // Chemical Kinetics*, 1955).
    let (half_m, heat_j_kg) = (0.01, 1e12);
    let activation = 8.314_462_618 * ROOM_K / 0.01;
    let mut resin = Properties::clone(&inert());
    resin.cure.order_n = 0.0;
    resin.cure.tg_cured_k = resin.cure.tg_uncured_k;
    resin.cure.heat_j_kg = heat_j_kg;
    resin.cure.e1_j_mol = activation;
    let by_a = activation / (8.314_462_618 * ROOM_K * ROOM_K)
        * half_m
        * half_m
        * resin.density.kg_m3()
        * heat_j_kg
        / resin.conductivity_w_m_k;
    resin.cure.a1_per_s = delta / by_a * 100.0f64.exp();
    let resin = Calibrated::of_class(resin);
    let around = Surroundings {
        top_film_w_m2k: 1e7,
        base_resistance_m2k_w: 1e-7,
        ..Surroundings::still_air(ROOM_K)
    };
    let accuracy = Accuracy { conversion: 1e-12, ..fine(12) };
    let mut stack = Stack::new(&resin, around, &accuracy);
    stack.pour(2.0 * half_m, ROOM_K, 0.0).expect("a layer in range");
    // A runaway ends the run by itself.
    let _ = stack.run(100.0 * HOUR_S, Goal::Peak { enough_k: ROOM_K + 60.0 });
    stack.peak().expect("a peak").0 - ROOM_K
}

#[test]
fn a_reaction_runs_away_at_the_critical_number() {
    let calm = warming_at(0.88);
    assert!((2.0..6.0).contains(&calm), "{calm} K below the critical number");
    let away = warming_at(0.90);
    assert!(away > 30.0, "{away} K above it");
}

#[test]
fn impossible_layers_are_refused_with_their_figures() {
    let mut stack = Stack::new(&slow(), Surroundings::still_air(ROOM_K), &Accuracy::default());
    assert!(stack.run(HOUR_S, Goal::Time).is_err(), "nothing poured");
    for (depth_m, t_k) in
        [(0.0, ROOM_K), (-0.01, ROOM_K), (2.0, ROOM_K), (f64::NAN, ROOM_K), (0.02, 20.0)]
    {
        assert!(stack.pour(depth_m, t_k, 0.0).is_err(), "{depth_m} m at {t_k} K");
    }
    let refusal = deepest_layer(
        &slow(),
        &Surroundings::still_air(340.0),
        Poured::fresh(300.0),
        338.15,
        &Accuracy::default(),
    );
    assert!(refusal.is_err());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// Of all resins but polyester: once that runs away, its hot middle burns outwards as a front, and a
    /// thicker layer gains nothing by its depth.
    #[test]
    fn no_layer_is_hotter_when_thinner(
        kind in 0usize..6, depth in 0.003f64..0.06, share in 0.3f64..0.95, room in 283.0f64..303.0,
    ) {
        let resin = shipped::models().remove(kind);
        let peak = |depth| {
            let around = Surroundings::still_air(room);
            let mut stack = single(&resin, &around, depth, room, &Accuracy::default());
            stack.run(14.0 * 24.0 * HOUR_S, Goal::Peak { enough_k: 500.0 }).unwrap();
            stack.peak().unwrap().0
        };
        prop_assert!(peak(depth * share) <= peak(depth) + 0.05);
    }

    /// Polyester at 10 °C: 41 mm is hotter than 49 mm by 1.9 K on any grid, both runaways within 20 K of
    /// what all of their heat makes, and none above it.
    #[test]
    fn a_runaway_layer_gains_nothing_by_depth(depth in 0.041f64..0.06) {
        let resin = shipped::models().remove(6);
        let around = Surroundings::still_air(283.0);
        let mut stack = single(&resin, &around, depth, 283.0, &Accuracy::default());
        stack.run(14.0 * 24.0 * HOUR_S, Goal::Peak { enough_k: 500.0 }).unwrap();
        let (peak, _) = stack.peak().unwrap();
        let adiabatic_k = 283.0 + resin.adiabatic_rise().k();
        prop_assert!((adiabatic_k - 20.0..adiabatic_k + 1.0).contains(&peak), "{}", peak);
    }

    #[test]
    fn events_come_in_their_order(kind in 0usize..7, depth in 0.003f64..0.03, room in 287.0f64..303.0) {
        let resin = shipped::models().remove(kind);
        let around = Surroundings::still_air(room);
        let mut stack = single(&resin, &around, depth, room, &Accuracy::default());
        stack.run(30.0 * 24.0 * HOUR_S, Goal::Full).unwrap();
        let e = stack.top().unwrap();
        let (gel, opens, closes, hard) =
            (e.first_gel_s.unwrap(), e.opens_s.unwrap(), e.closes_s.unwrap(), e.hard_s.unwrap());
        prop_assert!(gel <= opens && opens < closes && closes < hard);
        prop_assert!(e.peak_k >= room && (0.0..=1.0).contains(&e.peak_height_ratio));
    }
}

#[test]
fn a_layer_of_another_resin_cures_by_its_own_and_one_of_the_same_as_any() {
    let coating = shipped::models().remove(2);
    let two = |second: Option<&Calibrated>| {
        let mut stack =
            single(&slow(), &Surroundings::still_air(ROOM_K), 0.02, ROOM_K, &Accuracy::default());
        stack.run(30.0 * HOUR_S, Goal::Time).expect("the solver goes on");
        match second {
            Some(resin) => stack.pour_of(resin, 0.003, ROOM_K, 0.0),
            None => stack.pour(0.003, ROOM_K, 0.0),
        }
        .expect("a layer in range");
        stack.run(600.0 * HOUR_S, Goal::Full).expect("the solver goes on");
        *stack.top().expect("a layer")
    };
    assert_eq!(two(Some(&slow())), two(None));
    // Datasheets say 3 to 5 h at 22 °C; two degrees cooler it takes up to a quarter longer.
    let opens_h = two(Some(&coating)).opens_s.expect("it gels") / HOUR_S - 30.0;
    assert!((3.5..6.3).contains(&opens_h), "{opens_h} h");
}
