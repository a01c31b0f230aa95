//! The moments on the grid at which somebody could pour.

use jiff::{SignedDuration, Timestamp};

use super::air_rule::AirRule;
use super::grid::{GRID_S, timestamp, up_to_grid};
use crate::hours::{OpenSpan, ShopHours};
use fondant_heat::climate::AirSeries;
use fondant_quantities::Span;

/// After a cured layer has been sanded, how long the next may wait for a better
/// hour: a day, which holds every hour of the air, s.
pub(crate) const AFTER_CURE_WITHIN_S: i64 = 86_400;

/// Work on a hard layer before the next.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Preparation {
    pub(crate) takes: Span,
    /// It cannot be left overnight and gone on with.
    pub(crate) at_a_stretch: bool,
}

/// Quarter hours inside the shop's hours, in order, s since 1970.
#[derive(Debug, Clone)]
pub(crate) struct Slots {
    all: Vec<i64>,
    /// For each resin of the cast, until when a pour of it that begins at each of them may last: to the
    /// closing of its stretch, or as long as the air is fit. One for all where the air forbids nothing.
    until: Vec<Vec<i64>>,
    spans: Vec<OpenSpan>,
}

/// At such a slot no pour of a resin begins.
const NEVER: i64 = i64::MIN;

impl Slots {
    pub(crate) fn of(hours: &ShopHours, from: Timestamp, until: Timestamp) -> Self {
        let spans = hours.spans(from, until);
        let earliest = from.as_second();
        let (mut all, mut closes) = (Vec::new(), Vec::new());
        for span in &spans {
            let mut at = up_to_grid(span.from.as_second().max(earliest));
            while at < span.to.as_second() {
                all.push(at);
                closes.push(span.to.as_second());
                at += GRID_S;
            }
        }
        Self { all, until: vec![closes], spans }
    }

    /// Without those at which the air forbids a pour of every resin; none lasts into an hour in which it
    /// forbids its own. The rules are those of the cast's own resin and of its stages, in order.
    pub(crate) fn in_air(mut self, rules: Option<Vec<AirRule>>, air: &AirSeries) -> Self {
        let Some(rules) = rules else { return self };
        let closes = self.until.swap_remove(0);
        let mut until: Vec<Vec<i64>> = Vec::with_capacity(rules.len());
        for (place, rule) in rules.iter().enumerate() {
            let same = rules[..place].iter().position(|earlier| earlier == rule);
            let fit = match same {
                Some(earlier) => until[earlier].clone(),
                None => fit_until(&self.all, &closes, *rule, air),
            };
            until.push(fit);
        }
        let is_kept: Vec<bool> = (0..self.all.len())
            .map(|slot| until.iter().any(|fit: &Vec<i64>| fit[slot] != NEVER))
            .collect();
        self.all = only(self.all, &is_kept);
        self.until = until.into_iter().map(|fit| only(fit, &is_kept)).collect();
        self
    }

    /// Whether there is a slot with enough time for a resin, s.
    pub(crate) fn any_has_time(&self, work_s: i64, resin: u8) -> bool {
        (0..self.all.len()).any(|slot| self.has_time(slot, work_s, resin))
    }

    pub(crate) fn len(&self) -> usize {
        self.all.len()
    }

    pub(crate) fn at(&self, index: usize) -> i64 {
        self.all[index]
    }

    /// Whether work on a layer of a resin that is begun then ends before closing, and in fit air.
    pub(crate) fn has_time(&self, index: usize, work_s: i64, resin: u8) -> bool {
        let until = self.until.get(usize::from(resin)).unwrap_or(&self.until[0]);
        self.all[index].saturating_add(work_s) <= until[index]
    }

    /// Indices of the slots from a second to another, both included.
    pub(crate) fn within(&self, from: i64, to: i64) -> std::ops::Range<usize> {
        let first = self.all.partition_point(|at| *at < from);
        let end = self.all.partition_point(|at| *at <= to);
        first..end.max(first)
    }

    /// The moments from a second to another, both included.
    pub(crate) fn moments(&self, from: i64, to: i64) -> Vec<i64> {
        self.within(from, to).map(|index| self.at(index)).collect()
    }

    /// When a layer hard at a second has been prepared for the next. Beginning and end of the work.
    pub(crate) fn prepared(&self, hard: i64, work: Preparation) -> Option<(i64, i64)> {
        let takes = work.takes.s().ceil() as i64;
        if work.at_a_stretch {
            self.at_a_stretch(hard, takes)
        } else {
            self.bit_by_bit(hard, takes)
        }
    }

    /// In all the open hours that it takes.
    fn bit_by_bit(&self, from: i64, takes: i64) -> Option<(i64, i64)> {
        let (mut left, mut begun) = (takes, None);
        for span in &self.spans {
            let begin = span.from.as_second().max(from);
            let open = span.to.as_second() - begin;
            if open <= 0 {
                continue;
            }
            let first = *begun.get_or_insert(begin);
            if open >= left {
                return Some((first, begin + left));
            }
            left -= open;
        }
        None
    }

    /// In the first stretch of the hours that is long enough.
    fn at_a_stretch(&self, hard: i64, takes: i64) -> Option<(i64, i64)> {
        self.spans.iter().find_map(|span| {
            let begin = span.from.as_second().max(hard);
            (begin + takes <= span.to.as_second()).then_some((begin, begin + takes))
        })
    }

    /// The longest stretch of the hours, s.
    pub(crate) fn longest_s(&self) -> i64 {
        self.spans.iter().map(|span| span.length().as_secs()).max().unwrap_or(0)
    }

    /// Closed time between two seconds, s.
    pub(crate) fn closed_s(&self, from: i64, to: i64) -> i64 {
        let open: i64 = self
            .spans
            .iter()
            .map(|s| (s.to.as_second().min(to) - s.from.as_second().max(from)).max(0))
            .sum();
        (to - from - open).max(0)
    }
}

/// What is kept of one entry a slot.
fn only(all: Vec<i64>, is_kept: &[bool]) -> Vec<i64> {
    all.into_iter().zip(is_kept).filter(|(_, kept)| **kept).map(|(one, _)| one).collect()
}

/// Until when a pour that begins at each moment may last by a rule of the air.
fn fit_until(all: &[i64], closes: &[i64], rule: AirRule, air: &AirSeries) -> Vec<i64> {
    let is_fit = |at: i64| rule.unfit_at(air, timestamp(at)).is_none();
    // From the last backwards: until when the air stays fit.
    let mut after: Option<(i64, i64)> = None;
    let mut found = vec![NEVER; all.len()];
    for (slot, (at, closes)) in all.iter().zip(closes).enumerate().rev() {
        if !is_fit(*at) {
            after = None;
            continue;
        }
        let until = match after {
            // The quarter hour after this one is fit too.
            Some((next, until)) if next == at + GRID_S => until,
            _ => last_fit(*at, *closes, is_fit),
        };
        after = Some((*at, until));
        found[slot] = until.min(*closes);
    }
    found
}

/// The last quarter hour before closing up to which the air stays fit.
fn last_fit(from: i64, closes: i64, is_fit: impl Fn(i64) -> bool) -> i64 {
    let mut until = from;
    while until < closes && is_fit(until + GRID_S) {
        until += GRID_S;
    }
    until
}

/// The horizon of a search: the latest that any pour is looked for.
pub(crate) const HORIZON: SignedDuration = SignedDuration::from_hours(45 * 24);
