//! The generic model of a class fitted to what a datasheet says.
//!
//! A datasheet gives a handful of figures, far fewer than the model has
//! parameters. Four of them are moved, within bounds about the generic resin of
//! the class: the rate, the heat, the conversion at the gel, and the final glass
//! temperature. Each figure weighs by how exactly datasheets mean it.

use crate::bucket::pot_life_s;
use crate::column::{Accuracy, Goal, Stack, deepest_layer};
use crate::error::HeatError;
use crate::poured::Poured;
use crate::surroundings::Surroundings;
use fondant_materials::resin::{Calibrated, Datasheet, InLayer, Properties, Record};
use fondant_numerics::Stop;
use fondant_numerics::least_squares::{LeastSquaresError, least_squares};
use fondant_quantities::{Length, Temperature};

/// How exactly a figure of a datasheet is meant, as a share of it.
const POT_UNCERTAINTY: f64 = 0.10;
const TACKY_UNCERTAINTY: f64 = 0.15;
const DEMOULD_UNCERTAINTY: f64 = 0.20;
const FULL_CURE_UNCERTAINTY: f64 = 0.40;
const DEEPEST_UNCERTAINTY: f64 = 0.15;
/// A figure is met where the model is within this multiple of its uncertainty.
const MET: f64 = 1.5;
/// How far the resins of a class spread: logarithm of the rate, logarithm of the
/// heat, conversion at the gel, final glass temperature in K.
const SPREAD: [f64; 4] = [0.8, 0.12, 0.05, 8.0];
/// How far the fit may move them.
const MOST: [f64; 4] = [1.6, 0.26, 0.10, 16.0];
/// Longest time that a layer is simulated, s.
const HORIZON_S: f64 = 21.0 * 86_400.0;
/// Degree of the polynomials: times to a per cent are all that a datasheet is good for.
const DEGREE: usize = 3;

/// One figure of a datasheet beside what the fitted model gives.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Compared {
    /// The figure of the datasheet.
    pub figure: Figure,
    /// What the datasheet says, in the SI unit of the figure.
    pub sheet: f64,
    /// What the model gives; `None` where it never comes to that.
    pub model: Option<f64>,
    /// Whether they agree within what such a figure is good for.
    pub is_met: bool,
}

/// A figure of a datasheet.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Figure {
    /// Pot life, s.
    PotLife,
    /// Sticky after, s.
    Tacky,
    /// Out of the form after, s.
    Demould,
    /// Fully cured after, s. Datasheets round it to whole days, and mean by it
    /// what they like.
    FullCure,
    /// Deepest single layer, m.
    Deepest,
}

impl Figure {
    const fn uncertainty(self) -> f64 {
        match self {
            Self::PotLife => POT_UNCERTAINTY,
            Self::Tacky => TACKY_UNCERTAINTY,
            Self::Demould => DEMOULD_UNCERTAINTY,
            Self::FullCure => FULL_CURE_UNCERTAINTY,
            Self::Deepest => DEEPEST_UNCERTAINTY,
        }
    }
}

/// Figures of a datasheet that contradict each other.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Contradiction {
    /// It can leave the form before it is sticky.
    DemouldBeforeTacky,
    /// A thin layer is sticky before the time of the bucket is up, which is warmer.
    TackyBeforePotLife,
}

/// Why a datasheet makes no model.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum SheetError {
    /// It says nothing that the model could be fitted to.
    #[error("no figure to fit to")]
    Nothing,
    /// A time that comes before another that it must follow.
    #[error("the times contradict one another: {0:?}")]
    Contradicts(Contradiction),
    /// No model comes near.
    #[error("no fit: {0}")]
    NoFit(String),
}

/// A resin fitted to its datasheet.
#[derive(Debug, Clone, PartialEq)]
pub struct SheetFit {
    /// The resin, without a calibration.
    pub resin: Record,
    /// Each figure beside the model's.
    pub compared: Vec<Compared>,
}

