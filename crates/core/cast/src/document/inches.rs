//! What a new cast begins with, round in inches, pounds and ounces: for shops that measure so.

use fondant_quantities::bounds;
use fondant_quantities::units::{AbsorptionUnit, DensityUnit, MassUnit, Unit};
use fondant_quantities::{Length, Mass};
use fondant_shapes::timber::Board;

use super::building::FormBuild;
use super::cast::Document;
use super::contents::{Contents, Tubes};

const fn inch(value: f64) -> Length {
    Length::from_mm(25.4 * value)
}

impl Document {
    /// Makes what nobody has typed yet round in inches, pounds and ounces instead of millimetres and
    /// kilograms. The sizes of the piece stay, and what follows from them.
    pub fn round_in_inches(&mut self) {
        self.tape_tolerance = inch(1.0 / 32.0);
        self.conditions.bucket = MassUnit::Pound.read(5.0);
        if self.form.overfill > Length::ZERO {
            self.form.overfill = inch(1.0 / 16.0);
        }
        if let Some(build) = self.contents.build_mut() {
            round_build(build);
        }
        match &mut self.contents {
            Contents::River(river) => {
                (river.base_gap, river.point_tolerance) = (inch(1.0 / 16.0), inch(1.0 / 32.0));
                river.boards.iter_mut().for_each(round_board);
            }
            Contents::Inlay(inlay) => {
                round_board(&mut inlay.board);
                for knot in &mut inlay.cavities {
                    (knot.length, knot.width) = (inch(2.5), inch(1.5));
                }
            }
            Contents::Block(block) => {
                let cutting = &mut block.cutting;
                cutting.length = cutting.length.min(inch(5.0));
                (cutting.width, cutting.height) = (inch(0.75), inch(0.75));
                (cutting.kerf, cutting.squaring) = (inch(1.0 / 16.0), inch(1.0 / 16.0));
            }
            Contents::Tubes(tubes) => round_tubes(tubes),
            Contents::Moulds(moulds) => moulds.wall = inch(0.375),
            Contents::Coat(coat) => coat.thickness = inch(1.0 / 16.0),
            Contents::Embed(embed) => {
                for object in &mut embed.inserts {
                    object.mass = tenths_of_an_ounce(object.mass);
                }
            }
        }
    }
}

/// Medium hardwood, 650 kg/m³, and a bare edge, 100 mL/m², to the figures that are said there.
fn round_board(board: &mut Board) {
    board.density = DensityUnit::PoundPerCubicFoot.read(40.0);
    board.absorption = AbsorptionUnit::FluidOuncePerSquareFoot.read(0.3);
}

fn tenths_of_an_ounce(mass: Mass) -> Mass {
    let tenths = (MassUnit::Ounce.write(mass) * 10.0).round();
    MassUnit::Ounce.read(tenths / 10.0).max(bounds::MASS.min)
}

fn round_build(build: &mut FormBuild) {
    (build.thickness, build.kerf) = (inch(0.75), inch(1.0 / 8.0));
    build.sealant = inch(3.0 / 16.0);
    (build.stock_length, build.stock_width) = (inch(96.0), inch(48.0));
}

/// A tube within plugs of a quarter of an inch, half as wide as its cavity.
fn round_tubes(tubes: &mut Tubes) {
    let plugs = inch(0.25);
    let sixteenths = |length: Length| inch((length.mm() / 25.4 * 16.0).floor().max(1.0) / 16.0);
    let (length, outside) = (tubes.hollow.depth() - plugs * 2.0, sixteenths(tubes.tube.outside));
    if length > plugs {
        (tubes.tube.length, tubes.tube.plugs, tubes.tube.outside) = (length, plugs, outside);
        (tubes.label.tube, tubes.label.tube_length) = (outside, length);
    }
    (tubes.label.overlap, tubes.label.trim) = (inch(1.0 / 16.0), inch(1.0 / 32.0));
    // Paper is told in thousandths.
    tubes.label.paper = inch(0.008);
    tubes.wall = inch(3.0 / 16.0);
}
