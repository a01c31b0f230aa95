//! Station 2 of a river: the boards, their outlines or the river between them
//! by stations.
//!
//! - [`outlines`]: outlines as text, and the drawing that is dragged
//! - [`stations`]: the table of widths

mod outlines;
mod stations;

use askama::Template;
use fondant_cast::{Conflict, Plan, Shaping};
use fondant_quantities::units::{UnitSystem, trimmed};
use fondant_quantities::{Length, bounds};
use fondant_shapes::timber::{Board, DRY_ENOUGH_PERCENT, RiverError};

use super::contents::{cavities, objects};
use super::{Asked, List};
use crate::drawings::section::{self, Extent};
use crate::drawings::{WIDE, both, plan_view};
use crate::entries::Reader;
use crate::views::fields::{Field, Fields};
use crate::views::figure::Figure;
use crate::views::format::Shown;
use crate::views::rail::Station;
use stations::StationRow;

pub(in crate::routes) use outlines::ring_text;

/// Longest name of a timber, characters.
const TIMBER_CHARACTERS: usize = 30;

#[derive(Template)]
#[template(path = "stations/timber.html")]
struct TimberBody {
    cast: i64,
    title: &'static str,
    refusal: String,
    by_outlines: bool,
    /// The drawing by stations.
    drawing: String,
    /// What the drawing by outlines is made from, as JSON.
    editor: String,
    unit: &'static str,
    cut: String,
    section: String,
    section_caption: String,
    rows: Vec<StationRow>,
    tolerance: Field,
    point_tolerance: Field,
    boards: Vec<BoardItem>,
    is_guess: bool,
    figures: Vec<Figure>,
    /// Knots and cracks in the boards, objects in the river.
    lists: [List; 2],
    damp: String,
}

/// One board of the list.
struct BoardItem {
    number: String,
    title: String,
    fields: Vec<Field>,
    outline: Field,
    bevels: Field,
    lower: Field,
    can_go: bool,
}

pub(super) fn apply(reader: &mut Reader<'_>, plan: &mut Plan) {
    let numbers = reader.rows("board");
    let kept = std::mem::take(&mut plan.timber.boards);
    let by_outlines = plan.timber.shaping == Shaping::Outlines;
    for number in &numbers {
        let before = number.parse().ok().and_then(|i: usize| kept.get(i).cloned());
        let mut board = before.unwrap_or_else(|| {
            // A new board is like the first, but nobody has put it on the scale.
            let like = kept.first().cloned();
            let like = like.unwrap_or_else(|| Board::usual(plan.piece.thickness));
            Board { weighed: None, ..like }
        });
        apply_board(reader, number, &mut board);
        if by_outlines {
            outlines::apply(reader, number, &mut board);
        }
        plan.timber.boards.push(board);
    }
    if by_outlines {
        let tolerance = &mut plan.timber.point_tolerance;
        reader.quantity("points_tolerance", &bounds::TAPE_TOLERANCE, tolerance);
    } else {
        reader.quantity("tape", &bounds::TAPE_TOLERANCE, &mut plan.river.tape_tolerance);
        stations::apply(reader, plan);
    }
    cavities::apply_list(reader, plan);
    objects::apply(reader, plan);
    match reader.entries.get("reshape") {
        Some("outlines") => {
            if plan.timber.boards.iter().any(|b| b.shape.is_none()) {
                plan.outlines_from_stations();
            }
            plan.timber.shaping = Shaping::Outlines;
        }
        Some("stations") => plan.timber.shaping = Shaping::Stations,
        _ => {}
    }
}

fn apply_board(reader: &mut Reader<'_>, number: &str, board: &mut Board) {
    let name = |field: &str| format!("{field}-{number}");
    reader.text(&name("b_timber"), "The timber", TIMBER_CHARACTERS, true, &mut board.timber);
    reader.quantity(&name("b_thickness"), &bounds::BOARD_THICKNESS, &mut board.thickness);
    reader.quantity(&name("b_density"), &bounds::TIMBER_DENSITY, &mut board.density);
    reader.number(
        &name("b_moisture"),
        &bounds::TIMBER_MOISTURE_PERCENT,
        &mut board.moisture_percent,
    );
    reader.number(&name("b_absorbs"), &bounds::ABSORPTION_ML_M2, &mut board.absorption_ml_m2);
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
        Conflict::BoardsTooThin { .. } => "b_thickness-0".to_owned(),
        Conflict::InsertTooTall { insert, .. } => format!("ins_above-{insert}"),
        Conflict::InsertTooWide { insert } => format!("ins_a-{insert}"),
        _ => String::new(),
    }
}

