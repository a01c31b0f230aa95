//! Station 1: the finished size, what it takes to get there, what it is for.

use askama::Template;
use fondant_cast::{Conflict, Kind, Plan};
use fondant_quantities::{Length, bounds};
use fondant_shapes::blanks::Hollow;
use fondant_shapes::form::{CastSize, Piece};
use fondant_shapes::timber::RiverError;

use super::{Asked, Group};
use crate::drawings::plan_view::draw;
use crate::drawings::{WIDE, both};
use crate::entries::Reader;
use crate::views::fields::{Field, Fields};
use crate::views::format::Shown;
use crate::views::kinds;
use crate::views::rail::Station;

/// Longest words about the finish, characters.
const FINISH_CHARACTERS: usize = 60;

#[derive(Template)]
#[template(path = "stations/piece.html")]
struct PieceBody {
    kind: &'static str,
    name: Field,
    groups: Vec<Group>,
    refusal: String,
    can_spread: bool,
    drawing: String,
    cast_heading: &'static str,
    cast_size: String,
    cast_other: String,
    cast_thickness: String,
    why_size: String,
    why_thickness: String,
    cautions: Vec<&'static str>,
}

/// What a kind calls its three sides.
struct Sides {
    length: &'static str,
    width: &'static str,
    thickness: &'static str,
}

const fn sides(kind: Kind) -> Sides {
    match kind {
        Kind::River => Sides {
            length: "Finished length",
            width: "Finished width",
            thickness: "Finished thickness",
        },
        Kind::Inlay => {
            Sides { length: "Board length", width: "Board width", thickness: "Finished thickness" }
        }
        Kind::Block => {
            Sides { length: "Block length", width: "Block width", thickness: "Block height" }
        }
        Kind::Embed => Sides {
            length: "Finished length",
            width: "Finished width",
            thickness: "Finished height",
        },
        Kind::TubeBlanks => {
            Sides { length: "Cavity depth", width: "Cavity across", thickness: "Cavity across" }
        }
        Kind::Moulds => {
            Sides { length: "Cavity length", width: "Cavity width", thickness: "Cavity depth" }
        }
        Kind::Coat => Sides {
            length: "Length of the face",
            width: "Width of the face",
            thickness: "Height of its edges",
        },
    }
}

/// Allowances that mean something for a kind: trimming, flattening, squaring.
const fn allowances(kind: Kind) -> (bool, bool, bool) {
    match kind {
        Kind::River => (true, true, false),
        Kind::Inlay => (false, true, false),
        Kind::Block | Kind::Embed => (true, false, true),
        Kind::TubeBlanks | Kind::Moulds | Kind::Coat => (false, false, false),
    }
}

/// A piece of a kind to begin from, to be typed over.
pub(in crate::routes) fn usual_piece(kind: Kind) -> Piece {
    let mm = Length::from_mm;
    let (l, w, t, trim, flattening, squaring) = match kind {
        Kind::River => (1200.0, 600.0, 34.0, 10.0, 2.0, 0.0),
        Kind::Inlay => (600.0, 250.0, 30.0, 0.0, 0.0, 0.0),
        Kind::Block => (280.0, 120.0, 45.0, 3.0, 0.0, 4.0),
        Kind::Embed => (90.0, 90.0, 110.0, 5.0, 0.0, 25.0),
        Kind::TubeBlanks => (75.0, 22.0, 22.0, 0.0, 0.0, 0.0),
        Kind::Moulds => (100.0, 100.0, 10.0, 0.0, 0.0, 0.0),
        Kind::Coat => (1200.0, 600.0, 34.0, 0.0, 0.0, 0.0),
    };
    Piece {
        length: mm(l),
        width: mm(w),
        thickness: mm(t),
        trim_margin: mm(trim),
        flattening: mm(flattening),
        squaring: mm(squaring),
    }
}

