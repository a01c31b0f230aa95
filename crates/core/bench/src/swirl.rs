//! Colours joined in one block: when a cup is warm enough, how thick it is then, when it is too late,
//! and what the shop's own swirls say of edges.

use fondant_heat::HeatError;
use fondant_heat::cure::viscosity_pa_s;
use fondant_materials::resin::Calibrated;
use fondant_quantities::{Span, Temperature};
use serde::{Deserialize, Serialize};

use crate::bucket::{Mixed, course};

/// Longest time that a cup is simulated, s.
const HORIZON_S: f64 = 3.0 * 86_400.0;

/// A cup on its way to the join.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Join {
    /// How long after A met B it is warm enough; `None` where this mass never is.
    pub reaches: Option<Span>,
    /// How thick it is then, Pa·s; `None` where it never is warm enough.
    pub viscosity_pa_s: Option<f64>,
    /// How long after A met B it gels: it must be in the block before; `None` for three days or more.
    pub gels: Option<Span>,
    /// The warmest it gets until it gels.
    pub warmest: Temperature,
}

/// The way of a cup to the join. `rate` is its rate of cure against the resin's own, by readings of it.
///
/// # Errors
/// [`HeatError`] of the solver.
pub fn join(
    resin: &Calibrated,
    mixed: Mixed,
    rate: f64,
    at: Temperature,
) -> Result<Join, HeatError> {
    let gel = resin.cure.gel_conversion;
    let course = || course(resin, mixed, rate);
    let gels_s = course().run_until(HORIZON_S, |moment| moment.conversion >= gel)?;
    let mut warmest_k = mixed.at.k();
    course().run(gels_s.unwrap_or(HORIZON_S), |moment| {
        warmest_k = warmest_k.max(moment.temperature_k);
    })?;
    let warm = course().run_until(gels_s.unwrap_or(HORIZON_S), |m| m.temperature_k >= at.k())?;
    // A cup that gels first never gets there as a liquid.
    let reaches_s = warm.filter(|warm| gels_s.is_none_or(|gels| *warm < gels));
    let viscosity_pa_s = match reaches_s {
        Some(reaches_s) => {
            let mut course = course();
            course.run(reaches_s, |_| {})?;
            let then = course.now();
            Some(viscosity_pa_s(resin, then.conversion, then.temperature_k))
        }
        None => None,
    };
    Ok(Join {
        reaches: reaches_s.map(Span::from_s),
        viscosity_pa_s,
        gels: gels_s.map(Span::from_s),
        warmest: Temperature::from_k(warmest_k),
    })
}

/// How thick a cup is some time after A met B, Pa·s; infinite once it has gelled.
///
/// # Errors
/// [`HeatError`] of the solver.
pub fn thickness_pa_s(
    resin: &Calibrated,
    mixed: Mixed,
    rate: f64,
    after: Span,
) -> Result<f64, HeatError> {
    let mut course = course(resin, mixed, rate);
    course.run(after.s().max(0.0), |_| {})?;
    let then = course.now();
    Ok(viscosity_pa_s(resin, then.conversion, then.temperature_k))
}

/// The order in which cups are mixed so that they are warm enough together: the slowest first. Cups
/// that never are warm enough come first of all.
///
/// # Errors
/// [`HeatError`] of the solver.
pub fn order(resin: &Calibrated, cups: &[Mixed], at: Temperature) -> Result<Vec<usize>, HeatError> {
    let ways: Result<Vec<Join>, HeatError> =
        cups.iter().map(|cup| join(resin, *cup, 1.0, at)).collect();
    let ways = ways?;
    let takes = |place: &usize| ways[*place].reaches.map_or(f64::INFINITY, |span| span.s());
    let mut places: Vec<usize> = (0..cups.len()).collect();
    places.sort_by(|a, b| takes(b).total_cmp(&takes(a)));
    Ok(places)
}

/// How the edges of a swirl came out.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Edges {
    /// Sharp lines between the colours.
    Crisp,
    /// Lines that run into each other.
    Soft,
    /// One colour of all.
    Merged,
}

impl Edges {
    /// All, the sharpest first.
    pub const ALL: [Self; 3] = [Self::Crisp, Self::Soft, Self::Merged];
}

/// What the shop's swirls of one outcome had in common.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Learnt {
    /// The outcome.
    pub edges: Edges,
    /// The thinnest and the thickest at the join, Pa·s.
    pub between_pa_s: (f64, f64),
    /// Swirls that it was learnt from.
    pub count: u32,
}

/// What the shop's swirls say, from how thick they were at the join, Pa·s, and how they came out.
#[must_use]
pub fn learnt(swirls: &[(Edges, f64)]) -> Vec<Learnt> {
    let of = |edges: Edges| {
        let known = swirls.iter().filter(|(one, thick)| *one == edges && thick.is_finite());
        let all: Vec<f64> = known.map(|(_, thick)| *thick).collect();
        let thinnest = all.iter().copied().reduce(f64::min)?;
        let thickest = all.iter().copied().reduce(f64::max)?;
        Some(Learnt { edges, between_pa_s: (thinnest, thickest), count: all.len() as u32 })
    };
    Edges::ALL.into_iter().filter_map(of).collect()
}

