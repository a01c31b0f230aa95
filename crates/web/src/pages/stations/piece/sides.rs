//! What a kind of cast calls its sides, and what it begins with.

use fondant_cast::Kind;
use fondant_quantities::units::UnitSystem;
use fondant_quantities::{Length, bounds};
use fondant_shapes::form::Piece;

use crate::ui::field::{Field, Fields};

/// What a kind calls its three sides.
pub(super) struct Sides {
    pub(super) length: &'static str,
    pub(super) width: &'static str,
    pub(super) thickness: &'static str,
}

pub(super) const fn sides(kind: Kind) -> Sides {
    match kind {
        Kind::River => Sides {
            length: "Finished length",
            width: "Finished width",
            thickness: "Finished thickness",
        },
        Kind::Inlay => {
            Sides { length: "Board length", width: "Board width", thickness: "Finished thickness" }
        }
        Kind::Block => {
            Sides { length: "Block length", width: "Block width", thickness: "Block height" }
        }
        Kind::Embed => Sides {
            length: "Finished length",
            width: "Finished width",
            thickness: "Finished height",
        },
        Kind::Tubes => {
            Sides { length: "Cavity depth", width: "Cavity across", thickness: "Cavity across" }
        }
        Kind::Moulds => {
            Sides { length: "Cavity length", width: "Cavity width", thickness: "Cavity depth" }
        }
        Kind::Coat => Sides {
            length: "Length of the face",
            width: "Width of the face",
            thickness: "Height of its edges",
        },
    }
}

/// Allowances that mean something for a kind: trimming, flattening, squaring.
pub(super) const fn allowances(kind: Kind) -> (bool, bool, bool) {
    match kind {
        Kind::River => (true, true, false),
        Kind::Inlay => (false, true, false),
        Kind::Block | Kind::Embed => (true, false, true),
        Kind::Tubes | Kind::Moulds | Kind::Coat => (false, false, false),
    }
}

/// A piece of a kind to begin from, to be typed over: round in the shop's units.
pub(crate) fn usual_piece(kind: Kind, system: UnitSystem) -> Piece {
    let (unit_mm, [l, w, t, trim, flattening, squaring]) = match system {
        UnitSystem::Metric => (1.0, in_millimetres(kind)),
        UnitSystem::UsCustomary => (25.4, in_inches(kind)),
    };
    let length = |value: f64| Length::from_mm(value * unit_mm);
    Piece {
        length: length(l),
        width: length(w),
        thickness: length(t),
        trim_margin: length(trim),
        flattening: length(flattening),
        squaring: length(squaring),
    }
}

/// Length, width, thickness, trim margin, flattening of each face, squaring of each side.
const fn in_millimetres(kind: Kind) -> [f64; 6] {
    match kind {
        Kind::River => [1200.0, 600.0, 34.0, 10.0, 2.0, 0.0],
        Kind::Inlay => [600.0, 250.0, 30.0, 0.0, 0.0, 0.0],
        Kind::Block => [280.0, 120.0, 45.0, 3.0, 0.0, 4.0],
        Kind::Embed => [90.0, 90.0, 110.0, 5.0, 0.0, 25.0],
        Kind::Tubes => [75.0, 22.0, 22.0, 0.0, 0.0, 0.0],
        Kind::Moulds => [100.0, 100.0, 10.0, 0.0, 0.0, 0.0],
        Kind::Coat => [1200.0, 600.0, 34.0, 0.0, 0.0, 0.0],
    }
}

/// Usual sizes in inches.
const fn in_inches(kind: Kind) -> [f64; 6] {
    match kind {
        Kind::River => [48.0, 24.0, 1.375, 0.375, 0.0625, 0.0],
        Kind::Inlay => [24.0, 10.0, 1.25, 0.0, 0.0, 0.0],
        Kind::Block => [11.0, 5.0, 1.75, 0.125, 0.0, 0.125],
        Kind::Embed => [3.5, 3.5, 4.5, 0.25, 0.0, 1.0],
        Kind::Tubes => [3.0, 0.875, 0.875, 0.0, 0.0, 0.0],
        Kind::Moulds => [4.0, 4.0, 0.375, 0.0, 0.0, 0.0],
        Kind::Coat => [48.0, 24.0, 1.375, 0.0, 0.0, 0.0],
    }
}

/// The few questions with which a cast of a kind begins.
pub(crate) fn begin_fields(fields: &Fields<'_>, kind: Kind) -> Vec<Field> {
    let (piece, sides) = (usual_piece(kind, fields.shown.system), sides(kind));
    let mut all = vec![
        fields.length("length", sides.length, piece.length),
        fields.length("width", sides.width, piece.width),
    ];
    if kind != Kind::Tubes {
        all.push(fields.length("thickness", sides.thickness, piece.thickness));
    }
    if kind.has_moulds() {
        all.push(fields.number("count", "How many cavities", 6.0, &bounds::MOULD_COUNT));
    } else if allowances(kind).0 {
        all.push(
            fields
                .length("trim_margin", "Trim margin, every side", piece.trim_margin)
                .hint("Sawn off once it is cured."),
        );
    }
    all
}
