//! Loading a pressure pot.

use fondant_quantities::{Length, bounds};
use fondant_shapes::blanks::pot::{Pot, load};

use crate::drawings::blanks;
use crate::pages::stations::asked::Asked;
use crate::svg::{Markup, WIDE, both};
use crate::ui::group::Group;
use crate::ui::reader::Reader;

pub(crate) struct PotView {
    pub(crate) fields: Group,
    pub(crate) drawing: Markup,
    pub(crate) sentence: String,
}

/// A small shop's pot, to be typed over.
const USUAL: Pot = Pot {
    diameter: Length::from_mm(240.0),
    height: Length::from_mm(260.0),
    shelf: Length::from_mm(6.0),
    gap: Length::from_mm(5.0),
};

pub(super) fn apply(reader: &mut Reader<'_>, place: &mut Option<Pot>) {
    if reader.entries.get("pot").is_none() {
        *place = None;
        return;
    }
    let mut pot = place.unwrap_or(USUAL);
    // Its figures come onto the page once it is ticked.
    if reader.entries.get("pot_diameter").is_some() {
        reader.quantity("pot_diameter", &bounds::POT_SIDE, &mut pot.diameter);
        reader.quantity("pot_height", &bounds::POT_SIDE, &mut pot.height);
        reader.quantity("pot_shelf", &bounds::POT_GAP, &mut pot.shelf);
        reader.quantity("pot_gap", &bounds::POT_GAP, &mut pot.gap);
    }
    *place = Some(pot);
}

/// What stands in the pot.
struct Standing {
    count: usize,
    /// Outer length, width and height of one.
    size: (Length, Length, Length),
}

/// Moulds by their largest cavity, a block in its form.
fn standing(asked: &Asked<'_>) -> Option<Standing> {
    let contents = &asked.document.contents;
    if let Some((count, hollow, wall)) = contents.moulding() {
        let (l, w) = hollow.mouth();
        let size = (l + wall * 2.0, w + wall * 2.0, hollow.depth() + wall);
        return Some(Standing { count: count as usize, size });
    }
    let (sheet, cast) = (contents.build()?.thickness, asked.measured().cast);
    let height = asked.measured().layout.height + sheet;
    Some(Standing { count: 1, size: (cast.length + sheet * 2.0, cast.width + sheet * 2.0, height) })
}

pub(super) fn view(asked: &Asked<'_>) -> PotView {
    let (shown, fields, contents) = (asked.shown, asked.fields(), &asked.document.contents);
    let mut all = vec![fields.tick("pot", "It goes under pressure", contents.pot().is_some())];
    let (Some(pot), Some(Standing { count, size: (l, w, height) })) =
        (contents.pot(), standing(asked))
    else {
        return PotView {
            fields: Group::new("Pressure pot", all),
            drawing: Markup::default(),
            sentence: String::new(),
        };
    };
    all.push(fields.length("pot_diameter", "Pot across, inside", pot.diameter));
    all.push(fields.length("pot_height", "Clear height", pot.height));
    all.push(fields.length("pot_shelf", "A shelf of the rack", pot.shelf));
    all.push(fields.length("pot_gap", "Gap round each", pot.gap));
    let loading = load(pot, l, w, height, count);
    let (drawing, sentence) = match loading {
        None => (
            Markup::default(),
            format!(
                "▲ Not one of {} × {} × {} stands in this pot.",
                shown.length_figure(l),
                shown.length_figure(w),
                shown.length(height)
            ),
        ),
        Some(loading) => {
            let levels: Vec<String> = loading
                .on_level
                .iter()
                .enumerate()
                .map(|(i, n)| format!("{n} on level {}", i + 1))
                .collect();
            let loads = if loading.loads == 1 {
                "one load".to_owned()
            } else {
                format!("{} loads", loading.loads)
            };
            let drawing = both(WIDE, |frame| blanks::pot(pot, &loading, (l, w), frame));
            (
                drawing,
                format!(
                    "{} places a level, {} levels: {loads}. From the bottom up: {}. In before the \
                     resin gels, the rack level.",
                    loading.places.len(),
                    loading.levels,
                    levels.join(", ")
                ),
            )
        }
    };
    let fields = Group::new("Pressure pot", all)
        .why("A pressure vessel: within its rated pressure, relief valve free, vented fully before it is opened, never modified.");
    PotView { fields, drawing, sentence }
}
