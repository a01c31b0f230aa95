//! What is inside, as it is shown.

use askama::Template;
use fondant_cast::Contents;

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
    section: Markup,
    section_caption: String,
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
        plan: both(WIDE, |frame| plan_view::draw(&view, frame)),
        section: both(WIDE, |frame| section::draw(&cut, section::Extent::Whole, frame)),
        section_caption: format!(
            "Section {} from the left end, to scale",
            asked.shown.length(cut.at)
        ),
    })
}
