//! A cast that was poured at once, without a plan that was taken: the proposal at the time and the
//! temperature at which its bucket went in.

use fondant_bench::Run;
use fondant_cast::facts::{Fact, FactRow, by_facts};
use fondant_cast::pours::{Planned, as_given};
use fondant_cast::{Evaluation, PourId, Standing};
use fondant_numerics::Stop;
use jiff::Timestamp;

/// The evaluation of a cast by the run in which it was poured at once; `None` where it was not, and
/// where the model cannot say.
#[must_use]
pub fn as_poured(evaluation: &Evaluation, runs: &[Run], stop: &Stop) -> Option<Evaluation> {
    if evaluation.standing == Standing::Taken {
        return None;
    }
    let run = runs.iter().find(|run| run.plan.pour.is_none() && run.first_poured().is_some())?;
    let (at, read) = run.first_poured()?;
    let mixed = run.batches.iter().find_map(|batch| batch.met?.1);
    let schedule = evaluation.pours.as_ref().ok()?;
    let planned = |(place, given)| Planned { id: PourId::of_place(place), given };
    let planned: Vec<Planned> = as_given(schedule).into_iter().enumerate().map(planned).collect();
    let first = Fact::Poured { pour: PourId::of_place(0), at, resin_at: read.or(mixed) };
    let row = FactRow { number: 1, fact: first, recorded_at: Timestamp::UNIX_EPOCH };
    let task = evaluation.pour_task.as_ref()?.until(stop);
    let observed = by_facts(&task, &planned, &[row]).ok()?;
    Some(Evaluation { pours: Ok(observed.schedule), ..evaluation.clone() })
}

#[cfg(test)]
mod tests {
    use fondant_bench::Happening;
    use fondant_bench::weighing::Part;
    use fondant_cast::{Document, Inputs, Kind, Site, evaluate};
    use fondant_materials::resin::shipped;
    use fondant_pours::{ShopHours, Workday};
    use fondant_quantities::{Length, Mass, Temperature};
    use fondant_shapes::form::Piece;

    use super::*;
    use crate::gather::tests::{a_row_a_minute, plan};

    #[test]
    fn a_warmer_bucket_gets_hotter_and_begins_when_it_went_in() {
        let mm = Length::from_mm;
        let piece = Piece::slab(mm(120.0), mm(80.0), mm(20.0), Length::ZERO);
        let begin: Timestamp = "2026-11-23T09:00:00Z".parse().unwrap();
        let document = Document::begin(Kind::Moulds, "Coasters".into(), piece, begin);
        let day = Workday::read_day("08:00-18:00").unwrap();
        let hours = ShopHours::new(vec![day; 7].try_into().unwrap(), "UTC").unwrap();
        let resin = shipped::find(&document.resin).unwrap();
        let inputs = Inputs::new(document, resin, &Site::plain(hours));
        let evaluation = evaluate(&inputs, &Stop::NEVER).unwrap();
        let poured = |celsius| {
            let kg = Mass::from_kg;
            let all = [
                Happening::Weighed { batch: 1, part: Part::A, mass: kg(1.4) },
                Happening::Weighed { batch: 1, part: Part::B, mass: kg(0.6) },
                Happening::MixBegun {
                    batch: 1,
                    resin_at: Some(Temperature::from_celsius(celsius)),
                    lot: None,
                },
                Happening::PourBegun { batch: 1 },
            ];
            let mut rows = a_row_a_minute(all);
            rows.iter_mut()
                .for_each(|row| row.at = begin + row.at.duration_since(Timestamp::UNIX_EPOCH));
            let run = Run::of(plan(), &rows);
            let at = run.first_poured().unwrap().0;
            let found = as_poured(&evaluation, &[run], &Stop::NEVER).unwrap();
            let schedule = found.pours.unwrap();
            assert_eq!(schedule.pours[0].at, at);
            schedule.peak().k()
        };
        assert!(poured(28.0) > poured(16.0) + 1.0);
        assert!(as_poured(&evaluation, &[], &Stop::NEVER).is_none(), "nothing was poured");
    }
}
