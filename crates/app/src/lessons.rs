//! What a cast teaches the next one like it, by its figures and by the shop's casts of its timber.

use fondant_record::causes::Cause;
use fondant_record::fault::FaultKind;
use fondant_record::figures::{Figure, Figures};
use fondant_record::lessons::{Lesson, Taught, lessons};

use crate::app::App;
use crate::casts::open::Open;
use crate::error::AppError;
use crate::ledger::LIKE;
use crate::recipes::as_mixed;

/// The lessons of a cast by its figures and its faults.
pub(crate) async fn of(
    app: &App,
    open: &Open,
    figures: &Figures,
    causes: &[(FaultKind, Cause, bool)],
) -> Result<Vec<Lesson>, AppError> {
    let document = &open.record.document;
    let timber = document.timbers();
    let absorbed: Vec<f64> = if timber.is_empty() {
        Vec::new()
    } else {
        let like = app.store.read().figures_of_timber(open.shop.id, &timber, LIKE).await?;
        like.iter().filter_map(|figures| figures.get(Figure::Absorbed)).collect()
    };
    let runs = app.store.read().runs(open.shop.id, open.record.id).await?;
    let coloured = as_mixed(&runs);
    let taught =
        Taught { document, figures, faults: causes, coloured: &coloured, absorbed: &absorbed };
    Ok(lessons(&taught))
}
