//! The list of casts: by state, by word, page by page.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State};
use fondant_app::records::{Asked, CastId, CastState, Counts, Cursor, Keep, Listed};
use fondant_app::{App, Request, casts};
use jiff::Timestamp;
use serde::Deserialize;
use url::form_urlencoded;

use super::row::{ListRow, row, state};
use crate::paths::casts::{Casts, KeepCast};
use crate::ui::error::WebError;
use crate::ui::page::{Follows, Page, Place, Script};

#[derive(Template, WebTemplate)]
#[template(path = "pages/casts/list.html")]
pub(super) struct ListPage {
    page: Page,
    workshop: String,
    /// Nothing was ever begun here.
    is_empty: bool,
    tabs: Vec<Tab>,
    show: &'static str,
    words: String,
    rows: Vec<ListRow>,
    /// What is said where no cast is listed.
    none: String,
    is_deleted: bool,
    is_put_away: bool,
    /// Where the list goes on; empty where this is its end.
    next: String,
    /// Where the list begins; empty where this is its beginning.
    newest: String,
    gone: Option<Gone>,
    /// Why a file is not a cast.
    refusal: String,
    /// Names the next cast that is begun from this page, so that it is once.
    request: String,
}

/// One of the lists.
struct Tab {
    href: String,
    name: &'static str,
    count: u64,
    is_here: bool,
}

/// A cast that has just been put away or deleted.
struct Gone {
    sentence: String,
    back: KeepCast,
}

/// What is asked of the list.
#[derive(Debug, Default, Deserialize)]
pub(super) struct Asking {
    #[serde(default)]
    show: String,
    #[serde(default)]
    words: String,
    /// Time of the last change of the last cast of the page before, microseconds since 1970.
    changed: Option<i64>,
    /// Id of the last cast of the page before, where its time alone does not tell.
    cast: Option<i64>,
    /// The cast that was just put away or deleted.
    gone: Option<i64>,
}

/// A new name that was refused.
pub(super) struct Refused {
    pub(super) cast: CastId,
    pub(super) typed: String,
    pub(super) sentence: String,
}

const LISTS: [(Listed, &str, &str); 7] = [
    (Listed::Open, "", "All"),
    (Listed::Of(CastState::Planning), "planning", "Planning"),
    (Listed::Of(CastState::Pouring), "pouring", "Pouring"),
    (Listed::Of(CastState::Curing), "curing", "Curing"),
    (Listed::Of(CastState::Done), "done", "Done"),
    (Listed::PutAway, "away", "Put away"),
    (Listed::Deleted, "deleted", "Deleted"),
];

impl Asking {
    fn listed(&self) -> Listed {
        LISTS.iter().find(|(_, slug, _)| *slug == self.show).map_or(Listed::Open, |(l, ..)| *l)
    }

    fn cursor(&self) -> Option<Cursor> {
        let updated_at = Timestamp::from_microsecond(self.changed?).ok()?;
        Some(Cursor { updated_at, id: CastId(self.cast?) })
    }
}

pub(super) async fn list(
    _: Casts,
    State(app): State<App>,
    Query(asking): Query<Asking>,
) -> Result<ListPage, WebError> {
    page(&app, &asking).await
}

/// The newest casts, with a sentence at the file that was brought in.
pub(super) async fn refused(app: &App, sentence: String) -> Result<ListPage, WebError> {
    Ok(ListPage { refusal: sentence, ..page(app, &Asking::default()).await? })
}

/// The newest casts, with what was typed for one of them.
pub(super) async fn refused_name(app: &App, refused: Refused) -> Result<ListPage, WebError> {
    let mut page = page(app, &Asking::default()).await?;
    let Refused { cast, typed, sentence } = refused;
    match page.rows.iter_mut().find(|row| row.number == cast.0) {
        Some(row) => row.refused = Some((typed, sentence)),
        None => page.refusal = sentence,
    }
    Ok(page)
}

