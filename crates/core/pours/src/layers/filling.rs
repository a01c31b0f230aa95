//! What is poured between the floor and the top: the cast's own resin over most of the depth, and
//! stages under and over it.

use fondant_quantities::{Area, Length, Volume};
use fondant_shapes::volume::Fill;

use super::ladder::Ladder;
use super::layer::{
    Layer, LayerKind, LayersError, MOST_LAYERS, Purpose, SAME_LEVEL, between, seal_coat,
};

/// A pour with a purpose and a resin of its own.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StagePour {
    /// What it is for.
    pub purpose: Purpose,
    /// How deep it is.
    pub depth: Length,
    /// Which of the cast's resins it is of; 0 is the cast's own.
    pub resin: u8,
}

/// A coat over the finished face, after the piece has left its form.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FloodCoat {
    /// Thickness that stays.
    pub thickness: Length,
    /// The face, with what runs off it as more of it.
    pub area: Area,
    /// Which of the cast's resins it is of.
    pub resin: u8,
}

/// Cracks and knots of the boards, filled on their own before anything else.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct CrackFill {
    /// What they hold.
    pub volume: Volume,
    /// Depth of the deepest.
    pub depth: Length,
    /// Which of the cast's resins it is of.
    pub resin: u8,
}

impl CrackFill {
    /// The pour that fills them.
    #[must_use]
    pub fn layer(&self) -> Layer {
        let kind = LayerKind::Stage(Purpose::Cracks, 1);
        let layer = Layer::new(kind, Length::ZERO, Length::ZERO, self.volume);
        Layer { heat_depth: self.depth, resin: self.resin, ..layer }
    }
}

/// A coat brushed on live edges.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SealCoat {
    /// The edges.
    pub edges: Area,
    /// The base goes in in the same session, over the wet coat: one act with two parts.
    pub with_base: bool,
}

/// The stages of a cast beside its main fill, the lowest first.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Stages {
    /// Cracks and knots, before anything else.
    pub cracks: Option<CrackFill>,
    /// Live edges, after that.
    pub seal: Option<SealCoat>,
    /// Under the main fill.
    pub below: Vec<StagePour>,
    /// Over it.
    pub above: Vec<StagePour>,
    /// Over the finished face.
    pub flood: Option<FloodCoat>,
}

impl Stages {
    /// No stage: the cast's own resin from floor to top.
    pub const NONE: Self =
        Self { cracks: None, seal: None, below: Vec::new(), above: Vec::new(), flood: None };

    fn depth(all: &[StagePour]) -> Length {
        all.iter().map(|stage| stage.depth).fold(Length::ZERO, |sum, depth| sum + depth)
    }

    /// What they take of the depth.
    #[must_use]
    pub fn depth_in_form(&self) -> Length {
        Self::depth(&self.below) + Self::depth(&self.above)
    }
}

/// A fill and its stages.
#[derive(Debug, Clone, Copy)]
pub struct Filling<'a> {
    /// Volume of resin as a function of the level.
    pub fill: &'a Fill,
    /// What is poured under and over the main fill.
    pub stages: &'a Stages,
}

impl<'a> Filling<'a> {
    /// The cast's own resin from floor to top.
    #[must_use]
    pub fn plain(fill: &'a Fill) -> Self {
        static NONE: Stages = Stages::NONE;
        Self { fill, stages: &NONE }
    }

    /// Where the main fill begins and ends, above the floor. What lies under the boards is a
    /// layer of its own, unless a stage goes there.
    #[must_use]
    pub fn main(&self) -> (Length, Length) {
        let below = Stages::depth(&self.stages.below);
        (below.max(self.fill.base()), self.fill.depth() - Stages::depth(&self.stages.above))
    }

    /// Depth of the main fill.
    #[must_use]
    pub fn main_depth(&self) -> Length {
        let (from, to) = self.main();
        to - from
    }

    /// Depth of the main fill in one pour, with the gap under the boards where no stage goes there.
    #[must_use]
    pub fn depth_in_one(&self) -> Length {
        self.main().1 - Stages::depth(&self.stages.below)
    }

