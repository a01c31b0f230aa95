//! The kinds of cast in words.

use fondant_core::plan::Kind;

use super::rail::Station;

/// What a kind is called, at the beginning of a line.
#[must_use]
pub const fn name(kind: Kind) -> &'static str {
    match kind {
        Kind::River => "River or slab top",
        Kind::Inlay => "Board with inlay",
        Kind::Block => "Block for blanks",
        Kind::TubeBlanks => "Tube-in blanks",
        Kind::Embed => "Deep embed",
        Kind::Moulds => "Small moulds",
        Kind::Coat => "Coat",
    }
}

/// One sentence on what it is.
#[must_use]
pub const fn sentence(kind: Kind) -> &'static str {
    match kind {
        Kind::River => "Boards in a shallow form with resin between and under them.",
        Kind::Inlay => "Knots, cracks, pockets and channels filled in one piece of timber.",
        Kind::Block => "One block, often of several colours, sawn into blanks.",
        Kind::TubeBlanks => "A plugged tube in each cavity, often with a label, filled round.",
        Kind::Embed => "An object in a tall clear block.",
        Kind::Moulds => "Many equal cavities: coasters, trays, handles, with timber pressed in.",
        Kind::Coat => "A thin self-levelling coat over a finished face.",
    }
}

/// What the second station is about.
#[must_use]
pub const fn contents(kind: Kind) -> &'static str {
    match kind {
        Kind::River => "Timber",
        Kind::Inlay => "Cavities",
        Kind::Block => "Blanks",
        Kind::TubeBlanks => "Tubes",
        Kind::Embed => "Object",
        Kind::Moulds => "Pieces",
        Kind::Coat => "Face",
    }
}

/// A station's name on the rail of a kind.
#[must_use]
pub const fn station(kind: Kind, station: Station) -> &'static str {
    match (station, kind) {
        (Station::Timber, kind) => contents(kind),
        (Station::Form, Kind::TubeBlanks | Kind::Moulds) => "Moulds",
        (Station::Form, Kind::Inlay | Kind::Coat) => "Volume",
        (station, _) => station.name(),
    }
}
