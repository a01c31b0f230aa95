//! What a cast went through, counted from its first pour: as it was promised when its plan was taken,
//! as the model has it by what happened, and what was done and read at the bench.

use fondant_bench::Run;
use fondant_cast::facts::{Fact, FactRow, standing};
use fondant_cast::{Evaluation, Forecast, PourId};
use fondant_pours::layers::LayerKind;
use fondant_pours::simulate::observe::Touch;
use fondant_quantities::{Span, Temperature, Volume};
use jiff::Timestamp;

/// A pour on the axis.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PourOn {
    /// Kind of layer.
    pub layer: LayerKind,
    /// When it was poured, from the first pour on.
    pub at: Span,
    /// When it opened for the next layer, and when it closed.
    pub window: [Span; 2],
}

/// How a cast went, or was to go.
#[derive(Debug, Clone, PartialEq)]
pub struct Line {
    /// The hottest point over time, from the first pour on; empty where it is not known.
    pub hottest: Vec<(Span, Temperature)>,
    /// Pours of the line, in order.
    pub pours: Vec<PourOn>,
    /// When it was hard all through.
    pub hard: Span,
}

/// Something that was done or read.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Event {
    /// When, from the first pour on; negative before it.
    pub at: Span,
    /// Place of its pour, from 0.
    pub pour: usize,
    /// Kind of event.
    pub what: EventKind,
}

/// What was done or read.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum EventKind {
    /// The first of a bucket went in, or a pour of which no bucket is known.
    Poured,
    /// A bucket's temperature.
    Bucket(Temperature),
    /// A layer was touched.
    Touched(Touch),
    /// Resin was added where some had soaked in.
    ToppedUp(Volume),
    /// A lid went on.
    Covered,
    /// The gauge of the pot, over the air's pressure, bar.
    Gauge(f64),
    /// The pot was vented.
    Vented,
    /// A bucket was given up.
    Lost,
}

/// What a cast went through.
#[derive(Debug, Clone, PartialEq)]
pub struct Course {
    /// The first pour, UTC: zero of all times here.
    pub begun: Timestamp,
    /// As it was promised; `None` where no plan was taken. Its own first pour is its zero.
    pub promised: Option<Line>,
    /// By the model, from what happened; `None` where the model has no times for it.
    pub happened: Option<Line>,
    /// What was done and read, in order of time.
    pub events: Vec<Event>,
}

/// What a course comes from.
#[derive(Debug, Clone, Copy)]
pub struct Happened<'a> {
    /// Worked out by what has happened.
    pub evaluation: &'a Evaluation,
    /// The forecast of the plan that was taken.
    pub forecast: Option<&'a Forecast>,
    /// What was written down of the pours.
    pub facts: &'a [FactRow],
    /// The runs at the bench.
    pub runs: &'a [Run],
}

impl Course {
    /// The course of a cast; `None` where nothing was poured.
    #[must_use]
    pub fn of(from: &Happened<'_>) -> Option<Self> {
        let begun = begun(from.facts, from.runs)?;
        let stands = standing(from.facts);
        let mut events: Vec<Event> =
            from.runs.iter().flat_map(|run| at_the_bench(from, run, begun)).collect();
        events.extend(stands.iter().filter_map(|row| written_down(from, row.fact, begun)));
        events.sort_by(|a, b| a.at.s().total_cmp(&b.at.s()));
        let promised = from.forecast.and_then(promised);
        Some(Self { begun, promised, happened: from.line(begun), events })
    }

    /// How long anything is told of it, from the first pour on.
    #[must_use]
    pub fn ends(&self) -> Span {
        let lines = [&self.promised, &self.happened].into_iter().flatten().map(|line| line.hard);
        let events = self.events.iter().map(|event| event.at);
        lines.chain(events).fold(Span::ZERO, Span::max)
    }
}

/// When the first pour of a cast went in, by what was written down; `None` where nothing was poured.
#[must_use]
pub fn begun(facts: &[FactRow], runs: &[Run]) -> Option<Timestamp> {
    let stands = standing(facts);
    let by_fact = stands.iter().filter_map(|row| match row.fact {
        Fact::Poured { at, .. } => Some(at),
        _ => None,
    });
    by_fact.chain(runs.iter().filter_map(|run| Some(run.first_poured()?.0))).min()
}

/// Time from one moment to another, negative where the other is the earlier.
fn since(zero: Timestamp, at: Timestamp) -> Span {
    Span::from_s(at.duration_since(zero).as_secs_f64())
}

/// A step of two casts, side by side.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Step {
    /// How often it had happened to its pour before, from 0.
    pub nth: usize,
    /// In the one; `None` where it did not happen.
    pub one: Option<Event>,
    /// In the other.
    pub other: Option<Event>,
}

