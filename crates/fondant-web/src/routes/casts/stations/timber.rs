//! Station 2: the boards, and the river between them by stations.

use askama::Template;
use fondant_core::plan::{Conflict, Plan};
use fondant_core::quantities::{Length, bounds};
use fondant_core::timber::{Board, DRY_ENOUGH_PERCENT, RiverError, Station as Measured};

use super::Asked;
use crate::drawings::plan_view::{self, PlanView};
use crate::drawings::section::{self, Extent};
use crate::drawings::{WIDE, both};
use crate::entries::Reader;
use crate::views::fields::{Field, Fields};
use crate::views::figure::Figure;
use crate::views::format::Shown;
use crate::views::rail::Station;

/// Longest name of a timber, characters.
const TIMBER_CHARACTERS: usize = 30;

#[derive(Template)]
#[template(path = "stations/timber.html")]
struct TimberBody {
    title: String,
    refusal: String,
    drawing: String,
    section: String,
    section_caption: String,
    rows: Vec<StationRow>,
    tolerance: Field,
    boards: Vec<BoardFields>,
    is_guess: bool,
    mean: Figure,
    damp: String,
}

struct BoardFields {
    title: &'static str,
    fields: Vec<Field>,
}

/// One row of the table of stations.
struct StationRow {
    is_here: bool,
    cells: Vec<Field>,
}

pub(super) fn apply(reader: &mut Reader<'_>, plan: &mut Plan) {
    apply_board(reader, "near", &mut plan.timber.near);
    apply_board(reader, "far", &mut plan.timber.far);
    reader.quantity("tape", &bounds::TAPE_TOLERANCE, &mut plan.river.tape_tolerance);
    let entries = reader.entries;
    let texts = entries.all("at").zip(entries.all("river")).zip(entries.all("wall"));
    let mut stations = Vec::new();
    for ((at, width), wall) in texts {
        let index = stations.len();
        // A row without a word in it was never measured.
        if [at, width, wall].iter().all(|text| text.trim().is_empty()) {
            continue;
        }
        let mut station = Measured { at: Length::ZERO, width: Length::ZERO, from_wall: None };
        reader.quantity_of(&format!("at-{index}"), at, &bounds::STATION_PLACE, &mut station.at);
        reader.quantity_of(
            &format!("river-{index}"),
            width,
            &bounds::RIVER_WIDTH,
            &mut station.width,
        );
        if !wall.trim().is_empty() {
            let mut from_wall = Length::ZERO;
            reader.quantity_of(
                &format!("wall-{index}"),
                wall,
                &bounds::RIVER_OFFSET,
                &mut from_wall,
            );
            station.from_wall = Some(from_wall);
        }
        stations.push(station);
    }
    plan.river.stations = stations;
}

fn apply_board(reader: &mut Reader<'_>, side: &str, board: &mut Board) {
    let name = |field: &str| format!("{side}_{field}");
    reader.text(&name("timber"), "The timber", TIMBER_CHARACTERS, true, &mut board.timber);
    reader.quantity(&name("thickness"), &bounds::BOARD_THICKNESS, &mut board.thickness);
    reader.quantity(&name("density"), &bounds::TIMBER_DENSITY, &mut board.density);
    reader.number(&name("moisture"), &bounds::TIMBER_MOISTURE_PERCENT, &mut board.moisture_percent);
}

pub(super) fn field_of(conflict: &Conflict) -> String {
    match conflict {
        Conflict::River(error) => match error {
            RiverError::OutOfOrder { index, .. } | RiverError::BeyondForm { index, .. } => {
                format!("at-{index}")
            }
            RiverError::WiderThanForm { index, .. } => format!("river-{index}"),
            RiverError::PastFarWall { index, .. } => format!("wall-{index}"),
            RiverError::TooFew { .. } | RiverError::TooMany { .. } => String::new(),
        },
        Conflict::BoardsTooThin { .. } => "near_thickness".to_owned(),
        Conflict::OutOfBounds(_) | Conflict::NewerSchema { .. } => String::new(),
    }
}