/// The few questions with which a cast of a kind begins.
pub(in crate::routes) fn begin_fields(fields: &Fields<'_>, kind: Kind) -> Vec<Field> {
    let (piece, sides) = (usual_piece(kind), sides(kind));
    let mut all = vec![
        fields.length("length", sides.length, piece.length),
        fields.length("width", sides.width, piece.width),
    ];
    if kind != Kind::TubeBlanks {
        all.push(fields.length("thickness", sides.thickness, piece.thickness));
    }
    if kind.has_moulds() {
        all.push(fields.number("count", "How many cavities", 6.0, &bounds::MOULD_COUNT));
    } else if allowances(kind).0 {
        all.push(
            fields
                .length("trim_margin", "Trim margin, every side", piece.trim_margin)
                .hint("Sawn off once it is cured."),
        );
    }
    all
}

/// Reads those questions: the piece, and how many.
pub(in crate::routes) fn read_begin(reader: &mut Reader<'_>, kind: Kind) -> (Piece, u32) {
    let mut piece = usual_piece(kind);
    let mut count = 6;
    read_sides(reader, kind, &mut piece);
    if kind.has_moulds() {
        reader.count("count", &bounds::MOULD_COUNT, &mut count);
    } else if allowances(kind).0 {
        reader.quantity("trim_margin", &bounds::TRIM_MARGIN, &mut piece.trim_margin);
    }
    (piece, count)
}

fn read_sides(reader: &mut Reader<'_>, kind: Kind, piece: &mut Piece) {
    reader.quantity("length", &bounds::FINISHED_LENGTH, &mut piece.length);
    reader.quantity("width", &bounds::FINISHED_WIDTH, &mut piece.width);
    if kind == Kind::TubeBlanks {
        piece.thickness = piece.width;
    } else {
        reader.quantity("thickness", &bounds::FINISHED_THICKNESS, &mut piece.thickness);
    }
}

pub(super) fn apply(reader: &mut Reader<'_>, plan: &mut Plan) {
    reader.text("name", "The name", bounds::NAME_CHARACTERS, false, &mut plan.name);
    let before = CastSize::of(&plan.piece).length;
    if plan.kind.has_moulds() {
        read_hollow(reader, plan);
    } else {
        read_sides(reader, plan.kind, &mut plan.piece);
        let (trims, flattens, squares) = allowances(plan.kind);
        if trims {
            reader.quantity("trim_margin", &bounds::TRIM_MARGIN, &mut plan.piece.trim_margin);
        }
        if flattens {
            reader.quantity("flattening", &bounds::FLATTENING, &mut plan.piece.flattening);
        }
        if squares {
            reader.quantity("squaring", &bounds::SQUARING, &mut plan.piece.squaring);
        }
    }
    read_brief(reader, plan);
    if reader.entries.get("spread").is_some() && reader.refusals.is_empty() {
        plan.spread_stations(before, CastSize::of(&plan.piece).length);
    }
}

fn read_brief(reader: &mut Reader<'_>, plan: &mut Plan) {
    let brief = &mut plan.brief;
    reader.text("finish", "The finish", FINISH_CHARACTERS, true, &mut brief.finish);
    let deadline = reader.entries.get("deadline").unwrap_or_default().trim();
    if deadline.is_empty() {
        brief.deadline = None;
    } else {
        match deadline.parse() {
            Ok(date) => brief.deadline = Some(date),
            Err(_) => reader
                .refusals
                .add("deadline", "Pick a day, or type one as year-month-day: 2026-12-18."),
        }
    }
    let ticked = |name: &str| reader.entries.get(name).is_some();
    (brief.is_outdoor, brief.touches_food, brief.is_lit) =
        (ticked("outdoor"), ticked("food"), ticked("lit"));
}

