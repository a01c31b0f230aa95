//! Forms and moulds that the shop has.

use askama::Template;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use fondant_quantities::{Length, bounds};
use fondant_shapes::form::owned::{Condition, OwnedForm, OwnedKind};
use fondant_store::StoreError;
use fondant_store::repos::{CastId, FormId, FormRecord};

use super::extract::Typed;
use crate::entries::{Entries, Reader, Refusals};
use crate::state::Shop;
use crate::views::fields::{Field, Fields};
use crate::{AppState, WebError};

/// Longest name of a form, characters.
const NAME_CHARACTERS: usize = 60;

const KINDS: [(&str, &str, OwnedKind); 2] =
    [("sheet_form", "form of sheet", OwnedKind::SheetForm), ("mould", "mould", OwnedKind::Mould)];
const CONDITIONS: [(&str, &str, Condition); 3] = [
    ("ready", "ready", Condition::Ready),
    ("needs_work", "needs work", Condition::NeedsWork),
    ("retired", "retired", Condition::Retired),
];

#[derive(Template)]
#[template(path = "forms.html")]
struct FormsPage {
    title: &'static str,
    place: &'static str,
    rows: Vec<Row>,
    fresh: Vec<Field>,
    fresh_refused: bool,
    notice: String,
}

struct Row {
    id: i64,
    revision: i32,
    name: String,
    about: String,
    booked: Option<(i64, String)>,
    fields: Vec<Field>,
    is_open: bool,
    notice: String,
}

/// A form that was typed and refused: which, and why.
struct Refused<'a> {
    id: Option<i64>,
    entries: &'a Entries,
    refusals: &'a Refusals,
    notice: String,
}

pub(super) async fn show(State(state): State<AppState>) -> Result<Response, WebError> {
    page(&state, None).await
}

async fn page(state: &AppState, refused: Option<Refused<'_>>) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let forms = state.store.forms(shop.id).await?;
    let casts = state.store.casts(shop.id).await?;
    let none = Refusals::default();
    let of = |id: Option<i64>| refused.as_ref().filter(|r| r.id == id);
    let usual = OwnedForm {
        name: String::new(),
        kind: OwnedKind::SheetForm,
        length: Length::from_mm(1220.0),
        width: Length::from_mm(620.0),
        height: Length::from_mm(60.0),
        cavities: 1,
        condition: Condition::Ready,
    };
    let fields = |id: Option<i64>, form: &OwnedForm| {
        let typed = of(id);
        let fields = Fields {
            shown: shop.shown,
            typed: typed.map(|r| r.entries),
            refusals: typed.map_or(&none, |r| r.refusals),
        };
        form_fields(&fields, id, form)
    };
    let rows = forms.iter().map(|record| {
        let id = Some(record.id.0);
        let name_of = |cast: CastId| {
            casts.iter().find(|c| c.id == cast).map_or_else(String::new, |c| c.plan.name.clone())
        };
        Row {
            id: record.id.0,
            revision: record.revision,
            name: record.form.name.clone(),
            about: about(record, &shop),
            booked: record.booked_by.map(|cast| (cast.0, name_of(cast))),
            fields: fields(id, &record.form),
            is_open: of(id).is_some(),
            notice: of(id).map(|r| r.notice.clone()).unwrap_or_default(),
        }
    });
    let page = FormsPage {
        title: "Forms",
        place: "forms",
        rows: rows.collect(),
        fresh: fields(None, &usual),
        fresh_refused: of(None).is_some(),
        notice: of(None).map(|r| r.notice.clone()).unwrap_or_default(),
    };
    let status = if refused.is_some() { StatusCode::UNPROCESSABLE_ENTITY } else { StatusCode::OK };
    Ok((status, Html(page.render()?)).into_response())
}

fn about(record: &FormRecord, shop: &Shop) -> String {
    let (form, shown) = (&record.form, shop.shown);
    let kind = KINDS.iter().find(|k| k.2 == form.kind).map_or("", |k| k.1);
    let condition = CONDITIONS.iter().find(|c| c.2 == form.condition).map_or("", |c| c.1);
    let cavities =
        if form.cavities > 1 { format!("{} cavities of ", form.cavities) } else { String::new() };
    format!(
        "{kind}, {cavities}{} × {} × {} inside, {condition}",
        shown.length_figure(form.length),
        shown.length_figure(form.width),
        shown.length(form.height)
    )
}

