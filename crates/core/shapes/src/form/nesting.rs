//! Rectangles on sheets with a kerf between them: guillotine cuts, the piece
//! that fits a free rectangle best first (J. Jylänki, "A thousand ways to pack
//! the bin", 2010: best short side fit, split along the shorter leftover).

use fondant_quantities::Length;

/// A rectangle to place; it may be turned.
#[derive(Debug, Clone, PartialEq)]
pub struct Item {
    /// Name of the item.
    pub name: String,
    /// Length of the part.
    pub length: Length,
    /// Width of the part.
    pub width: Length,
}

/// Where a rectangle lies on its sheet.
#[derive(Debug, Clone, PartialEq)]
pub struct Placed {
    /// Which item, from 0.
    pub item: usize,
    /// Which sheet, from 0.
    pub sheet: usize,
    /// Distance of its corner from the sheet's left end.
    pub x: Length,
    /// Distance of its corner from the sheet's near edge.
    pub y: Length,
    /// Along the sheet.
    pub length: Length,
    /// Across the sheet.
    pub width: Length,
}

/// Placement of all parts on sheets.
#[derive(Debug, Clone, PartialEq)]
pub struct Nest {
    /// In the order in which they were placed, large to small.
    pub placed: Vec<Placed>,
    /// Sheets needed.
    pub sheets: usize,
    /// Items that no sheet holds.
    pub too_large: Vec<usize>,
    /// Share of the sheets' area that is used, 0…1.
    pub used_ratio: f64,
}

struct Free {
    sheet: usize,
    x: f64,
    y: f64,
    l: f64,
    w: f64,
}

/// Lays items out on sheets of one size.
#[must_use]
pub fn nest(items: &[Item], sheet_length: Length, sheet_width: Length, kerf: Length) -> Nest {
    let mut order: Vec<usize> = (0..items.len()).collect();
    order.sort_by(|&a, &b| {
        let area = |i: usize| (items[i].length * items[i].width).m2();
        area(b).total_cmp(&area(a))
    });
    let (length, width, kerf) = (sheet_length.m(), sheet_width.m(), kerf.m());
    let mut free: Vec<Free> = Vec::new();
    let mut nest = Nest { placed: Vec::new(), sheets: 0, too_large: Vec::new(), used_ratio: 0.0 };
    for item in order {
        let (a, b) = (items[item].length.m(), items[item].width.m());
        let fits = |l: f64, w: f64| (a <= l && b <= w) || (b <= l && a <= w);
        if !fits(length, width) {
            nest.too_large.push(item);
            continue;
        }
        if !free.iter().any(|f| fits(f.l, f.w)) {
            free.push(Free { sheet: nest.sheets, x: 0.0, y: 0.0, l: length, w: width });
            nest.sheets += 1;
        }
        let mut best: Option<(f64, usize, bool)> = None;
        for (index, f) in free.iter().enumerate() {
            for (turned, (l, w)) in [(false, (a, b)), (true, (b, a))] {
                if l <= f.l && w <= f.w {
                    let waste = (f.l - l).min(f.w - w);
                    if best.is_none_or(|(least, ..)| waste < least - 1e-9) {
                        best = Some((waste, index, turned));
                    }
                }
            }
        }
        let Some((_, index, turned)) = best else { continue };
        let (l, w) = if turned { (b, a) } else { (a, b) };
        let f = free.swap_remove(index);
        nest.placed.push(Placed {
            item,
            sheet: f.sheet,
            x: Length::from_m(f.x),
            y: Length::from_m(f.y),
            length: Length::from_m(l),
            width: Length::from_m(w),
        });
        let (right, below) = (f.l - l - kerf, f.w - w - kerf);
        // One straight cut first, along the side that leaves the larger piece whole.
        let (right_w, below_l) = if right < below { (w, f.l) } else { (f.w, l) };
        if right > 0.0 {
            free.push(Free { sheet: f.sheet, x: f.x + l + kerf, y: f.y, l: right, w: right_w });
        }
        if below > 0.0 {
            free.push(Free { sheet: f.sheet, x: f.x, y: f.y + w + kerf, l: below_l, w: below });
        }
    }
    let used: f64 = nest.placed.iter().map(|p| (p.length * p.width).m2()).sum();
    let whole = nest.sheets as f64 * length * width;
    nest.used_ratio = if whole > 0.0 { used / whole } else { 0.0 };
    nest
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn pieces_lie_on_their_sheet_a_kerf_apart(
            sizes in proptest::collection::vec((50.0f64..1500.0, 20.0f64..900.0), 1..25),
        ) {
            let mm = Length::from_mm;
            let items: Vec<Item> = sizes
                .iter()
                .map(|(l, w)| Item { name: String::new(), length: mm(*l), width: mm(*w) })
                .collect();
            let nest = nest(&items, mm(2440.0), mm(1220.0), mm(4.0));
            prop_assert_eq!(nest.placed.len() + nest.too_large.len(), items.len());
            for (i, p) in nest.placed.iter().enumerate() {
                prop_assert!(p.x.mm() >= 0.0 && (p.x + p.length).mm() <= 2440.0 + 1e-6);
                prop_assert!(p.y.mm() >= 0.0 && (p.y + p.width).mm() <= 1220.0 + 1e-6);
                for q in &nest.placed[i + 1..] {
                    let gap = |a: Length, la: Length, b: Length, lb: Length| {
                        (b - a - la).mm().max((a - b - lb).mm())
                    };
                    let apart = gap(p.x, p.length, q.x, q.length).max(gap(p.y, p.width, q.y, q.width));
                    prop_assert!(p.sheet != q.sheet || apart >= 4.0 - 1e-6, "{p:?} {q:?}");
                }
            }
        }
    }

    #[test]
    fn a_piece_larger_than_the_sheet_is_named() {
        let mm = Length::from_mm;
        let item = |l, w| Item { name: String::new(), length: mm(l), width: mm(w) };
        let nest =
            nest(&[item(3000.0, 100.0), item(1220.0, 2440.0)], mm(2440.0), mm(1220.0), mm(3.0));
        assert_eq!((nest.too_large, nest.sheets), (vec![0], 1));
        assert!((nest.used_ratio - 1.0).abs() < 1e-9);
    }
}
