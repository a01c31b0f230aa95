//! Stages as Pours shows them: a row for each, from the top down.

use fondant_cast::document::{CracksFirst, Flood, Stage};
use fondant_materials::resin::ResinId;
use fondant_pours::layers::Purpose;
use fondant_quantities::bounds;

use super::stages::{PURPOSES, Side};
use crate::pages::stations::asked::Asked;
use crate::ui::field::{Choice, Field, Fields};
use crate::words::layers;

/// What is shown of the stages, from the top down.
#[derive(Default)]
pub(super) struct StagesView {
    pub(super) flood: Option<StageRow>,
    pub(super) above: Vec<StageRow>,
    /// The main fill, in words.
    pub(super) main: String,
    pub(super) below: Vec<StageRow>,
    pub(super) cracks: Option<StageRow>,
    /// The boards have cracks that could be filled first.
    pub(super) takes_cracks: bool,
    /// Stages can be added to a cast of this kind.
    pub(super) takes_stages: bool,
    /// A flood coat can be.
    pub(super) takes_flood: bool,
    pub(super) refusal: String,
}

/// One stage.
#[derive(Default)]
pub(super) struct StageRow {
    /// Its place in its list, from the floor up.
    pub(super) place: usize,
    /// "the base", for the names of its buttons.
    pub(super) name: String,
    /// Something is over it, or under it, that it can change places with.
    pub(super) can_rise: bool,
    pub(super) can_sink: bool,
    pub(super) fields: Vec<Field>,
    pub(super) note: String,
}

impl StagesView {
    pub(super) fn new(asked: &Asked<'_>) -> Self {
        let (document, fields) = (asked.document, asked.fields());
        let stages = &document.stages;
        let rows = |side: Side, all: &[Stage]| -> Vec<StageRow> {
            let row = |(place, stage): (usize, &Stage)| {
                let one = row(asked, &fields, (side, place), stage);
                StageRow {
                    can_rise: side == Side::Below || place + 1 < all.len(),
                    can_sink: side == Side::Above || place > 0,
                    ..one
                }
            };
            all.iter().enumerate().rev().map(row).collect()
        };
        Self {
            flood: stages.flood.as_ref().map(|flood| flood_row(asked, &fields, flood)),
            above: rows(Side::Above, &stages.above),
            main: format!(
                "Main fill, {} of {}",
                asked.shown.length(asked.measured().filling().main_depth()),
                asked.evaluation.resin.name
            ),
            below: rows(Side::Below, &stages.below),
            cracks: stages
                .cracks
                .as_ref()
                .filter(|_| document.takes_cracks())
                .map(|cracks| cracks_row(asked, &fields, cracks)),
            takes_cracks: document.takes_cracks() && stages.cracks.is_none(),
            takes_stages: document.takes_stages(),
            takes_flood: document.takes_flood() && stages.flood.is_none(),
            refusal: asked.refusals.of("stages"),
        }
    }
}

fn row(
    asked: &Asked<'_>,
    fields: &Fields<'_>,
    (side, place): (Side, usize),
    stage: &Stage,
) -> StageRow {
    let name = |field: &str| format!("stage_{field}-{}-{place}", side.name());
    let purpose = PURPOSES.iter().find(|known| known.1 == stage.purpose).map_or("base", |p| p.0);
    let words = PURPOSES.map(|(name, purpose)| (name, layers::of_purpose(purpose)));
    let note = match stage.purpose {
        Purpose::Inclusions => {
            "Lay things in while it is sticky; what covers them goes in inside the same window. \
             Dry and clean, and sealed if they are porous."
        }
        Purpose::Base | Purpose::Top | Purpose::Flood | Purpose::Cracks => "",
    };
    StageRow {
        place,
        name: format!("the {}", layers::of_purpose(stage.purpose)),
        fields: vec![
            fields.choice(&name("purpose"), "What for", purpose, &words),
            fields.length(&name("depth"), "Depth", stage.depth),
            resin_field(asked, fields, &name("resin"), stage.resin.as_ref()),
            fields.text(&name("tint"), "Colour", &stage.tint),
        ],
        note: note.to_owned(),
        ..StageRow::default()
    }
}

fn cracks_row(asked: &Asked<'_>, fields: &Fields<'_>, cracks: &CracksFirst) -> StageRow {
    let volume = asked.measured().stages.cracks.map(|cracks| cracks.volume).unwrap_or_default();
    StageRow {
        name: "the fill of cracks".to_owned(),
        fields: vec![
            resin_field(asked, fields, "stage_resin-cracks", cracks.resin.as_ref()),
            fields.text("stage_tint-cracks", "Colour", &cracks.tint),
        ],
        note: format!(
            "{} in the cavities of the boards, from the underside first, hard and sanded flush before \
             the form is filled.",
            asked.shown.volume_fine(volume)
        ),
        ..StageRow::default()
    }
}

fn flood_row(asked: &Asked<'_>, fields: &Fields<'_>, flood: &Flood) -> StageRow {
    let (hours, run_off) = (flood.finishing.h(), flood.run_off_ratio * 100.0);
    StageRow {
        name: "the flood coat".to_owned(),
        fields: vec![
            fields.length("stage_depth-flood", "Thickness", flood.thickness),
            resin_field(asked, fields, "stage_resin-flood", flood.resin.as_ref()),
            fields.text("stage_tint-flood", "Colour", &flood.tint),
            fields.number("stage_run_off", "Runs off", run_off, &bounds::RUN_OFF_PERCENT),
            fields
                .number("stage_finishing", "Work before it", hours, &bounds::FINISHING_HOURS)
                .hint("From the open form to a flat, sanded, wiped face."),
        ],
        note: "Its model stands on the piece as it stood in the form.".to_owned(),
        ..StageRow::default()
    }
}

fn resin_field(
    asked: &Asked<'_>,
    fields: &Fields<'_>,
    name: &str,
    resin: Option<&ResinId>,
) -> Field {
    let chosen = resin.map_or("", |id| id.0.as_str());
    let mut field = fields.choice(name, "Resin", chosen, &[]);
    let choice = |value: &str, label: String| Choice {
        value: value.to_owned(),
        label,
        is_chosen: field.value == value,
    };
    let own = choice("", format!("{}, as the main fill", asked.evaluation.resin.name));
    let offered = asked.shop.shelf().offered().filter(|resin| resin.id != asked.document.resin);
    let others: Vec<Choice> = offered.map(|r| choice(&r.id.0, r.name.clone())).collect();
    // One that was put away, or is named by nothing on the shelf, stays chosen until another is.
    let is_known = chosen.is_empty() || others.iter().any(|choice| choice.value == chosen);
    let missing = (!is_known && chosen != asked.document.resin.0).then(|| {
        let kept = resin.and_then(|id| asked.shop.shelf().find(id).ok());
        choice(chosen, kept.map_or_else(|| chosen.to_owned(), |resin| resin.name.clone()))
    });
    field.options = std::iter::once(own).chain(others).chain(missing).collect();
    field
}
