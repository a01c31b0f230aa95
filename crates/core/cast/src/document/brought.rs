//! What files bring into a document: outlines of boards from a drawing or a photo, an object from a
//! mesh.

use fondant_quantities::{Density, Length, Mass};
use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::mesh::Solid;
use fondant_shapes::geometry::overlay::{overlap, simplified};
use fondant_shapes::geometry::ruled::Underside;
use fondant_shapes::geometry::{Bounds, Outline, Point};
use fondant_shapes::timber::{Board, BoardShape, Insert, InsertShape};

use super::cast::Document;
use super::contents::Shaping;

/// Longest name of an object, characters.
const NAME_CHARACTERS: usize = 40;

/// Which corner of the form the origin of a drawing is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Origin {
    /// The near left one, from which y counts across the form: SVG and photos.
    UpperLeft,
    /// The far left one, from which y counted up the sheet and is now negative: DXF.
    LowerLeft,
}

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
    /// Brings the outlines of a drawing in, straightened to within `tolerance`, where they were drawn
    /// in the form. Those of a drawing that lies beside the form are moved as one into its corner,
    /// and a drawing of their undersides is moved like it.
    pub fn bring_in(
        &mut self,
        outlines: &[Outline],
        origin: Origin,
        placing: Placing,
        tolerance: Length,
    ) {
        let corner = match origin {
            Origin::UpperLeft => Point::default(),
            Origin::LowerLeft => Point { x_m: 0.0, y_m: CastSize::of(&self.piece).width.m() },
        };
        let drawn: Vec<Outline> = outlines.iter().map(|o| o.map(|p| p.plus(corner))).collect();
        if placing == Placing::Under {
            return self.bring_under(&drawn, tolerance);
        }
        let shift = self.shift_of(&drawn);
        let moved = drawn
            .iter()
            // Flattened curves have more points than their tolerance asks for.
            .map(|o| simplified(&o.map(|p| on_the_tape(p.plus(shift))), tolerance))
            .collect();
        self.set_outlines(moved, placing);
        if let Some(river) = self.contents.river_mut() {
            river.drawn_at = shift;
        }
    }

    /// By how much a drawing is moved: not at all where its middle lies in the form, so that what
    /// crosses a wall goes on crossing it.
    fn shift_of(&self, drawn: &[Outline]) -> Point {
        let cast = CastSize::of(&self.piece);
        let Bounds { min, max } = Bounds::of(drawn.iter().flat_map(|o| &o.outer));
        let middle = min.towards(max, 0.5);
        let is_in = |middle: f64, size: Length| (0.0..=size.m()).contains(&middle);
        if is_in(middle.x_m, cast.length) && is_in(middle.y_m, cast.width) {
            return Point::default();
        }
        Point { x_m: -min.x_m, y_m: -min.y_m }
    }

    fn bring_under(&mut self, drawn: &[Outline], tolerance: Length) {
        let shift = self.contents.river().map_or(Point::default(), |river| river.drawn_at);
        let outlines: Vec<Outline> = drawn.iter().map(|o| o.map(|p| p.plus(shift))).collect();
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
        river.drawn_at = Point::default();
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
    fn outlines_beside_the_form_are_moved_in_as_one_and_keep_their_timber() {
        let mut document = document();
        let (timber, count) = (boards(&document)[1].timber.clone(), boards(&document).len());
        let drawn = [rectangle(-950.0, 0.0, 300.0, 100.0), rectangle(-900.0, 200.0, 300.0, 100.0)];
        document.bring_in(&drawn, Origin::UpperLeft, Placing::Instead, Length::from_mm(0.05));
        let lefts: Vec<f64> = boards(&document)
            .iter()
            .map(|b| Bounds::of(&b.shape.as_ref().unwrap().outline.outer).min.x_m)
            .collect();
        assert_eq!(lefts, [0.0, 0.05]);
        assert_eq!(boards(&document)[1].timber, timber);
        document.bring_in(&drawn, Origin::UpperLeft, Placing::Beside, Length::from_mm(0.05));
        assert_eq!((count, boards(&document).len()), (2, 4));
    }

    /// "Both are shifted to their own corner: bevels 40/40 become 0/80."
    #[test]
    fn faces_and_undersides_of_two_drawings_register_wherever_they_were_drawn() {
        let up = |o: Outline| o.map(|p| Point { x_m: p.x_m, y_m: -p.y_m }).cleaned();
        for (left, low) in [(100.0, 100.0), (5000.0, -3000.0), (-2000.0, 40.0)] {
            let mut document = document();
            let upper = [up(rectangle(left + 40.0, low + 40.0, 300.0, 100.0))];
            let under = [up(rectangle(left, low, 380.0, 180.0))];
            let tolerance = Length::from_mm(0.05);
            document.bring_in(&upper, Origin::LowerLeft, Placing::Instead, tolerance);
            document.bring_in(&under, Origin::LowerLeft, Placing::Under, tolerance);
            let shape = boards(&document)[0].shape.as_ref().unwrap();
            let Underside::Outline(below) = &shape.underside else { panic!("{left} {low}") };
            let (face, below) = (Bounds::of(&shape.outline.outer), Bounds::of(&below.outer));
            for out_m in [
                face.min.x_m - below.min.x_m,
                face.min.y_m - below.min.y_m,
                below.max.x_m - face.max.x_m,
                below.max.y_m - face.max.y_m,
            ] {
                assert!((out_m - 0.04).abs() < 1e-5, "{left} {low}: {out_m}");
            }
        }
    }

    #[test]
    fn what_crosses_a_wall_stays_where_it_was_drawn() {
        let mut document = document();
        let drawn = [rectangle(-30.0, 20.0, 700.0, 100.0)];
        let tolerance = Length::from_mm(0.05);
        document.bring_in(&drawn, Origin::UpperLeft, Placing::Instead, tolerance);
        let found = Bounds::of(&boards(&document)[0].shape.as_ref().unwrap().outline.outer);
        assert!((found.min.x_m + 0.03).abs() < 1e-9 && (found.min.y_m - 0.02).abs() < 1e-9);
    }

    #[test]
    fn an_underside_goes_under_the_board_that_lies_on_it() {
        let mut document = document();
        let upper = [rectangle(0.0, 0.0, 300.0, 100.0), rectangle(0.0, 200.0, 300.0, 100.0)];
        document.bring_in(&upper, Origin::UpperLeft, Placing::Instead, Length::from_mm(0.05));
        let under = [rectangle(0.0, 190.0, 300.0, 120.0)];
        document.bring_in(&under, Origin::UpperLeft, Placing::Under, Length::from_mm(0.05));
        let has_outline = |board: &Board| {
            matches!(board.shape.as_ref().unwrap().underside, Underside::Outline(_))
        };
        assert!(!has_outline(&boards(&document)[0]) && has_outline(&boards(&document)[1]));
    }
}
