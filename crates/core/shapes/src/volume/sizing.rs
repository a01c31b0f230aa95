//! Every line of the volume and how sure the sum is.

use fondant_quantities::{Area, Length, Volume};

use super::methods::Method;

/// What a line of the volume is for, with the figures that made it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum LineKind {
    /// The river between the boards: depth × length × mean width.
    River {
        /// Depth beside the thickest board.
        depth: Length,
        /// Inside length of the form.
        length: Length,
        /// Mean width.
        width: Length,
    },
    /// Between and around boards of drawn outlines.
    Around {
        /// Boards in the form.
        boards: usize,
        /// Depth beside the thickest board.
        depth: Length,
    },
    /// An empty form.
    Container {
        /// Inside length.
        length: Length,
        /// Inside width.
        width: Length,
        /// Depth of the resin.
        depth: Length,
    },
    /// What lies in it takes away.
    Inserts {
        /// Number of pieces in the line.
        count: u32,
    },
    /// Cavities that are filled.
    Cavities {
        /// Number of pieces in the line.
        count: u32,
    },
    /// Mould cavities, net of the objects in each.
    Moulds {
        /// Number of pieces in the line.
        count: u32,
        /// Net volume of each.
        each: Volume,
    },
    /// A coat over a face.
    Face {
        /// The face.
        area: Area,
        /// The coat.
        thickness: Length,
    },
    /// A coat down the edges.
    Edges {
        /// The edges.
        area: Area,
        /// The coat.
        thickness: Length,
    },
    /// Runs off a coated face.
    RunOff {
        /// Share of the coat, 0…1.
        ratio: f64,
    },
    /// Under the boards, over the whole form.
    Base {
        /// Depth.
        depth: Length,
    },
    /// Over thinner boards, or under them where they are packed up flush.
    ThinnerBoards {
        /// Largest difference of thickness.
        difference: Length,
    },
    /// Proud of the boards, over the resin.
    Overfill {
        /// Depth.
        depth: Length,
    },
    /// What another way of measuring adds to the drawing or takes off it.
    Correction {
        /// The way that the plan uses.
        method: Method,
    },
    /// Brushed on bare timber before the first pour.
    SealCoat {
        /// Bare edges.
        area: Area,
    },
    /// Absorption by bare timber.
    Absorption {
        /// Bare edges and walls of cavities.
        area: Area,
    },
    /// A form out of level is filled until its high end is covered.
    Level {
        /// Rise from end to end.
        rise: Length,
    },
    /// Kept back for a leak.
    Leak {
        /// Share of what is poured, 0…1.
        ratio: f64,
    },
    /// Stays in buckets and on sticks.
    BucketResidue {
        /// Share of what is poured, 0…1.
        ratio: f64,
    },
}

/// One line of the volume; what takes away is negative.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Line {
    /// Kind of the line.
    pub kind: LineKind,
    /// Volume of the line.
    pub volume: Volume,
}

/// Source of uncertainty.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum UncertaintySource {
    /// What the edge does between stations.
    Spacing,
    /// Reading widths and sizes off the tape.
    Tape,
    /// Points of the outlines.
    Outlines,
    /// Reading the boards' thickness and the depth.
    Depth,
    /// The bulk of a dry fill.
    DryFill,
    /// Density and mass of weighed timber.
    Weighing,
    /// Cavities that are not boxes.
    Cavities,
    /// Volume that objects displace.
    Inserts,
    /// Absorption by timber.
    Absorption,
    /// How thick a coat comes out.
    Coat,
}

/// One source's standard uncertainty of the total.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Contribution {
    /// Source of the uncertainty.
    pub source: UncertaintySource,
    /// Standard uncertainty of the total that it causes.
    pub volume: Volume,
}

/// Contents of the form: its lines and their uncertainties, before anything is lost
/// on the way there.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct InForm {
    /// Lines.
    pub lines: Vec<Line>,
    /// Standard uncertainties.
    pub uncertainties: Vec<Contribution>,
}

impl InForm {
    /// Adds a line.
    pub fn line(&mut self, kind: LineKind, volume: Volume) {
        self.lines.push(Line { kind, volume });
    }

    /// Adds a standard uncertainty.
    pub fn uncertain(&mut self, source: UncertaintySource, volume: Volume) {
        self.uncertainties.push(Contribution { source, volume });
    }

    /// All lines.
    #[must_use]
    pub fn total(&self) -> Volume {
        self.lines.iter().map(|l| l.volume).sum()
    }
}

