//! The workspace with what was asked for, what was refused, or the choice where others have changed
//! the cast meanwhile.

use askama::Template;
use askama::filters::HtmlSafe;
use askama::filters::{Html as HtmlText, escape};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use fondant_app::casts::{self, Changed};
use fondant_app::records::CastId;
use fondant_app::{App, AppError};
use fondant_shapes::geometry::Point;

use super::rail::{Tick, ticks};
use super::strip::{Strip, StripInput, strip};
use crate::pages::stations::asked::{Beside, Looking, Visit};
use crate::pages::stations::station::Entry;
use crate::pages::stations::table::find;
use crate::paths::casts::{BeginRun, BookForm, Station, Step};
use crate::svg::Markup;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::page::{Page, Place, Script};
use crate::ui::units::InUnits;
use crate::words::guide::guide;
use crate::words::{conflicts, trouble};

/// A station of a cast, and how it is asked for.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Asking<'a> {
    pub(crate) cast: CastId,
    /// Slug of the station in addresses.
    pub(crate) station: &'a str,
    pub(crate) looking: Looking,
    /// The workspace alone, not its page.
    pub(crate) is_fragment: bool,
}

/// What is shown beside what is kept.
#[derive(Debug, Clone, Copy)]
pub(crate) enum Showing<'a> {
    /// The edit was saved and nothing else is to be shown.
    Kept,
    /// What was typed and why it was refused.
    Refused { typed: &'a Entries, refusals: &'a Refusals, marks: &'a [Point] },
    /// A change that came too late, and the choice.
    Late(Late<'a>),
}

/// An edit based on an outdated revision (HTTP 409).
#[derive(Debug, Clone, Copy)]
pub(crate) enum Late<'a> {
    /// Of the station's form.
    Form { typed: &'a Entries, expected: i32 },
    /// An act beside it.
    Act(&'a Sent<'a>),
}

/// An act on a cast as it was sent.
#[derive(Debug)]
pub(crate) struct Sent<'a> {
    pub(crate) address: String,
    pub(crate) entries: &'a Entries,
}

/// The choice where a change came too late.
struct Choice {
    newer: i32,
    /// The address and the entries of an act; `None` for the station's form.
    act: Option<(String, Vec<(String, String)>)>,
}

#[derive(Template)]
#[template(path = "pages/workspace/page.html")]
struct WorkspacePage {
    page: Page,
    workspace: WorkspaceFragment,
}

#[derive(Template)]
#[template(path = "pages/workspace/workspace.html")]
struct WorkspaceFragment {
    w: Workspace,
}

/// Its template escapes what it holds.
impl HtmlSafe for WorkspaceFragment {}

/// Everything on the page but its frame.
struct Workspace {
    cast: CastId,
    name: String,
    links: Links,
    /// The revision that this page's forms change.
    revision: i32,
    choice: Option<Choice>,
    /// What was refused at fields that are not on the page.
    unseen: Vec<String>,
    can_undo: bool,
    can_redo: bool,
    ticks: Vec<Tick>,
    strip: Strip,
    /// What this station asks, on a workshop's first cast.
    guide: &'static str,
    /// The station is one form.
    has_form: bool,
    body: Markup,
}

/// Addresses of the station and of what is done at it.
struct Links {
    station: Station,
    /// The station, looked at as now.
    form: String,
    undo: Step,
    redo: Step,
    /// Where the shop's forms are booked, at the station of the form.
    book: Option<BookForm>,
    /// Where runs are begun, at the bench.
    begin: Option<BeginRun>,
}

/// A station after a change; as a page by way of a redirect, so that a reload does not send the
/// form again.
pub(crate) async fn after(app: &App, asking: Asking<'_>) -> Result<Response, WebError> {
    if asking.is_fragment {
        return answer(app, asking, Showing::Kept).await;
    }
    let address = Station::of(asking.cast, asking.station);
    Ok(Redirect::to(&format!("{address}{}", asking.looking.query())).into_response())
}

impl Sent<'_> {
    /// The answer to the act: the station as it is now, why it was refused, or the choice.
    pub(crate) async fn done(
        &self,
        app: &App,
        asking: Asking<'_>,
        outcome: Result<Changed, AppError>,
    ) -> Result<Response, WebError> {
        let error = match outcome {
            Ok(_) => return after(app, asking).await,
            Err(AppError::Stale { .. }) => {
                return answer(app, asking, Showing::Late(Late::Act(self))).await;
            }
            Err(error) => error,
        };
        let shown = casts::open(app, asking.cast).await?.shop.shown();
        let sentence = match &error {
            AppError::Pours(why) => trouble::pours(why, shown),
            AppError::Conflicts(all) => {
                let all: Vec<_> = all.iter().map(|c| conflicts::conflict(c, shown)).collect();
                all.join(" ")
            }
            _ => return Err(error.into()),
        };
        let refusals = Refusals::at("", sentence);
        let showing = Showing::Refused { typed: self.entries, refusals: &refusals, marks: &[] };
        answer(app, asking, showing).await
    }

    /// What is sent again where the maker wants it on the newer revision.
    fn again(&self) -> Vec<(String, String)> {
        let is_kept = |(name, _): &&(String, String)| name != "revision" && name != "over";
        self.entries.pairs().iter().filter(is_kept).cloned().collect()
    }
}

