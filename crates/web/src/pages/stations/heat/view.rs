//! Temperatures as they are shown.

use askama::Template;
use fondant_cast::Kind;
use fondant_quantities::units::{Unit, trimmed};

use super::drawing::{self, Temperatures, axes_of_time};
use super::extras::HeatExtras;
use super::{figures, form, panels};
use crate::pages::stations::asked::Asked;
use crate::paths::casts::{AbandonField, DepthMap, Field as FieldPath};
use crate::svg::{HALF, Markup, both};
use crate::ui::field::Field;
use crate::ui::figure::Figure;
use crate::words::pours::pours;
use crate::words::trouble;

// Many fields: everything that the page says stands flat beside its template.
#[derive(Template)]
#[template(path = "pages/stations/heat/heat.html")]
struct HeatBody {
    refusal: String,
    fields: Vec<Field>,
    more_fields: Vec<Field>,
    field: FieldPath,
    abandon: AbandonField,
    map: DepthMap,
    /// Where the section is cut, and how far it can be, mm.
    cut: f64,
    cut_most: f64,
    cut_says: String,
    can_cut: bool,
    depth_points: String,
    depth_main: f64,
    unit: &'static str,
    one_pour: Markup,
    /// That the planned pours keep under the limit.
    planned: String,
    one_pour_caption: String,
    depth: Markup,
    layered: Markup,
    layered_caption: String,
    deepest: Figure,
    deepest_says: String,
    needs_reason: bool,
    trouble: String,
    verdict: String,
    verdict_class: &'static str,
    base_says: String,
    facts: Vec<Figure>,
    limits: Vec<panels::Line>,
    buys: Vec<panels::Line>,
    bucket_says: String,
    wait_says: String,
    waits: Vec<panels::Line>,
    bubbles: Vec<String>,
    /// Hours after which cooling may end, where it does not end then already.
    past_peak: Option<String>,
    forecast: String,
}

pub(super) fn view(asked: &Asked<'_>, extras: &HeatExtras) -> askama::Result<Markup> {
    let (document, evaluation, shown) = (asked.document, asked.evaluation, asked.shown);
    let (cast, kind) = (asked.cast, document.kind());
    let heat = &evaluation.heat;
    let (fields, more_fields) = form::fields(asked);
    let fill = &evaluation.measured.fill;
    let unit = shown.system.length();
    let mut body = HeatBody {
        refusal: asked.refusal(),
        fields,
        more_fields,
        field: FieldPath { cast },
        abandon: AbandonField { cast },
        map: DepthMap { cast },
        cut: asked.cut_at().mm().round(),
        cut_most: evaluation.measured.layout.length.mm().round(),
        cut_says: shown.length(asked.cut_at()),
        can_cut: kind == Kind::River,
        depth_points: String::new(),
        depth_main: unit.write(fill.depth() - fill.base()),
        unit: unit.symbol(),
        one_pour: Markup::default(),
        planned: String::new(),
        one_pour_caption: String::new(),
        depth: Markup::default(),
        layered: Markup::default(),
        layered_caption: String::new(),
        deepest: figures::deepest(asked, Some(extras)),
        deepest_says: String::new(),
        needs_reason: heat.limits.needs_reason,
        trouble: String::new(),
        verdict: String::new(),
        verdict_class: "care",
        base_says: String::new(),
        facts: Vec::new(),
        limits: panels::limits(asked),
        buys: panels::buys(asked, extras),
        bucket_says: String::new(),
        wait_says: panels::too_long(asked, extras),
        waits: Vec::new(),
        bubbles: panels::bubbles(asked, extras),
        past_peak: extras
            .past_peak
            .filter(|past| (*past - document.conditions.cooling.lasts).s().abs() > 1.0)
            .map(|past| format!("{} h", trimmed(past.h(), 1))),
        forecast: forecast(asked),
    };
    (body.bucket_says, body.waits) = panels::bucket(asked, extras);
    body.deepest(asked);
    body.one_pour(asked, extras);
    body.layered(asked);
    Markup::of(&body)
}

impl HeatBody {
    /// The deepest safe layer in words.
    fn deepest(&mut self, asked: &Asked<'_>) {
        let (document, evaluation, shown) = (asked.document, asked.evaluation, asked.shown);
        match &evaluation.heat.deepest {
            Ok(_) => {
                self.deepest_says = format!(
                    "so that no point passes {}, air {}, resin {}. The plan pours layers of at most {}.",
                    shown.temperature(evaluation.resin.working.peak_limit),
                    shown.temperature(document.conditions.air),
                    shown.temperature(document.conditions.resin),
                    shown.length_cautious(evaluation.heat.allowed),
                );
            }
            Err(error) => self.trouble = trouble::heat(error, shown),
        }
    }

    /// Everything in one pour.
    fn one_pour(&mut self, asked: &Asked<'_>, extras: &HeatExtras) {
        let Ok(whole) = &asked.evaluation.heat.whole else { return };
        let (view, shown) = (Temperatures::of(asked), asked.shown);
        self.one_pour_caption = format!(
            "All {} in one pour in steady air of {}, {}",
            shown.length(whole.depth),
            shown.temperature(asked.document.conditions.air),
            axes_of_time(shown)
        );
        self.one_pour = both(HALF, |frame| drawing::one_pour(&view, whole, frame));
        self.depth = drawing::depth(&view, whole, &extras.by_depth);
        self.depth_points = drawing::depth_points(&view, &extras.by_depth);
        (self.verdict, self.verdict_class) = figures::verdict(asked, whole);
        self.planned = figures::planned(asked).unwrap_or_default();
        self.facts = figures::facts(asked, whole, Some(extras));
    }

    /// The layers as they are planned.
    fn layered(&mut self, asked: &Asked<'_>) {
        let Ok(schedule) = &asked.evaluation.pours else { return };
        let (view, shown) = (Temperatures::of(asked), asked.shown);
        let count = schedule.pours.len();
        let as_it_is = if asked.has_happened() { "by what happened" } else { "as planned" };
        self.layered_caption = format!("In {} {as_it_is}, {}", pours(count), axes_of_time(shown));
        self.layered = both(HALF, |frame| drawing::layered(&view, frame));
        let samples = schedule.run.trace().map_or(&[][..], |trace| &trace.samples);
        let base = samples.iter().map(|s| s.underside_k).fold(f64::MIN, f64::max);
        self.base_says = panels::base(base, asked);
    }
}

/// How uncertain the forecast is.
fn forecast(asked: &Asked<'_>) -> String {
    let shown = asked.shown;
    match &asked.visit.worked.inputs.resin.calibration {
        Some(learnt) => format!(
            "This resin is calibrated with a log of lot {}. Another lot, colour or age may differ: stay \
             with a deep pour until it has peaked.",
            if learnt.lot.is_empty() { "unknown" } else { &learnt.lot }
        ),
        None => format!(
            "Forecasts, good to {} near the limit until this resin is calibrated with a cup of its own. \
             Stay with a deep pour until it has peaked.",
            shown.forecast_uncertainty()
        ),
    }
}
