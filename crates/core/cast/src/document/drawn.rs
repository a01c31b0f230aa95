//! What the closed lines of a drawing are to a cast: proposed from where they lie and what they are
//! called, decided by the maker.

use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::{Bounds, Point, Ring, faults, signed_area_m2};

/// What a closed line of a drawing is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Role {
    /// The face of a board.
    Board,
    /// A hole in a board.
    Hole,
    /// The inside of the form.
    Form,
    /// The underside of a board.
    Underside,
    /// Nothing of the cast: a frame, a page, a mark.
    LeftOut,
}

/// A closed line with what it is.
#[derive(Debug, Clone, PartialEq)]
pub struct Drawn {
    /// Points of the line, m.
    pub ring: Ring,
    /// Role of the line in the cast.
    pub role: Role,
}

/// A closed line as a drawing has it.
#[derive(Debug, Clone, Copy)]
pub struct Read<'a> {
    /// Points of the line, m.
    pub ring: &'a Ring,
    /// The name of its layer.
    pub layer: &'a str,
}

/// Two sizes that agree within this share are the same (convention: a printed sheet's stretch).
const SAME_SIZE: f64 = 0.002;
/// Share of a rectangle that what lies in it covers at least, for it to be a frame around boards
/// and not a board with holes (convention: a board is not mostly holes).
const FRAMED: f64 = 0.2;
/// Holes from which a pattern is seen (convention: boards come by ones and threes).
const HOLES_OF_A_PATTERN: usize = 4;
/// Share by which the holes of a pattern differ at most.
const HOLES_ALIKE: f64 = 0.02;
/// Share of its upright rectangle that a frame fills at least: a title block takes a corner of it.
const FRAME_FILLS: f64 = 0.6;
/// Most corners of a frame.
const FRAME_CORNERS: usize = 12;
/// Largest share of a frame that a title block in its corner takes.
const TITLE_BLOCK: f64 = 0.15;

/// Words in the names of layers, in small letters, and what lies on such a layer.
const NAMES: [(&str, Role); 14] = [
    ("underside", Role::Underside),
    ("bottom", Role::Underside),
    ("frame", Role::LeftOut),
    ("border", Role::LeftOut),
    ("title", Role::LeftOut),
    ("viewport", Role::LeftOut),
    ("guide", Role::LeftOut),
    ("construction", Role::LeftOut),
    ("dimension", Role::LeftOut),
    ("background", Role::LeftOut),
    ("sheet", Role::LeftOut),
    ("page", Role::LeftOut),
    ("mould", Role::Form),
    ("form", Role::Form),
];