/// The workspace.
pub(crate) async fn answer(
    app: &App,
    asking: Asking<'_>,
    showing: Showing<'_>,
) -> Result<Response, WebError> {
    let visit = Visit::of(app, asking.cast, asking.looking).await?;
    let kind = visit.document.kind();
    let entry = find(kind, asking.station).ok_or(WebError::NotFound("station"))?;
    let body = (entry.show)(app, &visit, showing.beside()).await?;
    let workspace = WorkspaceFragment { w: workspace(&visit, entry, body, showing) };
    let status = match showing {
        Showing::Kept => StatusCode::OK,
        Showing::Refused { .. } => StatusCode::UNPROCESSABLE_ENTITY,
        Showing::Late(_) => StatusCode::CONFLICT,
    };
    let html = if asking.is_fragment {
        workspace.render()?
    } else {
        let title = format!("{}, {}", workspace.w.name, (entry.name)(kind));
        let page = Page::new(title, Place::Casts).with(&[Script::Htmx, WORKSPACE]);
        WorkspacePage { page: page.with(entry.scripts), workspace }.render()?
    };
    Ok((status, Html(html)).into_response())
}

/// The script of every station.
const WORKSPACE: Script = Script::Module("/workspace.js");

static NOTHING_REFUSED: Refusals = Refusals::none();

impl<'a> Showing<'a> {
    fn beside(self) -> Beside<'a> {
        match self {
            Self::Refused { typed, refusals, marks } => {
                Beside { typed: Some(typed), refusals, marks }
            }
            Self::Late(Late::Form { typed, .. }) => {
                Beside { typed: Some(typed), refusals: &NOTHING_REFUSED, marks: &[] }
            }
            Self::Kept | Self::Late(Late::Act(_)) => {
                Beside { typed: None, refusals: &NOTHING_REFUSED, marks: &[] }
            }
        }
    }

    /// Why the form was refused, where the page has no place for it.
    fn unseen(self, body: &Markup) -> Vec<String> {
        let Self::Refused { refusals, .. } = self else { return Vec::new() };
        let is_seen = |sentence: &&str| {
            let written = escape(sentence, HtmlText).map(|escaped| escaped.to_string());
            written.is_ok_and(|written| body.as_str().contains(&written))
        };
        refusals.all().filter(|sentence| !is_seen(sentence)).map(str::to_owned).collect()
    }

    fn choice(self, newer: i32) -> Option<Choice> {
        match self {
            Self::Kept | Self::Refused { .. } => None,
            Self::Late(Late::Form { .. }) => Some(Choice { newer, act: None }),
            Self::Late(Late::Act(sent)) => {
                Some(Choice { newer, act: Some((sent.address.clone(), sent.again())) })
            }
        }
    }
}

fn workspace(visit: &Visit, entry: &Entry, body: Markup, showing: Showing<'_>) -> Workspace {
    let slug = entry.slug;
    let (record, shop) = (&visit.open.record, &visit.open.shop);
    let (cast, evaluation) = (record.id, &visit.worked.evaluation);
    let newest = record.revision;
    let revision = match showing {
        Showing::Late(Late::Form { expected, .. }) => expected,
        _ => newest,
    };
    let station = Station::of(cast, slug);
    let step = |step: &str| Step { cast, station: slug.to_owned(), step: step.to_owned() };
    Workspace {
        cast,
        name: record.document.name.clone(),
        links: Links {
            form: format!("{station}{}", visit.looking.query()),
            station,
            undo: step("undo"),
            redo: step("redo"),
            book: (slug == "form").then_some(BookForm { cast }),
            begin: (slug == "bench").then_some(BeginRun { cast }),
        },
        revision,
        choice: showing.choice(newest),
        unseen: showing.unseen(&body),
        can_undo: record.can_undo && revision == newest,
        can_redo: record.can_redo && revision == newest,
        ticks: ticks(cast, slug, (&record.document, evaluation)),
        strip: strip(StripInput {
            cast,
            document: &record.document,
            evaluation,
            zone: shop.hours().zone(),
            now: visit.now,
            has_ended: record.has_ended,
            poured: casts::open::poured(&visit.worked, &visit.facts),
            misfits: casts::open::misfits(&visit.worked, &visit.facts),
            shown: shop.shown(),
        }),
        guide: if record.is_only { guide(slug) } else { "" },
        has_form: entry.has_form,
        body,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::METRIC;
    use crate::ui::field::Fields;

    /// A refusal at a field that the page does not have was never read by anybody.
    #[test]
    fn what_is_refused_where_the_page_has_no_place_for_it_is_told_above_it() {
        let mut refusals = Refusals::at("depth", "“deep” is 'no' depth & no <length>.");
        refusals.add("ins_above-3", "It stands above the resin.");
        let typed = Entries::new(Vec::new());
        let field = Fields::of(METRIC, Some(&typed), &refusals).text("depth", "Depth", "");
        let body = Markup::of(&field).unwrap();
        let showing = Showing::Refused { typed: &typed, refusals: &refusals, marks: &[] };
        assert_eq!(showing.unseen(&body), ["It stands above the resin."]);
        assert!(Showing::Kept.unseen(&body).is_empty());
    }
}