pub(super) fn body(asked: &Asked<'_>) -> askama::Result<String> {
    let (plan, shown) = (asked.plan, asked.shop.shown);
    let river = &asked.evaluation.river;
    let fields = asked.fields();
    let here = asked.cut();
    let link = format!("{}?section=", asked.address(Station::Timber));
    let view = PlanView {
        river,
        boards: [
            described("near board", &plan.timber.near, shown),
            described("far board", &plan.timber.far, shown),
        ],
        here,
        link: &link,
        shown,
    };
    let cut = asked.section();
    let boards =
        [("Near board", "near", &plan.timber.near), ("Far board", "far", &plan.timber.far)];
    TimberBody {
        title: "Where does the resin run?".to_owned(),
        refusal: asked.refusal(),
        drawing: both(WIDE, |frame| plan_view::draw(&view, frame)),
        section: both(WIDE, |frame| section::draw(&cut, Extent::Whole, frame)),
        section_caption: format!(
            "Section at station {}, {} from the left end, to scale",
            here + 1,
            shown.length(river.stations()[here].at)
        ),
        rows: rows(asked, &fields, here),
        tolerance: fields.length("tape", "The tape may be off by ±", plan.river.tape_tolerance),
        boards: boards
            .into_iter()
            .map(|(title, side, board)| BoardFields {
                title,
                fields: board_fields(&fields, side, board),
            })
            .collect(),
        is_guess: plan.river_is_guess(),
        mean: mean(asked),
        damp: damp(plan),
    }
    .render()
}

fn described(place: &str, board: &Board, shown: Shown) -> String {
    let thickness = shown.length(board.thickness);
    if board.timber.is_empty() {
        format!("{place}, {thickness}")
    } else {
        format!("{place}, {}, {thickness}", board.timber)
    }
}

fn board_fields(fields: &Fields<'_>, side: &str, board: &Board) -> Vec<Field> {
    let moisture = fondant_core::quantities::units::trimmed(board.moisture_percent, 1);
    vec![
        fields.text(&format!("{side}_timber"), "Timber", &board.timber),
        fields.length(&format!("{side}_thickness"), "Thickness", board.thickness),
        fields.density(&format!("{side}_density"), "Density", board.density),
        fields.text(&format!("{side}_moisture"), "Moisture", &format!("{moisture} %")),
    ]
}

/// The rows as typed, or as kept.
fn rows(asked: &Asked<'_>, fields: &Fields<'_>, here: usize) -> Vec<StationRow> {
    let shown = asked.shop.shown;
    let cell = |name: &str, index: usize, value: String, other: String| Field {
        name: name.to_owned(),
        label: match name {
            "at" => format!("Station {}, from the left end", index + 1),
            "river" => format!("Station {}, width of the river", index + 1),
            _ => format!("Station {}, from the near wall", index + 1),
        },
        value,
        other,
        refusal: fields.refusals.of(&format!("{name}-{index}")),
        ..Field::default()
    };
    if let Some(typed) = asked.typed.filter(|typed| typed.all("at").next().is_some()) {
        let texts = typed.all("at").zip(typed.all("river")).zip(typed.all("wall"));
        return texts
            .filter(|((at, river), wall)| {
                ![at, river, wall].iter().all(|text| text.trim().is_empty())
            })
            .enumerate()
            .map(|(index, ((at, river), wall))| StationRow {
                is_here: index == here,
                cells: [("at", at), ("river", river), ("wall", wall)]
                    .map(|(name, text)| cell(name, index, text.to_owned(), String::new()))
                    .to_vec(),
            })
            .collect();
    }
    asked
        .plan
        .river
        .stations
        .iter()
        .enumerate()
        .map(|(index, station)| {
            let both = |q: Length| (shown.length_entry(q), shown.other().length(q));
            let (at, at_other) = both(station.at);
            let (width, width_other) = both(station.width);
            let (wall, wall_other) = station.from_wall.map(both).unwrap_or_default();
            StationRow {
                is_here: index == here,
                cells: vec![
                    cell("at", index, at, at_other),
                    cell("river", index, width, width_other),
                    cell("wall", index, wall, wall_other),
                ],
            }
        })
        .collect()
}

fn mean(asked: &Asked<'_>) -> Figure {
    let (river, shown) = (&asked.evaluation.river, asked.shop.shown);
    Figure::new(
        "mean-width",
        shown.length(river.mean_width()),
        "mean width".into(),
        "Mean width of the river",
    )
    .formula(format!(
        "Σ (wᵢ + wᵢ₊₁)/2 × (xᵢ₊₁ − xᵢ) ÷ length, {} stations\n= {}",
        river.stations().len(),
        shown.length(river.mean_width())
    ))
    .note("Straight from station to station; before the first and after the last as wide as there.")
    .note(
        "Stations closer together where the edge swings tell more than many where it is straight.",
    )
}

fn damp(plan: &Plan) -> String {
    let damp: Vec<_> = [("near", &plan.timber.near), ("far", &plan.timber.far)]
        .into_iter()
        .filter(|(_, board)| !board.is_dry())
        .map(|(side, board)| {
            let moisture = fondant_core::quantities::units::trimmed(board.moisture_percent, 1);
            format!("the {side} board is at {moisture} %")
        })
        .collect();
    if damp.is_empty() {
        return String::new();
    }
    format!(
        "Too damp to cast: {}. Above {DRY_ENOUGH_PERCENT} % timber bubbles, blooms and moves under \
         the resin. Dry it first.",
        damp.join(" and ")
    )
}