/// Proposes what the closed lines of a drawing are, the largest first, for a form of a size. `sheet`
/// is the page of the drawing, where its format has one.
#[must_use]
pub fn proposed(all: &[Read<'_>], sheet: Option<Bounds>, cast: CastSize) -> Vec<Role> {
    let boxes: Vec<Bounds> = all.iter().map(|read| Bounds::of(read.ring)).collect();
    let mut roles: Vec<Option<Role>> = all.iter().map(|read| by_name(read.layer)).collect();
    keep_one_form(&mut roles);
    for i in 0..all.len() {
        if roles[i].is_some() || !is_frame(all[i].ring, boxes[i]) {
            continue;
        }
        let inside: Vec<usize> = (0..all.len())
            .filter(|j| *j != i && roles[*j].is_none_or(|role| role == Role::Underside))
            .filter(|j| *j > i)
            .collect();
        if inside.is_empty() || !inside.iter().all(|j| boxes[i].holds(&boxes[*j])) {
            continue;
        }
        let has_form = roles.contains(&Some(Role::Form));
        let covered: f64 = outermost(all, &inside).map(|j| area(all[j].ring)).sum();
        let is_page = sheet.is_some_and(|sheet| is_same_size(boxes[i], sheet));
        let size = Point { x_m: cast.length.m(), y_m: cast.width.m() };
        if is_size(boxes[i], size) && !has_form {
            roles[i] = Some(Role::Form);
        } else if !is_page && is_perforated(all, &inside) {
            continue;
        } else if is_page || covered > FRAMED * area(all[i].ring) {
            roles[i] = Some(Role::LeftOut);
            leave_out_title_blocks(&boxes, i, &mut roles);
        }
    }
    by_depth(all, &roles)
}

/// What its layer's name says of a line.
fn by_name(layer: &str) -> Option<Role> {
    let name = layer.to_lowercase();
    // "Platform" is no form, "formboard" and "form 1" are.
    let begins =
        |word: &str| name.split(|c: char| !c.is_alphanumeric()).any(|w| w.starts_with(word));
    NAMES.iter().find(|(word, _)| begins(word)).map(|(_, role)| *role)
}

/// The largest line that is called a form is the form.
fn keep_one_form(roles: &mut [Option<Role>]) {
    let mut is_first = true;
    for role in roles.iter_mut().filter(|role| **role == Some(Role::Form)) {
        if !is_first {
            *role = Some(Role::LeftOut);
        }
        is_first = false;
    }
}

fn area(ring: &Ring) -> f64 {
    signed_area_m2(ring).abs()
}

/// Whether a line is upright and square as the frame of a drawing is.
fn is_frame(ring: &Ring, bounds: Bounds) -> bool {
    let size = bounds.max.minus(bounds.min);
    let hair = 1e-4 * size.norm_m();
    let is_upright = |a: &Point, b: &Point| {
        let d = b.minus(*a);
        d.x_m.abs() < hair || d.y_m.abs() < hair
    };
    ring.len() <= FRAME_CORNERS
        && (0..ring.len()).all(|i| is_upright(&ring[i], &ring[(i + 1) % ring.len()]))
        && area(ring) >= FRAME_FILLS * size.x_m * size.y_m
}

fn is_size(bounds: Bounds, size: Point) -> bool {
    let found = bounds.max.minus(bounds.min);
    let is_near = |a: f64, b: f64| (a - b).abs() <= SAME_SIZE * b;
    is_near(found.x_m, size.x_m) && is_near(found.y_m, size.y_m)
}

fn is_same_size(bounds: Bounds, sheet: Bounds) -> bool {
    is_size(bounds, sheet.max.minus(sheet.min))
}

/// Whether what lies in a rectangle are the holes of one board: many, of one size, with nothing in them.
fn is_perforated(all: &[Read<'_>], inside: &[usize]) -> bool {
    let sizes = || inside.iter().map(|j| area(all[*j].ring));
    let (least, most) =
        sizes().fold((f64::INFINITY, 0.0_f64), |(a, b), size| (a.min(size), b.max(size)));
    inside.len() >= HOLES_OF_A_PATTERN
        && most - least <= HOLES_ALIKE * most
        && outermost(all, inside).count() == inside.len()
}

/// Those of some lines that lie in no other of them.
fn outermost<'a>(all: &'a [Read<'_>], some: &'a [usize]) -> impl Iterator<Item = usize> + 'a {
    some.iter().copied().filter(move |j| {
        let probe = all[*j].ring[0].towards(all[*j].ring[1], 0.5);
        !some.iter().any(|k| k < j && faults::contains(all[*k].ring, probe))
    })
}

/// Small boxes in the corner of a frame are for its title.
fn leave_out_title_blocks(boxes: &[Bounds], frame: usize, roles: &mut [Option<Role>]) {
    let outer = boxes[frame];
    let size = outer.max.minus(outer.min);
    let hair = 1e-3 * size.norm_m();
    for j in frame + 1..boxes.len() {
        let (b, own) = (boxes[j], boxes[j].max.minus(boxes[j].min));
        let at_side = (b.min.x_m - outer.min.x_m).min(outer.max.x_m - b.max.x_m).abs() < hair;
        let at_end = (b.min.y_m - outer.min.y_m).min(outer.max.y_m - b.max.y_m).abs() < hair;
        let is_small = own.x_m * own.y_m < TITLE_BLOCK * size.x_m * size.y_m;
        if at_side && at_end && is_small && roles[j].is_none() {
            roles[j] = Some(Role::LeftOut);
        }
    }
}

/// Boards and holes by how many of the others each lies in.
fn by_depth(all: &[Read<'_>], roles: &[Option<Role>]) -> Vec<Role> {
    let depth = |i: usize| {
        let probe = all[i].ring[0].towards(all[i].ring[1], 0.5);
        let others = (0..i).filter(|j| roles[*j].is_none());
        others.filter(|j| faults::contains(all[*j].ring, probe)).count()
    };
    let role = |i: usize| match roles[i] {
        Some(role) => role,
        None if depth(i) % 2 == 0 => Role::Board,
        None => Role::Hole,
    };
    (0..all.len()).map(role).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_quantities::Length;

    fn rectangle(left: f64, near: f64, long: f64, wide: f64) -> Ring {
        [(left, near), (left + long, near), (left + long, near + wide), (left, near + wide)]
            .map(|(x, y)| Point::from_mm(x, y))
            .to_vec()
    }

    /// A board with a live edge.
    fn board(left: f64, near: f64, long: f64, wide: f64) -> Ring {
        let mut ring = rectangle(left, near, long, wide);
        ring.insert(3, Point::from_mm(left + 0.5 * long, near + 1.1 * wide));
        ring
    }

    fn roles(all: &[(Ring, &str)], sheet: Option<(f64, f64)>) -> Vec<Role> {
        let mm = Length::from_mm;
        let cast = CastSize { length: mm(1220.0), width: mm(620.0), thickness: mm(40.0) };
        let read: Vec<Read<'_>> = all.iter().map(|(ring, layer)| Read { ring, layer }).collect();
        let sheet = sheet.map(|(x, y)| Bounds { min: Point::default(), max: Point::from_mm(x, y) });
        proposed(&read, sheet, cast)
    }

    #[test]
    fn a_page_and_a_frame_with_its_title_block_are_left_out() {
        let all = [
            (rectangle(0.0, 0.0, 1682.0, 1189.0), ""),
            (rectangle(20.0, 20.0, 1642.0, 1149.0), ""),
            (board(100.0, 100.0, 1220.0, 200.0), ""),
            (board(100.0, 500.0, 1220.0, 180.0), ""),
            (rectangle(1482.0, 1109.0, 180.0, 60.0), ""),
            (rectangle(300.0, 150.0, 40.0, 40.0), ""),
        ];
        let expected =
            [Role::LeftOut, Role::LeftOut, Role::Board, Role::Board, Role::LeftOut, Role::Hole];
        assert_eq!(roles(&all, Some((1682.0, 1189.0))), expected);
        assert_eq!(roles(&all, None), expected);
    }

    #[test]
    fn a_rectangle_of_the_forms_size_is_the_form() {
        let boards = [
            (rectangle(0.0, 0.0, 1220.0, 620.0), ""),
            (board(0.0, 0.0, 1220.0, 150.0), ""),
            (board(0.0, 400.0, 1220.0, 150.0), ""),
        ];
        let expected = [Role::Form, Role::Board, Role::Board];
        assert_eq!(roles(&boards, Some((1220.0, 620.0))), expected);
    }

    #[test]
    fn a_square_board_with_a_knot_hole_is_a_board() {
        let all =
            [(rectangle(0.0, 0.0, 900.0, 300.0), ""), (rectangle(90.0, 90.0, 60.0, 60.0), "")];
        assert_eq!(roles(&all, None), [Role::Board, Role::Hole]);
        assert_eq!(roles(&all[..1], None), [Role::Board]);
    }

    /// A drilled panel of which little is left; four boards that differ are in a frame all the same.
    #[test]
    fn a_square_board_that_is_mostly_holes_of_one_size_is_a_board() {
        let mut all = vec![(rectangle(0.0, 0.0, 400.0, 200.0), "")];
        for i in 0..8 {
            let (column, row) = (f64::from(i % 4), f64::from(i / 4));
            all.push((rectangle(10.0 + 98.0 * column, 10.0 + 95.0 * row, 80.0, 75.0), ""));
        }
        let found = roles(&all, None);
        assert_eq!((found[0], found[1]), (Role::Board, Role::Hole));
        all.truncate(5);
        for (place, (ring, _)) in all[1..].iter_mut().enumerate() {
            *ring = rectangle(10.0 + 98.0 * place as f64, 10.0, 80.0, 100.0 + 20.0 * place as f64);
        }
        all[1..].reverse();
        assert_eq!(roles(&all, None)[..2], [Role::LeftOut, Role::Board]);
    }

    #[test]
    fn layers_say_what_lies_on_them() {
        let all = [
            (rectangle(0.0, 0.0, 1500.0, 700.0), "Form"),
            (board(0.0, 0.0, 1400.0, 200.0), "Board_1"),
            (board(0.0, 0.0, 1300.0, 190.0), "Undersides_board_1"),
            (board(0.0, 300.0, 900.0, 100.0), "platform"),
            (rectangle(0.0, 0.0, 60.0, 60.0), "TITLE"),
        ];
        let expected = [Role::Form, Role::Board, Role::Underside, Role::Board, Role::LeftOut];
        assert_eq!(roles(&all, None), expected);
    }
}
