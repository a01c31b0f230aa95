//! The kinds of cast. One engine, different questions.

use serde::{Deserialize, Serialize};

/// A kind of cast.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Kind {
    /// Boards with live edges in a shallow wide form, resin between and under them.
    #[default]
    River,
    /// Knots, cracks, milled pockets and channels in one piece of timber.
    Inlay,
    /// Several colours poured into one block, sawn into blanks.
    Block,
    /// A tube held by plugs in a cavity, filled round.
    #[serde(rename = "tube_blanks")]
    Tubes,
    /// An object in a tall clear block.
    Embed,
    /// Many equal cavities, timber pieces pressed in.
    Moulds,
    /// A thin self-levelling coat over a finished face.
    Coat,
}

impl Kind {
    /// All of them, in the order in which they are offered.
    pub const ALL: [Self; 7] =
        [Self::River, Self::Inlay, Self::Block, Self::Tubes, Self::Embed, Self::Moulds, Self::Coat];

    /// Its name in addresses and forms.
    #[must_use]
    pub const fn slug(self) -> &'static str {
        match self {
            Self::River => "river",
            Self::Inlay => "inlay",
            Self::Block => "block",
            Self::Tubes => "tube-blanks",
            Self::Embed => "embed",
            Self::Moulds => "moulds",
            Self::Coat => "coat",
        }
    }

    /// From its name in an address or a form.
    #[must_use]
    pub fn from_slug(slug: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|kind| kind.slug() == slug)
    }

    /// Whether it is cast in a form with walls that is built for it.
    #[must_use]
    pub const fn has_form(self) -> bool {
        matches!(self, Self::River | Self::Block | Self::Embed)
    }

    /// Whether it fills many equal cavities of a mould.
    #[must_use]
    pub const fn has_moulds(self) -> bool {
        matches!(self, Self::Tubes | Self::Moulds)
    }

    /// Whether boards lie in it.
    #[must_use]
    pub const fn has_boards(self) -> bool {
        matches!(self, Self::River)
    }
}
