//! What is done to a piece, step by step, as it was told: rows that are never changed, folded into hours.

use std::collections::BTreeMap;

use fondant_quantities::Span;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use crate::surface::School;

/// A step of finishing, in the order of the work.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum StepKind {
    /// Out of the form.
    Demould,
    /// Sawn to size.
    Saw,
    /// Flattened with a sled.
    Flatten,
    /// Sanded.
    Sand,
    /// Polished, coated or oiled.
    Surface,
    /// Edges eased.
    Edges,
    /// Cured through.
    Cure,
    /// Handed over.
    HandOver,
}

/// Longest that one entry can take.
pub const LONGEST: Span = Span::from_s(1000.0 * 3600.0);
/// Longest remark, characters.
pub const NOTE_CHARACTERS: usize = 500;

/// Something told of the finishing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case", tag = "what")]
pub enum Told {
    /// The last surface was chosen.
    Chosen {
        /// How it is finished.
        school: School,
    },
    /// Work on a step began.
    Started {
        /// The step.
        step: StepKind,
    },
    /// Work on a step rests, or is done.
    Stopped {
        /// The step.
        step: StepKind,
        /// What the whole step takes at the pace of the trade, as it was planned then.
        #[serde(rename = "planned_s")]
        planned: Span,
    },
    /// Work whose time was typed.
    Took {
        /// The step.
        step: StepKind,
        /// Working time of the step.
        #[serde(rename = "took_s")]
        took: Span,
        /// As in [`Told::Stopped`].
        #[serde(rename = "planned_s")]
        planned: Span,
    },
    /// A step is done.
    Done {
        /// The step.
        step: StepKind,
    },
    /// A remark.
    Noted {
        /// The step.
        step: StepKind,
        /// Text of the remark.
        note: String,
    },
    /// An earlier row was wrong.
    Withdrawn {
        /// Number of the row.
        row: i64,
    },
}

/// A row.
#[derive(Debug, Clone, PartialEq)]
pub struct WorkRow {
    /// Its number; rows of a cast rise.
    pub number: i64,
    /// When it happened, UTC.
    pub at: Timestamp,
    /// Content of the row.
    pub told: Told,
}

/// How a step stands.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct StepWork {
    /// Since when somebody works on it.
    pub since: Option<Timestamp>,
    /// Work that is over.
    pub took: Span,
    /// What it was planned to take at the pace of the trade, when that was told last.
    pub planned: Option<Span>,
    /// When it was done, UTC; `None` while it is not.
    pub done: Option<Timestamp>,
    /// Remarks, in order.
    pub notes: Vec<String>,
}

/// How the finishing of a cast stands.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Work {
    /// The last surface, once chosen.
    pub school: Option<School>,
    /// Steps of which something was told.
    pub steps: BTreeMap<StepKind, StepWork>,
    /// The last row that counts, which can be taken back.
    pub last: Option<i64>,
}

/// Why a row is refused.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
pub enum WorkRefused {
    /// Somebody works on the step already.
    #[error("somebody works on this step already")]
    Running,
    /// Nobody works on it.
    #[error("nobody works on this step")]
    NotRunning,
    /// No time, or one beyond all reason.
    #[error("a time between 0 and 1000 h is needed")]
    Time,
    /// No remark, or one that is too long.
    #[error("a remark has 1 to 500 characters")]
    Note,
    /// There is no such row, or it was taken back already.
    #[error("there is no such row to take back")]
    NoRow,
}

impl Work {
    /// From its rows, in order.
    #[must_use]
    pub fn of(rows: &[WorkRow]) -> Self {
        let gone = |number: i64| rows.iter().any(|row| row.told == Told::Withdrawn { row: number });
        let mut work = Self::default();
        for row in rows {
            if !matches!(row.told, Told::Withdrawn { .. }) && !gone(row.number) {
                work.take(row);
            }
        }
        work
    }

    fn take(&mut self, row: &WorkRow) {
        self.last = Some(row.number);
        match &row.told {
            Told::Chosen { school } => self.school = Some(*school),
            Told::Started { step } => {
                let step = self.steps.entry(*step).or_default();
                (step.since, step.done) = (Some(row.at), None);
            }
            Told::Stopped { step, planned } => {
                let step = self.steps.entry(*step).or_default();
                if let Some(since) = step.since.take() {
                    let worked = row.at.duration_since(since).as_secs_f64();
                    step.took = step.took + Span::from_s(worked.max(0.0));
                }
                step.planned = Some(*planned);
            }
            Told::Took { step, took, planned } => {
                let step = self.steps.entry(*step).or_default();
                step.took = step.took + *took;
                step.planned = Some(*planned);
            }
            Told::Done { step } => self.steps.entry(*step).or_default().done = Some(row.at),
            Told::Noted { step, note } => {
                self.steps.entry(*step).or_default().notes.push(note.clone());
            }
            Told::Withdrawn { .. } => {}
        }
    }

