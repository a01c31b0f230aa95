//! What the piece is for.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// What the piece is for.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Brief {
    /// The finish wanted, in the maker's words.
    pub finish: String,
    /// When it must be done.
    pub deadline: Option<Date>,
    /// The piece stands outdoors.
    pub is_outdoor: bool,
    /// Food will touch it.
    pub touches_food: bool,
    /// Light shines through it.
    pub is_lit: bool,
}