/// The steps of two casts aligned: the first touch of a layer beside the first touch of the same
/// layer, in the order of the one, and where it has none of the other.
#[must_use]
pub fn aligned(one: &Course, other: &Course) -> Vec<Step> {
    let mut steps: Vec<Step> = Vec::new();
    let (ones, mut others) = (numbered(&one.events), numbered(&other.events));
    for (event, nth) in ones {
        let same = |(at, n): &(Event, usize)| {
            *n == nth && at.pour == event.pour && at.what.is_like(event.what)
        };
        let found = others.iter().position(same).map(|place| others.remove(place).0);
        steps.push(Step { nth, one: Some(event), other: found });
    }
    steps.extend(others.into_iter().map(|(event, nth)| Step {
        nth,
        one: None,
        other: Some(event),
    }));
    let at = |step: &Step| step.one.or(step.other).map_or(0.0, |event| event.at.s());
    steps.sort_by(|a, b| at(a).total_cmp(&at(b)));
    steps
}

/// Events with how often each had happened to its pour before.
fn numbered(events: &[Event]) -> Vec<(Event, usize)> {
    let nth = |(place, event): (usize, &Event)| {
        let same = |before: &&Event| before.pour == event.pour && before.what.is_like(event.what);
        (*event, events[..place].iter().filter(same).count())
    };
    events.iter().enumerate().map(nth).collect()
}

impl EventKind {
    /// Whether it is the same thing, whatever was read.
    #[must_use]
    pub fn is_like(self, other: Self) -> bool {
        std::mem::discriminant(&self) == std::mem::discriminant(&other)
    }
}

impl Happened<'_> {
    /// Place of a pour among those of the plan; the first where there is no plan.
    fn place(&self, pour: Option<PourId>) -> usize {
        let ids = self.evaluation.planned.iter().flatten().map(|planned| planned.id);
        pour.and_then(|pour| ids.into_iter().position(|id| id == pour)).unwrap_or(0)
    }

    /// The pours by the model.
    fn line(&self, zero: Timestamp) -> Option<Line> {
        let schedule = self.evaluation.pours.as_ref().ok()?;
        let first = schedule.pours.first()?.at;
        let hottest = schedule.run.trace().map_or_else(Vec::new, |trace| {
            let later = since(zero, first);
            let moment = |sample: &fondant_heat::Sample| {
                (Span::from_s(sample.t_s) + later, Temperature::from_k(sample.hottest_k))
            };
            trace.samples.iter().map(moment).collect()
        });
        let pour = |pour: &fondant_pours::ScheduledPour| PourOn {
            layer: pour.layer.kind,
            at: since(zero, pour.at),
            window: [pour.opens, pour.closes].map(|at| since(zero, at)),
        };
        Some(Line {
            hottest,
            pours: schedule.pours.iter().map(pour).collect(),
            hard: since(zero, schedule.hard),
        })
    }
}

fn promised(forecast: &Forecast) -> Option<Line> {
    let zero = forecast.pours.first()?.at;
    let pour = |pour: &fondant_cast::forecast::ForecastPour| PourOn {
        layer: pour.layer,
        at: since(zero, pour.at),
        window: [pour.opens, pour.closes].map(|at| since(zero, at)),
    };
    Some(Line {
        hottest: forecast.course.iter().map(|moment| (moment.after, moment.hottest)).collect(),
        pours: forecast.pours.iter().map(pour).collect(),
        hard: since(zero, forecast.hard),
    })
}

/// What was written down of a pour beside the bench, or touched.
fn written_down(from: &Happened<'_>, fact: Fact, begun: Timestamp) -> Option<Event> {
    let is_run = |pour| from.runs.iter().any(|run| run.plan.pour == Some(pour));
    let (pour, at, what) = match fact {
        Fact::Touched { pour, at, found, .. } => (pour, at, EventKind::Touched(found)),
        Fact::Poured { pour, at, .. } if !is_run(pour) => (pour, at, EventKind::Poured),
        _ => return None,
    };
    Some(Event { at: since(begun, at), pour: from.place(Some(pour)), what })
}

fn at_the_bench(from: &Happened<'_>, run: &Run, begun: Timestamp) -> Vec<Event> {
    let pour = from.place(run.plan.pour);
    let event = |(at, what): (Timestamp, EventKind)| Event { at: since(begun, at), pour, what };
    let mut all: Vec<(Timestamp, EventKind)> = Vec::new();
    for batch in &run.batches {
        all.extend(batch.met.and_then(|(at, read)| Some((at, EventKind::Bucket(read?)))));
        all.extend(batch.readings.iter().map(|(at, read)| (*at, EventKind::Bucket(*read))));
        all.extend(batch.pouring.map(|at| (at, EventKind::Poured)));
        all.extend(batch.lost.as_ref().map(|(at, _)| (*at, EventKind::Lost)));
    }
    all.extend(run.topped_up.iter().map(|(at, volume)| (*at, EventKind::ToppedUp(*volume))));
    all.extend(run.covered.map(|at| (at, EventKind::Covered)));
    all.extend(run.gauge.iter().map(|read| (read.at, EventKind::Gauge(read.over_bar))));
    all.extend(run.vented.map(|at| (at, EventKind::Vented)));
    all.into_iter().map(event).collect()
}

#[cfg(test)]
mod tests;
