//! The recipe of a cast's colour: what of each, how much that is, and how other casts were coloured.

use fondant_app::recipes::Mixed;
use fondant_cast::Document;
use fondant_cast::document::{Recipe, RecipeColour, through_depth};
use fondant_materials::resin::shelf::{Colour, ColourKind};
use fondant_pours::layers::LayerKind;
use fondant_quantities::units::trimmed;
use fondant_quantities::{Length, Mass, bounds};

use crate::pages::stations::asked::Asked;
use crate::ui::group::{List, ListRow};
use crate::ui::reader::Reader;
use crate::words::counting::counted;

/// A depth that is off by less looks the same.
const SEEN_RATIO: f64 = 0.05;
/// Digits of a percentage of colour: a tenth of a gram in ten kilograms.
const DIGITS: usize = 3;

/// What is typed of a colour's share where nothing is said yet, percent (convention: a faint tint).
const FRESH_PERCENT: f64 = 0.2;

pub(super) fn apply(reader: &mut Reader<'_>, document: &mut Document) {
    // Where the page shows no recipe, none is taken away.
    if reader.entries.get("recipe").is_none() {
        return;
    }
    if let Some(text) = reader.entries.get("recipe_as") {
        match serde_json::from_str::<Vec<RecipeColour>>(text) {
            Ok(colours) => document.recipe = Recipe { colours },
            Err(_) => reader.refusals.add("", "That recipe arrived damaged. Reload the page."),
        }
        return;
    }
    let numbers = reader.rows("tint");
    document.recipe.colours = numbers.iter().map(|number| read(reader, number)).collect();
    if reader.entries.get("add") == Some("tint") {
        let name = reader.entries.get("first_colour").unwrap_or_default();
        let name = if name.is_empty() { "colour 1" } else { name }.to_owned();
        let cup = document.cups().first().map_or_else(String::new, |(cup, _)| (*cup).to_owned());
        document.recipe.colours.push(RecipeColour { name, percent: FRESH_PERCENT, cup });
    }
}

fn read(reader: &mut Reader<'_>, number: &str) -> RecipeColour {
    let mut colour = RecipeColour::of_all("", FRESH_PERCENT);
    let name = format!("tint_name-{number}");
    reader.text(&name, "The colour", bounds::NAME_CHARACTERS, false, &mut colour.name);
    let percent = format!("tint_percent-{number}");
    reader.number(&percent, &bounds::TINT_PERCENT, &mut colour.percent);
    let cup = format!("tint_cup-{number}");
    reader.text(&cup, "The cup", bounds::NAME_CHARACTERS, true, &mut colour.cup);
    colour
}

/// What is shown of it.
pub(super) struct Colouring {
    pub(super) list: List,
    pub(super) says: Vec<String>,
    pub(super) mixed: Vec<Before>,
    /// What colours it, in short.
    pub(super) sum: String,
    /// The first colour of the shelf: what a first row begins with.
    pub(super) first: String,
}

/// How another cast was coloured.
pub(super) struct Before {
    pub(super) name: String,
    pub(super) says: String,
    pub(super) offers: Vec<Offer>,
}

/// A recipe that can be taken.
pub(super) struct Offer {
    pub(super) label: String,
    pub(super) value: String,
}

impl Colouring {
    pub(super) fn of(asked: &Asked<'_>, shelf: &[Colour], mixed: &[Mixed]) -> Self {
        // What is offered colours all of a fill, and none of the cups of several colours.
        let mixed = if asked.document.cups().is_empty() { mixed } else { &[] };
        Self {
            list: list(asked, shelf),
            says: says(asked),
            sum: sum(asked.document),
            mixed: mixed.iter().map(|one| before(asked, shelf, one)).collect(),
            first: shelf.first().map_or_else(String::new, |colour| colour.name.clone()),
        }
    }
}

fn sum(document: &Document) -> String {
    let all = &document.recipe.colours;
    let mut names: Vec<&str> = all.iter().map(|colour| colour.name.as_str()).collect();
    names.sort_unstable();
    names.dedup();
    match (names.is_empty(), document.cups().is_empty()) {
        (false, _) => format!("Coloured with {}", names.join(", ")),
        (true, true) => "Clear: what could colour it".to_owned(),
        (true, false) => "Its cups by recipe".to_owned(),
    }
}

/// Mixed mass of the main fill, and its number of pours.
fn main_fill(asked: &Asked<'_>) -> (Mass, usize) {
    let Ok(schedule) = &asked.evaluation.pours else {
        return (asked.evaluation.own().parts.mass, 1);
    };
    let main: Vec<Mass> = schedule
        .pours
        .iter()
        .filter(|pour| matches!(pour.layer.kind, LayerKind::Main(_)))
        .map(|pour| pour.mixed * asked.evaluation.need_of(&pour.layer).resin.density)
        .collect();
    (main.iter().copied().sum(), main.len())
}