/// The cavity of a mould: a box, a cylinder, or whatever holds so much water.
fn read_hollow(reader: &mut Reader<'_>, plan: &mut Plan) {
    let moulding = &mut plan.moulding;
    reader.count("count", &bounds::MOULD_COUNT, &mut moulding.count);
    reader.quantity("mould_wall", &bounds::MOULD_WALL, &mut moulding.wall);
    let mut depth = moulding.hollow.depth();
    reader.quantity("depth", &bounds::HOLLOW_DEPTH, &mut depth);
    let (mut length, mut width) = moulding.hollow.mouth();
    let mut volume = moulding.hollow.volume();
    // A figure of the shape before stays on the page until it is typed over.
    let has = |name: &str| reader.entries.get(name).is_some();
    let (has_length, has_width, has_water) = (has("length"), has("width"), has("water"));
    if has_length {
        reader.quantity("length", &bounds::HOLLOW_SIDE, &mut length);
    }
    if has_width {
        reader.quantity("width", &bounds::HOLLOW_SIDE, &mut width);
    }
    if has_water {
        reader.quantity("water", &bounds::WATER, &mut volume);
    }
    moulding.hollow = match reader.entries.get("hollow") {
        Some("box") => Hollow::Box { length, width, depth },
        Some("water") => Hollow::Water { volume, depth },
        _ => Hollow::Round { diameter: length, depth },
    };
}

fn hollow_fields(fields: &Fields<'_>, plan: &Plan) -> Vec<Field> {
    let moulding = &plan.moulding;
    let shapes = [("round", "round"), ("box", "square or long"), ("water", "any shape, by water")];
    let chosen = match moulding.hollow {
        Hollow::Box { .. } => "box",
        Hollow::Round { .. } => "round",
        Hollow::Water { .. } => "water",
    };
    let mut all = vec![
        fields.number("count", "Cavities", f64::from(moulding.count), &bounds::MOULD_COUNT),
        fields.choice("hollow", "Shape of a cavity", chosen, &shapes),
    ];
    match moulding.hollow {
        Hollow::Box { length, width, .. } => {
            all.push(fields.length("length", "Length inside", length));
            all.push(fields.length("width", "Width inside", width));
        }
        Hollow::Round { diameter, .. } => {
            all.push(fields.length("length", "Across inside", diameter));
        }
        Hollow::Water { volume, .. } => {
            all.push(fields.volume("water", "Water it holds", volume).hint(
                "Fill one to where the resin will stand, and weigh it: a gram is a millilitre.",
            ));
        }
    }
    all.push(fields.length("depth", "Depth as poured", moulding.hollow.depth()));
    all.push(
        fields
            .length("mould_wall", "Mould round a cavity", moulding.wall)
            .hint("For the drawing and the pressure pot."),
    );
    all
}

pub(super) fn field_of(conflict: &Conflict) -> String {
    match conflict {
        Conflict::River(RiverError::BeyondForm { .. }) => "length",
        Conflict::River(RiverError::WiderThanForm { .. } | RiverError::PastFarWall { .. })
        | Conflict::InsertTooWide { .. } => "width",
        Conflict::BoardsTooThin { .. }
        | Conflict::InsertTooTall { .. }
        | Conflict::CavityTooDeep { .. } => "thickness",
        Conflict::TubeTooLarge { is_length: true } => "depth",
        Conflict::TubeTooLarge { is_length: false } => "length",
        _ => "",
    }
    .to_owned()
}

pub(super) fn body(asked: &Asked<'_>) -> askama::Result<String> {
    let (plan, shown) = (asked.plan, asked.shop.shown);
    let (cast, fields) = (&asked.measured().cast, asked.fields());
    let other = shown.other();
    let link = format!("{}?section=", asked.address(Station::Timber));
    let view = asked.plan_view(&link);
    let mut groups = vec![Group::new("", size_fields(&fields, plan))];
    groups.push(brief_group(&fields, plan));
    PieceBody {
        kind: kinds::name(plan.kind),
        name: fields.text("name", "Name", &plan.name),
        groups,
        refusal: asked.refusal(),
        can_spread: asked.refusals.of("length").contains("lies beyond the form"),
        drawing: both(WIDE, |frame| draw(&view, frame)),
        cast_heading: match plan.kind {
            Kind::Inlay => "The board",
            Kind::Coat => "The face",
            kind if kind.has_moulds() => "One cavity",
            _ => "Cast at",
        },
        cast_size: format!("{} × {}", shown.length_figure(cast.length), shown.length(cast.width)),
        cast_other: format!("{} × {}", other.length(cast.length), other.length(cast.width)),
        cast_thickness: shown.length(cast.thickness),
        why_size: why_size(plan, shown),
        why_thickness: why_thickness(plan, shown),
        cautions: cautions(plan),
    }
    .render()
}

