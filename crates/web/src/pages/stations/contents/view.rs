//! What is inside, as it is shown.

use askama::Template;
use fondant_cast::{Contents, Kind};

use super::inside::Inside;
use super::{block, cavities, face, objects, pieces, tubes};
use crate::drawings::{plan_view, section};
use crate::pages::stations::asked::Asked;
use crate::svg::{Markup, WIDE, both};

#[derive(Template)]
#[template(path = "pages/stations/contents/contents.html")]
struct Page {
    c: Inside,
    refusal: String,
    plan: Markup,
    plan_caption: &'static str,
    section: Markup,
    section_caption: String,
}

/// What the view from above is to be held against.
const fn plan_caption(kind: Kind) -> &'static str {
    match kind {
        Kind::Embed => {
            "From above, to scale: hold what you lay in against it before you glue it down"
        }
        Kind::Inlay => {
            "From above, to scale: how large each cavity is on the board, not where it lies"
        }
        Kind::Coat => "From above, to scale: the face that is coated",
        _ => "From above, to scale: the cavities, and what stands or lies in each",
    }
}

pub(super) fn view(asked: &Asked<'_>) -> askama::Result<Markup> {
    let c = match &asked.document.contents {
        Contents::Inlay(inlay) => cavities::inside(asked, inlay),
        Contents::Embed(embed) => objects::inside(asked, embed),
        Contents::Block(block) => block::inside(asked, block),
        Contents::Tubes(tubes) => tubes::inside(asked, tubes),
        Contents::Moulds(moulds) => pieces::inside(asked, moulds),
        Contents::Coat(coat) => face::inside(asked, coat),
        // The boards of a river have a station of their own.
        Contents::River(_) => Inside::default(),
    };
    let view = asked.plan_view("");
    let cut = asked.section();
    Markup::of(&Page {
        c,
        refusal: asked.refusal(),
        plan_caption: plan_caption(asked.document.kind()),
        plan: both(WIDE, |frame| plan_view::draw(&view, frame)),
        section: both(WIDE, |frame| section::draw(&cut, section::Extent::Whole, frame)),
        section_caption: format!(
            "Section {} from the left end, to scale: what stays above and below each thing",
            asked.shown.length(cut.at)
        ),
    })
}
