//! Outlines from and to SVG. Transforms, units and shapes are resolved by
//! `usvg`; a length without a unit counts 96 to the inch, as CSS says.

use std::fmt::Write;

use fondant_quantities::Length;
use fondant_shapes::geometry::{Bounds, Outline, Point, Ring};
use kurbo::{BezPath, PathEl};
use usvg::tiny_skia_path::PathSegment;

use crate::rings::Pieces;
use crate::{DRAWING_LIMIT, FLATTENED_TO, FileError, sized};

/// Metres of one CSS pixel: an inch has 96.
const PIXEL_M: f64 = 0.0254 / 96.0;
/// Elements that draw others again are followed to this number; nested, they
/// multiply.
const MOST_USES: usize = 64;
/// Where the form's corner lies on the sheet, mm: what crosses a wall may lie before it.
const ORIGIN: &str = "data-form-at-mm=\"";
/// No form lies farther from the corner of a sheet, mm (convention).
const FARTHEST_MM: f64 = 1e5;
/// Deepest nesting of groups that is read (convention).
const DEEPEST: usize = 60;

/// Closed outlines of a drawing, in metres.
///
/// # Errors
/// [`FileError`]: why it was not read.
pub fn read(bytes: &[u8]) -> Result<Vec<Outline>, FileError> {
    sized(bytes, DRAWING_LIMIT)?;
    let text =
        std::str::from_utf8(bytes).map_err(|_| FileError::NotThis { wanted: "SVG".into() })?;
    if !text.contains("<svg") && !text.contains(":svg") {
        return Err(FileError::NotThis { wanted: "SVG".into() });
    }
    // Entities expand to many times themselves; no drawing program writes them.
    if text.contains("<!ENTITY") {
        return Err(FileError::TooMuch("it defines entities of its own".into()));
    }
    if text.matches("<use").count() > MOST_USES || text.matches(":use").count() > MOST_USES {
        return Err(FileError::TooMuch("too many elements are drawn again by reference".into()));
    }
    if deepest(text) > DEEPEST {
        return Err(FileError::TooMuch("groups are nested too deeply".into()));
    }
    let options = usvg::Options {
        dpi: 96.0,
        // A drawing names no other file, and no picture in it is an outline.
        image_href_resolver: usvg::ImageHrefResolver {
            resolve_data: Box::new(|_, _, _| None),
            resolve_string: Box::new(|_, _| None),
        },
        ..usvg::Options::default()
    };
    let tree = usvg::Tree::from_str(text, &options)
        .map_err(|error| FileError::Broken(error.to_string()))?;
    let mut pieces = Pieces::default();
    gather(tree.root(), &mut pieces)?;
    let origin = origin(text);
    let outlines = pieces.outlines()?;
    Ok(outlines.iter().map(|o| o.map(|p| p.minus(origin)).cleaned()).collect())
}

/// Where a drawing that was written here says that the form's corner lies on its sheet; the corner
/// of the sheet in any other.
fn origin(text: &str) -> Point {
    let said = || {
        let head = text.split_once("<svg")?.1.split_once('>')?.0;
        let (x, y) = head.split_once(ORIGIN)?.1.split_once('"')?.0.split_once(' ')?;
        let mm = |text: &str| text.parse().ok().filter(|mm: &f64| mm.abs() < FARTHEST_MM);
        Some(Point::from_mm(mm(x)?, mm(y)?))
    };
    said().unwrap_or_default()
}

/// How deep elements are nested, by counting tags: enough to refuse what would
/// exhaust the stack.
fn deepest(text: &str) -> usize {
    let (mut depth, mut most) = (0_usize, 0);
    for tag in text.split('<').skip(1) {
        if tag.starts_with('/') {
            depth = depth.saturating_sub(1);
        } else if !tag.starts_with(['!', '?']) {
            let body = tag.split('>').next().unwrap_or(tag);
            if !body.ends_with('/') {
                depth += 1;
                most = most.max(depth);
            }
        }
    }
    most
}

fn gather(group: &usvg::Group, pieces: &mut Pieces) -> Result<(), FileError> {
    for node in group.children() {
        match node {
            usvg::Node::Group(inner) => gather(inner, pieces)?,
            usvg::Node::Path(path) if path.is_visible() => {
                let transform = path.abs_transform();
                let data = path.data().clone().transform(transform);
                let Some(data) = data else { continue };
                flatten(&data, pieces)?;
            }
            usvg::Node::Path(_) | usvg::Node::Image(_) | usvg::Node::Text(_) => {}
        }
    }
    Ok(())
}

