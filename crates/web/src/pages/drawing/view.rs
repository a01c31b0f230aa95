//! The page of a drawing that is being looked at.

use askama::Template;
use askama_web::WebTemplate;
use fondant_app::casts::Open;
use fondant_app::casts::drawings::Looked;
use fondant_app::records::DrawingId;
use fondant_cast::document::Role;
use fondant_files::drawing::{Closed, Drawing, JOINED, Layer, Open as OpenLine};
use fondant_quantities::units::trimmed;
use fondant_quantities::{Area, Length};
use fondant_shapes::geometry::overlay::overlap;
use fondant_shapes::geometry::{Outline, Point, faults};

use super::form::{PLACES, ROLES, Said, UNITS};
use super::picture::draw;
use crate::paths::casts::{Drawing as DrawingPath, Files, TakeDrawing};
use crate::svg::{Markup, WIDE, both};
use crate::ui::entries::{Entries, Refusals};
use crate::ui::field::{Choice, Field, Fields};
use crate::ui::page::{Page, Place, Script};
use crate::ui::units::{InUnits, Shown};
use crate::words::{conflicts, files};

/// Outlines that are compared with each other for overlaps; more are not boards of one cast.
const MOST_COMPARED: usize = 60;
/// Open lines that are told one by one.
const MOST_TOLD: usize = 8;

/// What is asked of the page.
pub(super) struct Asked<'a> {
    pub(super) id: DrawingId,
    pub(super) said: &'a Said,
    pub(super) entries: &'a Entries,
    pub(super) refusals: &'a Refusals,
}

#[derive(Template, WebTemplate)]
#[template(path = "pages/drawing/drawing.html")]
pub(super) struct DrawingPage {
    page: Page,
    links: Links,
    name: String,
    cast_name: String,
    revision: i32,
    reading: String,
    /// Why the page is shown again.
    refusal: String,
    /// Why the file cannot be read so.
    unread: String,
    told: Told,
    picture: Option<Markup>,
    unit_fields: Vec<Field>,
    place: Field,
    layers: Vec<LayerRow>,
    rings: Vec<RingRow>,
}

/// Where the page leads.
struct Links {
    files: Files,
    here: DrawingPath,
    take: TakeDrawing,
}

/// What is said of the drawing.
#[derive(Default)]
struct Told {
    /// What would be taken.
    sum: String,
    notes: Vec<String>,
    open: Vec<String>,
    left_out: Vec<String>,
}

struct LayerRow {
    index: usize,
    name: String,
    is_read: bool,
    about: String,
}

struct RingRow {
    index: usize,
    number: usize,
    about: String,
    size: String,
    area: String,
    roles: Vec<Choice>,
}

impl DrawingPage {
    pub(super) fn new(open: &Open, looked: &Looked, roles: &[Role], asked: &Asked<'_>) -> Self {
        let (cast, drawing) = (open.record.id, asked.id);
        let shown = open.shop.shown();
        let fields = Fields::of(shown, Some(asked.entries), asked.refusals);
        let read = looked.read.as_ref().ok();
        let wrong = read.map(|read| wrong(read, roles, shown)).unwrap_or_default();
        let places: Vec<Point> = wrong.iter().map(|(_, place)| *place).collect();
        let told = read.map_or_else(Told::default, |read| Told {
            sum: sum(read, roles, shown),
            notes: unsaid(read, asked).chain(wrong.into_iter().map(|(said, _)| said)).collect(),
            open: open_lines(&read.open, shown),
            left_out: read.left_out.iter().map(files::left_out).collect(),
        });
        Self {
            page: Page::new("A drawing", Place::Casts).with(&[Script::Module("/roles.js")]),
            links: Links {
                files: Files { cast },
                here: DrawingPath { cast, drawing },
                take: TakeDrawing { cast, drawing },
            },
            name: looked.name.clone(),
            cast_name: open.record.document.name.clone(),
            revision: open.record.revision,
            reading: asked.said.reading(),
            refusal: asked.refusals.of(""),
            unread: looked.read.as_ref().err().map(files::file).unwrap_or_default(),
            told,
            picture: read.map(|read| both(WIDE, |frame| draw(read, roles, &places, frame))),
            unit_fields: read.map_or(Vec::new(), |read| unit_fields(&fields, read, asked, shown)),
            place: place_field(&fields, asked),
            layers: read.map_or(Vec::new(), layer_rows),
            rings: read.map_or(Vec::new(), |read| ring_rows(read, roles, shown)),
        }
    }
}