fn list(asked: &Asked<'_>, shelf: &[Colour]) -> List {
    let (fields, recipe) = (asked.fields(), &asked.document.recipe);
    let (mass, _) = main_fill(asked);
    let names: Vec<String> = shelf.iter().map(|colour| colour.name.clone()).collect();
    let cups = asked.document.cups();
    let fresh = RecipeColour::of_all("", FRESH_PERCENT);
    let row = |number: String| {
        let place: Option<usize> = number.parse().ok();
        let kept = place.and_then(|place| recipe.colours.get(place));
        let colour = kept.unwrap_or(&fresh);
        let share = format!("{}\u{202f}%", trimmed(colour.percent, DIGITS));
        let mut all = vec![
            fields.text(&format!("tint_name-{number}"), "Colour", &colour.name).offering(&names),
            fields.text(&format!("tint_percent-{number}"), "Of the mixed mass", &share),
        ];
        if !cups.is_empty() {
            let choices: Vec<(&str, &str)> =
                cups.iter().map(|(cup, _)| (*cup, cup_name(cup))).collect();
            let name = format!("tint_cup-{number}");
            all.push(fields.choice(&name, "In the cup", &colour.cup, &choices));
        }
        let note = kept.map_or_else(String::new, |one| note(asked, shelf, one, mass));
        ListRow { fields: all, note, number }
    };
    List {
        name: "tint",
        title: "What colours it?",
        why: if cups.is_empty() {
            "Weighed into each bucket at the bench, all buckets alike. None for a clear fill."
        } else {
            "Weighed into its cup at the bench. None for a cup that is coloured by eye, or clear."
        }
        .to_owned(),
        one: "colour",
        rows: asked.rows("tint", recipe.colours.len()).into_iter().map(row).collect(),
        may_be_empty: true,
    }
}

/// What a cup is called by its colour.
const fn cup_name(cup: &str) -> &str {
    if cup.is_empty() { "clear" } else { cup }
}

/// How much of a colour the cast takes, and what it stands.
fn note(asked: &Asked<'_>, shelf: &[Colour], one: &RecipeColour, mass: Mass) -> String {
    let cups = asked.document.cups();
    let (mass, place) = match cups.iter().find(|(cup, _)| *cup == one.cup) {
        _ if cups.is_empty() => (mass, "for the main fill".to_owned()),
        Some((cup, share)) => (mass * *share, format!("for the cup “{}”", cup_name(cup))),
        None => {
            return "▲ Its cup no longer exists, so it is not used. Choose another.".to_owned();
        }
    };
    let all = format!("{} {place}", asked.shown.weighed(mass * (one.percent / 100.0)));
    match shelf.iter().find(|colour| colour.name == one.name) {
        None => format!("{all}. Not on the shelf: its ceiling is not known."),
        Some(colour) if one.percent > colour.ceiling_percent => format!(
            "▲ {all}: over the {}\u{202f}% that it stands, the resin may stay soft.",
            trimmed(colour.ceiling_percent, 1)
        ),
        Some(colour) => {
            format!("{all}; {}\u{202f}% at most.", trimmed(colour.ceiling_percent, 1))
        }
    }
}

/// How layers are kept alike.
fn says(asked: &Asked<'_>) -> Vec<String> {
    let (mass, pours) = main_fill(asked);
    let recipe = &asked.document.recipe;
    if recipe.is_clear() || pours < 2 || !asked.document.cups().is_empty() {
        return Vec::new();
    }
    let mix = &asked.evaluation.resin.mix;
    let a = mass * (mix.a_by_mass / (mix.a_by_mass + mix.b_by_mass));
    vec![format!(
        "{} alike: colour all {} of part A at once, {} into it, and weigh from that.",
        counted(pours, "pour"),
        asked.shown.weighed(a),
        asked.shown.weighed(mass * (recipe.percent() / 100.0))
    )]
}

fn before(asked: &Asked<'_>, shelf: &[Colour], mixed: &Mixed) -> Before {
    let (shown, zone) = (asked.shown, asked.shop.hours().zone());
    let now = asked.measured().fill.depth();
    let told: Vec<String> = mixed
        .colours
        .iter()
        .map(|one| format!("{} {}\u{202f}%", one.name, trimmed(one.percent, DIGITS)))
        .collect();
    let mut offers = vec![offer("Take it as it was".to_owned(), mixed.colours.clone())];
    let off = (mixed.depth.mm() / now.mm().max(1e-9) - 1.0).abs();
    if off > SEEN_RATIO && mixed.colours.iter().any(|one| is_clear(shelf, one)) {
        let label = format!("Take it for {}", shown.length(now));
        offers.push(offer(label, scaled(shelf, mixed, now)));
    }
    let on = shown.date_and_time(mixed.at, zone);
    Before {
        name: mixed.name.clone(),
        says: format!("{on}, {} deep in the form: {}", shown.length(mixed.depth), told.join(", ")),
        offers,
    }
}

/// Light passes dyes; what is ground covers at any depth.
fn is_clear(shelf: &[Colour], one: &RecipeColour) -> bool {
    shelf.iter().any(|colour| colour.name == one.name && colour.kind == ColourKind::Dye)
}

/// The recipe for another depth: dyes by what light passes, anything ground as it was.
fn scaled(shelf: &[Colour], mixed: &Mixed, now: Length) -> Vec<RecipeColour> {
    let one = |one: &RecipeColour| RecipeColour {
        percent: if is_clear(shelf, one) {
            through_depth(one.percent, [mixed.depth, now])
        } else {
            one.percent
        },
        ..one.clone()
    };
    mixed.colours.iter().map(one).collect()
}

fn offer(label: String, mut colours: Vec<RecipeColour>) -> Offer {
    let scale = 10f64.powi(DIGITS as i32);
    for one in &mut colours {
        one.percent = (one.percent * scale).round() / scale;
    }
    Offer { label, value: serde_json::to_string(&colours).unwrap_or_default() }
}