/// Fits `generic` to a datasheet. The result has everything else of `generic`.
///
/// # Errors
/// [`SheetError`].
pub fn fit(generic: &Properties, sheet: &Datasheet, stop: &Stop) -> Result<SheetFit, SheetError> {
    check(sheet)?;
    let figures = figures(sheet);
    if figures.is_empty() {
        return Err(SheetError::Nothing);
    }
    let moved = |x: &[f64]| {
        let mut resin = Properties { datasheet: *sheet, ..generic.clone() };
        resin.cure.a1_per_s *= x[0].exp();
        resin.cure.a2_per_s *= x[0].exp();
        resin.cure.heat_j_kg *= x[1].exp();
        resin.cure.gel_conversion = (resin.cure.gel_conversion + x[2]).clamp(0.1, 0.9);
        resin.cure.tg_cured_k += x[3];
        Calibrated::of_class(resin)
    };
    let residuals = |x: &[f64]| {
        let resin = moved(x);
        let mut all: Vec<f64> = figures
            .iter()
            .map(|(figure, wanted)| {
                let found = model(&resin, sheet, *figure, stop).unwrap_or(None);
                // Never within the horizon is as bad as ten times too late.
                found.map_or(10.0f64, |found| found / wanted).max(1e-3).ln() / figure.uncertainty()
            })
            .collect();
        all.extend(x.iter().zip(SPREAD).map(|(x, spread)| x / spread));
        Some(all)
    };
    let bounds = MOST.map(|most| (-most, most));
    let best = least_squares(&[0.0; 4], &bounds, residuals).map_err(|error| match error {
        LeastSquaresError::NoResiduals | LeastSquaresError::Undetermined => {
            SheetError::NoFit(error.to_string())
        }
    })?;
    let resin = moved(&best.x);
    let compared = compare(&resin, sheet, stop);
    Ok(SheetFit { resin: Record::uncalibrated(Properties::clone(&resin)), compared })
}

/// The figures of a datasheet beside what a resin's model gives.
#[must_use]
pub fn compare(resin: &Calibrated, sheet: &Datasheet, stop: &Stop) -> Vec<Compared> {
    figures(sheet)
        .into_iter()
        .map(|(figure, wanted)| {
            let found = model(resin, sheet, figure, stop).unwrap_or(None);
            let off = found.map_or(f64::INFINITY, |found| (found / wanted).ln().abs());
            Compared {
                figure,
                sheet: wanted,
                model: found,
                is_met: off <= MET * figure.uncertainty(),
            }
        })
        .collect()
}

fn figures(sheet: &Datasheet) -> Vec<(Figure, f64)> {
    let all = [
        sheet.pot_life.map(|f| (Figure::PotLife, f.after.s())),
        sheet.tacky.map(|f| (Figure::Tacky, f.after.s())),
        sheet.demould.map(|f| (Figure::Demould, f.after.s())),
        sheet.full_cure.map(|f| (Figure::FullCure, f.after.s())),
        sheet.deepest.map(|f| (Figure::Deepest, f.depth.m())),
    ];
    all.into_iter().flatten().collect()
}

/// What no resin can do, whatever its model.
fn check(sheet: &Datasheet) -> Result<(), SheetError> {
    let alike = |a: &InLayer, b: &InLayer| {
        (a.depth - b.depth).mm().abs() < 2.0 && (a.at - b.at).k().abs() < 2.0
    };
    if let (Some(tacky), Some(demould)) = (&sheet.tacky, &sheet.demould)
        && alike(tacky, demould)
        && demould.after <= tacky.after
    {
        return Err(SheetError::Contradicts(Contradiction::DemouldBeforeTacky));
    }
    if let (Some(pot), Some(tacky)) = (&sheet.pot_life, &sheet.tacky)
        && tacky.depth < Length::from_mm(10.0)
        && (pot.at - tacky.at).k() < 2.0
        && tacky.after < pot.after
    {
        return Err(SheetError::Contradicts(Contradiction::TackyBeforePotLife));
    }
    Ok(())
}

