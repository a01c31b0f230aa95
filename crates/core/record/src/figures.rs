//! What is recorded of a cast: numbers in SI units, each with a meaning of its own. What is not known
//! has no entry.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

/// A recorded figure.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Figure {
    /// Coldest bucket when A met B, K.
    Bucket,
    /// Mean air while it cured, K.
    Air,
    /// Mean relative humidity of that air, 0 to 1.
    Humidity,
    /// Least distance of the air from its dew point, K.
    DewMargin,
    /// How far the air fell between the pour and the set, K.
    AirFall,
    /// How far it rose in that time, K.
    AirRise,
    /// Highest temperature of the resin, K.
    Peak,
    /// The same over the resin's limit, K; negative below it.
    PeakOverLimit,
    /// Deepest layer, m.
    LayerDepth,
    /// Deepest layer as a share of what the model allows.
    DepthShare,
    /// Longest time after the close of a window at which the next layer went on, s; negative within.
    AfterWindow,
    /// Shortest mixing of a bucket, s.
    Mixing,
    /// Longest time between the meeting of A and B and the last of a bucket, as a share of its life.
    BucketShare,
    /// Largest departure of a bucket's A : B from the resin's, as a share.
    RatioError,
    /// Largest share of colour in a bucket, by mass.
    TintShare,
    /// Difference between the shares of colour of the buckets, as a share of their mean.
    TintSpread,
    /// Every bucket went into a second pot: 1 or 0.
    SecondPot,
    /// Lots that it was poured from.
    Lots,
    /// Pressure at the end of the hold, Pa over the air's.
    Pressure,
    /// Pressure lost while it held, Pa.
    PressureLoss,
    /// Watched for bubbles as long as was asked: 1 or 0.
    Watched,
    /// Covered: 1 or 0.
    Covered,
    /// Live edges and pockets were sealed: 1 or 0.
    Sealed,
    /// Joints of the form were sealed and cured: 1 or 0.
    JointsSealed,
    /// Release was on every side: 1 or 0.
    Release,
    /// The form was level: 1 or 0.
    Level,
    /// Layers that were late were sanded and washed first: 1 or 0.
    Sanded,
    /// Water in the timber, share of its dry mass.
    Moisture,
    /// Something stiffer than the resin is cast in: 1 or 0.
    StiffObject,
    /// The fault is close to timber: 1 or 0.
    NearTimber,
    /// Topped up, m³.
    ToppedUp,
    /// Margin of the resin's glass transition over its temperature out of the form, K.
    DemouldMargin,
    /// Time from the last pour to the form's opening, as a share of what was forecast.
    CureShare,
    /// Age of the oldest lot, s.
    LotAge,
    /// Largest step from one grit to the next.
    GritStep,
    /// Mixed volume, m³.
    Volume,
    /// Mixed mass, kg.
    Mass,
    /// Working hours at the bench, s.
    Hours,
    /// What was left over in the buckets, as a share of what was mixed.
    LeftOver,
    /// Work of finishing, s.
    Finishing,
    /// Cost of its resin, in whatever the shop pays with.
    ResinCost,
    /// Cost of its colours.
    TintCost,
    /// Cost of all work.
    WorkCost,
    /// Cost of the sheet of its form.
    SheetCost,
    /// Cost of what it used up beside.
    Consumables,
    /// What bare timber absorbed, by what was planned and topped up, m³ a m².
    Absorbed,
}

/// Unit of a figure.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Unit {
    /// K, an absolute temperature.
    Temperature,
    /// K, a difference.
    Kelvin,
    /// A share of one.
    Share,
    /// m.
    Length,
    /// m³ a m².
    Absorption,
    /// s.
    Time,
    /// Pa.
    Pressure,
    /// m³.
    Volume,
    /// kg.
    Mass,
    /// Whatever the shop pays with.
    Money,
    /// A number of things.
    Count,
    /// A ratio of two like quantities.
    Ratio,
    /// 1 for yes, 0 for no.
    Flag,
}

