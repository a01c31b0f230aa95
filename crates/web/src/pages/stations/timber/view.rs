//! The boards as they are shown.

use askama::Template;
use fondant_app::records::CastId;
use fondant_cast::document::{River, Shaping};
use fondant_cast::measure::Submerged;
use fondant_quantities::units::{UnitSystem, trimmed};
use fondant_quantities::{Length, bounds};
use fondant_shapes::timber::{Board, DRY_ENOUGH_PERCENT};
use fondant_shapes::volume::methods::Method;

use super::backdrop::Backdrop;
use super::widths::StationRow;
use super::{outlines, widths};
use crate::drawings::plan_view;
use crate::drawings::section::{self, Extent};
use crate::pages::stations::asked::Asked;
use crate::pages::stations::contents::{cavities, objects};
use crate::pages::stations::form::ways;
use crate::paths::casts::{Export, Files, Station};
use crate::svg::{Markup, WIDE, both};
use crate::ui::field::{Field, Fields};
use crate::ui::figure::Figure;
use crate::ui::group::List;
use crate::ui::units::Shown;

// Many fields: everything that the page says stands flat beside its template.
#[derive(Template)]
#[template(path = "pages/stations/timber/timber.html")]
struct TimberBody {
    cast: CastId,
    files: Files,
    as_svg: Export,
    as_dxf: Export,
    title: &'static str,
    refusal: String,
    by_outlines: bool,
    by_amounts: bool,
    /// The drawing by stations.
    drawing: Markup,
    /// What the drawing by outlines is made from, as JSON.
    editor: String,
    unit: &'static str,
    cut: String,
    section: Markup,
    section_caption: String,
    rows: Vec<StationRow>,
    tolerance: Field,
    dry_fill: Field,
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

pub(super) fn view(asked: &Asked<'_>, backdrop: Option<&Backdrop>) -> askama::Result<Markup> {
    let (document, shown) = (asked.document, asked.shown);
    let Some(river) = document.contents.river() else { return Ok(Markup::default()) };
    let by_outlines = river.shaping == Shaping::Outlines;
    let fields = asked.fields();
    let link = format!("{}?section=", Station::of(asked.cast, "timber"));
    let mut view = asked.plan_view(&link);
    view.boards = river
        .boards
        .iter()
        .enumerate()
        .map(|(index, board)| described(&board_name(river, index), board, shown))
        .collect();
    view.here = asked.station().unwrap_or(usize::MAX);
    let cut = asked.section();
    let export = |file: &str| Export { cast: asked.cast, file: file.to_owned() };
    Markup::of(&TimberBody {
        cast: asked.cast,
        files: Files { cast: asked.cast },
        as_svg: export("outlines.svg"),
        as_dxf: export("outlines.dxf"),
        title: title(river.shaping),
        refusal: asked.refusal(),
        by_outlines,
        by_amounts: river.shaping == Shaping::Amounts,
        drawing: if by_outlines {
            Markup::default()
        } else {
            both(WIDE, |frame| plan_view::draw(&view, frame))
        },
        editor: if by_outlines { outlines::editor(asked, backdrop) } else { String::new() },
        unit: match shown.system {
            UnitSystem::Metric => "mm",
            UnitSystem::UsCustomary => "in",
        },
        section: both(WIDE, |frame| section::draw(&cut, Extent::Whole, frame)),
        section_caption: caption(asked, cut.at),
        cut: trimmed(cut.at.mm(), 2),
        rows: if river.shaping == Shaping::Stations {
            widths::rows(asked, &river.stations, &fields)
        } else {
            Vec::new()
        },
        dry_fill: ways::dry_fill_field(&fields, river),
        tolerance: fields.length("tape", "The tape may be off by ±", document.tape_tolerance),
        point_tolerance: fields.length(
            "points_tolerance",
            "A point may be off by ±",
            river.point_tolerance,
        ),
        boards: boards(asked, river, &fields),
        is_guess: document.river_is_guess(),
        figures: figures(asked),
        lists: [cavities::list(asked, &river.cavities), objects::list(asked, &river.inserts)],
        damp: damp(river),
    })
}

const fn title(shaping: Shaping) -> &'static str {
    match shaping {
        Shaping::Outlines => "How do the boards lie?",
        Shaping::Stations => "Where does the resin run?",
        Shaping::Amounts => "How much room do the boards leave?",
    }
}

