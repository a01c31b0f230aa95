//! A cause of a fault, and the signs that speak for it.

use serde::{Deserialize, Serialize};

use crate::fault::FaultKind;
use crate::figures::Figure;

/// What a fault comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Cause {
    /// Air rose out of an edge or a pocket that was not sealed.
    BareEdge,
    /// The resin was cold and too thick for bubbles to rise.
    ColdResin,
    /// The layer was deeper than bubbles, or the heat, allow.
    TooDeep,
    /// Stirred fast, with nothing afterwards to take the air out.
    StirredFast,
    /// Poured from high up, or fast.
    PouredHigh,
    /// Nobody looked for bubbles while they rose.
    NotWatched,
    /// The pot lost its pressure, or had it too late.
    PressureLost,
    /// The timber was damp.
    DampTimber,
    /// Heat drove gas out of the resin.
    Boiled,
    /// Not mixed through: too short, or the walls of the bucket were not scraped.
    Unmixed,
    /// A and B in the wrong ratio.
    Ratio,
    /// More colour than the resin takes.
    TooMuchColour,
    /// A rim or corner stayed cold.
    ColdRim,
    /// The air was too cold for the cure.
    ColdAir,
    /// A lot past its time.
    OldLot,
    /// The same part twice, or a hardener that belongs to another resin.
    WrongPart,
    /// The time of the cure is not over.
    NotYetCured,
    /// The surface came close to the dew point.
    DewPoint,
    /// Damp air.
    DampAir,
    /// The air became colder before it set.
    AirFell,
    /// A heater without a flue filled the room with water and carbon dioxide.
    UnfluedHeat,
    /// Nothing covered it.
    Uncovered,
    /// Bark or a wet object gave off water.
    WetObject,
    /// It got hot.
    Hot,
    /// It stood in the bucket for long.
    LongInBucket,
    /// Sunlight.
    Sunlight,
    /// The resin's class turns yellow by itself.
    ResinClass,
    /// Warm in the middle and cold at the rim.
    SteepHeat,
    /// A cold bath was taken away before the peak was over.
    BathEnded,
    /// Something stiff held it while it shrank.
    StiffObject,
    /// Timber absorbed resin, and nothing was topped up.
    NotToppedUp,
    /// Out of the form while it was still warm and soft.
    EarlyOut,
    /// Heat or drying from one side.
    OneSided,
    /// Release was missing on a side.
    NoRelease,
    /// The wax had not hazed or dried.
    FreshWax,
    /// Joints were not sealed, or the sealant had not cured.
    OpenJoint,
    /// The form did not stand level.
    NotLevel,
    /// More head of resin than the joint holds.
    TooMuchHead,
    /// The layer went on after the window had closed.
    Late,
    /// Not sanded, or not washed, before the next layer.
    NotSanded,
    /// The buckets were coloured differently.
    UnevenColour,
    /// Layers of unlike depth show unlike colour.
    UnlikeDepth,
    /// Several lots.
    SeveralLots,
    /// Poured in an order that shows.
    Order,
    /// A cover or a hand touched it.
    Touched,
    /// Water from a bath got in.
    BathWater,
    /// Wax or silicone near it.
    Silicone,
    /// Release or dust was not washed off.
    Unwashed,
    /// A grit was left out.
    GritLeftOut,
    /// Compound on a face that was warm.
    WarmCompound,
}

/// When a sign is seen.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Test {
    /// The figure is over this.
    Over(f64),
    /// The figure is under this.
    Under(f64),
    /// The figure is 1.
    Yes,
    /// The figure is 0.
    No,
}

impl Test {
    /// Whether a value passes.
    #[must_use]
    pub fn holds(self, value: f64) -> bool {
        match self {
            Self::Over(limit) => value > limit,
            Self::Under(limit) => value < limit,
            Self::Yes => value > 0.5,
            Self::No => value < 0.5,
        }
    }
}

/// A figure that speaks for a cause or against it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sign {
    /// Figure that the sign is about.
    pub figure: Figure,
    /// When it is seen.
    pub test: Test,
    /// Factor on the cause's weight when it is: over 1 where that speaks for the cause.
    pub seen: f64,
    /// Factor when the figure is known and it is not.
    pub unseen: f64,
}

/// A cause of a fault.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Row {
    /// The fault.
    pub fault: FaultKind,
    /// The cause.
    pub cause: Cause,
    /// How often it is this one, against the others of the fault.
    pub prior: f64,
    /// What speaks for it. Empty where no figure does: it is to be looked at.
    pub signs: &'static [Sign],
}
