//! Splitting a fill into layers.

use fondant_quantities::{Area, Length};
use fondant_shapes::volume::Fill;

use super::layer::{Layer, LayerKind, LayersError, MOST_LAYERS, SAME_LEVEL, SEAL_COAT, between};

/// Fewest main layers no deeper than `allowed`.
///
/// # Errors
/// [`LayersError`] where none is deep enough to make a plan.
pub fn fewest(fill: &Fill, allowed: Length) -> Result<usize, LayersError> {
    if allowed <= Length::ZERO {
        return Err(LayersError::NoneSafe);
    }
    let main = fill.depth() - fill.base();
    // A depth that is a whole number of layers must not need one more for
    // the last bit of a floating point number.
    let needed = ((main / allowed) * (1.0 - 1e-9)).ceil().max(1.0);
    if needed > MOST_LAYERS as f64 {
        return Err(LayersError::TooMany { needed: needed as usize, allowed });
    }
    Ok(needed as usize)
}

/// The base layer, where there is one, and `main` equal layers up to the top.
#[must_use]
pub fn split(fill: &Fill, main: usize) -> Vec<Layer> {
    let each = (fill.depth() - fill.base()) / main as f64;
    let inner: Vec<Length> = (1..main).map(|index| fill.base() + each * index as f64).collect();
    split_at(fill, &inner)
}

/// The base layer, where there is one, and layers that end at these levels and
/// at the top. Levels outside the boards' depth, and those that are one, are left out.
#[must_use]
pub fn split_at(fill: &Fill, levels: &[Length]) -> Vec<Layer> {
    let mut layers = Vec::with_capacity(levels.len() + 2);
    if fill.base() > Length::ZERO {
        layers.push(between(fill, LayerKind::Base, Length::ZERO, fill.base()));
    }
    let mut ends: Vec<Length> = levels
        .iter()
        .copied()
        .filter(|level| *level > fill.base() + SAME_LEVEL && *level < fill.depth() - SAME_LEVEL)
        .collect();
    ends.sort_by(|a, b| a.m().total_cmp(&b.m()));
    ends.dedup_by(|above, below| *above - *below < SAME_LEVEL);
    // The last surface is the top itself, not a sum of rounded steps.
    ends.push(fill.depth());
    let mut from = fill.base();
    for (index, to) in ends.into_iter().enumerate() {
        layers.push(between(fill, LayerKind::Main(index + 1), from, to));
        from = to;
    }
    layers
}

/// A coat brushed on live edges of this area: no depth, but a pour of its own.
#[must_use]
pub fn seal_coat(edges: Area) -> Layer {
    Layer {
        kind: LayerKind::Seal,
        from: Length::ZERO,
        to: Length::ZERO,
        volume: edges * SEAL_COAT,
        heat_depth: SEAL_COAT,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_quantities::{Area, Volume};
    use proptest::prelude::*;

    fn fill(base_mm: f64, thick_mm: f64) -> Fill {
        let mm = Length::from_mm;
        let (base, depth) = (mm(base_mm), mm(base_mm + thick_mm + 2.0));
        // A river of a quarter of a square metre between boards, over a base
        // layer of one.
        Fill::prism(Area::from_m2(1.0), base, depth)
            .with_solid(fondant_shapes::volume::Profile::prism(base, depth, Area::from_m2(0.75)))
    }

    #[test]
    fn a_depth_of_just_two_layers_needs_two() {
        assert_eq!(fewest(&fill(2.0, 38.0), Length::from_mm(20.0)), Ok(2));
        assert_eq!(fewest(&fill(2.0, 38.0), Length::from_mm(19.9)), Ok(3));
        assert_eq!(fewest(&fill(2.0, 38.0), Length::from_mm(100.0)), Ok(1));
    }

    #[test]
    fn hopeless_depths_are_refused() {
        assert_eq!(fewest(&fill(2.0, 38.0), Length::ZERO), Err(LayersError::NoneSafe));
        let many = fewest(&fill(2.0, 198.0), Length::from_mm(2.0));
        assert!(matches!(many, Err(LayersError::TooMany { needed: 100, .. })));
    }

    /// Levels within a millimetre were merged: three coats of half a millimetre became one of
    /// 1.5 mm, and three layers of one millimetre one of three.
    #[test]
    fn thin_coats_stay_as_many_as_they_are() {
        let mm = Length::from_mm;
        for thin in [0.3, 0.5, 1.0] {
            let fill = Fill::prism(Area::from_m2(0.5), Length::ZERO, mm(3.0 * thin));
            let coats = split(&fill, 3);
            assert_eq!(coats.len(), 3, "{thin} mm");
            let levels: Vec<Length> = coats.iter().map(|coat| coat.to).collect();
            assert_eq!(split_at(&fill, &levels).len(), 3, "{thin} mm, by their levels");
            for coat in &coats {
                assert!((coat.depth().mm() - thin).abs() < 1e-9);
            }
        }
        let fill = fill(2.0, 38.0);
        let twice = [mm(20.0), mm(20.0), mm(2.0), mm(42.0)];
        assert_eq!(split_at(&fill, &twice).len(), 3, "a level twice, the base and the top");
    }

    #[test]
    fn without_a_gap_there_is_no_base_layer() {
        let layers = split(&fill(0.0, 38.0), 2);
        assert_eq!(layers.len(), 2);
        assert_eq!(layers[0].kind, LayerKind::Main(1));
    }

    proptest! {
        #[test]
        fn layers_fill_the_form_without_gap(thick in 5.0f64..150.0, base in 0.1f64..10.0, allowed in 3.0f64..80.0) {
            let fill = fill(base, thick);
            let Ok(count) = fewest(&fill, Length::from_mm(allowed)) else { return Ok(()) };
            let layers = split(&fill, count);
            prop_assert_eq!(layers.len(), count + 1);
            for pair in layers.windows(2) {
                prop_assert!((pair[0].to - pair[1].from).mm().abs() < 1e-9);
            }
            for layer in &layers[1..] {
                prop_assert!(layer.depth().mm() <= allowed + 1e-6);
            }
            let sum: Volume = layers.iter().map(|l| l.volume).sum();
            prop_assert!((sum.l() - fill.volume_to(fill.depth()).l()).abs() < 1e-9);
        }
    }
}
