//! What the plan and the shop know of an item of the ready list.

use fondant_bench::Run;
use fondant_bench::run::ReadyItem;
use fondant_bench::warming::{BOTTLE_W_M2K, WarmBath};
use fondant_heat::climate::trouble::{TroubleKind, troubles};
use fondant_quantities::Mass;
use jiff::SignedDuration;

use super::baths::{USUAL_BOTTLE, USUAL_WATER, USUAL_WATER_AT};
use crate::pages::stations::asked::Visit;
use crate::ui::numbers::span;
use crate::ui::units::{InUnits, Shown};
use crate::words::pours;
use crate::words::rack::out_of_pot;

/// How the pot is rated, and whether it takes all.
fn of_pot(run: &Run, shown: Shown) -> String {
    let plan = &run.plan;
    let rated = plan.pot_bar.map(|bar| format!("Rated for {}.", shown.pressure(bar)));
    let out = (plan.out_of_pot > 0).then(|| out_of_pot(plan.out_of_pot));
    rated.into_iter().chain(out).collect::<Vec<_>>().join(" ")
}

/// What the plan and the shop know of an item of the ready list; empty for what only the maker sees.
pub(super) fn known(visit: &Visit, run: &Run, item: ReadyItem) -> String {
    let shop = &visit.open.shop;
    let (shown, zone) = (shop.shown(), shop.hours().zone());
    match item {
        ReadyItem::Minded => visit.document.brief.minded.clone(),
        ReadyItem::HeldDown => {
            let held = &visit.worked.evaluation.held;
            let all: Mass = held.iter().map(|held| held.lift.hold_down).sum();
            format!(
                "The plan asks for {} of weight, spread over clamps and spots.",
                shown.mass(all)
            )
        }
        ReadyItem::Pot => of_pot(run, shown),
        ReadyItem::Warm => warm(visit, run, shown),
        ReadyItem::Air => {
            let limits = shop.site().air_limits(&run.plan.resin);
            let air = shop.site().air_of(&visit.document);
            let until = visit.now + SignedDuration::from_hours(24);
            let found = troubles(&air, &limits, |_| None, visit.now, until);
            let found = found.into_iter().find(|trouble| trouble.kind != TroubleKind::Humid);
            let now = air.at(visit.now);
            let now = format!(
                "{}, {:.0}\u{202f}% humidity now.",
                shown.temperature(now.temperature),
                now.humidity_percent
            );
            match found {
                Some(trouble) => format!("▲ {now} {}", pours::trouble(&trouble, shown, zone)),
                None => format!("{now} Within the resin's limits for the coming day."),
            }
        }
        ReadyItem::Below => run.plan.window.map_or_else(
            || "It is planned hard and sanded.".to_owned(),
            |[opens, closes]| {
                format!(
                    "Sticky from {} to {}.",
                    shown.day_and_time(opens, zone),
                    shown.day_and_time(closes, zone)
                )
            },
        ),
        _ => String::new(),
    }
}

/// How long bottles take in warm water.
fn warm(visit: &Visit, run: &Run, shown: Shown) -> String {
    let air = visit.open.shop.site().air_of(&visit.document).at(visit.now).temperature;
    let target = run.plan.resin_at;
    let says = format!("The plan mixes at {}.", shown.temperature(target));
    if target <= air {
        return says;
    }
    let water_at = USUAL_WATER_AT;
    let bath = WarmBath {
        resin: USUAL_BOTTLE,
        resin_at: air,
        water: USUAL_WATER,
        water_at,
        air,
        film_w_m2k: BOTTLE_W_M2K,
    };
    match bath.takes(target) {
        Some(takes) => format!(
            "{says} Bottles of {} at the shop's {} take about {} in a bucket of water at {}, lidded and upright; dry them before you open them.",
            shown.mass(bath.resin),
            shown.temperature(air),
            span(takes),
            shown.temperature(water_at)
        ),
        None => says,
    }
}
