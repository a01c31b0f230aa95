//! The piece as it is shown.

use askama::Template;
use fondant_cast::{Contents, Document, Kind};

use super::hollow;
use super::sides::{allowances, sides};
use crate::drawings::plan_view::draw;
use crate::pages::stations::asked::Asked;
use crate::paths::casts::Station;
use crate::svg::{Markup, WIDE, both};
use crate::ui::field::{Field, Fields};
use crate::ui::group::{Group, List};
use crate::ui::units::Shown;
use crate::words::{cautions, kinds};

#[derive(Template)]
#[template(path = "pages/stations/piece/piece.html")]
struct PieceBody {
    kind: &'static str,
    name: Field,
    groups: Vec<Group>,
    /// Rows of cavities, for moulds.
    rows: Option<List>,
    refusal: String,
    can_spread: bool,
    drawing: Markup,
    caption: &'static str,
    cast_heading: &'static str,
    cast_size: String,
    cast_other: String,
    cast_thickness: String,
    why_size: String,
    why_thickness: String,
    cautions: Vec<&'static str>,
}

pub(super) fn view(asked: &Asked<'_>, (): ()) -> askama::Result<Markup> {
    let (document, shown) = (asked.document, asked.shown);
    let kind = document.kind();
    let (cast, fields) = (&asked.measured().cast, asked.fields());
    let other = shown.other();
    let link = format!("{}?section=", Station::of(asked.cast, "timber"));
    let view = asked.plan_view(&link);
    let mut groups = vec![Group::new("", size_fields(&fields, document))];
    groups.push(brief_group(&fields, document));
    Markup::of(&PieceBody {
        kind: kinds::name(kind),
        name: fields.text("name", "Name", &document.name),
        groups,
        rows: match &document.contents {
            Contents::Moulds(moulds) => Some(hollow::list(asked, moulds)),
            _ => None,
        },
        refusal: asked.refusal(),
        can_spread: asked.refusals.of("length").contains("lies beyond the form"),
        drawing: both(WIDE, |frame| draw(&view, frame)),
        caption: caption(kind),
        cast_heading: match document.kind() {
            Kind::Inlay => "The board",
            Kind::Coat => "The face",
            Kind::Moulds => "The largest cavity",
            Kind::Tubes => "One cavity",
            _ => "Cast at",
        },
        cast_size: format!("{} × {}", shown.length_figure(cast.length), shown.length(cast.width)),
        cast_other: format!("{} × {}", other.length(cast.length), other.length(cast.width)),
        cast_thickness: shown.length(cast.thickness),
        why_size: why_size(document, shown),
        why_thickness: why_thickness(document, shown),
        cautions: cautions(document),
    })
}

/// What the drawing is to be held against.
const fn caption(kind: Kind) -> &'static str {
    match kind {
        Kind::River => "As it is cast, from above, to scale: click a width to measure it again",
        Kind::Inlay => "The board from above, to scale, with what is filled in it",
        Kind::Block | Kind::Embed => "As it is cast, from above, to scale: the inside of the form",
        Kind::Tubes | Kind::Moulds => {
            "As they are cast, from above, to scale: check the walls between them"
        }
        Kind::Coat => "The face from above, to scale",
    }
}

fn size_fields(fields: &Fields<'_>, document: &Document) -> Vec<Field> {
    let (piece, sides) = (&document.piece, sides(document.kind()));
    match &document.contents {
        Contents::Tubes(tubes) => return hollow::tube_fields(fields, tubes),
        Contents::Moulds(moulds) => return hollow::mould_fields(fields, moulds),
        _ => {}
    }
    let mut all = vec![
        fields.length("length", sides.length, piece.length),
        fields.length("width", sides.width, piece.width),
        fields.length("thickness", sides.thickness, piece.thickness),
    ];
    let (trims, flattens, squares) = allowances(document.kind());
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

fn brief_group(fields: &Fields<'_>, document: &Document) -> Group {
    let brief = &document.brief;
    let deadline = brief.deadline.map(|date| date.to_string()).unwrap_or_default();
    Group::new(
        "What it is for",
        vec![
            fields.text("finish", "Finish wanted", &brief.finish),
            Field {
                hint: "What casts like it taught; the bench asks for it first.".into(),
                ..fields.text("minded", "To watch out for at the bench", &brief.minded)
            },
            fields.text("deadline", "Done by", &deadline).kind("date"),
            fields.tick("outdoor", "It stands outdoors", brief.is_outdoor),
            fields.tick("food", "Food touches it", brief.touches_food),
            fields.tick("lit", "Light shines through it", brief.is_lit),
        ],
    )
}

fn why_size(document: &Document, shown: Shown) -> String {
    match document.kind() {
        Kind::Inlay => "The resin goes into the board; nothing is added round it.".to_owned(),
        Kind::Coat => "What the coat covers, seen from above.".to_owned(),
        Kind::Tubes | Kind::Moulds => {
            let count = document.contents.moulding().map_or(0, |(count, ..)| count);
            format!("{count} of them, as the mould is; nothing is trimmed off.")
        }
        _ => format!(
            "Finished size and {} on every side, sawn off once it is cured.",
            shown.length(document.piece.trim_margin)
        ),
    }
}

fn why_thickness(document: &Document, shown: Shown) -> String {
    let piece = &document.piece;
    match document.kind() {
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
        Kind::Tubes | Kind::Moulds => "As deep as the resin.".to_owned(),
        Kind::Coat => "The edges are coated too, where the volume says so.".to_owned(),
    }
}

fn cautions(document: &Document) -> Vec<&'static str> {
    let mut all = Vec::new();
    if document.brief.touches_food {
        all.push(
            "Food: only after full cure, and only as the maker of the resin states for this resin \
             and its colours.",
        );
    }
    if document.brief.is_outdoor {
        all.push("Outdoors: sun yellows epoxy and timber moves. Ask the datasheet for UV, and seal every face.");
    }
    if document.brief.is_lit {
        all.push(
            "Lights: mains parts and resin are for a licensed electrician. Low-voltage strips warm \
             the resin too; leave room to change them.",
        );
    }
    if document.kind() == Kind::River {
        all.push("A slab of timber and resin is heavy: plan now how it will be lifted and turned.");
    }
    if matches!(document.kind(), Kind::Tubes | Kind::Block) {
        all.push(cautions::POT);
    }
    all
}
