//! Moulds in a pressure pot: from above, and level by level.

use fondant_quantities::Length;
use fondant_shapes::blanks::pot::{Level, Loading, Pot, Standing};
use fondant_shapes::geometry::Point;

use crate::svg::{Frame, Markup, Svg};

/// Largest height and width of either view, px.
const VIEW: f64 = 230.0;
const GAP: f64 = 40.0;

/// The pot from above with the places of its lowest level, and from the side with all levels of its
/// first load.
#[must_use]
pub(crate) fn pot(pot: &Pot, standing: &[Standing], loading: &Loading, frame: Frame) -> Markup {
    let side = Length::from_mm(pot.diameter.mm().max(pot.height.mm()));
    let scale = VIEW.min(frame.width - 20.0) / side.mm();
    let size = (pot.diameter.mm() * scale, pot.height.mm() * scale);
    let beside = (size.0 + GAP + 8.0, 8.0);
    let beneath = (8.0, size.0 + GAP);
    let from = if frame.is_narrow() { beneath } else { beside };
    let height = if frame.is_narrow() { from.1 + size.1 } else { size.0.max(size.1) + 8.0 };
    let mut svg = Svg::new(
        frame.class,
        frame.width,
        height + 8.0,
        "The pot from above with its lowest level, and from the side with all levels, to scale",
    );
    let levels = loading.loads.first().map_or(&[][..], Vec::as_slice);
    let lowest = levels.first().and_then(|level| Some((level, standing.get(level.of)?)));
    svg.circle("wall", 8.0 + size.0 / 2.0, 8.0 + size.0 / 2.0, size.0 / 2.0);
    if let Some((level, one)) = lowest {
        let middle = (8.0 + size.0 / 2.0, 8.0 + size.0 / 2.0);
        from_above(&mut svg, middle, (level, &loading.places[level.of], one), scale);
    }
    for (place, level) in levels.iter().enumerate() {
        let Some(one) = standing.get(level.of) else { continue };
        let floor = from.1 + size.1 - level.floor.mm() * scale;
        svg.rect("mould", from.0, floor, size.0, pot.shelf.mm() * scale);
        let row = (level, &*loading.places[level.of], one);
        from_the_side(&mut svg, (from.0 + size.0 / 2.0, floor), row, scale);
        let middle = floor - 0.5 * one.height.mm() * scale;
        let label = format!("{}: {}", place + 1, level.count);
        svg.text("s12", from.0 + size.0 + 8.0, middle + 4.0, &label);
    }
    svg.rect("wall", from.0, from.1, size.0, size.1);
    svg.finish()
}

/// Length and width of a mould as it lies on its places: the grid may be turned, which neighbours in a
/// row tell.
fn as_laid(places: &[Point], one: &Standing) -> (f64, f64) {
    let is_turned = places.first().zip(places.get(1)).is_some_and(|(a, b)| {
        let d = b.minus(*a);
        d.y_m.abs() > d.x_m.abs()
    });
    let (length, width) = (one.length.mm(), one.width.mm());
    if is_turned { (width, length) } else { (length, width) }
}

fn from_above(
    svg: &mut Svg,
    (cx, cy): (f64, f64),
    (level, places, one): (&Level, &[Point], &Standing),
    scale: f64,
) {
    let (length, width) = as_laid(places, one);
    let (w, h) = (length * scale, width * scale);
    for (index, place) in places.iter().enumerate() {
        let (x, y) = (cx + place.x_m * 1e3 * scale, cy + place.y_m * 1e3 * scale);
        let class = if index < level.count as usize { "resin" } else { "mould" };
        svg.rect(class, x - w / 2.0, y - h / 2.0, w, h);
        svg.rect("rim", x - w / 2.0, y - h / 2.0, w, h);
        svg.text("mid s12", x, y + 4.0, &(index + 1).to_string());
    }
}

fn from_the_side(
    svg: &mut Svg,
    (cx, floor): (f64, f64),
    (level, places, one): (&Level, &[Point], &Standing),
    scale: f64,
) {
    let (length, _) = as_laid(places, one);
    let (w, h) = (length * scale, one.height.mm() * scale);
    for place in places.iter().take(level.count as usize) {
        let x = cx + place.x_m * 1e3 * scale - w / 2.0;
        svg.rect("resin", x, floor - h, w, h);
        svg.rect("rim", x, floor - h, w, h);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::svg::{NARROW, WIDE};
    use fondant_shapes::blanks::pot::load;

    #[test]
    fn the_pot_numbers_its_places_and_its_levels() {
        let mm = Length::from_mm;
        let inside = Pot { diameter: mm(250.0), height: mm(300.0), shelf: mm(10.0), gap: mm(5.0) };
        let one = |height, count| Standing {
            length: mm(60.0),
            width: mm(40.0),
            height: mm(height),
            count,
        };
        let standing = [one(85.0, 4), one(140.0, 3)];
        let loading = load(&inside, &standing).unwrap();
        for frame in [WIDE, NARROW] {
            let svg = pot(&inside, &standing, &loading, frame).into_string();
            // Three from above, and three and four from the side.
            assert_eq!(svg.matches("class=\"resin\"").count(), 3 + 3 + 4);
            assert!(svg.contains(">1: 3<") && svg.contains(">2: 4<"), "{svg}");
        }
    }
}
