//! A station shown and saved; changes undone and redone.

use axum::Router;
use axum::extract::{Query, State};
use axum::response::{Redirect, Response};
use axum_htmx::HxRequest;
use fondant_app::casts::{self, Open};
use fondant_app::records::{self, CastId};
use fondant_app::{App, AppError};
use fondant_cast::{Conflict, Document, Kind};
use fondant_shapes::geometry::Point;

use super::answer::{Asking, Late, Sent, Showing, after, answer};
use crate::Web;
use crate::pages::stations::asked::Looking;
use crate::pages::stations::table::{STATIONS, find};
use crate::paths::casts::{Cast, Station, Step};
use crate::routing::Routes;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::extract::{Typed, expected};
use crate::ui::reader::Reader;
use crate::ui::units::InUnits;
use crate::words::conflicts;

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(begin).typed_get(show).typed_post(save).typed_post(step)
}

async fn begin(Cast { cast }: Cast) -> Redirect {
    Redirect::to(&Station::of(cast, STATIONS[0].slug).to_string())
}

async fn show(
    Station { cast, station }: Station,
    State(app): State<App>,
    Query(looking): Query<Looking>,
    HxRequest(is_fragment): HxRequest,
) -> Result<Response, WebError> {
    let asking = Asking { cast, station: &station, looking, is_fragment };
    answer(&app, asking, Showing::Kept).await
}

/// Why a station's form was not saved.
enum NotSaved {
    Refused { refusals: Refusals, marks: Vec<Point> },
    Other(WebError),
}

impl From<AppError> for NotSaved {
    fn from(error: AppError) -> Self {
        Self::Other(error.into())
    }
}

async fn save(
    Station { cast, station }: Station,
    State(app): State<App>,
    Query(mut looking): Query<Looking>,
    HxRequest(is_fragment): HxRequest,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    // The line is dragged without a new address of the form.
    if let Some(mm) = entries.get("cut").and_then(|text| text.parse().ok()) {
        looking.cut = Some(mm);
    }
    let asking = Asking { cast, station: &station, looking, is_fragment };
    let expected = expected(&entries)?;
    let saved = written(&app, (cast, &station), expected, &entries).await;
    match saved {
        Ok(()) => after(&app, asking).await,
        Err(NotSaved::Refused { refusals, marks }) => {
            let showing = Showing::Refused { typed: &entries, refusals: &refusals, marks: &marks };
            answer(&app, asking, showing).await
        }
        Err(NotSaved::Other(WebError::App(AppError::Stale { .. }))) => {
            answer(&app, asking, Showing::Late(Late::Form { typed: &entries, expected })).await
        }
        Err(NotSaved::Other(error)) => Err(error),
    }
}

/// The form applied to the document and saved.
async fn written(
    app: &App,
    (cast, station): (CastId, &str),
    expected: i32,
    entries: &Entries,
) -> Result<(), NotSaved> {
    let edit = |open: &Open| edited(open, station, entries);
    match casts::change(app, cast, expected, edit).await {
        Ok(_) => Ok(()),
        Err(NotSaved::Other(WebError::App(AppError::Conflicts(conflicts)))) => {
            Err(told(app, cast, (station, entries), &conflicts).await?)
        }
        Err(error) => Err(error),
    }
}

fn edited(open: &Open, station: &str, entries: &Entries) -> Result<Document, NotSaved> {
    let mut document = open.record.document.clone();
    let unknown = NotSaved::Other(WebError::NotFound("station"));
    let entry = find(document.kind(), station).ok_or(unknown)?;
    let mut reader = Reader::new(entries, open.shop.shown().system);
    (entry.apply)(&mut reader, &mut document, &open.shop);
    if reader.refusals.is_empty() {
        reader.keep_typed(&mut document.typed);
        Ok(document)
    } else {
        Err(NotSaved::Refused { refusals: reader.refusals, marks: Vec::new() })
    }
}

/// Conflicts of a document, each at its field.
async fn told(
    app: &App,
    cast: CastId,
    (station, entries): (&str, &Entries),
    all: &[Conflict],
) -> Result<NotSaved, AppError> {
    let open = casts::open(app, cast).await?;
    let (kind, shown) = (open.record.document.kind(), open.shop.shown());
    let mut refusals = Refusals::default();
    for conflict in all {
        let field = field_of(conflict, (station, kind), entries);
        refusals.add(&field, conflicts::conflict(conflict, shown));
    }
    let marks = all.iter().filter_map(Conflict::place).collect();
    Ok(NotSaved::Refused { refusals, marks })
}

/// The field at which a conflict is told; empty for the form as a whole.
fn field_of(conflict: &Conflict, (station, kind): (&str, Kind), typed: &Entries) -> String {
    let field = find(kind, station).map(|entry| (entry.field_of)(conflict, kind));
    on_page(&field.unwrap_or_default(), typed)
}

/// A conflict counts the rows of a list; their fields carry numbers of their own, since rows come
/// and go. What a row is told that comes with this form stands on no page yet: it is told for the form.
fn on_page(field: &str, typed: &Entries) -> String {
    let Some((name, index)) = field.rsplit_once('-') else { return field.to_owned() };
    let list = match name.split_once('_') {
        Some(("cav", _)) => "cav",
        Some(("ins", _)) => "ins",
        Some(("b", _)) => "board",
        _ => "",
    };
    let number = index.parse().ok().and_then(|index: usize| typed.all(list).nth(index));
    let sent = format!("{name}-{}", number.unwrap_or(index));
    if typed.get(&sent).is_some() { sent } else { String::new() }
}

async fn step(
    path: Step,
    State(app): State<App>,
    HxRequest(is_fragment): HxRequest,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let step = match path.step.as_str() {
        "undo" => records::Step::Undo,
        "redo" => records::Step::Redo,
        _ => return Err(WebError::NotFound("page")),
    };
    let address = path.to_string();
    let asking = Asking {
        cast: path.cast,
        station: &path.station,
        looking: Looking::default(),
        is_fragment,
    };
    let stepped = casts::step(&app, path.cast, expected(&entries)?, step).await;
    Sent { address, entries: &entries }.done(&app, asking, stepped).await
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_conflict_stands_at_the_row_that_it_is_about() {
        let pairs = [
            ("ins", "4"),
            ("ins", "9"),
            ("board", "0"),
            ("ins_above-4", "3 mm"),
            ("ins_above-9", "40 mm"),
            ("b_thickness-0", "30 mm"),
            ("pr_shape-1", "block"),
        ];
        let typed = Entries::new(pairs.map(|(n, v)| (n.to_owned(), v.to_owned())).to_vec());
        assert_eq!(on_page("ins_above-1", &typed), "ins_above-9");
        assert_eq!(on_page("b_thickness-0", &typed), "b_thickness-0");
        assert_eq!(on_page("pr_shape-1", &typed), "pr_shape-1");
        assert_eq!(on_page("width", &typed), "width");
        for fresh in ["ins_above-2", "pr_height-1", "b_thickness-1"] {
            assert_eq!(on_page(fresh, &typed), "", "no such field was typed: {fresh}");
        }
    }
}
