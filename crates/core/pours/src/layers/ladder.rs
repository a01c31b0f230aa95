//! The levels at which layers may end, and the layers between them.

use super::layer::{Joins, Layer, MOST_LAYERS, MOST_STAGES};

/// Levels from the floor to the top, and from each the layers that may stand
/// on it.
#[derive(Debug, Clone, PartialEq)]
pub struct Ladder {
    rungs: Vec<Vec<Rung>>,
}

/// One layer that may stand on a level.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Rung {
    /// The level that it reaches.
    pub to: usize,
    /// The layer.
    pub layer: Layer,
}

impl Ladder {
    /// These layers and no others.
    #[must_use]
    pub fn of(layers: &[Layer]) -> Self {
        let rung = |(index, layer): (usize, &Layer)| vec![Rung { to: index + 1, layer: *layer }];
        Self { rungs: layers.iter().enumerate().map(rung).collect() }
    }

    /// Layers under and over a main fill, of which each level has the layers that may stand on it:
    /// the level of the main fill that each reaches, and the layer.
    pub(super) fn between(under: &[Layer], main: Vec<Vec<(usize, Layer)>>, over: &[Layer]) -> Self {
        let Self { mut rungs } = Self::of(under);
        let first = rungs.len();
        let rung = |(to, layer): (usize, Layer)| Rung { to: first + to, layer };
        rungs.extend(main.into_iter().map(|all| all.into_iter().map(rung).collect()));
        for layer in over {
            rungs.push(vec![Rung { to: rungs.len() + 1, layer: *layer }]);
        }
        Self { rungs }
    }

    /// The level at which all is poured.
    #[must_use]
    pub fn top(&self) -> usize {
        self.rungs.len()
    }

    /// The layers that may stand on a level.
    #[must_use]
    pub fn from(&self, level: usize) -> &[Rung] {
        self.rungs.get(level).map_or(&[], Vec::as_slice)
    }

    /// The thickest layer that ends at a level.
    #[must_use]
    pub fn thickest_to(&self, level: usize) -> Option<Layer> {
        let all = self.rungs.iter().flatten().filter(|rung| rung.to == level);
        all.map(|rung| rung.layer).max_by(|a, b| a.heat_depth.m().total_cmp(&b.heat_depth.m()))
    }

    /// How a layer joins those that end at a level; all that do are of a kind.
    #[must_use]
    pub fn joins(&self, level: usize) -> Option<Joins> {
        let next = self.from(level).first()?;
        Some(self.thickest_to(level)?.joins(&next.layer))
    }

    /// Whether more layers than a plan holds would be needed at the least.
    #[must_use]
    pub fn is_climbable(&self) -> bool {
        let mut fewest = vec![usize::MAX; self.top() + 1];
        fewest[0] = 0;
        for level in 0..self.top() {
            for rung in self.from(level) {
                fewest[rung.to] = fewest[rung.to].min(fewest[level].saturating_add(1));
            }
        }
        fewest[self.top()] <= MOST_LAYERS + MOST_STAGES
    }
}

#[cfg(test)]
mod tests {
    use fondant_quantities::{Area, Length};
    use fondant_shapes::volume::Fill;

    use crate::layers::Filling;

    #[test]
    fn a_ladder_reaches_the_top_by_every_allowed_step() {
        let mm = Length::from_mm;
        let fill = Fill::prism(Area::from_m2(1.0), mm(2.0), mm(42.0));
        let ladder = Filling::plain(&fill).ladder(mm(10.0), mm(25.0));
        assert_eq!(ladder.top(), 5);
        let reached: Vec<usize> = ladder.from(1).iter().map(|rung| rung.to).collect();
        assert_eq!(reached, [2, 3], "10 and 20 mm on the base, not 30");
        assert_eq!(ladder.from(4)[0].layer.to, fill.depth());
        assert!(ladder.is_climbable());
        assert!(!Filling::plain(&fill).ladder(mm(10.0), mm(5.0)).is_climbable());
    }

    /// A last step under a millimetre was dropped, and the level below it led nowhere: boards of
    /// 18.5, 28.575 and 33.5 mm with 2 mm proud, and a coat thinner than any layer.
    #[test]
    fn every_level_leads_on_however_the_depth_divides() {
        let mm = Length::from_mm;
        for depth in [20.5, 30.575, 35.5, 25.1, 5.01, 0.8, 41.0] {
            let fill = Fill::prism(Area::from_m2(1.0), Length::ZERO, mm(depth));
            let ladder = Filling::plain(&fill).ladder(mm(5.0), mm(12.0));
            for level in 0..ladder.top() {
                assert!(!ladder.from(level).is_empty(), "{depth} mm: level {level} leads nowhere");
            }
            assert!(ladder.is_climbable(), "{depth} mm");
            assert_eq!(ladder.from(ladder.top() - 1)[0].layer.to, mm(depth));
        }
    }
}
