//! The hottest point of a layer at a moment.

use super::element::Element;

/// Where a layer is hottest, and how hot.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct HotSpot {
    /// Temperature, K.
    pub(super) t_k: f64,
    /// Height above the layer's underside as a share of its depth.
    pub(super) height_ratio: f64,
}

impl HotSpot {
    /// That of a layer of equal elements, where it is hotter than that, given all temperatures.
    pub(super) fn hotter(than_k: f64, layer: &[Element], t_k: &[f64]) -> Option<Self> {
        let mut found = None;
        let mut hottest_k = than_k;
        for (index, element) in layer.iter().enumerate() {
            let Some(crest) = element.crest_over(&t_k[element.nodes()], hottest_k) else {
                continue;
            };
            let height_ratio = (index as f64 + crest.at) / layer.len() as f64;
            hottest_k = crest.value;
            found = Some(Self { t_k: hottest_k, height_ratio });
        }
        found
    }
}
