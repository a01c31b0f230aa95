//! Station 3: how the form is filled, the volume line by line, and hold-down.

use askama::Template;
use fondant_core::form::FREEBOARD;
use fondant_core::plan::Plan;
use fondant_core::quantities::{Force, Length, Mass, bounds};
use fondant_core::volume::float::HOLD_DOWN_FACTOR;
use fondant_core::volume::{Contribution, Line, LineKind};

use super::Asked;
use crate::drawings::section::{self, Extent};
use crate::drawings::{WIDE, both};
use crate::entries::Reader;
use crate::views::fields::Field;
use crate::views::figure::Figure;
use crate::views::format::Shown;
use crate::views::rail::Station;

/// What a floor out of level or out of flat adds, for the sentence about it.
const UNEVEN_FLOOR: Length = Length::from_mm(0.5);

#[derive(Template)]
#[template(path = "stations/form.html")]
struct FormBody {
    refusal: String,
    section: String,
    section_caption: String,
    lines: Vec<VolumeRow>,
    total: String,
    total_other: String,
    doubt: Vec<(String, String)>,
    uncertainty: String,
    uneven_floor: String,
    parts: Vec<PartRow>,
    fields: Vec<Field>,
    lifts: Vec<Figure>,
    wall: String,
    why_wall: String,
}

struct VolumeRow {
    what: &'static str,
    why: String,
    volume: String,
}

struct PartRow {
    part: &'static str,
    mass: String,
    volume: String,
}

pub(super) fn apply(reader: &mut Reader<'_>, plan: &mut Plan) {
    reader.quantity("base_gap", &bounds::BASE_GAP, &mut plan.form.base_gap);
    reader.quantity("overfill", &bounds::OVERFILL, &mut plan.form.overfill);
    let mut percent = plan.form.bucket_residue_ratio * 100.0;
    reader.number("residue", &bounds::BUCKET_RESIDUE_PERCENT, &mut percent);
    plan.form.bucket_residue_ratio = percent / 100.0;
}

pub(super) fn body(asked: &Asked<'_>) -> askama::Result<String> {
    let (plan, evaluation, shown) = (asked.plan, asked.evaluation, asked.shop.shown);
    let (sizing, fields) = (&evaluation.sizing, asked.fields());
    let layers: Vec<_> = evaluation
        .pours
        .as_ref()
        .map(|schedule| schedule.pours.iter().map(|pour| pour.layer).collect())
        .unwrap_or_default();
    let mut cut = asked.section();
    cut.layers = &layers;
    let residue =
        fondant_core::quantities::units::trimmed(plan.form.bucket_residue_ratio * 100.0, 1);
    FormBody {
        refusal: asked.refusal(),
        section: both(WIDE, |frame| section::draw(&cut, Extent::River, frame)),
        section_caption: format!(
            "The river at station {}, {} from the left end, to scale",
            asked.cut() + 1,
            shown.length(cut.station.at)
        ),
        lines: sizing.lines.iter().map(|line| volume_row(line, shown)).collect(),
        total: shown.volume(sizing.total),
        total_other: shown.other().volume(sizing.total),
        doubt: sizing.contributions.iter().map(|c| doubt(c, shown)).collect(),
        uncertainty: shown.volume(sizing.uncertainty),
        uneven_floor: format!(
            "Not in it: an uneven floor. {} more under the whole slab is {}.",
            shown.length(UNEVEN_FLOOR),
            shown.volume(evaluation.cast.area() * UNEVEN_FLOOR)
        ),
        parts: parts(asked),
        fields: vec![
            fields
                .length("base_gap", "Under the boards", plan.form.base_gap)
                .hint("Resin under the whole slab. Nought where the boards lie on the floor."),
            fields
                .length("overfill", "Overfill in the river", plan.form.overfill)
                .hint("It sinks as it soaks in and shrinks; the sled takes the rest."),
            fields
                .text("residue", "Left in the buckets", &format!("{residue} %"))
                .hint("2–4 % for thin resin, more for thick."),
        ],
        lifts: vec![lift(asked, 0), lift(asked, 1)],
        wall: shown.length(evaluation.fill.depth() + FREEBOARD),
        why_wall: format!(
            "{} of resin and {} above it.",
            shown.length(evaluation.fill.depth()),
            shown.length(FREEBOARD)
        ),
    }
    .render()
}