fn caption(asked: &Asked<'_>, at: Length) -> String {
    let at = asked.shown.length(at);
    match asked.station() {
        Some(index) => {
            format!("Section at station {}, {at} from the left end, to scale", index + 1)
        }
        None => format!("Section {at} from the left end, to scale"),
    }
}

fn board_name(river: &River, index: usize) -> String {
    match (river.shaping, index) {
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

fn boards(asked: &Asked<'_>, river: &River, fields: &Fields<'_>) -> Vec<BoardItem> {
    let numbers = asked.rows("board", river.boards.len());
    let usual = Board::usual(asked.document.piece.thickness);
    let count = numbers.len();
    numbers
        .into_iter()
        .enumerate()
        .map(|(index, number)| {
            let kept = number.parse().ok().and_then(|i: usize| river.boards.get(i));
            let board = kept.unwrap_or(&usual);
            let mut title = board_name(river, index);
            title[..1].make_ascii_uppercase();
            let [outline, bevels, lower] = outlines::fields(fields, &number, board);
            BoardItem {
                title,
                fields: board_fields(fields, &number, board, river.shaping),
                outline,
                bevels,
                lower,
                can_go: river.shaping != Shaping::Stations && count > 1,
                number,
            }
        })
        .collect()
}

fn board_fields(fields: &Fields<'_>, number: &str, board: &Board, shaping: Shaping) -> Vec<Field> {
    let name = |field: &str| format!("{field}-{number}");
    let weighed = || fields.maybe_mass(&name("weighed"), "On the scale", board.weighed);
    let all = [
        fields.text(&name("b_timber"), "Timber", &board.timber),
        fields.length(&name("b_thickness"), "Thickness", board.thickness),
        fields.density(&name("b_density"), "Density", board.density),
        fields.number(
            &name("b_moisture"),
            "Moisture",
            board.moisture_percent,
            &bounds::TIMBER_MOISTURE_PERCENT,
        ),
        fields.quantity(&name("b_absorbs"), "Absorbed by a bare edge", board.absorption),
    ];
    (shaping == Shaping::Amounts).then(weighed).into_iter().chain(all).collect()
}

fn figures(asked: &Asked<'_>) -> Vec<Figure> {
    let shown = asked.shown;
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
    let (measured, shown) = (asked.measured(), asked.shown);
    let drawn = |s: &Submerged| s.weighed.map_or(s.volume, |triangle| triangle.drawn);
    let timber = measured.submerged.iter().map(drawn).sum();
    let marks: usize = measured.trim_marks.iter().map(Vec::len).sum();
    let figure = Figure::new(
        "timber",
        shown.volume(timber),
        "of timber in the form".into(),
        "What the boards take up",
    );
    match asked.document.amounts() {
        Some(Method::Weighed) => {
            return figure
                .formula("Σ mass on the scale ÷ density of the timber".into())
                .note("The rest of the form, up to the boards' face, is resin.");
        }
        Some(_) => {
            return figure
                .formula("form up to the boards' face − dry fill".into())
                .note("Boards that were weighed share it by what they weigh, others equally.");
        }
        None => {}
    }
    let mut figure = figure
    .formula("Σ (A below + 4 A middle + A above) ÷ 6 × thickness".into())
    .note("Areas by Gauss's formula; sloping edges run straight from the underside to the upper face.")
    .note("Only what lies inside the walls counts: the rest is sawn off.");
    if marks > 0 {
        figure = figure.note(format!("{marks} saw marks where boards cross the walls."));
    }
    figure
}

fn damp(river: &River) -> String {
    let damp: Vec<_> = river
        .boards
        .iter()
        .enumerate()
        .filter(|(_, board)| !board.is_dry())
        .map(|(index, board)| {
            let moisture = trimmed(board.moisture_percent, 1);
            format!("the {} is at {moisture}\u{202f}%", board_name(river, index))
        })
        .collect();
    if damp.is_empty() {
        return String::new();
    }
    format!(
        "Too damp to cast: {}. Above {DRY_ENOUGH_PERCENT}\u{202f}% timber bubbles, blooms and moves under \
         the resin. Dry it first.",
        damp.join(" and ")
    )
}
