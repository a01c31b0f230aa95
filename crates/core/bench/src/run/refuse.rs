//! What cannot happen to a run as it stands, so that no part is taken twice and no bucket poured
//! that was never mixed.

use fondant_quantities::Mass;

use super::batch::Batch;
use super::happening::{Happening, Row};
use super::state::Run;
use crate::weighing::Part;

/// Most that is weighed into one bucket, kg (convention).
const MOST_KG: f64 = 100.0;

/// Why something cannot be written down for a run as it stands.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum Refused {
    /// The run is over.
    #[error("the run is over")]
    Over,
    /// The run rests.
    #[error("the run rests")]
    Resting,
    /// The part is in the bucket already.
    #[error("the part was taken in row {row}")]
    Taken {
        /// Which part.
        part: Part,
        /// How much of it.
        mass: Mass,
        /// Row that says so.
        row: i64,
    },
    /// Nothing is left to be mixed for this pour.
    #[error("nothing is left to be mixed")]
    NothingLeft,
    /// A part is not in the bucket yet.
    #[error("the part is not taken yet")]
    NotTaken {
        /// Which part.
        part: Part,
    },
    /// A has met B already.
    #[error("it is mixed already")]
    Met,
    /// A has not met B yet.
    #[error("it is not mixed yet")]
    NotMet,
    /// The bucket is empty or given up.
    #[error("the bucket is empty")]
    Empty,
    /// It has happened already.
    #[error("it has happened already")]
    Done,
    /// Nothing of this pour is in the form yet.
    #[error("nothing is in the form yet")]
    NothingIn,
    /// A bucket is still to be poured.
    #[error("a bucket is still to be poured")]
    StillToPour,
    /// The pot is not closed.
    #[error("the pot is not closed")]
    PotOpen,
    /// The bucket is not under vacuum.
    #[error("the chamber is not closed")]
    ChamberOpen,
    /// No bottles are in warm water.
    #[error("no bottles are in warm water")]
    NoBath,
    /// No such row, or one that cannot be withdrawn any more.
    #[error("there is no such row")]
    NoRow,
    /// A mass that no bucket holds.
    #[error("no bucket holds that")]
    Mass,
}

impl Run {
    /// Why something cannot happen now; `None` where it can.
    #[must_use]
    pub fn refuses(&self, what: &Happening, rows: &[Row]) -> Option<Refused> {
        let is_always = matches!(what, Happening::Noted { .. } | Happening::Rated { .. });
        if self.ended.is_some() && !is_always {
            return Some(Refused::Over);
        }
        if let Some(number) = what.batch() {
            // A bucket does not wait for a run that rests: readings and pours are always taken.
            if self.paused.is_some() && matches!(what, Happening::Weighed { .. }) {
                return Some(Refused::Resting);
            }
            return self.refuses_batch(number, what);
        }
        let is_in = self.batches.iter().any(|batch| batch.pouring.is_some());
        match what {
            Happening::Looked
            | Happening::Touched { .. }
            | Happening::ToppedUp { .. }
            | Happening::Rated { .. } => (!is_in).then_some(Refused::NothingIn),
            Happening::Watched => once(self.watched.is_some(), is_in),
            Happening::Covered => once(self.covered.is_some(), is_in),
            Happening::Vented if self.gauge.is_empty() => Some(Refused::PotOpen),
            Happening::Vented => self.vented.map(|_| Refused::Done),
            Happening::Gauge { .. } => self.vented.map(|_| Refused::PotOpen),
            Happening::BottleRead { .. } => self.warming.is_none().then_some(Refused::NoBath),
            Happening::Chilled { .. } => (!is_in).then_some(Refused::NothingIn),
            Happening::Paused => self.paused.map(|_| Refused::Done),
            Happening::Resumed if self.paused.is_none() => Some(Refused::Done),
            Happening::Finished if self.all_in().is_none() => Some(Refused::StillToPour),
            Happening::Withdrawn { row, .. } => self.refuses_withdrawal(*row, rows),
            _ => None,
        }
    }

