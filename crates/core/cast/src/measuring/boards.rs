//! Boards in a form: between them, under them, over the thinner ones.

use super::{Contents, Sunk, Ways};
use crate::conflicts::Conflict;
use crate::document::Plan;
use crate::parts::Shaping;
use fondant_quantities::{Area, Length, Mass, Volume};
use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::overlay::{area_within, trim_marks};
use fondant_shapes::geometry::ruled::Ruled;
use fondant_shapes::geometry::{Outline, edges};
use fondant_shapes::timber::{Cavity, River};
use fondant_shapes::volume::layout::{Bed, Laid, Layout, What};
use fondant_shapes::volume::methods::{
    DENSITY_RATIO, DRY_FILL_RATIO, Method, Reading, SCALE_RATIO, kilograms_as_litres,
};
use fondant_shapes::volume::sizing::{Doubt, InForm, LineKind};
use fondant_shapes::volume::{Fill, Profile};

/// Slices of a sloping board that crosses a wall: within each, its area in
/// the form is taken as quadratic. Eight leave less than 0.01 % on a bevel of
/// a board's own thickness.
const SLICES: usize = 8;
/// An edge closer to a wall than this lies against it and drinks nothing.
const AGAINST_WALL_M: f64 = 1e-3;
/// A dry fill this close to what kilograms taken for litres would give is
/// looked at twice.
const LOOKS_ALIKE_RATIO: f64 = 0.02;

/// One board measured in its form.
struct InPlace {
    shape: Ruled,
    thickness: Length,
    profiles: Vec<Profile>,
    volume: Volume,
    upper: Area,
    area_doubt: Area,
    bare: Area,
}

pub(super) fn contents(plan: &Plan, cast: &CastSize) -> Result<Contents, Vec<Conflict>> {
    let by_stations = plan.timber.shaping == Shaping::Stations;
    let river = plan.river().ok();
    let base = plan.form.base_gap;
    let mut boards = Vec::new();
    for (index, (board, shape)) in plan.timber.boards.iter().zip(plan.board_shapes()).enumerate() {
        let shape = shape.ok_or_else(|| vec![Conflict::NoOutline { board: index }])?;
        boards.push(in_place(shape.ruled(), board.thickness, base, cast, plan));
    }
    let thickest = boards.iter().map(|b| b.thickness).fold(Length::ZERO, Length::max);
    let depth = base + thickest + plan.form.overfill;
    let drawn = between(&boards, thickest, cast);
    let ways = ways(plan, cast, thickest, &boards, drawn, river.as_ref());
    let fill = fill(&boards, plan, cast, (base, thickest, depth));
    let (in_form, factor) = in_form(plan, cast, thickest, &boards, &ways, river.as_ref());
    let sunk = boards.iter().zip(&plan.timber.boards).enumerate();
    let mut all = Contents {
        sunk: sunk
            .map(|(index, (b, board))| Sunk {
                what: What::Board(index),
                volume: b.volume,
                mass: board.weighed.unwrap_or(b.volume * board.density),
            })
            .collect(),
        trim_marks: boards
            .iter()
            .map(|b| trim_marks(&b.shape.upper, cast.length, cast.width))
            .collect(),
        bare: boards
            .iter()
            .zip(&plan.timber.boards)
            .map(|(b, board)| (b.bare, board.absorption_ml_m2))
            .collect(),
        layout: layout(&boards, base, cast),
        fill: fill.corrected(factor),
        river: if by_stations { river } else { None },
        in_form,
        ways,
    };
    super::hollows::add_inserts(plan, &mut all);
    Ok(all)
}

fn in_place(
    shape: Ruled,
    thickness: Length,
    base: Length,
    cast: &CastSize,
    plan: &Plan,
) -> InPlace {
    let area = |outline: &Outline| area_within(outline, cast.length, cast.width);
    let upper = area(&shape.upper);
    let inside = Outline::rectangle(cast.length, cast.width).bounds();
    let whole = inside.holds(&shape.upper.bounds()) && inside.holds(&shape.lower.bounds());
    let slices = if whole || shape.is_prism() { 1 } else { SLICES };
    let at = |share: f64| {
        if shape.is_prism() {
            upper
        } else if whole {
            shape.area_at(share)
        } else {
            area(&shape.at(share))
        }
    };
    let profiles: Vec<Profile> = (0..slices)
        .map(|slice| {
            let (low, high) = (slice as f64 / slices as f64, (slice + 1) as f64 / slices as f64);
            Profile {
                from: base + thickness * low,
                to: base + thickness * high,
                areas: [at(low), at(0.5 * (low + high)), at(high)],
            }
        })
        .collect();
    let top = base + thickness;
    InPlace {
        volume: profiles.iter().map(|p| p.volume_to(top)).sum(),
        bare: bare_edge(&shape.upper, cast) * thickness,
        area_doubt: shape.upper.area_uncertainty(plan.timber.point_tolerance),
        profiles,
        shape,
        thickness,
        upper,
    }
}

