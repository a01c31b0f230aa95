//! Where a run stands, folded from its rows.

use std::collections::BTreeSet;

use fondant_quantities::{Mass, Span, Temperature, Volume};
use jiff::Timestamp;

use super::batch::{Batch, Taken, Tint};
use super::happening::{Happening, ReadyItem, Row};
use super::plan::RunPlan;
use crate::batches::{Split, split};
use crate::pot::GaugeReading;
use crate::swirl::Edges;
use crate::warming::Warming;
use crate::weighing::Part;

/// Runs that began before their plans said when all is hard: a day after the last bucket stands for it
/// (convention).
const HARD_WITHIN: Span = Span::from_s(86_400.0);

/// How a run ended.
#[derive(Debug, Clone, PartialEq)]
pub enum Ended {
    /// All of it is done.
    Finished(Timestamp),
    /// It was given up, and why.
    Abandoned(Timestamp, String),
}

/// Where a run stands.
// Many fields: each is one thing that can happen in a run.
#[derive(Debug, Clone, PartialEq)]
pub struct Run {
    /// What it is to do.
    pub plan: RunPlan,
    /// What of the ready list was looked at.
    pub ready: BTreeSet<ReadyItem>,
    /// Its batches, those that are begun, in order.
    pub batches: Vec<Batch>,
    /// The next batch is to be of this mass.
    pub resized: Option<(u32, Mass)>,
    /// Missing in the form beyond the plan.
    pub short: Volume,
    /// The form was full before all that was planned went in.
    pub is_full: bool,
    /// When somebody looked for bubbles last.
    pub looked: Vec<Timestamp>,
    /// The watch is over.
    pub watched: Option<Timestamp>,
    /// The lid went on.
    pub covered: Option<Timestamp>,
    /// Topped up: when, and how much.
    pub topped_up: Vec<(Timestamp, Volume)>,
    /// The gauge of the pot since it was closed.
    pub gauge: Vec<GaugeReading>,
    /// Bottles in warm water.
    pub warming: Option<Warming>,
    /// The bath that keeps the form cold: when it was read, its water, and the ice that was left.
    pub chilled: Vec<(Timestamp, Temperature, Option<Mass>)>,
    /// The pot was vented.
    pub vented: Option<Timestamp>,
    /// How the edges of a swirl came out.
    pub rated: Option<Edges>,
    /// It rests since.
    pub paused: Option<Timestamp>,
    /// It is over.
    pub ended: Option<Ended>,
}

impl Run {
    /// Of what happened, in the order of the rows. A row that was withdrawn does not count.
    #[must_use]
    pub fn of(plan: RunPlan, rows: &[Row]) -> Self {
        let mut run = Self {
            plan,
            ready: BTreeSet::new(),
            batches: Vec::new(),
            resized: None,
            short: Volume::ZERO,
            is_full: false,
            looked: Vec::new(),
            watched: None,
            covered: None,
            topped_up: Vec::new(),
            gauge: Vec::new(),
            warming: None,
            chilled: Vec::new(),
            vented: None,
            rated: None,
            paused: None,
            ended: None,
        };
        let is_withdrawn = |number: i64| {
            rows.iter().any(
                |row| matches!(row.what, Happening::Withdrawn { row: gone, .. } if gone == number),
            )
        };
        for row in rows.iter().filter(|row| !is_withdrawn(row.number)) {
            run.fold(row);
        }
        run
    }

    fn fold(&mut self, row: &Row) {
        if let Some(number) = row.what.batch() {
            return self.fold_batch(number, row);
        }
        let at = row.at;
        match &row.what {
            Happening::Ready { item } => {
                self.ready.insert(*item);
            }
            Happening::RanShort { volume } => {
                self.short = self.short + *volume;
                self.is_full = false;
            }
            Happening::Looked => self.looked.push(at),
            Happening::Watched => self.watched = Some(at),
            Happening::Covered => self.covered = Some(at),
            Happening::ToppedUp { volume } => self.topped_up.push((at, *volume)),
            Happening::Gauge { over_bar } => {
                self.gauge.push(GaugeReading { at, over_bar: *over_bar });
            }
            Happening::Bathed { bath } => self.warming = Some(Warming::begun(at, *bath)),
            Happening::BottleRead { temperature } => {
                if let Some(warming) = &mut self.warming {
                    warming.read = Some((at, *temperature));
                }
            }
            Happening::Chilled { water, ice } => self.chilled.push((at, *water, *ice)),
            Happening::Vented => self.vented = Some(at),
            Happening::Rated { edges } => self.rated = Some(*edges),
            Happening::Paused => self.paused = Some(at),
            Happening::Resumed => self.paused = None,
            Happening::Finished => self.ended = Some(Ended::Finished(at)),
            Happening::Abandoned { reason } => {
                self.ended = Some(Ended::Abandoned(at, reason.clone()));
            }
            _ => {}
        }
    }

