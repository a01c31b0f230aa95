//! Pours beside the main fill: under it, over it, and over the finished face.

use fondant_cast::document::{CracksFirst, Flood, Stage};
use fondant_cast::{Conflict, Document};
use fondant_materials::resin::{ResinId, shipped};
use fondant_pours::layers::{LayerKind, Purpose};
use fondant_quantities::units::UnitSystem;
use fondant_quantities::{Span, bounds};

use crate::pages::stations::asked::Asked;
use crate::ui::field::{Choice, Field, Fields};
use crate::ui::reader::Reader;
use crate::words::layers;

/// Purposes of pours in the form, by their names in the form.
const PURPOSES: [(&str, Purpose); 3] =
    [("base", Purpose::Base), ("inclusions", Purpose::Inclusions), ("top", Purpose::Top)];

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
pub(super) struct StageRow {
    /// Its place in its list, from the floor up.
    pub(super) place: usize,
    /// "the base", for the names of its buttons.
    pub(super) name: String,
    pub(super) fields: Vec<Field>,
    pub(super) note: String,
}

/// One side of the main fill, as fields call it.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Side {
    Below,
    Above,
}

impl Side {
    const fn name(self) -> &'static str {
        match self {
            Self::Below => "below",
            Self::Above => "above",
        }
    }

    const fn of(self, document: &mut Document) -> &mut Vec<Stage> {
        match self {
            Self::Below => &mut document.stages.below,
            Self::Above => &mut document.stages.above,
        }
    }
}

pub(super) fn apply(reader: &mut Reader<'_>, document: &mut Document) {
    for side in [Side::Below, Side::Above] {
        let mut stages = std::mem::take(side.of(document));
        for (place, stage) in stages.iter_mut().enumerate() {
            read(reader, &format!("{}-{place}", side.name()), stage);
        }
        *side.of(document) = stages;
    }
    if let Some(flood) = &mut document.stages.flood {
        read_flood(reader, flood);
    }
    if let Some(cracks) = &mut document.stages.cracks
        && reader.entries.get("stage_resin-cracks").is_some()
    {
        read_resin(reader, "stage_resin-cracks", &mut cracks.resin);
        let tint = &mut cracks.tint;
        reader.text("stage_tint-cracks", "The colour", bounds::NAME_CHARACTERS, true, tint);
    }
    if let Some(added) = reader.entries.get("stage_add") {
        add(document, added, reader.system);
    }
    let at = |name: &str| -> Option<(Side, usize)> {
        let (side, place) = reader.entries.get(name)?.split_once('-')?;
        let side = [Side::Below, Side::Above].into_iter().find(|known| known.name() == side)?;
        Some((side, place.parse().ok()?))
    };
    if let Some((side, place)) = at("stage_remove") {
        let stages = side.of(document);
        if place < stages.len() {
            stages.remove(place);
        }
    }
    match reader.entries.get("stage_remove") {
        Some("flood") => document.stages.flood = None,
        Some("cracks") => document.stages.cracks = None,
        _ => {}
    }
    if let Some((side, place)) = at("stage_up") {
        move_up(document, side, place);
    }
    if let Some((side, place)) = at("stage_down") {
        move_down(document, side, place);
    }
}

fn read(reader: &mut Reader<'_>, row: &str, stage: &mut Stage) {
    // A row that another window has added since is not in this form.
    if reader.entries.get(&format!("stage_depth-{row}")).is_none() {
        return;
    }
    reader.choice(&format!("stage_purpose-{row}"), &PURPOSES, &mut stage.purpose);
    reader.quantity(&format!("stage_depth-{row}"), &bounds::STAGE_DEPTH, &mut stage.depth);
    read_resin(reader, &format!("stage_resin-{row}"), &mut stage.resin);
    let name = format!("stage_tint-{row}");
    reader.text(&name, "The colour", bounds::NAME_CHARACTERS, true, &mut stage.tint);
}

