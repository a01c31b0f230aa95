//! A cast begun like another, with the lessons that are accepted.

use fondant_record::causes::Cause;
use fondant_record::lessons::{Change, Lesson, apply};
use fondant_store::repos::CastId;

use crate::app::App;
use crate::casts::copy;
use crate::casts::open::open;
use crate::ending::ending;
use crate::error::AppError;
use crate::request::Request;

/// What the maker wants of the next cast.
pub struct Wanted<'a> {
    /// Name of the new cast.
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
        .map(|lesson| lesson.change.clone())
        .collect();
    copy(app, cast, request, |document| {
        document.name = wanted.name;
        for change in accepted {
            if let Change::Mind(cause) = change {
                document.brief.mind(&(wanted.minds)(cause));
            }
            apply(document, change);
        }
    })
    .await
}
