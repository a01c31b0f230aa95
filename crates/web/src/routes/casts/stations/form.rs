//! Station 3: the volume line by line, other ways of measuring it, hold-down,
//! what to build or load, what to buy.
//!
//! - [`build`]: base, walls, sealant, release; forms that the shop has
//! - [`lines`]: the volume in words
//! - [`pot`]: loading a pressure pot
//! - [`ways`]: four ways to the same number

mod build;
mod lines;
mod pot;
mod ways;

use askama::Template;
use fondant_cast::mix::bucket_residue;
use fondant_cast::mix::buying::order_of;
use fondant_cast::{Kind, Plan};
use fondant_quantities::units::trimmed;
use fondant_quantities::{Force, Length, Mass, bounds};
use fondant_shapes::volume::float::HOLD_DOWN_FACTOR;
use fondant_shapes::volume::layout::What;

use super::{Asked, Group};
use crate::drawings::section::{self, Extent};
use crate::drawings::{ASIDE, WIDE, both, plan_view};
use crate::entries::Reader;
use crate::views::fields::Fields;
use crate::views::figure::Figure;
use crate::views::rail::Station;
pub(in crate::routes) use build::nest_note;
use build::{Build, OwnedRow};
use lines::{VolumeRow, doubt, volume_row};
use pot::PotView;
use ways::WaysView;

/// What a floor out of flat adds, for the sentence about it.
const UNEVEN_FLOOR: Length = Length::from_mm(0.5);

#[derive(Template)]
#[template(path = "stations/form.html")]
struct FormBody {
    cast: i64,
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
    fill: Group,
    ways: Option<WaysView>,
    build: Option<Build>,
    /// Forms and moulds that the shop has and this cast could use.
    owned: Option<Vec<OwnedRow>>,
    pot: Option<PotView>,
    buy: Buy,
    lifts: Vec<Figure>,
    holds: String,
}

struct PartRow {
    part: &'static str,
    mass: String,
    volume: String,
}

/// What to buy, and how sure it is.
struct Buy {
    fields: Group,
    headline: String,
    sentences: Vec<String>,
}

pub(super) fn apply(reader: &mut Reader<'_>, plan: &mut Plan) {
    let form = &mut plan.form;
    if plan.kind.has_boards() {
        reader.quantity("base_gap", &bounds::BASE_GAP, &mut form.base_gap);
    }
    if plan.kind != Kind::Coat {
        reader.quantity("overfill", &bounds::OVERFILL, &mut form.overfill);
    }
    reader.percent("residue", &bounds::BUCKET_RESIDUE_PERCENT, &mut form.bucket_residue_ratio);
    if plan.kind.has_form() {
        reader.percent("leak", &bounds::LEAK_PERCENT, &mut form.leak_ratio);
        reader.number("fall", &bounds::FALL_MM_M, &mut form.fall_mm_m);
        build::apply(reader, plan);
    }
    if plan.kind == Kind::River {
        ways::apply(reader, plan);
    }
    if plan.kind.has_moulds() {
        pot::apply(reader, plan);
    }
    let buying = &mut plan.buying;
    reader.quantity("kit", &bounds::KIT, &mut buying.kit);
    reader.number("price", &bounds::PRICE, &mut buying.price);
    reader.quantity("opened", &bounds::OPENED, &mut buying.opened);
}

pub(super) fn body(asked: &Asked<'_>) -> askama::Result<String> {
    let (plan, evaluation, shown) = (asked.plan, asked.evaluation, asked.shop.shown);
    let (measured, fields) = (asked.measured(), asked.fields());
    let sizing = &measured.sizing;
    let layers: Vec<_> = evaluation
        .pours
        .as_ref()
        .map(|schedule| schedule.pours.iter().map(|pour| pour.layer).collect())
        .unwrap_or_default();
    let mut cut = asked.section();
    cut.layers = &layers;
    let extent = if plan.kind == Kind::River { Extent::Gap } else { Extent::Whole };
    let lifts: Vec<Figure> = (0..evaluation.held.len()).map(|index| lift(asked, index)).collect();
    let mut view = asked.plan_view("");
    view.river = None;
    view.places = evaluation.held.iter().flat_map(|h| h.places.iter().copied()).collect();
    view.trims = measured.trim_marks.iter().flatten().copied().collect();
    FormBody {
        cast: asked.cast.0,
        refusal: asked.refusal(),
        section: both(WIDE, |frame| section::draw(&cut, extent, frame)),
        section_caption: format!("Cut {} from the left end, to scale", shown.length(cut.at)),
        lines: sizing.lines.iter().map(|line| volume_row(line, shown)).collect(),
        total: shown.volume(sizing.total),
        total_other: shown.other().volume(sizing.total),
        doubt: sizing.contributions.iter().map(|c| doubt(c, shown)).collect(),
        uncertainty: shown.volume(sizing.uncertainty),
        uneven_floor: if plan.kind.has_form() {
            format!(
                "Not in it: a floor out of flat. {} more under it all is {}.",
                shown.length(UNEVEN_FLOOR),
                shown.volume(measured.cast.area() * UNEVEN_FLOOR)
            )
        } else {
            String::new()
        },
        parts: parts(asked),
        fill: fill_group(&fields, asked),
        ways: (plan.kind == Kind::River).then(|| ways::view(asked)),
        build: plan.kind.has_form().then(|| build::view(asked)),
        owned: (plan.kind.has_form() || plan.kind.has_moulds()).then(|| build::owned(asked)),
        pot: plan.kind.has_moulds().then(|| pot::view(asked)),
        buy: buy(asked),
        holds: if view.places.is_empty() { String::new() } else { plan_view::draw(&view, ASIDE) },
        lifts,
    }
    .render()
}

