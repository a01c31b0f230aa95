//! Cavities of a board: their sizes, their shapes, the order of filling.

use fondant_cast::Kind;
use fondant_cast::document::Inlay;
use fondant_quantities::units::UnitSystem;
use fondant_quantities::{Length, bounds};
use fondant_shapes::timber::cavity::fill_order;
use fondant_shapes::timber::{Board, Cavity, CavityShape};

use super::inside::Inside;
use crate::pages::stations::asked::Asked;
use crate::ui::figure::Figure;
use crate::ui::group::{Group, List, ListRow};
use crate::ui::reader::Reader;

/// Longest name of a cavity, characters.
const NAME_CHARACTERS: usize = 30;

/// Shapes by their names in the form and in words.
const SHAPES: [(&str, &str, CavityShape); 6] = [
    ("knot", "knot, a bowl", CavityShape::Knot),
    ("crack", "crack, a wedge", CavityShape::Crack),
    ("pocket", "pocket, square", CavityShape::Pocket),
    ("channel", "channel, square", CavityShape::Channel),
    ("round_channel", "channel, round", CavityShape::RoundChannel),
    ("bore", "bored hole", CavityShape::Bore),
];

/// Reads the list; a button adds the first one to an empty list.
pub(crate) fn apply_list(reader: &mut Reader<'_>, cavities: &mut Vec<Cavity>, board: Length) {
    let numbers = reader.rows("cav");
    *cavities = numbers.iter().map(|number| read(reader, number, board)).collect();
    if reader.entries.get("add") == Some("cav") {
        cavities.push(fresh(reader.system, board));
    }
}

/// A pocket to be typed over, in a board of a thickness.
fn fresh(units: UnitSystem, board: Length) -> Cavity {
    let mm = |mm: f64| units.rounded(Length::from_mm(mm));
    Cavity {
        name: String::new(),
        count: 1,
        shape: CavityShape::Pocket,
        length: mm(50.0),
        width: mm(20.0),
        depth: units.rounded(Length::from_mm(10.0).min(board * 0.5)).max(bounds::CAVITY_SIDE.min),
        is_through: false,
    }
}

pub(super) fn apply(reader: &mut Reader<'_>, inlay: &mut Inlay) {
    apply_list(reader, &mut inlay.cavities, inlay.board.thickness);
    let board = &mut inlay.board;
    reader.quantity("absorption", &bounds::ABSORPTION, &mut board.absorption);
    reader.number("moisture", &bounds::TIMBER_MOISTURE_PERCENT, &mut board.moisture_percent);
}

fn read(reader: &mut Reader<'_>, number: &str, board: Length) -> Cavity {
    let is_through = reader.entries.get(&format!("cav_through-{number}")).is_some();
    let mut cavity = Cavity { is_through, ..fresh(reader.system, board) };
    let name = |field: &str| format!("{field}-{number}");
    reader.text(&name("cav_name"), "The name", NAME_CHARACTERS, true, &mut cavity.name);
    reader.count(&name("cav_count"), &bounds::COUNT, &mut cavity.count);
    let shapes = SHAPES.map(|(name, _, shape)| (name, shape));
    reader.choice(&name("cav_shape"), &shapes, &mut cavity.shape);
    reader.quantity(&name("cav_length"), &bounds::CAVITY_SIDE, &mut cavity.length);
    reader.quantity(&name("cav_width"), &bounds::CAVITY_SIDE, &mut cavity.width);
    reader.quantity(&name("cav_depth"), &bounds::CAVITY_SIDE, &mut cavity.depth);
    cavity
}

