//! A made-up workshop to look round in. Dates are relative to the day on which it is loaded.

mod error;
pub(crate) mod history;
mod others;
mod pours;
mod rivers;
pub(crate) mod runs;
mod shelf;

use fondant_app::Request;
use fondant_app::beginning::{NewCast, NewWorkshop, SquaredPhoto};
use fondant_app::records::{NewPhoto, Shows, WorkshopSettings};
use fondant_cast::{Document, Site};
use fondant_files::{made_up, photo};
use fondant_pours::Workday;
use fondant_quantities::Length;
use fondant_quantities::units::UnitSystem;
use fondant_shapes::form::owned::{Condition, OwnedForm, OwnedKind};
use fondant_shapes::geometry::homography::Homography;
use fondant_shapes::picture::square_up;
use fondant_shapes::picture::squaring::Squaring;
use jiff::civil::Time;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};

pub(crate) use error::DemoError;

const ZONE: &str = "Europe/Lisbon";

/// Casts by their place in the list.
const BENCH: usize = 0;
const TABLE: usize = 2;
const HALF_POURED: usize = 3;
const WINDOW_SEAT: usize = 4;
const BLOCK: usize = 6;
const IN_POT: usize = 7;
const COASTERS: usize = 9;

/// The workshop and everything in it.
pub(crate) fn workshop(now: Timestamp) -> Result<NewWorkshop, DemoError> {
    let settings = settings();
    let inside = pours::inside(now)?;
    let site = pours::site(&settings, &inside)?;
    let mut casts = casts(now);
    take_plans(&mut casts, &site, now);
    casts[WINDOW_SEAT].photo = Some(slab_photo()?);
    Ok(NewWorkshop {
        settings,
        resins: vec![shelf::deep_clear(now)?],
        lots: shelf::lots(now).to_vec(),
        colours: shelf::colours().to_vec(),
        lessons: Vec::new(),
        casts,
        forms: forms(),
        air: pours::log(&inside, now),
        made_by: Request::default(),
    })
}

fn settings() -> WorkshopSettings {
    let day = Workday { opens: Time::constant(8, 0, 0, 0), closes: Time::constant(18, 30, 0, 0) };
    WorkshopSettings {
        name: "Saltmarsh Lane workshop".into(),
        time_zone: ZONE.into(),
        days: std::array::from_fn(|index| if index < 6 { vec![day] } else { Vec::new() }),
        shop: pours::shop(),
        units: UnitSystem::Metric,
    }
}

/// The casts; the list shows the one changed last first.
fn casts(now: Timestamp) -> Vec<NewCast> {
    let begin = tomorrow_at_eight(now);
    let documents: [(Document, i64); 11] = [
        (rivers::bench(begin), 78),
        (rivers::bar(begin), 52),
        (rivers::side_table(begin), 26),
        (rivers::hall_table(begin), 0),
        (rivers::window_seat(begin), 5),
        (others::inlay(begin), 98),
        (others::block(begin), 120),
        (others::tubes(begin), 31),
        (others::embed(begin), 57),
        (others::coasters(begin), 144),
        (others::coat(begin), 150),
    ];
    let cast = |(document, hours_ago)| {
        let ago = SignedDuration::from_hours(hours_ago) + SignedDuration::from_mins(12);
        NewCast {
            document,
            changed: now - ago,
            facts: Vec::new(),
            agenda: None,
            forecast: None,
            photo: None,
        }
    };
    documents.into_iter().map(cast).collect()
}

fn tomorrow_at_eight(now: Timestamp) -> Timestamp {
    let zone = TimeZone::get(ZONE).unwrap_or(TimeZone::UTC);
    now.to_zoned_datetime(zone.clone())
        .date()
        .tomorrow()
        .and_then(|date| date.at(8, 0, 0, 0).to_zoned_datetime(zone))
        .map_or(now, |at| at.timestamp())
}

/// Plans that the workshop has taken; one that cannot be taken is left as a proposal.
fn take_plans(casts: &mut [NewCast], site: &Site, now: Timestamp) {
    if let Some((taken, facts)) = pours::half_poured(&casts[HALF_POURED].document, site, now) {
        taken.put_into(&mut casts[HALF_POURED], facts, now);
    }
    if let Some((taken, facts)) = pours::in_pot(&casts[IN_POT].document, site, now) {
        taken.put_into(&mut casts[IN_POT], facts, now);
    }
    let begin = now + SignedDuration::from_hours(10);
    let Some(block) = pours::Taken::from(&casts[BLOCK].document, site, begin) else { return };
    block.put_into(&mut casts[BLOCK], Vec::new(), now);
    let Some(table) = pours::Taken::from(&casts[TABLE].document, site, begin) else { return };
    let table = table.at_the_time_of(&block, site).unwrap_or(table);
    table.put_into(&mut casts[TABLE], Vec::new(), now);
}

/// Forms on the wall, and the casts that use two of them.
fn forms() -> Vec<(OwnedForm, Option<usize>)> {
    let form = |name: &str, kind, sides: [f64; 3], cavities, condition| {
        let [length, width, height] = sides.map(Length::from_mm);
        OwnedForm { name: name.into(), kind, length, width, height, cavities, condition }
    };
    let sheet = OwnedKind::SheetForm;
    let long = form("Long form, white", sheet, [1600.0, 800.0, 70.0], 1, Condition::Ready);
    let bench = form("Bench form", sheet, [1221.0, 400.0, 60.0], 1, Condition::Ready);
    let cube = [120.0, 120.0, 180.0];
    let cube = form("Tall cube, acrylic", sheet, cube, 1, Condition::NeedsWork);
    let coasters = [100.0, 100.0, 10.0];
    let coasters = form("Coaster mould", OwnedKind::Mould, coasters, 4, Condition::Ready);
    vec![(long, None), (bench, Some(BENCH)), (cube, None), (coasters, Some(COASTERS))]
}

/// A photo of the window seat's boards, squared up.
fn slab_photo() -> Result<SquaredPhoto, DemoError> {
    let (length, width) = (made_up::LENGTH, made_up::WIDTH);
    let pixels_per_m = 1300.0;
    // As fine as what comes of it.
    let width_px = 1600;
    let corners = made_up::corners(width_px);
    let plane = Homography::of_rectangle(corners, length, width)?;
    let raster = made_up::slab_photo(width_px)?;
    let squared = square_up(&raster, &plane, length, width, pixels_per_m);
    let (kept, squared) = (photo::keep(&raster)?, photo::keep(&squared)?);
    let photo = NewPhoto {
        jpeg: kept.jpeg,
        width: kept.width,
        height: kept.height,
        sha256: kept.sha256,
        shows: Shows::Bench,
    };
    let squaring = Squaring { corners, length, width, pixels_per_m, check: None };
    Ok(SquaredPhoto { photo, squaring, squared: squared.jpeg })
}