/// How edges will come out at a thickness, by the shop's own swirl that was nearest to it on a scale of
/// ratios; `None` where none was rated.
#[must_use]
pub fn expected(thickness_pa_s: f64, swirls: &[(Edges, f64)]) -> Option<Edges> {
    let apart = |(_, thick): &&(Edges, f64)| (thick / thickness_pa_s).ln().abs();
    let known = swirls.iter().filter(|(_, thick)| thick.is_finite() && *thick > 0.0);
    known.min_by(|a, b| apart(a).total_cmp(&apart(b))).map(|(edges, _)| *edges)
}

#[cfg(test)]
mod tests {
    use fondant_heat::bucket::{BUCKET_FILM_W_M2K, Bucket, Lumped};
    use fondant_materials::resin::{ResinClass, shipped};
    use fondant_quantities::Mass;
    use proptest::prelude::*;

    use super::*;

    fn cup(kg: f64) -> Mixed {
        let c = Temperature::from_celsius;
        Mixed { mass: Mass::from_kg(kg), at: c(24.0), air: c(21.0) }
    }

    fn resin() -> Calibrated {
        shipped::model(ResinClass::FastCasting)
    }

    #[test]
    fn a_cup_is_as_warm_as_was_asked_when_it_is_joined() {
        let (resin, at) = (resin(), Temperature::from_celsius(38.0));
        let way = join(&resin, cup(1.0), 1.0, at).unwrap();
        let reaches = way.reaches.unwrap();
        let bucket = Bucket::as_high_as_wide(
            &resin,
            Mass::from_kg(1.0),
            Temperature::from_celsius(21.0),
            BUCKET_FILM_W_M2K,
        );
        let mut course = Lumped::new(&resin, bucket, Temperature::from_celsius(24.0).k(), 0.0);
        course.run(reaches.s(), |_| {}).unwrap();
        assert!((course.now().temperature_k - at.k()).abs() < 0.05, "{:?}", course.now());
        assert!(reaches < way.gels.unwrap() && way.warmest >= at);
        let thick = thickness_pa_s(&resin, cup(1.0), 1.0, reaches).unwrap();
        assert!((thick / way.viscosity_pa_s.unwrap() - 1.0).abs() < 1e-6);
        let fresh = thickness_pa_s(&resin, cup(1.0), 1.0, Span::ZERO).unwrap();
        let late = thickness_pa_s(&resin, cup(1.0), 1.0, way.gels.unwrap() + Span::from_h(1.0));
        assert!(fresh > 0.0 && late.unwrap().is_infinite());
    }

    #[test]
    fn a_small_cup_may_never_get_there_and_says_how_warm_it_gets() {
        let way = join(&resin(), cup(0.02), 1.0, Temperature::from_celsius(60.0)).unwrap();
        assert_eq!((way.reaches, way.viscosity_pa_s), (None, None));
        assert!(way.warmest < Temperature::from_celsius(60.0));
    }

    #[test]
    fn small_cups_are_mixed_first() {
        let cups = [0.9, 0.3, 0.5].map(cup);
        let found = order(&resin(), &cups, Temperature::from_celsius(36.0)).unwrap();
        assert_eq!(found, [1, 2, 0]);
    }

    #[test]
    fn edges_are_those_of_the_nearest_swirl() {
        let swirls = [
            (Edges::Crisp, 6.0),
            (Edges::Crisp, 4.0),
            (Edges::Soft, 1.5),
            (Edges::Crisp, f64::INFINITY),
        ];
        assert_eq!(expected(3.5, &swirls), Some(Edges::Crisp));
        assert_eq!(expected(0.9, &swirls), Some(Edges::Soft));
        assert_eq!(expected(1.0, &[]), None);
        let found = learnt(&swirls);
        let crisp = Learnt { edges: Edges::Crisp, between_pa_s: (4.0, 6.0), count: 2 };
        assert_eq!((found.len(), found[0]), (2, crisp));
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(24))]
        /// A faster resin and a cooler join are never waited for longer.
        #[test]
        fn faster_and_cooler_is_sooner(kg in 0.3..2.0f64, at in 30.0..40.0f64, rate in 1.05..1.6f64) {
            let way = |rate, celsius| {
                join(&resin(), cup(kg), rate, Temperature::from_celsius(celsius)).unwrap().reaches
            };
            if let Some(reaches) = way(1.0, at) {
                prop_assert!(way(rate, at).unwrap() <= reaches);
                prop_assert!(way(1.0, at - 2.0).unwrap() <= reaches);
            }
        }
    }
}