fn read_flood(reader: &mut Reader<'_>, flood: &mut Flood) {
    if reader.entries.get("stage_depth-flood").is_none() {
        return;
    }
    reader.quantity("stage_depth-flood", &bounds::COAT_THICKNESS, &mut flood.thickness);
    reader.percent("stage_run_off", &bounds::RUN_OFF_PERCENT, &mut flood.run_off_ratio);
    let mut hours = flood.finishing.h();
    reader.number("stage_finishing", &bounds::FINISHING_HOURS, &mut hours);
    flood.finishing = Span::from_h(hours);
    read_resin(reader, "stage_resin-flood", &mut flood.resin);
    let tint = &mut flood.tint;
    reader.text("stage_tint-flood", "The colour", bounds::NAME_CHARACTERS, true, tint);
}

fn read_resin(reader: &Reader<'_>, name: &str, resin: &mut Option<ResinId>) {
    if let Some(chosen) = reader.entries.get(name) {
        *resin = (!chosen.is_empty()).then(|| ResinId(chosen.to_owned()));
    }
}

/// A new stage where one begins: next to the main fill.
fn add(document: &mut Document, what: &str, units: UnitSystem) {
    let stage = |purpose| {
        let begun = Stage::begin(purpose);
        Stage { depth: units.rounded(begun.depth), ..begun }
    };
    let coating = Some(ResinId(shipped::COATING.into())).filter(|id| *id != document.resin);
    match what {
        "below" => document.stages.below.push(stage(Purpose::Base)),
        "inclusions" => document.stages.below.push(stage(Purpose::Inclusions)),
        "above" => document.stages.above.insert(0, stage(Purpose::Top)),
        "cracks" => document.stages.cracks = Some(CracksFirst::default()),
        "flood" if document.stages.flood.is_none() => {
            let begun = Flood::begin(coating);
            let thickness = units.rounded(begun.thickness);
            document.stages.flood = Some(Flood { thickness, ..begun });
        }
        _ => {}
    }
}

/// Towards the top, past the main fill where there is nothing else above it.
fn move_up(document: &mut Document, side: Side, place: usize) {
    let stages = side.of(document);
    if place + 1 < stages.len() {
        stages.swap(place, place + 1);
    } else if side == Side::Below && place < stages.len() {
        let stage = stages.remove(place);
        let purpose = if stage.purpose == Purpose::Base { Purpose::Top } else { stage.purpose };
        document.stages.above.insert(0, Stage { purpose, ..stage });
    }
}

/// Towards the floor, past the main fill where there is nothing else under it.
fn move_down(document: &mut Document, side: Side, place: usize) {
    let stages = side.of(document);
    if place >= stages.len() {
        return;
    }
    if place > 0 {
        stages.swap(place, place - 1);
    } else if side == Side::Above {
        let stage = stages.remove(0);
        let purpose = if stage.purpose == Purpose::Top { Purpose::Base } else { stage.purpose };
        document.stages.below.push(Stage { purpose, ..stage });
    }
}

/// The field of a conflict that only the document's own check finds.
pub(super) fn field_of(conflict: &Conflict) -> Option<String> {
    let found = matches!(conflict, Conflict::Stages(_));
    found.then(|| "stages".to_owned())
}

/// What colours a layer, in the maker's words; `None` for one that is no stage.
pub(super) fn tint(document: &Document, kind: LayerKind) -> Option<&str> {
    let LayerKind::Stage(purpose, number) = kind else { return None };
    let stages = &document.stages;
    match purpose {
        Purpose::Flood => return stages.flood.as_ref().map(|flood| flood.tint.as_str()),
        Purpose::Cracks => return stages.cracks.as_ref().map(|cracks| cracks.tint.as_str()),
        Purpose::Base | Purpose::Inclusions | Purpose::Top => {}
    }
    let mut alike = stages.in_form().filter(|stage| stage.purpose == purpose);
    alike.nth(usize::from(number).checked_sub(1)?).map(|stage| stage.tint.as_str())
}

