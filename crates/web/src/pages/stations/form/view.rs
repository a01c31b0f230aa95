//! The volume line by line, and what belongs to it.

use askama::Template;
use fondant_app::records::FormRecord;
use fondant_app::stock::Stock;
use fondant_cast::mix::bucket_residue;
use fondant_cast::{Evaluation, Kind, Need};
use fondant_pours::layers::Layer;
use fondant_quantities::units::trimmed;
use fondant_quantities::{Length, bounds};

use super::build::{self, Build};
use super::buy::{Buy, buy};
use super::lift::lift;
use super::lines::{VolumeRow, source, volume_row};
use super::owned::{OwnedRow, owned};
use super::pot::{self, PotView};
use super::ways::{self, WaysView};
use crate::drawings::plan_view;
use crate::drawings::section::{self, Extent};
use crate::pages::stations::asked::Asked;
use crate::paths::casts::CutList;
use crate::svg::{ASIDE, Markup, WIDE, both};
use crate::ui::field::Fields;
use crate::ui::figure::Figure;
use crate::ui::group::Group;
use crate::words::layers::capitalised;

/// What a floor out of flat adds, for the sentence about it.
const UNEVEN_FLOOR: Length = Length::from_mm(0.5);

// Many fields: everything that the page says stands flat beside its template.
#[derive(Template)]
#[template(path = "pages/stations/form/form.html")]
struct FormBody {
    cut_list: CutList,
    refusal: String,
    section: Markup,
    section_caption: String,
    lines: Vec<VolumeRow>,
    total: String,
    total_other: String,
    sources: Vec<(String, String)>,
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
    holds: Markup,
}

struct PartRow {
    part: String,
    mass: String,
    volume: String,
}

fn layers_in_form(evaluation: &Evaluation) -> Vec<Layer> {
    let Ok(schedule) = &evaluation.pours else { return Vec::new() };
    schedule.pours.iter().map(|pour| pour.layer).filter(Layer::is_in_form).collect()
}

pub(super) fn view(
    asked: &Asked<'_>,
    forms: &[FormRecord],
    stock: &Stock,
) -> askama::Result<Markup> {
    let (evaluation, shown) = (asked.evaluation, asked.shown);
    let (contents, kind) = (&asked.document.contents, asked.document.kind());
    let (measured, fields) = (asked.measured(), asked.fields());
    let sizing = &measured.sizing;
    let layers = layers_in_form(evaluation);
    let mut cut = asked.section();
    cut.layers = &layers;
    let extent = if kind == Kind::River { Extent::Gap } else { Extent::Whole };
    let lifts: Vec<Figure> = (0..evaluation.held.len()).map(|index| lift(asked, index)).collect();
    let mut view = asked.plan_view("");
    view.river = None;
    view.places = evaluation.held.iter().flat_map(|h| h.places.iter().copied()).collect();
    view.trims = measured.trim_marks.iter().flatten().copied().collect();
    Markup::of(&FormBody {
        cut_list: CutList { cast: asked.cast },
        refusal: asked.refusal(),
        section: both(WIDE, |frame| section::draw(&cut, extent, frame)),
        section_caption: format!(
            "Cut {} from the left end, to scale: the walls stand higher than the last layer",
            shown.length(cut.at)
        ),
        lines: sizing
            .lines
            .iter()
            .map(|line| volume_row(line, shown))
            .chain(flood_row(asked))
            .collect(),
        total: shown.volume(evaluation.total()),
        total_other: shown.other().volume(evaluation.total()),
        sources: evaluation.contributions().iter().map(|c| source(c, shown)).collect(),
        uncertainty: shown.volume(evaluation.uncertainty()),
        uneven_floor: if kind.has_form() {
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
        ways: contents.river().map(|river| ways::view(asked, river)),
        build: contents.build().map(|build| build::view(asked, build)),
        owned: (kind.has_form() || kind.has_moulds()).then(|| owned(asked, forms)),
        pot: contents.can_go_into_pot().then(|| pot::view(asked)),
        buy: buy(asked, stock),
        holds: if view.places.is_empty() {
            Markup::default()
        } else {
            plan_view::draw(&view, ASIDE)
        },
        lifts,
    })
}

fn fill_group(fields: &Fields<'_>, asked: &Asked<'_>) -> Group {
    let (document, form) = (asked.document, &asked.document.form);
    let percent = |ratio: f64| ratio * 100.0;
    let mut all = Vec::new();
    if let Some(river) = document.contents.river() {
        all.push(
            fields
                .length("base_gap", "Under the boards", river.base_gap)
                .hint("Resin under the whole slab. 0 if the boards lie on the floor."),
        );
    }
    if document.kind() != Kind::Coat {
        all.push(
            fields.length("overfill", "Overfill", form.overfill).hint(
                "It sinks as it cures, and where timber takes it up; the rest is machined off.",
            ),
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
            .hint(format!("About {usual}\u{202f}% for a resin as thick as this one.")),
    );
    if document.kind().has_form() {
        all.push(
            fields
                .number(
                    "leak",
                    "Kept back for a leak",
                    percent(form.leak_ratio),
                    &bounds::LEAK_PERCENT,
                )
                .hint("0 if the form held water for an hour."),
        );
        all.push(
            fields
                .quantity("fall", "Fall of the form", form.fall)
                .hint("What a long level shows, by its length."),
        );
    }
    Group::new("How it is filled", all)
}

/// What a flood coat takes, mixed.
fn flood_row(asked: &Asked<'_>) -> Option<VolumeRow> {
    let (shown, flood) = (asked.shown, asked.document.stages.flood.as_ref()?);
    let face = asked.document.piece.length * asked.document.piece.width;
    Some(VolumeRow {
        what: "Flood coat",
        why: format!(
            "{} × {} of finished face, {}\u{202f}% runs off, with what stays in buckets",
            shown.area(face),
            shown.length(flood.thickness),
            trimmed(flood.run_off_ratio * 100.0, 0)
        ),
        volume: shown.volume(asked.evaluation.flood()),
    })
}

fn parts(asked: &Asked<'_>) -> Vec<PartRow> {
    let (shown, needs) = (asked.shown, &asked.evaluation.needs);
    let row = |part: &'static str, mass, volume| PartRow {
        part: part.to_owned(),
        mass: shown.mass(mass),
        volume: shown.volume(volume),
    };
    let rows = |need: &Need| {
        let p = need.parts;
        let heading = PartRow {
            part: capitalised(&need.resin.name),
            mass: String::new(),
            volume: String::new(),
        };
        // With one resin its name says nothing.
        let heading = (needs.len() > 1).then_some(heading);
        heading.into_iter().chain([
            row("A, resin", p.a_mass, p.a_volume),
            row("B, hardener", p.b_mass, p.b_volume),
            row("Mixed", p.mass, p.volume),
        ])
    };
    asked.evaluation.mixed().flat_map(rows).collect()
}
