//! The run that is in hand in the demo: coasters, which need no schedule, with the ready list looked at
//! and the hardener in the bucket.

use fondant_app::records::{CastId, NewRow, RunId};
use fondant_app::{App, AppError, bench, casts};
use fondant_bench::Happening;
use fondant_bench::weighing::{Pair, Part};
use jiff::SignedDuration;

use super::COASTERS;

/// Begins it by the use cases of the bench.
pub(crate) async fn begin(app: &App) -> Result<(), AppError> {
    // Casts are numbered as they are listed.
    let cast = CastId(COASTERS as i64 + 1);
    let open = casts::open(app, cast).await?;
    let run = bench::begin(app, cast, None).await?;
    let Some(kept) = bench::runs(app, &open).await?.into_iter().find(|kept| kept.id == run) else {
        return Ok(());
    };
    let ready = kept.plan.ready.iter().map(|item| Happening::Ready { item: *item });
    // 4 g over: the other part follows it.
    let pair = Pair::of(bench::folded(&kept).next_mass(1), &kept.plan.resin);
    let over = fondant_quantities::Mass::from_kg(0.004);
    let weighed = Happening::Weighed { batch: 1, part: Part::B, mass: pair.b + over };
    for (place, what) in (0..).zip(ready.chain([weighed])) {
        write(app, (cast, run), place, what).await?;
    }
    Ok(())
}

async fn write(
    app: &App,
    ids: (CastId, RunId),
    place: i64,
    what: Happening,
) -> Result<(), AppError> {
    let at = app.now() - SignedDuration::from_mins(12) + SignedDuration::from_secs(40 * place);
    let row = NewRow { key: format!("demo-row-{place}"), at, by: "Bench tablet".into(), what };
    bench::write_down(app, ids, row).await
}
