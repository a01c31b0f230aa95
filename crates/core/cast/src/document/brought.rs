//! What files bring into a document: outlines of boards from a drawing or a photo, an object from a
//! mesh.

use fondant_quantities::{Density, Length, Mass, bounds};
use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::mesh::Solid;
use fondant_shapes::geometry::overlay::{overlap, simplified};
use fondant_shapes::geometry::ruled::Underside;
use fondant_shapes::geometry::{Bounds, Outline, Point, Ring, faults};
use fondant_shapes::timber::{Board, BoardShape, Insert, InsertShape};

use super::cast::Document;
use super::contents::Shaping;
use super::drawn::{Drawn, Role};

/// Longest name of an object, characters.
const NAME_CHARACTERS: usize = 40;

/// Most drawings whose places are kept: there is a board in each.
const MOST_PLACES: usize = *bounds::BOARDS.end();

/// Which corner of the form the origin of a drawing is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Origin {
    /// The near left one, from which y counts across the form: SVG and photos.
    UpperLeft,
    /// The far left one, from which y counted up the sheet and is now negative: DXF.
    LowerLeft,
}

/// Target of imported boards.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Placing {
    /// In place of the boards there are.
    Instead,
    /// Beside them.
    Beside,
}

impl Document {
    /// Takes rings of a drawing for what they are, straightened to within `tolerance`, where they
    /// were drawn in the form. Those of a drawing that lies beside the form are moved as one into its
    /// corner, and a drawing of their undersides is moved like it. Where the form itself is drawn,
    /// the cast takes its size, and everything is moved so that it lies in that form.
    pub fn take_drawing(
        &mut self,
        drawn: &[Drawn],
        origin: Origin,
        placing: Placing,
        tolerance: Length,
    ) {
        let boards = boards(drawn);
        let form = of(drawn, Role::Form).next().map(Bounds::of);
        if let Some(form) = form {
            self.take_size(form);
        }
        let corner = self.corner(origin);
        let shift = match form {
            Some(form) => Point::default().minus(form.min),
            None => self.shift_of(&boards, drawn, corner),
        };
        // Flattened curves have more points than their tolerance asks for.
        let placed = |o: &Outline| simplified(&o.map(|p| on_the_tape(p.plus(shift))), tolerance);
        if !boards.is_empty() {
            self.set_outlines(boards.iter().map(placed).collect(), placing);
            if let Some(river) = self.contents.river_mut() {
                let before = std::mem::replace(&mut river.drawn_at, shift.minus(corner));
                match placing {
                    Placing::Instead => river.drawn_before.clear(),
                    Placing::Beside => river.drawn_before.push(before),
                }
                let many = river.drawn_before.len().saturating_sub(MOST_PLACES);
                river.drawn_before.drain(..many);
            }
        }
        let undersides: Vec<Outline> =
            of(drawn, Role::Underside).map(|ring| placed(&Outline::new(ring.clone()))).collect();
        self.set_undersides(&undersides);
    }

    /// The piece that a form of this size is for.
    fn take_size(&mut self, form: Bounds) {
        let size = on_the_tape(form.max.minus(form.min));
        let trim = self.piece.trim_margin * 2.0;
        self.piece.length = Length::from_m(size.x_m) - trim;
        self.piece.width = Length::from_m(size.y_m) - trim;
    }

    /// Where the origin of a drawing lies in the form.
    fn corner(&self, origin: Origin) -> Point {
        match origin {
            Origin::UpperLeft => Point::default(),
            Origin::LowerLeft => Point { x_m: 0.0, y_m: CastSize::of(&self.piece).width.m() },
        }
    }

    /// By how much a drawing is moved whose origin is that corner of the form. Boards whose middle lies
    /// in the form lie where they were drawn, so that what crosses a wall goes on crossing it;
    /// undersides alone go where their faces went.
    fn shift_of(&self, boards: &[Outline], drawn: &[Drawn], corner: Point) -> Point {
        if boards.is_empty() {
            return corner.plus(self.place_of_undersides(drawn, corner));
        }
        let cast = CastSize::of(&self.piece);
        let Bounds { min, max } = Bounds::of(boards.iter().flat_map(|o| &o.outer));
        let middle = min.towards(max, 0.5).plus(corner);
        let is_in = |middle: f64, size: Length| (0.0..=size.m()).contains(&middle);
        if is_in(middle.x_m, cast.length) && is_in(middle.y_m, cast.width) {
            return corner;
        }
        Point::default().minus(min)
    }

