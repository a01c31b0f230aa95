//! What lies in the form and how much resin it leaves room for, kind by kind.
//!
//! - [`boards`]: boards in a form, by stations or outlines
//! - [`hollows`]: everything else: blocks, inserts, cavities, moulds, coats

mod boards;
mod hollows;

use super::conflicts::Conflict;
use super::document::Plan;
use super::kind::Kind;
use fondant_shapes::form::{CastSize, FREEBOARD};

use fondant_pours::layers;
use fondant_quantities::{Area, Length, Mass, Volume};
use fondant_shapes::geometry::Point;
use fondant_shapes::timber::River;
use fondant_shapes::volume::layout::{Layout, What};
use fondant_shapes::volume::methods::{
    Disagreement, KilogramsAsLitres, Method, Reading, disagreements,
};
use fondant_shapes::volume::sizing::{InForm, Losses};
use fondant_shapes::volume::{Fill, Sizing};

/// The measuring alone, without heat and hours: cheap enough for a long list.
#[derive(Debug, Clone)]
pub struct Measured {
    /// Inside size of the form, or size of the board, face or cavity.
    pub cast: CastSize,
    /// The river, where there is one by stations.
    pub river: Option<River>,
    /// What lies where.
    pub layout: Layout,
    /// What the resin fills.
    pub fill: Fill,
    /// The volume, line by line.
    pub sizing: Sizing,
    /// What lies in the resin and is pulled by it.
    pub sunk: Vec<Sunk>,
    /// Other ways of measuring beside the one that is drawn.
    pub ways: Ways,
    /// Where boards cross the form's walls, by board.
    pub trim_marks: Vec<Vec<Point>>,
}

impl Measured {
    /// What is mixed for a layer of a volume: what is lost on the way, soaks in
    /// or runs off is shared out over the layers, which together are the total.
    #[must_use]
    pub fn mixed(&self, layer: Volume) -> Volume {
        layer * (self.sizing.total / self.fill.volume())
    }
}

/// Something that lies in the resin.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sunk {
    /// What it is.
    pub what: What,
    /// What it displaces.
    pub volume: Volume,
    /// Its mass.
    pub mass: Mass,
}

/// The ways of measuring, side by side.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Ways {
    /// What each says that can say something.
    pub readings: Vec<Reading>,
    /// Pairs that cannot both be right.
    pub disagreements: Vec<Disagreement>,
    /// The one that is believed.
    pub figure: Option<Method>,
    /// What kilograms taken for litres would do, where boards were weighed.
    pub slip: Option<KilogramsAsLitres>,
    /// The dry fill says what kilograms taken for litres would say.
    pub looks_like_slip: bool,
}

impl Ways {
    /// What one way says.
    #[must_use]
    pub fn reading(&self, method: Method) -> Option<&Reading> {
        self.readings.iter().find(|r| r.method == method)
    }
}

/// What a kind leaves for the common part.
struct Contents {
    river: Option<River>,
    layout: Layout,
    fill: Fill,
    in_form: InForm,
    sunk: Vec<Sunk>,
    ways: Ways,
    trim_marks: Vec<Vec<Point>>,
    /// Bare timber that resin wets, and what it drinks.
    bare: Vec<(Area, f64)>,
}

/// Less resin than this is nothing to fill: a drop.
const LEAST_FILL: Volume = Volume::from_m3(5e-8);

/// Why a plan cannot be kept: its conflicts, and what shows only when it is
/// measured.
#[must_use]
pub fn refusals(plan: &Plan) -> Vec<Conflict> {
    measure(plan).err().unwrap_or_default()
}

/// Measures a plan.
///
/// # Errors
/// The plan's conflicts, where it has any (see [`Plan::conflicts`]); nothing
/// to fill; objects that leave no room beside the boards.
pub fn measure(plan: &Plan) -> Result<Measured, Vec<Conflict>> {
    let conflicts = plan.conflicts();
    if !conflicts.is_empty() {
        return Err(conflicts);
    }
    let mut cast = CastSize::of(&plan.piece);
    if plan.kind.has_moulds() {
        let (length, width) = plan.moulding.hollow.mouth();
        cast = CastSize { length, width, thickness: plan.moulding.hollow.depth() };
    }
    let contents = match plan.kind {
        Kind::River => boards::contents(plan, &cast)?,
        Kind::Inlay => hollows::inlay(plan, &cast),
        Kind::Block => hollows::block(plan, &cast),
        Kind::Embed => hollows::embed(plan, &cast),
        Kind::TubeBlanks | Kind::Moulds => hollows::moulds(plan),
        Kind::Coat => hollows::coat(plan, &cast),
    };
    let Contents { river, mut layout, fill, in_form, sunk, mut ways, trim_marks, bare } = contents;
    if plan.kind.has_form() {
        layout.height = fill.depth() + FREEBOARD;
    }
    ways.disagreements = disagreements(&ways.readings);
    let losses = losses(plan, &cast, &fill, &bare);
    let sizing = Sizing::new(in_form, &losses);
    if sizing.total < LEAST_FILL {
        return Err(vec![Conflict::NothingToFill]);
    }
    if !fill.only_rises() {
        return Err(vec![Conflict::InsertTooWide { insert: 0 }]);
    }
    Ok(Measured { cast, river, layout, fill, sizing, sunk, ways, trim_marks })
}

fn losses(plan: &Plan, cast: &CastSize, fill: &Fill, bare: &[(Area, f64)]) -> Losses {
    // A fall only matters where one surface reaches from end to end.
    let rise = if plan.kind.has_form() {
        cast.length * (plan.form.fall_mm_m * 1e-3)
    } else {
        Length::ZERO
    };
    // The surface of the resin, from the last tenth of a millimetre of it.
    let skin = Length::from_mm(0.1);
    let surface = fill.volume_between(fill.depth() - skin, fill.depth()) / skin;
    let drinking: Area = bare.iter().filter(|(_, ml)| *ml > 0.0).map(|(area, _)| *area).sum();
    // A sealed edge drinks nothing more than its coat.
    let (absorbed, seal_coat) = match plan.seals() {
        true => (Volume::ZERO, layers::seal_coat(drinking).volume),
        false => {
            (Volume::from_l(bare.iter().map(|(a, ml)| a.m2() * ml * 1e-3).sum()), Volume::ZERO)
        }
    };
    Losses {
        bare: drinking,
        absorbed,
        seal_coat,
        rise,
        level: surface * rise * 0.5,
        leak_ratio: plan.form.leak_ratio,
        residue_ratio: plan.form.bucket_residue_ratio,
    }
}

#[cfg(test)]
mod tests;
