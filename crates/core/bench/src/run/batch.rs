//! One batch of a run: what is in its bucket, and what became of it.

use fondant_quantities::{Mass, Span, Temperature};
use jiff::{SignedDuration, Timestamp};

use super::plan::RunPlan;
use crate::bucket::{Mixed, Reading};
use crate::weighing::{Pair, Part, corrected};

/// A reading this soon after A met B says how warm the bucket began, and nothing of its rate.
const SETTLES: SignedDuration = SignedDuration::from_mins(3);

/// A part in the bucket.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Taken {
    /// Number of the row.
    pub row: i64,
    /// Time of weighing, UTC.
    pub at: Timestamp,
    /// How much, with what was added later.
    pub mass: Mass,
}

/// Colour in the bucket.
#[derive(Debug, Clone, PartialEq)]
pub struct Tint {
    /// Number of the row.
    pub row: i64,
    /// What it is called.
    pub colour: String,
    /// How much of it.
    pub mass: Mass,
}

/// One batch of a run.
// Many fields: each is one thing that can happen to a bucket.
#[derive(Debug, Clone, PartialEq)]
pub struct Batch {
    /// Number of the batch within the run, from 1.
    pub number: u32,
    /// Mixed mass that it was to be when its first part was taken.
    pub planned: Mass,
    /// The cup of the plan that it fills, from 0; `None` where all is of one colour, or it is one more.
    pub cup: Option<usize>,
    /// Part A, once taken.
    pub a: Option<Taken>,
    /// Part B, once taken.
    pub b: Option<Taken>,
    /// Colours, in order.
    pub tints: Vec<Tint>,
    /// Its colour is as it should be.
    pub is_coloured: bool,
    /// When A met B, and how warm the resin was then.
    pub met: Option<(Timestamp, Option<Temperature>)>,
    /// Short name of the lot that it was taken from.
    pub lot: Option<String>,
    /// It went into a second bucket.
    pub has_second_pot: bool,
    /// Mixed through.
    pub mixed: Option<Timestamp>,
    /// Under vacuum: when it was put there or looked at, and the pressure where it was read, mbar.
    pub vacuum: Vec<(Timestamp, Option<f64>)>,
    /// Air was let in again.
    pub aired: Option<Timestamp>,
    /// Temperatures read from it.
    pub readings: Vec<(Timestamp, Temperature)>,
    /// The first of it went in.
    pub pouring: Option<Timestamp>,
    /// The last went in, and what was left over.
    pub poured: Option<(Timestamp, Mass)>,
    /// It was given up, and why.
    pub lost: Option<(Timestamp, String)>,
}

impl Batch {
    pub(super) fn new(number: u32, planned: Mass, cup: Option<usize>) -> Self {
        Self {
            number,
            planned,
            cup,
            a: None,
            b: None,
            tints: Vec::new(),
            is_coloured: false,
            met: None,
            lot: None,
            has_second_pot: false,
            mixed: None,
            vacuum: Vec::new(),
            aired: None,
            readings: Vec::new(),
            pouring: None,
            poured: None,
            lost: None,
        }
    }

    /// A part, once taken.
    #[must_use]
    pub const fn part(&self, part: Part) -> Option<Taken> {
        match part {
            Part::A => self.a,
            Part::B => self.b,
        }
    }

    /// What it is to have of each part: the other one follows the one that is taken.
    #[must_use]
    pub fn target(&self, plan: &RunPlan) -> Pair {
        let asked = Pair::of(self.planned, &plan.resin);
        match (self.a, self.b) {
            (Some(a), None) => corrected(asked, Part::A, a.mass, &plan.resin).pair,
            (None, Some(b)) => corrected(asked, Part::B, b.mass, &plan.resin).pair,
            _ => asked,
        }
    }

    /// Both parts, once both are taken.
    #[must_use]
    pub fn weighed(&self) -> Option<Pair> {
        Some(Pair { a: self.a?.mass, b: self.b?.mass })
    }

    /// What is in the bucket, or will be by the part that is taken.
    #[must_use]
    pub fn mass(&self, plan: &RunPlan) -> Mass {
        self.weighed().unwrap_or_else(|| self.target(plan)).mixed()
    }

    /// When it was put under vacuum, while it still is.
    #[must_use]
    pub fn evacuated(&self) -> Option<Timestamp> {
        let (begun, _) = self.vacuum.first().filter(|_| self.aired.is_none())?;
        Some(*begun)
    }

    /// One colour in it, by its name.
    #[must_use]
    pub fn tint_of(&self, colour: &str) -> Mass {
        self.tints.iter().filter(|tint| tint.colour == colour).map(|tint| tint.mass).sum()
    }

    /// Colour in it, of all kinds.
    #[must_use]
    pub fn tint(&self) -> Mass {
        self.tints.iter().map(|tint| tint.mass).sum()
    }

    /// Whether nothing is to be done with it any more.
    #[must_use]
    pub const fn is_over(&self) -> bool {
        self.poured.is_some() || self.lost.is_some()
    }

    /// The bucket as the model sees it, once A has met B.
    #[must_use]
    pub fn bucket(&self, plan: &RunPlan) -> Option<(Timestamp, Mixed)> {
        let (met, resin_at) = self.met?;
        let at = self.first_read().or(resin_at).unwrap_or(plan.resin_at);
        Some((met, Mixed { mass: self.mass(plan), at, air: plan.air }))
    }

    /// The readings of it as the model sees them.
    #[must_use]
    pub fn read(&self) -> Vec<Reading> {
        let Some((met, _)) = self.met else { return Vec::new() };
        let reading = |(at, temperature): &(Timestamp, Temperature)| Reading {
            after: Span::between(met, *at),
            temperature: *temperature,
        };
        let later = self.readings.iter().filter(|(at, _)| *at > met + SETTLES);
        later.map(reading).collect()
    }

    /// What was read while it was still as warm as it was mixed: the last of it.
    fn first_read(&self) -> Option<Temperature> {
        let (met, _) = self.met?;
        let early = |(at, _): &&(Timestamp, Temperature)| *at >= met && *at <= met + SETTLES;
        self.readings.iter().rev().find(early).map(|(_, temperature)| *temperature)
    }
}