/// By what its figures are counted until its unit is said.
fn unsaid(read: &Drawing, asked: &Asked<'_>) -> impl Iterator<Item = String> + use<> {
    let is_unsaid = read.said.is_none() && asked.said.options.unit.is_none();
    let counted = trimmed(read.unit.mm(), 4);
    let sentence = format!(
        "The file does not say its unit. Until you do, the figures here count {counted} mm for one."
    );
    is_unsaid.then_some(sentence).into_iter()
}

/// The unit, what the drawing would measure in it, and what else is asked.
fn unit_fields(fields: &Fields<'_>, read: &Drawing, asked: &Asked<'_>, shown: Shown) -> Vec<Field> {
    let bounds = read.bounds();
    let units = bounds.max.minus(bounds.min).times(1.0 / read.unit.m());
    let size = |unit: Length| {
        format!("{} × {}", shown.length_figure(unit * units.x_m), shown.length(unit * units.y_m))
    };
    let by_file = match read.said {
        Some(said) => format!("as the file says: {}", size(said)),
        None => "choose: the file does not say".to_owned(),
    };
    let mut options = vec![(String::new(), by_file)];
    options.extend(UNITS.iter().map(|(word, name, mm)| {
        ((*word).to_owned(), format!("{name}: {}", size(Length::from_mm(*mm))))
    }));
    let chosen = asked.entries.get("unit").unwrap_or_default();
    let unit = Field {
        name: "unit".into(),
        label: "The drawing is in".into(),
        refusal: asked.refusals.of("unit"),
        kind: "select",
        options: options
            .into_iter()
            .map(|(value, label)| Choice { is_chosen: value == chosen, value, label })
            .collect(),
        ..Field::default()
    };
    let fit = fields
        .maybe_length("fit", "Or what is taken is this wide", asked.said.fit)
        .hint("From left to right. It goes before the unit.");
    let join = asked.said.options.join.unwrap_or(JOINED);
    let join = fields
        .length("join", "Join ends closer than", join)
        .hint("Lines that should meet and do not.");
    vec![unit, fit, join]
}

fn place_field(fields: &Fields<'_>, asked: &Asked<'_>) -> Field {
    let mut options: Vec<(&str, &str)> = PLACES.map(|(word, name, _)| (word, name)).to_vec();
    options.push(("under", "all as the undersides of the boards there are"));
    let chosen = asked.entries.get("place").unwrap_or("instead");
    fields.choice("place", "The outlines go", chosen, &options)
}

/// What is taken, in a sentence.
fn sum(read: &Drawing, roles: &[Role], shown: Shown) -> String {
    let of = |role: Role| {
        let is = move |(_, r): &(&Closed, &Role)| **r == role;
        let rings = read.rings.iter().zip(roles).filter(is).map(|(closed, _)| outline(closed));
        rings.collect::<Vec<Outline>>()
    };
    let area = |all: &[Outline]| all.iter().map(Outline::area).sum::<Area>();
    let (boards, holes, undersides) = (of(Role::Board), of(Role::Hole), of(Role::Underside));
    let count = |n: usize, one: &str, many: &str| match n {
        1 => format!("1 {one}"),
        n => format!("{n} {many}"),
    };
    let net = Area::from_m2((area(&boards).m2() - area(&holes).m2()).max(0.0));
    let mut parts =
        vec![format!("{}, {} of timber", count(boards.len(), "board", "boards"), shown.area(net))];
    if !holes.is_empty() {
        parts.push(count(holes.len(), "hole", "holes"));
    }
    if !undersides.is_empty() {
        parts.push(count(undersides.len(), "underside", "undersides"));
    }
    if let Some(form) = of(Role::Form).first() {
        parts.push(format!("the form becomes {}", size(form, shown)));
    }
    format!("{}.", parts.join("; "))
}