fn fill_group(fields: &Fields<'_>, asked: &Asked<'_>) -> Group {
    let (plan, form) = (asked.plan, &asked.plan.form);
    let percent = |ratio: f64| ratio * 100.0;
    let mut all = Vec::new();
    if plan.kind.has_boards() {
        all.push(
            fields
                .length("base_gap", "Under the boards", form.base_gap)
                .hint("Resin under the whole slab. Nought where the boards lie on the floor."),
        );
    }
    if plan.kind != Kind::Coat {
        all.push(
            fields
                .length("overfill", "Overfill", form.overfill)
                .hint("It sinks as it soaks in and shrinks; the rest is machined off."),
        );
    }
    let usual = trimmed(bucket_residue(&asked.evaluation.resin) * 100.0, 1);
    all.push(
        fields
            .number(
                "residue",
                "Left in the buckets",
                percent(form.bucket_residue_ratio),
                &bounds::BUCKET_RESIDUE_PERCENT,
            )
            .hint(format!("About {usual} % for a resin as thick as this one.")),
    );
    if plan.kind.has_form() {
        all.push(
            fields
                .number(
                    "leak",
                    "Kept back for a leak",
                    percent(form.leak_ratio),
                    &bounds::LEAK_PERCENT,
                )
                .hint("Nought where the form held water for an hour."),
        );
        all.push(
            fields
                .number("fall", "Fall of the form", form.fall_mm_m, &bounds::FALL_MM_M)
                .hint("What a long level shows, millimetres on a metre."),
        );
    }
    Group::new("How it is filled", all)
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

fn buy(asked: &Asked<'_>) -> Buy {
    let (plan, shown, fields) = (asked.plan, asked.shop.shown, asked.fields());
    let (buying, order) = (&plan.buying, &asked.evaluation.order);
    let sizing = &asked.measured().sizing;
    let tenths = |chance: f64| format!("{} in 100", trimmed((chance * 100.0).floor(), 0));
    let kits = |n: u32| if n == 1 { "1 kit".to_owned() } else { format!("{n} kits") };
    let mut sentences = vec![format!(
        "{} at hand with what is open: in {} such casts it is enough; {} over on average.",
        shown.volume(order.at_hand),
        tenths(order.enough),
        shown.volume(order.left)
    )];
    if order.enough < 0.9 {
        let more = order_of(buying, order.kits + 1, sizing.total, sizing.uncertainty);
        sentences.push(format!(
            "That is short of 90 in 100. {} would be enough in {}.",
            kits(order.kits + 1),
            tenths(more.enough)
        ));
    } else if order.kits > 1 {
        let fewer = order_of(buying, order.kits - 1, sizing.total, sizing.uncertainty);
        sentences.push(format!("One fewer would be enough in {}.", tenths(fewer.enough)));
    }
    if buying.price > 0.0 {
        sentences.push(format!(
            "{} for the kits, {} of it for what is left over.",
            trimmed(order.cost, 2),
            trimmed(order.left_cost, 2)
        ));
    }
    Buy {
        fields: Group::new(
            "",
            vec![
                fields.volume("kit", "One kit, mixed", buying.kit),
                fields
                    .number("price", "Price of a kit", buying.price, &bounds::PRICE)
                    .hint("In whatever the shop pays with."),
                fields
                    .volume("opened", "Opened stock still gives", buying.opened)
                    .hint("As much as both parts together still make."),
            ],
        ),
        headline: kits(order.kits),
        sentences,
    }
}

fn lift(asked: &Asked<'_>, index: usize) -> Figure {
    let (evaluation, plan, shown) = (asked.evaluation, asked.plan, asked.shop.shown);
    let held = &evaluation.held[index];
    let name = match held.what {
        What::Board(0) if evaluation.measured.river.is_some() => "the near board".to_owned(),
        What::Board(1) if evaluation.measured.river.is_some() => "the far board".to_owned(),
        What::Board(number) => format!("board {}", number + 1),
        What::Insert(number) => plan
            .inserts
            .get(number)
            .map_or_else(|| "all pieces together".to_owned(), |insert| insert.name.clone()),
        What::Hollow(_) => "it".to_owned(),
    };
    let lift = &held.lift;
    let floats = lift.net > Force::ZERO;
    let value = if floats { shown.mass(lift.hold_down) } else { "stays down".to_owned() };
    let title = format!("What holds {name} down");
    let mut figure = Figure::new(&format!("lift-{index}"), value, format!("on {name}"), &title)
        .formula(format!(
            "F = g (ρ resin × V − m)\n= 9.81 × ({} displaced − {})\n= {}",
            shown.mass(lift.displaced),
            shown.mass(lift.mass),
            shown.force(lift.net)
        ))
        .note("Resin up to its upper face, the worst moment of a pour.")
        .change("Size and density", asked.address(Station::Timber));
    if floats {
        let bare = Mass::from_kg(lift.hold_down.kg() / HOLD_DOWN_FACTOR);
        figure = figure.note(format!(
            "{} would just balance it; the figure is that twice over.",
            shown.mass(bare)
        ));
    }
    let count = held.places.len();
    if count > 0 {
        let each = lift.hold_down / count as f64;
        figure = figure.note(format!(
            "Spread it over {count} clamps, battens on stand-offs or weights, {} each, where the \
             drawing shows them; or spots of glue under it, before the base layer goes in.",
            shown.mass(each)
        ));
    }
    figure
}
