//! Boards as they lie in their form.

use fondant_quantities::{Area, Length, Volume};
use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::overlay::area_within;
use fondant_shapes::geometry::ruled::Ruled;
use fondant_shapes::geometry::{Outline, edges};
use fondant_shapes::timber::River as RiverShape;
use fondant_shapes::volume::Profile;
use fondant_shapes::volume::methods::Method;

use crate::checks::Conflict;
use crate::document::{Document, River, Shaping};

/// Slices of a sloping board that crosses a wall: within each, its area in
/// the form is taken as quadratic. Eight leave less than 0.01 % on a bevel of
/// a board's own thickness.
const SLICES: usize = 8;
/// An edge closer to a wall than this lies against it and absorbs nothing.
const AGAINST_WALL_M: f64 = 1e-3;

/// One board measured in its form.
pub(super) struct InPlace {
    pub(super) shape: Ruled,
    pub(super) thickness: Length,
    /// What it takes from the form, slice by slice.
    pub(super) profiles: Vec<Profile>,
    pub(super) volume: Volume,
    /// Its upper face inside the form.
    pub(super) upper: Area,
    /// Standard deviation of its area.
    pub(super) area_sd: Area,
    /// Its edges that stand in resin.
    pub(super) bare: Area,
}

/// All boards of a river in their form.
pub(super) struct Boards<'a> {
    pub(super) document: &'a Document,
    pub(super) river: &'a River,
    pub(super) cast: &'a CastSize,
    /// The river by its stations; `None` where they do not fit the form.
    pub(super) shape: Option<RiverShape>,
    pub(super) boards: Vec<InPlace>,
    pub(super) thickest: Length,
    /// They lie as the stations tell, and are as sure as those.
    pub(super) as_stations: bool,
    /// The amount that they are drawn from, where they are shaped by amounts.
    pub(super) amount: Option<Method>,
}

impl<'a> Boards<'a> {
    /// Lays the boards into their form.
    ///
    /// # Errors
    /// [`Conflict::NoOutline`] for a board whose shape is not known.
    pub(super) fn lay(
        document: &'a Document,
        river: &'a River,
        cast: &'a CastSize,
    ) -> Result<Self, Vec<Conflict>> {
        let mut boards = Vec::new();
        for (index, (board, shape)) in river.boards.iter().zip(document.board_shapes()).enumerate()
        {
            let shape = shape.ok_or_else(|| vec![Conflict::NoOutline { board: index }])?;
            boards.push(in_place(shape.ruled(), board.thickness, river, cast));
        }
        let thickest = boards.iter().map(|b| b.thickness).fold(Length::ZERO, Length::max);
        let shape = document.river().and_then(Result::ok);
        let as_stations = document.is_by_stations();
        let amount = document.amounts();
        Ok(Self { document, river, cast, shape, boards, thickest, as_stations, amount })
    }

    pub(super) fn by_stations(&self) -> bool {
        self.river.shaping == Shaping::Stations
    }

    /// Nothing but amounts says where the boards are.
    pub(super) fn by_amounts(&self) -> bool {
        self.river.shaping == Shaping::Amounts
    }

    /// The way of measuring that the drawing is made from.
    pub(super) fn own(&self) -> Method {
        match self.river.shaping {
            Shaping::Stations => Method::Stations,
            Shaping::Outlines => Method::Outlines,
            Shaping::Amounts => self.amount.unwrap_or(Method::DryFill),
        }
    }

    /// Volume between the boards as drawn, up to the face of the thickest.
    pub(super) fn between(&self) -> Volume {
        self.cast.area() * self.thickest - self.boards.iter().map(|b| b.volume).sum()
    }

    /// The resin's surface between the boards.
    pub(super) fn surface(&self) -> Area {
        self.cast.area() - self.boards.iter().map(|b| b.upper).sum()
    }
}

fn in_place(shape: Ruled, thickness: Length, river: &River, cast: &CastSize) -> InPlace {
    let base = river.base_gap;
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
        area_sd: shape.upper.area_uncertainty(river.point_tolerance),
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
