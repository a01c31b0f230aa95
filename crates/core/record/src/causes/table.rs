//! The table of causes. Priors and factors are conventions of the trade, not measurements: they order
//! what is looked at first, and a shop's own findings move them.

use super::cause::{Cause, Row, Sign, Test};
use crate::fault::FaultKind;
use crate::figures::Figure;

/// The causes of a fault.
pub fn rows(fault: FaultKind) -> impl Iterator<Item = &'static Row> {
    TABLE.iter().filter(move |row| row.fault == fault)
}

const fn row(fault: FaultKind, cause: Cause, prior: f64, signs: &'static [Sign]) -> Row {
    Row { fault, cause, prior, signs }
}

const fn sign(figure: Figure, test: Test, seen: f64, unseen: f64) -> Sign {
    Sign { figure, test, seen, unseen }
}

/// 20 °C: below it casting resins are too thick for fine bubbles to rise, K.
const COLD_RESIN: f64 = 293.15;
/// 18 °C: below it most resins cure slowly or not through, K.
const COLD_AIR: f64 = 291.15;
/// 75 °C: above it clear resins turn amber, K.
const AMBER: f64 = 348.15;
/// 80 °C: above it wax melts into the form, K.
const WAX_MELTS: f64 = 353.15;
/// Shortest mixing that leaves no streaks at the walls, s.
const MIXED: f64 = 180.0;
/// Water in timber over which it gives gas off, share of its dry mass.
const DAMP: f64 = 0.12;
/// Relative humidity over which films form.
const DAMP_AIR: f64 = 0.65;
/// Distance from the dew point at which films form, K.
const DEW: f64 = 3.0;
/// Rise of the air over which the air in timber swells out of it, K.
const WARMING: f64 = 2.0;
/// A year, s.
const YEAR: f64 = 3.156e7;