fn model(
    resin: &Calibrated,
    sheet: &Datasheet,
    figure: Figure,
    stop: &Stop,
) -> Result<Option<f64>, HeatError> {
    let accuracy = Accuracy { degree: DEGREE, ..Accuracy::default() }.until(stop);
    let layer = |said: &InLayer, goal| -> Result<Stack, HeatError> {
        let air = Surroundings::still_air(said.at.k());
        let mut stack = Stack::new(resin, air, &accuracy);
        stack.pour(said.depth.m(), said.at.k(), 0.0)?;
        stack.run(HORIZON_S, goal)?;
        Ok(stack)
    };
    match figure {
        Figure::PotLife => match &sheet.pot_life {
            Some(said) => pot_life_s(resin, said.mass, said.at, said.at),
            None => Ok(None),
        },
        Figure::Tacky => match &sheet.tacky {
            Some(said) => Ok(layer(said, Goal::WindowClosed)?.top().and_then(|top| top.opens_s)),
            None => Ok(None),
        },
        Figure::Demould => match &sheet.demould {
            Some(said) => Ok(layer(said, Goal::Hard)?.top().and_then(|top| top.hard_s)),
            None => Ok(None),
        },
        Figure::FullCure => match &sheet.full_cure {
            Some(said) => Ok(layer(said, Goal::Full)?.top().and_then(|top| top.full_s)),
            None => Ok(None),
        },
        Figure::Deepest => match &sheet.deepest {
            Some(said) => {
                let around = Surroundings::still_air(said.at.k());
                let limit_k = resin.working.peak_limit.k();
                deepest_layer(resin, &around, Poured::fresh(said.at.k()), limit_k, &accuracy)
                    .map(|found| Some(found.safe_m()))
            }
            None => Ok(None),
        },
    }
}

