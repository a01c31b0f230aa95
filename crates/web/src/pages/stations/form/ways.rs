//! Four ways to the same number, side by side.

use fondant_cast::document::{River, Shaping};
use fondant_quantities::units::UnitSystem;
use fondant_quantities::{Volume, bounds};
use fondant_shapes::timber::Board;
use fondant_shapes::volume::methods::{Disagreement, Method};

use super::lines::method;
use crate::pages::stations::asked::Asked;
use crate::ui::field::{Field, Fields};
use crate::ui::group::Group;
use crate::ui::reader::Reader;
use crate::ui::units::Shown;

pub(crate) struct WaysView {
    pub(crate) rows: Vec<WayRow>,
    pub(crate) fields: Group,
    /// Whether they agree, and what to look at where they do not.
    pub(crate) judgement: Vec<String>,
    pub(crate) is_trouble: bool,
    /// Kilograms taken for litres.
    pub(crate) slip: String,
    /// What is mistaken there.
    pub(crate) slip_title: &'static str,
}

pub(crate) struct WayRow {
    pub(crate) value: &'static str,
    pub(crate) name: &'static str,
    pub(crate) volume: String,
    pub(crate) uncertainty: String,
    pub(crate) is_figure: bool,
    pub(crate) how: &'static str,
}

const VALUES: [(&str, Method); 4] = [
    ("outlines", Method::Outlines),
    ("stations", Method::Stations),
    ("dry_fill", Method::DryFill),
    ("weighed", Method::Weighed),
];

pub(super) fn apply(reader: &mut Reader<'_>, river: &mut River) {
    let mut figure = None;
    reader.choice("figure", &VALUES.map(|(name, m)| (name, Some(m))), &mut figure);
    let own = match river.shaping {
        Shaping::Stations => Some(Method::Stations),
        Shaping::Outlines => Some(Method::Outlines),
        Shaping::Amounts => None,
    };
    river.checks.figure = figure.filter(|f| Some(*f) != own);
    apply_dry_fill(reader, river);
    for index in 0..river.boards.len() {
        apply_weighed(reader, &format!("weighed-{index}"), &mut river.boards[index]);
    }
}

/// The bulk that filled the form.
pub(crate) fn apply_dry_fill(reader: &mut Reader<'_>, river: &mut River) {
    reader.maybe("dry_fill", &bounds::DRY_FILL, &mut river.checks.dry_fill);
}

/// A board on the scale.
pub(crate) fn apply_weighed(reader: &mut Reader<'_>, name: &str, board: &mut Board) {
    let text = reader.entries.get(name).unwrap_or_default();
    // The commonest slip of all, caught where it is made.
    if text.trim_end().ends_with(['L', 'l']) || text.contains("litre") {
        let slip = match reader.system {
            UnitSystem::Metric => {
                "A board is weighed in kilograms, not litres. Kilograms are not litres either"
            }
            UnitSystem::UsCustomary => {
                "A board is weighed in pounds, not pints. Pounds are not pints either"
            }
        };
        let sentence = format!(
            "{slip}: what the board displaces is its mass divided by its density, which Fondant does \
             for you."
        );
        reader.refusals.add(name, sentence);
        return;
    }
    reader.maybe(name, &bounds::MASS, &mut board.weighed);
}

fn own(asked: &Asked<'_>, river: &River) -> Method {
    match river.shaping {
        Shaping::Stations => Method::Stations,
        Shaping::Outlines => Method::Outlines,
        Shaping::Amounts => asked.document.amounts().unwrap_or(Method::DryFill),
    }
}

/// The field of a dry fill.
pub(crate) fn dry_fill_field(fields: &Fields<'_>, river: &River) -> Field {
    fields.maybe_volume("dry_fill", "Dry fill, its bulk", river.checks.dry_fill).hint(
        "Boards on the floor of the form, filled level with their faces, poured back and measured in a jug.",
    )
}

