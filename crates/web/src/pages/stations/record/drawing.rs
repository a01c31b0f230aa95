//! The piece with its faults, by their numbers: from above, and cut across.

use fondant_app::ending::Explained;
use fondant_quantities::Length;
use fondant_record::fault::Place;
use fondant_shapes::geometry::Point;
use fondant_shapes::volume::layout::{Bed, Layout, What};

use crate::drawings::section::{self, Section};
use crate::pages::stations::asked::Asked;
use crate::svg::{Markup, Svg, WIDE, both};
use crate::ui::units::Shown;

/// Width of the drawing, px.
const WIDTH: f64 = 620.0;
/// Tallest drawing, px.
const TALLEST: f64 = 300.0;
/// Room around it, px.
pub(super) const AROUND: f64 = 12.0;
/// Class of what is resin, and of what is not.
const RESIN: &str = "map-resin";
const SOLID: &str = "map-laid";

/// Pixels of the drawing in a metre.
pub(super) fn scale(layout: &Layout) -> f64 {
    let along = (WIDTH - 2.0 * AROUND) / layout.length.m();
    along.min((TALLEST - 2.0 * AROUND) / layout.width.m())
}

pub(crate) fn draw(layout: &Layout, faults: &[Explained], shown: Shown) -> Markup {
    let scale = scale(layout);
    let at = |x_m: f64, y_m: f64| (AROUND + x_m * scale, AROUND + y_m * scale);
    let (w, h) = (layout.length.m() * scale, layout.width.m() * scale);
    let marked: Vec<_> =
        faults.iter().zip(1..).filter_map(|(one, n)| Some((n, one.kept.fault.place?))).collect();
    let says = format!(
        "The piece from above, {} by {}, with {}",
        shown.length(layout.length),
        shown.length(layout.width),
        counted(marked.len())
    );
    let mut svg = Svg::new("fault-map", w + 2.0 * AROUND, h + 2.0 * AROUND, &says);
    let bed = if layout.bed == Bed::Form { RESIN } else { SOLID };
    svg.rect(bed, AROUND, AROUND, w, h);
    for laid in &layout.laid {
        let corner = |p: &Point| at(p.x_m, p.y_m);
        let points: Vec<_> = laid.shape.upper.outer.iter().map(corner).collect();
        let is_hollow = matches!(laid.what, What::Hollow(_));
        svg.polygon(if is_hollow { RESIN } else { SOLID }, &points);
    }
    for (number, place) in marked {
        let (x, y) = at(place.x.m(), place.y.m());
        svg.fault(number, x, y);
    }
    svg.finish()
}

/// The piece cut across in its middle, for a place to be tapped on it.
pub(super) fn cut_across(asked: &Asked<'_>) -> Markup {
    across(asked, asked.measured().layout.middle(), &[])
}

/// The piece cut across at a fault, with its mark; nothing where nobody said how high it is.
pub(super) fn cut_at(asked: &Asked<'_>, place: Option<Place>, number: usize) -> Markup {
    let high = place.and_then(|place| Some((place.x, place.y, place.z?)));
    high.map_or_else(Markup::default, |(x, y, z)| across(asked, x, &[(number, y, z)]))
}

fn across(asked: &Asked<'_>, at: Length, marks: &[(usize, Length, Length)]) -> Markup {
    let section = Section { at, marks, ..asked.section() };
    both(WIDE, |frame| section::draw(&section, section::Extent::Whole, frame))
}

fn counted(faults: usize) -> String {
    match faults {
        0 => "no faults marked".into(),
        1 => "one fault marked".into(),
        count => format!("{count} faults marked"),
    }
}
