//! What is sawn to build a form: a base, walls that stand on it, battens.

use super::CastSize;
use super::nesting::{Item, Nest, nest};
use fondant_quantities::Length;

/// One kind of piece.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Part {
    /// Under everything, as wide as the walls' outsides.
    Base,
    /// Along the form, over the ends of the end walls.
    LongWall,
    /// Across the form, between the long walls.
    EndWall,
}

/// Pieces of one kind.
#[derive(Debug, Clone, PartialEq)]
pub struct Cut {
    /// Which part of the form it is.
    pub part: Part,
    /// Number of equal pieces.
    pub count: usize,
    /// Length of the part.
    pub length: Length,
    /// Width of the part.
    pub width: Length,
}

/// The pieces of a form and where they lie on the stock.
#[derive(Debug, Clone, PartialEq)]
pub struct CutList {
    /// The pieces.
    pub cuts: Vec<Cut>,
    /// Each single piece's place.
    pub nest: Nest,
    /// Which cut each nested item is.
    pub cut_of_item: Vec<usize>,
    /// Outside length of the form.
    pub outside_length: Length,
    /// Outside width of the form.
    pub outside_width: Length,
}

/// A stock sheet and the saw.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Stock {
    /// Length of a sheet.
    pub length: Length,
    /// Width of a sheet.
    pub width: Length,
    /// Width of the saw cut.
    pub kerf: Length,
}

/// The cut list of a form of an inside size, walls of a height, from a sheet
/// of a thickness.
#[must_use]
pub fn cut_list(inside: &CastSize, height: Length, thickness: Length, stock: Stock) -> CutList {
    let outside_length = inside.length + thickness * 2.0;
    let outside_width = inside.width + thickness * 2.0;
    let cuts = vec![
        Cut { part: Part::Base, count: 1, length: outside_length, width: outside_width },
        Cut { part: Part::LongWall, count: 2, length: outside_length, width: height },
        Cut { part: Part::EndWall, count: 2, length: inside.width, width: height },
    ];
    let mut items = Vec::new();
    let mut cut_of_item = Vec::new();
    for (index, cut) in cuts.iter().enumerate() {
        for _ in 0..cut.count {
            items.push(Item { name: String::new(), length: cut.length, width: cut.width });
            cut_of_item.push(index);
        }
    }
    let nest = nest(&items, stock.length, stock.width, stock.kerf);
    CutList { cuts, nest, cut_of_item, outside_length, outside_width }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn walls_close_round_the_inside() {
        let mm = Length::from_mm;
        let inside = CastSize { length: mm(1200.0), width: mm(600.0), thickness: mm(40.0) };
        let stock = Stock { length: mm(2440.0), width: mm(1220.0), kerf: mm(3.2) };
        let list = cut_list(&inside, mm(60.0), mm(18.0), stock);
        assert!((list.cuts[0].length.mm() - 1236.0).abs() < 1e-9);
        // Two end walls and two thicknesses make the base's width.
        assert!((list.cuts[2].length + mm(36.0) - list.cuts[0].width).mm().abs() < 1e-9);
        assert_eq!((list.nest.sheets, list.nest.placed.len()), (1, 5));
    }
}