    /// Fewest main layers no deeper than `allowed`.
    ///
    /// # Errors
    /// [`LayersError`] where none is deep enough to make a plan.
    pub fn fewest(&self, allowed: Length) -> Result<usize, LayersError> {
        if allowed <= Length::ZERO {
            return Err(LayersError::NoneSafe);
        }
        // A depth that is a whole number of layers must not need one more for
        // the last bit of a floating point number.
        let needed = ((self.main_depth() / allowed) * (1.0 - 1e-9)).ceil().max(1.0);
        if needed > MOST_LAYERS as f64 {
            return Err(LayersError::TooMany { needed: needed as usize, allowed });
        }
        Ok(needed as usize)
    }

    /// All layers, of which `main` equal ones make the main fill.
    #[must_use]
    pub fn split(&self, main: usize) -> Vec<Layer> {
        let from = self.main().0;
        let each = self.main_depth() / main as f64;
        let inner: Vec<Length> = (1..main).map(|index| from + each * index as f64).collect();
        self.split_at(&inner)
    }

    /// All layers, of which those of the main fill end at these levels and at its top. Levels
    /// outside the main fill, and those that are one, are left out.
    #[must_use]
    pub fn split_at(&self, levels: &[Length]) -> Vec<Layer> {
        let (from, top) = self.main();
        let mut ends: Vec<Length> = levels
            .iter()
            .copied()
            .filter(|level| *level > from + SAME_LEVEL && *level < top - SAME_LEVEL)
            .collect();
        ends.sort_by(|a, b| a.m().total_cmp(&b.m()));
        ends.dedup_by(|above, below| *above - *below < SAME_LEVEL);
        // The last surface is the top itself, not a sum of rounded steps.
        ends.push(top);
        let mut layers = self.before();
        let mut from = from;
        for (index, to) in ends.into_iter().enumerate() {
            layers.push(between(self.fill, LayerKind::Main(index + 1), from, to));
            from = to;
        }
        layers.extend(self.over());
        layers
    }

    /// Levels as far apart as `grid` or a little less, all alike, so that the last step is no
    /// sliver: any main layer that is not deeper than `allowed`. What is under and over the main
    /// fill stays as it is.
    #[must_use]
    pub fn ladder(&self, grid: Length, allowed: Length) -> Ladder {
        let (from, top) = self.main();
        let main = top - from;
        let steps = ((main / grid) * (1.0 - 1e-9)).ceil().max(1.0) as usize;
        let step = main / steps as f64;
        let mut levels: Vec<Length> = (0..steps).map(|i| from + step * i as f64).collect();
        levels.push(top);
        let layers = |from: usize| {
            let layer =
                |to: usize| between(self.fill, LayerKind::Main(0), levels[from], levels[to]);
            let fits = |layer: &Layer| layer.heat_depth <= allowed + Length::from_m(1e-9);
            let all = (from + 1..=steps).map(|to| (to, layer(to)));
            all.filter(|(_, layer)| fits(layer)).collect()
        };
        Ladder::between(&self.before(), (0..steps).map(layers).collect(), &self.over())
    }

    /// Everything before the main fill: cracks are filled, edges sealed with the resin that comes on
    /// them, then what lies under it.
    fn before(&self) -> Vec<Layer> {
        let mut layers = self.under();
        let first = layers.first_mut();
        match (self.stages.seal, first) {
            (Some(seal), Some(first)) if seal.with_base => {
                first.brushed = seal_coat(seal.edges).volume;
            }
            (Some(seal), first) => {
                let resin = first.map_or(0, |first| first.resin);
                layers.insert(0, Layer { resin, ..seal_coat(seal.edges) });
            }
            (None, _) => {}
        }
        if let Some(cracks) = &self.stages.cracks {
            layers.insert(0, cracks.layer());
        }
        layers
    }

    /// The level of the last surface: of a flood coat where there is one.
    #[must_use]
    pub fn top(&self) -> Length {
        let flood = self.stages.flood.map_or(Length::ZERO, |coat| coat.thickness);
        self.fill.depth() + flood
    }

    /// Layers under the main fill.
    fn under(&self) -> Vec<Layer> {
        if self.stages.below.is_empty() && self.fill.base() > Length::ZERO {
            return vec![between(self.fill, LayerKind::Base, Length::ZERO, self.fill.base())];
        }
        let mut layers = self.stacked((&[], &self.stages.below), Length::ZERO);
        // What stages leave of the gap under the boards, the last of them fills.
        if let Some(last) = layers.last_mut() {
            let to = self.main().0;
            *last = Layer { resin: last.resin, ..between(self.fill, last.kind, last.from, to) };
        }
        layers
    }