pub(super) fn view(asked: &Asked<'_>, river: &River) -> WaysView {
    let (shown, fields) = (asked.shown, asked.fields());
    let ways = &asked.measured().ways;
    let figure = ways.figure.unwrap_or_else(|| own(asked, river));
    let rows = VALUES
        .into_iter()
        .map(|(value, by)| {
            let reading = ways.reading(by);
            WayRow {
                value,
                name: method(by),
                volume: reading.map(|r| shown.volume(r.volume)).unwrap_or_default(),
                uncertainty: reading
                    .map(|r| format!("±{}", shown.volume(r.uncertainty)))
                    .unwrap_or_default(),
                is_figure: by == figure,
                how: match by {
                    Method::Outlines => "traced or drawn, station 2",
                    Method::Stations => "depth × length × mean width, station 2",
                    Method::DryFill => "rice or sand poured in, its bulk measured, ±4\u{202f}%",
                    Method::Weighed => "boards on a scale, by their density, ±5\u{202f}%",
                },
            }
        })
        .collect();
    let mut all = vec![dry_fill_field(&fields, river)];
    for (index, board) in river.boards.iter().enumerate() {
        all.push(
            fields
                .maybe_mass(
                    &format!("weighed-{index}"),
                    &format!("Board {} on the scale", index + 1),
                    board.weighed,
                )
                .hint(format!("At {}, station 2.", shown.density(board.density))),
        );
    }
    let mut judgement: Vec<String> =
        ways.disagreements.iter().map(|d| disagreement(d, shown)).collect();
    if judgement.is_empty() {
        judgement.push(match ways.readings.len() {
            0 | 1 => "One way alone checks nothing. A dry fill takes ten minutes.".to_owned(),
            n => format!("The {n} ways agree within their uncertainties."),
        });
    }
    let slip = slip(asked);
    WaysView {
        rows,
        fields: Group::new("", all),
        is_trouble: !ways.disagreements.is_empty(),
        judgement,
        slip,
        slip_title: match shown.system {
            UnitSystem::Metric => "Kilograms are not litres.",
            UnitSystem::UsCustomary => "Pounds are not pints.",
        },
    }
}

fn disagreement(d: &Disagreement, shown: Shown) -> String {
    let look = match (d.less, d.more) {
        (Method::Stations, Method::Outlines) | (Method::Outlines, Method::Stations) => {
            "Stations too far apart miss bends; an outline that was scaled wrongly misses everywhere. \
             Measure the width once more where the river is widest."
        }
        (Method::DryFill, _) | (_, Method::DryFill) => {
            "Rice runs under boards that do not lie flat and settles when it is poured back: fill \
             again, and see that no board is packed up."
        }
        _ => {
            "The density of a board can be off by a tenth: weigh an offcut and measure its sides, or \
             look at the thickness once more."
        }
    };
    format!(
        "{} says {} more than {}, and their uncertainties allow {}. {look}",
        capital(method(d.more)),
        shown.volume(d.apart),
        method(d.less),
        shown.volume(d.allowed)
    )
}

fn capital(text: &str) -> String {
    let mut text = text.to_owned();
    if let Some(first) = text.get_mut(..1) {
        first.make_ascii_uppercase();
    }
    text
}

/// Kilograms taken for litres, by name, wherever boards were weighed.
fn slip(asked: &Asked<'_>) -> String {
    let (ways, shown) = (&asked.measured().ways, asked.shown);
    let Some(slip) = ways.slip else { return String::new() };
    let too = if slip.error < Volume::ZERO { "little" } else { "much" };
    let error = Volume::from_m3(slip.error.m3().abs());
    let slipped = match shown.system {
        UnitSystem::Metric => "taking kilograms for litres",
        UnitSystem::UsCustomary => "taking timber for water",
    };
    let mut said = format!(
        "{} of timber displaces {}, not {}: {slipped} would have you mix {} too {too}.",
        shown.mass(slip.mass),
        shown.volume(slip.displaced),
        shown.volume(Volume::from_l(slip.mass.kg())),
        shown.volume(error)
    );
    if ways.looks_like_slip {
        said += " The dry fill typed here is just what that slip would give: was it worked out \
                 instead of measured?";
    }
    said
}
