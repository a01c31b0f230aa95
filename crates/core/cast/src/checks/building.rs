//! The figures of how a form is built and a block is sawn, against their bounds.

use fondant_quantities::bounds;
use fondant_shapes::blanks::cutting::Cutting;

use super::bounds::Found;
use crate::document::FormBuild;

impl Found {
    pub(super) fn cutting(&mut self, cutting: &Cutting) {
        let Cutting { length, width, height, kerf, squaring } = *cutting;
        for side in [length, width, height] {
            self.within(&bounds::BLANK_SIDE, side);
        }
        self.within(&bounds::KERF, kerf);
        self.within(&bounds::SQUARING, squaring);
    }

    pub(super) fn build(&mut self, build: &FormBuild) {
        let FormBuild { sheet: _, thickness, release: _, sealant, stock_length, stock_width, kerf } =
            *build;
        self.within(&bounds::SHEET_THICKNESS, thickness);
        self.within(&bounds::SEALANT, sealant);
        self.within(&bounds::STOCK_SIDE, stock_length);
        self.within(&bounds::STOCK_SIDE, stock_width);
        self.within(&bounds::KERF, kerf);
    }
}
