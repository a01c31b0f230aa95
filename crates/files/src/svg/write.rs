//! Drawings to SVG.

use std::fmt::Write;

use fondant_shapes::geometry::{Bounds, Outline};

use crate::drawing::sheet::{Sheet, plain_id};

/// Where the form's corner lies on the sheet, mm: what crosses a wall may lie before it.
pub(super) const ORIGIN: &str = "data-form-at-mm";

/// A drawing at 1:1 in millimetres: a group for each layer, the form's size around everything.
#[must_use]
pub fn write(sheet: &Sheet) -> String {
    let form = Outline::rectangle(sheet.form.0, sheet.form.1);
    let all = sheet.parts.iter().flat_map(|part| &part.outline.outer).chain(&form.outer);
    let Bounds { min, max } = Bounds::of(all);
    let (x, y) = (min.x_m * 1e3, min.y_m * 1e3);
    let (w, h) = ((max.x_m - min.x_m) * 1e3, (max.y_m - min.y_m) * 1e3);
    let mut out = format!(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" \
         width=\"{w:.4}mm\" height=\"{h:.4}mm\" viewBox=\"{x:.4} {y:.4} {w:.4} {h:.4}\" \
         {ORIGIN}=\"{:.4} {:.4}\">\n<title>{}</title>\n",
        -x,
        -y,
        escaped(&sheet.title)
    );
    for layer in sheet.layers() {
        let _ = writeln!(out, "<g id=\"{}\" data-name=\"{}\">", plain_id(layer), escaped(layer));
        for part in sheet.parts.iter().filter(|part| part.layer == layer) {
            let _ = writeln!(
                out,
                "<path id=\"{}\" fill=\"none\" stroke=\"#000\" stroke-width=\"0.3\" \
                 fill-rule=\"evenodd\" d=\"{}\"><title>{}</title></path>",
                plain_id(&format!("{layer}-{}", part.name)),
                path_data(&part.outline),
                escaped(&part.name),
            );
        }
        out.push_str("</g>\n");
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

/// Text as it stands in XML.
pub(super) fn escaped(text: &str) -> String {
    text.chars()
        .filter(|c| !c.is_control() || matches!(c, '\n' | '\t'))
        .map(|c| match c {
            '&' => "&amp;".to_owned(),
            '<' => "&lt;".to_owned(),
            '>' => "&gt;".to_owned(),
            '"' => "&quot;".to_owned(),
            c => c.to_string(),
        })
        .collect()
}