    /// Layers over the main fill, and the coat over the finished face.
    fn over(&self) -> Vec<Layer> {
        let mut layers = self.stacked((&self.stages.below, &self.stages.above), self.main().1);
        if let Some(last) = layers.last_mut() {
            let to = self.fill.depth();
            *last = Layer { resin: last.resin, ..between(self.fill, last.kind, last.from, to) };
        }
        layers.extend(self.stages.flood.map(|coat| Layer {
            kind: LayerKind::Stage(Purpose::Flood, 1),
            from: self.fill.depth(),
            to: self.fill.depth() + coat.thickness,
            volume: coat.area * coat.thickness,
            heat_depth: coat.thickness,
            resin: coat.resin,
            brushed: Volume::ZERO,
        }));
        layers
    }

    /// Stages on each other from a level up, numbered on from those under the main fill.
    fn stacked(&self, (lower, stages): (&[StagePour], &[StagePour]), from: Length) -> Vec<Layer> {
        let mut from = from;
        let mut layers: Vec<Layer> = Vec::with_capacity(stages.len());
        for (place, stage) in stages.iter().enumerate() {
            let to = from + stage.depth;
            let before = lower.iter().chain(&stages[..place]);
            let same = before.filter(|other| other.purpose == stage.purpose).count();
            let number = 1 + same as u8;
            let kind = LayerKind::Stage(stage.purpose, number);
            layers.push(Layer { resin: stage.resin, ..between(self.fill, kind, from, to) });
            from = to;
        }
        layers
    }
}

#[cfg(test)]
mod tests {
    use super::*;
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
        assert_eq!(Filling::plain(&fill(2.0, 38.0)).fewest(Length::from_mm(20.0)), Ok(2));
        assert_eq!(Filling::plain(&fill(2.0, 38.0)).fewest(Length::from_mm(19.9)), Ok(3));
        assert_eq!(Filling::plain(&fill(2.0, 38.0)).fewest(Length::from_mm(100.0)), Ok(1));
    }

    #[test]
    fn hopeless_depths_are_refused() {
        assert_eq!(
            Filling::plain(&fill(2.0, 38.0)).fewest(Length::ZERO),
            Err(LayersError::NoneSafe)
        );
        let many = Filling::plain(&fill(2.0, 198.0)).fewest(Length::from_mm(2.0));
        assert!(matches!(many, Err(LayersError::TooMany { needed: 100, .. })));
    }

    /// Levels within a millimetre were merged: three coats of half a millimetre became one of
    /// 1.5 mm, and three layers of one millimetre one of three.
    #[test]
    fn thin_coats_stay_as_many_as_they_are() {
        let mm = Length::from_mm;
        for thin in [0.3, 0.5, 1.0] {
            let fill = Fill::prism(Area::from_m2(0.5), Length::ZERO, mm(3.0 * thin));
            let coats = Filling::plain(&fill).split(3);
            assert_eq!(coats.len(), 3, "{thin} mm");
            let levels: Vec<Length> = coats.iter().map(|coat| coat.to).collect();
            assert_eq!(
                Filling::plain(&fill).split_at(&levels).len(),
                3,
                "{thin} mm, by their levels"
            );
            for coat in &coats {
                assert!((coat.depth().mm() - thin).abs() < 1e-9);
            }
        }
        let fill = fill(2.0, 38.0);
        let twice = [mm(20.0), mm(20.0), mm(2.0), mm(42.0)];
        assert_eq!(
            Filling::plain(&fill).split_at(&twice).len(),
            3,
            "a level twice, the base and the top"
        );
    }

    #[test]
    fn without_a_gap_there_is_no_base_layer() {
        let layers = Filling::plain(&fill(0.0, 38.0)).split(2);
        assert_eq!(layers.len(), 2);
        assert_eq!(layers[0].kind, LayerKind::Main(1));
    }

    proptest! {
        #[test]
        fn layers_fill_the_form_without_gap(thick in 5.0f64..150.0, base in 0.1f64..10.0, allowed in 3.0f64..80.0) {
            let fill = fill(base, thick);
            let Ok(count) = Filling::plain(&fill).fewest(Length::from_mm(allowed)) else { return Ok(()) };
            let layers = Filling::plain(&fill).split(count);
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
