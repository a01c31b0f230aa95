//! The shelf: a resin entered from its datasheet that has learnt from a cup,
//! bottles and colours.

use fondant_heat::calibration::sheet;
use fondant_materials::resin::shelf::{Colour, ColourBase, ColourKind, Lot, OwnResin};
use fondant_materials::resin::{
    DeepestAllowed, InBucket, InLayer, Kit, Learnt, Resin, ResinClass, ResinId, Sheet, shipped,
};
use fondant_quantities::{Length, Mass, Span, Temperature, Volume};
use fondant_store::repos::WorkshopId;
use fondant_store::{Store, StoreError};
use jiff::{SignedDuration, Timestamp};

/// The resin that the shop entered itself.
pub(super) const OWN: &str = "deep-clear-casting-epoxy";

pub(super) async fn load(
    store: &Store,
    shop: WorkshopId,
    now: Timestamp,
) -> Result<(), StoreError> {
    let own = OwnResin { resin: deep_clear(now)?, is_put_away: false };
    store.put_on_shelf(shop, OWN, 0, &own, now).await?;
    for (index, lot) in lots(now).iter().enumerate() {
        store.put_on_shelf(shop, &format!("lot-{index}"), 0, lot, now).await?;
    }
    for (index, colour) in colours().iter().enumerate() {
        store.put_on_shelf(shop, &format!("colour-{index}"), 0, colour, now).await?;
    }
    Ok(())
}

fn deep_clear(now: Timestamp) -> Result<Resin, StoreError> {
    let at = Temperature::from_celsius(23.0);
    let layer =
        |hours: f64| InLayer { after: Span::from_h(hours), depth: Length::from_mm(20.0), at };
    let said = Sheet {
        pot_life: Some(InBucket { after: Span::from_h(3.5), mass: Mass::from_kg(0.5), at }),
        tacky: Some(layer(10.0)),
        demould: Some(layer(36.0)),
        full_cure: None,
        deepest: Some(DeepestAllowed { depth: Length::from_mm(45.0), at }),
        rule_of_thumb: None,
    };
    let generic = Resin {
        id: ResinId(OWN.into()),
        name: "deep clear casting epoxy, 100:45 by mass".into(),
        purpose: "The shop's own for rivers: entered from its datasheet, taught by a cup.".into(),
        kit: Some(Kit { volume: Volume::from_l(9.0), price: 205.0 }),
        ..shipped::generic(ResinClass::SlowCasting)
    };
    let fitted =
        sheet::fit(&generic, &said).map_err(|error| StoreError::Corrupt(error.to_string()))?;
    let learnt = Learnt {
        rate: 1.09,
        heat: 0.97,
        covariance: [4e-4, 2e-4, -2e-4],
        lot: "S-2604".into(),
        at: now - SignedDuration::from_hours(24 * 19),
    };
    Ok(Resin { learnt: Some(learnt), ..fitted.resin })
}

fn lots(now: Timestamp) -> [Lot; 3] {
    let day = |days: i64| {
        let then = now - SignedDuration::from_hours(24 * days);
        then.to_zoned_datetime(jiff::tz::TimeZone::UTC).date()
    };
    let lot =
        |resin: &str, mark: &str, bought: i64, opened: Option<i64>, litres: f64, cost: f64| Lot {
            resin: ResinId(resin.into()),
            lot: mark.into(),
            bought: day(bought),
            opened: opened.map(day),
            left: Volume::from_l(litres),
            cost,
        };
    [
        lot(OWN, "S-2604", 48, Some(20), 6.5, 205.0),
        lot(shipped::COATING, "C-117", 96, Some(61), 1.2, 60.0),
        lot(shipped::MEDIUM_CASTING, "M-0930", 430, Some(402), 0.7, 75.0),
    ]
}

fn colours() -> [Colour; 3] {
    let colour = |name: &str, kind, base, ceiling_percent| Colour {
        name: name.into(),
        kind,
        base,
        ceiling_percent,
    };
    [
        colour("sea-glass green", ColourKind::Paste, ColourBase::Resin, 5.0),
        colour("pearl flakes", ColourKind::Powder, ColourBase::Dry, 4.0),
        colour("lagoon blue", ColourKind::Dye, ColourBase::Solvent, 1.5),
    ]
}
