//! What measuring finds.

use fondant_pours::MixedRatio;
use fondant_pours::layers::{Filling, Stages};
use fondant_quantities::{Absorption, Area, Length, Mass, Volume};
use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::Point;
use fondant_shapes::timber::River;
use fondant_shapes::volume::layout::{Layout, What};
use fondant_shapes::volume::methods::{Disagreement, KilogramsAsLitres, Method, Reading};
use fondant_shapes::volume::sizing::InForm;
use fondant_shapes::volume::triangle::Triangle;
use fondant_shapes::volume::{Fill, Line, LineKind, Sizing};

/// The measuring alone, without heat and hours: cheap enough for a long list.
#[derive(Debug, Clone)]
pub struct Measured {
    /// Inside size of the form, or size of the board, face or cavity.
    pub cast: CastSize,
    /// The river, where there is one by stations.
    pub river: Option<River>,
    /// Boards, objects and hollows with their places.
    pub layout: Layout,
    /// Volume of resin as a function of the level.
    pub fill: Fill,
    /// What is poured under and over the main fill.
    pub stages: Stages,
    /// The volume in the form, line by line, whatever its resins.
    pub sizing: Sizing,
    /// What lies in the resin and is pulled by it.
    pub submerged: Vec<Submerged>,
    /// Other ways of measuring beside the one that is drawn.
    pub ways: Ways,
    /// Where boards cross the form's walls, by board.
    pub trim_marks: Vec<Vec<Point>>,
}

/// Where the resin of a cast ends.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Surfaces {
    /// The surface of the last pour in the form.
    pub face: Length,
    /// That of the coat over it, where there is one.
    pub top: Length,
}

impl Measured {
    /// The fill with its stages, to be split into layers.
    #[must_use]
    pub fn filling(&self) -> Filling<'_> {
        Filling { fill: &self.fill, stages: &self.stages }
    }

    /// Where the resin in the form ends, and where a coat over it does.
    #[must_use]
    pub fn surfaces(&self) -> Surfaces {
        Surfaces { face: self.fill.depth(), top: self.filling().top() }
    }

    /// What is mixed for a layer over what it takes: what is lost on the way, soaks in or runs off
    /// is shared out over the layers, which together with the seal coat are the total.
    #[must_use]
    pub fn mixed_ratio(&self) -> MixedRatio {
        let lost = self.sizing.total / self.sizing.poured;
        let is_seal = |line: &&Line| matches!(line.kind, LineKind::SealCoat { .. });
        let seal = self.sizing.lines.iter().find(is_seal).map_or(Volume::ZERO, |line| line.volume);
        let cracks = self.stages.cracks.map_or(Volume::ZERO, |cracks| cracks.volume);
        let poured = (self.sizing.poured - seal - cracks) / self.fill.volume();
        MixedRatio { poured: poured * lost, brushed: lost }
    }
}

/// Something that lies in the resin.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Submerged {
    /// Kind and index of the thing.
    pub what: What,
    /// Volume that it displaces.
    pub volume: Volume,
    /// Mass of the object.
    pub mass: Mass,
    /// What outline, scale and density say of a board that was weighed.
    pub weighed: Option<Triangle>,
}

/// The ways of measuring, side by side.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Ways {
    /// What each says that can say something.
    pub readings: Vec<Reading>,
    /// Pairs that cannot both be right.
    pub disagreements: Vec<Disagreement>,
    /// The one that the plan uses.
    pub figure: Option<Method>,
    /// What kilograms taken for litres would do, where boards were weighed.
    pub slip: Option<KilogramsAsLitres>,
    /// The dry fill says what kilograms taken for litres would say.
    pub looks_like_slip: bool,
}

impl Ways {
    /// A volume measured by one method.
    #[must_use]
    pub fn reading(&self, method: Method) -> Option<&Reading> {
        self.readings.iter().find(|r| r.method == method)
    }
}

/// What a kind leaves for the common part.
pub(super) struct Room {
    pub(super) river: Option<River>,
    pub(super) layout: Layout,
    pub(super) fill: Fill,
    pub(super) in_form: InForm,
    pub(super) submerged: Vec<Submerged>,
    pub(super) ways: Ways,
    pub(super) trim_marks: Vec<Vec<Point>>,
    /// Bare timber that resin wets, and what it absorbs, mL/m².
    pub(super) bare: Vec<(Area, Absorption)>,
}
