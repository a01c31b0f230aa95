//! What lies where, for drawing it from above and cut across.

use crate::geometry::Outline;
use crate::geometry::ruled::Ruled;
use fondant_quantities::Length;

/// What the resin is poured into.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Bed {
    /// A form with walls.
    Form,
    /// A board with cavities.
    Board,
    /// A mould with cavities.
    Mould,
    /// A finished face.
    Face,
}

/// What something in it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum What {
    /// A board, by its number from 0.
    Board(usize),
    /// An insert, by its number from 0.
    Insert(usize),
    /// A hollow that resin fills, by its number from 0.
    Hollow(usize),
}

/// Something in its place.
#[derive(Debug, Clone, PartialEq)]
pub struct Laid {
    /// Kind and index of the thing.
    pub what: What,
    /// Its shape between its two levels.
    pub shape: Ruled,
    /// Level of its underside above the floor.
    pub from: Length,
    /// Level of its top.
    pub to: Length,
}

/// Everything in its place.
#[derive(Debug, Clone, PartialEq)]
pub struct Layout {
    /// What the contents lie in: a form, a board or a mould.
    pub bed: Bed,
    /// Inner length of the form.
    pub length: Length,
    /// Inner width of the form.
    pub width: Length,
    /// Height of the bed: the walls', the board's or the mould's.
    pub height: Length,
    /// Boards, objects and hollows with their places.
    pub laid: Vec<Laid>,
}

/// One thing cut across: corners as distance across and level, counterclockwise.
#[derive(Debug, Clone, PartialEq)]
pub struct CutThing {
    /// Kind and index of the thing.
    pub what: What,
    /// Corners across and up.
    pub corners: [(Length, Length); 4],
}

impl Layout {
    /// What a line across the form meets at a distance from its left end.
    #[must_use]
    pub fn cut_at(&self, x: Length) -> Vec<CutThing> {
        // A line along an end wall would miss everything by half a hair.
        let hair = Length::from_mm(0.05);
        let x = x.max(hair).min(self.length - hair);
        let mut cut = Vec::new();
        for laid in &self.laid {
            let low = laid.shape.lower.cut_at(x);
            let high = laid.shape.upper.cut_at(x);
            // Where a slope runs out under the line, one face stands for both.
            let (low, high) = match (low.len(), high.len()) {
                (a, b) if a == b => (low, high),
                (a, b) if a > b => (low.clone(), low),
                _ => (high.clone(), high),
            };
            cut.extend(low.into_iter().zip(high).map(|((a, b), (c, d))| CutThing {
                what: laid.what,
                corners: [(a, laid.from), (b, laid.from), (d, laid.to), (c, laid.to)],
            }));
        }
        cut
    }

    /// A place to cut that shows most: through the middle of what lies there,
    /// or of the bed.
    #[must_use]
    pub fn middle(&self) -> Length {
        self.laid.first().map_or(self.length / 2.0, |laid| {
            let bounds = laid.shape.upper.bounds();
            Length::from_m(bounds.middle().x_m).max(Length::ZERO).min(self.length)
        })
    }
}

/// Things of several sizes laid side by side on shelves in a bed of a size,
/// for drawing them where nobody has said where they lie: their middles.
#[must_use]
pub fn shelves(sizes: &[(Length, Length)], length: Length, width: Length) -> Vec<(Length, Length)> {
    let gap = length * 0.06;
    let mut shelves: Vec<Vec<usize>> = Vec::new();
    let mut used = Length::ZERO;
    for (index, (l, _)) in sizes.iter().enumerate() {
        match shelves.last_mut() {
            Some(shelf) if used + gap + *l <= length => {
                shelf.push(index);
                used = used + gap + *l;
            }
            _ => {
                shelves.push(vec![index]);
                used = *l;
            }
        }
    }
    let mut middles = vec![(Length::ZERO, Length::ZERO); sizes.len()];
    let count = shelves.len() as f64;
    for (line, shelf) in shelves.iter().enumerate() {
        let y = width * ((line as f64 + 0.5) / count);
        let taken: Length = shelf.iter().map(|i| sizes[*i].0).sum();
        let space = (length - taken) / (shelf.len() as f64 + 1.0);
        let mut x = Length::ZERO;
        for &index in shelf {
            let l = sizes[index].0;
            middles[index] = (x + space + l / 2.0, y);
            x = x + space + l;
        }
    }
    middles
}

