//! The layers into which a cast's depth may be split.

use fondant_pours::layers::{self, Ladder, Layer, LayersError, MOST_LAYERS};
use fondant_quantities::Length;
use fondant_shapes::volume::Fill;

use crate::document::{Contents, Document, Split, TakenPour};
use crate::heat::HeatLimits;
use crate::measure::Measured;

/// This many layers more than the single-layer limit asks for are tried, since
/// a layer on a warm one runs hotter than alone.
pub const EXTRA_LAYERS: usize = 3;
/// A search for depths looks at this many levels at most ...
const DEPTH_LEVELS: f64 = 8.0;
/// ... no closer than this.
const DEPTH_GRID: Length = Length::from_mm(5.0);

/// How the fill may be split.
#[derive(Debug, Clone)]
pub(super) struct Depths {
    fill: Fill,
    allowed: Length,
    pub(super) split: Split,
    seal: Option<Layer>,
    /// Fewest main layers.
    pub(super) fewest: usize,
}

impl Depths {
    pub(super) fn of(
        document: &Document,
        measured: &Measured,
        heat: &HeatLimits,
    ) -> Result<Self, LayersError> {
        let fill = measured.fill.clone();
        let mut fewest = match &document.pours.split {
            Split::Fewest | Split::Search => layers::fewest(&fill, heat.allowed)?,
            Split::Equal { count } => (*count as usize).clamp(1, MOST_LAYERS),
            Split::ByHand { levels } => levels.len() + 1,
        };
        if let Contents::Coat(coat) = &document.contents {
            fewest = fewest.max(coat.coats as usize);
        }
        let seal = document.seals().then(|| layers::seal_coat(measured.sizing.bare));
        let split = document.pours.split.clone();
        Ok(Self { fill, allowed: heat.allowed, split, seal, fewest })
    }

    /// The layers that sides and buckets are worked out for: those that are taken or set by hand,
    /// else as few as the heat allows.
    pub(super) fn layers(&self, taken: &[TakenPour]) -> Vec<Layer> {
        let by_split = || match &self.split {
            Split::ByHand { levels } => layers::split_at(&self.fill, levels),
            Split::Fewest | Split::Equal { .. } | Split::Search => {
                layers::split(&self.fill, self.fewest)
            }
        };
        self.taken(taken).unwrap_or_else(by_split)
    }

    /// The layers of pours that were taken; `None` where there are none or the form is no longer
    /// the one they were taken for.
    pub(super) fn taken(&self, taken: &[TakenPour]) -> Option<Vec<Layer>> {
        let last = taken.last()?;
        let same = |a: Length, b: Length| (a - b).m().abs() < 1e-5;
        if !same(last.to, self.fill.depth()) {
            return None;
        }
        let levels: Vec<Length> = taken.iter().map(|pour| pour.to).collect();
        let layers = self.sealed(layers::split_at(&self.fill, &levels));
        let fits = layers.len() == taken.len()
            && layers.iter().zip(&levels).all(|(layer, level)| same(layer.to, *level));
        fits.then_some(layers)
    }

    fn sealed(&self, mut layers: Vec<Layer>) -> Vec<Layer> {
        if let Some(seal) = self.seal {
            layers.insert(0, seal);
        }
        layers
    }

    pub(super) fn ladders(&self) -> Vec<Ladder> {
        let equal = |count| Ladder::of(&self.sealed(layers::split(&self.fill, count)));
        match &self.split {
            Split::Fewest => {
                let most = (self.fewest + EXTRA_LAYERS).min(MOST_LAYERS);
                (self.fewest..=most.max(self.fewest)).map(equal).collect()
            }
            Split::Equal { .. } => vec![equal(self.fewest)],
            Split::ByHand { levels } => {
                vec![Ladder::of(&self.sealed(layers::split_at(&self.fill, levels)))]
            }
            Split::Search => {
                let ladder = Ladder::over(&self.fill, self.grid(), self.allowed);
                let ladder = match self.seal {
                    Some(seal) => ladder.after(seal),
                    None => ladder,
                };
                // Equal layers need not lie on the grid.
                vec![ladder, equal(self.fewest)]
            }
        }
    }

    pub(super) fn grid(&self) -> Length {
        let main = self.fill.depth() - self.fill.base();
        DEPTH_GRID.max(main / DEPTH_LEVELS).min(main)
    }
}
