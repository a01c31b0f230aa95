//! Other ways of measuring what lies between boards, beside the one that is drawn.

use fondant_quantities::{Area, Mass, Volume};
use fondant_shapes::volume::methods::{
    DENSITY_RATIO, DRY_FILL_RATIO, KilogramsAsLitres, Method, Reading, SCALE_RATIO,
    kilograms_as_litres,
};

use super::in_place::Boards;
use super::measured::Ways;

/// A dry fill this close to what kilograms taken for litres would give is
/// looked at twice.
const LOOKS_ALIKE_RATIO: f64 = 0.02;

/// What each way says that can say something.
pub(super) fn ways(boards: &Boards<'_>) -> Ways {
    let checks = &boards.river.checks;
    let mut readings: Vec<Reading> =
        [outlines(boards), stations(boards)].into_iter().flatten().collect();
    if let Some(bulk) = checks.dry_fill {
        readings.push(reading(Method::DryFill, bulk, &[0.5 * DRY_FILL_RATIO * bulk.m3()]));
    }
    let weighed = weighed(boards);
    readings.extend(weighed.as_ref().map(|(reading, _)| *reading));
    let slip = weighed.map(|(_, slip)| slip);
    let looks_like_slip = checks.dry_fill.zip(slip).is_some_and(|(bulk, slip)| {
        let room = boards.cast.area() * boards.thickest;
        let mistaken = room - Volume::from_l(slip.mass.kg());
        (bulk / mistaken - 1.0).abs() < LOOKS_ALIKE_RATIO
    });
    Ways {
        figure: checks.figure.filter(|f| readings.iter().any(|r| r.method == *f)),
        readings,
        slip,
        looks_like_slip,
        disagreements: Vec::new(),
    }
}

/// A volume with twice the root of the sum of squared standard deviations, m³.
fn reading(method: Method, volume: Volume, sds_m3: &[f64]) -> Reading {
    let squares: f64 = sds_m3.iter().map(|sd| sd * sd).sum();
    Reading { method, volume, uncertainty: Volume::from_m3(2.0 * squares.sqrt()) }
}

/// Standard deviation of a volume over an area whose depth is read off a tape, m³.
fn depth_sd(boards: &Boards<'_>, area: Area) -> f64 {
    (area * (boards.document.tape_tolerance / 3f64.sqrt())).m3()
}

fn outlines(boards: &Boards<'_>) -> Option<Reading> {
    // Drawn from the stations and left so, or from amounts, they say nothing of their own.
    if boards.as_stations || boards.by_amounts() {
        return None;
    }
    let squares: f64 = boards.boards.iter().map(|b| (b.area_sd * b.thickness).m3().powi(2)).sum();
    let sds = [squares.sqrt(), depth_sd(boards, boards.surface())];
    Some(reading(Method::Outlines, boards.between(), &sds))
}

/// Stations stand beside outlines too, where they fit and were measured. They tell of two boards:
/// beside a third they are no way of measuring.
fn stations(boards: &Boards<'_>) -> Option<Reading> {
    let Boards { document, river, thickest, .. } = *boards;
    let shape = boards.shape.as_ref()?;
    let tells = river.boards.len() <= 2 && !document.stations_are_guess();
    if !boards.by_stations() && !tells {
        return None;
    }
    let timber = |area: Area, index: usize| {
        area * river.boards.get(index).map_or(thickest, |board| board.thickness)
    };
    let gap = boards.cast.area() * thickest
        - timber(shape.near_board_area(), 0)
        - timber(shape.far_board_area(), 1);
    let spacing = (shape.area_uncertainty_from_spacing() * thickest).m3();
    let tape = (shape.area_uncertainty_from_tape(document.tape_tolerance) * thickest).m3();
    Some(reading(Method::Stations, gap, &[spacing, tape, depth_sd(boards, shape.area())]))
}

/// The form less what the boards displace by their mass, and what taking kilograms for litres
/// would do; `None` unless every board was weighed.
fn weighed(boards: &Boards<'_>) -> Option<(Reading, KilogramsAsLitres)> {
    let all: Option<Vec<(Mass, Volume)>> = boards
        .river
        .boards
        .iter()
        .map(|b| b.weighed.map(|mass| (mass, mass / b.density)))
        .collect();
    let all = all.filter(|all| !all.is_empty())?;
    let (mass, displaced) =
        all.iter().fold((Mass::ZERO, Volume::ZERO), |(m, v), (a, b)| (m + *a, v + *b));
    let room = boards.cast.area() * boards.thickest;
    let sd = displaced.m3() * 0.5 * DENSITY_RATIO.hypot(SCALE_RATIO);
    let sds = [sd, depth_sd(boards, boards.cast.area())];
    let slip = kilograms_as_litres(mass, displaced);
    Some((reading(Method::Weighed, room - displaced, &sds), slip))
}