/// Length of the edges that stand in resin: not those against a wall, nor
/// those outside of it.
fn bare_edge(outline: &Outline, cast: &CastSize) -> Length {
    let (l, w) = (cast.length.m(), cast.width.m());
    let inside = |v: f64, most: f64| v > AGAINST_WALL_M && v < most - AGAINST_WALL_M;
    outline
        .rings()
        .flat_map(|ring| edges(ring))
        .filter(|(a, b)| {
            let middle = a.towards(*b, 0.5);
            inside(middle.x_m, l) && inside(middle.y_m, w)
        })
        .map(|(a, b)| Length::from_m(b.minus(a).norm_m()))
        .sum()
}

/// Volume between the boards as drawn, up to the face of the thickest.
fn between(boards: &[InPlace], thickest: Length, cast: &CastSize) -> Volume {
    cast.area() * thickest - boards.iter().map(|b| b.volume).sum()
}

fn fill(
    boards: &[InPlace],
    plan: &Plan,
    cast: &CastSize,
    (base, thickest, depth): (Length, Length, Length),
) -> Fill {
    let mut fill =
        Fill::new(base, depth).with_hollow(Profile::prism(Length::ZERO, depth, cast.area()));
    let top = base + thickest;
    for board in boards {
        for profile in &board.profiles {
            fill = fill.with_solid(*profile);
        }
        // Overfill stands over the resin, not over the boards.
        if plan.form.overfill > Length::ZERO {
            fill = fill.with_solid(Profile::prism(top, depth, board.upper));
        }
    }
    fill
}

/// The lines between boards, and how much larger the believed figure is than
/// the drawing.
fn in_form(
    plan: &Plan,
    cast: &CastSize,
    thickest: Length,
    boards: &[InPlace],
    ways: &Ways,
    river: Option<&River>,
) -> (InForm, f64) {
    let mut in_form = InForm::default();
    let thinner: Volume = boards.iter().map(|b| b.upper * (thickest - b.thickness)).sum();
    let drawn = between(boards, thickest, cast);
    let by_stations = plan.timber.shaping == Shaping::Stations;
    let kind = match river {
        Some(river) if by_stations => LineKind::River {
            depth: thickest,
            length: river.form_length(),
            width: river.mean_width(),
        },
        _ => LineKind::Around { boards: boards.len(), depth: thickest },
    };
    in_form.line(kind, drawn - thinner);
    let thinnest = boards.iter().map(|b| b.thickness.m()).fold(f64::INFINITY, f64::min);
    let difference = thickest - Length::from_m(thinnest.min(thickest.m()));
    in_form.line(LineKind::ThinnerBoards { difference }, thinner);
    let base = plan.form.base_gap;
    in_form.line(LineKind::Base { depth: base }, cast.area() * base);
    let surface = cast.area() - boards.iter().map(|b| b.upper).sum();
    let overfill = plan.form.overfill;
    in_form.line(LineKind::Overfill { depth: overfill }, surface * overfill);
    cavities(&plan.cavities, &mut in_form);

    let own = if by_stations { Method::Stations } else { Method::Outlines };
    let figure = ways.figure.unwrap_or(own);
    let believed = ways.reading(figure).filter(|_| figure != own);
    if let Some(reading) = believed {
        in_form.line(LineKind::Correction { method: figure }, reading.volume - drawn);
    }
    doubts(
        plan,
        boards,
        (thickest, surface),
        believed,
        river.filter(|_| by_stations),
        &mut in_form,
    );
    let factor = believed.map_or(1.0, |r| r.volume / drawn);
    (in_form, if factor.is_finite() && factor > 0.0 { factor } else { 1.0 })
}

fn doubts(
    plan: &Plan,
    boards: &[InPlace],
    (thickest, surface): (Length, Area),
    believed: Option<&Reading>,
    river: Option<&River>,
    in_form: &mut InForm,
) {
    let depth = thickest + plan.form.overfill;
    match (believed, river) {
        (Some(reading), _) => {
            let doubt = match reading.method {
                Method::DryFill => Doubt::DryFill,
                Method::Weighed => Doubt::Weighing,
                Method::Outlines => Doubt::Outlines,
                Method::Stations => Doubt::Spacing,
            };
            in_form.doubt(doubt, reading.uncertainty * 0.5);
        }
        (None, Some(river)) => {
            in_form.doubt(Doubt::Spacing, river.area_uncertainty_from_spacing() * depth);
            let tape = river.area_uncertainty_from_tape(plan.river.tape_tolerance);
            in_form.doubt(Doubt::Tape, tape * depth);
        }
        (None, None) => {
            let squares: f64 = boards.iter().map(|b| b.area_doubt.m2().powi(2)).sum();
            in_form.doubt(Doubt::Outlines, Area::from_m2(squares.sqrt()) * depth);
        }
    }
    // A dry fill was poured to the boards' faces: their thickness is in it.
    if believed.is_none_or(|r| r.method != Method::DryFill) {
        in_form.doubt(Doubt::Depth, surface * (plan.river.tape_tolerance / 3f64.sqrt()));
    }
}

