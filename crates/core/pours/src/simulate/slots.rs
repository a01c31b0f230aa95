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
    /// Each with the closing of its stretch.
    all: Vec<(i64, i64)>,
    spans: Vec<OpenSpan>,
}

impl Slots {
    pub(crate) fn of(hours: &ShopHours, from: Timestamp, until: Timestamp) -> Self {
        let spans = hours.spans(from, until);
        let earliest = from.as_second();
        let mut all = Vec::new();
        for span in &spans {
            let mut at = up_to_grid(span.from.as_second().max(earliest));
            while at < span.to.as_second() {
                all.push((at, span.to.as_second()));
                at += GRID_S;
            }
        }
        Self { all, spans }
    }

    /// Without those at which the air forbids a pour; none lasts into such an hour.
    pub(crate) fn in_air(mut self, rule: Option<AirRule>, air: &AirSeries) -> Self {
        let Some(rule) = rule else { return self };
        let is_fit = |at: i64| rule.unfit_at(air, timestamp(at)).is_none();
        // From the last backwards: until when the air stays fit.
        let mut fit_until: Option<(i64, i64)> = None;
        let mut kept = Vec::with_capacity(self.all.len());
        for (at, closes) in self.all.into_iter().rev() {
            if !is_fit(at) {
                fit_until = None;
                continue;
            }
            let until = match fit_until {
                // The quarter hour after this one is fit too.
                Some((next, until)) if next == at + GRID_S => until,
                _ => last_fit(at, closes, is_fit),
            };
            fit_until = Some((at, until));
            kept.push((at, closes.min(until)));
        }
        kept.reverse();
        self.all = kept;
        self
    }

    /// Whether there is a slot with so much time, s.
    pub(crate) fn any_has_time(&self, work_s: i64) -> bool {
        (0..self.all.len()).any(|slot| self.has_time(slot, work_s))
    }

    pub(crate) fn len(&self) -> usize {
        self.all.len()
    }

    pub(crate) fn at(&self, index: usize) -> i64 {
        self.all[index].0
    }

    /// Whether work begun then ends before closing.
    pub(crate) fn has_time(&self, index: usize, work_s: i64) -> bool {
        self.all[index].0 + work_s <= self.all[index].1
    }

    /// Indices of the slots from a second to another, both included.
    pub(crate) fn within(&self, from: i64, to: i64) -> std::ops::Range<usize> {
        let first = self.all.partition_point(|slot| slot.0 < from);
        let end = self.all.partition_point(|slot| slot.0 <= to);
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
