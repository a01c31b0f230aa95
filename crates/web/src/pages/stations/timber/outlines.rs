//! Outlines as text, and the drawing that is dragged.
//!
//! An outline is written as points in millimetres, `x,y x,y x,y`, from the
//! form's left end and near wall; holes follow after a slash. Bevels are
//! millimetres, one for each edge of the rim from its first point on.

use fondant_quantities::bounds::PLACE;
use fondant_quantities::units::trimmed;
use fondant_quantities::{Length, bounds};
use fondant_shapes::geometry::ruled::Underside;
use fondant_shapes::geometry::{Outline, Point, Ring};
use fondant_shapes::timber::{Board, BoardShape};
use serde::Serialize;

use super::backdrop::Backdrop;
use crate::pages::stations::asked::Asked;
use crate::ui::field::{Field, Fields};
use crate::ui::reader::Reader;

/// Reads a board's outline, bevels and underside.
pub(crate) fn apply(reader: &mut Reader<'_>, number: &str, board: &mut Board) {
    let name = |field: &str| format!("{field}-{number}");
    let text = |field: &str| reader.entries.get(&name(field)).unwrap_or_default().to_owned();
    let (outline, bevels, lower) = (text("outline"), text("bevels"), text("lower"));
    let outline = match read(&outline) {
        Ok(outline) => outline,
        Err(sentence) => {
            reader.refusals.add(&name("outline"), sentence);
            return;
        }
    };
    let underside = if lower.trim().is_empty() {
        match read_bevels(&bevels) {
            Ok(underside) => underside,
            Err(sentence) => {
                reader.refusals.add(&name("bevels"), sentence);
                return;
            }
        }
    } else {
        match read(&lower) {
            Ok(lower) => Underside::Outline(lower),
            Err(sentence) => {
                reader.refusals.add(&name("lower"), sentence);
                return;
            }
        }
    };
    // Cleaning may turn the rim round, which would mix up its bevels: a rim
    // that runs the other way is turned together with them.
    let (outline, underside) = turned_together(outline, underside);
    board.shape = Some(BoardShape { outline: outline.cleaned(), underside });
}

fn turned_together(outline: Outline, underside: Underside) -> (Outline, Underside) {
    if fondant_shapes::geometry::signed_area_m2(&outline.outer) >= 0.0 {
        return (outline, underside);
    }
    let count = outline.outer.len();
    let mut turned = outline;
    turned.outer.reverse();
    let underside = match underside {
        Underside::Bevels(mut bevels) => {
            bevels.resize(count, Length::ZERO);
            // Edge i ran from point i to i + 1; reversed, it ends one earlier.
            let last = bevels.pop().unwrap_or_default();
            bevels.reverse();
            bevels.push(last);
            Underside::Bevels(bevels)
        }
        other => other,
    };
    (turned, underside)
}

fn read(text: &str) -> Result<Outline, String> {
    let mut rings = text.split('/').map(read_ring);
    let outer = rings.next().unwrap_or_else(|| Ok(Vec::new()))?;
    let holes = rings.collect::<Result<Vec<Ring>, String>>()?;
    Ok(Outline { outer, holes })
}

fn read_ring(text: &str) -> Result<Ring, String> {
    text.split_whitespace()
        .map(|pair| {
            let point = pair.split_once(',').and_then(|(x, y)| {
                let (x, y): (f64, f64) = (x.parse().ok()?, y.parse().ok()?);
                let point = Point::from_mm(x, y);
                let within = |v: f64| PLACE.contains(Length::from_m(v));
                (within(point.x_m) && within(point.y_m)).then_some(point)
            });
            point.ok_or_else(|| {
                let shown: String = pair.chars().take(24).collect();
                format!("“{shown}” is not a point. Write millimetres as x,y, such as 120,45.5.")
            })
        })
        .collect()
}

fn read_bevels(text: &str) -> Result<Underside, String> {
    let mut bevels = Vec::new();
    for figure in text.split_whitespace() {
        match figure.parse::<f64>() {
            Ok(mm) if bounds::BEVEL.contains(Length::from_mm(mm)) => {
                bevels.push(Length::from_mm(mm));
            }
            _ => {
                let shown: String = figure.chars().take(24).collect();
                return Err(format!(
                    "“{shown}” is not a bevel. Write millimetres for each edge, such as 0 0 12."
                ));
            }
        }
    }
    let is_square = bevels.iter().all(|b| b.mm().abs() < 1e-9);
    Ok(if is_square { Underside::Same } else { Underside::Bevels(bevels) })
}

