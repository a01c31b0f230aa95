//! A cast by its stages: which it may have, of what resins, and as layers are split by them.

use fondant_materials::resin::ResinId;
use fondant_pours::layers::{CrackFill, FloodCoat, Layer, StagePour, Stages as Layered};
use fondant_quantities::{Length, Span};
use fondant_shapes::timber::Cavity;

use super::cast::Document;
use super::kind::Kind;
use super::pours::PourId;
use super::stages::{CracksFirst, Flood, Stage};

impl Document {
    /// Whether something may be poured under or over the main fill.
    #[must_use]
    pub fn takes_stages(&self) -> bool {
        !matches!(self.kind(), Kind::Coat | Kind::Tubes)
    }

    /// Whether it has one finished face that may be flooded.
    #[must_use]
    pub fn takes_flood(&self) -> bool {
        matches!(self.kind(), Kind::River | Kind::Inlay | Kind::Block | Kind::Embed)
    }

    /// Whether its boards have cracks or knots to be filled before the form is.
    #[must_use]
    pub fn takes_cracks(&self) -> bool {
        self.kind() == Kind::River && !self.contents.cavities().is_empty()
    }

    /// From the open form to a face that takes a flood coat; none where there is no such coat.
    #[must_use]
    pub fn finishing(&self) -> Span {
        self.stages.flood.as_ref().map_or(Span::ZERO, |flood| flood.finishing)
    }

    /// All resins that are named: the cast's own, those of its stages, and those of pours that are in.
    pub fn named_resins(&self) -> impl Iterator<Item = &ResinId> {
        let of_stages = self.stages.named_resins();
        let poured = self.pours.poured_of.iter().map(|poured| &poured.resin);
        std::iter::once(&self.resin).chain(of_stages).chain(poured)
    }

    /// The resins beside the cast's own, of its stages and of pours that are in, each once, in the order
    /// in which layers count them from 1.
    #[must_use]
    pub fn stage_resins(&self) -> Vec<ResinId> {
        let mut all: Vec<ResinId> = Vec::new();
        for named in self.named_resins() {
            if *named != self.resin && !all.contains(named) {
                all.push(named.clone());
            }
        }
        all
    }

    /// The resin that layers count by this number.
    #[must_use]
    pub fn resin_of(&self, layer: &Layer) -> ResinId {
        let place = usize::from(layer.resin).checked_sub(1);
        let other = place.and_then(|place| self.stage_resins().into_iter().nth(place));
        other.unwrap_or_else(|| self.resin.clone())
    }

    /// Pours that are in of another resin than the rest, with the number by which layers count it.
    #[must_use]
    pub fn poured_resins(&self) -> Vec<(PourId, u8)> {
        let resins = self.stage_resins();
        let poured = self.pours.poured_of.iter();
        poured.map(|poured| (poured.pour, number(&resins, Some(&poured.resin)))).collect()
    }

    /// The stages as layers are split by them.
    #[must_use]
    pub fn layered(&self) -> Layered {
        let resins = self.stage_resins();
        let number = |named: &Option<ResinId>| number(&resins, named.as_ref());
        let pour = |stage: &Stage| StagePour {
            purpose: stage.purpose,
            depth: stage.depth,
            resin: number(&stage.resin),
        };
        let flood = |flood: &Flood| FloodCoat {
            thickness: flood.thickness,
            area: self.piece.length * self.piece.width * (1.0 + flood.run_off_ratio),
            resin: number(&flood.resin),
        };
        let cavities = self.contents.cavities();
        let cracks = |first: &CracksFirst| CrackFill {
            volume: cavities.iter().map(Cavity::volume_of_all).sum(),
            depth: cavities.iter().map(|cavity| cavity.depth).fold(Length::ZERO, Length::max),
            resin: number(&first.resin),
        };
        Layered {
            cracks: self.stages.cracks.as_ref().filter(|_| self.takes_cracks()).map(cracks),
            // How much edge there is to seal shows when it is measured.
            seal: None,
            below: self.stages.below.iter().map(pour).collect(),
            above: self.stages.above.iter().map(pour).collect(),
            flood: self.stages.flood.as_ref().map(flood),
        }
    }
}

/// By which number layers count a resin: 0 is the cast's own.
fn number(others: &[ResinId], named: Option<&ResinId>) -> u8 {
    let place = named.and_then(|id| others.iter().position(|other| other == id));
    place.map_or(0, |place| place as u8 + 1)
}
