//! Knots, cracks, pockets and channels in timber.

use fondant_quantities::{Area, Length, Volume};
use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::ruled::Ruled;
use fondant_shapes::timber::{Cavity, CavityShape};
use fondant_shapes::volume::layout::{Bed, Laid, What, around, shelves};
use fondant_shapes::volume::sizing::{InForm, LineKind, UncertaintySource};
use fondant_shapes::volume::{Fill, Profile};

use super::measured::Room;
use super::outlines::{bed, empty};
use crate::document::{Document, Inlay};

/// Most of a row's equal cavities that are drawn, and most of all rows together: more cannot be
/// told apart on a page.
const MOST_OF_A_ROW: usize = 40;
const MOST_DRAWN: usize = 400;

/// The lines of cavities that are filled beside everything else.
pub(super) fn lines(cavities: &[Cavity], in_form: &mut InForm) {
    let volume: Volume = cavities.iter().map(Cavity::volume_of_all).sum();
    in_form.line(LineKind::Cavities { count: cavities.iter().map(|c| c.count).sum() }, volume);
    // The volume of a cavity that is not a box is known to ±20 %.
    let guessed: Volume =
        cavities.iter().filter(|c| c.shape.factor() < 1.0).map(Cavity::volume_of_all).sum();
    in_form.uncertain(UncertaintySource::Cavities, guessed * 0.1);
}

/// The room in the cavities of a board.
pub(super) fn inlay(document: &Document, inlay: &Inlay, cast: &CastSize) -> Room {
    let deepest = inlay.cavities.iter().map(|c| c.depth).fold(Length::ZERO, Length::max);
    let overfill = document.form.overfill;
    let mut fill = Fill::new(Length::ZERO, deepest + overfill);
    let mut layout = bed(Bed::Board, cast.length, cast.width, cast.thickness);
    let drawn = drawn(&inlay.cavities);
    let sizes: Vec<(Length, Length)> = inlay
        .cavities
        .iter()
        .zip(&drawn)
        .flat_map(|(c, drawn)| std::iter::repeat_n((c.length, c.width), *drawn))
        .collect();
    let mut middles = shelves(&sizes, cast.length, cast.width).into_iter();
    let rim: Area = inlay.cavities.iter().map(Cavity::rim_area).sum();
    for (index, (cavity, drawn)) in inlay.cavities.iter().zip(drawn).enumerate() {
        let profile = Profile { from: deepest - cavity.depth, to: deepest, areas: cavity.areas() };
        fill = fill.with_hollow(profile);
        for middle in middles.by_ref().take(drawn) {
            layout.laid.push(Laid {
                what: What::Hollow(index),
                shape: cavity_shape(cavity, middle),
                from: cast.thickness - cavity.depth,
                to: cast.thickness,
            });
        }
    }
    let fill = fill.with_hollow(Profile::prism(deepest, deepest + overfill, rim));
    let mut all = empty(layout, fill);
    lines(&inlay.cavities, &mut all.in_form);
    all.in_form.line(LineKind::Overfill { depth: overfill }, rim * overfill);
    // Boxes are read off a tape: every side by its own share.
    let reading = document.tape_tolerance / 3f64.sqrt();
    let squares: f64 = inlay
        .cavities
        .iter()
        .map(|c| {
            let shares = [c.length, c.width, c.depth].map(|side| (reading / side).powi(2));
            (c.volume_of_all().m3()).powi(2) * shares.iter().sum::<f64>()
        })
        .sum();
    all.in_form.uncertain(UncertaintySource::Tape, Volume::from_m3(squares.sqrt()));
    let absorbs = inlay.board.absorption;
    all.bare = inlay.cavities.iter().map(|c| (c.wetted_area(), absorbs)).collect();
    all
}

/// How many of each row's cavities are drawn.
fn drawn(cavities: &[Cavity]) -> Vec<usize> {
    let mut left = MOST_DRAWN;
    let of = |cavity: &Cavity| {
        let drawn = (cavity.count as usize).min(MOST_OF_A_ROW).min(left);
        left -= drawn;
        drawn
    };
    cavities.iter().map(of).collect()
}

/// A cavity as it is drawn: a knot narrows to its floor, a crack to nothing.
fn cavity_shape(cavity: &Cavity, middle: (Length, Length)) -> Ruled {
    let (is_round, floor) = match cavity.shape {
        CavityShape::Knot => (true, (0.3, 0.3)),
        CavityShape::Bore => (true, (1.0, 1.0)),
        CavityShape::Crack => (false, (1.0, 0.05)),
        CavityShape::RoundChannel => (false, (1.0, 0.4)),
        CavityShape::Pocket | CavityShape::Channel => (false, (1.0, 1.0)),
    };
    Ruled {
        lower: around(middle, cavity.length * floor.0, cavity.width * floor.1, is_round),
        upper: around(middle, cavity.length, cavity.width, is_round),
    }
}
