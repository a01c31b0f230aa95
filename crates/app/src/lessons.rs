//! What a cast teaches the next one like it, and the next one begun with what was accepted of it.

use fondant_record::causes::Cause;
use fondant_record::fault::FaultKind;
use fondant_record::figures::{Figure, Figures};
use fondant_record::lessons::{Change, Lesson, Taught, apply, lessons};
use fondant_store::repos::CastId;

use crate::app::App;
use crate::casts::copy;
use crate::casts::open::{Open, open};
use crate::ending::{Explained, ending};
use crate::error::AppError;
use crate::ledger::LIKE;
use crate::request::Request;

/// The lessons of a cast by its figures and its faults.
pub(crate) async fn of(
    app: &App,
    open: &Open,
    figures: &Figures,
    faults: &[Explained],
) -> Result<Vec<Lesson>, AppError> {
    let document = &open.record.document;
    let causes: Vec<(FaultKind, Cause, bool)> = faults.iter().filter_map(likeliest).collect();
    let timber = document.timbers();
    let absorbed: Vec<f64> = if timber.is_empty() {
        Vec::new()
    } else {
        let like = app.store.read().figures_of_timber(open.shop.id, &timber, LIKE).await?;
        like.iter().filter_map(|figures| figures.get(Figure::Absorbed)).collect()
    };
    Ok(lessons(&Taught { document, figures, faults: &causes, absorbed: &absorbed }))
}

/// The cause of a fault that was confirmed, or the likeliest by what is known of the cast.
fn likeliest(one: &Explained) -> Option<(FaultKind, Cause, bool)> {
    let kind = one.kept.fault.kind;
    let guessed = one.causes.first().filter(|likely| !likely.is_unknown());
    match one.kept.cause {
        Some(cause) => Some((kind, cause, true)),
        None => guessed.map(|likely| (kind, likely.cause, false)),
    }
}

/// What the maker wants of the next cast.
pub struct Wanted<'a> {
    /// Its name.
    pub name: String,
    /// Whether a lesson is accepted.
    pub accepts: &'a (dyn Fn(&Lesson) -> bool + Send + Sync),
    /// What is minded because of a cause, in words.
    pub minds: &'a (dyn Fn(Cause) -> String + Send + Sync),
}

/// Begins a cast like another with the lessons that are accepted. The same request sent twice begins
/// one.
///
/// # Errors
/// As [`copy`].
pub async fn repeat(
    app: &App,
    cast: CastId,
    wanted: Wanted<'_>,
    request: &Request,
) -> Result<CastId, AppError> {
    let open = open(app, cast).await?;
    let planned = open.worked(app).await?;
    let worked = app.happened(&planned, &open.facts(app).await?).await?;
    let taught = ending(app, &open, &worked).await?.lessons;
    let accepted: Vec<Change> = taught
        .iter()
        .filter(|lesson| (wanted.accepts)(lesson))
        .map(|lesson| lesson.change)
        .collect();
    copy(app, cast, request, |document| {
        document.name = wanted.name;
        for change in accepted {
            apply(document, change);
            if let Change::Mind(cause) = change {
                document.brief.mind(&(wanted.minds)(cause));
            }
        }
    })
    .await
}
