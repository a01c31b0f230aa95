//! Boards of which only the amounts are known: what the form took beside them, or what they weigh.
//! They are drawn as straight boards along the form, the resin shared out between them, so that
//! section, heat and edges have something to stand on.

use fondant_quantities::{Area, Length, Volume};
use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::{Outline, Point};
use fondant_shapes::timber::BoardShape;
use fondant_shapes::volume::methods::Method;

use super::contents::River;
use super::usual::GUESSED_RIVER_RATIO;

/// Boards as the amounts have them.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Amounts {
    /// The amount that tells; `None` where nothing was filled or weighed yet.
    pub(crate) by: Option<Method>,
    /// Upper face of each board inside the form.
    pub(crate) faces: Vec<Area>,
}

impl Amounts {
    /// Faces of the boards of a river by the dry fill, or by what they weigh where the form was not
    /// filled or the scale is used.
    pub(crate) fn of(river: &River, cast: &CastSize) -> Self {
        let weighed: Option<Vec<Volume>> =
            river.boards.iter().map(|b| Some(b.weighed? / b.density)).collect();
        let weighed = weighed.filter(|all| !all.is_empty());
        let filled = river.checks.dry_fill;
        let by = match (filled, &weighed) {
            (Some(_), Some(_)) if river.checks.figure == Some(Method::Weighed) => Method::Weighed,
            (Some(_), _) => Method::DryFill,
            (None, Some(_)) => Method::Weighed,
            (None, None) => {
                let timber = cast.area() * (1.0 - GUESSED_RIVER_RATIO);
                let each = timber / river.boards.len().max(1) as f64;
                return Self { by: None, faces: vec![each; river.boards.len()] };
            }
        };
        let volumes = weighed.unwrap_or_else(|| shares(river, cast));
        let scaled = match (by, filled) {
            (Method::DryFill, Some(bulk)) => {
                let room = cast.area() * thickest(river);
                let total: Volume = volumes.iter().copied().sum();
                (room - bulk) / total
            }
            _ => 1.0,
        };
        let face = |(volume, board): (&Volume, &fondant_shapes::timber::Board)| {
            *volume / board.thickness * scaled
        };
        Self { by: Some(by), faces: volumes.iter().zip(&river.boards).map(face).collect() }
    }

    /// Straight boards along the form: the first at the near wall, the last at the far one, the rest
    /// with the same gap between them.
    pub(crate) fn shapes(&self, cast: &CastSize) -> Vec<Option<BoardShape>> {
        let widths: Vec<Length> = self.faces.iter().map(|face| *face / cast.length).collect();
        let timber: Length = widths.iter().copied().sum();
        let gap = (cast.width - timber) / (widths.len().max(2) - 1) as f64;
        let mut at = Length::ZERO;
        let mut shapes = Vec::with_capacity(widths.len());
        for width in widths {
            let along = Outline::rectangle(cast.length, width);
            let moved = along.map(|p| p.plus(Point { x_m: 0.0, y_m: at.m() }));
            shapes.push((width > Length::ZERO).then(|| BoardShape::square(moved)));
            at = at + width + gap;
        }
        shapes
    }

    /// Whether the boards leave room in the form and take some of it.
    pub(crate) fn fit(&self, cast: &CastSize) -> bool {
        let timber: Area = self.faces.iter().copied().sum();
        self.faces.iter().all(|face| *face > Area::ZERO) && timber < cast.area()
    }
}

/// Boards of the same face, each of its own thickness: a filled form says nothing of its boards.
fn shares(river: &River, cast: &CastSize) -> Vec<Volume> {
    let face = cast.area() / river.boards.len().max(1) as f64;
    river.boards.iter().map(|board| face * board.thickness).collect()
}

/// The resin stands as high as the thickest board.
pub(crate) fn thickest(river: &River) -> Length {
    river.boards.iter().map(|b| b.thickness).fold(Length::ZERO, Length::max)
}
