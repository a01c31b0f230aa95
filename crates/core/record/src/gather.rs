//! The figures of a cast, from what happened at the bench and what the model says of it.

use fondant_bench::bucket::clock;
use fondant_bench::run::ReadyItem;
use fondant_bench::run::{Batch, Run};
use fondant_cast::planning::glass_margin;
use fondant_cast::{Document, Evaluation};
use fondant_materials::resin::shelf::{Colour, Lot};
use fondant_numerics::Stop;
use fondant_quantities::{Mass, Span, Volume};
use fondant_shapes::volume::sizing::LineKind;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};

use crate::figures::{Figure, Figures};

/// Pascals in a bar.
const PA_PER_BAR: f64 = 1e5;
/// Air is judged for this long after the last pour: films form while the surface is liquid.
const SETTING: SignedDuration = SignedDuration::from_hours(24);

/// What the figures come from.
#[derive(Debug, Clone, Copy)]
pub struct Gathered<'a> {
    /// The document.
    pub document: &'a Document,
    /// Worked out by what has happened.
    pub evaluation: &'a Evaluation,
    /// The runs in which something was poured.
    pub runs: &'a [Run],
    /// Lots of the shelf by their short names.
    pub lots: &'a [(String, Lot)],
    /// Colours of the shelf.
    pub colours: &'a [Colour],
    /// When the piece came out of its form, UTC, where that was told.
    pub opened: Option<Timestamp>,
}

/// The figures that are known without asking anybody.
#[must_use]
pub fn figures(from: &Gathered<'_>, stop: &Stop) -> Figures {
    let mut figures = Figures::default();
    of_the_document(from, &mut figures);
    of_the_model(from, &mut figures);
    let poured: Vec<&Run> = from.runs.iter().filter(|run| run.first_poured().is_some()).collect();
    if !poured.is_empty() {
        of_the_buckets(&poured, &mut figures);
        of_the_watch(&poured, &mut figures);
        of_the_timber(from, &poured, &mut figures);
        of_the_pot(&poured, &mut figures);
        of_the_ready_list(&poured, &mut figures);
        of_the_air(from, &poured, &mut figures);
        of_the_lots(from, &poured, &mut figures);
        of_the_opening(from, &poured, stop, &mut figures);
    }
    figures
}

fn of_the_document(from: &Gathered<'_>, figures: &mut Figures) {
    let contents = &from.document.contents;
    let wettest =
        contents.timber().iter().map(|board| board.moisture_percent / 100.0).reduce(f64::max);
    figures.set_if(Figure::Moisture, wettest);
    if let Some(river) = contents.river() {
        figures.set_flag(Figure::Sealed, river.seal);
    }
    figures.set_flag(Figure::StiffObject, !contents.inserts().is_empty());
}

fn of_the_model(from: &Gathered<'_>, figures: &mut Figures) {
    let Ok(schedule) = &from.evaluation.pours else { return };
    let peak = schedule.peak();
    figures.set(Figure::Peak, peak.k());
    figures.set(Figure::PeakOverLimit, (peak - from.evaluation.resin.working.peak_limit).k());
    let depths = schedule.pours.iter().map(|pour| (pour.layer.to - pour.layer.from).m());
    let Some(deepest) = depths.reduce(f64::max) else { return };
    figures.set(Figure::LayerDepth, deepest);
    figures.set(Figure::DepthShare, deepest / from.evaluation.heat.allowed.m());
}

/// Batches that went into the form, with their run.
pub(crate) fn buckets<'a>(runs: &'a [&Run]) -> impl Iterator<Item = (&'a Run, &'a Batch)> {
    runs.iter().flat_map(|run| {
        run.batches.iter().filter(|batch| batch.pouring.is_some()).map(|batch| (*run, batch))
    })
}