async fn page(app: &App, asking: &Asking) -> Result<ListPage, WebError> {
    let shop = app.shop().await?;
    let (listed, words) = (asking.listed(), asking.words.trim().to_owned());
    let asked = Asked { listed, words: words.clone(), after: asking.cursor() };
    let found = casts::list(app, &shop, &asked).await?;
    let counts = casts::counts(app, &shop).await?;
    let gone = match asking.gone {
        Some(number) => {
            let kept = casts::kept(app, &shop, CastId(number)).await?;
            kept.and_then(|(name, keep)| gone(CastId(number), &name, keep))
        }
        None => None,
    };
    let slug = slug(listed);
    let from = |after: Option<Cursor>| address(slug, &words, after);
    Ok(ListPage {
        page: Page::new("Casts", Place::Casts).following(Follows::Casts).with(&[Script::Htmx]),
        workshop: shop.workshop.settings.name.clone(),
        is_empty: counts == Counts::default(),
        tabs: tabs(listed, &words, &counts),
        show: slug,
        none: none(listed, &words),
        rows: found.casts.iter().map(|cast| row(cast, &shop)).collect(),
        is_deleted: listed == Listed::Deleted,
        is_put_away: listed == Listed::PutAway,
        next: found.next.map(|next| from(Some(next))).unwrap_or_default(),
        newest: asked.after.map(|_| from(None)).unwrap_or_default(),
        words,
        gone,
        refusal: String::new(),
        request: Request::new_key()?,
    })
}

fn slug(listed: Listed) -> &'static str {
    LISTS.iter().find(|(one, ..)| *one == listed).map_or("", |(_, slug, _)| slug)
}

/// Address of a list.
fn address(show: &str, words: &str, after: Option<Cursor>) -> String {
    let mut query = form_urlencoded::Serializer::new(String::new());
    for (name, value) in [("show", show), ("words", words)] {
        if !value.is_empty() {
            query.append_pair(name, value);
        }
    }
    if let Some(cursor) = after {
        query.append_pair("changed", &cursor.updated_at.as_microsecond().to_string());
        query.append_pair("cast", &cursor.id.to_string());
    }
    let query = query.finish();
    if query.is_empty() { Casts.to_string() } else { format!("{Casts}?{query}") }
}

/// The lists that have something in them, and the one that is shown.
fn tabs(here: Listed, words: &str, counts: &Counts) -> Vec<Tab> {
    let count = |listed| match listed {
        Listed::Open => counts.of.iter().sum(),
        Listed::Of(state) => {
            counts.of[CastState::ALL.iter().position(|s| *s == state).unwrap_or(0)]
        }
        Listed::PutAway => counts.put_away,
        Listed::Deleted => counts.deleted,
    };
    LISTS
        .into_iter()
        .map(|(listed, slug, name)| Tab {
            href: address(slug, words, None),
            name,
            count: count(listed),
            is_here: listed == here,
        })
        .filter(|tab| tab.count > 0 || tab.is_here || tab.name == "All")
        .collect()
}

fn none(listed: Listed, words: &str) -> String {
    let where_ = match listed {
        Listed::Open => "",
        Listed::Of(of) => &format!(" that is {}", state(of)),
        Listed::PutAway => " that is put away",
        Listed::Deleted => " that can be brought back",
    };
    if words.is_empty() {
        format!("There is no cast{where_}.")
    } else {
        format!("No cast{where_} has “{words}” in its name, resin or finish. Try fewer letters.")
    }
}

fn gone(cast: CastId, name: &str, keep: Keep) -> Option<Gone> {
    let sentence = match keep {
        Keep::Open => return None,
        Keep::PutAway => {
            format!("“{name}” is put away: its pours have left Today and the calendar.")
        }
        Keep::Deleted => format!(
            "“{name}” is deleted. It stands under Deleted for 30 days, then it is gone with its \
             photos and all that was written down."
        ),
    };
    Some(Gone { sentence, back: KeepCast { cast } })
}
