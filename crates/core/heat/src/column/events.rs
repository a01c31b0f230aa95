//! What happens to a layer, and when.

/// The events of one layer. Times are seconds from the first pour; `None`
/// means that it did not happen before the next pour or the end of the run.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LayerEvents {
    /// Time of the pour, s from the first pour.
    pub poured_s: f64,
    /// Depth of the layer, m.
    pub depth_m: f64,
    /// Hottest temperature of any point in it, over the whole run, K.
    pub peak_k: f64,
    /// Time of the peak, s from the first pour.
    pub peak_s: f64,
    /// Where: height above the layer's underside as a share of its depth.
    pub peak_height_ratio: f64,
    /// Any point of it gelled.
    pub first_gel_s: Option<f64>,
    /// Its surface gelled: sticky, the next layer can go on.
    pub opens_s: Option<f64>,
    /// Its surface set too hard to bond.
    pub closes_s: Option<f64>,
    /// All resin poured so far is hard enough to leave the form.
    pub hard_s: Option<f64>,
    /// All resin poured so far is fully cured.
    pub full_s: Option<f64>,
}

impl LayerEvents {
    pub(super) fn new(poured_s: f64, depth_m: f64, start_k: f64) -> Self {
        Self {
            poured_s,
            depth_m,
            peak_k: start_k,
            peak_s: poured_s,
            peak_height_ratio: 0.5,
            first_gel_s: None,
            opens_s: None,
            closes_s: None,
            hard_s: None,
            full_s: None,
        }
    }
}