fn flatten(data: &usvg::tiny_skia_path::Path, pieces: &mut Pieces) -> Result<(), FileError> {
    let at = |p: usvg::tiny_skia_path::Point| (f64::from(p.x), f64::from(p.y));
    let mut path = BezPath::new();
    for segment in data.segments() {
        match segment {
            PathSegment::MoveTo(p) => path.move_to(at(p)),
            PathSegment::LineTo(p) => path.line_to(at(p)),
            PathSegment::QuadTo(a, p) => path.quad_to(at(a), at(p)),
            PathSegment::CubicTo(a, b, p) => path.curve_to(at(a), at(b), at(p)),
            PathSegment::Close => path.close_path(),
        }
    }
    let mut line: Ring = Vec::new();
    let mut failed = None;
    let mut count = 0_usize;
    kurbo::flatten(path, FLATTENED_TO.m() / PIXEL_M, |element| {
        count += 1;
        if failed.is_some() || count > crate::MOST_POINTS {
            failed.get_or_insert(FileError::TooMuch("too many points".into()));
            return;
        }
        match element {
            PathEl::MoveTo(p) => {
                failed = pieces.add(std::mem::take(&mut line)).err();
                line.push(metres(p));
            }
            PathEl::LineTo(p) => line.push(metres(p)),
            PathEl::ClosePath => {
                if let Some(first) = line.first().copied() {
                    line.push(first);
                }
            }
            // Flattening leaves lines alone.
            PathEl::QuadTo(..) | PathEl::CurveTo(..) => {}
        }
    });
    match failed {
        Some(error) => Err(error),
        None => pieces.add(line),
    }
}

fn metres(p: kurbo::Point) -> Point {
    Point { x_m: p.x * PIXEL_M, y_m: p.y * PIXEL_M }
}

/// A drawing at 1:1: named outlines in millimetres, a form of a size around them.
#[must_use]
pub fn write(title: &str, outlines: &[(String, Outline)], length: Length, width: Length) -> String {
    let form = Outline::rectangle(length, width);
    let all = outlines.iter().flat_map(|(_, o)| &o.outer).chain(&form.outer);
    let Bounds { min, max } = Bounds::of(all);
    let (x, y) = (min.x_m * 1e3, min.y_m * 1e3);
    let (w, h) = ((max.x_m - min.x_m) * 1e3, (max.y_m - min.y_m) * 1e3);
    let mut out = format!(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" \
         width=\"{w:.4}mm\" height=\"{h:.4}mm\" viewBox=\"{x:.4} {y:.4} {w:.4} {h:.4}\" \
         {ORIGIN}{:.4} {:.4}\">\n\
         <title>{}</title>\n",
        -x,
        -y,
        escaped(title)
    );
    for (name, outline) in outlines {
        let _ = writeln!(
            out,
            "<path id=\"{}\" fill=\"none\" stroke=\"#000\" stroke-width=\"0.3\" fill-rule=\"evenodd\" d=\"{}\"/>",
            escaped(name),
            path_data(outline)
        );
    }
    out.push_str("</svg>\n");
    out
}

/// Path data of an outline in millimetres.
#[must_use]
pub fn path_data(outline: &Outline) -> String {
    let mut d = String::new();
    for ring in outline.rings() {
        for (index, p) in ring.iter().enumerate() {
            let verb = if index == 0 { 'M' } else { 'L' };
            let _ = write!(d, "{verb}{:.4} {:.4}", p.x_m * 1e3, p.y_m * 1e3);
        }
        d.push('Z');
    }
    d
}

