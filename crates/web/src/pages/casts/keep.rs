//! A cast renamed, copied, put away, deleted, brought back.

use axum::Router;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use fondant_app::records::Keep;
use fondant_app::repeating::{Wanted, repeat};
use fondant_app::{App, AppError, Request, casts};
use fondant_cast::Document;
use fondant_quantities::bounds::NAME_CHARACTERS;

use super::list::{Refused, refused, refused_name};
use crate::Web;
use crate::paths::casts::{Casts, CopyCast, KeepCast, RenameCast, Station};
use crate::routing::Routes;
use crate::ui::error::WebError;
use crate::ui::extract::Typed;
use crate::ui::reader::Reader;
use crate::ui::units::InUnits;
use crate::words::{causes, conflicts, lessons as words};

type Answer = Result<Response, WebError>;

pub(super) fn routes() -> Router<Web> {
    Router::new().typed_post(rename).typed_post(copy).typed_post(keep)
}

async fn rename(
    RenameCast { cast }: RenameCast,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Answer {
    let shop = app.shop().await?;
    let mut reader = Reader::new(&entries, shop.shown().system);
    let mut name = String::new();
    reader.text("name", "The name", NAME_CHARACTERS, false, &mut name);
    let sentence = reader.refusals.of("name");
    let expected = entries.number("revision").unwrap_or_default();
    let sentence = if sentence.is_empty() {
        match casts::rename(&app, cast, expected, name).await {
            Ok(_) => return Ok(Redirect::to(&Casts.to_string()).into_response()),
            Err(AppError::Stale { .. }) => {
                "It was changed elsewhere meanwhile. Look at it again, then rename it.".to_owned()
            }
            Err(AppError::Conflicts(all)) => {
                let shown = shop.shown();
                let first = all.first().map(|one| conflicts::without_drawing(one, shown));
                format!("It cannot be changed as it is: {}", first.unwrap_or_default())
            }
            Err(error) => return Err(error.into()),
        }
    } else {
        sentence
    };
    let typed = entries.get("name").unwrap_or_default().to_owned();
    let page = refused_name(&app, Refused { cast, typed, sentence }).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}

async fn copy(
    CopyCast { cast }: CopyCast,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Answer {
    // The page names what it begins; each of its casts has a copy of its own.
    let key = entries.get("request").map(|key| format!("{key}-{cast}"));
    let request = Request::keyed(key.as_deref());
    let accepted: Vec<&str> = entries.all("lesson").collect();
    let begun = if accepted.is_empty() {
        let rename = |document: &mut Document| document.name = copied(&document.name);
        casts::copy(&app, cast, &request, rename).await
    } else {
        let name = fondant_app::casts::open::open(&app, cast).await?.record.document.name;
        let wanted = Wanted {
            name: copied(&name),
            accepts: &|lesson| accepted.contains(&words::key(lesson).as_str()),
            minds: &|cause| causes::told(cause).next.to_owned(),
        };
        repeat(&app, cast, wanted, &request).await
    };
    match begun {
        Ok(copy) => Ok(Redirect::to(&Station::of(copy, "piece").to_string()).into_response()),
        Err(AppError::Conflicts(all)) => {
            let shown = app.shop().await?.shown();
            let first = all.first().map(|one| conflicts::without_drawing(one, shown));
            let sentence = format!("It cannot be copied as it is: {}", first.unwrap_or_default());
            let page = refused(&app, sentence).await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
        Err(error) => Err(error.into()),
    }
}

/// Name of a copy.
fn copied(name: &str) -> String {
    const COPY: &str = ", copy";
    let most = NAME_CHARACTERS - COPY.chars().count();
    let short: String = name.chars().take(most).collect();
    format!("{}{COPY}", short.trim_end())
}

async fn keep(
    KeepCast { cast }: KeepCast,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Answer {
    let keep = match entries.get("keep") {
        Some("open") => Keep::Open,
        Some("away") => Keep::PutAway,
        Some("deleted") => Keep::Deleted,
        _ => return Err(WebError::BadForm("where is it to be kept?".into())),
    };
    let shop = app.shop().await?;
    casts::keep(&app, &shop, cast, keep).await?;
    let to = if keep == Keep::Open { Casts.to_string() } else { format!("{Casts}?gone={cast}") };
    Ok(Redirect::to(&to).into_response())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_name_of_a_copy_has_room() {
        assert_eq!(copied("Oak top"), "Oak top, copy");
        let long = "ä".repeat(NAME_CHARACTERS);
        assert_eq!(copied(&long).chars().count(), NAME_CHARACTERS);
        assert!(copied(&long).ends_with("ä, copy"));
    }
}
