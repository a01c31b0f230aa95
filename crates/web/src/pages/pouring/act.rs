//! Acts on pour times, and how they are answered.

use axum::response::Response;
use axum_extra::routing::TypedPath;
use fondant_app::casts::Changed;
use fondant_app::records::CastId;
use fondant_app::{App, AppError};

use crate::pages::stations::asked::Looking;
use crate::pages::workspace::answer::{Asking, Sent};
use crate::ui::entries::Entries;
use crate::ui::error::WebError;

/// The station at which all of this is done.
pub(super) fn asking(cast: CastId, is_fragment: bool) -> Asking<'static> {
    Asking { cast, station: "pours", looking: Looking::default(), is_fragment }
}

/// The answer to an act.
pub(super) async fn done(
    app: &App,
    path: &(impl TypedPath + Sync),
    (asking, entries): (Asking<'_>, &Entries),
    outcome: Result<Changed, AppError>,
) -> Result<Response, WebError> {
    Sent { address: path.to_string(), entries }.done(app, asking, outcome).await
}

/// A whole number among what was sent.
pub(super) fn number<T: std::str::FromStr>(entries: &Entries, name: &str) -> Result<T, WebError> {
    let text = entries.get(name).unwrap_or_default();
    text.parse().map_err(|_| WebError::BadForm(format!("“{text}” is not a valid {name}")))
}
