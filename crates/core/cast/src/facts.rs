//! What happened to a cast's pours: kept as rows that are never changed; one
//! that was wrong is withdrawn by another.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use fondant_pours::simulate::observe::{Observed, PouredAt, Touch, Touched, observe};
use fondant_pours::{Given, ScheduleError};
use fondant_quantities::Temperature;

use super::pouring::PourTask;

/// Something that happened.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case", tag = "what")]
pub enum Fact {
    /// A layer was poured.
    Poured {
        /// The pour, from 0.
        pour: usize,
        /// When.
        at: Timestamp,
        /// How warm the resin was.
        #[serde(rename = "resin_k")]
        resin_at: Option<Temperature>,
    },
    /// A layer, or its witness cup, was touched.
    Touched {
        /// The pour, from 0.
        pour: usize,
        /// When.
        at: Timestamp,
        /// What was found.
        found: Touch,
    },
    /// An earlier row was wrong.
    Withdrawn {
        /// Its number.
        row: i64,
    },
}

/// A fact and the number of its row.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FactRow {
    /// Its number.
    pub number: i64,
    /// The fact.
    pub fact: Fact,
    /// When it was written down.
    pub recorded_at: Timestamp,
}

/// What stands, of all that was written down: nothing that was withdrawn, and
/// of two pours of the same layer the later row.
#[must_use]
pub fn standing(rows: &[FactRow]) -> Vec<FactRow> {
    let withdrawn = |number: i64| {
        rows.iter().any(|row| matches!(row.fact, Fact::Withdrawn { row } if row == number))
    };
    let mut kept: Vec<FactRow> = Vec::new();
    for row in rows {
        if withdrawn(row.number) {
            continue;
        }
        match row.fact {
            Fact::Withdrawn { .. } => {}
            Fact::Poured { pour, .. } => {
                let same =
                    |k: &FactRow| matches!(k.fact, Fact::Poured { pour: p, .. } if p == pour);
                kept.retain(|k| !same(k));
                kept.push(*row);
            }
            Fact::Touched { .. } => kept.push(*row),
        }
    }
    kept
}

/// How many pours have happened, from the first on.
#[must_use]
pub fn poured(rows: &[FactRow]) -> usize {
    let kept = standing(rows);
    let pours = kept.iter().filter_map(|row| match row.fact {
        Fact::Poured { pour, .. } => Some(pour + 1),
        _ => None,
    });
    pours.max().unwrap_or(0)
}

/// The taken plan by what happened.
///
/// # Errors
/// [`ScheduleError`] where the model cannot follow it.
pub fn by_facts(
    task: &PourTask,
    planned: &[Given],
    rows: &[FactRow],
) -> Result<Observed, ScheduleError> {
    let mut poured = Vec::new();
    let mut touched = Vec::new();
    for row in standing(rows) {
        match row.fact {
            Fact::Poured { pour, at, resin_at } => poured.push(PouredAt { pour, at, resin_at }),
            Fact::Touched { pour, at, found } => touched.push(Touched { pour, at, touch: found }),
            Fact::Withdrawn { .. } => {}
        }
    }
    let ladder = task.ladder_of(planned);
    observe(&task.task(&ladder), planned, &poured, &touched)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn row(number: i64, fact: Fact) -> FactRow {
        FactRow { number, fact, recorded_at: Timestamp::UNIX_EPOCH }
    }

    #[test]
    fn what_is_withdrawn_does_not_stand_and_a_second_pour_corrects_the_first() {
        let at = Timestamp::UNIX_EPOCH;
        let poured_at = |pour| Fact::Poured { pour, at, resin_at: None };
        let touched = Fact::Touched { pour: 0, at, found: Touch::Clear };
        let rows = [
            row(1, poured_at(0)),
            row(2, touched),
            row(3, poured_at(1)),
            row(4, poured_at(0)),
            row(5, Fact::Withdrawn { row: 3 }),
        ];
        let numbers: Vec<i64> = standing(&rows).iter().map(|row| row.number).collect();
        assert_eq!(numbers, [2, 4]);
        assert_eq!(poured(&rows), 1);
    }
}