fn volume_row(line: &Line, shown: Shown) -> VolumeRow {
    let (what, why) = match line.kind {
        LineKind::River { depth, length, width } => (
            "River",
            format!(
                "{} deep × {} long × {} mean width",
                shown.length(depth),
                shown.length(length),
                shown.length(width)
            ),
        ),
        LineKind::Base { depth } => (
            "Under the boards",
            format!("{} over the whole inside of the form", shown.length(depth)),
        ),
        LineKind::ThinnerBoard { difference } => (
            "Thinner board",
            format!(
                "the boards differ by {}: resin goes over the thinner one, or under it where it is \
                 packed up flush",
                shown.length(difference)
            ),
        ),
        LineKind::Overfill { depth } => {
            ("Overfill", format!("{} proud over the river", shown.length(depth)))
        }
        LineKind::BucketResidue { ratio } => (
            "Left in buckets",
            format!(
                "{} % of what is poured stays on buckets and sticks",
                fondant_core::quantities::units::trimmed(ratio * 100.0, 1)
            ),
        ),
    };
    VolumeRow { what, why, volume: shown.volume(line.volume) }
}

fn doubt(contribution: &Contribution, shown: Shown) -> (String, String) {
    let name = match contribution {
        Contribution::Spacing(_) => "the edge between stations",
        Contribution::Tape(_) => "widths read off the tape",
        Contribution::Depth(_) => "thickness of the boards",
    };
    (name.to_owned(), format!("±{}", shown.volume(contribution.volume() * 2.0)))
}

fn parts(asked: &Asked<'_>) -> Vec<PartRow> {
    let (p, shown) = (&asked.evaluation.parts, asked.shop.shown);
    vec![
        PartRow { part: "A, resin", mass: shown.mass(p.a_mass), volume: shown.volume(p.a_volume) },
        PartRow {
            part: "B, hardener",
            mass: shown.mass(p.b_mass),
            volume: shown.volume(p.b_volume),
        },
        PartRow { part: "Mixed", mass: shown.mass(p.mass), volume: shown.volume(p.volume) },
    ]
}

fn lift(asked: &Asked<'_>, index: usize) -> Figure {
    let (evaluation, shown) = (asked.evaluation, asked.shop.shown);
    let (name, board) = if index == 0 {
        ("near board", &asked.plan.timber.near)
    } else {
        ("far board", &asked.plan.timber.far)
    };
    let lift = &evaluation.lifts[index];
    let id = if index == 0 { "lift-near" } else { "lift-far" };
    let floats = lift.net > Force::ZERO;
    let value = if floats { shown.mass(lift.hold_down) } else { "stays down".to_owned() };
    let title =
        if index == 0 { "What holds the near board down" } else { "What holds the far board down" };
    let mut figure = Figure::new(id, value, format!("on the {name}"), title)
        .formula(format!(
            "F = g (ρ resin × V − m)\n= 9.81 × ({} displaced − {} of board)\n= {}",
            shown.mass(lift.displaced),
            shown.mass(lift.board),
            shown.force(lift.net)
        ))
        .note(format!(
            "Resin up to the board's upper face, board of {} and {}.",
            shown.density(board.density),
            shown.length(board.thickness)
        ))
        .change("Thickness and density", asked.address(Station::Timber));
    if floats {
        let bare = Mass::from_kg(lift.hold_down.kg() / HOLD_DOWN_FACTOR);
        figure = figure.note(format!(
            "{} would just balance it; the figure is that twice over. Spread it over clamps, \
             battens on stand-offs, or spots of glue, before the base layer goes in.",
            shown.mass(bare)
        ));
    }
    figure
}