fn of_the_buckets(runs: &[&Run], figures: &mut Figures) {
    let mass = |(run, batch): (&Run, &Batch)| batch.mass(&run.plan);
    let mixed: Mass = buckets(runs).map(mass).sum();
    figures.set(Figure::Mass, mixed.kg());
    let volume = |(run, batch)| (mass((run, batch)) / run.plan.resin.density).m3();
    figures.set(Figure::Volume, buckets(runs).map(volume).sum());
    let left: Mass =
        buckets(runs).filter_map(|(_, batch)| batch.poured.map(|(_, left)| left)).sum();
    figures.set(Figure::LeftOver, left.kg() / mixed.kg());
    let hours = |run: &&Run| {
        let begun = run.batches.iter().filter_map(|batch| batch.met).map(|(at, _)| at).min()?;
        Some(Span::between(begun, run.all_in()?).s())
    };
    figures.set_if(Figure::Hours, runs.iter().map(hours).sum());
    let at = buckets(runs).filter_map(|(run, batch)| Some(batch.bucket(&run.plan)?.1.at.k()));
    figures.set_if(Figure::Bucket, at.reduce(f64::min));
    let mixing = buckets(runs).filter_map(|(_, b)| Some(Span::between(b.met?.0, b.mixed?).s()));
    figures.set_if(Figure::Mixing, mixing.reduce(f64::min));
    figures.set_flag(Figure::SecondPot, buckets(runs).all(|(_, batch)| batch.has_second_pot));
    let off = buckets(runs)
        .filter_map(|(run, batch)| Some(batch.weighed()?.ratio_error(&run.plan.resin).abs()));
    figures.set_if(Figure::RatioError, off.reduce(f64::max));
    figures.set_if(Figure::BucketShare, buckets(runs).filter_map(bucket_share).reduce(f64::max));
    of_the_colour(runs, figures);
    let mut lots: Vec<&str> = buckets(runs).filter_map(|(_, batch)| batch.lot.as_deref()).collect();
    lots.sort_unstable();
    lots.dedup();
    if !lots.is_empty() {
        figures.set(Figure::Lots, lots.len() as f64);
    }
}

/// Time from A meeting B until the last of a bucket went in, as a share of how long it could be poured;
/// `None` where one of these is not known.
fn bucket_share((run, batch): (&Run, &Batch)) -> Option<f64> {
    let (met, mixed) = batch.bucket(&run.plan)?;
    let (last, _) = batch.poured?;
    let life = clock(&run.plan.resin, mixed, &batch.read()).ok()?.life?;
    Some(Span::between(met, last).s() / life.s())
}

/// Age of the oldest lot when it was poured from.
fn of_the_lots(from: &Gathered<'_>, runs: &[&Run], figures: &mut Figures) {
    let age = |(_, batch): (&Run, &Batch)| {
        let bought = from.lot(batch.lot.as_deref()?)?.bought;
        let bought = bought.to_zoned_datetime(TimeZone::UTC).ok()?;
        Some(Span::between(bought.timestamp(), batch.pouring?).s())
    };
    figures.set_if(Figure::LotAge, buckets(runs).filter_map(age).reduce(f64::max));
}

/// How early it came out of its form, and how far it had cured then.
fn of_the_opening(from: &Gathered<'_>, runs: &[&Run], stop: &Stop, figures: &mut Figures) {
    let (Some(opened), Ok(schedule)) = (from.opened, &from.evaluation.pours) else { return };
    let Some(all_in) = runs.iter().filter_map(|run| run.all_in()).max() else { return };
    let forecast = Span::between(all_in, schedule.form_opens());
    if forecast > Span::ZERO && opened > all_in {
        figures.set(Figure::CureShare, Span::between(all_in, opened).s() / forecast.s());
    }
    let margin = glass_margin(from.document, from.evaluation, opened, stop);
    figures.set_if(Figure::DemouldMargin, margin.map(|margin| margin.k()));
}

impl Gathered<'_> {
    /// A lot by its short name.
    pub(crate) fn lot(&self, slug: &str) -> Option<&Lot> {
        self.lots.iter().find(|(own, _)| own == slug).map(|(_, lot)| lot)
    }
}

/// How much colour went in, and how evenly over the buckets.
fn of_the_colour(runs: &[&Run], figures: &mut Figures) {
    let shares: Vec<f64> =
        buckets(runs).map(|(run, batch)| batch.tint().kg() / batch.mass(&run.plan).kg()).collect();
    let most = shares.iter().copied().fold(0.0, f64::max);
    figures.set(Figure::TintShare, most);
    let mean = shares.iter().sum::<f64>() / shares.len() as f64;
    if shares.len() > 1 && mean > 0.0 {
        let least = shares.iter().copied().fold(f64::INFINITY, f64::min);
        figures.set(Figure::TintSpread, (most - least) / mean);
    }
}