fn escaped(text: &str) -> String {
    text.chars()
        .filter(|c| !c.is_control())
        .map(|c| match c {
            '&' => "&amp;".to_owned(),
            '<' => "&lt;".to_owned(),
            '>' => "&gt;".to_owned(),
            '"' => "&quot;".to_owned(),
            c => c.to_string(),
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn read_text(text: &str) -> Result<Vec<Outline>, FileError> {
        read(text.as_bytes())
    }

    fn svg(head: &str, body: &str) -> String {
        format!("<svg xmlns=\"http://www.w3.org/2000/svg\" {head}>{body}</svg>")
    }

    #[test]
    fn units_view_boxes_and_transforms_are_honoured() {
        let boxed = svg(
            "width=\"200mm\" height=\"100mm\" viewBox=\"0 0 20 10\"",
            "<g transform=\"translate(2 1) scale(2)\"><rect x=\"1\" y=\"1\" width=\"5\" height=\"2\"/></g>",
        );
        let found = read_text(&boxed).unwrap();
        // 5 × 2 units, doubled, ten millimetres each.
        assert!((found[0].area().m2() - 0.1 * 0.04).abs() < 1e-8, "{found:?}");
        assert!((found[0].bounds().min.x_m - 0.04).abs() < 1e-6);
        let inches = svg("width=\"4in\" height=\"4in\"", "<rect width=\"96\" height=\"96\"/>");
        assert!((read_text(&inches).unwrap()[0].area().m2() - 0.0254 * 0.0254).abs() < 1e-9);
    }

    #[test]
    fn circles_are_flattened_closely() {
        let circle = svg(
            "width=\"300mm\" height=\"300mm\" viewBox=\"0 0 300 300\"",
            "<circle cx=\"150\" cy=\"150\" r=\"100\"/>",
        );
        let area = read_text(&circle).unwrap()[0].area().m2();
        assert!((area / (std::f64::consts::PI * 0.01) - 1.0).abs() < 1.5e-3, "{area}");
    }

    #[test]
    fn what_is_no_drawing_is_refused_with_its_reason() {
        assert_eq!(read(b""), Err(FileError::Empty));
        assert_eq!(read_text("hello"), Err(FileError::NotThis { wanted: "SVG".into() }));
        assert_eq!(read(&[0xff, 0xfe, 0x00]), Err(FileError::NotThis { wanted: "SVG".into() }));
        assert!(matches!(read_text("<svg"), Err(FileError::Broken(_))));
        let open = svg("width=\"9mm\" height=\"9mm\"", "<path d=\"M0 0L10 0L10 10\"/>");
        assert!(matches!(read_text(&open), Err(FileError::NothingClosed { open: 1 })));
        let large = vec![b' '; DRAWING_LIMIT + 1];
        assert!(matches!(read(&large), Err(FileError::TooLarge { .. })));
    }

    #[test]
    fn bombs_are_not_set_off() {
        let entities = format!(
            "<!DOCTYPE svg [<!ENTITY a \"{}\"><!ENTITY b \"&a;&a;&a;&a;\">]>{}",
            "x".repeat(100),
            svg("", "<text>&b;</text>")
        );
        assert!(matches!(read_text(&entities), Err(FileError::TooMuch(_))));
        let uses = svg("", &"<use href=\"#a\"/>".repeat(100));
        assert!(matches!(read_text(&uses), Err(FileError::TooMuch(_))));
        let deep = format!("{}{}", "<g>".repeat(5000), "</g>".repeat(5000));
        assert!(matches!(read_text(&svg("", &deep)), Err(FileError::TooMuch(_))));
    }

    proptest! {
        #[test]
        fn what_is_written_is_read_again(
            radii in proptest::collection::vec(20.0f64..200.0, 3..60), hole in 2.0f64..8.0,
        ) {
            let n = radii.len() as f64;
            let ring = |scale: &dyn Fn(f64) -> f64| -> Ring {
                radii
                    .iter()
                    .enumerate()
                    .map(|(i, r)| {
                        let (sin, cos) = (std::f64::consts::TAU * i as f64 / n).sin_cos();
                        Point::from_mm(300.0 + scale(*r) * cos, 250.0 + scale(*r) * sin)
                    })
                    .collect()
            };
            let outline =
                Outline { outer: ring(&|r| r), holes: vec![ring(&|_| hole)] }.cleaned();
            let text = write("a & b", &[("board <1>".into(), outline.clone())], Length::from_mm(600.0), Length::from_mm(500.0));
            let again = read_text(&text).unwrap();
            prop_assert_eq!(again.len(), 1);
            prop_assert_eq!(again[0].holes.len(), 1);
            // usvg keeps single precision: a hair in a thousand.
            prop_assert!((again[0].area().m2() / outline.area().m2() - 1.0).abs() < 1e-5);
        }

        #[test]
        fn no_text_makes_it_panic(text in "<svg[ -~]{0,200}") {
            let _ = read_text(&text);
        }
    }
}