    /// Boards may come from several drawings: of their places, the one in which the undersides lie on
    /// the boards most, the latest first.
    fn place_of_undersides(&self, drawn: &[Drawn], corner: Point) -> Point {
        let Some(river) = self.contents.river() else { return Point::default() };
        let undersides: Vec<Outline> =
            of(drawn, Role::Underside).map(|ring| Outline::new(ring.clone())).collect();
        let faces = || river.boards.iter().filter_map(|board| Some(&board.shape.as_ref()?.outline));
        let covered = |place: Point| -> f64 {
            let shift = corner.plus(place);
            let moved = undersides.iter().map(|o| o.map(|p| p.plus(shift)));
            moved
                .flat_map(|o| faces().filter_map(move |face| overlap(face, &o)))
                .map(|o| o.0.m2())
                .sum()
        };
        let mut best = (covered(river.drawn_at), river.drawn_at);
        for place in river.drawn_before.iter().rev() {
            let found = covered(*place);
            if found > best.0 {
                best = (found, *place);
            }
        }
        best.1
    }

    /// Each board takes the outline that it lies on most as its underside.
    fn set_undersides(&mut self, undersides: &[Outline]) {
        for board in self.contents.river_mut().into_iter().flat_map(|river| &mut river.boards) {
            let Some(shape) = &mut board.shape else { continue };
            let under = undersides
                .iter()
                .filter_map(|o| Some((overlap(&shape.outline, o)?.0, o)))
                .max_by(|a, b| a.0.m2().total_cmp(&b.0.m2()));
            if let Some((_, outline)) = under {
                shape.underside = Underside::Outline(outline.clone());
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
            river.drawn_at = Point::default();
            river.drawn_before.clear();
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

fn of(drawn: &[Drawn], role: Role) -> impl Iterator<Item = &Ring> {
    drawn.iter().filter(move |one| one.role == role).map(|one| &one.ring)
}

/// The boards among some rings, each with the holes that lie in it and in no smaller one.
fn boards(drawn: &[Drawn]) -> Vec<Outline> {
    let mut boards: Vec<Outline> =
        of(drawn, Role::Board).map(|ring| Outline::new(ring.clone())).collect();
    for hole in of(drawn, Role::Hole) {
        let around = boards
            .iter_mut()
            .filter(|board| faults::contains(&board.outer, hole[0].towards(hole[1], 0.5)))
            .min_by(|a, b| a.area().m2().total_cmp(&b.area().m2()));
        if let Some(board) = around {
            board.holes.push(hole.clone());
        }
    }
    boards.iter().map(Outline::cleaned).collect()
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

    fn taken(document: &Document) -> &[Board] {
        document.contents.boards()
    }

    fn take(
        document: &mut Document,
        drawn: &[Outline],
        role: Role,
        origin: Origin,
        placing: Placing,
    ) {
        let drawn: Vec<Drawn> =
            drawn.iter().map(|o| Drawn { ring: o.outer.clone(), role }).collect();
        document.take_drawing(&drawn, origin, placing, Length::from_mm(0.05));
    }

    #[test]
    fn outlines_beside_the_form_are_moved_in_as_one_and_keep_their_timber() {
        let mut document = document();
        let (timber, count) = (taken(&document)[1].timber.clone(), taken(&document).len());
        let drawn = [rectangle(-950.0, 0.0, 300.0, 100.0), rectangle(-900.0, 200.0, 300.0, 100.0)];
        take(&mut document, &drawn, Role::Board, Origin::UpperLeft, Placing::Instead);
        let lefts: Vec<f64> = taken(&document)
            .iter()
            .map(|b| Bounds::of(&b.shape.as_ref().unwrap().outline.outer).min.x_m)
            .collect();
        assert_eq!(lefts, [0.0, 0.05]);
        assert_eq!(taken(&document)[1].timber, timber);
        take(&mut document, &drawn, Role::Board, Origin::UpperLeft, Placing::Beside);
        assert_eq!((count, taken(&document).len()), (2, 4));
    }

    /// "Both are shifted to their own corner: bevels 40/40 become 0/80."
    #[test]
    fn faces_and_undersides_of_two_drawings_register_wherever_they_were_drawn() {
        let up = |o: Outline| o.map(|p| Point { x_m: p.x_m, y_m: -p.y_m }).cleaned();
        for (left, low) in [(100.0, 100.0), (5000.0, -3000.0), (-2000.0, 40.0)] {
            let mut document = document();
            let upper = [up(rectangle(left + 40.0, low + 40.0, 300.0, 100.0))];
            let under = [up(rectangle(left, low, 380.0, 180.0))];
            take(&mut document, &upper, Role::Board, Origin::LowerLeft, Placing::Instead);
            take(&mut document, &under, Role::Underside, Origin::LowerLeft, Placing::Instead);
            let shape = taken(&document)[0].shape.as_ref().unwrap();
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

    /// Two drawings far apart, the second beside the first: an underside of either finds its face.
    #[test]
    fn an_underside_of_an_earlier_drawing_goes_where_its_face_went() {
        let mut document = document();
        let far = [rectangle(5000.0, 3000.0, 300.0, 100.0)];
        let near = [rectangle(100.0, 250.0, 200.0, 90.0)];
        take(&mut document, &far, Role::Board, Origin::UpperLeft, Placing::Instead);
        take(&mut document, &near, Role::Board, Origin::UpperLeft, Placing::Beside);
        let under = [rectangle(4990.0, 2990.0, 320.0, 120.0)];
        take(&mut document, &under, Role::Underside, Origin::UpperLeft, Placing::Instead);
        let under = [rectangle(95.0, 245.0, 210.0, 100.0)];
        take(&mut document, &under, Role::Underside, Origin::UpperLeft, Placing::Instead);
        for (board, out_m) in taken(&document).iter().zip([0.01, 0.005]) {
            let shape = board.shape.as_ref().unwrap();
            let Underside::Outline(below) = &shape.underside else { panic!("{out_m}") };
            let (face, below) = (Bounds::of(&shape.outline.outer), Bounds::of(&below.outer));
            assert!((face.min.x_m - below.min.x_m - out_m).abs() < 1e-5, "{face:?} {below:?}");
            assert!((below.max.y_m - face.max.y_m - out_m).abs() < 1e-5, "{face:?} {below:?}");
        }
    }

    #[test]
    fn what_crosses_a_wall_stays_where_it_was_drawn() {
        let mut document = document();
        let drawn = [rectangle(-30.0, 20.0, 700.0, 100.0)];
        take(&mut document, &drawn, Role::Board, Origin::UpperLeft, Placing::Instead);
        let found = Bounds::of(&taken(&document)[0].shape.as_ref().unwrap().outline.outer);
        assert!((found.min.x_m + 0.03).abs() < 1e-9 && (found.min.y_m - 0.02).abs() < 1e-9);
    }

    #[test]
    fn an_underside_goes_under_the_board_that_lies_on_it() {
        let mut document = document();
        let upper = [rectangle(0.0, 0.0, 300.0, 100.0), rectangle(0.0, 200.0, 300.0, 100.0)];
        take(&mut document, &upper, Role::Board, Origin::UpperLeft, Placing::Instead);
        let under = [rectangle(0.0, 190.0, 300.0, 120.0)];
        take(&mut document, &under, Role::Underside, Origin::UpperLeft, Placing::Instead);
        let has_outline = |board: &Board| {
            matches!(board.shape.as_ref().unwrap().underside, Underside::Outline(_))
        };
        assert!(!has_outline(&taken(&document)[0]) && has_outline(&taken(&document)[1]));
    }

    #[test]
    fn a_form_that_is_drawn_gives_its_size_and_its_corner() {
        let mut document = document();
        let drawn = [
            (rectangle(200.0, -900.0, 1500.0, 700.0), Role::Form),
            (rectangle(200.0, -900.0, 1500.0, 200.0), Role::Board),
            (rectangle(300.0, -850.0, 50.0, 30.0), Role::Hole),
            (rectangle(200.0, -900.0, 1500.0, 230.0), Role::Underside),
            (rectangle(0.0, -1000.0, 2000.0, 1000.0), Role::LeftOut),
        ];
        let drawn: Vec<Drawn> =
            drawn.map(|(o, role)| Drawn { ring: o.outer, role }).into_iter().collect();
        let tolerance = Length::from_mm(0.05);
        document.take_drawing(&drawn, Origin::LowerLeft, Placing::Instead, tolerance);
        let cast = CastSize::of(&document.piece);
        assert!((cast.length.mm() - 1500.0).abs() < 1e-9 && (cast.width.mm() - 700.0).abs() < 1e-9);
        let [board] = taken(&document) else { panic!("one board") };
        let shape = board.shape.as_ref().unwrap();
        assert_eq!(shape.outline.bounds().min, Point::default());
        assert!((shape.outline.area().m2() - (0.3 - 0.0015)).abs() < 1e-9);
        let Underside::Outline(below) = &shape.underside else { panic!("no underside") };
        assert!((below.bounds().max.y_m - 0.23).abs() < 1e-9);
    }
}
