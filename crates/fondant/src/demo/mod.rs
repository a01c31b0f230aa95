//! A made-up workshop to look round in. Dates are relative to the day on which
//! it is loaded.

mod others;
mod pours;
mod rivers;
mod shelf;

use fondant_files::{made_up, photo};
use fondant_pours::Workday;
use fondant_quantities::Length;
use fondant_quantities::units::UnitSystem;
use fondant_shapes::form::owned::{Condition, OwnedForm, OwnedKind};
use fondant_shapes::geometry::homography::{Homography, Pixel};
use fondant_shapes::picture::square_up;
use fondant_store::repos::{CastId, NewPhoto, NewWorkshop, Squaring, WorkshopId};
use fondant_store::{Store, StoreError};
use jiff::civil::Time;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};

const ZONE: &str = "Europe/Lisbon";

/// Loads the workshop and its casts.
pub(crate) async fn load(store: &Store, now: Timestamp) -> Result<(), StoreError> {
    let day = Workday { opens: Time::constant(8, 0, 0, 0), closes: Time::constant(18, 30, 0, 0) };
    let workshop = NewWorkshop {
        name: "Saltmarsh Lane workshop".into(),
        time_zone: ZONE.into(),
        days: std::array::from_fn(|index| if index < 6 { vec![day] } else { Vec::new() }),
        shop: pours::shop(),
        units: UnitSystem::Metric,
    };
    let id = store.create_workshop(&workshop).await?;
    let begin = tomorrow_at_eight(now);
    // The list shows the one changed last first.
    let casts = [
        rivers::bench(begin),
        rivers::bar(begin),
        rivers::side_table(begin),
        rivers::hall_table(begin),
        rivers::window_seat(begin),
        others::inlay(begin),
        others::block(begin),
        others::tubes(begin),
        others::embed(begin),
        others::coasters(begin),
        others::coat(begin),
    ];
    let hours_ago = [78, 52, 26, 0, 5, 98, 120, 31, 57, 144, 150];
    let mut ids = Vec::new();
    for (plan, hours) in casts.iter().zip(hours_ago) {
        let changed = now - SignedDuration::from_hours(hours) - SignedDuration::from_mins(12);
        ids.push(store.create_cast(id, plan, changed).await?);
    }
    shelf::load(store, id, now).await?;
    pours::load(store, id, &ids, now).await?;
    forms(store, id, &ids).await?;
    slab_photo(store, id, ids[4], now).await?;
    Ok(())
}

fn tomorrow_at_eight(now: Timestamp) -> Timestamp {
    let zone = TimeZone::get(ZONE).unwrap_or(TimeZone::UTC);
    now.to_zoned_datetime(zone.clone())
        .date()
        .tomorrow()
        .and_then(|date| date.at(8, 0, 0, 0).to_zoned_datetime(zone))
        .map_or(now, |at| at.timestamp())
}

/// Forms on the wall, one of them in use.
async fn forms(store: &Store, shop: WorkshopId, casts: &[CastId]) -> Result<(), StoreError> {
    let form = |name: &str, kind, sides: [f64; 3], cavities, condition| {
        let [length, width, height] = sides.map(Length::from_mm);
        OwnedForm { name: name.into(), kind, length, width, height, cavities, condition }
    };
    let long =
        form("Long form, white", OwnedKind::SheetForm, [1600.0, 800.0, 70.0], 1, Condition::Ready);
    let bench =
        form("Bench form", OwnedKind::SheetForm, [1221.0, 400.0, 60.0], 1, Condition::Ready);
    let cube = form(
        "Tall cube, acrylic",
        OwnedKind::SheetForm,
        [120.0, 120.0, 180.0],
        1,
        Condition::NeedsWork,
    );
    let coasters =
        form("Coaster mould", OwnedKind::Mould, [100.0, 100.0, 10.0], 4, Condition::Ready);
    for (form, cast) in [(long, None), (bench, Some(0)), (cube, None), (coasters, Some(9))] {
        let id = store.add_form(shop, &form).await?;
        if let Some(cast) = cast {
            store.book_form(shop, id, casts[cast]).await?;
        }
    }
    Ok(())
}

/// A photo of the window seat's boards, squared up.
async fn slab_photo(
    store: &Store,
    shop: WorkshopId,
    cast: CastId,
    now: Timestamp,
) -> Result<(), StoreError> {
    let corners = made_up::CORNERS.map(|(x_px, y_px)| Pixel { x_px, y_px });
    let (length, width) = (made_up::LENGTH, made_up::WIDTH);
    let pixels_per_m = 1300.0;
    let corrupt = |error: &dyn std::fmt::Display| StoreError::Corrupt(error.to_string());
    let plane =
        Homography::of_rectangle(corners, length, width).map_err(|error| corrupt(&error))?;
    let raster = made_up::slab_photo(2000).map_err(|error| corrupt(&error))?;
    let squared = square_up(&raster, &plane, length, width, pixels_per_m);
    let (kept, squared) = photo::keep(&raster)
        .and_then(|kept| Ok((kept, photo::keep(&squared)?)))
        .map_err(|error| corrupt(&error))?;
    let new =
        NewPhoto { jpeg: kept.jpeg, width: kept.width, height: kept.height, sha256: kept.sha256 };
    let id = store.add_photo(shop, cast, &new, now).await?;
    let squaring = Squaring { corners, length, width, pixels_per_m, check: None };
    store.square_photo(cast, id, &squaring, squared.jpeg).await
}