/// The depth at an air and resin temperature that a datasheet's deepest layer
/// stands for, by the model's own fall of depth with warmth.
///
/// # Errors
/// [`HeatError`] of the solver.
pub fn deepest_elsewhere(
    resin: &Calibrated,
    said: Length,
    at: Temperature,
    around: &Surroundings,
    poured: Poured,
    stop: &Stop,
) -> Result<Length, HeatError> {
    let limit_k = resin.working.peak_limit.k();
    let accuracy = Accuracy { degree: DEGREE, ..Accuracy::default() }.until(stop);
    let there = Surroundings::still_air(at.k());
    let by_sheet =
        deepest_layer(resin, &there, Poured::fresh(at.k()), limit_k, &accuracy)?.safe_m();
    let here = deepest_layer(resin, around, poured, limit_k, &accuracy)?.safe_m();
    // A datasheet's depth holds as it stands where it is cooler, and shrinks
    // with the model where it is warmer.
    Ok(said * (here / by_sheet.max(1e-6)).min(1.0))
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_materials::resin::{DeepestAllowed, InBucket, ResinClass, shipped};
    use fondant_quantities::{Mass, Span};

    fn celsius(c: f64) -> Temperature {
        Temperature::from_celsius(c)
    }

    /// The sheet that a resin of known parameters would have.
    fn sheet_of(resin: &Calibrated) -> Datasheet {
        let blank = Datasheet {
            pot_life: Some(InBucket {
                after: Span::ZERO,
                mass: Mass::from_kg(0.2),
                at: celsius(22.0),
            }),
            tacky: Some(InLayer {
                after: Span::ZERO,
                depth: Length::from_mm(10.0),
                at: celsius(22.0),
            }),
            demould: Some(InLayer {
                after: Span::ZERO,
                depth: Length::from_mm(10.0),
                at: celsius(22.0),
            }),
            full_cure: None,
            deepest: Some(DeepestAllowed { depth: Length::ZERO, at: celsius(22.0) }),
            rule_of_thumb: None,
        };
        let say = |figure| model(resin, &blank, figure, &Stop::NEVER).unwrap().unwrap();
        let mut sheet = blank;
        sheet.pot_life.as_mut().unwrap().after = Span::from_s(say(Figure::PotLife));
        sheet.tacky.as_mut().unwrap().after = Span::from_s(say(Figure::Tacky));
        sheet.demould.as_mut().unwrap().after = Span::from_s(say(Figure::Demould));
        sheet.deepest.as_mut().unwrap().depth = Length::from_m(say(Figure::Deepest));
        sheet
    }

    #[test]
    fn a_sheet_of_the_class_itself_leaves_the_model_as_it_is() {
        let generic = shipped::model(ResinClass::MediumCasting);
        let found = fit(&generic, &sheet_of(&generic), &Stop::NEVER).unwrap();
        assert!((found.resin.cure.heat_j_kg / generic.cure.heat_j_kg - 1.0).abs() < 1e-3);
        assert!(found.compared.len() == 4 && found.compared.iter().all(|c| c.is_met));
    }

    #[test]
    fn the_sheet_of_a_faster_hotter_resin_is_met() {
        let generic = shipped::model(ResinClass::MediumCasting);
        let mut other = Properties::clone(&generic);
        other.cure.a1_per_s *= 1.6;
        other.cure.a2_per_s *= 1.6;
        other.cure.heat_j_kg *= 1.08;
        other.cure.tg_cured_k += 4.0;
        let sheet = sheet_of(&Calibrated::of_class(other));
        assert!(compare(&generic, &sheet, &Stop::NEVER).iter().any(|c| !c.is_met));
        let found = fit(&generic, &sheet, &Stop::NEVER).unwrap();
        assert!(found.compared.iter().all(|c| c.is_met), "{:?}", found.compared);
        let rate = found.resin.cure.a1_per_s / generic.cure.a1_per_s;
        assert!((1.4..1.8).contains(&rate), "{rate}");
    }

    #[test]
    fn sheets_that_contradict_themselves_or_say_nothing_are_refused() {
        let generic = shipped::model(ResinClass::MediumCasting);
        assert_eq!(
            fit(&generic, &Datasheet::default(), &Stop::NEVER).unwrap_err(),
            SheetError::Nothing
        );
        let mut sheet = sheet_of(&generic);
        sheet.demould.as_mut().unwrap().after = Span::from_h(1.0);
        assert!(matches!(
            fit(&generic, &sheet, &Stop::NEVER).unwrap_err(),
            SheetError::Contradicts(_)
        ));
        let mut sheet = sheet_of(&generic);
        sheet.tacky = Some(InLayer {
            after: Span::from_h(0.5),
            depth: Length::from_mm(3.0),
            at: celsius(22.0),
        });
        assert!(matches!(
            fit(&generic, &sheet, &Stop::NEVER).unwrap_err(),
            SheetError::Contradicts(_)
        ));
    }

    #[test]
    fn a_depth_of_the_datasheet_shrinks_in_a_warmer_shop_and_does_not_grow_in_a_colder() {
        let resin = shipped::model(ResinClass::SlowCasting);
        let said = Length::from_mm(50.0);
        let at = |c: f64| {
            let around = Surroundings::still_air(celsius(c).k());
            deepest_elsewhere(
                &resin,
                said,
                celsius(20.0),
                &around,
                Poured::fresh(celsius(c).k()),
                &Stop::NEVER,
            )
            .unwrap()
        };
        assert!((at(20.0).mm() - 50.0).abs() < 0.1 && (at(15.0).mm() - 50.0).abs() < 0.1);
        assert!((35.0..40.0).contains(&at(25.0).mm()), "{}", at(25.0).mm());
    }
}
