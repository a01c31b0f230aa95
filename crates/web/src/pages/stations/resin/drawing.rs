//! Layers of a resin, small.

use crate::svg::{Markup, Svg};
use crate::words::counting::counted;

/// Layers stacked to scale in a little form; a red top where there is no plan.
#[must_use]
pub(crate) fn layer_stack(depths_mm: &[f64], full_depth_mm: f64) -> Markup {
    let (width, height) = (112.0, 46.0);
    let mut svg = Svg::new("glyph", width, height, &counted(depths_mm.len(), "layer"));
    let scale = 34.0 / full_depth_mm.max(1.0);
    let mut y = height - 5.0;
    for (index, depth) in depths_mm.iter().enumerate() {
        let thick = depth * scale;
        let class = if index % 2 == 0 { "resin2" } else { "resin" };
        y -= thick;
        svg.rect(class, 6.0, y, width - 12.0, thick);
        svg.line("resin-line", 6.0, y, width - 6.0, y);
    }
    svg.polyline(
        "wall",
        &[(4.5, 3.0), (4.5, height - 3.5), (width - 4.5, height - 3.5), (width - 4.5, 3.0)],
    );
    svg.finish()
}