    /// Work of all steps that is over.
    #[must_use]
    pub fn took(&self) -> Span {
        self.steps.values().map(|step| step.took).sum()
    }

    /// Why something cannot be told now; `None` where it can.
    #[must_use]
    pub fn refuses(&self, told: &Told) -> Option<WorkRefused> {
        let is_running =
            |step: &StepKind| self.steps.get(step).is_some_and(|step| step.since.is_some());
        let is_time = |span: Span| span > Span::ZERO && span <= LONGEST;
        match told {
            Told::Started { step } | Told::Done { step } => {
                is_running(step).then_some(WorkRefused::Running)
            }
            Told::Stopped { step, .. } => (!is_running(step)).then_some(WorkRefused::NotRunning),
            Told::Took { took, .. } => (!is_time(*took)).then_some(WorkRefused::Time),
            Told::Noted { note, .. } => {
                let is_note = (1..=NOTE_CHARACTERS).contains(&note.trim().chars().count());
                (!is_note).then_some(WorkRefused::Note)
            }
            Told::Withdrawn { row } => (self.last != Some(*row)).then_some(WorkRefused::NoRow),
            Told::Chosen { .. } => None,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn rows(told: Vec<Told>) -> Vec<WorkRow> {
        let begin: Timestamp = "2026-11-23T09:00:00Z".parse().unwrap();
        let at = |place: i64| begin + jiff::SignedDuration::from_mins(10 * place);
        (1..).zip(told).map(|(number, told)| WorkRow { number, at: at(number), told }).collect()
    }

    const SAND: StepKind = StepKind::Sand;

    #[test]
    fn times_by_the_clock_and_by_hand_add_up() {
        let planned = Span::from_h(1.0);
        let told = vec![
            Told::Started { step: SAND },
            Told::Stopped { step: SAND, planned },
            Told::Took { step: SAND, took: Span::from_s(90.0), planned },
            Told::Started { step: SAND },
        ];
        let work = Work::of(&rows(told.clone()));
        let sand = &work.steps[&SAND];
        assert!((sand.took.s() - 690.0).abs() < 1e-9);
        assert!(sand.since.is_some() && sand.done.is_none());
        assert_eq!(work.refuses(&Told::Started { step: SAND }), Some(WorkRefused::Running));
        assert_eq!(work.refuses(&Told::Done { step: SAND }), Some(WorkRefused::Running));
        // Only the last row that counts is taken back, and then the one before it.
        assert_eq!(work.refuses(&Told::Withdrawn { row: 3 }), Some(WorkRefused::NoRow));
        assert_eq!(work.refuses(&Told::Withdrawn { row: 4 }), None);
        let mut told = told;
        told.push(Told::Withdrawn { row: 4 });
        let work = Work::of(&rows(told));
        assert_eq!((work.last, work.steps[&SAND].since), (Some(3), None));
        assert_eq!(
            work.refuses(&Told::Stopped { step: SAND, planned }),
            Some(WorkRefused::NotRunning)
        );
    }

    proptest! {
        /// Whatever is told, what is accepted never makes a time that is negative, and taking back all
        /// rows one after another leaves nothing.
        #[test]
        fn all_can_be_taken_back(chosen in proptest::collection::vec(0u8..5, 0..30)) {
            let planned = Span::from_h(1.0);
            let mut told: Vec<Told> = Vec::new();
            for one in chosen {
                let next = match one {
                    0 => Told::Started { step: SAND },
                    1 => Told::Stopped { step: SAND, planned },
                    2 => Told::Took { step: SAND, took: Span::from_s(60.0), planned },
                    3 => Told::Done { step: SAND },
                    _ => Told::Noted { step: SAND, note: "note".into() },
                };
                if Work::of(&rows(told.clone())).refuses(&next).is_none() {
                    told.push(next);
                }
            }
            prop_assert!(Work::of(&rows(told.clone())).took() >= Span::ZERO);
            while let Some(row) = Work::of(&rows(told.clone())).last {
                told.push(Told::Withdrawn { row });
            }
            prop_assert_eq!(Work::of(&rows(told)), Work::default());
        }
    }
}
