//! What a line across a piece meets: timber, objects, resin between them.

use crate::document::Document;
use fondant_heat::field::Content;
use fondant_materials::Material;
use fondant_quantities::{Density, Length};
use fondant_shapes::volume::layout::{Bed, CutThing, Layout, What};
use serde::{Deserialize, Serialize};

/// Denser than this, an object is metal; denser than the other, stone.
const METAL: Density = Density::from_kg_m3(4000.0);
const STONE: Density = Density::from_kg_m3(1800.0);
/// Timber of which nothing is said: its moisture, percent, and its density.
pub(super) const USUAL_MOISTURE: f64 = 10.0;
const USUAL_TIMBER: f64 = 650.0;
/// Number of places at which a section is sampled, and the share of the depth.
const PLACES: usize = 400;
const LEVEL_RATIO: f64 = 0.55;

/// A section across a piece. Two that are equal have the same heat.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub(crate) struct Section {
    width_m: f64,
    things: Vec<Thing>,
    /// What is not one of the things is timber, not resin.
    is_board: bool,
}

/// One thing in a section.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
struct Thing {
    /// Its corners: across and up, m.
    corners: [(f64, f64); 4],
    /// What it is of; `None` for a hollow that resin fills.
    of: Option<Material>,
}

/// Resin from one side to the other, m across the section.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Run {
    pub(crate) from_m: f64,
    pub(crate) to_m: f64,
}

impl Run {
    pub(crate) fn width_m(&self) -> f64 {
        self.to_m - self.from_m
    }
}

impl Section {
    /// Resin from wall to wall.
    pub(crate) const fn open(width_m: f64) -> Self {
        Self { width_m, things: Vec::new(), is_board: false }
    }

    /// A cast cut at a place along it; `None` for one that lies in no form.
    pub(crate) fn of(document: &Document, layout: &Layout, cut: Length) -> Option<Self> {
        if !matches!(layout.bed, Bed::Form | Bed::Board) {
            return None;
        }
        let of = |thing: &CutThing| {
            let of = match thing.what {
                What::Board(index) => document
                    .contents
                    .boards()
                    .get(index)
                    .map(|b| Material::timber(b.density.kg_m3(), b.moisture_percent)),
                What::Insert(index) => {
                    document.contents.inserts().get(index).map(|i| solid(i.stuff()))
                }
                What::Hollow(_) => None,
            };
            Thing { corners: thing.corners.map(|(across, level)| (across.m(), level.m())), of }
        };
        Some(Self {
            width_m: layout.width.m(),
            things: layout.cut_at(cut).iter().map(of).collect(),
            is_board: layout.bed == Bed::Board,
        })
    }

    /// Width from wall to wall, m.
    pub(crate) fn width_m(&self) -> f64 {
        self.width_m
    }

    /// Where something begins or ends across.
    pub(crate) fn corners(&self) -> impl Iterator<Item = f64> {
        self.things.iter().flat_map(|thing| thing.corners.iter().map(|corner| corner.0))
    }

    /// What is at a place across and a level, m.
    pub(crate) fn content(&self, x: f64, z: f64) -> Content {
        let inside = self.things.iter().find(|thing| holds(&thing.corners, x, z));
        match (inside, self.is_board) {
            (Some(Thing { of: Some(material), .. }), _) => Content::Solid(*material),
            (Some(Thing { of: None, .. }), _) => Content::Resin,
            (None, true) => Content::Solid(Material::timber(USUAL_TIMBER, USUAL_MOISTURE)),
            (None, false) => Content::Resin,
        }
    }

    /// The widest stretch of resin, about half way up a fill.
    pub(crate) fn widest(&self, depth_m: f64) -> Option<Run> {
        let level = LEVEL_RATIO * depth_m;
        let step = self.width_m / PLACES as f64;
        let is_resin =
            |place: usize| self.content(step * (place as f64 + 0.5), level) == Content::Resin;
        let mut widest: Option<Run> = None;
        let mut begun = None;
        for place in 0..=PLACES {
            if place < PLACES && is_resin(place) {
                begun.get_or_insert(place);
            } else if let Some(from) = begun.take() {
                let run = Run { from_m: step * from as f64, to_m: step * place as f64 };
                if widest.is_none_or(|w| run.width_m() > w.width_m()) {
                    widest = Some(run);
                }
            }
        }
        widest
    }

    /// What a stretch ends at on its low and its high side, and how thick that
    /// is, m; `None` where it reaches the wall of the form.
    pub(crate) fn beside(&self, run: Run, depth_m: f64) -> [Option<(Material, f64)>; 2] {
        let level = LEVEL_RATIO * depth_m;
        let step = self.width_m / PLACES as f64;
        [(run.from_m, -step), (run.to_m, step)].map(|(face, step)| {
            let at = |place: usize| face + step * (place as f64 + 0.5);
            let inside = |x: f64| (0.0..=self.width_m).contains(&x);
            let Content::Solid(material) = inside(at(0)).then(|| self.content(at(0), level))?
            else {
                return None;
            };
            let solid = |x: f64| matches!(self.content(x, level), Content::Solid(_));
            let places = (0..PLACES).take_while(|p| inside(at(*p)) && solid(at(*p))).count();
            Some((material, step.abs() * places as f64))
        })
    }
}

/// What an object is of, by its density.
pub(crate) fn solid(density: Density) -> Material {
    if density > METAL {
        Material::BRASS
    } else if density > STONE {
        Material::STONE
    } else {
        Material::timber(density.kg_m3(), USUAL_MOISTURE)
    }
}

/// Whether a point lies between the two sloping sides of a four-sided thing.
fn holds(corners: &[(f64, f64); 4], x: f64, z: f64) -> bool {
    let [(a, from), (b, _), (d, to), (c, _)] = *corners;
    if z < from || z > to || to <= from {
        return false;
    }
    let share = (z - from) / (to - from);
    let (left, right) = (a + (c - a) * share, b + (d - b) * share);
    x >= left.min(right) && x <= left.max(right)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Boards of 100 and 60 mm at the walls of a form 400 mm wide.
    fn between_boards() -> Section {
        let board = |from: f64, to: f64| Thing {
            corners: [(from, 0.0), (to, 0.0), (to, 0.05), (from, 0.05)],
            of: Some(Material::timber(650.0, 10.0)),
        };
        Section { width_m: 0.4, things: vec![board(0.0, 0.1), board(0.34, 0.4)], is_board: false }
    }

    #[test]
    fn the_river_lies_between_its_boards() {
        let section = between_boards();
        let run = section.widest(0.05).unwrap();
        assert!((run.from_m - 0.1).abs() < 2e-3 && (run.to_m - 0.34).abs() < 2e-3, "{run:?}");
        let [Some((_, left)), Some((_, right))] = section.beside(run, 0.05) else {
            panic!("timber on both sides")
        };
        assert!((left - 0.1).abs() < 2e-3 && (right - 0.06).abs() < 2e-3, "{left} {right}");
    }

    #[test]
    fn without_timber_the_walls_are_beside() {
        let section = Section::open(0.2);
        let run = section.widest(0.05).unwrap();
        assert_eq!((run.from_m, run.to_m), (0.0, 0.2));
        assert_eq!(section.beside(run, 0.05), [None, None]);
    }

    #[test]
    fn what_is_dense_is_metal() {
        assert_eq!(solid(Density::from_kg_m3(8500.0)), Material::BRASS);
        assert_eq!(solid(Density::from_kg_m3(2600.0)), Material::STONE);
        assert!(solid(Density::from_kg_m3(600.0)).conductivity_w_m_k < 0.2);
    }
}
