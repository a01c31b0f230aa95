//! Blanks sawn from a block.

use fondant_bench::bucket::Mixed;
use fondant_bench::run::Cup;
use fondant_bench::swirl::join;
use fondant_cast::document::{Block, Colour, Swirl};
use fondant_pours::ScheduledPour;
use fondant_pours::layers::LayerKind;
use fondant_quantities::units::trimmed;
use fondant_quantities::{Length, bounds};
use fondant_shapes::blanks::cutting::{Layout, Row, Side, lay_out};
use fondant_shapes::form::CastSize;

use super::inside::Inside;
use crate::drawings::blanks;
use crate::pages::stations::asked::Asked;
use crate::svg::{WIDE, both};
use crate::ui::figure::Figure;
use crate::ui::group::{Group, List, ListRow};
use crate::ui::numbers::{span, with_unit};
use crate::ui::reader::Reader;
use crate::ui::units::Shown;
use crate::words::layers;

pub(super) fn apply(reader: &mut Reader<'_>, block: &mut Block) {
    let cutting = &mut block.cutting;
    reader.quantity("blank_length", &bounds::BLANK_SIDE, &mut cutting.length);
    reader.quantity("blank_width", &bounds::BLANK_SIDE, &mut cutting.width);
    reader.quantity("blank_height", &bounds::BLANK_SIDE, &mut cutting.height);
    reader.quantity("kerf", &bounds::KERF, &mut cutting.kerf);
    reader.quantity("blank_squaring", &bounds::FLATTENING, &mut cutting.squaring);
    let numbers = reader.rows("col");
    block.swirl.colours = numbers.iter().map(|number| read_colour(reader, number)).collect();
    if reader.entries.get("add") == Some("col") {
        let name = format!("colour {}", block.swirl.colours.len() + 1);
        block.swirl.colours.push(Colour { name, parts: 1.0 });
    }
    // Asked for only where there are colours to join.
    if reader.entries.get("join").is_some() {
        reader.quantity("join", &bounds::JOIN_TEMPERATURE, &mut block.swirl.join);
    }
}

fn read_colour(reader: &mut Reader<'_>, number: &str) -> Colour {
    let mut colour = Colour { name: String::new(), parts: 1.0 };
    let name = format!("col_name-{number}");
    reader.text(&name, "The colour", bounds::NAME_CHARACTERS, false, &mut colour.name);
    reader.number(&format!("col_parts-{number}"), &bounds::COLOUR_PARTS, &mut colour.parts);
    colour
}

/// The deepest pour of the main fill: its cups are the largest that the bench will mix.
fn main_pour<'a>(asked: &'a Asked<'_>) -> Option<&'a ScheduledPour> {
    let pours = &asked.evaluation.pours.as_ref().ok()?.pours;
    let is_main = |pour: &&ScheduledPour| matches!(pour.layer.kind, LayerKind::Main(_));
    pours.iter().filter(is_main).max_by(|a, b| a.mixed.m3().total_cmp(&b.mixed.m3()))
}

/// The cups that the bench will mix, and when each is warm enough to be joined, by the resin as it is
/// planned.
fn cups(asked: &Asked<'_>) -> Option<(&'static str, String)> {
    let (conditions, pour, shown) = (&asked.document.conditions, main_pour(asked)?, asked.shown);
    let resin = &asked.evaluation.need_of(&pour.layer).resin;
    let (cups, warm) = fondant_bench::cups(asked.document, pour, resin).ok()?;
    let warm = warm?;
    let told = |cup: &Cup| {
        let mixed = Mixed { mass: cup.mass, at: conditions.resin, air: conditions.air };
        let way = join(resin, mixed, 1.0, warm).ok()?;
        let when = match way.reaches {
            Some(reaches) => format!("after {}", span(reaches)),
            None => format!("never, {} at most", shown.temperature(way.warmest)),
        };
        Some(format!("{}, {}, {when}", cup.colour, shown.weighed(cup.mass)))
    };
    let all: Vec<String> = cups.iter().filter_map(told).collect();
    let layer = layers::name(pour.layer.kind);
    let says = format!("Cups for {layer} at {}: {}.", shown.temperature(warm), all.join("; "));
    Some(("Warm enough to join", says))
}