/// An outline as text.
pub(crate) fn ring_text(outline: &Outline) -> String {
    let ring = |r: &Ring| {
        let points =
            r.iter().map(|p| format!("{},{}", trimmed(p.x_m * 1e3, 3), trimmed(p.y_m * 1e3, 3)));
        points.collect::<Vec<_>>().join(" ")
    };
    outline.rings().map(ring).collect::<Vec<_>>().join(" / ")
}

/// Fields of a board's outline, bevels and underside.
pub(crate) fn fields(fields: &Fields<'_>, number: &str, board: &Board) -> [Field; 3] {
    let name = |field: &str| format!("{field}-{number}");
    let shape = board.shape.as_ref();
    let outline = shape.map(|s| ring_text(&s.outline)).unwrap_or_default();
    let (bevels, lower) = match shape.map(|s| &s.underside) {
        Some(Underside::Bevels(all)) => {
            let all: Vec<String> = all.iter().map(|b| trimmed(b.mm(), 3)).collect();
            (all.join(" "), String::new())
        }
        Some(Underside::Outline(lower)) => (String::new(), ring_text(lower)),
        _ => Default::default(),
    };
    [
        fields.text(&name("outline"), "Upper face, x,y in mm; holes after a slash", &outline),
        fields
            .text(&name("bevels"), "Bevel of each edge, mm", &bevels)
            .hint("How much farther out the underside stands; negative where it is undercut."),
        fields
            .text(&name("lower"), "Underside, where it has an outline of its own", &lower)
            .hint("Then bevels do not count."),
    ]
}

/// What the drawing is made from.
#[derive(Serialize)]
struct Drawing {
    length: f64,
    width: f64,
    depth: f64,
    base: f64,
    cut: f64,
    places: Vec<[f64; 2]>,
    trims: Vec<[f64; 2]>,
    marks: Vec<[f64; 2]>,
    backdrop: Option<Photo>,
}

#[derive(Serialize)]
struct Photo {
    href: String,
    length: f64,
    width: f64,
}

/// The drawing's frame as JSON; the boards are in their fields.
pub(super) fn editor(asked: &Asked<'_>, backdrop: Option<&Backdrop>) -> String {
    let (measured, round) = (asked.measured(), |mm: f64| (mm * 1e3).round() / 1e3);
    let points = |all: &mut dyn Iterator<Item = Point>| -> Vec<[f64; 2]> {
        all.map(|p| [round(p.x_m * 1e3), round(p.y_m * 1e3)]).collect()
    };
    let held = asked.evaluation.held.iter().flat_map(|h| h.places.iter().copied());
    let drawing = Drawing {
        length: round(measured.layout.length.mm()),
        width: round(measured.layout.width.mm()),
        depth: round(measured.fill.depth().mm()),
        base: round(measured.fill.base().mm()),
        cut: round(asked.cut_at().mm()),
        places: points(&mut held.into_iter()),
        trims: points(&mut measured.trim_marks.iter().flatten().copied()),
        marks: points(&mut asked.marks.iter().copied()),
        backdrop: backdrop.map(|b| Photo {
            href: b.href.clone(),
            length: round(b.length.mm()),
            width: round(b.width.mm()),
        }),
    };
    // A struct of numbers and a path always serialises.
    serde_json::to_string(&drawing).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn outlines_survive_their_text() {
        let text = "0,0 300,0 300,120.5 0,120.5 / 50,50 80,50 80,80";
        let outline = read(text).unwrap();
        assert_eq!(outline.holes.len(), 1);
        assert_eq!(ring_text(&outline), text);
    }

    #[test]
    fn what_is_no_point_is_refused_by_name() {
        for text in ["0,0 3O0,0", "0,0 1e9,0 5,5", "NaN,0", "1;2", "0,0,0"] {
            let refused = read(text).unwrap_err();
            assert!(refused.contains("is not a point"), "{text}: {refused}");
        }
        assert!(read_bevels("0 4 wide").unwrap_err().contains("“wide”"));
        assert!(read_bevels("0 9999").is_err());
    }

    #[test]
    fn bevels_stay_with_their_edges_when_the_rim_is_turned() {
        // Clockwise in these coordinates; its second edge, at y = 100, leans out.
        let clockwise = read("0,0 0,100 300,100 300,0").unwrap();
        let bevels = read_bevels("0 20 0 0").unwrap();
        let (outline, underside) = turned_together(clockwise, bevels);
        let shape = BoardShape { outline, underside };
        let lower = shape.ruled().lower;
        assert!((lower.bounds().max.y_m - 0.12).abs() < 1e-9, "{lower:?}");
        assert!((lower.bounds().min.y_m).abs() < 1e-9);
    }
}