fn outline(closed: &Closed) -> Outline {
    Outline::new(closed.ring.clone())
}

fn size(outline: &Outline, shown: Shown) -> String {
    let bounds = outline.bounds();
    let size = bounds.max.minus(bounds.min);
    let [x, y] = [size.x_m, size.y_m].map(Length::from_m);
    format!("{} × {}", shown.length_figure(x), shown.length(y))
}

/// What would be refused, with where: outlines that cross themselves, boards on each other.
fn wrong(read: &Drawing, roles: &[Role], shown: Shown) -> Vec<(String, Point)> {
    let boards: Vec<(usize, Outline)> = (0..roles.len())
        .filter(|i| matches!(roles[*i], Role::Board | Role::Underside))
        .map(|i| (i, outline(&read.rings[i])))
        .collect();
    let mut wrong = Vec::new();
    for (index, board) in &boards {
        for fault in faults::faults(board) {
            if let Some(place) = fault.place() {
                let why = conflicts::outline(&fault, shown);
                wrong.push((format!("Outline {}: {why}", index + 1), place));
            }
        }
    }
    let faces: Vec<&(usize, Outline)> =
        boards.iter().filter(|(i, _)| roles[*i] == Role::Board).take(MOST_COMPARED).collect();
    for (place, (i, one)) in faces.iter().enumerate() {
        for (j, other) in &faces[place + 1..] {
            if let Some((area, at)) = overlap(one, other) {
                let (i, j, area) = (i + 1, j + 1, shown.area(area));
                let sentence = format!(
                    "Outlines {i} and {j} lie on each other by {area}, where it is marked."
                );
                wrong.push((sentence, at));
            }
        }
    }
    wrong
}

fn layer_rows(read: &Drawing) -> Vec<LayerRow> {
    let has_left_out = |layer: &Layer| read.left_out.iter().any(|left| left.layer == layer.name);
    let row = |(index, layer): (usize, &Layer)| LayerRow {
        index,
        name: if layer.name.is_empty() { "on no layer".into() } else { layer.name.clone() },
        is_read: layer.is_read,
        about: match layer.rings {
            0 => "no outline".to_owned(),
            1 => "1 outline".to_owned(),
            n => format!("{n} outlines"),
        },
    };
    let layers = read.layers.iter().enumerate();
    layers.filter(|(_, layer)| layer.rings > 0 || has_left_out(layer)).map(row).collect()
}

fn ring_rows(read: &Drawing, roles: &[Role], shown: Shown) -> Vec<RingRow> {
    let row = |(index, (closed, role)): (usize, (&Closed, &Role))| {
        let outline = outline(closed);
        let layer = read.layers.get(closed.layer).map_or("", |layer| layer.name.as_str());
        let times = (closed.times > 1).then(|| format!("drawn {} times", closed.times));
        let layer = (!layer.is_empty()).then(|| format!("layer {layer}"));
        let about: Vec<String> =
            closed.name.clone().into_iter().chain(layer).chain(times).collect();
        RingRow {
            index,
            number: index + 1,
            about: about.join(", "),
            size: size(&outline, shown),
            area: shown.area(outline.area()),
            roles: ROLES
                .iter()
                .map(|(word, name, r)| Choice {
                    value: (*word).to_owned(),
                    label: (*name).to_owned(),
                    is_chosen: r == role,
                })
                .collect(),
        }
    };
    read.rings.iter().zip(roles).enumerate().map(row).collect()
}

fn open_lines(open: &[OpenLine], shown: Shown) -> Vec<String> {
    let told = |line: &OpenLine| {
        let long: f64 = line.line.windows(2).map(|pair| pair[1].minus(pair[0]).norm_m()).sum();
        format!(
            "A line of {} is open by {}.",
            shown.length(Length::from_m(long)),
            shown.length_fine(line.gap)
        )
    };
    let mut all: Vec<String> = open.iter().take(MOST_TOLD).map(told).collect();
    if open.len() > MOST_TOLD {
        all.push(format!("And {} more.", trimmed((open.len() - MOST_TOLD) as f64, 0)));
    }
    all
}
