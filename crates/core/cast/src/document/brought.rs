//! What files bring into a document: outlines of boards from a drawing or a photo, an object from a
//! mesh.

use fondant_quantities::{Density, Length, Mass};
use fondant_shapes::geometry::mesh::Solid;
use fondant_shapes::geometry::overlay::{overlap, simplified};
use fondant_shapes::geometry::ruled::Underside;
use fondant_shapes::geometry::{Bounds, Outline, Point};
use fondant_shapes::timber::{Board, BoardShape, Insert, InsertShape};

use super::cast::Document;
use super::contents::Shaping;

/// Longest name of an object, characters.
const NAME_CHARACTERS: usize = 40;

/// Target of imported outlines.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Placing {
    /// In place of the boards there are.
    Instead,
    /// Beside them.
    Beside,
    /// Under them: each board takes the outline that it lies on most as its underside.
    Under,
}

impl Document {
    /// Brings the outlines of a drawing in, straightened to within `tolerance`: moved as one, so
    /// that they begin inside the form.
    pub fn bring_in(&mut self, outlines: &[Outline], placing: Placing, tolerance: Length) {
        if placing == Placing::Under {
            return self.bring_under(outlines, tolerance);
        }
        let all = Bounds::of(outlines.iter().flat_map(|o| &o.outer));
        let shift = Point { x_m: (-all.min.x_m).max(0.0), y_m: (-all.min.y_m).max(0.0) };
        let moved = outlines
            .iter()
            // Flattened curves have more points than their tolerance asks for.
            .map(|o| simplified(&o.map(|p| on_the_tape(p.plus(shift))), tolerance))
            .collect();
        self.set_outlines(moved, placing);
    }

    fn bring_under(&mut self, outlines: &[Outline], tolerance: Length) {
        for board in self.contents.river_mut().into_iter().flat_map(|river| &mut river.boards) {
            let Some(shape) = &mut board.shape else { continue };
            let under = outlines
                .iter()
                .filter_map(|o| Some((overlap(&shape.outline, o)?.0, o)))
                .max_by(|a, b| a.0.m2().total_cmp(&b.0.m2()));
            if let Some((_, outline)) = under {
                let rim = Outline::new(outline.map(on_the_tape).outer);
                shape.underside = Underside::Outline(simplified(&rim, tolerance));
            }
        }
    }

    /// Boards of these outlines: each takes timber and thickness from the board that was there in
    /// its place.
    pub fn set_outlines(&mut self, outlines: Vec<Outline>, placing: Placing) {
        let thickness = self.piece.thickness + self.piece.flattening * 2.0;
        let Some(river) = self.contents.river_mut() else { return };
        let before = river.boards.clone();
        if placing == Placing::Instead {
            river.boards.clear();
        }
        for outline in outlines {
            let like = before.get(river.boards.len()).or(before.last()).cloned();
            let like = like.unwrap_or_else(|| Board::usual(thickness));
            let shape = Some(BoardShape::square(outline));
            river.boards.push(Board { shape, weighed: None, ..like });
        }
        river.shaping = Shaping::Outlines;
    }

    /// Brings an object in by its mesh, on the floor of the form.
    pub fn bring_object(&mut self, file: &str, solid: &Solid, mass: Mass) {
        let Some(inserts) = self.contents.inserts_mut() else { return };
        let named = file.trim_end_matches(".stl").trim_end_matches(".STL");
        let name: String = named.chars().take(NAME_CHARACTERS).collect();
        inserts.push(Insert {
            name: if name.is_empty() { "object".into() } else { name },
            count: 1,
            shape: InsertShape::Mesh {
                file: file.to_owned(),
                volume: solid.volume,
                size: solid.size,
                triangles: u32::try_from(solid.triangles).unwrap_or(u32::MAX),
                was_inside_out: solid.was_inside_out,
            },
            mass,
            density: Density::from_kg_m3(mass.kg() / solid.volume.m3()),
            above_floor: Length::ZERO,
        });
    }
}

/// A point to the thousandth of a millimetre: readers with single precision leave a hair beyond the
/// wall that no saw would find.
fn on_the_tape(p: Point) -> Point {
    let round = |v: f64| (v * 1e6).round() / 1e6;
    Point { x_m: round(p.x_m), y_m: round(p.y_m) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::document::Kind;
    use fondant_shapes::form::Piece;

    fn document() -> Document {
        let mm = Length::from_mm;
        let piece = Piece::slab(mm(980.0), mm(480.0), mm(36.0), mm(10.0));
        let begin = "2026-11-23T09:00:00Z".parse().unwrap();
        Document::begin(Kind::River, "x".into(), piece, begin)
    }

    fn rectangle(left: f64, top: f64, length: f64, width: f64) -> Outline {
        let corners =
            [(left, top), (left + length, top), (left + length, top + width), (left, top + width)];
        Outline::new(corners.map(|(x, y)| Point::from_mm(x, y)).to_vec())
    }

    fn boards(document: &Document) -> &[Board] {
        document.contents.boards()
    }

    #[test]
    fn outlines_left_of_the_form_are_moved_in_as_one_and_keep_their_timber() {
        let mut document = document();
        let (timber, count) = (boards(&document)[1].timber.clone(), boards(&document).len());
        let drawn = [rectangle(-50.0, 0.0, 300.0, 100.0), rectangle(0.0, 200.0, 300.0, 100.0)];
        document.bring_in(&drawn, Placing::Instead, Length::from_mm(0.05));
        let lefts: Vec<f64> = boards(&document)
            .iter()
            .map(|b| Bounds::of(&b.shape.as_ref().unwrap().outline.outer).min.x_m)
            .collect();
        assert_eq!(lefts, [0.0, 0.05]);
        assert_eq!(boards(&document)[1].timber, timber);
        document.bring_in(&drawn, Placing::Beside, Length::from_mm(0.05));
        assert_eq!((count, boards(&document).len()), (2, 4));
    }

    #[test]
    fn an_underside_goes_under_the_board_that_lies_on_it() {
        let mut document = document();
        let upper = [rectangle(0.0, 0.0, 300.0, 100.0), rectangle(0.0, 200.0, 300.0, 100.0)];
        document.bring_in(&upper, Placing::Instead, Length::from_mm(0.05));
        let under = [rectangle(0.0, 190.0, 300.0, 120.0)];
        document.bring_in(&under, Placing::Under, Length::from_mm(0.05));
        let has_outline = |board: &Board| {
            matches!(board.shape.as_ref().unwrap().underside, Underside::Outline(_))
        };
        assert!(!has_outline(&boards(&document)[0]) && has_outline(&boards(&document)[1]));
    }
}
