//! The stations of a cast: how each reads its form and what it shows.
//!
//! A new station is a file here with `apply`, `field_of` and `body`, an arm in
//! each function below, and a template of the same name.

mod contents;
mod form;
mod heat;
mod piece;
pub(in crate::routes) mod pours;
mod resin;
mod timber;

use std::sync::Arc;

use fondant_cast::{Conflict, Evaluation, Kind, Measured, Plan};
use fondant_materials::resin::Resin;
use fondant_quantities::Length;
use fondant_shapes::geometry::Point;
use fondant_store::repos::{CastId, FormRecord};
use jiff::Timestamp;

use crate::WebError;
use crate::drawings::plan_view::PlanView;
use crate::drawings::section::Section;
use crate::entries::{Entries, Reader, Refusals};
use crate::state::Shop;
use crate::views::fields::{Field, Fields};
use crate::views::rail::Station;

pub(in crate::routes) use form::nest_note;
pub(in crate::routes) use heat::{HeatExtras, slower};
pub(in crate::routes) use piece::{begin_fields, read_begin, usual_piece};
pub(in crate::routes) use pours::{PoursExtras, narrowest};
pub(in crate::routes) use timber::ring_text;

/// What a station shows itself from.
pub(in crate::routes) struct Asked<'a> {
    pub(in crate::routes) cast: CastId,
    pub(in crate::routes) plan: &'a Plan,
    pub(in crate::routes) evaluation: &'a Evaluation,
    pub(in crate::routes) shop: &'a Shop,
    pub(in crate::routes) now: Timestamp,
    /// What was typed, where the form is shown again.
    pub(in crate::routes) typed: Option<&'a Entries>,
    pub(in crate::routes) refusals: &'a Refusals,
    /// Places to mark on the drawing, where a change was refused.
    pub(in crate::routes) marks: Vec<Point>,
    /// The station at which the section is cut, from 1.
    pub(in crate::routes) section: Option<usize>,
    /// Where the section is cut, from the left end.
    pub(in crate::routes) cut: Option<Length>,
    /// The same cast in each resin on the shelf, for the station that compares.
    pub(in crate::routes) in_each_resin: Vec<InResin>,
    /// What the heat station works out beside the plan.
    pub(in crate::routes) heat_extras: Option<heat::HeatExtras>,
    /// What the pours station works out beside the plan.
    pub(in crate::routes) pours_extras: Option<pours::PoursExtras>,
    /// Forms that the shop has, for the station that offers them.
    pub(in crate::routes) forms: Vec<FormRecord>,
    /// The squared-up photo to draw over, for the station with outlines.
    pub(in crate::routes) backdrop: Option<Backdrop>,
}

/// A squared-up photo under the drawing.
pub(in crate::routes) struct Backdrop {
    pub(in crate::routes) href: String,
    pub(in crate::routes) length: Length,
    pub(in crate::routes) width: Length,
}

/// The cast in one resin.
pub(in crate::routes) struct InResin {
    pub(in crate::routes) resin: Resin,
    /// `None` where the plan cannot be worked out at all.
    pub(in crate::routes) evaluation: Option<Arc<Evaluation>>,
}

/// Fields that belong together.
pub(in crate::routes) struct Group {
    pub(in crate::routes) title: &'static str,
    pub(in crate::routes) why: String,
    pub(in crate::routes) fields: Vec<Field>,
}

impl Group {
    pub(in crate::routes) fn new(title: &'static str, fields: Vec<Field>) -> Self {
        Self { title, why: String::new(), fields }
    }

    pub(in crate::routes) fn why(mut self, why: impl Into<String>) -> Self {
        self.why = why.into();
        self
    }
}

/// A list whose rows come and go.
struct List {
    /// Name of the field that numbers its rows.
    name: &'static str,
    title: &'static str,
    why: String,
    /// What one is called, with its article.
    one: &'static str,
    rows: Vec<ListRow>,
    /// It need not have a row.
    may_be_empty: bool,
}

struct ListRow {
    number: String,
    fields: Vec<Field>,
    note: String,
}

