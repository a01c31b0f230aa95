//! How the depth is split into layers: equal, by search or by hand on the section.

use fondant_cast::document::Split;
use fondant_cast::{Document, Kind};
use fondant_pours::Schedule;
use fondant_pours::layers::{Layer, LayerKind};
use fondant_quantities::{Length, bounds};

use crate::pages::stations::asked::Asked;
use crate::svg::{Frame, Markup, Svg};
use crate::ui::field::Field;
use crate::ui::reader::Reader;
use crate::ui::units::Shown;
use crate::ui::written::Written;
use crate::words::layers as named;

/// The drawing of the layers.
const DRAWN: Frame = Frame { width: 300.0, class: "layers-drawing" };
const HEIGHT_PX: f64 = 190.0;
/// Names closer than this run into each other.
const LINE_PX: f64 = 15.0;

/// What is shown of the layers.
#[derive(Default)]
pub(crate) struct SplitView {
    pub(crate) fields: Vec<Field>,
    pub(crate) drawing: Markup,
    pub(crate) seal: Option<Field>,
    /// Seal and base in one session, where there is a coat.
    pub(crate) seal_with_base: Option<Field>,
    pub(crate) seal_note: String,
    /// Above this the drawing ends, mm: for scripts.
    pub(crate) depth_mm: String,
}

pub(super) fn apply(reader: &mut Reader<'_>, document: &mut Document) {
    if let Some(river) = document.contents.river_mut() {
        river.seal = reader.entries.get("seal").is_some();
        // The choice stands only where there is a coat.
        if reader.entries.get("seal_asked").is_some() {
            river.seal_with_base = reader.entries.get("seal_with_base").is_some();
        }
    }
    let Some(chosen) = reader.entries.get("split") else { return };
    match chosen {
        "equal" => {
            let mut count = match document.pours.split {
                Split::Equal { count } => count,
                _ => 2,
            };
            // The field comes with the choice; on the first time it is not there yet.
            if reader.entries.get("count").is_some() {
                reader.count("count", &bounds::LAYER_COUNT, &mut count);
            }
            document.pours.split = Split::Equal { count };
        }
        "search" => document.pours.split = Split::Search,
        "by_hand" => {
            let text = reader.entries.get("levels").unwrap_or_default();
            let mut levels = Vec::new();
            for part in text.split([';', '\n']).map(str::trim).filter(|part| !part.is_empty()) {
                levels.extend(reader.part_of("levels", part, &bounds::LEVEL));
            }
            if levels.len() > bounds::MOST_LEVELS {
                let sentence = format!(
                    "{} layers are more than a plan holds: {} at most. Leave some out.",
                    levels.len() + 1,
                    bounds::MOST_LEVELS + 1
                );
                reader.refusals.add("levels", sentence);
            }
            if levels.windows(2).any(|pair| pair[1] <= pair[0]) {
                let sentence =
                    "The levels do not rise. Write them from the floor up, such as 16; 30.";
                reader.refusals.add("levels", sentence);
            }
            document.pours.split = Split::ByHand { levels };
        }
        _ => document.pours.split = Split::Fewest,
    }
}

impl SplitView {
    pub(crate) fn new(asked: &Asked<'_>) -> Self {
        let (document, shown, fields) = (asked.document, asked.shown, asked.fields());
        let chosen = match document.pours.split {
            Split::Fewest => "fewest",
            Split::Equal { .. } => "equal",
            Split::Search => "search",
            Split::ByHand { .. } => "by_hand",
        };
        let mut all = vec![fields.choice(
            "split",
            "Layers",
            chosen,
            &[
                ("fewest", "Fewest equal ones"),
                ("equal", "A number of equal layers"),
                ("search", "As the search decides"),
                ("by_hand", "By hand, on the drawing"),
            ],
        )];
        if let Split::Equal { count } = &document.pours.split {
            all.push(fields.number("count", "How many", f64::from(*count), &bounds::LAYER_COUNT));
        }
        let depth = asked.measured().fill.depth();
        let layers = asked.evaluation.pours.as_ref().map_or_else(
            |_| Vec::new(),
            |schedule| schedule.pours.iter().map(|pour| pour.layer).collect::<Vec<_>>(),
        );
        if let Split::ByHand { levels } = &document.pours.split {
            let written: Vec<String> = levels.iter().map(|l| l.entry(shown)).collect();
            all.push(
                fields
                    .text("levels", "Layers end at", &written.join("; "))
                    .hint("Above the floor; the last one ends at the top."),
            );
        }
        let seals = document.kind() == Kind::River;
        Self {
            fields: all,
            drawing: drawing(&layers, document.stages.below.len(), depth, shown),
            seal_with_base: document.contents.river().filter(|river| river.seal).map(|river| {
                let label = "Pour the base in the same session, over the wet coat";
                fields.tick("seal_with_base", label, river.seal_with_base)
            }),
            seal: seals.then(|| fields.tick("seal", "Seal the live edges first", document.seals())),
            seal_note: if seals { seal_note(asked) } else { String::new() },
            depth_mm: format!("{:.2}", depth.mm()),
        }
    }
}

