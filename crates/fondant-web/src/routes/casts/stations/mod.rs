//! The stations of a cast: how each reads its form and what it shows.
//!
//! A new station is a file here with `apply`, `field_of` and `body`, an arm in
//! each function below, and a template of the same name.

mod form;
mod heat;
mod piece;
mod pours;
mod resin;
mod timber;

use std::sync::Arc;

use fondant_core::form::Piece;
use fondant_core::plan::{Conflict, DepthPoint, Evaluation, Plan};
use fondant_core::quantities::bounds;
use fondant_core::resin::Resin;
use jiff::Timestamp;

use crate::WebError;
use crate::drawings::section::Section;
use crate::entries::{Entries, Reader, Refusals};
use crate::state::Shop;
use crate::views::fields::Fields;
use crate::views::rail::Station;

/// What a station shows itself from.
pub(in crate::routes) struct Asked<'a> {
    pub(in crate::routes) cast: i64,
    pub(in crate::routes) plan: &'a Plan,
    pub(in crate::routes) evaluation: &'a Evaluation,
    pub(in crate::routes) shop: &'a Shop,
    pub(in crate::routes) now: Timestamp,
    /// What was typed, where the form is shown again.
    pub(in crate::routes) typed: Option<&'a Entries>,
    pub(in crate::routes) refusals: &'a Refusals,
    /// The station at which the section is cut, from 1.
    pub(in crate::routes) section: Option<usize>,
    /// The same cast in each resin on the shelf, for the station that compares.
    pub(in crate::routes) in_each_resin: Vec<InResin>,
    /// The peak against the depth of one pour, for the station that shows it.
    pub(in crate::routes) by_depth: Vec<DepthPoint>,
}

/// The cast in one resin.
pub(in crate::routes) struct InResin {
    pub(in crate::routes) resin: Resin,
    /// `None` where the plan cannot be worked out at all.
    pub(in crate::routes) evaluation: Option<Arc<Evaluation>>,
}

impl Asked<'_> {
    fn fields(&self) -> Fields<'_> {
        Fields { shown: self.shop.shown, typed: self.typed, refusals: self.refusals }
    }

    fn refusal(&self) -> String {
        self.refusals.of("")
    }

    fn address(&self, station: Station) -> String {
        format!("/casts/{}/{}", self.cast, station.slug())
    }

    /// Index of the station at which the section is cut: the one asked for, or
    /// the widest.
    fn cut(&self) -> usize {
        let stations = self.evaluation.river.stations();
        match self.section {
            Some(number) if (1..=stations.len()).contains(&number) => number - 1,
            _ => {
                let widest = self.evaluation.river.widest();
                stations.iter().position(|s| s == widest).unwrap_or(0)
            }
        }
    }

    fn section(&self) -> Section<'_> {
        Section {
            river: &self.evaluation.river,
            fill: &self.evaluation.fill,
            boards: [self.plan.timber.near.thickness, self.plan.timber.far.thickness],
            station: &self.evaluation.river.stations()[self.cut()],
            layers: &[],
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
        Station::Timber => timber::apply(reader, plan),
        Station::Form => form::apply(reader, plan),
        Station::Resin => resin::apply(reader, plan),
        Station::Heat => heat::apply(reader, plan),
        Station::Pours => pours::apply(reader, plan, shop),
    }
}

/// The field of a station's form at which a conflict is told; empty for the
/// form as a whole.
pub(in crate::routes) fn field_of(station: Station, conflict: &Conflict) -> String {
    match station {
        Station::Piece => piece::field_of(conflict),
        Station::Timber => timber::field_of(conflict),
        Station::Pours => pours::field_of(conflict),
        Station::Form | Station::Resin | Station::Heat => String::new(),
    }
}

/// The station's part of the page.
pub(in crate::routes) fn body(station: Station, asked: &Asked<'_>) -> Result<String, WebError> {
    Ok(match station {
        Station::Piece => piece::body(asked)?,
        Station::Timber => timber::body(asked)?,
        Station::Form => form::body(asked)?,
        Station::Resin => resin::body(asked)?,
        Station::Heat => heat::body(asked)?,
        Station::Pours => pours::body(asked)?,
    })
}

/// The four figures of the finished piece, for a new cast and for the station.
pub(in crate::routes) fn read_piece(reader: &mut Reader<'_>, piece: &mut Piece) {
    reader.quantity("length", &bounds::FINISHED_LENGTH, &mut piece.length);
    reader.quantity("width", &bounds::FINISHED_WIDTH, &mut piece.width);
    reader.quantity("thickness", &bounds::FINISHED_THICKNESS, &mut piece.thickness);
    reader.quantity("trim_margin", &bounds::TRIM_MARGIN, &mut piece.trim_margin);
}
