//! The corners that were dragged, and the lengths between them.

use fondant_app::casts::photos::Rectangle;
use fondant_app::records::PhotoRecord;
use fondant_quantities::units::trimmed;
use fondant_quantities::{Length, bounds};
use fondant_shapes::geometry::homography::Pixel;
use fondant_shapes::picture::squaring::KnownLength;

use crate::ui::entries::Entries;
use crate::ui::reader::Reader;

/// A place on the photo as a field.
pub(super) struct CornerField {
    pub(super) name: &'static str,
    pub(super) label: String,
    pub(super) value: String,
}

const NAMES: [(&str, &str); 6] = [
    ("corner0", "Corner 1"),
    ("corner1", "Corner 2"),
    ("corner2", "Corner 3"),
    ("corner3", "Corner 4"),
    ("end0", "End a"),
    ("end1", "End b"),
];

/// Corners a little inside the photo, to be dragged from there.
pub(super) fn begin_corners(photo: &PhotoRecord) -> [Pixel; 4] {
    let (w, h) = (f64::from(photo.width), f64::from(photo.height));
    [(0.1, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9)]
        .map(|(x, y)| Pixel { x_px: w * x, y_px: h * y })
}

/// Ends of a length to check by, across the middle.
pub(super) fn begin_ends(photo: &PhotoRecord) -> [Pixel; 2] {
    let (w, h) = (f64::from(photo.width), f64::from(photo.height));
    [0.35, 0.65].map(|x| Pixel { x_px: w * x, y_px: h * 0.5 })
}

/// The six places as fields: as typed, or as kept.
pub(super) fn corner_fields(
    typed: Option<&Entries>,
    corners: &[Pixel; 4],
    ends: &[Pixel; 2],
) -> Vec<CornerField> {
    let field = |((name, label), place): ((&'static str, &str), &Pixel)| {
        let kept = format!("{},{}", trimmed(place.x_px, 1), trimmed(place.y_px, 1));
        let typed = typed.and_then(|typed| typed.get(name));
        CornerField {
            name,
            label: format!("{label}, x,y in px"),
            value: typed.unwrap_or(&kept).to_owned(),
        }
    };
    NAMES.into_iter().zip(corners.iter().chain(ends)).map(field).collect()
}

/// Reads the rectangle; errors are in the reader. A corner that is not a place is refused when
/// the photo is squared up by it.
pub(super) fn read(reader: &mut Reader<'_>) -> Rectangle {
    let (mut length, mut width, mut known) = (Length::ZERO, Length::ZERO, None);
    reader.quantity("length", &bounds::FINISHED_LENGTH, &mut length);
    reader.quantity("width", &bounds::FINISHED_WIDTH, &mut width);
    reader.maybe("check_length", &bounds::FINISHED_LENGTH, &mut known);
    let place = |index: usize| place(reader.entries.get(NAMES[index].0));
    let (corners, ends) = ([0, 1, 2, 3].map(place), [4, 5].map(place));
    let is_place = |p: &Pixel| p.x_px.is_finite() && p.y_px.is_finite();
    let check =
        known.filter(|_| ends.iter().all(is_place)).map(|length| KnownLength { ends, length });
    Rectangle { corners, length, width, check }
}

/// A place as `x,y` in pixels; NaN where the text is not a place.
fn place(text: Option<&str>) -> Pixel {
    let parsed = text.and_then(|t| t.split_once(',')).and_then(|(x, y)| {
        Some(Pixel { x_px: x.trim().parse().ok()?, y_px: y.trim().parse().ok()? })
    });
    parsed.unwrap_or(Pixel { x_px: f64::NAN, y_px: f64::NAN })
}
