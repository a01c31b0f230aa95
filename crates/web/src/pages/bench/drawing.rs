//! The form as it fills: each bucket's share of the layer, to scale in its depth.

use fondant_bench::run::{Batch, Run};
use fondant_quantities::{Length, Volume};
use fondant_shapes::volume::Fill;

use crate::svg::{Frame, Markup, Svg};
use crate::ui::units::Shown;

/// Tallest layer, px.
const TALL_PX: f64 = 190.0;
/// Rounds of halving until a level is found: a millionth of a form's depth.
const ROUNDS: usize = 24;

/// Draws the layer as far as it is filled.
pub(super) fn draw(run: &Run, fill: &Fill, shown: Shown, frame: Frame) -> Markup {
    let (left, right) = (70.0, frame.width - 12.0);
    let (top, floor) = (10.0, 10.0 + TALL_PX);
    let mut svg = Svg::new(
        frame.class,
        frame.width,
        floor + 14.0,
        &format!("The layer, filled to {}", shown.length(level(run, fill))),
    );
    let (from, to) = (run.plan.from, run.plan.to);
    let depth = (to - from).mm().max(1e-6);
    let y = |level: Length| floor - (level - from).mm().clamp(0.0, depth) / depth * TALL_PX;
    let mut below = from;
    for (place, batch) in run.batches.iter().filter(|batch| batch.poured.is_some()).enumerate() {
        let until = batch.number;
        let above = level_of(run, fill, |other| other.number <= until);
        let class = if place % 2 == 0 { "resin" } else { "resin2" };
        svg.rect(class, left, y(above), right - left, y(below) - y(above));
        if y(below) - y(above) > 16.0 {
            svg.text("fig", left + 12.0, 0.5 * (y(above) + y(below)) + 5.0, &until.to_string());
        }
        below = above;
    }
    svg.line("wall", left, top, left, floor);
    svg.line("wall", right, top, right, floor);
    svg.line("wall", left, floor, right, floor);
    svg.line("ink-dash", left, y(to), right, y(to));
    svg.dimension_y(left - 14.0, y(to), floor, &shown.length(to - from));
    if below > from && (y(to) - y(below)).abs() > 18.0 {
        svg.text("fig mid", 0.5 * (left + right), y(below) - 7.0, &shown.length(below - from));
    }
    svg.finish()
}

/// The level that has been reached.
pub(super) fn level(run: &Run, fill: &Fill) -> Length {
    level_of(run, fill, |_| true)
}

/// The level that some of the batches reach: the inverse of what the form holds up to a level. What
/// soaks in and stays in buckets is in the mixed mass and not in the form.
fn level_of(run: &Run, fill: &Fill, counts: impl Fn(&Batch) -> bool) -> Length {
    let plan = &run.plan;
    let poured: f64 = run
        .batches
        .iter()
        .filter(|batch| counts(batch))
        .filter_map(|batch| batch.poured.map(|(_, left)| (batch.mass(plan) - left).kg()))
        .sum();
    let mixed_kg = plan.mass().kg().max(1e-9);
    let share = (poured / mixed_kg).clamp(0.0, 1.0);
    let wanted = plan.in_form * share;
    let room = |level: Length| -> Volume { fill.volume_between(plan.from, level) };
    let whole = room(plan.to);
    // A coat or a brushed layer has no room of its own: it is filled as its share says.
    if whole <= Volume::ZERO {
        return plan.from + (plan.to - plan.from) * share;
    }
    let wanted = wanted.min(whole);
    let (mut low, mut high) = (plan.from, plan.to);
    for _ in 0..ROUNDS {
        let middle = (low + high) / 2.0;
        if room(middle) < wanted { low = middle } else { high = middle }
    }
    high
}
