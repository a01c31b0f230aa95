//! Clocks beside the act at hand: open buckets, cups to be joined, baths.

use fondant_bench::Run;
use fondant_bench::run::{ClockKind, clocks};
use jiff::Timestamp;

use super::baths::{chilled, warming};
use super::join::joins;
use super::model::{Modelled, WAIT};
use crate::pages::stations::asked::Visit;
use crate::ui::numbers::span;
use crate::ui::units::{InUnits, Shown};
use crate::words::bench as words;

/// A clock that runs.
pub(super) struct ClockView {
    pub(super) name: String,
    pub(super) from_ms: i64,
    pub(super) until_ms: i64,
    /// What stands there where it has no end.
    pub(super) endless: &'static str,
    pub(super) says: String,
    pub(super) is_bucket: bool,
}

/// The clocks of a run, and what is known of what they count.
pub(super) fn clock_views(run: &Run, modelled: &[Modelled], visit: &Visit) -> Vec<ClockView> {
    let shop = &visit.open.shop;
    let (shown, zone) = (shop.shown(), shop.hours().zone());
    let when = |at| shown.day_and_time(at, zone);
    let view = |clock: fondant_bench::Clock| {
        let of = |batch| modelled.iter().find(|m| m.batch == batch);
        let (until, told, endless) = match clock.kind {
            ClockKind::Bucket { batch } => {
                let told = of(batch).map_or_else(String::new, |m| says(m, shown, when));
                (of(batch).and_then(Modelled::ends), told, "days")
            }
            ClockKind::Join { batch } => {
                let told = of(batch).map_or_else(String::new, |m| joins(m, shown, when));
                (of(batch).and_then(Modelled::joins), told, "never")
            }
            ClockKind::Warming => (clock.until, warming(run, shown), "never"),
            ClockKind::Chill => (clock.until, chilled(run, shown, when), "until it is opened"),
            _ => (clock.until, String::new(), ""),
        };
        ClockView {
            name: words::clock(clock.kind, run),
            from_ms: clock.from.as_millisecond(),
            until_ms: until.map_or(0, Timestamp::as_millisecond),
            endless,
            says: told,
            // The screen stays awake for what heats itself.
            is_bucket: matches!(clock.kind, ClockKind::Bucket { .. } | ClockKind::Join { .. }),
        }
    };
    clocks(run, visit.now).into_iter().map(view).collect()
}

/// A peak that rises by less is not told of.
const FELT_K: f64 = 0.5;

/// What is known of a bucket: its interval, its temperature, and what readings have moved.
fn says(m: &Modelled, shown: Shown, at: impl Fn(Timestamp) -> String) -> String {
    let mut all =
        vec![format!("{} by the model{}", shown.temperature(m.now), rising(m.rise_k_min, shown))];
    if let [Some(early), Some(late)] = m.clock.life_between {
        let between = (at(m.met + early.signed()), at(m.met + late.signed()));
        all.push(format!("9 in 10 between {} and {}", between.0, between.1));
    }
    let moved = (m.clock.rate - 1.0) * 100.0;
    if moved.abs() >= 1.0 {
        let side = if moved > 0.0 { "faster" } else { "slower" };
        all.push(format!("the readings make it {:.0}\u{202f}% {side}", moved.abs()));
    }
    if let Some(hotter_k) = m.waits_k.filter(|hotter_k| *hotter_k >= FELT_K) {
        all.push(format!(
            "{} more in the bucket make the layer {} hotter",
            span(WAIT),
            shown.degrees(hotter_k)
        ));
    }
    all.join("; ")
}

/// How fast it warms, where that can be felt.
fn rising(k_min: f64, shown: Shown) -> String {
    const FELT_K_MIN: f64 = 0.05;
    if k_min < FELT_K_MIN {
        return String::new();
    }
    format!(", warming {} in ten minutes", shown.degrees(k_min * 10.0))
}
