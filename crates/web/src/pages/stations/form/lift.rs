//! What holds down what lies in the resin.

use fondant_cast::Contents;
use fondant_quantities::{Force, Mass};
use fondant_shapes::volume::float::HOLD_DOWN_FACTOR;
use fondant_shapes::volume::layout::What;
use fondant_shapes::volume::triangle::{Corner, Triangle};

use crate::pages::stations::asked::Asked;
use crate::pages::stations::contents::pieces::row_name;
use crate::paths::casts::Station;
use crate::ui::figure::Figure;

pub(super) fn lift(asked: &Asked<'_>, index: usize) -> Figure {
    let (evaluation, shown) = (asked.evaluation, asked.shown);
    let held = &evaluation.held[index];
    let name = match held.what {
        What::Board(0) if evaluation.measured.river.is_some() => "the near board".to_owned(),
        What::Board(1) if evaluation.measured.river.is_some() => "the far board".to_owned(),
        What::Board(number) => format!("board {}", number + 1),
        What::Insert(number) => match &asked.document.contents {
            Contents::Moulds(moulds) => format!("all pieces in {}", row_name(moulds, number)),
            contents => {
                let insert = contents.inserts().get(number);
                insert.map_or_else(|| "the objects".to_owned(), |insert| insert.name.clone())
            }
        },
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
        .change("Size and density", Station::of(asked.cast, "timber").to_string());
    if floats {
        let bare = Mass::from_kg(lift.hold_down.kg() / HOLD_DOWN_FACTOR);
        figure = figure.note(format!(
            "{} would just balance it; the figure is that twice over.",
            shown.mass(bare)
        ));
    }
    if let Some(sentence) = held.weighed.and_then(|triangle| contradicted(&triangle, asked)) {
        figure = figure.note(sentence);
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

/// Which of mass, outline and density cannot be right beside the two others.
fn contradicted(triangle: &Triangle, asked: &Asked<'_>) -> Option<String> {
    let shown = asked.shown;
    let (weighed, drawn) = (shown.mass(triangle.weighed), shown.volume(triangle.drawn));
    let (density, by_mass) = (shown.density(triangle.density), shown.volume(triangle.by_mass()));
    Some(match triangle.contradicted()? {
        Corner::Volume => format!(
            "The outline seems wrong here: {weighed} of timber of {density} are {by_mass}, and it \
             is drawn with {drawn}. Measure it again."
        ),
        Corner::Density => format!(
            "The density seems wrong here: {weighed} in {drawn} are {}, not {density}. Where the \
             outline is right, write that down.",
            shown.density(triangle.weighed / triangle.drawn)
        ),
    })
}