pub(super) fn body(asked: &Asked<'_>) -> askama::Result<String> {
    let (plan, shown) = (asked.plan, asked.shop.shown);
    let by_outlines = plan.timber.shaping == Shaping::Outlines;
    let fields = asked.fields();
    let link = format!("{}?section=", asked.address(Station::Timber));
    let mut view = asked.plan_view(&link);
    view.boards = plan
        .timber
        .boards
        .iter()
        .enumerate()
        .map(|(index, board)| described(&board_name(plan, index), board, shown))
        .collect();
    view.here = asked.station().unwrap_or(usize::MAX);
    let cut = asked.section();
    TimberBody {
        cast: asked.cast.0,
        title: if by_outlines { "How do the boards lie?" } else { "Where does the resin run?" },
        refusal: asked.refusal(),
        by_outlines,
        drawing: if by_outlines {
            String::new()
        } else {
            both(WIDE, |frame| plan_view::draw(&view, frame))
        },
        editor: if by_outlines { outlines::editor(asked) } else { String::new() },
        unit: match shown.system {
            UnitSystem::Metric => "mm",
            UnitSystem::UsCustomary => "in",
        },
        section: both(WIDE, |frame| section::draw(&cut, Extent::Whole, frame)),
        section_caption: caption(asked, cut.at),
        cut: trimmed(cut.at.mm(), 2),
        rows: if by_outlines { Vec::new() } else { stations::rows(asked, &fields) },
        tolerance: fields.length("tape", "The tape may be off by ±", plan.river.tape_tolerance),
        point_tolerance: fields.length(
            "points_tolerance",
            "A point may be off by ±",
            plan.timber.point_tolerance,
        ),
        boards: boards(asked, &fields, by_outlines),
        is_guess: plan.river_is_guess(),
        figures: figures(asked),
        lists: [cavities::list(asked), objects::list(asked)],
        damp: damp(plan),
    }
    .render()
}

fn caption(asked: &Asked<'_>, at: Length) -> String {
    let at = asked.shop.shown.length(at);
    match asked.station() {
        Some(index) => {
            format!("Section at station {}, {at} from the left end, to scale", index + 1)
        }
        None => format!("Section {at} from the left end, to scale"),
    }
}

fn board_name(plan: &Plan, index: usize) -> String {
    match (plan.timber.shaping, index) {
        (Shaping::Stations, 0) => "near board".to_owned(),
        (Shaping::Stations, 1) => "far board".to_owned(),
        _ => format!("board {}", index + 1),
    }
}

fn described(place: &str, board: &Board, shown: Shown) -> String {
    let thickness = shown.length(board.thickness);
    if board.timber.is_empty() {
        format!("{place}, {thickness}")
    } else {
        format!("{place}, {}, {thickness}", board.timber)
    }
}

fn boards(asked: &Asked<'_>, fields: &Fields<'_>, by_outlines: bool) -> Vec<BoardItem> {
    let plan = asked.plan;
    let numbers = asked.rows("board", plan.timber.boards.len());
    let usual = Board::usual(plan.piece.thickness);
    let count = numbers.len();
    numbers
        .into_iter()
        .enumerate()
        .map(|(index, number)| {
            let kept = number.parse().ok().and_then(|i: usize| plan.timber.boards.get(i));
            let board = kept.unwrap_or(&usual);
            let mut title = board_name(plan, index);
            title[..1].make_ascii_uppercase();
            let [outline, bevels, lower] = outlines::fields(fields, &number, board);
            BoardItem {
                title,
                fields: board_fields(fields, &number, board),
                outline,
                bevels,
                lower,
                can_go: by_outlines && count > 1,
                number,
            }
        })
        .collect()
}

fn board_fields(fields: &Fields<'_>, number: &str, board: &Board) -> Vec<Field> {
    let name = |field: &str| format!("{field}-{number}");
    vec![
        fields.text(&name("b_timber"), "Timber", &board.timber),
        fields.length(&name("b_thickness"), "Thickness", board.thickness),
        fields.density(&name("b_density"), "Density", board.density),
        fields.number(
            &name("b_moisture"),
            "Moisture",
            board.moisture_percent,
            &bounds::TIMBER_MOISTURE_PERCENT,
        ),
        fields.number(
            &name("b_absorbs"),
            "Bare edge drinks",
            board.absorption_ml_m2,
            &bounds::ABSORPTION_ML_M2,
        ),
    ]
}

fn figures(asked: &Asked<'_>) -> Vec<Figure> {
    let shown = asked.shop.shown;
    let Some(river) = &asked.measured().river else {
        return vec![covered(asked)];
    };
    vec![
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
        .note("Stations closer together where the edge swings tell more than many where it is straight."),
    ]
}

/// Timber in the form, by its outlines.
fn covered(asked: &Asked<'_>) -> Figure {
    let (measured, shown) = (asked.measured(), asked.shop.shown);
    let timber = measured.sunk.iter().map(|s| s.volume).sum();
    let marks: usize = measured.trim_marks.iter().map(Vec::len).sum();
    let mut figure = Figure::new(
        "timber",
        shown.volume(timber),
        "of timber in the form".into(),
        "What the boards take up",
    )
    .formula("Σ (A below + 4 A middle + A above) ÷ 6 × thickness".into())
    .note("Areas by Gauss's formula; sloping edges run straight from the underside to the upper face.")
    .note("Only what lies inside the walls counts: the rest is sawn off.");
    if marks > 0 {
        figure = figure.note(format!("{marks} saw marks where boards cross the walls."));
    }
    figure
}

fn damp(plan: &Plan) -> String {
    let damp: Vec<_> = plan
        .timber
        .boards
        .iter()
        .enumerate()
        .filter(|(_, board)| !board.is_dry())
        .map(|(index, board)| {
            let moisture = trimmed(board.moisture_percent, 1);
            format!("the {} is at {moisture} %", board_name(plan, index))
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