/// The list of cavities, for a board with inlay and for knots in river boards.
pub(crate) fn list(asked: &Asked<'_>, cavities: &[Cavity]) -> List {
    let (fields, shown) = (asked.fields(), asked.shown);
    let fresh = fresh(shown.system, asked.document.piece.thickness);
    let shapes = SHAPES.map(|(name, words, _)| (name, words));
    let rows = asked.rows("cav", cavities.len());
    let rows = rows.into_iter().map(|number| {
        let kept = number.parse().ok().and_then(|i: usize| cavities.get(i));
        let c = kept.unwrap_or(&fresh);
        let name = |field: &str| format!("{field}-{number}");
        let shape = SHAPES.iter().find(|s| s.2 == c.shape).map_or("pocket", |s| s.0);
        ListRow {
            fields: vec![
                fields.text(&name("cav_name"), "What", &c.name),
                fields.choice(&name("cav_shape"), "Shape", shape, &shapes),
                fields.number(&name("cav_count"), "How many", f64::from(c.count), &bounds::COUNT),
                fields.tick(&name("cav_through"), "right through", c.is_through),
                fields.length(&name("cav_length"), "Length", c.length),
                fields.length(&name("cav_width"), "Width", c.width),
                fields.length(&name("cav_depth"), "Depth", c.depth),
            ],
            note: format!(
                "{} each, {} of its box",
                shown.volume(c.volume()),
                fondant_quantities::units::trimmed(c.shape.factor(), 2)
            ),
            number,
        }
    });
    List {
        name: "cav",
        title: "Cavities",
        why:
            "Length, width and depth at the largest; the shape says how much of that box is hollow."
                .to_owned(),
        one: "cavity",
        rows: rows.collect(),
        may_be_empty: asked.document.kind() != Kind::Inlay,
    }
}

pub(super) fn inside(asked: &Asked<'_>, inlay: &Inlay) -> Inside {
    let shown = asked.shown;
    let board = &inlay.board;
    let total = inlay.cavities.iter().map(Cavity::volume_of_all).sum();
    let mut troubles = Vec::new();
    if !board.is_dry() {
        troubles.push(
            "Too damp to cast: above 12\u{202f}% timber bubbles, blooms and moves under the resin. Dry it first."
                .to_owned(),
        );
    }
    Inside {
        title: "What is hollow in it?",
        list: Some(list(asked, &inlay.cavities)),
        groups: vec![timber(asked, board)],
        figures: vec![
            Figure::new("hollow", shown.volume(total), "hollow in all".into(), "All cavities together")
                .formula("Σ count × length × width × depth × shape".into())
                .note("Shape: 1 for square pockets, π/4 for bores and round channels, ½ for cracks that close with depth, π/8 for bowls.")
                .note("The volume of a cavity that is not a box is taken as known to ±20\u{202f}%."),
        ],
        notes: vec![("Fill in this order", order(&inlay.cavities)), (
            "Top up",
            "Timber absorbs resin: look again after an hour and over the next two days, and keep a little \
             mix for it. Fill proud, let it cure hard, then machine it off."
                .to_owned(),
        )],
        troubles,
        cares: vec![
            "Tape what goes right through from below, fill it from the underside first in small \
             mixes, and turn the board only when that is hard."
                .to_owned(),
        ],
        ..Inside::default()
    }
}

/// What the timber absorbs, and how damp it is.
fn timber(asked: &Asked<'_>, board: &Board) -> Group {
    let fields = asked.fields();
    let usual = match asked.shown.system {
        UnitSystem::Metric => "50 for dense timber, 300 for soft or spalted, 0 once sealed.",
        UnitSystem::UsCustomary => {
            "0.16 for dense timber, 0.94 for soft or spalted, 0 once sealed."
        }
    };
    let (label, damp) = ("Absorbed by bare timber", &bounds::TIMBER_MOISTURE_PERCENT);
    Group::new(
        "The timber",
        vec![
            fields.quantity("absorption", label, board.absorption).hint(usual),
            fields.number("moisture", "Moisture", board.moisture_percent, damp),
        ],
    )
}

fn order(cavities: &[Cavity]) -> String {
    let named: Vec<String> = fill_order(cavities)
        .into_iter()
        .enumerate()
        .map(|(place, index)| {
            let c = &cavities[index];
            let name =
                if c.name.is_empty() { format!("cavity {}", index + 1) } else { c.name.clone() };
            let side = if c.is_through { ", from the underside" } else { "" };
            format!("{}. {name}{side}", place + 1)
        })
        .collect();
    named.join("; ")
}
