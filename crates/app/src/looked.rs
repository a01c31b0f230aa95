//! Files that are being looked at, as they were read.

use fondant_files::FileError;
use fondant_files::drawing::Drawing;
use fondant_files::reading::Format;
use fondant_shapes::geometry::mesh::Solid;

/// A drawing as it is looked at.
#[derive(Debug)]
pub struct Looked {
    /// Name of its file.
    pub name: String,
    /// Format of the file.
    pub format: Format,
    /// What was read of it; or why it cannot be read as the maker says.
    pub read: Result<Drawing, FileError>,
}

impl Looked {
    /// Memory that it takes up, bytes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        let points = self.read.as_ref().map_or(0, |drawing| {
            let rings = drawing.rings.iter().map(|closed| closed.ring.len());
            rings.chain(drawing.open.iter().map(|open| open.line.len())).sum()
        });
        16 * 1024 + points * 16
    }
}

/// A mesh as it is looked at.
#[derive(Debug)]
pub struct LookedMesh {
    /// Name of its file.
    pub name: String,
    /// The solid, its unit a metre long.
    pub solid: Solid,
}
