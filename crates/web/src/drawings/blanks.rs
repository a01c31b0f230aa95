//! Blanks in a block, parts on a stock sheet.

use fondant_quantities::Length;
use fondant_quantities::units::trimmed;
use fondant_shapes::blanks::cutting::{Cutting, Layout, Row};
use fondant_shapes::form::cut_list::{CutList, Part, Stock};

use crate::svg::{Frame, Markup, Svg};
use crate::ui::units::Shown;
use crate::words::counting::counted;

/// Most lines that are drawn along one side: closer ones run together.
const MOST_LINES: usize = 120;

/// The block from above and from its end, with its cuts.
#[must_use]
pub(crate) fn cutting(
    layout: &Layout,
    block: [Length; 3],
    cutting: &Cutting,
    shown: Shown,
    frame: Frame,
) -> Markup {
    let (left, gap) = (44.0, 34.0);
    let room = frame.width - left - gap - 12.0;
    let scale = (room / (block[0] + block[1]).mm()).min(240.0 / block[1].max(block[2]).mm());
    let px = |q: Length| q.mm() * scale;
    let top = 34.0;
    let height = px(block[1].max(block[2]));
    let mut svg = Svg::new(
        frame.class,
        frame.width,
        top + height + 14.0,
        "The block and the blanks sawn from it, to scale",
    );
    let [along, across, up] = layout.rows;
    face(&mut svg, (left, top), (block[0], block[1]), (along, across), cutting, scale);
    svg.dimension_x(left, left + px(block[0]), top - 18.0, &shown.length(block[0]));
    svg.dimension_y(left - 18.0, top, top + px(block[1]), &shown.length(block[1]));
    let second = left + px(block[0]) + gap;
    face(&mut svg, (second, top), (block[1], block[2]), (across, up), cutting, scale);
    svg.dimension_x(second, second + px(block[1]), top - 18.0, &shown.length(block[1]));
    svg.finish()
}

fn face(
    svg: &mut Svg,
    (x, y): (f64, f64),
    (length, width): (Length, Length),
    (columns, rows): (Row, Row),
    cutting: &Cutting,
    scale: f64,
) {
    let px = |q: Length| q.mm() * scale;
    svg.rect("resin", x, y, px(length), px(width));
    if columns.count.max(rows.count) <= MOST_LINES {
        for i in 0..columns.count {
            for j in 0..rows.count {
                let step =
                    |row: &Row, k: usize| cutting.squaring + (row.size + cutting.kerf) * k as f64;
                let (dx, dy) = (px(step(&columns, i)), px(step(&rows, j)));
                svg.rect("blank", x + dx, y + dy, px(columns.size), px(rows.size));
            }
        }
    }
    svg.rect("rim", x, y, px(length), px(width));
}

/// The stock sheets with the parts that are sawn from them.
#[must_use]
pub(crate) fn sheets(list: &CutList, stock: &Stock, shown: Shown, frame: Frame) -> Markup {
    let (left, top, gap) = (44.0, 30.0, 26.0);
    let scale = (frame.width - left - 12.0) / stock.length.mm();
    let px = |q: Length| q.mm() * scale;
    let (w, h) = (px(stock.length), px(stock.width));
    let sheets = list.nest.sheets.max(1);
    let height = top + sheets as f64 * (h + gap);
    let mut svg =
        Svg::new(frame.class, frame.width, height, "Parts laid out on stock sheets, to scale");
    for sheet in 0..sheets {
        let y = top + sheet as f64 * (h + gap);
        svg.rect("mould", left, y, w, h);
        svg.rect("rim", left, y, w, h);
    }
    for placed in &list.nest.placed {
        let (x, y) = (left + px(placed.x), top + placed.sheet as f64 * (h + gap) + px(placed.y));
        let (pw, ph) = (px(placed.length), px(placed.width));
        svg.rect("part", x, y, pw, ph);
        let name = part_name(list.cuts[list.cut_of_item[placed.item]].part);
        if ph > 15.0 && pw > 7.2 * name.len() as f64 {
            svg.text("mid s12", x + pw / 2.0, y + ph / 2.0 + 4.0, name);
        }
    }
    svg.dimension_x(left, left + w, top - 14.0, &shown.length(stock.length));
    svg.dimension_y(left - 18.0, top, top + h, &shown.length(stock.width));
    svg.finish()
}

/// What a part is called.
#[must_use]
pub(crate) const fn part_name(part: Part) -> &'static str {
    match part {
        Part::Base => "base",
        Part::LongWall => "long wall",
        Part::EndWall => "end wall",
    }
}

/// Parts and their places in words, for the printed cut list.
pub(crate) fn nest_note(used_ratio: f64, sheets: usize) -> String {
    let sheets = counted(sheets, "sheet");
    format!("{sheets}, {}\u{202f}% of it used", trimmed(used_ratio * 100.0, 0))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sample::METRIC;
    use crate::svg::{NARROW, WIDE};
    use fondant_shapes::blanks::cutting::lay_out;
    use fondant_shapes::form::CastSize;
    use fondant_shapes::form::cut_list::cut_list;

    fn mm(v: f64) -> Length {
        Length::from_mm(v)
    }

    #[test]
    fn every_blank_of_a_face_is_drawn_to_scale() {
        let cutting = Cutting {
            length: mm(130.0),
            width: mm(20.0),
            height: mm(20.0),
            kerf: mm(2.0),
            squaring: mm(2.0),
        };
        let block = [mm(270.0), mm(112.0), mm(50.0)];
        let layout = lay_out(block, &cutting);
        let [a, b, c] = layout.rows;
        for frame in [WIDE, NARROW] {
            let svg = super::cutting(&layout, block, &cutting, METRIC, frame).into_string();
            assert_eq!(
                svg.matches("class=\"blank\"").count(),
                a.count * b.count + b.count * c.count
            );
        }
    }

    #[test]
    fn the_stock_names_its_parts() {
        let inside = CastSize { length: mm(1200.0), width: mm(600.0), thickness: mm(40.0) };
        let stock = Stock { length: mm(2440.0), width: mm(1220.0), kerf: mm(3.0) };
        let list = cut_list(&inside, mm(60.0), mm(18.0), stock);
        let svg = sheets(&list, &stock, METRIC, WIDE).into_string();
        assert_eq!(svg.matches("class=\"part\"").count(), 5);
        assert!(svg.contains(">base<") && svg.contains(">long wall<"));
    }
}