/// Both schools, with what they cost this cast.
fn seal_note(asked: &Asked<'_>) -> String {
    let (shown, sizing) = (asked.shown, &asked.measured().sizing);
    let coat = fondant_pours::layers::seal_coat(sizing.bare).volume;
    let with_base = asked.document.contents.river().is_some_and(|river| river.seal_with_base);
    if asked.document.seals() && with_base {
        format!(
            "{} on the edges, and the base right after it: air stays in the grain, nothing soaks in later, and it costs no night of its own. Brush it out thin.",
            shown.volume_fine(coat)
        )
    } else if asked.document.seals() {
        format!(
            "{} on the edges and a night more: air stays in the grain, nothing soaks in later, \
             and the bond is to the coat. Brush it out thin; it must be sticky or sanded when the \
             base goes in.",
            shown.volume_fine(coat)
        )
    } else {
        "Unsealed edges absorb resin and grip it better; air from the grain may bubble into the \
         layer. Brush the edges with resin when it is half set. A sealed edge costs a coat and a \
         night."
            .to_owned()
    }
}

/// The layers of a schedule to scale in height, for paper.
pub(crate) fn picture(schedule: &Schedule, depth: Length, shown: Shown) -> Markup {
    let layers: Vec<Layer> = schedule.pours.iter().map(|pour| pour.layer).collect();
    layers_drawn(&layers, depth, shown).finish()
}

/// Left and right wall of the drawing, px.
const WALLS: (f64, f64) = (14.0, 190.0);

/// Where a level is drawn in a depth.
fn y_of(level: Length, depth: Length) -> f64 {
    8.0 + HEIGHT_PX * (1.0 - level / depth)
}

fn layers_drawn(layers: &[Layer], depth: Length, shown: Shown) -> Svg {
    let mut svg =
        Svg::new(DRAWN.class, DRAWN.width, HEIGHT_PX + 16.0, "The layers, drawn to scale");
    let y = |level: Length| y_of(level, depth);
    let (left, right) = WALLS;
    let mut lowest_text = f64::INFINITY;
    for (index, layer) in layers.iter().enumerate().filter(|(_, l)| l.is_in_form()) {
        let class = if index % 2 == 0 { "resin2" } else { "resin" };
        svg.rect(class, left, y(layer.to), right - left, y(layer.from) - y(layer.to));
        let name = match layer.kind {
            LayerKind::Main(number) => number.to_string(),
            other => named::name(other).trim_start_matches("the ").to_owned(),
        };
        let name = format!("{name}: {}", shown.length(layer.depth()));
        // Names of thin layers stand above each other.
        lowest_text = (0.5 * (y(layer.from) + y(layer.to)) + 4.0).min(lowest_text - LINE_PX);
        svg.text("s12", right + 10.0, lowest_text, &name);
    }
    let walls = [
        (left - 2.0, 2.0),
        (left - 2.0, HEIGHT_PX + 9.5),
        (right + 2.0, HEIGHT_PX + 9.5),
        (right + 2.0, 2.0),
    ];
    svg.polyline("wall", &walls);
    svg
}