    fn fold_batch(&mut self, number: u32, row: &Row) {
        if let Happening::Resized { mass, .. } = row.what {
            self.resized = Some((number, mass));
            return;
        }
        let (at, row_number) = (row.at, row.number);
        if let Happening::PourEnded { is_full, .. } = row.what {
            self.is_full |= is_full;
        }
        let batch = self.begun(number);
        match &row.what {
            Happening::Weighed { part, mass, .. } => {
                let taken = Some(Taken { row: row_number, at, mass: *mass });
                match part {
                    Part::A => batch.a = taken,
                    Part::B => batch.b = taken,
                }
            }
            Happening::Added { part, mass, .. } => {
                let taken = match part {
                    Part::A => &mut batch.a,
                    Part::B => &mut batch.b,
                };
                if let Some(taken) = taken {
                    taken.mass = taken.mass + *mass;
                }
            }
            Happening::Tinted { colour, mass, .. } => {
                batch.tints.push(Tint { row: row_number, colour: colour.clone(), mass: *mass });
            }
            Happening::MixBegun { resin_at, lot, .. } => {
                batch.met = Some((at, *resin_at));
                batch.lot.clone_from(lot);
            }
            Happening::Coloured { .. } => batch.is_coloured = true,
            Happening::Evacuated { mbar, .. } => batch.vacuum.push((at, *mbar)),
            Happening::Aired { .. } => batch.aired = Some(at),
            Happening::SecondPot { .. } => batch.has_second_pot = true,
            Happening::MixEnded { .. } => batch.mixed = Some(at),
            Happening::Read { temperature, .. } => {
                batch.readings.push((at, *temperature));
                batch.readings.sort_by_key(|(at, _)| *at);
            }
            Happening::PourBegun { .. } => {
                batch.pouring = Some(at);
                // Nobody pours out of a closed chamber.
                batch.aired = batch.evacuated().map(|_| at).or(batch.aired);
            }
            Happening::PourEnded { left, .. } => batch.poured = Some((at, *left)),
            Happening::Lost { reason, .. } => batch.lost = Some((at, reason.clone())),
            _ => {}
        }
    }

    /// A batch that something happens to: begun where it is not yet.
    fn begun(&mut self, number: u32) -> &mut Batch {
        let place = match self.batches.iter().position(|batch| batch.number == number) {
            Some(place) => place,
            None => {
                let planned = self.next_mass(number);
                let cup = self.free_cup();
                self.batches.push(Batch::new(number, planned, cup));
                self.batches.len() - 1
            }
        };
        &mut self.batches[place]
    }

    /// Mixed mass of a batch that is not begun.
    #[must_use]
    pub fn next_mass(&self, number: u32) -> Mass {
        match self.resized {
            Some((resized, mass)) if resized == number => mass,
            _ => self.to_come().each,
        }
    }

    /// What is mixed for this pour in all, with what ran short.
    #[must_use]
    pub fn wanted(&self) -> Mass {
        self.plan.mass() + self.short * self.plan.resin.density
    }

    /// What is in buckets or went in, without buckets that were lost and what was left over.
    #[must_use]
    pub fn in_hand(&self) -> Mass {
        let counted = |batch: &Batch| match (&batch.lost, batch.poured) {
            (Some(_), None) => Mass::ZERO,
            (_, Some((_, left))) => batch.mass(&self.plan) - left,
            (None, None) => batch.mass(&self.plan),
        };
        self.batches.iter().map(counted).sum()
    }

    /// Mixed mass that went in.
    #[must_use]
    pub fn poured(&self) -> Mass {
        let in_form = |batch: &Batch| {
            batch.poured.map_or(Mass::ZERO, |(_, left)| batch.mass(&self.plan) - left)
        };
        self.batches.iter().map(in_form).sum()
    }

    /// The batches that are to come.
    #[must_use]
    pub fn to_come(&self) -> Split {
        if self.is_full {
            return Split { count: 0, each: Mass::ZERO };
        }
        if !self.plan.cups.is_empty() {
            return self.cups_to_come();
        }
        split((self.wanted() - self.in_hand()).max(Mass::ZERO), self.plan.batch)
    }

    /// Number of the next batch that is not begun.
    #[must_use]
    pub fn next_number(&self) -> u32 {
        self.batches.iter().map(|batch| batch.number).max().unwrap_or(0) + 1
    }

    /// A batch by its number.
    #[must_use]
    pub fn batch(&self, number: u32) -> Option<&Batch> {
        self.batches.iter().find(|batch| batch.number == number)
    }

    /// When the first bucket went in, and how warm it was then where that was read.
    #[must_use]
    pub fn first_poured(&self) -> Option<(Timestamp, Option<Temperature>)> {
        let pouring = self.batches.iter().filter_map(|batch| Some((batch.pouring?, batch)));
        let (at, batch) = pouring.min_by_key(|(at, _)| *at)?;
        let read = batch.readings.iter().rev().find(|(read, _)| *read <= at);
        Some((at, read.map(|(_, temperature)| *temperature)))
    }

    /// When all of a cast that was poured at once is hard; `None` where it was not, and until all is in.
    #[must_use]
    pub fn hard_at(&self) -> Option<Timestamp> {
        let all_in = self.all_in().filter(|_| self.plan.pour.is_none())?;
        Some(all_in + self.plan.hard.unwrap_or(HARD_WITHIN).signed())
    }

    /// When all that the plan wants is in; `None` while a bucket is to come or in hand.
    #[must_use]
    pub fn all_in(&self) -> Option<Timestamp> {
        if self.to_come().count > 0 || !self.batches.iter().all(Batch::is_over) {
            return None;
        }
        self.batches.iter().filter_map(|batch| batch.poured.map(|(at, _)| at)).max()
    }
}
