//! The shelf: a resin entered from its datasheet that has learnt from a cup,
//! bottles and colours.

use fondant_heat::calibration::sheet::{self, SheetError};
use fondant_materials::resin::shelf::{Colour, ColourBase, ColourKind, Lot, OwnResin};
use fondant_materials::resin::{
    Calibration, Datasheet, DeepestAllowed, InBucket, InLayer, Kit, Properties, Record, ResinClass,
    ResinId, shipped,
};
use fondant_numerics::Stop;
use fondant_quantities::{Length, Mass, Money, Span, Temperature, Volume};
use jiff::{SignedDuration, Timestamp};

/// The resin that the shop entered itself.
pub(super) const OWN: &str = "deep-clear-casting-epoxy";

/// Entered from its datasheet, taught by a cup.
pub(super) fn deep_clear(now: Timestamp) -> Result<OwnResin, SheetError> {
    let at = Temperature::from_celsius(23.0);
    let layer =
        |hours: f64| InLayer { after: Span::from_h(hours), depth: Length::from_mm(20.0), at };
    let said = Datasheet {
        pot_life: Some(InBucket { after: Span::from_h(3.5), mass: Mass::from_kg(0.5), at }),
        tacky: Some(layer(10.0)),
        demould: Some(layer(36.0)),
        full_cure: None,
        deepest: Some(DeepestAllowed { depth: Length::from_mm(45.0), at }),
        rule_of_thumb: None,
    };
    let generic = Properties {
        id: ResinId(OWN.into()),
        name: "deep clear casting epoxy, 100:45 by mass".into(),
        purpose: "The shop's own for rivers: entered from its datasheet, taught by a cup.".into(),
        kit: Some(Kit { volume: Volume::from_l(9.0), price: Money::from_units(205.0) }),
        ..shipped::generic(ResinClass::SlowCasting).properties
    };
    let fitted = sheet::fit(&generic, &said, &Stop::NEVER)?;
    let calibration = Calibration {
        rate: 1.09,
        heat: 0.97,
        covariance: [4e-4, 2e-4, -2e-4],
        lot: "S-2604".into(),
        at: now - SignedDuration::from_hours(24 * 19),
    };
    let resin = Record { calibration: Some(calibration), ..fitted.resin };
    Ok(OwnResin { resin, is_put_away: false })
}

pub(super) fn lots(now: Timestamp) -> [Lot; 3] {
    let day = |days: i64| {
        let then = now - SignedDuration::from_hours(24 * days);
        then.to_zoned_datetime(jiff::tz::TimeZone::UTC).date()
    };
    let lot = |resin: &str,
               mark: &str,
               bought: i64,
               opened: Option<i64>,
               [left, held]: [f64; 2],
               cost: f64| Lot {
        resin: ResinId(resin.into()),
        lot: mark.into(),
        bought: day(bought),
        opened: opened.map(day),
        left: Volume::from_l(left),
        held: Some(Volume::from_l(held)),
        cost: Money::from_units(cost),
    };
    [
        lot(OWN, "S-2604", 48, Some(20), [6.5, 12.0], 205.0),
        lot(shipped::COATING, "C-117", 96, Some(61), [1.2, 3.0], 60.0),
        lot(shipped::MEDIUM_CASTING, "M-0930", 430, Some(402), [0.7, 3.0], 75.0),
    ]
}

pub(super) fn colours() -> [Colour; 3] {
    let colour = |name: &str, kind, base, ceiling_percent, price: f64| Colour {
        name: name.into(),
        kind,
        base,
        ceiling_percent,
        price_kg: Some(Money::from_units(price)),
    };
    [
        colour("sea-glass green", ColourKind::Paste, ColourBase::Resin, 5.0, 48.0),
        colour("pearl flakes", ColourKind::Powder, ColourBase::Dry, 4.0, 95.0),
        colour("lagoon blue", ColourKind::Dye, ColourBase::Solvent, 1.5, 160.0),
    ]
}
