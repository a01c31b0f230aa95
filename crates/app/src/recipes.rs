//! Recipes of colours as they were mixed: the shop's latest, for a cast that is to look alike.

use fondant_bench::Run;
use fondant_bench::run::Batch;
use fondant_bench::tinting::share;
use fondant_cast::document::RecipeColour;
use fondant_quantities::Length;
use fondant_record::lessons::SAME_COLOUR;
use fondant_store::repos::{CastId, KeptRun, RowsOf};
use jiff::Timestamp;

use crate::app::App;
use crate::bench::folded;
use crate::error::AppError;
use crate::shop::Shop;

/// Runs that are looked back at, and recipes of different casts that are offered.
const RUNS: u64 = 40;
const OFFERED: usize = 6;

/// How a cast was coloured.
#[derive(Debug, Clone, PartialEq)]
pub struct Mixed {
    /// The cast.
    pub cast: CastId,
    /// Name of the cast.
    pub name: String,
    /// When it was mixed, UTC.
    pub at: Timestamp,
    /// The level that the resin reached: what one looks through.
    pub depth: Length,
    /// What was in the bucket.
    pub colours: Vec<RecipeColour>,
}

impl Mixed {
    fn is_like(&self, other: &Self) -> bool {
        let near = |(a, b): (&RecipeColour, &RecipeColour)| {
            a.name == b.name && (a.percent / b.percent - 1.0).abs() < SAME_COLOUR
        };
        self.depth == other.depth
            && self.colours.len() == other.colours.len()
            && self.colours.iter().zip(&other.colours).all(near)
    }
}

/// The latest recipes of the shop's casts, the newest first; each recipe once.
///
/// # Errors
/// [`AppError`].
pub async fn mixed(app: &App, shop: &Shop, but: CastId) -> Result<Vec<Mixed>, AppError> {
    let read = app.store.read();
    let kept = read.runs_with(shop.id, RowsOf::Colour, RUNS).await?;
    let mut found: Vec<Mixed> = Vec::new();
    for run in kept.iter().filter(|run| run.cast != but) {
        let Some(mixed) = of_run(run) else { continue };
        let is_new = found.iter().all(|one| one.cast != mixed.cast && !one.is_like(&mixed));
        if found.len() < OFFERED && is_new {
            found.push(mixed);
        }
    }
    let ids: Vec<CastId> = found.iter().map(|one| one.cast).collect();
    let names = read.cast_names(shop.id, &ids).await?;
    let named = |mut one: Mixed| {
        one.name = names.get(&one.cast)?.clone();
        Some(one)
    };
    Ok(found.into_iter().filter_map(named).collect())
}

/// Colours of the first bucket of a cast that was coloured, as they were mixed; none where it is clear.
pub(crate) fn as_mixed(runs: &[KeptRun]) -> Vec<RecipeColour> {
    // The newest run comes first.
    let first = runs.iter().rev().find_map(of_run);
    first.map(|mixed| mixed.colours).unwrap_or_default()
}

/// What the first bucket of a run that was coloured and mixed held; `None` where there is none.
fn of_run(kept: &KeptRun) -> Option<Mixed> {
    let run = folded(kept);
    // A cup of a swirl is a part of its colours.
    run.plan.cups.is_empty().then_some(())?;
    let is_mixed =
        |batch: &&Batch| batch.lost.is_none() && batch.met.is_some() && !batch.tints.is_empty();
    let batch = run.batches.iter().find(is_mixed)?;
    let (at, _) = batch.met?;
    let colours = colours(&run, batch);
    Some(Mixed { cast: kept.cast, name: String::new(), at, depth: run.plan.to, colours })
}

fn colours(run: &Run, batch: &Batch) -> Vec<RecipeColour> {
    let mut all: Vec<RecipeColour> = Vec::new();
    for tint in &batch.tints {
        if all.iter().all(|one| one.name != tint.colour) {
            let held = share(batch.tint_of(&tint.colour), batch.mass(&run.plan));
            all.push(RecipeColour::of_all(&tint.colour, held * 100.0));
        }
    }
    all
}
