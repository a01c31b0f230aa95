//! Pours beside the main fill: under it, over it, and over the finished face.

use fondant_cast::document::{CracksFirst, Flood, Stage};
use fondant_cast::{Conflict, Document};
use fondant_materials::resin::{ResinId, shipped};
use fondant_pours::layers::{LayerKind, Purpose};
use fondant_quantities::units::UnitSystem;
use fondant_quantities::{Span, bounds};

use crate::ui::reader::Reader;

/// Purposes of pours in the form, by their names in the form.
pub(super) const PURPOSES: [(&str, Purpose); 3] =
    [("base", Purpose::Base), ("inclusions", Purpose::Inclusions), ("top", Purpose::Top)];

/// One side of the main fill, as fields call it.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(super) enum Side {
    Below,
    Above,
}

impl Side {
    pub(super) const fn name(self) -> &'static str {
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
