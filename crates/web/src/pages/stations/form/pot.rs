//! Loading a pressure pot.

use fondant_cast::measure::standing_in_pot;
use fondant_quantities::units::UnitSystem;
use fondant_quantities::{Length, bounds};
use fondant_shapes::blanks::pot::{Level, Loading, Pot, Standing, TooLarge, load};

use crate::drawings::rack;
use crate::pages::stations::asked::Asked;
use crate::svg::{Markup, WIDE, both};
use crate::ui::group::Group;
use crate::ui::reader::Reader;
use crate::words::rack::{out_of_pot, standing_of};

pub(crate) struct PotView {
    pub(crate) fields: Group,
    pub(crate) drawing: Markup,
    pub(crate) says: Vec<String>,
}

/// A small shop's pot, to be typed over.
fn usual(units: UnitSystem) -> Pot {
    let mm = |mm: f64| units.rounded(Length::from_mm(mm));
    Pot { diameter: mm(240.0), height: mm(260.0), shelf: mm(6.0), gap: mm(5.0) }
}

pub(super) fn apply(reader: &mut Reader<'_>, place: &mut Option<Pot>) {
    if reader.entries.get("pot").is_none() {
        *place = None;
        return;
    }
    let mut pot = place.unwrap_or_else(|| usual(reader.system));
    // Its figures come onto the page once it is ticked.
    if reader.entries.get("pot_diameter").is_some() {
        reader.quantity("pot_diameter", &bounds::POT_SIDE, &mut pot.diameter);
        reader.quantity("pot_height", &bounds::POT_SIDE, &mut pot.height);
        reader.quantity("pot_shelf", &bounds::POT_GAP, &mut pot.shelf);
        reader.quantity("pot_gap", &bounds::POT_GAP, &mut pot.gap);
    }
    *place = Some(pot);
}

pub(super) fn view(asked: &Asked<'_>) -> PotView {
    let (fields, contents) = (asked.fields(), &asked.document.contents);
    let mut all = vec![fields.tick("pot", "It goes under pressure", contents.pot().is_some())];
    let Some(pot) = contents.pot() else {
        return PotView {
            fields: Group::new("Pressure pot", all),
            drawing: Markup::default(),
            says: Vec::new(),
        };
    };
    all.push(fields.length("pot_diameter", "Pot across, inside", pot.diameter));
    all.push(fields.length("pot_height", "Clear height", pot.height));
    all.push(fields.length("pot_shelf", "A shelf of the rack", pot.shelf));
    all.push(fields.length("pot_gap", "Gap round each", pot.gap));
    let standing = standing_in_pot(asked.document, asked.measured());
    let (drawing, says) = match load(pot, &standing) {
        Err(TooLarge { of }) => (Markup::default(), vec![too_large(asked, of, standing.get(of))]),
        Ok(loading) => {
            let drawing = both(WIDE, |frame| rack::pot(pot, &standing, &loading, frame));
            (drawing, says(asked, &loading))
        }
    };
    let fields = Group::new("Pressure pot", all)
        .why("A pressure vessel: within its rated pressure, relief valve free, vented fully before it is opened, never modified.");
    PotView { fields, drawing, says }
}

fn too_large(asked: &Asked<'_>, of: usize, one: Option<&Standing>) -> String {
    let Some(one) = one else { return String::new() };
    let shown = asked.shown;
    format!(
        "▲ {} of {} × {} × {} does not stand in this pot.",
        standing_of(asked.document, of, 1),
        shown.length_figure(one.length),
        shown.length_figure(one.width),
        shown.length(one.height)
    )
}

/// What is loaded where, and what of it has to wait.
fn says(asked: &Asked<'_>, loading: &Loading) -> Vec<String> {
    let Some((first, others)) = loading.loads.split_first() else { return Vec::new() };
    let level = |(place, level): (usize, &Level)| {
        format!("{} on level {}", standing_of(asked.document, level.of, level.count), place + 1)
    };
    let levels: Vec<String> = first.iter().enumerate().map(level).collect();
    let mut says = vec![format!(
        "From the bottom up: {}. In before the resin gels, the rack level.",
        levels.join(", ")
    )];
    if !others.is_empty() {
        says.push(out_of_pot(others.iter().flatten().map(|level| level.count).sum()));
    }
    says
}