/// Fields of a form; their ids carry its number, since several stand on a page.
fn form_fields(fields: &Fields<'_>, id: Option<i64>, form: &OwnedForm) -> Vec<Field> {
    let suffix = id.map_or_else(String::new, |id| format!("-{id}"));
    let name = |field: &str| format!("{field}{suffix}");
    let kind = KINDS.iter().find(|k| k.2 == form.kind).map_or("", |k| k.0);
    let condition = CONDITIONS.iter().find(|c| c.2 == form.condition).map_or("", |c| c.0);
    vec![
        fields.text(&name("name"), "What the shop calls it", &form.name),
        fields.choice(&name("kind"), "What it is", kind, &KINDS.map(|(v, l, _)| (v, l))),
        fields.length(&name("length"), "Inside length", form.length),
        fields.length(&name("width"), "Inside width", form.width),
        fields.length(&name("height"), "Inside height", form.height),
        fields.number(
            &name("cavities"),
            "Cavities",
            f64::from(form.cavities),
            &bounds::MOULD_COUNT,
        ),
        fields.choice(
            &name("condition"),
            "How it stands",
            condition,
            &CONDITIONS.map(|(v, l, _)| (v, l)),
        ),
    ]
}

fn read(reader: &mut Reader<'_>, id: Option<i64>) -> OwnedForm {
    let suffix = id.map_or_else(String::new, |id| format!("-{id}"));
    let name = |field: &str| format!("{field}{suffix}");
    let mut form = OwnedForm {
        name: String::new(),
        kind: OwnedKind::SheetForm,
        length: Length::ZERO,
        width: Length::ZERO,
        height: Length::ZERO,
        cavities: 1,
        condition: Condition::Ready,
    };
    reader.text(&name("name"), "The name", NAME_CHARACTERS, false, &mut form.name);
    reader.choice(&name("kind"), &KINDS.map(|(v, _, k)| (v, k)), &mut form.kind);
    reader.quantity(&name("length"), &bounds::FINISHED_LENGTH, &mut form.length);
    reader.quantity(&name("width"), &bounds::FINISHED_WIDTH, &mut form.width);
    reader.quantity(&name("height"), &bounds::FINISHED_THICKNESS, &mut form.height);
    reader.count(&name("cavities"), &bounds::MOULD_COUNT, &mut form.cavities);
    reader.choice(&name("condition"), &CONDITIONS.map(|(v, _, c)| (v, c)), &mut form.condition);
    form
}

pub(super) async fn add(
    State(state): State<AppState>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let mut reader = Reader::new(&entries, shop.shown.system);
    let form = read(&mut reader, None);
    if !reader.refusals.is_empty() {
        let refusals = reader.refusals;
        let notice = String::new();
        let refused = Refused { id: None, entries: &entries, refusals: &refusals, notice };
        return page(&state, Some(refused)).await;
    }
    state.store.add_form(shop.id, &form).await?;
    Ok(Redirect::to("/forms").into_response())
}

pub(super) async fn save(
    State(state): State<AppState>,
    Path(id): Path<i64>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let mut reader = Reader::new(&entries, shop.shown.system);
    let form = read(&mut reader, Some(id));
    let refusals = reader.refusals;
    let mut notice = String::new();
    if refusals.is_empty() {
        let expected = entries.number("revision").unwrap_or_default();
        match state.store.save_form(shop.id, FormId(id), expected, &form).await {
            Ok(()) => return Ok(Redirect::to("/forms").into_response()),
            Err(StoreError::Stale { .. }) => {
                notice =
                    "This form was changed in another tab since you opened it here. Your entries \
                          are still in the fields; keep them once more to put them over it."
                        .to_owned();
            }
            Err(error) => return Err(error.into()),
        }
    }
    let refused = Refused { id: Some(id), entries: &entries, refusals: &refusals, notice };
    page(&state, Some(refused)).await
}

pub(super) async fn remove(
    State(state): State<AppState>,
    Path(id): Path<i64>,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    state.store.remove_form(shop.id, FormId(id)).await?;
    Ok(Redirect::to("/forms").into_response())
}

/// A cast books a form, or lets go of the one it has.
pub(super) async fn book(
    State(state): State<AppState>,
    Path(cast): Path<i64>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let record = state.store.cast(shop.id, CastId(cast)).await?;
    match entries.number("form") {
        Some(form) => state.store.book_form(shop.id, FormId(form.into()), record.id).await?,
        None => state.store.release_form(shop.id, record.id).await?,
    }
    Ok(Redirect::to(&format!("/casts/{cast}/form#build")).into_response())
}
