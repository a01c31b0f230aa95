//! The axis and the text beside it, for a schedule: rendered alone while something is dragged.

use askama::Template;
use askama_web::WebTemplate;
use fondant_app::Shop;
use fondant_cast::Document;
use fondant_cast::document::PourId;
use fondant_cast::facts::{Fact, FactRow, standing};
use fondant_heat::climate::trouble::{Trouble, troubles};
use fondant_materials::resin::Properties;
use fondant_pours::Schedule;
use fondant_pours::simulate::observe::Touch;
use jiff::Timestamp;

use super::axis::{HoursAxis, draw};
use crate::svg::{FULL, Frame, Markup, NARROW};
use crate::ui::units::{InUnits, Shown};
use crate::words::{kinds, plans};

/// The axis, and how many times as wide it can be drawn.
const ZOOMS: [u8; 3] = [1, 2, 4];

/// The axis and the text beside it, for a schedule: rendered alone while
/// something is dragged.
#[derive(Template, WebTemplate)]
#[template(path = "pages/stations/pours/axis.html")]
pub(crate) struct AxisPart {
    axis: Markup,
    breaks: Vec<String>,
    opens: String,
    /// When a flood coat is hard; empty where there is none.
    flood: String,
    opens_by: &'static str,
}

impl AxisPart {
    pub(crate) fn new(asked: &Showing<'_>) -> Self {
        let zone = asked.shop.hours().zone();
        let say = |b| plans::broken(b, asked.schedule, asked.shown(), zone);
        Self {
            axis: asked.axis(),
            breaks: asked.schedule.breaks.iter().map(say).collect(),
            opens: asked.shown().date_and_time(asked.schedule.form_opens(), zone),
            flood: asked.document.stages.flood.as_ref().map_or_else(String::new, |_| {
                asked.shown().date_and_time(asked.schedule.hard, zone)
            }),
            opens_by: kinds::hard(asked.document.kind()).sentence,
        }
    }
}

/// A schedule and what is drawn with it.
pub(crate) struct Showing<'a> {
    /// The cast, in the mean of its air.
    pub(crate) document: &'a Document,
    pub(crate) shop: &'a Shop,
    pub(crate) schedule: &'a Schedule,
    pub(crate) resin: &'a Properties,
    pub(crate) facts: &'a [FactRow],
    /// The pours that were taken; none where they are proposed.
    pub(crate) ids: &'a [PourId],
    /// How many of them have happened.
    pub(crate) poured: usize,
    pub(crate) now: Timestamp,
}

impl Showing<'_> {
    fn shown(&self) -> Shown {
        self.shop.shown()
    }

    pub(super) fn troubles(&self) -> Vec<Trouble> {
        let air = self.shop.site().air_of(self.document);
        let limits = self.shop.site().air_limits(self.resin);
        let first = self.schedule.pours.first().map_or(self.schedule.hard, |pour| pour.at);
        let surface = |at| self.schedule.surface_at(at);
        troubles(&air, &limits, surface, first, self.schedule.hard)
    }

    fn touches(&self) -> Vec<(usize, Timestamp, Touch)> {
        let touch = |row: &FactRow| match row.fact {
            Fact::Touched { pour, at, found, .. } => {
                let place = self.ids.iter().position(|id| *id == pour)?;
                Some((place, at, found))
            }
            _ => None,
        };
        standing(self.facts).iter().filter_map(touch).collect()
    }

    fn axis(&self) -> Markup {
        let air = self.shop.site().air_of(self.document);
        let (troubles, touches) = (self.troubles(), self.touches());
        let view = HoursAxis {
            schedule: self.schedule,
            hours: self.shop.hours(),
            air: &air,
            limits: self.shop.site().air_limits(self.resin),
            troubles: &troubles,
            touches: &touches,
            ids: self.ids,
            poured: self.poured,
            takes_facts: !self.ids.is_empty(),
            now: self.now,
            hard: kinds::hard(self.document.kind()).mark,
            shown: self.shown(),
        };
        // Each zoom is a drawing of its own: text keeps its size, days get wider.
        let zoomed = |zoom: u8| {
            let class = ["wide zoom-1", "wide zoom-2", "wide zoom-4"][usize::from(zoom / 2)];
            draw(&view, Frame { width: FULL.width * f64::from(zoom), class })
        };
        ZOOMS.into_iter().map(zoomed).chain([draw(&view, NARROW)]).collect()
    }
}