impl StagesView {
    pub(super) fn new(asked: &Asked<'_>) -> Self {
        let (document, fields) = (asked.document, asked.fields());
        let stages = &document.stages;
        let rows = |side: Side, all: &[Stage]| -> Vec<StageRow> {
            let row = |(place, stage): (usize, &Stage)| row(asked, &fields, (side, place), stage);
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
    }
}

fn cracks_row(asked: &Asked<'_>, fields: &Fields<'_>, cracks: &CracksFirst) -> StageRow {
    let volume = asked.measured().stages.cracks.map(|cracks| cracks.volume).unwrap_or_default();
    StageRow {
        place: 0,
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
    }
}

fn flood_row(asked: &Asked<'_>, fields: &Fields<'_>, flood: &Flood) -> StageRow {
    let (hours, run_off) = (flood.finishing.h(), flood.run_off_ratio * 100.0);
    StageRow {
        place: 0,
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::river_top;
    use crate::ui::entries::Entries;
    use fondant_quantities::units::UnitSystem;

    fn applied(document: &mut Document, fields: &[(&str, &str)]) -> String {
        let pairs = fields.iter().map(|(n, v)| ((*n).to_owned(), (*v).to_owned())).collect();
        let entries = Entries::new(pairs);
        let mut reader = Reader::new(&entries, UnitSystem::Metric);
        apply(&mut reader, document);
        reader.refusals.of("stage_depth-below-0")
    }

    #[test]
    fn a_stage_is_added_typed_moved_past_the_main_fill_and_removed() {
        let mut document = river_top();
        applied(&mut document, &[("stage_add", "below")]);
        let typed = [
            ("stage_depth-below-0", "4"),
            ("stage_purpose-below-0", "base"),
            ("stage_resin-below-0", shipped::COATING),
            ("stage_tint-below-0", "petrol"),
        ];
        assert_eq!(applied(&mut document, &typed), "");
        let base = document.stages.below[0].clone();
        assert!((base.depth.mm() - 4.0).abs() < 1e-9 && base.tint == "petrol");
        assert_eq!(base.resin, Some(ResinId(shipped::COATING.into())));
        // What is refused keeps what was there.
        let said = applied(&mut document, &[("stage_depth-below-0", "900"), typed[3]]);
        assert!(said.contains("too much") && document.stages.below[0] == base, "{said}");

        applied(&mut document, &[("stage_up", "below-0")]);
        assert!(document.stages.below.is_empty());
        assert_eq!(document.stages.above, [Stage { purpose: Purpose::Top, ..base.clone() }]);
        applied(&mut document, &[("stage_add", "above")]);
        applied(&mut document, &[("stage_up", "above-0")]);
        assert_eq!(document.stages.above[0].tint, "petrol");
        applied(&mut document, &[("stage_down", "above-0")]);
        assert_eq!(document.stages.below, [base]);
        applied(&mut document, &[("stage_remove", "below-0"), ("stage_remove", "below-7")]);
        assert!(document.stages.below.is_empty());
        applied(&mut document, &[("stage_add", "flood")]);
        assert_eq!(
            document.stages.flood.as_ref().unwrap().resin.as_ref().unwrap().0,
            shipped::COATING
        );
        applied(&mut document, &[("stage_remove", "flood")]);
        assert!(document.stages.flood.is_none());
    }

    #[test]
    fn places_that_are_not_there_change_nothing() {
        let mut document = river_top();
        document.stages.below = vec![Stage::begin(Purpose::Base)];
        let before = document.clone();
        for said in ["below-1", "above-0", "below-", "side-0", "below-99999999999999999999", ""] {
            for act in ["stage_up", "stage_down", "stage_remove"] {
                let is_real = act == "stage_down" && said == "below-0";
                applied(&mut document, &[(act, said)]);
                assert!(is_real || document == before, "{act} {said}");
            }
        }
        applied(&mut document, &[("stage_down", "below-0")]);
        assert_eq!(document, before, "the lowest goes no lower");
    }
}