impl Asked<'_> {
    fn fields(&self) -> Fields<'_> {
        Fields { shown: self.shop.shown, typed: self.typed, refusals: self.refusals }
    }

    fn refusal(&self) -> String {
        self.refusals.of("")
    }

    fn address(&self, station: Station) -> String {
        format!("/casts/{}/{}", self.cast.0, station.slug())
    }

    fn measured(&self) -> &Measured {
        &self.evaluation.measured
    }

    /// Numbers of a list's rows: as typed, or as many as are kept.
    fn rows(&self, list: &str, kept: usize) -> Vec<String> {
        match self.typed {
            Some(typed) => Reader::new(typed, self.shop.shown.system).rows(list),
            None => (0..kept).map(|index| index.to_string()).collect(),
        }
    }

    /// Index of the station at which the section is cut: the one asked for, or
    /// the widest. `None` where there are no stations.
    fn station(&self) -> Option<usize> {
        let river = self.measured().river.as_ref()?;
        let stations = river.stations();
        match self.section {
            Some(number) if (1..=stations.len()).contains(&number) => Some(number - 1),
            _ => stations.iter().position(|s| s == river.widest()),
        }
    }

    /// Where the section is cut.
    fn cut_at(&self) -> Length {
        let measured = self.measured();
        let station = measured.river.as_ref().zip(self.station());
        let asked = self.cut.map(|at| at.max(Length::ZERO).min(measured.layout.length));
        match station {
            Some((river, index)) => river.stations()[index].at,
            None => asked.unwrap_or_else(|| measured.layout.middle()),
        }
    }

    fn section(&self) -> Section<'_> {
        Section {
            layout: &self.measured().layout,
            fill: &self.measured().fill,
            at: self.cut_at(),
            layers: &[],
            shown: self.shop.shown,
        }
    }

    fn plan_view<'a>(&'a self, link: &'a str) -> PlanView<'a> {
        PlanView {
            layout: &self.measured().layout,
            river: self.measured().river.as_ref(),
            boards: Vec::new(),
            here: usize::MAX,
            link,
            places: Vec::new(),
            trims: Vec::new(),
            shown: self.shop.shown,
        }
    }
}

/// Reads a station's form into the plan; what is refused is in the reader.
pub(in crate::routes) fn apply(
    station: Station,
    reader: &mut Reader<'_>,
    plan: &mut Plan,
    shop: &Shop,
) {
    match station {
        Station::Piece => piece::apply(reader, plan),
        Station::Timber if plan.kind == Kind::River => timber::apply(reader, plan),
        Station::Timber => contents::apply(reader, plan),
        Station::Form => form::apply(reader, plan),
        Station::Resin => resin::apply(reader, plan, &shop.shelf),
        Station::Heat => heat::apply(reader, plan, shop),
        Station::Pours => pours::apply(reader, plan, shop),
    }
}

/// The field of a station's form at which a conflict is told; empty for the
/// form as a whole.
pub(in crate::routes) fn field_of(
    station: Station,
    kind: Kind,
    conflict: &Conflict,
    typed: &Entries,
) -> String {
    let field = match station {
        Station::Piece => piece::field_of(conflict),
        Station::Timber if kind == Kind::River => timber::field_of(conflict),
        Station::Timber => contents::field_of(kind, conflict),
        Station::Pours => pours::field_of(conflict),
        Station::Form | Station::Resin | Station::Heat => String::new(),
    };
    numbered(&field, typed)
}

/// A conflict counts the rows of a list; their fields carry numbers of their
/// own, since rows come and go.
fn numbered(field: &str, typed: &Entries) -> String {
    let list = match field.split_once('_') {
        Some(("cav", _)) => "cav",
        Some(("ins", _)) => "ins",
        Some(("b", _)) => "board",
        _ => return field.to_owned(),
    };
    let renamed = field.rsplit_once('-').and_then(|(name, index)| {
        let index: usize = index.parse().ok()?;
        Some(format!("{name}-{}", typed.all(list).nth(index)?))
    });
    renamed.unwrap_or_else(|| field.to_owned())
}

/// The station's part of the page.
pub(in crate::routes) fn body(station: Station, asked: &Asked<'_>) -> Result<String, WebError> {
    Ok(match station {
        Station::Piece => piece::body(asked)?,
        Station::Timber if asked.plan.kind == Kind::River => timber::body(asked)?,
        Station::Timber => contents::body(asked)?,
        Station::Form => form::body(asked)?,
        Station::Resin => resin::body(asked)?,
        Station::Heat => heat::body(asked)?,
        Station::Pours => pours::body(asked)?,
    })
}