fn of_the_watch(runs: &[&Run], figures: &mut Figures) {
    let watched = |run: &&Run| run.watched.is_some() || run.plan.watch <= Span::ZERO;
    figures.set_flag(Figure::Watched, runs.iter().all(watched));
    figures.set_flag(Figure::Covered, runs.iter().all(|run| run.covered.is_some()));
    let topped: Volume =
        runs.iter().flat_map(|run| &run.topped_up).map(|(_, volume)| *volume).sum();
    figures.set(Figure::ToppedUp, topped.m3());
    let late = runs.iter().filter_map(|run| {
        let [_, closes] = run.plan.window?;
        let (begun, _) = run.first_poured()?;
        Some(begun.duration_since(closes).as_secs_f64())
    });
    figures.set_if(Figure::AfterWindow, late.reduce(f64::max));
}

/// What bare timber absorbed: what was mixed for it, and what was topped up where somebody looked.
fn of_the_timber(from: &Gathered<'_>, runs: &[&Run], figures: &mut Figures) {
    let lines = &from.evaluation.measured.sizing.lines;
    let drunk = lines.iter().find_map(|line| match line.kind {
        LineKind::Absorption { area } => Some((area, line.volume)),
        _ => None,
    });
    let Some((area, planned)) = drunk.filter(|(area, _)| area.m2() > 0.0) else { return };
    if runs.iter().any(|run| !run.topped_up.is_empty()) {
        let topped = figures.get(Figure::ToppedUp).unwrap_or_default();
        figures.set(Figure::Absorbed, (planned.m3() + topped) / area.m2());
    }
}

fn of_the_pot(runs: &[&Run], figures: &mut Figures) {
    let held = runs.iter().filter_map(|run| Some((run.gauge.first()?, run.gauge.last()?)));
    let (mut least, mut lost) = (f64::INFINITY, f64::NEG_INFINITY);
    for (first, last) in held {
        least = least.min(last.over_bar * PA_PER_BAR);
        lost = lost.max((first.over_bar - last.over_bar) * PA_PER_BAR);
    }
    // Where there was no pot neither is a finite number.
    figures.set(Figure::Pressure, least);
    figures.set(Figure::PressureLoss, lost);
}

/// What was ticked, of what was asked.
fn of_the_ready_list(runs: &[&Run], figures: &mut Figures) {
    let items = [
        (ReadyItem::Sealed, Figure::JointsSealed),
        (ReadyItem::Release, Figure::Release),
        (ReadyItem::Level, Figure::Level),
    ];
    for (item, figure) in items {
        let mut asked = runs.iter().filter(|run| run.plan.ready.contains(&item)).peekable();
        if asked.peek().is_some() {
            figures.set_flag(figure, asked.all(|run| run.ready.contains(&item)));
        }
    }
}

/// The air from the first pour until the last surface has set.
fn of_the_air(from: &Gathered<'_>, runs: &[&Run], figures: &mut Figures) {
    let Some(task) = &from.evaluation.pour_task else { return };
    let begun = runs.iter().filter_map(|run| run.first_poured()).map(|(at, _)| at).min();
    let all_in = runs.iter().filter_map(|run| run.all_in()).max();
    let Some((begun, end)) = begun.zip(all_in.map(|at| at + SETTING)) else { return };
    let air = task.air();
    figures.set(Figure::Air, air.mean(begun, end).k());
    let moments: Vec<Timestamp> = hourly(begun, end).collect();
    let humidity = moments.iter().map(|at| air.at(*at).humidity_percent / 100.0).sum::<f64>();
    figures.set(Figure::Humidity, humidity / moments.len() as f64);
    let margin = moments.iter().map(|at| (air.at(*at).temperature - air.dew_point(*at)).k());
    figures.set_if(Figure::DewMargin, margin.reduce(f64::min));
    let (coldest, warmest) = air.range(begun, end);
    let first = air.at(begun).temperature;
    figures.set(Figure::AirFall, (first - coldest).k());
    figures.set(Figure::AirRise, (warmest - first).k());
}

fn hourly(from: Timestamp, to: Timestamp) -> impl Iterator<Item = Timestamp> {
    let hour = SignedDuration::from_hours(1);
    std::iter::successors(Some(from), move |at| Some(*at + hour)).take_while(move |at| *at <= to)
}

#[cfg(test)]
pub(crate) mod tests;
