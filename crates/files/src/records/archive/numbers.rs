//! Ids that a database has allotted mean nothing in another: in a file rows go by their place and pours
//! by the order in which they are named.

use std::collections::BTreeMap;

use fondant_bench::Happening;
use fondant_cast::PourId;
use fondant_cast::facts::Fact;
use fondant_finish::work::Told;

use super::contents::Archive;

/// The fact with another number, by `of`, of the row that it withdraws; `None` where `of` knows no such row.
#[must_use]
pub fn fact(fact: Fact, of: impl Fn(i64) -> Option<i64>) -> Option<Fact> {
    match fact {
        Fact::Withdrawn { row } => Some(Fact::Withdrawn { row: of(row)? }),
        other => Some(other),
    }
}

/// The same of a row at the bench.
#[must_use]
pub fn happening(what: Happening, of: impl Fn(i64) -> Option<i64>) -> Option<Happening> {
    match what {
        Happening::Withdrawn { row, reason } => {
            Some(Happening::Withdrawn { row: of(row)?, reason })
        }
        other => Some(other),
    }
}

/// The same of what was told of the finishing.
#[must_use]
pub fn told(told: Told, of: impl Fn(i64) -> Option<i64>) -> Option<Told> {
    match told {
        Told::Withdrawn { row } => Some(Told::Withdrawn { row: of(row)? }),
        other => Some(other),
    }
}

/// Place of a row among others by its number, from 1.
#[must_use]
pub fn place(numbers: &[i64], number: i64) -> Option<i64> {
    let place = numbers.iter().position(|one| *one == number)?;
    i64::try_from(place + 1).ok()
}

/// Number of a row by its place, from 1.
#[must_use]
pub fn number(numbers: &[i64], place: i64) -> Option<i64> {
    numbers.get(usize::try_from(place.checked_sub(1)?).ok()?).copied()
}

impl Archive {
    /// Its pours, in the order in which they are first named.
    #[must_use]
    pub fn pours(&mut self) -> Vec<PourId> {
        let mut found = Vec::new();
        for id in self.named() {
            if !found.contains(id) {
                found.push(*id);
            }
        }
        found
    }

    /// Gives its pours other ids, in the order of [`Archive::pours`]. Pours without a new id keep theirs.
    pub fn renumber(&mut self, ids: &[PourId]) {
        let new: BTreeMap<PourId, PourId> =
            self.pours().into_iter().zip(ids.iter().copied()).collect();
        for id in self.named() {
            *id = new.get(id).copied().unwrap_or(*id);
        }
    }

    /// Numbers its pours from 1.
    pub fn number_pours(&mut self) {
        let ids: Vec<PourId> = (0..self.pours().len()).map(PourId::of_place).collect();
        self.renumber(&ids);
    }

    fn named(&mut self) -> impl Iterator<Item = &mut PourId> {
        let Self { document, forecast, facts, runs, .. } = self;
        let pours = &mut document.pours;
        let taken = pours.taken.iter_mut().chain(&mut pours.given_up).map(|taken| &mut taken.id);
        let taken = taken.chain(pours.poured_of.iter_mut().map(|poured| &mut poured.pour));
        let promised = forecast.iter_mut().flat_map(|forecast| &mut forecast.pours);
        let happened = facts.iter_mut().filter_map(|kept| match &mut kept.fact {
            Fact::Poured { pour, .. } | Fact::Touched { pour, .. } => Some(pour),
            Fact::Withdrawn { .. } => None,
        });
        let run = runs.iter_mut().filter_map(|run| run.plan.pour.as_mut());
        taken.chain(promised.map(|pour| &mut pour.id)).chain(happened).chain(run)
    }
}