/// Knots and cracks in the boards, filled beside the river.
pub(super) fn cavities(cavities: &[Cavity], in_form: &mut InForm) {
    let volume: Volume = cavities.iter().map(Cavity::volume_of_all).sum();
    in_form.line(LineKind::Cavities { count: cavities.iter().map(|c| c.count).sum() }, volume);
    // A cavity that is no box is guessed to a fifth.
    let doubtful: Volume =
        cavities.iter().filter(|c| c.shape.factor() < 1.0).map(Cavity::volume_of_all).sum();
    in_form.doubt(Doubt::Cavities, doubtful * 0.1);
}

fn ways(
    plan: &Plan,
    cast: &CastSize,
    thickest: Length,
    boards: &[InPlace],
    drawn: Volume,
    river: Option<&River>,
) -> Ways {
    let by_stations = plan.timber.shaping == Shaping::Stations;
    let mut readings = Vec::new();
    let depth_doubt = |area: Area| (area * (plan.river.tape_tolerance / 3f64.sqrt())).m3();
    let surface = cast.area() - boards.iter().map(|b| b.upper).sum();
    let mut read = |method, volume: Volume, standard: &[f64]| {
        let squares: f64 = standard.iter().map(|s| s * s).sum();
        let uncertainty = Volume::from_m3(2.0 * squares.sqrt());
        readings.push(Reading { method, volume, uncertainty });
    };
    if !by_stations {
        let each = boards.iter().map(|b| (b.area_doubt * b.thickness).m3().powi(2)).sum::<f64>();
        read(Method::Outlines, drawn, &[each.sqrt(), depth_doubt(surface)]);
    }
    // Stations stand beside outlines too, where they fit and were measured.
    if let Some(river) = river.filter(|_| by_stations || !plan.stations_are_guess()) {
        let timber = |area: Area, index: usize| {
            area * plan.timber.boards.get(index).map_or(thickest, |b| b.thickness)
        };
        let gap = cast.area() * thickest
            - timber(river.near_board_area(), 0)
            - timber(river.far_board_area(), 1);
        let spacing = (river.area_uncertainty_from_spacing() * thickest).m3();
        let tape = (river.area_uncertainty_from_tape(plan.river.tape_tolerance) * thickest).m3();
        read(Method::Stations, gap, &[spacing, tape, depth_doubt(river.area())]);
    }
    if let Some(bulk) = plan.checks.dry_fill {
        read(Method::DryFill, bulk, &[0.5 * DRY_FILL_RATIO * bulk.m3()]);
    }
    let weighed: Option<Vec<(Mass, Volume)>> =
        plan.timber.boards.iter().map(|b| b.weighed.map(|mass| (mass, mass / b.density))).collect();
    let mut slip = None;
    if let Some(all) = weighed.filter(|all| !all.is_empty()) {
        let (mass, displaced) =
            all.iter().fold((Mass::ZERO, Volume::ZERO), |(m, v), (a, b)| (m + *a, v + *b));
        let room = cast.area() * thickest;
        let doubt = displaced.m3() * 0.5 * DENSITY_RATIO.hypot(SCALE_RATIO);
        read(Method::Weighed, room - displaced, &[doubt, depth_doubt(cast.area())]);
        slip = Some((kilograms_as_litres(mass, displaced), room));
    }
    let looks_like_slip = plan.checks.dry_fill.zip(slip).is_some_and(|(bulk, (slip, room))| {
        let mistaken = room - Volume::from_l(slip.mass.kg());
        (bulk / mistaken - 1.0).abs() < LOOKS_ALIKE_RATIO
    });
    Ways {
        figure: plan.checks.figure.filter(|f| readings.iter().any(|r| r.method == *f)),
        readings,
        slip: slip.map(|(slip, _)| slip),
        looks_like_slip,
        disagreements: Vec::new(),
    }
}

fn layout(boards: &[InPlace], base: Length, cast: &CastSize) -> Layout {
    Layout {
        bed: Bed::Form,
        length: cast.length,
        width: cast.width,
        height: Length::ZERO,
        laid: boards
            .iter()
            .enumerate()
            .map(|(index, b)| Laid {
                what: What::Board(index),
                shape: b.shape.clone(),
                from: base,
                to: base + b.thickness,
            })
            .collect(),
    }
}
