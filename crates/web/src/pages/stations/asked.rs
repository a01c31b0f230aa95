//! A request for a station: the cast, what follows from it, and what is to be shown beside.

use std::sync::Arc;

use fondant_app::casts::{self, Open};
use fondant_app::records::CastId;
use fondant_app::{App, Shop, Worked};
use fondant_cast::facts::FactRow;
use fondant_cast::{Document, Evaluation, Measured};
use fondant_quantities::Length;
use fondant_shapes::geometry::Point;
use jiff::Timestamp;
use serde::Deserialize;

use crate::drawings::plan_view::PlanView;
use crate::drawings::section::Section;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::error::WebError;
use crate::ui::field::Fields;
use crate::ui::reader::Reader;
use crate::ui::units::{InUnits, Shown};

/// What a station's address asks to see.
#[derive(Debug, Clone, Copy, Default, Deserialize)]
pub(crate) struct Looking {
    /// The station of the river at which the section is cut, from 1.
    pub(crate) section: Option<usize>,
    /// Where the section is cut, millimetres from the left end.
    pub(crate) cut: Option<f64>,
}

/// A cast that is visited, worked out.
#[derive(Debug)]
pub(crate) struct Visit {
    pub(crate) open: Open,
    /// The document in the mean of its air.
    pub(crate) document: Document,
    /// As planned.
    pub(crate) planned: Worked,
    /// By what has happened: what every page shows.
    pub(crate) worked: Worked,
    pub(crate) facts: Vec<FactRow>,
    pub(crate) looking: Looking,
    pub(crate) now: Timestamp,
}

/// What is shown beside what is kept.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Beside<'a> {
    /// What was typed, where the form is shown again.
    pub(crate) typed: Option<&'a Entries>,
    pub(crate) refusals: &'a Refusals,
    /// Places to mark on the drawing, where a change was refused.
    pub(crate) marks: &'a [Point],
}

/// What a station shows itself from.
pub(crate) struct Asked<'a> {
    pub(crate) visit: &'a Visit,
    pub(crate) cast: CastId,
    pub(crate) shop: &'a Shop,
    pub(crate) shown: Shown,
    pub(crate) document: &'a Document,
    pub(crate) evaluation: &'a Evaluation,
    pub(crate) now: Timestamp,
    pub(crate) typed: Option<&'a Entries>,
    pub(crate) refusals: &'a Refusals,
    pub(crate) marks: &'a [Point],
}

impl Looking {
    /// The query of an address that looks at the same.
    pub(crate) fn query(self) -> String {
        match (self.section, self.cut) {
            (Some(number), _) => format!("?section={number}"),
            (None, Some(mm)) => format!("?cut={mm}"),
            (None, None) => String::new(),
        }
    }
}

impl Visit {
    /// Opens a cast and works it out.
    pub(crate) async fn of(app: &App, cast: CastId, looking: Looking) -> Result<Self, WebError> {
        let open = casts::open(app, cast).await?;
        let planned = open.worked(app).await?;
        let facts = open.facts(app).await?;
        let worked = app.happened(&planned, &facts).await?;
        let document = open.shop.site().in_mean_air(&open.record.document);
        Ok(Self { open, document, planned, worked, facts, looking, now: app.now() })
    }

    /// Index of the river's station at which the section is cut: the one asked for, or the widest.
    /// `None` where there are no stations.
    pub(crate) fn station(&self) -> Option<usize> {
        let river = self.worked.evaluation.measured.river.as_ref()?;
        let stations = river.stations();
        match self.looking.section {
            Some(number) if (1..=stations.len()).contains(&number) => Some(number - 1),
            _ => stations.iter().position(|s| s == river.widest()),
        }
    }

    /// Where the section is cut: at a station, where there are stations.
    pub(crate) fn cut_at(&self) -> Length {
        let river = self.worked.evaluation.measured.river.as_ref();
        match river.zip(self.station()) {
            Some((river, index)) => river.stations()[index].at,
            None => self.cut_along(),
        }
    }

    /// Where the section is asked to be cut, anywhere along the form; its middle where nothing is
    /// asked.
    pub(crate) fn cut_along(&self) -> Length {
        let layout = &self.worked.evaluation.measured.layout;
        let asked = self.looking.cut.filter(|mm| mm.is_finite()).map(Length::from_mm);
        asked.map_or_else(|| layout.middle(), |at| at.max(Length::ZERO).min(layout.length))
    }
}

impl<'a> Asked<'a> {
    pub(crate) fn new(visit: &'a Visit, beside: Beside<'a>) -> Self {
        let shop = &visit.open.shop;
        Self {
            visit,
            cast: visit.open.record.id,
            shop,
            shown: shop.shown(),
            document: &visit.document,
            evaluation: &visit.worked.evaluation,
            now: visit.now,
            typed: beside.typed,
            refusals: beside.refusals,
            marks: beside.marks,
        }
    }

    /// Whether pours that happened stand in the place of planned ones.
    pub(crate) fn has_happened(&self) -> bool {
        !Arc::ptr_eq(&self.visit.planned.evaluation, &self.visit.worked.evaluation)
    }

    pub(crate) fn fields(&self) -> Fields<'_> {
        let explains = self.visit.open.record.is_only;
        let as_typed = Some(&self.document.typed);
        Fields { explains, as_typed, ..Fields::of(self.shown, self.typed, self.refusals) }
    }

    pub(crate) fn refusal(&self) -> String {
        self.refusals.of("")
    }

    pub(crate) fn measured(&self) -> &'a Measured {
        &self.evaluation.measured
    }

    /// Numbers of a list's rows: as typed, or as many as are kept.
    pub(crate) fn rows(&self, list: &str, kept: usize) -> Vec<String> {
        match self.typed {
            Some(typed) => Reader::new(typed, self.shown.system).rows(list),
            None => (0..kept).map(|index| index.to_string()).collect(),
        }
    }

    pub(crate) fn station(&self) -> Option<usize> {
        self.visit.station()
    }

    pub(crate) fn cut_at(&self) -> Length {
        self.visit.cut_at()
    }

    pub(crate) fn section(&self) -> Section<'_> {
        Section {
            layout: &self.measured().layout,
            fill: &self.measured().fill,
            at: self.cut_at(),
            layers: &[],
            marks: &[],
            shown: self.shown,
        }
    }

    pub(crate) fn plan_view<'b>(&'b self, link: &'b str) -> PlanView<'b> {
        PlanView {
            layout: &self.measured().layout,
            river: self.measured().river.as_ref(),
            boards: Vec::new(),
            here: usize::MAX,
            link,
            places: Vec::new(),
            trims: Vec::new(),
            shown: self.shown,
        }
    }
}
