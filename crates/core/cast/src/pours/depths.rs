//! The layers into which a cast's depth may be split.

use fondant_pours::layers::{Filling, Ladder, Layer, LayersError, MOST_LAYERS, Stages};
use fondant_quantities::Length;
use fondant_shapes::volume::Fill;

use crate::document::{Contents, Document, PourId, Split, TakenPour};
use crate::heat::HeatLimits;
use crate::measure::Measured;

/// This many layers more than the single-layer limit asks for are tried, since
/// a layer on a warm one runs hotter than alone.
pub const EXTRA_LAYERS: usize = 3;
/// Most levels that a search for depths looks at.
const DEPTH_LEVELS: f64 = 8.0;
/// Finest spacing of those levels.
const DEPTH_GRID: Length = Length::from_mm(5.0);

/// How the fill may be split.
#[derive(Debug, Clone)]
pub(super) struct Depths {
    fill: Fill,
    stages: Stages,
    allowed: Length,
    pub(super) split: Split,
    /// Fewest main layers.
    pub(super) fewest: usize,
    /// Pours that are in of another resin than the rest, and by which number layers count it.
    poured_of: Vec<(PourId, u8)>,
}

impl Depths {
    pub(super) fn of(
        document: &Document,
        measured: &Measured,
        heat: &HeatLimits,
    ) -> Result<Self, LayersError> {
        let filling = measured.filling();
        let mut fewest = match &document.pours.split {
            Split::Fewest | Split::Search => filling.fewest(heat.allowed)?,
            Split::Equal { count } => (*count as usize).clamp(1, MOST_LAYERS),
            Split::ByHand { levels } => levels.len() + 1,
        };
        if let Contents::Coat(coat) = &document.contents {
            fewest = fewest.max(coat.coats as usize);
        }
        Ok(Self {
            fill: measured.fill.clone(),
            stages: measured.stages.clone(),
            allowed: heat.allowed,
            split: document.pours.split.clone(),
            fewest,
            poured_of: document.poured_resins(),
        })
    }

    fn filling(&self) -> Filling<'_> {
        Filling { fill: &self.fill, stages: &self.stages }
    }

    /// The layers that sides and buckets are worked out for: those that are taken or set by hand,
    /// else as few as the heat allows.
    pub(super) fn layers(&self, taken: &[TakenPour]) -> Vec<Layer> {
        let by_split = || match &self.split {
            Split::ByHand { levels } => self.filling().split_at(levels),
            Split::Fewest | Split::Equal { .. } | Split::Search => {
                self.filling().split(self.fewest)
            }
        };
        self.taken(taken).unwrap_or_else(by_split)
    }

    /// The layers of pours that were taken; `None` where there are none or the form is no longer
    /// the one they were taken for.
    pub(super) fn taken(&self, taken: &[TakenPour]) -> Option<Vec<Layer>> {
        let last = taken.last()?;
        let same = |a: Length, b: Length| (a - b).m().abs() < 1e-5;
        if !same(last.to, self.filling().top()) {
            return None;
        }
        let levels: Vec<Length> = taken.iter().map(|pour| pour.to).collect();
        let layers = self.filling().split_at(&levels);
        let fits = layers.len() == taken.len()
            && layers.iter().zip(&levels).all(|(layer, level)| same(layer.to, *level));
        fits.then(|| self.as_poured(layers, taken.iter()))
    }

    /// Layers of these pours, those that are in of the resin that they were poured with.
    fn as_poured<'a>(
        &self,
        mut layers: Vec<Layer>,
        pours: impl Iterator<Item = &'a TakenPour>,
    ) -> Vec<Layer> {
        for (layer, pour) in layers.iter_mut().zip(pours) {
            let of = self.poured_of.iter().find(|(poured, _)| *poured == pour.id);
            layer.resin = of.map_or(layer.resin, |(_, resin)| *resin);
        }
        layers
    }

    /// The layers of a cast of which some is in that is of another resin than the rest: as they were
    /// taken, in default of that as they can be. `None` where there is no such pour.
    pub(super) fn of_several(&self, taken: &[TakenPour]) -> Option<Vec<Layer>> {
        let is_in = |pour: &&TakenPour| self.poured_of.iter().any(|(poured, _)| *poured == pour.id);
        let poured: Vec<&TakenPour> = taken.iter().take_while(is_in).collect();
        (!self.poured_of.is_empty()).then_some(())?;
        self.taken(taken).or_else(|| self.over(&poured, 0))
    }

    /// Pours that are in as layers, and what comes over them in as few as the heat allows one by one, and
    /// `more`; `None` where this form cannot have been poured so.
    pub(super) fn over(&self, pours: &[&TakenPour], more: usize) -> Option<Vec<Layer>> {
        let filling = self.filling();
        let (from, top) = filling.main();
        let poured: Vec<Length> = pours.iter().map(|pour| pour.to).collect();
        let from = from.max(*poured.last()?);
        let left = (top - from).max(Length::ZERO);
        let fewest = ((left / self.allowed) * (1.0 - 1e-9)).ceil().max(1.0) as usize;
        let count = (fewest + more).min(MOST_LAYERS);
        let each = left / count as f64;
        let to_come = (1..count).map(|place| from + each * place as f64);
        let layers = filling.split_at(&poured.iter().copied().chain(to_come).collect::<Vec<_>>());
        let same = |(layer, level): (&Layer, &Length)| (layer.to - *level).m().abs() < 1e-5;
        let holds = layers.len() >= poured.len() && layers.iter().zip(&poured).all(same);
        holds.then(|| self.as_poured(layers, pours.iter().copied()))
    }

    pub(super) fn ladders(&self) -> Vec<Ladder> {
        let equal = |count| Ladder::of(&self.filling().split(count));
        match &self.split {
            Split::Fewest => {
                let most = (self.fewest + EXTRA_LAYERS).min(MOST_LAYERS);
                (self.fewest..=most.max(self.fewest)).map(equal).collect()
            }
            Split::Equal { .. } => vec![equal(self.fewest)],
            Split::ByHand { levels } => {
                vec![Ladder::of(&self.filling().split_at(levels))]
            }
            Split::Search => {
                let ladder = self.filling().ladder(self.grid(), self.allowed);
                // Equal layers need not lie on the grid.
                vec![ladder, equal(self.fewest)]
            }
        }
    }

    pub(super) fn grid(&self) -> Length {
        let main = self.filling().main_depth();
        DEPTH_GRID.max(main / DEPTH_LEVELS).min(main)
    }
}
