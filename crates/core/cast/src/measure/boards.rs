//! Boards in a form: resin between them, under them, over the thinner ones.

use fondant_quantities::{Length, Volume};
use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::overlay::trim_marks;
use fondant_shapes::timber::Board;
use fondant_shapes::volume::layout::{Bed, Laid, Layout, What};
use fondant_shapes::volume::methods::{Method, Reading};
use fondant_shapes::volume::sizing::{InForm, LineKind, UncertaintySource};
use fondant_shapes::volume::triangle::Triangle;
use fondant_shapes::volume::{Fill, Profile};

use super::cavities;
use super::in_place::Boards;
use super::inserts;
use super::measured::{Room, Submerged, Ways};
use super::ways::ways;
use crate::checks::Conflict;
use crate::document::{Document, River};

/// The room that boards leave in their form.
pub(super) fn room(
    document: &Document,
    river: &River,
    cast: &CastSize,
) -> Result<Room, Vec<Conflict>> {
    let boards = Boards::lay(document, river, cast)?;
    let ways = ways(&boards);
    let (in_form, factor) = in_form(&boards, &ways);
    let kept = || boards.boards.iter().zip(&river.boards);
    let mut room = Room {
        submerged: kept()
            .enumerate()
            .map(|(index, (laid, board))| submerged(index, laid.volume, board))
            .collect(),
        trim_marks: boards
            .boards
            .iter()
            .map(|b| trim_marks(&b.shape.upper, cast.length, cast.width))
            .collect(),
        bare: kept().map(|(laid, board)| (laid.bare, board.absorption)).collect(),
        layout: layout(&boards),
        fill: fill(&boards).corrected(factor),
        river: if boards.by_stations() { boards.shape.clone() } else { None },
        in_form,
        ways,
    };
    inserts::add(&river.inserts, &mut room);
    Ok(room)
}

fn submerged(index: usize, drawn: Volume, board: &Board) -> Submerged {
    let what = What::Board(index);
    let Some(weighed) = board.weighed else {
        return Submerged { what, volume: drawn, mass: drawn * board.density, weighed: None };
    };
    let triangle = Triangle { drawn, weighed, density: board.density };
    Submerged { what, volume: triangle.lifting(), mass: weighed, weighed: Some(triangle) }
}

fn fill(boards: &Boards<'_>) -> Fill {
    let (base, overfill) = (boards.river.base_gap, boards.document.form.overfill);
    let top = base + boards.thickest;
    let depth = top + overfill;
    let form = Profile::prism(Length::ZERO, depth, boards.cast.area());
    let mut fill = Fill::new(base, depth).with_hollow(form);
    for board in &boards.boards {
        for profile in &board.profiles {
            fill = fill.with_solid(*profile);
        }
        // Overfill stands over the resin, not over the boards.
        if overfill > Length::ZERO {
            fill = fill.with_solid(Profile::prism(top, depth, board.upper));
        }
    }
    fill
}

/// The lines between boards, and how much larger the figure that is used is than
/// the drawing.
fn in_form(boards: &Boards<'_>, ways: &Ways) -> (InForm, f64) {
    let Boards { document, river, cast, thickest, .. } = *boards;
    let mut in_form = InForm::default();
    let thinner: Volume = boards.boards.iter().map(|b| b.upper * (thickest - b.thickness)).sum();
    let drawn = boards.between();
    let kind = match &boards.shape {
        Some(shape) if boards.by_stations() => LineKind::River {
            depth: thickest,
            length: shape.form_length(),
            width: shape.mean_width(),
        },
        _ => LineKind::Around { boards: boards.boards.len(), depth: thickest },
    };
    in_form.line(kind, drawn - thinner);
    let thinnest = boards.boards.iter().map(|b| b.thickness.m()).fold(f64::INFINITY, f64::min);
    let difference = thickest - Length::from_m(thinnest.min(thickest.m()));
    in_form.line(LineKind::ThinnerBoards { difference }, thinner);
    in_form.line(LineKind::Base { depth: river.base_gap }, cast.area() * river.base_gap);
    let overfill = document.form.overfill;
    in_form.line(LineKind::Overfill { depth: overfill }, boards.surface() * overfill);
    cavities::lines(&river.cavities, &mut in_form);

    let own = boards.own();
    let figure = ways.figure.unwrap_or(own);
    // A drawing made from an amount is as sure as the amount.
    let believed = ways.reading(figure).filter(|_| figure != own || boards.by_amounts());
    if let Some(reading) = believed.filter(|_| figure != own) {
        in_form.line(LineKind::Correction { method: figure }, reading.volume - drawn);
    }
    uncertainties(boards, believed, &mut in_form);
    let factor = believed.map_or(1.0, |r| r.volume / drawn);
    (in_form, if factor.is_finite() && factor > 0.0 { factor } else { 1.0 })
}

fn uncertainties(boards: &Boards<'_>, believed: Option<&Reading>, in_form: &mut InForm) {
    let tolerance = boards.document.tape_tolerance;
    let depth = boards.thickest + boards.document.form.overfill;
    match (believed, boards.shape.as_ref().filter(|_| boards.as_stations)) {
        (Some(reading), _) => {
            let source = match reading.method {
                Method::DryFill => UncertaintySource::DryFill,
                Method::Weighed => UncertaintySource::Weighing,
                Method::Outlines => UncertaintySource::Outlines,
                Method::Stations => UncertaintySource::Spacing,
            };
            in_form.uncertain(source, reading.uncertainty * 0.5);
        }
        (None, Some(river)) => {
            in_form.uncertain(
                UncertaintySource::Spacing,
                river.area_uncertainty_from_spacing() * depth,
            );
            in_form.uncertain(
                UncertaintySource::Tape,
                river.area_uncertainty_from_tape(tolerance) * depth,
            );
        }
        (None, None) => {
            let squares: f64 = boards.boards.iter().map(|b| b.area_sd.m2().powi(2)).sum();
            let area = fondant_quantities::Area::from_m2(squares.sqrt());
            in_form.uncertain(UncertaintySource::Outlines, area * depth);
        }
    }
    // A dry fill was poured to the boards' faces: their thickness is in it.
    if believed.is_none_or(|r| r.method != Method::DryFill) {
        in_form.uncertain(UncertaintySource::Depth, boards.surface() * (tolerance / 3f64.sqrt()));
    }
}

fn layout(boards: &Boards<'_>) -> Layout {
    let base = boards.river.base_gap;
    Layout {
        bed: Bed::Form,
        length: boards.cast.length,
        width: boards.cast.width,
        height: Length::ZERO,
        laid: boards
            .boards
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
