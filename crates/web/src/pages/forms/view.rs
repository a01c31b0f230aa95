//! The page of forms.

use askama::Template;
use askama_web::WebTemplate;
use fondant_app::Shop;
use fondant_app::records::{FormId, FormRecord, Forms};

use super::form::{CONDITIONS, KINDS, form_fields, usual};
use crate::paths::casts::Station;
use crate::paths::shop::{Form, RemoveForm};
use crate::ui::entries::{Entries, Refusals};
use crate::ui::field::{Field, Fields};
use crate::ui::page::{Follows, Page, Place};
use crate::ui::units::InUnits;
use crate::words::resin::words_of;

#[derive(Template, WebTemplate)]
#[template(path = "pages/forms/forms.html")]
pub(super) struct FormsPage {
    page: Page,
    rows: Vec<Row>,
    /// How many records cannot be read.
    unreadable: usize,
    /// Names the next addition, so that it is added once.
    request: String,
    fresh: Vec<Field>,
}

struct Row {
    save: Form,
    remove: RemoveForm,
    revision: i32,
    name: String,
    about: String,
    booked: Option<Booked>,
    fields: Vec<Field>,
    is_open: bool,
    notice: String,
}

/// The cast that uses a form.
struct Booked {
    by: String,
    href: Station,
}

/// A form that was typed and refused: which, and why.
pub(super) struct Refused<'a> {
    pub(super) id: Option<FormId>,
    pub(super) entries: &'a Entries,
    pub(super) refusals: &'a Refusals,
    pub(super) notice: &'a str,
}

static NONE: Refusals = Refusals::none();

impl FormsPage {
    pub(super) fn new(
        shop: &Shop,
        forms: &Forms,
        refused: Option<&Refused<'_>>,
        request: String,
    ) -> Self {
        Self {
            page: Page::new("Forms", Place::Forms).following(Follows::Shop),
            rows: forms.all.iter().map(|record| row(record, shop, refused)).collect(),
            unreadable: forms.unreadable,
            request: match refused {
                Some(Refused { id: None, entries, .. }) => {
                    entries.get("request").unwrap_or_default().to_owned()
                }
                _ => request,
            },
            fresh: form_fields(
                &fields(shop, refused.filter(|r| r.id.is_none())),
                None,
                &usual(shop.shown().system),
            ),
        }
    }
}

fn fields<'a>(shop: &Shop, refused: Option<&Refused<'a>>) -> Fields<'a> {
    Fields::of(
        shop.shown(),
        refused.map(|refused| refused.entries),
        refused.map_or(&NONE, |refused| refused.refusals),
    )
}

fn row(record: &FormRecord, shop: &Shop, refused: Option<&Refused<'_>>) -> Row {
    let form = record.id;
    let refused = refused.filter(|refused| refused.id == Some(form));
    Row {
        save: Form { form },
        remove: RemoveForm { form },
        revision: record.revision,
        name: record.form.name.clone(),
        about: about(record, shop),
        booked: record.booked_by.as_ref().map(|booked| Booked {
            by: booked.name.clone(),
            href: Station::of(booked.cast, "form"),
        }),
        fields: form_fields(&fields(shop, refused), Some(form), &record.form),
        is_open: refused.is_some(),
        notice: refused.map(|refused| refused.notice.to_owned()).unwrap_or_default(),
    }
}

fn about(record: &FormRecord, shop: &Shop) -> String {
    let (form, shown) = (&record.form, shop.shown());
    let cavities =
        if form.cavities > 1 { format!("{} cavities of ", form.cavities) } else { String::new() };
    format!(
        "{}, {cavities}{} × {} × {} inside, {}",
        words_of(&KINDS, &form.kind),
        shown.length_figure(form.length),
        shown.length_figure(form.width),
        shown.length(form.height),
        words_of(&CONDITIONS, &form.condition)
    )
}
