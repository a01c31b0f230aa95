//! How a station stands.

/// How a station stands, as the rail shows it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Standing {
    /// Its questions are answered: a filled disc.
    Settled,
    /// Something is still open: a half disc.
    InHand,
    /// Something is wrong: a triangle.
    Trouble,
}

impl Standing {
    /// The word beside the shape.
    pub(crate) const fn word(self) -> &'static str {
        match self {
            Self::Settled => "settled",
            Self::InHand => "in hand",
            Self::Trouble => "trouble",
        }
    }
}
