//! The list of casts, page by page.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State};
use fondant_app::records::{CastId, CastSummary, Cursor};
use fondant_app::{App, Request, Shop, casts};
use fondant_cast::{Document, measure};
use jiff::Timestamp;
use serde::Deserialize;

use crate::pages::workspace::mini;
use crate::paths::casts::{Cast, Casts};
use crate::svg::Markup;
use crate::ui::error::WebError;
use crate::ui::page::{Follows, Page, Place};
use crate::ui::units::{InUnits, Shown};
use crate::words::{kinds, resin};

#[derive(Template, WebTemplate)]
#[template(path = "pages/casts/list.html")]
pub(super) struct ListPage {
    page: Page,
    workshop: String,
    rows: Vec<ListRow>,
    /// Where the list goes on; empty where this is its end.
    next: String,
    is_first: bool,
    /// Why a file is not a cast.
    refusal: String,
    /// Names the next cast that is brought in, so that it is once.
    request: String,
}

/// One cast in the list.
struct ListRow {
    href: Cast,
    mini: Markup,
    name: String,
    kind: &'static str,
    size: String,
    volume: String,
    resin: String,
    changed: String,
    /// What is kept of it cannot be read.
    is_unreadable: bool,
}

/// Where a page of the list begins: after this cast.
#[derive(Debug, Default, Deserialize)]
pub(super) struct After {
    /// When it was changed, microseconds since 1970.
    changed: Option<i64>,
    cast: Option<i64>,
}

impl After {
    fn cursor(&self) -> Option<Cursor> {
        let updated_at = Timestamp::from_microsecond(self.changed?).ok()?;
        Some(Cursor { updated_at, id: CastId(self.cast?) })
    }
}

pub(super) async fn list(
    _: Casts,
    State(app): State<App>,
    Query(after): Query<After>,
) -> Result<ListPage, WebError> {
    page(&app, after.cursor(), String::new()).await
}

/// The newest casts, with a sentence at the file that was brought in.
pub(super) async fn refused(app: &App, sentence: String) -> Result<ListPage, WebError> {
    page(app, None, sentence).await
}

async fn page(app: &App, after: Option<Cursor>, refusal: String) -> Result<ListPage, WebError> {
    let shop = app.shop().await?;
    let listed = casts::list(app, &shop, after).await?;
    let next = |cursor: Cursor| {
        let changed = cursor.updated_at.as_microsecond();
        format!("{Casts}?changed={changed}&cast={}", cursor.id)
    };
    Ok(ListPage {
        page: Page::new("Casts", Place::Casts).following(Follows::Casts),
        workshop: shop.workshop.settings.name.clone(),
        rows: listed.casts.iter().map(|cast| row(cast, &shop)).collect(),
        next: listed.next.map(next).unwrap_or_default(),
        is_first: after.is_none(),
        refusal,
        request: Request::new_key()?,
    })
}

fn row(cast: &CastSummary, shop: &Shop) -> ListRow {
    let shown = shop.shown();
    let document = cast.document.as_ref();
    let measured = document.and_then(|document| measure(document).ok());
    let none = || "–".to_owned();
    ListRow {
        href: Cast { cast: cast.id },
        mini: measured.as_ref().map_or_else(Markup::default, |measured| mini(measured, shown)),
        name: cast.name.clone(),
        kind: document.map_or("", |document| kinds::name(document.kind())),
        size: document.map_or_else(none, |document| size(document, shown)),
        volume: measured.map_or_else(none, |measured| shown.volume(measured.sizing.total)),
        resin: document.map_or_else(none, |document| match shop.shelf().find(&document.resin) {
            Ok(resin) => resin.name.clone(),
            Err(_) => resin::unknown(&document.resin.0),
        }),
        changed: shown.date_and_time(cast.updated_at, shop.hours().zone()),
        is_unreadable: document.is_none(),
    }
}

fn size(document: &Document, shown: Shown) -> String {
    let piece = &document.piece;
    if let Some((count, hollow, _)) = document.contents.moulding() {
        let across = shown.length_figure(hollow.mouth().0);
        return format!("{count} × {across} across, {} deep", shown.length(hollow.depth()));
    }
    format!(
        "{} × {} × {}",
        shown.length_figure(piece.length),
        shown.length_figure(piece.width),
        shown.length(piece.thickness)
    )
}
