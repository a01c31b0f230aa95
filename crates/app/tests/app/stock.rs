//! What of a resin is left, and what of that is free.

use fondant_app::stock::{Reserved, Stock};
use fondant_materials::resin::shelf::Lot;
use fondant_materials::resin::{Kit, ResinId};
use fondant_quantities::{Money, Volume};

fn litres(value: f64) -> Volume {
    Volume::from_l(value)
}

#[test]
fn what_others_have_reserved_is_not_free() {
    let resin = ResinId("deep".into());
    let lot = |of: &str, left: f64| Lot {
        held: None,
        resin: ResinId(of.into()),
        lot: "L".into(),
        bought: jiff::civil::date(2026, 11, 1),
        opened: None,
        left: litres(left),
        cost: Money::ZERO,
    };
    let reserved = |of: &str, volume: f64| Reserved {
        by: "Other".into(),
        resin: ResinId(of.into()),
        volume: litres(volume),
    };
    let mut stock = Stock {
        lots: vec![lot("deep", 6.5), lot("deep", 1.0), lot("coat", 2.0)],
        reserved: vec![reserved("deep", 3.0), reserved("coat", 1.0)],
    };
    assert!((stock.left(&resin).l() - 7.5).abs() < 1e-9);
    assert!((stock.free(&resin).l() - 4.5).abs() < 1e-9);
    let kit = Kit { volume: litres(6.0), price: Money::from_units(150.0) };
    let buying = stock.buying(&resin, Some(kit)).unwrap();
    assert!((buying.opened.l() - 4.5).abs() < 1e-9 && (buying.kit.l() - 6.0).abs() < 1e-9);
    assert_eq!(stock.buying(&resin, None), None);
    stock.reserved.push(reserved("deep", 9.0));
    assert_eq!(stock.free(&resin), Volume::ZERO);
}
