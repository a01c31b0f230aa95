//! What happened to a cast's pours: kept as rows that are never changed; one
//! that was wrong is withdrawn by another.

pub mod left;
pub mod resins;
pub mod rest;

use fondant_pours::simulate::observe::{Observed, PouredAt, Touch, Touched, observe, with_poured};
use fondant_pours::{Given, ScheduleError};
use fondant_quantities::{Mass, Temperature};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use crate::document::PourId;
use crate::pours::{Planned, PourTask};

/// Something that happened.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case", tag = "what", from = "Kept")]
pub enum Fact {
    /// A layer was poured.
    Poured {
        /// The pour.
        #[serde(rename = "pour_id")]
        pour: PourId,
        /// Time of the event, UTC.
        at: Timestamp,
        /// How warm the resin was.
        #[serde(rename = "resin_k")]
        resin_at: Option<Temperature>,
    },
    /// A layer, or its witness cup, was touched.
    Touched {
        /// The pour.
        #[serde(rename = "pour_id")]
        pour: PourId,
        /// Time of the event, UTC.
        at: Timestamp,
        /// Result of the touch test.
        found: Touch,
        /// What the witness cup holds; `None` where the layer itself was touched.
        #[serde(default, rename = "cup_kg", skip_serializing_if = "Option::is_none")]
        cup: Option<Mass>,
    },
    /// An earlier row was wrong.
    Withdrawn {
        /// Id of the fact's row.
        row: i64,
    },
}

impl Fact {
    /// The pour that it happened to; `None` for a withdrawal.
    #[must_use]
    pub const fn pour(&self) -> Option<PourId> {
        match self {
            Self::Poured { pour, .. } | Self::Touched { pour, .. } => Some(*pour),
            Self::Withdrawn { .. } => None,
        }
    }
}

/// Facts as rows keep them, now and before pours had ids, when they were told by their place.
#[derive(Deserialize)]
#[serde(rename_all = "snake_case", tag = "what")]
enum Kept {
    Poured {
        #[serde(flatten)]
        pour: KeptPour,
        at: Timestamp,
        #[serde(rename = "resin_k")]
        resin_at: Option<Temperature>,
    },
    Touched {
        #[serde(flatten)]
        pour: KeptPour,
        at: Timestamp,
        found: Touch,
        #[serde(default, rename = "cup_kg")]
        cup: Option<Mass>,
    },
    Withdrawn {
        row: i64,
    },
}

#[derive(Deserialize)]
enum KeptPour {
    #[serde(rename = "pour_id")]
    Id(PourId),
    #[serde(rename = "pour")]
    Place(usize),
}

impl From<KeptPour> for PourId {
    fn from(kept: KeptPour) -> Self {
        match kept {
            KeptPour::Id(id) => id,
            KeptPour::Place(place) => Self::of_place(place),
        }
    }
}

impl From<Kept> for Fact {
    fn from(kept: Kept) -> Self {
        match kept {
            Kept::Poured { pour, at, resin_at } => Self::Poured { pour: pour.into(), at, resin_at },
            Kept::Touched { pour, at, found, cup } => {
                Self::Touched { pour: pour.into(), at, found, cup }
            }
            Kept::Withdrawn { row } => Self::Withdrawn { row },
        }
    }
}

/// A fact and the number of its row.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FactRow {
    /// Number of the fact within its cast.
    pub number: i64,
    /// The fact.
    pub fact: Fact,
    /// When it was written down.
    pub recorded_at: Timestamp,
}

/// The facts that count: none that was withdrawn, and
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

/// The pours that have happened, by the facts that count.
#[must_use]
pub fn poured(rows: &[FactRow]) -> Vec<PourId> {
    let pours = standing(rows).into_iter().filter_map(|row| match row.fact {
        Fact::Poured { pour, .. } => Some(pour),
        _ => None,
    });
    pours.collect()
}

/// How many of the pours of a plan have happened: those up to the last that has.
#[must_use]
pub fn poured_of(planned: &[Planned], rows: &[FactRow]) -> usize {
    let poured = poured(rows);
    planned.iter().rposition(|pour| poured.contains(&pour.id)).map_or(0, |last| last + 1)
}

/// The taken plan by what happened. Facts of pours that the plan no longer has do not count.
///
/// # Errors
/// [`ScheduleError`] where the model cannot follow it.
pub fn by_facts(
    task: &PourTask,
    planned: &[Planned],
    rows: &[FactRow],
) -> Result<Observed, ScheduleError> {
    let (given, touched) = happened(planned, rows);
    let ladder = task.ladder_of(&given);
    observe(&task.task(&ladder), &given, &touched)
}

/// The pours of a plan as they were or are planned, and the touches that count.
fn happened(planned: &[Planned], rows: &[FactRow]) -> (Vec<Given>, Vec<Touched>) {
    let stands = standing(rows);
    let poured = stands.iter().filter_map(|row| match row.fact {
        Fact::Poured { pour, at, resin_at } => {
            Some(PouredAt { pour: place(planned, pour)?, at, resin_at })
        }
        Fact::Touched { .. } | Fact::Withdrawn { .. } => None,
    });
    let poured: Vec<PouredAt> = poured.collect();
    let given: Vec<Given> = planned.iter().map(|pour| pour.given).collect();
    let touched = stands.iter().filter_map(|row| touch(planned, &row.fact)).collect();
    (with_poured(&given, &poured), touched)
}

/// A touch of one of a plan's pours.
fn touch(planned: &[Planned], fact: &Fact) -> Option<Touched> {
    match *fact {
        Fact::Touched { pour, at, found, cup } => {
            Some(Touched { pour: place(planned, pour)?, at, touch: found, cup })
        }
        Fact::Poured { .. } | Fact::Withdrawn { .. } => None,
    }
}

fn place(planned: &[Planned], id: PourId) -> Option<usize> {
    planned.iter().position(|pour| pour.id == id)
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
        let poured_at = |place| Fact::Poured { pour: PourId::of_place(place), at, resin_at: None };
        let touched =
            Fact::Touched { pour: PourId::of_place(0), at, found: Touch::Clear, cup: None };
        let rows = [
            row(1, poured_at(0)),
            row(2, touched),
            row(3, poured_at(1)),
            row(4, poured_at(0)),
            row(5, Fact::Withdrawn { row: 3 }),
        ];
        let numbers: Vec<i64> = standing(&rows).iter().map(|row| row.number).collect();
        assert_eq!(numbers, [2, 4]);
        assert_eq!(poured(&rows), [PourId::of_place(0)]);
    }

    #[test]
    fn rows_from_before_pours_had_ids_are_read_by_their_place() {
        let old = r#"{"what":"poured","pour":2,"at":"2026-11-24T08:00:00Z","resin_k":294.15}"#;
        let fact: Fact = serde_json::from_str(old).unwrap();
        assert!(matches!(fact, Fact::Poured { pour: PourId(3), .. }), "{fact:?}");
        let text = serde_json::to_string(&fact).unwrap();
        assert!(text.contains("\"pour_id\":3"), "{text}");
        assert_eq!(serde_json::from_str::<Fact>(&text).unwrap(), fact);
        let withdrawn: Fact = serde_json::from_str(r#"{"what":"withdrawn","row":4}"#).unwrap();
        assert_eq!(withdrawn, Fact::Withdrawn { row: 4 });
    }
}