const TABLE: &[Row] = &[
    row(
        FaultKind::Bubbles,
        Cause::BareEdge,
        3.0,
        &[
            sign(Figure::Sealed, Test::No, 3.0, 0.25),
            sign(Figure::NearTimber, Test::Yes, 2.5, 0.4),
            sign(Figure::AirRise, Test::Over(WARMING), 1.6, 0.8),
        ],
    ),
    row(
        FaultKind::Bubbles,
        Cause::ColdResin,
        2.0,
        &[sign(Figure::Bucket, Test::Under(COLD_RESIN), 4.0, 0.35)],
    ),
    row(
        FaultKind::Bubbles,
        Cause::TooDeep,
        1.5,
        &[sign(Figure::DepthShare, Test::Over(1.0), 5.0, 0.35)],
    ),
    row(
        FaultKind::Bubbles,
        Cause::StirredFast,
        1.5,
        &[
            sign(Figure::Mixing, Test::Under(MIXED), 4.0, 0.5),
            sign(Figure::Pressure, Test::Over(1e5), 0.3, 1.0),
        ],
    ),
    row(FaultKind::Bubbles, Cause::PouredHigh, 1.0, &[]),
    row(FaultKind::Bubbles, Cause::NotWatched, 1.5, &[sign(Figure::Watched, Test::No, 5.0, 0.3)]),
    row(
        FaultKind::Bubbles,
        Cause::PressureLost,
        1.5,
        &[sign(Figure::PressureLoss, Test::Over(3e4), 8.0, 0.15)],
    ),
    row(
        FaultKind::Bubbles,
        Cause::DampTimber,
        1.0,
        &[sign(Figure::Moisture, Test::Over(DAMP), 5.0, 0.35)],
    ),
    row(
        FaultKind::Bubbles,
        Cause::Boiled,
        0.8,
        &[sign(Figure::PeakOverLimit, Test::Over(0.0), 7.0, 0.25)],
    ),
    row(
        FaultKind::SoftPlaces,
        Cause::Unmixed,
        3.0,
        &[
            sign(Figure::Mixing, Test::Under(MIXED), 4.0, 0.4),
            sign(Figure::SecondPot, Test::No, 2.0, 0.4),
        ],
    ),
    row(
        FaultKind::SoftPlaces,
        Cause::Ratio,
        2.0,
        &[sign(Figure::RatioError, Test::Over(0.03), 7.0, 0.2)],
    ),
    row(
        FaultKind::SoftPlaces,
        Cause::TooMuchColour,
        1.5,
        &[sign(Figure::TintShare, Test::Over(0.05), 8.0, 0.3)],
    ),
    row(
        FaultKind::SoftPlaces,
        Cause::ColdRim,
        1.0,
        &[sign(Figure::Air, Test::Under(COLD_AIR), 5.0, 0.5)],
    ),
    row(
        FaultKind::SoftPlaces,
        Cause::OldLot,
        0.8,
        &[sign(Figure::LotAge, Test::Over(YEAR), 6.0, 0.5)],
    ),
    row(
        FaultKind::SoftThroughout,
        Cause::Ratio,
        2.5,
        &[sign(Figure::RatioError, Test::Over(0.05), 7.0, 0.2)],
    ),
    row(
        FaultKind::SoftThroughout,
        Cause::WrongPart,
        1.0,
        &[sign(Figure::RatioError, Test::Over(0.3), 12.0, 0.3)],
    ),
    row(
        FaultKind::SoftThroughout,
        Cause::ColdAir,
        1.5,
        &[sign(Figure::Air, Test::Under(COLD_AIR), 6.0, 0.3)],
    ),
    row(
        FaultKind::SoftThroughout,
        Cause::NotYetCured,
        2.0,
        &[sign(Figure::CureShare, Test::Under(1.0), 6.0, 0.3)],
    ),
    row(
        FaultKind::SoftThroughout,
        Cause::OldLot,
        0.7,
        &[sign(Figure::LotAge, Test::Over(YEAR), 6.0, 0.5)],
    ),
    row(
        FaultKind::Blush,
        Cause::DewPoint,
        3.0,
        &[sign(Figure::DewMargin, Test::Under(DEW), 6.0, 0.3)],
    ),
    row(
        FaultKind::Blush,
        Cause::DampAir,
        2.0,
        &[sign(Figure::Humidity, Test::Over(DAMP_AIR), 4.0, 0.35)],
    ),
    row(FaultKind::Blush, Cause::AirFell, 1.5, &[sign(Figure::AirFall, Test::Over(3.0), 5.0, 0.4)]),
    row(FaultKind::Blush, Cause::UnfluedHeat, 0.8, &[]),
    row(FaultKind::Blush, Cause::Uncovered, 1.0, &[sign(Figure::Covered, Test::No, 4.0, 0.4)]),
    row(
        FaultKind::Bloom,
        Cause::DampTimber,
        3.0,
        &[sign(Figure::Moisture, Test::Over(DAMP), 6.0, 0.3)],
    ),
    row(FaultKind::Bloom, Cause::WetObject, 1.5, &[]),
    row(
        FaultKind::Bloom,
        Cause::DampAir,
        1.0,
        &[sign(Figure::Humidity, Test::Over(DAMP_AIR), 4.0, 0.4)],
    ),
    row(FaultKind::Yellow, Cause::Hot, 3.0, &[sign(Figure::Peak, Test::Over(AMBER), 5.0, 0.3)]),
    row(
        FaultKind::Yellow,
        Cause::LongInBucket,
        2.0,
        &[sign(Figure::BucketShare, Test::Over(0.8), 5.0, 0.4)],
    ),
    row(FaultKind::Yellow, Cause::Sunlight, 1.5, &[]),
    row(FaultKind::Yellow, Cause::ResinClass, 1.0, &[]),
    row(
        FaultKind::Cracks,
        Cause::Hot,
        2.5,
        &[sign(Figure::PeakOverLimit, Test::Over(0.0), 6.0, 0.3)],
    ),
    row(
        FaultKind::Cracks,
        Cause::TooDeep,
        2.0,
        &[sign(Figure::DepthShare, Test::Over(1.0), 5.0, 0.35)],
    ),
    row(
        FaultKind::Cracks,
        Cause::SteepHeat,
        1.5,
        &[sign(Figure::AirFall, Test::Over(6.0), 5.0, 0.5)],
    ),
    row(FaultKind::Cracks, Cause::BathEnded, 0.8, &[]),
    row(
        FaultKind::Cracks,
        Cause::StiffObject,
        1.2,
        &[sign(Figure::StiffObject, Test::Yes, 5.0, 0.3)],
    ),
    row(
        FaultKind::Warped,
        Cause::Hot,
        1.5,
        &[sign(Figure::PeakOverLimit, Test::Over(0.0), 5.0, 0.4)],
    ),
    row(
        FaultKind::Warped,
        Cause::NotToppedUp,
        2.0,
        &[sign(Figure::ToppedUp, Test::Under(1e-9), 3.0, 0.3)],
    ),
    row(
        FaultKind::Warped,
        Cause::EarlyOut,
        2.0,
        &[sign(Figure::DemouldMargin, Test::Under(10.0), 6.0, 0.3)],
    ),
    row(FaultKind::Warped, Cause::OneSided, 1.0, &[]),
    row(FaultKind::Stuck, Cause::NoRelease, 3.0, &[sign(Figure::Release, Test::No, 7.0, 0.3)]),
    row(FaultKind::Stuck, Cause::Hot, 1.5, &[sign(Figure::Peak, Test::Over(WAX_MELTS), 5.0, 0.4)]),
    row(FaultKind::Stuck, Cause::FreshWax, 1.0, &[]),
    row(FaultKind::Leak, Cause::OpenJoint, 3.0, &[sign(Figure::JointsSealed, Test::No, 6.0, 0.35)]),
    row(FaultKind::Leak, Cause::NotLevel, 1.0, &[sign(Figure::Level, Test::No, 6.0, 0.4)]),
    row(
        FaultKind::Leak,
        Cause::TooMuchHead,
        1.0,
        &[sign(Figure::LayerDepth, Test::Over(0.05), 4.0, 0.5)],
    ),
    row(
        FaultKind::LayerLine,
        Cause::Late,
        3.0,
        &[sign(Figure::AfterWindow, Test::Over(0.0), 6.0, 0.2)],
    ),
    row(FaultKind::LayerLine, Cause::NotSanded, 1.5, &[sign(Figure::Sanded, Test::No, 6.0, 0.3)]),
    row(
        FaultKind::LayerLine,
        Cause::UnevenColour,
        1.5,
        &[sign(Figure::TintSpread, Test::Over(0.05), 6.0, 0.4)],
    ),
    row(
        FaultKind::CameApart,
        Cause::Late,
        3.0,
        &[sign(Figure::AfterWindow, Test::Over(0.0), 5.0, 0.25)],
    ),
    row(FaultKind::CameApart, Cause::NotSanded, 2.0, &[sign(Figure::Sanded, Test::No, 6.0, 0.3)]),
    row(
        FaultKind::CameApart,
        Cause::DewPoint,
        1.5,
        &[sign(Figure::DewMargin, Test::Under(DEW), 6.0, 0.4)],
    ),
    row(FaultKind::CameApart, Cause::Unwashed, 1.0, &[]),
    row(
        FaultKind::ColourDiffers,
        Cause::UnevenColour,
        3.0,
        &[sign(Figure::TintSpread, Test::Over(0.05), 7.0, 0.25)],
    ),
    row(FaultKind::ColourDiffers, Cause::UnlikeDepth, 1.2, &[]),
    row(
        FaultKind::ColourDiffers,
        Cause::SeveralLots,
        1.2,
        &[sign(Figure::Lots, Test::Over(1.5), 5.0, 0.3)],
    ),
    row(FaultKind::ColourDiffers, Cause::Order, 0.8, &[]),
    row(
        FaultKind::Dents,
        Cause::EarlyOut,
        3.0,
        &[sign(Figure::DemouldMargin, Test::Under(10.0), 6.0, 0.3)],
    ),
    row(
        FaultKind::Dents,
        Cause::NotYetCured,
        1.5,
        &[sign(Figure::CureShare, Test::Under(1.0), 5.0, 0.4)],
    ),
    row(FaultKind::Dents, Cause::Touched, 1.0, &[sign(Figure::Covered, Test::Yes, 2.0, 0.5)]),
    row(
        FaultKind::Cloudy,
        Cause::ColdResin,
        2.0,
        &[sign(Figure::Bucket, Test::Under(COLD_RESIN), 5.0, 0.4)],
    ),
    row(FaultKind::Cloudy, Cause::BathWater, 1.0, &[]),
    row(
        FaultKind::Cloudy,
        Cause::DampAir,
        1.5,
        &[sign(Figure::Humidity, Test::Over(DAMP_AIR), 5.0, 0.4)],
    ),
    row(
        FaultKind::Cloudy,
        Cause::StirredFast,
        1.5,
        &[sign(Figure::Mixing, Test::Under(MIXED), 5.0, 0.5)],
    ),
    row(FaultKind::FishEyes, Cause::Silicone, 2.0, &[]),
    row(FaultKind::FishEyes, Cause::Unwashed, 2.0, &[sign(Figure::Release, Test::Yes, 2.0, 0.5)]),
    row(
        FaultKind::Haze,
        Cause::GritLeftOut,
        3.0,
        &[sign(Figure::GritStep, Test::Over(2.0), 7.0, 0.3)],
    ),
    row(FaultKind::Haze, Cause::WarmCompound, 1.0, &[]),
    row(
        FaultKind::Haze,
        Cause::NotYetCured,
        1.0,
        &[sign(Figure::CureShare, Test::Under(1.0), 5.0, 0.4)],
    ),
];