/// The layers, their boundaries to be dragged.
fn drawing(layers: &[Layer], below: usize, depth: Length, shown: Shown) -> Markup {
    let mut svg = layers_drawn(layers, depth, shown);
    let y = |level: Length| y_of(level, depth);
    let (left, right) = WALLS;
    svg.plane("layers-plane", (left, right, 8.0, 8.0 + HEIGHT_PX), [0.0, depth.mm()]);
    let main: Vec<_> = layers.iter().filter(|l| matches!(l.kind, LayerKind::Main(_))).collect();
    for (index, layer) in main.iter().enumerate().take(main.len().saturating_sub(1)) {
        let label = format!("Upper edge of layer {}", index + 1);
        let levels = (layer.to.mm(), layer.from.mm() + 1.0, main[index + 1].to.mm() - 1.0);
        let says = shown.length(layer.to);
        svg.boundary(index, levels, (left, right, y(layer.to)), (&label, &says));
    }
    for (name, layer, is_below) in stage_edges(layers, below) {
        let (level, other) = if is_below { (layer.to, layer.from) } else { (layer.from, layer.to) };
        let label = format!("Depth of {}", named::name(layer.kind));
        let levels = (level.mm(), other.mm(), depth.mm());
        let says = shown.length(layer.depth());
        svg.stage_edge(&name, levels, (left, right, y(level)), (&label, &says));
    }
    svg.finish()
}

/// The stages in the form with the names of their fields, and whether they lie under the main fill:
/// their edge to it can be dragged.
fn stage_edges(layers: &[Layer], below: usize) -> Vec<(String, Layer, bool)> {
    let stages = layers.iter().filter(|l| l.is_in_form() && matches!(l.kind, LayerKind::Stage(..)));
    let named = |(place, layer): (usize, &Layer)| match place.checked_sub(below) {
        None => (format!("below-{place}"), *layer, true),
        Some(place) => (format!("above-{place}"), *layer, false),
    };
    stages.enumerate().map(named).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::{METRIC, evaluated, river_top};
    use crate::ui::entries::Entries;
    use fondant_quantities::units::UnitSystem;

    fn applied(fields: &[(&str, &str)]) -> (Document, String) {
        let pairs = fields.iter().map(|(n, v)| ((*n).to_owned(), (*v).to_owned())).collect();
        let entries = Entries::new(pairs);
        let mut reader = Reader::new(&entries, UnitSystem::Metric);
        let mut document = river_top();
        apply(&mut reader, &mut document);
        let said = [reader.refusals.of("levels"), reader.refusals.of("count")].concat();
        (document, said)
    }

    #[test]
    fn levels_by_hand_are_read_in_any_unit_and_must_rise() {
        let (document, said) = applied(&[("split", "by_hand"), ("levels", "14; 1 1/8 in")]);
        let levels = [14.0, 28.575].map(Length::from_mm).to_vec();
        assert_eq!(said, "");
        let Split::ByHand { levels: read } = document.pours.split else { panic!("by hand") };
        assert!(read.iter().zip(&levels).all(|(a, b)| (*a - *b).mm().abs() < 1e-9));
        assert!(applied(&[("split", "by_hand"), ("levels", "20; 14")]).1.contains("do not rise"));
        let many: String = (1..=60).map(|mm| format!("{mm};")).collect();
        let (_, said) = applied(&[("split", "by_hand"), ("levels", &many)]);
        assert!(said.contains("61 layers are more than a plan holds"), "{said}");
        assert!(applied(&[("split", "equal"), ("count", "60")]).1.contains("between 1"));
    }

    #[test]
    fn every_boundary_but_the_top_can_be_dragged() {
        let mut document = river_top();
        document.pours.split = Split::Equal { count: 3 };
        let schedule = evaluated(&document).pours.unwrap();
        let layers: Vec<_> = schedule.pours.iter().map(|pour| pour.layer).collect();
        let top = layers.last().unwrap().to;
        let svg = drawing(&layers, 0, top, METRIC).into_string();
        assert_eq!(svg.matches("class=\"layer-grip\"").count(), 2);
        assert!(
            svg.contains("base: 2\u{202f}mm") && svg.contains("aria-label=\"Upper edge of layer 1")
        );
    }
}