/// Colours with cups of their own.
fn colours(asked: &Asked<'_>, swirl: &Swirl) -> List {
    let fields = asked.fields();
    let shares: Vec<f64> = swirl.shares().map(|(_, share)| share).collect();
    let fresh = Colour { name: String::new(), parts: 1.0 };
    let row = |number: String| {
        let place: Option<usize> = number.parse().ok();
        let colour = place.and_then(|place| swirl.colours.get(place)).unwrap_or(&fresh);
        let share = place.and_then(|place| shares.get(place));
        ListRow {
            fields: vec![
                fields.text(&format!("col_name-{number}"), "Colour", &colour.name),
                fields.number(
                    &format!("col_parts-{number}"),
                    "Parts",
                    colour.parts,
                    &bounds::COLOUR_PARTS,
                ),
            ],
            note: share
                .map_or_else(String::new, |share| with_unit(&trimmed(share * 100.0, 1), "%")),
            number,
        }
    };
    List {
        name: "col",
        title: "Colours",
        why: "Each has a cup of its own at the bench. None for a block of one colour.".to_owned(),
        one: "colour",
        rows: asked.rows("col", swirl.colours.len()).into_iter().map(row).collect(),
        may_be_empty: true,
    }
}

pub(super) fn inside(asked: &Asked<'_>, block: &Block) -> Inside {
    let (fields, shown) = (asked.fields(), asked.shown);
    let (cast, cutting) = (CastSize::of(&asked.document.piece), &block.cutting);
    let sides = [cast.length, cast.width, cast.thickness];
    let layout = lay_out(sides, cutting);
    let squaring = fields
        .length("blank_squaring", "Off each face first", cutting.squaring)
        .hint("To square the block before it is divided.");
    let mut groups = vec![Group::new(
        "One blank",
        vec![
            fields.length("blank_length", "Length", cutting.length),
            fields.length("blank_width", "Width", cutting.width),
            fields.length("blank_height", "Height", cutting.height),
            fields.length("kerf", "Saw cut", cutting.kerf),
            squaring,
        ],
    )];
    if !asked.document.cups().is_empty() {
        let join = fields
            .temperature("join", "Joined at", block.swirl.join)
            .hint("How warm the cups are then: later for crisp edges, too late makes lumps.");
        groups.push(Group::new("Joining the colours", vec![join]));
    }
    Inside {
        title: "What will be sawn from it?",
        list: Some(colours(asked, &block.swirl)),
        groups,
        drawing: both(WIDE, |frame| blanks::cutting(&layout, sides, cutting, shown, frame)),
        caption: "The block from above and from its end, to scale: set the fence by the cuts; what is pale is left \
             over".into(),
        figures: vec![yielded(&layout)],
        notes: notes(&layout, shown).into_iter().chain(cups(asked)).collect(),
        cares: vec![
            "Colours are kept in separate cups and joined when they have begun to thicken: later for \
             crisp edges, too late makes lumps."
                .into(),
            "Saw hot or fresh resin in several light passes; it softens near its glass temperature. \
             Eyes, ears and a dust mask."
                .into(),
        ],
        ..Inside::default()
    }
}

/// How many blanks there are.
fn yielded(layout: &Layout) -> Figure {
    let [along, across, up] = layout.rows.map(|row| row.count);
    let used = trimmed(layout.used_ratio * 100.0, 0);
    Figure::new(
        "blanks",
        layout.count().to_string(),
        format!("blanks, {used}\u{202f}% of the block"),
        "How many blanks the block yields",
    )
    .formula(format!(
        "⌊(side − 2 × squaring + kerf) ÷ (blank + kerf)⌋ each way\n= {along} × {across} × {up}"
    ))
    .note(
        "The best of the six ways to turn the blank; of equal ones, the longest offcut in one \
         piece.",
    )
}

fn notes(layout: &Layout, shown: Shown) -> Vec<(&'static str, String)> {
    let row = |(way, row): (&str, Row)| {
        let pitch = match row.count {
            0 | 1 => String::new(),
            _ => format!(" {} from cut to cut,", shown.length(row.pitch)),
        };
        let (size, over) = (shown.length(row.size), shown.length(row.offcut));
        let largest = match row.count {
            0 => String::new(),
            _ => format!(", or each up to {}", shown.length_cautious(row.largest)),
        };
        format!("{way}: {} of {size},{pitch} {over} over{largest}", row.count)
    };
    let [along, across, up] = layout.rows;
    let rows = [("Along", along), ("Across", across), ("Up", up)].map(row).join(".\n");
    let mut notes = vec![("Saw at this pitch", format!("{rows}."))];
    if let Some(less) = layout.one_mm_less {
        let side = match less.side {
            Side::Length => "length",
            Side::Width => "width",
            Side::Height => "height",
        };
        let says = format!(
            "{} less on the blank's {side} yields {} instead of {}.",
            shown.length_fine(Length::from_mm(1.0)),
            less.count,
            layout.count()
        );
        notes.push(("A little less", says));
    }
    notes
}
