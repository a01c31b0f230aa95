//! A new cast: its kind, then a few questions.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use fondant_app::{App, AppError, Request, Shop, casts};
use fondant_cast::document::AirFrom;
use fondant_cast::{Contents, Document, Kind, measure};
use fondant_quantities::bounds;
use fondant_quantities::units::UnitSystem;
use jiff::{SignedDuration, Timestamp};
use serde::Deserialize;

use crate::pages::stations::piece::{begin_fields, read_begin, usual_piece};
use crate::pages::workspace::mini;
use crate::paths::casts::{Casts, NewCast, Station};
use crate::svg::Markup;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::extract::Typed;
use crate::ui::field::{Field, Fields};
use crate::ui::page::{Page, Place};
use crate::ui::reader::Reader;
use crate::ui::units::{InUnits, Shown};
use crate::words::{conflicts, kinds};

/// What a beginning asks for.
#[derive(Debug, Deserialize)]
pub(super) struct Beginning {
    kind: Option<String>,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/casts/kinds.html")]
struct KindsPage {
    page: Page,
    kinds: Vec<KindRow>,
}

struct KindRow {
    href: String,
    name: &'static str,
    sentence: &'static str,
    mini: Markup,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/casts/new.html")]
struct NewPage {
    page: Page,
    /// Names this beginning, so that it is begun once.
    request: String,
    kind: &'static str,
    sentence: &'static str,
    /// Lengths as they can be typed.
    lengths: &'static str,
    act: String,
    refusal: String,
    name: Field,
    fields: Vec<Field>,
}

impl NewPage {
    fn new(fields: &Fields<'_>, kind: Kind, request: String) -> Self {
        Self {
            page: Page::new(kinds::name(kind), Place::Casts),
            request,
            kind: kind.slug(),
            sentence: kinds::sentence(kind),
            lengths: match fields.shown.system {
                UnitSystem::Metric => "1500, 1.5 m, 59 1/16 in",
                UnitSystem::UsCustomary => "59 1/16, 4 ft 11 in, 1.5 m",
            },
            act: format!("On to the {}", kinds::contents(kind).to_lowercase()),
            refusal: fields.refusals.of(""),
            name: fields
                .text("name", "What do you call it?", "")
                .hint("A customer, a place, a board: what you will look for later."),
            fields: begin_fields(fields, kind),
        }
    }
}

pub(super) async fn new(
    _: NewCast,
    State(app): State<App>,
    Query(beginning): Query<Beginning>,
) -> Result<Response, WebError> {
    let shown = app.shop().await?.shown();
    let Some(slug) = beginning.kind else {
        return Ok(kinds_page(&app, shown).into_response());
    };
    let kind = Kind::from_slug(&slug).ok_or(WebError::NotFound("kind of cast"))?;
    let none = Refusals::none();
    let fields = Fields::of(shown, None, &none);
    Ok(NewPage::new(&fields, kind, Request::new_key()?).into_response())
}

fn kinds_page(app: &App, shown: Shown) -> KindsPage {
    let begin = next_hour(app.now());
    let row = |kind: Kind| {
        let document = Document::begin(kind, "x".into(), usual_piece(kind, shown.system), begin);
        KindRow {
            href: format!("{NewCast}?kind={}", kind.slug()),
            name: kinds::name(kind),
            sentence: kinds::sentence(kind),
            mini: measure(&document).map(|measured| mini(&measured, shown)).unwrap_or_default(),
        }
    };
    KindsPage {
        page: Page::new("A new cast", Place::Casts),
        kinds: Kind::ALL.into_iter().map(row).collect(),
    }
}

pub(super) async fn create(
    _: Casts,
    State(app): State<App>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let shop = app.shop().await?;
    let kind = entries.get("kind").map_or(Some(Kind::River), Kind::from_slug);
    let kind = kind.ok_or(WebError::NotFound("kind of cast"))?;
    let request = entries.get("request");
    let begun = match read(&entries, kind, &shop, app.now()) {
        Ok(document) => {
            match casts::create(&app, &shop, &document, &Request::keyed(request)).await {
                Err(AppError::Conflicts(all)) => {
                    let mut refusals = Refusals::none();
                    for conflict in &all {
                        refusals.add("", conflicts::without_drawing(conflict, shop.shown()));
                    }
                    Err(refusals)
                }
                created => Ok(created?),
            }
        }
        Err(refusals) => Err(refusals),
    };
    match begun {
        Ok(cast) => Ok(Redirect::to(&Station::of(cast, "timber").to_string()).into_response()),
        Err(refusals) => {
            let shown = shop.shown();
            let fields = Fields::of(shown, Some(&entries), &refusals);
            let page = NewPage::new(&fields, kind, request.unwrap_or_default().to_owned());
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

fn read(entries: &Entries, kind: Kind, shop: &Shop, now: Timestamp) -> Result<Document, Refusals> {
    let mut reader = Reader::new(entries, shop.shown().system);
    let mut name = String::new();
    reader.text("name", "The name", bounds::NAME_CHARACTERS, false, &mut name);
    let (piece, count) = read_begin(&mut reader, kind);
    if !reader.refusals.is_empty() {
        return Err(reader.refusals);
    }
    let mut document = Document::begin(kind, name, piece, next_hour(now));
    match &mut document.contents {
        Contents::Tubes(tubes) => tubes.count = count,
        Contents::Moulds(moulds) => moulds.cavities.iter_mut().for_each(|row| row.count = count),
        _ => {}
    }
    if shop.shown().system == UnitSystem::UsCustomary {
        document.round_in_inches();
    }
    document.resin = shop.shelf().begins_with(&document.resin);
    document.conditions.air_from = AirFrom::Shop;
    reader.keep_typed(&mut document.typed);
    // Nothing is built yet.
    document.pours.lead = None;
    Ok(document)
}

/// The next full hour: nobody pours in the minute in which a cast is begun.
fn next_hour(now: Timestamp) -> Timestamp {
    let past = now.as_second().rem_euclid(3600);
    now + SignedDuration::from_secs(3600 - past)
        - SignedDuration::from_nanos(now.subsec_nanosecond().into())
}