/// What is lost on the way to the form or in it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Losses {
    /// Bare timber that resin wets.
    pub bare: Area,
    /// Absorption by that timber.
    pub absorbed: Volume,
    /// What is brushed on it instead.
    pub seal_coat: Volume,
    /// Rise of the floor from end to end.
    pub rise: Length,
    /// Extra resin until the high end is covered.
    pub level: Volume,
    /// Kept back for a leak, share of what is poured.
    pub leak_ratio: f64,
    /// Stays in buckets, share of what is poured.
    pub residue_ratio: f64,
}

/// Relative standard uncertainty of absorption (convention: species and sealing vary by half).
const ABSORPTION_UNCERTAINTY: f64 = 0.5;

/// The volume of a cast.
#[derive(Debug, Clone, PartialEq)]
pub struct Sizing {
    /// Lines that are not 0, in the order in which a maker counts them.
    pub lines: Vec<Line>,
    /// All lines.
    pub total: Volume,
    /// Bare timber that resin wets.
    pub bare: Area,
    /// What goes into the form: all lines but leak allowance and bucket residue.
    pub poured: Volume,
    /// Sources of uncertainty.
    pub contributions: Vec<Contribution>,
    /// About 95 in 100 casts lie within ± this: twice the standard uncertainty.
    pub uncertainty: Volume,
}

impl Sizing {
    /// Adds up what lies in the form and what is lost.
    #[must_use]
    pub fn new(in_form: InForm, losses: &Losses) -> Self {
        let InForm { mut lines, mut uncertainties } = in_form;
        let mut add = |kind, volume| lines.push(Line { kind, volume });
        add(LineKind::SealCoat { area: losses.bare }, losses.seal_coat);
        add(LineKind::Absorption { area: losses.bare }, losses.absorbed);
        add(LineKind::Level { rise: losses.rise }, losses.level);
        let poured: Volume = lines.iter().map(|l| l.volume).sum();
        let mut add = |kind, volume| lines.push(Line { kind, volume });
        add(LineKind::Leak { ratio: losses.leak_ratio }, poured * losses.leak_ratio);
        add(LineKind::BucketResidue { ratio: losses.residue_ratio }, poured * losses.residue_ratio);
        let factor = 1.0 + losses.leak_ratio + losses.residue_ratio;
        uncertainties.push(Contribution {
            source: UncertaintySource::Absorption,
            volume: losses.absorbed * ABSORPTION_UNCERTAINTY,
        });
        for contribution in &mut uncertainties {
            contribution.volume = contribution.volume * factor;
        }
        let uncertainty = twice_root(&uncertainties);
        lines.retain(|line| line.volume.m3().abs() > 1e-12);
        uncertainties.retain(|c| c.volume.m3() > 1e-12);
        Self {
            lines,
            total: poured * factor,
            bare: losses.bare,
            poured,
            contributions: uncertainties,
            uncertainty,
        }
    }
}

fn twice_root(uncertainties: &[Contribution]) -> Volume {
    let squares: f64 = uncertainties.iter().map(|c| c.volume.m3().powi(2)).sum();
    Volume::from_m3(2.0 * squares.sqrt())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn losses(residue_ratio: f64) -> Losses {
        Losses {
            bare: Area::from_m2(0.1),
            absorbed: Volume::from_l(0.01),
            seal_coat: Volume::ZERO,
            rise: Length::from_mm(2.0),
            level: Volume::from_l(0.2),
            leak_ratio: 0.01,
            residue_ratio,
        }
    }

    fn in_form() -> InForm {
        let mut in_form = InForm::default();
        in_form.line(LineKind::Base { depth: Length::from_mm(2.0) }, Volume::from_l(1.4));
        in_form.line(LineKind::Inserts { count: 1 }, Volume::from_l(-0.4));
        in_form.line(LineKind::Overfill { depth: Length::ZERO }, Volume::ZERO);
        in_form.uncertain(UncertaintySource::Tape, Volume::from_l(0.03));
        in_form.uncertain(UncertaintySource::Depth, Volume::from_l(0.04));
        in_form
    }

    #[test]
    fn lines_add_up_to_the_total_and_lines_of_nothing_are_left_out() {
        let sizing = Sizing::new(in_form(), &losses(0.03));
        let sum: Volume = sizing.lines.iter().map(|l| l.volume).sum();
        assert!((sum.l() - sizing.total.l()).abs() < 1e-12);
        assert!((sizing.total.l() - (1.0 + 0.01 + 0.2) * 1.04).abs() < 1e-9);
        assert_eq!(sizing.lines.len(), 6);
    }

    #[test]
    fn uncertainties_add_in_quadrature_and_grow_with_what_is_lost() {
        let sizing = Sizing::new(in_form(), &losses(0.0));
        // 0.05 from the form, 0.005 from absorption, one percent on top.
        let expected = 2.0 * 0.05_f64.hypot(0.005) * 1.01;
        assert!((sizing.uncertainty.l() - expected).abs() < 1e-9);
    }
}
