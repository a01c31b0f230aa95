//! The kinds of cast in words.

use fondant_cast::Kind;

/// What a kind is called, at the beginning of a line.
#[must_use]
pub(crate) const fn name(kind: Kind) -> &'static str {
    match kind {
        Kind::River => "River or slab top",
        Kind::Inlay => "Board with inlay",
        Kind::Block => "Block for blanks",
        Kind::Tubes => "Tube-in blanks",
        Kind::Embed => "Deep embed",
        Kind::Moulds => "Small moulds",
        Kind::Coat => "Coat",
    }
}

/// One sentence on what it is.
#[must_use]
pub(crate) const fn sentence(kind: Kind) -> &'static str {
    match kind {
        Kind::River => "Boards in a shallow form with resin between and under them.",
        Kind::Inlay => "Knots, cracks, pockets and channels filled in one piece of timber.",
        Kind::Block => "One block, often of several colours, sawn into blanks.",
        Kind::Tubes => "A plugged tube in each cavity, often with a label, filled round.",
        Kind::Embed => "An object in a tall clear block.",
        Kind::Moulds => "Many equal cavities: coasters, trays, handles, with timber pressed in.",
        Kind::Coat => "A thin self-levelling coat over a finished face.",
    }
}

/// What the second station is about.
#[must_use]
pub(crate) const fn contents(kind: Kind) -> &'static str {
    match kind {
        Kind::River => "Timber",
        Kind::Inlay => "Cavities",
        Kind::Block => "Blanks",
        Kind::Tubes => "Tubes",
        Kind::Embed => "Object",
        Kind::Moulds => "Pieces",
        Kind::Coat => "Face",
    }
}

/// What may be done with it once it is hard.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Hard {
    /// Under the hours to it.
    pub(crate) label: &'static str,
    /// Before the hour from which it may be.
    pub(crate) sentence: &'static str,
    /// On the axis of hours.
    pub(crate) mark: &'static str,
    /// Before the hour, in the strip.
    pub(crate) next: &'static str,
    /// What the first layer joins.
    pub(crate) joins: &'static str,
}

/// What may be done with a cast of a kind once it is hard.
#[must_use]
pub(crate) const fn hard(kind: Kind) -> Hard {
    match kind {
        Kind::River | Kind::Block | Kind::Embed => Hard {
            label: "to open the form",
            sentence: "The form can be opened from",
            mark: "hard: open the form",
            next: "form opens",
            joins: "on the form",
        },
        Kind::Tubes | Kind::Moulds => Hard {
            label: "to open the mould",
            sentence: "The moulds can be opened from",
            mark: "hard: open the mould",
            next: "moulds open",
            joins: "in the mould",
        },
        Kind::Inlay => Hard {
            label: "until it is hard",
            sentence: "It can be machined from",
            mark: "hard: machine it",
            next: "hard",
            joins: "in the timber",
        },
        Kind::Coat => Hard {
            label: "until it is hard",
            sentence: "It can be handled from",
            mark: "hard: handle it",
            next: "hard",
            joins: "on the face",
        },
    }
}