fn size_fields(fields: &Fields<'_>, plan: &Plan) -> Vec<Field> {
    let (piece, sides) = (&plan.piece, sides(plan.kind));
    if plan.kind.has_moulds() {
        return hollow_fields(fields, plan);
    }
    let mut all = vec![
        fields.length("length", sides.length, piece.length),
        fields.length("width", sides.width, piece.width),
        fields.length("thickness", sides.thickness, piece.thickness),
    ];
    let (trims, flattens, squares) = allowances(plan.kind);
    if trims {
        all.push(fields.length("trim_margin", "Trim margin, every side", piece.trim_margin));
    }
    if flattens {
        all.push(fields.length("flattening", "Machined off each face", piece.flattening));
    }
    if squares {
        all.push(fields.length("squaring", "Extra height to square up", piece.squaring));
    }
    all
}

fn brief_group(fields: &Fields<'_>, plan: &Plan) -> Group {
    let brief = &plan.brief;
    let deadline = brief.deadline.map(|date| date.to_string()).unwrap_or_default();
    Group::new(
        "What it is for",
        vec![
            fields.text("finish", "Finish wanted", &brief.finish),
            fields.text("deadline", "Done by", &deadline).kind("date"),
            fields.tick("outdoor", "It stands outdoors", brief.is_outdoor),
            fields.tick("food", "Food touches it", brief.touches_food),
            fields.tick("lit", "Light shines through it", brief.is_lit),
        ],
    )
}

fn why_size(plan: &Plan, shown: Shown) -> String {
    match plan.kind {
        Kind::Inlay => "The resin goes into the board; nothing is added round it.".to_owned(),
        Kind::Coat => "What the coat covers, seen from above.".to_owned(),
        kind if kind.has_moulds() => {
            format!("{} of them, as the mould is; nothing is trimmed off.", plan.moulding.count)
        }
        _ => format!(
            "Finished size and {} on every side, sawn off once it is cured.",
            shown.length(plan.piece.trim_margin)
        ),
    }
}

fn why_thickness(plan: &Plan, shown: Shown) -> String {
    let piece = &plan.piece;
    match plan.kind {
        Kind::River => format!(
            "Finished thickness and {} a face for the router sled. Boards of at least this \
             thickness leave enough to flatten.",
            shown.length(piece.flattening)
        ),
        Kind::Inlay => {
            format!("Finished thickness and {} off each face.", shown.length(piece.flattening))
        }
        Kind::Block | Kind::Embed => format!(
            "Finished height and {} to square it up: the top is never level to the edge.",
            shown.length(piece.squaring)
        ),
        Kind::TubeBlanks | Kind::Moulds => "As deep as the resin stands in it.".to_owned(),
        Kind::Coat => "The edges are coated too, where the volume says so.".to_owned(),
    }
}

fn cautions(plan: &Plan) -> Vec<&'static str> {
    let mut all = Vec::new();
    if plan.brief.touches_food {
        all.push(
            "Food: only after full cure, and only as the maker of the resin states for this resin \
             and its colours.",
        );
    }
    if plan.brief.is_outdoor {
        all.push("Outdoors: sun yellows epoxy and timber moves. Ask the datasheet for UV, and seal every face.");
    }
    if plan.brief.is_lit {
        all.push(
            "Lights: mains parts and resin are for a licensed electrician. Low-voltage strips warm \
             the resin too; leave room to change them.",
        );
    }
    if plan.kind == Kind::River {
        all.push("A slab of timber and resin is heavy: plan now how it will be lifted and turned.");
    }
    if matches!(plan.kind, Kind::TubeBlanks | Kind::Block) {
        all.push("A pressure pot is a pressure vessel: stay within its rated pressure, keep its relief valve, vent it fully before opening, never modify it.");
    }
    all
}
