//! What is asked of the ledger, and the statement that asks it.

use fondant_record::end::Outcome;
use fondant_record::fault::FaultKind;
use jiff::Timestamp;
use sea_orm::Statement;

use super::super::listing::like;
use super::super::records::word;
use super::super::{CastId, WorkshopId};
use crate::convert::to_column;
use crate::error::StoreError;

/// Most words that are looked for.
const MOST_WORDS: usize = 8;

/// What the ledger is sorted by.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum LedgerSort {
    /// When the cast came to its end.
    #[default]
    Ended,
    /// Name of the cast.
    Name,
    /// Mixed volume.
    Volume,
    /// Working hours.
    Hours,
    /// Cost of the resin.
    Cost,
    /// Number of faults.
    Faults,
}

impl LedgerSort {
    pub(super) const fn column(self) -> &'static str {
        match self {
            Self::Ended => "d.ended_at",
            Self::Name => "lower(c.name)",
            Self::Volume => "d.volume_m3",
            Self::Hours => "d.hours_s",
            Self::Cost => "d.cost",
            Self::Faults => "d.fault_count",
        }
    }
}

/// What is asked of the ledger.
#[derive(Debug, Clone, Default)]
pub struct LedgerAsked {
    /// Words, each of which name, resin, timber, people or note has.
    pub words: String,
    /// Kind of cast, by its slug; empty for all.
    pub kind: String,
    /// Name of the resin; empty for all.
    pub resin: String,
    /// What the timber has in its name; empty for all.
    pub timber: String,
    /// A name of those who worked on it, or a part of it; empty for all.
    pub people: String,
    /// How the cast came to its end.
    pub outcome: Option<Outcome>,
    /// A fault that its piece has.
    pub fault: Option<FaultKind>,
    /// Mixed volume at least and at most, m³.
    pub volume_m3: [Option<f64>; 2],
    /// Cost of the resin at least and at most, in the shop's currency.
    pub cost: [Option<f64>; 2],
    /// Earliest end of a cast, UTC, inclusive.
    pub from: Option<Timestamp>,
    /// Latest end of a cast, UTC, exclusive.
    pub until: Option<Timestamp>,
    /// What it is sorted by.
    pub sort: LedgerSort,
    /// The smallest first.
    pub is_ascending: bool,
    /// Where the page begins: after this cast.
    pub after: Option<CastId>,
}

/// The tables and what is asked of them, with its values.
pub(super) struct Asking {
    pub(super) sql: String,
    values: Vec<sea_orm::Value>,
}

impl Asking {
    pub(super) fn of(workshop: WorkshopId, asked: &LedgerAsked) -> Result<Self, StoreError> {
        let mut asking = Self {
            sql: " from record d join \"cast\" c on c.id = d.cast_id and c.deleted_at is null \
                  where d.workshop_id = $1 and not d.is_open"
                .to_owned(),
            values: vec![workshop.0.into()],
        };
        for word in asked.words.split_whitespace().take(MOST_WORDS) {
            let place = asking.value(like(word));
            asking.sql += &format!(" and (d.words ilike {place} or c.name ilike {place})");
        }
        for (column, wanted) in [("kind", &asked.kind), ("resin", &asked.resin)] {
            if !wanted.is_empty() {
                let place = asking.value(wanted.clone());
                asking.sql += &format!(" and d.{column} = {place}");
            }
        }
        for (column, wanted) in [("timber", &asked.timber), ("people", &asked.people)] {
            if !wanted.is_empty() {
                let place = asking.value(like(wanted));
                asking.sql += &format!(" and d.{column} ilike {place}");
            }
        }
        if let Some(outcome) = &asked.outcome {
            let place = asking.value(word(outcome)?);
            asking.sql += &format!(" and d.outcome = {place}");
        }
        if let Some(fault) = &asked.fault {
            let place = asking.value(word(fault)?);
            asking.sql += &format!(
                " and exists (select 1 from record_fault f where f.cast_id = d.cast_id \
                 and f.kind = {place})"
            );
        }
        for (sign, at) in [(">=", asked.from), ("<", asked.until)] {
            if let Some(at) = at {
                let place = asking.value(to_column(at)?);
                asking.sql += &format!(" and d.ended_at {sign} {place}");
            }
        }
        for (column, [least, most]) in [("volume_m3", asked.volume_m3), ("cost", asked.cost)] {
            for (sign, bound) in [(">=", least), ("<=", most)] {
                if let Some(bound) = bound {
                    let place = asking.value(bound);
                    asking.sql += &format!(" and d.{column} {sign} {place}");
                }
            }
        }
        Ok(asking)
    }

    /// The place of a value.
    pub(super) fn value(&mut self, value: impl Into<sea_orm::Value>) -> String {
        self.values.push(value.into());
        format!("${}", self.values.len())
    }

    pub(super) fn select(self, what: &str, backend: sea_orm::DbBackend) -> Statement {
        Statement::from_sql_and_values(backend, format!("select {what}{}", self.sql), self.values)
    }
}
