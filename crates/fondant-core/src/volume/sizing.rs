//! Every line of the volume and how sure the sum is.

use crate::quantities::{Length, Volume};
use crate::timber::River;

use super::Fill;

/// What a line of the volume is for, with the figures that made it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum LineKind {
    /// The river between the boards: depth × length × mean width.
    River {
        /// Depth beside the thicker board.
        depth: Length,
        /// Inside length of the form.
        length: Length,
        /// Mean width.
        width: Length,
    },
    /// Under the boards, over the whole form.
    Base {
        /// Depth.
        depth: Length,
    },
    /// Over the thinner board, or under it where it is packed up flush.
    ThinnerBoard {
        /// Difference of the boards' thickness.
        difference: Length,
    },
    /// Proud of the boards, over the river.
    Overfill {
        /// Depth.
        depth: Length,
    },
    /// Stays in buckets and on sticks.
    BucketResidue {
        /// Share of what is poured, 0…1.
        ratio: f64,
    },
}

/// One line of the volume.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Line {
    /// What it is for.
    pub kind: LineKind,
    /// How much.
    pub volume: Volume,
}

/// One source of doubt, as a standard uncertainty of the total.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Contribution {
    /// What the edge does between stations.
    Spacing(Volume),
    /// Reading the widths off the tape.
    Tape(Volume),
    /// Reading the boards' thickness and the base layer.
    Depth(Volume),
}

impl Contribution {
    /// Its size.
    #[must_use]
    pub fn volume(&self) -> Volume {
        match self {
            Self::Spacing(v) | Self::Tape(v) | Self::Depth(v) => *v,
        }
    }
}

/// The volume of a cast.
#[derive(Debug, Clone, PartialEq)]
pub struct Sizing {
    /// Lines that are not nought, in the order in which a maker counts them.
    pub lines: Vec<Line>,
    /// All lines.
    pub total: Volume,
    /// What goes into the form: all lines but the bucket residue.
    pub poured: Volume,
    /// Sources of doubt.
    pub contributions: Vec<Contribution>,
    /// About 95 in 100 casts lie within ± this: twice the standard uncertainty.
    pub uncertainty: Volume,
}

/// Sizes a fill: its lines and its uncertainty.
///
/// `tape_tolerance` is how far any reading may be off; `residue_ratio` the
/// share of the poured volume that stays in buckets.
#[must_use]
pub fn size(fill: &Fill, river: &River, tape_tolerance: Length, residue_ratio: f64) -> Sizing {
    let mut lines = vec![
        Line {
            kind: LineKind::River {
                depth: fill.thicker,
                length: river.form_length(),
                width: river.mean_width(),
            },
            volume: fill.river_area * fill.thicker,
        },
        Line { kind: LineKind::Base { depth: fill.base }, volume: fill.form_area * fill.base },
        Line {
            kind: LineKind::ThinnerBoard { difference: fill.thicker - fill.thinner },
            volume: fill.thinner_area * (fill.thicker - fill.thinner),
        },
        Line {
            kind: LineKind::Overfill { depth: fill.overfill },
            volume: fill.river_area * fill.overfill,
        },
    ];
    let poured: Volume = lines.iter().map(|line| line.volume).sum();
    lines.push(Line {
        kind: LineKind::BucketResidue { ratio: residue_ratio },
        volume: poured * residue_ratio,
    });
    lines.retain(|line| line.volume > Volume::ZERO);
    let with_residue = 1.0 + residue_ratio;
    let river_depth = fill.thicker + fill.overfill;
    let reading = tape_tolerance / 3f64.sqrt();
    let contributions = vec![
        Contribution::Spacing(river.area_uncertainty_from_spacing() * river_depth * with_residue),
        Contribution::Tape(
            river.area_uncertainty_from_tape(tape_tolerance) * river_depth * with_residue,
        ),
        Contribution::Depth(fill.river_area * reading * with_residue),
    ];
    let squares: f64 = contributions.iter().map(|c| c.volume().m3().powi(2)).sum();
    Sizing {
        lines,
        total: poured * with_residue,
        poured,
        contributions,
        uncertainty: Volume::from_m3(2.0 * squares.sqrt()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::quantities::Area;
    use crate::timber::Station;

    fn sized(residue: f64, tolerance_mm: f64) -> Sizing {
        let mm = Length::from_mm;
        let stations = [(0.0, 200.0), (500.0, 240.0), (1000.0, 220.0)].map(|(at, width)| Station {
            at: mm(at),
            width: mm(width),
            from_wall: None,
        });
        let river = River::new(stations.to_vec(), mm(1000.0), mm(700.0)).unwrap();
        let fill = Fill {
            form_area: Area::from_m2(0.7),
            river_area: river.area(),
            thinner_area: Area::ZERO,
            base: mm(2.0),
            thinner: mm(40.0),
            thicker: mm(40.0),
            overfill: mm(1.0),
        };
        size(&fill, &river, mm(tolerance_mm), residue)
    }

    #[test]
    fn lines_add_up_to_the_total_and_lines_of_nothing_are_left_out() {
        let sizing = sized(0.03, 1.0);
        let sum: Volume = sizing.lines.iter().map(|l| l.volume).sum();
        assert!((sum.l() - sizing.total.l()).abs() < 1e-12);
        // 0.225 m mean × 1 m × 41 mm, base 1.4 L, and 3 % on top.
        assert!((sizing.total.l() - (9.225 + 1.4) * 1.03).abs() < 1e-9);
        assert_eq!(sizing.lines.len(), 4);
        assert!(!sizing.lines.iter().any(|l| matches!(l.kind, LineKind::ThinnerBoard { .. })));
    }

    #[test]
    fn a_worse_tape_widens_the_doubt() {
        assert!(sized(0.0, 5.0).uncertainty > sized(0.0, 1.0).uncertainty);
        assert!(sized(0.0, 0.0).uncertainty > Volume::ZERO, "spacing remains");
    }
}