impl Figure {
    /// All, in the order in which a record shows them.
    pub const ALL: [Self; 46] = [
        Self::Volume,
        Self::Mass,
        Self::Hours,
        Self::Finishing,
        Self::ResinCost,
        Self::TintCost,
        Self::WorkCost,
        Self::SheetCost,
        Self::Consumables,
        Self::LeftOver,
        Self::Bucket,
        Self::Mixing,
        Self::SecondPot,
        Self::RatioError,
        Self::BucketShare,
        Self::TintShare,
        Self::TintSpread,
        Self::Lots,
        Self::LotAge,
        Self::LayerDepth,
        Self::DepthShare,
        Self::AfterWindow,
        Self::Sanded,
        Self::Peak,
        Self::PeakOverLimit,
        Self::Air,
        Self::Humidity,
        Self::DewMargin,
        Self::AirFall,
        Self::AirRise,
        Self::Pressure,
        Self::PressureLoss,
        Self::Watched,
        Self::Covered,
        Self::ToppedUp,
        Self::Absorbed,
        Self::Sealed,
        Self::Moisture,
        Self::NearTimber,
        Self::StiffObject,
        Self::JointsSealed,
        Self::Release,
        Self::Level,
        Self::CureShare,
        Self::DemouldMargin,
        Self::GritStep,
    ];

    /// Unit in which the figure is kept.
    #[must_use]
    pub const fn unit(self) -> Unit {
        match self {
            Self::Bucket | Self::Air | Self::Peak => Unit::Temperature,
            Self::DewMargin
            | Self::AirFall
            | Self::AirRise
            | Self::PeakOverLimit
            | Self::DemouldMargin => Unit::Kelvin,
            Self::Humidity
            | Self::DepthShare
            | Self::BucketShare
            | Self::RatioError
            | Self::TintShare
            | Self::TintSpread
            | Self::Moisture
            | Self::CureShare
            | Self::LeftOver => Unit::Share,
            Self::LayerDepth => Unit::Length,
            Self::Absorbed => Unit::Absorption,
            Self::AfterWindow | Self::Mixing | Self::LotAge | Self::Hours | Self::Finishing => {
                Unit::Time
            }
            Self::ResinCost
            | Self::TintCost
            | Self::WorkCost
            | Self::SheetCost
            | Self::Consumables => Unit::Money,
            Self::Pressure | Self::PressureLoss => Unit::Pressure,
            Self::Volume | Self::ToppedUp => Unit::Volume,
            Self::Mass => Unit::Mass,
            Self::Lots => Unit::Count,
            Self::GritStep => Unit::Ratio,
            Self::SecondPot
            | Self::Watched
            | Self::Covered
            | Self::Sealed
            | Self::JointsSealed
            | Self::Release
            | Self::Level
            | Self::Sanded
            | Self::StiffObject
            | Self::NearTimber => Unit::Flag,
        }
    }
}

/// The figures of a cast that are known.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[serde(transparent)]
pub struct Figures(BTreeMap<Figure, f64>);

impl Figures {
    /// The value of a figure; `None` where it is not known.
    #[must_use]
    pub fn get(&self, figure: Figure) -> Option<f64> {
        self.0.get(&figure).copied()
    }

    /// Sets a figure. What is no finite number is not known.
    pub fn set(&mut self, figure: Figure, value: f64) {
        if value.is_finite() {
            self.0.insert(figure, value);
        } else {
            self.0.remove(&figure);
        }
    }

    /// Sets a figure where something is known.
    pub fn set_if(&mut self, figure: Figure, value: Option<f64>) {
        if let Some(value) = value {
            self.set(figure, value);
        }
    }

    /// Sets a figure of the kind yes or no.
    pub fn set_flag(&mut self, figure: Figure, is_so: bool) {
        self.set(figure, if is_so { 1.0 } else { 0.0 });
    }

    /// Forgets a figure.
    pub fn forget(&mut self, figure: Figure) {
        self.0.remove(&figure);
    }

    /// The figures that are known, in the order of [`Figure::ALL`].
    pub fn known(&self) -> impl Iterator<Item = (Figure, f64)> + '_ {
        Figure::ALL.into_iter().filter_map(|figure| Some((figure, self.get(figure)?)))
    }

    /// Those of another set stand in the place of these.
    pub fn overlay(&mut self, other: &Self) {
        self.0.extend(other.0.iter().map(|(figure, value)| (*figure, *value)));
    }
}
