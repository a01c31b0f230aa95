//! Cups of a swirl at the moment when they are joined.

use fondant_bench::run::{Act, Batch};
use fondant_bench::swirl::{expected, learnt};
use jiff::{SignedDuration, Timestamp};

use super::model::Modelled;
use super::telling::{ActView, Other, Telling, of_batch};
use crate::ui::units::Shown;
use crate::words::bench as words;
use crate::words::layers::capitalised;
use crate::words::measures::thickness;

/// A cup that gels within this time is told of at once (convention: it takes some minutes to pour).
const GELS_SOON: SignedDuration = SignedDuration::from_mins(10);

/// That a cup which waits is about to gel; `None` while there is time.
pub(super) fn gels_soon(m: &Modelled, name: &str, now: Timestamp) -> Option<String> {
    let left = m.gels()?.duration_since(now);
    (left < GELS_SOON).then(|| match left.as_mins() {
        minutes if minutes > 0 => {
            format!("{name} gels in {minutes}\u{202f}min: pour it now, or leave it out.")
        }
        _ => format!("{name} has gelled by the model: it makes lumps. Look before it is poured."),
    })
}

/// What is known of a cup's way to the join: how thick it is there, and until when it must be in.
pub(super) fn joins(m: &Modelled, shown: Shown, at: impl Fn(Timestamp) -> String) -> String {
    let Some(way) = m.join else { return String::new() };
    let now = format!("{} now by the model", shown.temperature(m.now));
    let mut all = vec![
        now,
        match way.viscosity_pa_s {
            Some(thick) => format!("{} there", thickness(thick)),
            None => format!(
                "this much gets {} at most: warm it in a bath before A meets B, or join it cooler",
                shown.temperature(way.warmest)
            ),
        },
    ];
    all.extend(m.ends().map(|ends| format!("thin enough to pour until {}", at(ends))));
    all.extend(m.gels().map(|gels| format!("gels {}", at(gels))));
    all.join("; ")
}

impl Telling<'_> {
    /// The next cup goes into the swirl.
    pub(super) fn join(&self, batch: u32) -> ActView {
        let warm = self.run.plan.join.unwrap_or(self.run.plan.resin_at);
        let waiting: Vec<&Modelled> = self.modelled.iter().filter(|m| m.join.is_some()).collect();
        let last = waiting.iter().filter_map(|m| m.joins()).max();
        let first_gels = waiting.iter().filter_map(|m| Some((m.gels()?, m.batch))).min();
        let warm = self.shown.temperature(warm);
        let cup = |m: &&Modelled| {
            let when = match m.joins() {
                Some(at) => format!("{warm} at {}", self.shown.day_and_time(at, self.zone)),
                None => format!("never {warm}"),
            };
            let name = capitalised(&self.vessel(m.batch));
            format!("{name}: {} now, {when}.", self.shown.temperature(m.now))
        };
        let mut says: Vec<String> = waiting.iter().map(cup).collect();
        says.extend(self.edges(&waiting));
        ActView {
            heading: format!("Pour {} into the swirl", self.vessel(batch)),
            until_ms: last.map_or(0, Timestamp::as_millisecond),
            says,
            sent: of_batch("pour_begun", batch),
            button: "It goes in".to_owned(),
            caution: first_gels.map_or_else(
                || self.flame(),
                |(gels, first)| {
                    let when = self.shown.day_and_time(gels, self.zone);
                    let first = self.vessel(first);
                    format!("Hard stop {when}: {first} gels. What has gelled makes lumps.")
                },
            ),
            ..ActView::default()
        }
    }

    /// Cups that wait for the others can be poured before them: one that is about to gel has to.
    pub(super) fn early(&self, act: &Act) -> Vec<Other> {
        if self.run.plan.join.is_none() || matches!(act, Act::Pour { .. } | Act::PourOn { .. }) {
            return Vec::new();
        }
        let waits =
            |batch: &&Batch| batch.mixed.is_some() && batch.pouring.is_none() && !batch.is_over();
        let other = |batch: &Batch| Other {
            label: format!("Pour {} now, without waiting", self.vessel(batch.number)),
            sent: of_batch("pour_begun", batch.number),
        };
        self.run.batches.iter().filter(waits).map(other).collect()
    }

    /// How the edges will come out at the join, by the shop's own swirls.
    fn edges(&self, waiting: &[&Modelled]) -> Option<String> {
        let thick: Vec<f64> = waiting.iter().filter_map(|m| m.join?.viscosity_pa_s).collect();
        let mean = thick.iter().map(|one| one.ln()).sum::<f64>() / thick.len() as f64;
        let mean = Some(mean.exp()).filter(|_| !thick.is_empty())?;
        let Some(edges) = expected(mean, self.swirls) else {
            return Some(format!(
                "{} at the join keeps colours apart better than less. Rate the edges later: the next swirl learns from it.",
                thickness(mean)
            ));
        };
        let of = learnt(self.swirls).into_iter().find(|one| one.edges == edges)?;
        let (thinnest, thickest) = of.between_pa_s;
        let swirls = if of.count == 1 { "swirl" } else { "swirls" };
        Some(format!(
            "{} at the join: edges likely {}, as in {} {swirls} here between {} and {}.",
            thickness(mean),
            words::edges(edges),
            of.count,
            thickness(thinnest),
            thickness(thickest)
        ))
    }
}
