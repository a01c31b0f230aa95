//! How long a unit of an SVG drawing is.

use fondant_quantities::Length;
use usvg::roxmltree::Node;

/// Metres of one CSS pixel: an inch has 96.
pub const PIXEL_M: f64 = 0.0254 / 96.0;

/// The root's sizes as they are written.
#[derive(Debug)]
pub(super) struct Sheet {
    width: Option<Written>,
    height: Option<Written>,
    /// Width and height of the view box, in user units.
    view_box: Option<(f64, f64)>,
    is_stretched: bool,
}

/// A length as it is written.
#[derive(Debug, Clone, Copy)]
struct Written {
    number: f64,
    /// Length of its unit; `None` for a number alone, per cent, and units of text.
    unit: Option<Length>,
}

/// How a drawing is to be read.
#[derive(Debug, Clone, Copy)]
pub(super) struct Scale {
    /// Length of one user unit.
    pub(super) unit: Length,
    /// Length of a unit of what `usvg` makes of it.
    pub(super) pixel: Length,
    /// Size of the root in place of the one that is written.
    pub(super) root: Option<(f64, f64)>,
}

/// Size of a root that has none, in user units: any will do, nothing is cut off by it.
const UNSIZED: (f64, f64) = (1000.0, 1000.0);

impl Sheet {
    pub(super) fn of(root: Node<'_, '_>) -> Self {
        let written = |name: &str| root.attribute(name).and_then(written);
        let numbers: Vec<f64> = root
            .attribute("viewBox")
            .unwrap_or_default()
            .split([' ', ',', '\n', '\t', '\r'])
            .filter(|part| !part.is_empty())
            .filter_map(|part| part.parse().ok())
            .collect();
        let view_box = match numbers[..] {
            [_, _, width, height] if width > 0.0 && height > 0.0 => Some((width, height)),
            _ => None,
        };
        let is_stretched =
            root.attribute("preserveAspectRatio").is_some_and(|v| v.trim().starts_with("none"));
        Self { width: written("width"), height: written("height"), view_box, is_stretched }
    }

    /// Length of a user unit by the file; `None` where it does not say. With a view box it follows
    /// from the smaller of the two sizes, as the drawing is fitted into both.
    pub(super) fn said(&self) -> Option<Length> {
        let long = |side: Option<Written>| {
            side.and_then(|s| Some(s.number * s.unit?.m())).filter(|m| *m > 0.0)
        };
        let (width, height) = (long(self.width), long(self.height));
        let Some((box_width, box_height)) = self.view_box else {
            return width.or(height).map(|_| Length::from_m(PIXEL_M));
        };
        let units = [width.map(|w| w / box_width), height.map(|h| h / box_height)];
        let both = units.into_iter().flatten().min_by(f64::total_cmp)?;
        // One of the two alone says it, unless the other is there and has no unit.
        let is_mixed = |side: Option<Written>| side.is_some_and(|s| s.unit.is_none());
        if is_mixed(self.width) || is_mixed(self.height) {
            return None;
        }
        Some(Length::from_m(both))
    }

    /// The scale to read at; `unit` is what the maker says.
    pub(super) fn scale(&self, unit: Option<Length>) -> Scale {
        let said = self.said();
        let is_said = |unit: Length| said.is_some_and(|s| (s / unit - 1.0).abs() < 1e-9);
        match (unit, said) {
            (None, Some(said)) => Scale { unit: said, pixel: Length::from_m(PIXEL_M), root: None },
            (Some(unit), Some(_)) if is_said(unit) && !self.is_stretched => {
                Scale { unit, pixel: Length::from_m(PIXEL_M), root: None }
            }
            _ => {
                let unit = unit.unwrap_or(Length::from_m(PIXEL_M));
                Scale { unit, pixel: unit, root: Some(self.view_box.unwrap_or(UNSIZED)) }
            }
        }
    }
}

fn written(text: &str) -> Option<Written> {
    let text = text.trim();
    let end = text.find(|c: char| !matches!(c, '0'..='9' | '.' | '-' | '+')).unwrap_or(text.len());
    // An exponent is part of the number, the e of em is not.
    let exponent = text[end..].strip_prefix(['e', 'E']).map_or(0, |rest| {
        let digits = rest.find(|c: char| !matches!(c, '0'..='9' | '-' | '+')).unwrap_or(rest.len());
        if digits > 0 { digits + 1 } else { 0 }
    });
    let (number, unit) = text.split_at(end + exponent);
    let number: f64 = number.parse().ok()?;
    Some(Written { number, unit: unit_of(unit.trim()) })
}

/// Length of a unit of CSS that has a length of its own.
pub(super) fn unit_of(unit: &str) -> Option<Length> {
    Some(Length::from_m(match unit.to_ascii_lowercase().as_str() {
        "mm" => 1e-3,
        "cm" => 1e-2,
        "m" => 1.0,
        "q" => 0.25e-3,
        "in" => 0.0254,
        "pt" => 0.0254 / 72.0,
        "pc" => 0.0254 / 6.0,
        "px" => PIXEL_M,
        _ => return None,
    }))
}
