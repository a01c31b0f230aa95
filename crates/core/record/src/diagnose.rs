//! The causes of a fault by what is known of this cast, the likeliest first.
//!
//! Each cause starts from its prior and is multiplied by a factor for each sign whose figure is known
//! (naive Bayes: signs are taken to be independent of one another given the cause). A figure that is not
//! known counts nothing and is named, so that somebody can look.

use std::collections::BTreeMap;

use crate::causes::{Cause, Row, Sign, rows};
use crate::fault::FaultKind;
use crate::figures::Figures;

/// Findings that the table's priors count as (convention): with as many confirmed causes of its own, a
/// shop's experience weighs as much as the table.
const PRIOR_WEIGHT: f64 = 10.0;

/// How often each cause was confirmed in this shop, fault by fault.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Confirmed(BTreeMap<(FaultKind, Cause), u32>);

impl Confirmed {
    /// Counts one more.
    pub fn add(&mut self, fault: FaultKind, cause: Cause) {
        *self.0.entry((fault, cause)).or_default() += 1;
    }

    /// Sets how often a cause of a fault was confirmed.
    pub fn set(&mut self, fault: FaultKind, cause: Cause, times: u32) {
        self.0.insert((fault, cause), times);
    }

    /// The same without one finding: a fault is no evidence of its own cause.
    #[must_use]
    pub fn without(&self, fault: FaultKind, cause: Cause) -> Self {
        let mut others = self.clone();
        if let Some(times) = others.0.get_mut(&(fault, cause)) {
            *times = times.saturating_sub(1);
        }
        others
    }

    /// How often a cause of a fault was confirmed.
    #[must_use]
    pub fn times(&self, fault: FaultKind, cause: Cause) -> u32 {
        self.0.get(&(fault, cause)).copied().unwrap_or_default()
    }

    fn of(&self, fault: FaultKind) -> u32 {
        self.0.iter().filter(|((of, _), _)| *of == fault).map(|(_, times)| times).sum()
    }
}

/// What a sign says of a cause.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Evidence {
    /// The sign.
    pub sign: Sign,
    /// The figure's value in this cast; `None` where it is not known.
    pub value: Option<f64>,
    /// Factor on the cause's weight; 1 where the figure is not known.
    pub factor: f64,
}

/// A cause with its share.
#[derive(Debug, Clone, PartialEq)]
pub struct Likely {
    /// The cause.
    pub cause: Cause,
    /// Its share of all weights, 0 to 1.
    pub share: f64,
    /// Its share before anything is known of the cast: the table's and the shop's own.
    pub prior: f64,
    /// How often this shop has confirmed it.
    pub confirmed: u32,
    /// What is known and what is not.
    pub evidence: Vec<Evidence>,
}

impl Likely {
    /// What speaks for it, the strongest first.
    pub fn speaks_for(&self) -> impl Iterator<Item = &Evidence> {
        self.evidence.iter().filter(|one| one.factor > 1.0)
    }

    /// What speaks against it.
    pub fn speaks_against(&self) -> impl Iterator<Item = &Evidence> {
        self.evidence.iter().filter(|one| one.factor < 1.0)
    }

    /// What is not known, and should be looked at.
    pub fn unknown(&self) -> impl Iterator<Item = &Evidence> {
        self.evidence.iter().filter(|one| one.value.is_none())
    }

    /// Whether nothing that is known speaks for it or against it.
    #[must_use]
    pub fn is_unknown(&self) -> bool {
        self.evidence.iter().all(|one| one.value.is_none())
    }
}

/// The causes of a fault, the likeliest first.
#[must_use]
pub fn diagnose(fault: FaultKind, figures: &Figures, confirmed: &Confirmed) -> Vec<Likely> {
    let all: f64 = rows(fault).map(|row| row.prior).sum();
    let found = f64::from(confirmed.of(fault));
    let likely = |row: &Row| {
        let times = confirmed.times(fault, row.cause);
        // The mean of a Dirichlet distribution over the causes.
        let prior = (PRIOR_WEIGHT * row.prior / all + f64::from(times)) / (PRIOR_WEIGHT + found);
        let evidence: Vec<Evidence> =
            row.signs.iter().map(|sign| weighed(*sign, figures)).collect();
        let weight = evidence.iter().map(|one| one.factor).product::<f64>() * prior;
        Likely { cause: row.cause, share: weight, prior, confirmed: times, evidence }
    };
    let mut causes: Vec<Likely> = rows(fault).map(likely).collect();
    let sum: f64 = causes.iter().map(|cause| cause.share).sum();
    for cause in &mut causes {
        cause.share /= sum;
        cause.evidence.sort_by(|a, b| b.factor.total_cmp(&a.factor));
    }
    causes.sort_by(|a, b| b.share.total_cmp(&a.share));
    causes
}

fn weighed(sign: Sign, figures: &Figures) -> Evidence {
    let value = figures.get(sign.figure);
    let factor = match value {
        None => 1.0,
        Some(value) if sign.test.holds(value) => sign.seen,
        Some(_) => sign.unseen,
    };
    Evidence { sign, value, factor }
}

#[cfg(test)]
mod tests;
