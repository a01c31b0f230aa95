//! Other ways of measuring.

use fondant_quantities::Volume;
use fondant_shapes::volume::methods::Method;
use serde::{Deserialize, Serialize};

/// Other ways of measuring, and which one the plan uses.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
pub struct Checks {
    /// Bulk of rice or sand that filled the form to the boards' faces, the
    /// boards lying on its floor.
    #[serde(rename = "dry_fill_m3", default, skip_serializing_if = "Option::is_none")]
    pub dry_fill: Option<Volume>,
    /// The one that the plan uses; `None` for the one that is drawn.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub figure: Option<Method>,
}