/// Centres of `count` equal things in rows within a bed.
#[must_use]
pub fn rows(count: usize, length: Length, width: Length, aspect: f64) -> Vec<(Length, Length)> {
    // As many columns as make the cells' shape come closest to the things'.
    let columns =
        ((count as f64 * (length / width) / aspect).sqrt().round() as usize).clamp(1, count.max(1));
    let lines = count.div_ceil(columns);
    (0..count)
        .map(|i| {
            let (column, line) = (i % columns, i / columns);
            (
                length * ((column as f64 + 0.5) / columns as f64),
                width * ((line as f64 + 0.5) / lines as f64),
            )
        })
        .collect()
}

/// A rectangle or an ellipse around a middle.
#[must_use]
pub fn around(middle: (Length, Length), length: Length, width: Length, is_round: bool) -> Outline {
    let at = crate::geometry::Point { x_m: middle.0.m(), y_m: middle.1.m() };
    if is_round {
        // A circle pressed to an ellipse.
        let ratio = width / length;
        return Outline::circle(crate::geometry::Point::default(), length, 48)
            .map(|p| crate::geometry::Point { x_m: p.x_m, y_m: p.y_m * ratio }.plus(at));
    }
    Outline::rectangle(length, width).map(|p| {
        p.plus(at).minus(crate::geometry::Point { x_m: length.m() / 2.0, y_m: width.m() / 2.0 })
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::geometry::ruled::Underside;

    fn mm(v: f64) -> Length {
        Length::from_mm(v)
    }

    #[test]
    fn a_bevelled_board_is_cut_as_a_trapezium() {
        let board = Outline::rectangle(mm(1000.0), mm(200.0));
        // The far edge, from point 2 to point 3, stands 30 mm out below.
        let bevels = Underside::Bevels(vec![Length::ZERO, Length::ZERO, mm(30.0), Length::ZERO]);
        let layout = Layout {
            bed: Bed::Form,
            length: mm(1000.0),
            width: mm(500.0),
            height: mm(60.0),
            laid: vec![Laid {
                what: What::Board(0),
                shape: Ruled::new(&board, &bevels),
                from: mm(2.0),
                to: mm(42.0),
            }],
        };
        let cut = layout.cut_at(mm(400.0));
        assert_eq!(cut.len(), 1);
        let across: Vec<f64> =
            cut[0].corners.iter().map(|c| (c.0.mm() * 1e6).round() / 1e6).collect();
        assert_eq!(across, [0.0, 230.0, 200.0, 0.0]);
        assert!((layout.middle().mm() - 500.0).abs() < 1e-9);
    }

    #[test]
    fn twelve_blanks_lie_in_rows() {
        let all = rows(12, mm(400.0), mm(300.0), 1.0);
        assert_eq!(all.len(), 12);
        assert!((all[0].0.mm() - 50.0).abs() < 1e-9 && (all[0].1.mm() - 50.0).abs() < 1e-9);
        let sizes = [(mm(100.0), mm(20.0)), (mm(250.0), mm(9.0)), (mm(300.0), mm(5.0))];
        let shelved = shelves(&sizes, mm(400.0), mm(200.0));
        assert!(shelved[0].1 == shelved[1].1 && shelved[2].1 > shelved[1].1, "{shelved:?}");
        for ((x, _), (l, _)) in shelved.iter().zip(sizes) {
            assert!((*x - l / 2.0).mm() >= -1e-9 && (*x + l / 2.0).mm() <= 400.0 + 1e-9);
        }
        assert_eq!(rows(1, mm(400.0), mm(300.0), 1.0)[0], (mm(200.0), mm(150.0)));
    }
}