    fn refuses_batch(&self, number: u32, what: &Happening) -> Option<Refused> {
        let is_mass = |mass: Mass| mass > Mass::ZERO && mass.kg() <= MOST_KG;
        let masses = match what {
            Happening::Resized { mass, .. }
            | Happening::Weighed { mass, .. }
            | Happening::Added { mass, .. }
            | Happening::Tinted { mass, .. } => is_mass(*mass),
            _ => true,
        };
        if !masses {
            return Some(Refused::Mass);
        }
        let Some(batch) = self.batch(number) else {
            let is_next = number == self.next_number();
            return match what {
                Happening::Resized { .. } if is_next => None,
                Happening::Weighed { .. } if is_next && self.to_come().count > 0 => None,
                Happening::Weighed { .. } => Some(Refused::NothingLeft),
                _ => Some(Refused::NotTaken { part: Part::A }),
            };
        };
        if batch.is_over() {
            return Some(Refused::Empty);
        }
        refuses_begun(batch, what, self)
    }

    /// Rows that others build on stay: a part cannot be taken out of a bucket that is mixed.
    fn refuses_withdrawal(&self, number: i64, rows: &[Row]) -> Option<Refused> {
        let is_gone = rows.iter().any(
            |row| matches!(row.what, Happening::Withdrawn { row: gone, .. } if gone == number),
        );
        let Some(row) = rows.iter().find(|row| row.number == number).filter(|_| !is_gone) else {
            return Some(Refused::NoRow);
        };
        if matches!(row.what, Happening::Withdrawn { .. }) {
            return Some(Refused::NoRow);
        }
        let batch = row.what.batch().and_then(|number| self.batch(number))?;
        let later = match row.what {
            Happening::Weighed { .. } | Happening::Added { .. } | Happening::Tinted { .. } => {
                batch.met.is_some()
            }
            Happening::MixBegun { .. } => batch.mixed.is_some() || batch.pouring.is_some(),
            Happening::MixEnded { .. } => batch.pouring.is_some(),
            Happening::PourBegun { .. } => batch.poured.is_some(),
            _ => false,
        };
        later.then_some(Refused::Done)
    }
}

/// Something that happens once, after resin is in the form.
fn once(has_happened: bool, is_in: bool) -> Option<Refused> {
    match (has_happened, is_in) {
        (true, _) => Some(Refused::Done),
        (false, false) => Some(Refused::NothingIn),
        (false, true) => None,
    }
}

fn refuses_begun(batch: &Batch, what: &Happening, run: &Run) -> Option<Refused> {
    let is_met = batch.met.is_some();
    let not_met = (!is_met).then_some(Refused::NotMet);
    match what {
        Happening::Resized { .. } => Some(Refused::Done),
        Happening::Weighed { part, .. } => batch.part(*part).map(|taken| Refused::Taken {
            part: *part,
            mass: taken.mass,
            row: taken.row,
        }),
        Happening::Added { part, .. } => {
            batch.part(*part).is_none().then_some(Refused::NotTaken { part: *part })
        }
        Happening::Tinted { .. } => batch.mixed.map(|_| Refused::Met),
        Happening::Coloured { .. } if batch.is_coloured => Some(Refused::Done),
        Happening::Coloured { .. } => batch.mixed.map(|_| Refused::Met),
        Happening::Evacuated { .. } if batch.pouring.is_some() || batch.aired.is_some() => {
            Some(Refused::Done)
        }
        Happening::Aired { .. } if batch.evacuated().is_none() => Some(Refused::ChamberOpen),
        Happening::MixBegun { .. } => {
            let missing = [Part::A, Part::B].into_iter().find(|part| batch.part(*part).is_none());
            match missing {
                Some(part) => Some(Refused::NotTaken { part }),
                None => is_met.then_some(Refused::Met),
            }
        }
        Happening::SecondPot { .. } if batch.has_second_pot => Some(Refused::Done),
        Happening::MixEnded { .. } if batch.mixed.is_some() => Some(Refused::Done),
        Happening::PourBegun { .. } if batch.pouring.is_some() => Some(Refused::Done),
        Happening::PourEnded { left, .. } if *left > batch.mass(&run.plan) => Some(Refused::Mass),
        Happening::PourEnded { .. } if batch.pouring.is_none() => Some(Refused::NotMet),
        Happening::Lost { .. } => None,
        _ => not_met,
    }
}
