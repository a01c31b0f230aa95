//! Rooms and solids that several kinds begin with.

use fondant_quantities::Length;
use fondant_shapes::geometry::Outline;
use fondant_shapes::geometry::ruled::{Ruled, Underside};
use fondant_shapes::volume::Fill;
use fondant_shapes::volume::layout::{Bed, Layout};
use fondant_shapes::volume::sizing::InForm;

use super::measured::{Room, Ways};

/// A room with a layout and a fill, nothing else known yet.
pub(super) fn empty(layout: Layout, fill: Fill) -> Room {
    Room {
        river: None,
        layout,
        fill,
        in_form: InForm::default(),
        submerged: Vec::new(),
        ways: Ways::default(),
        trim_marks: Vec::new(),
        bare: Vec::new(),
    }
}

pub(super) fn bed(bed: Bed, length: Length, width: Length, height: Length) -> Layout {
    Layout { bed, length, width, height, laid: Vec::new() }
}

/// A solid with upright sides.
pub(super) fn prism(outline: &Outline) -> Ruled {
    Ruled::new(outline, &Underside::Same)
}
