//! Corners of triangles, and what can be wrong with a mesh of them.

/// A corner of a triangle, in the unit of the file.
pub type Corner = [f32; 3];

/// A corner by its bits, with one zero: -0.0 is the same place as 0.0.
pub(super) fn key(corner: &Corner) -> [u32; 3] {
    corner.map(|v| (v + 0.0).to_bits())
}

/// Why a mesh has no volume.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error, serde::Serialize, serde::Deserialize)]
pub enum MeshError {
    /// Nothing in it.
    #[error("it has no triangles")]
    Empty,
    /// A coordinate is not a number.
    #[error("triangle {} has a corner that is not a number", index + 1)]
    NotANumber {
        /// Which triangle, from 0.
        index: usize,
    },
    /// Edges that belong to one triangle only: there are holes.
    #[error("it is open: {edges} edges belong to one triangle only")]
    Open {
        /// Number of edges affected.
        edges: usize,
    },
    /// Edges that belong to three triangles or more, or twice to one way round.
    #[error("{edges} edges are shared by triangles that do not agree which side is out")]
    Tangled {
        /// Number of edges affected.
        edges: usize,
    },
    /// The mesh encloses no volume.
    #[error("it encloses no volume")]
    Flat,
    /// Closed surfaces that reach into each other: the sum of their volumes is more than they take up.
    #[error("{pairs} pairs of its parts reach into each other")]
    Overlap {
        /// Pairs that do.
        pairs: usize,
    },
    /// More closed surfaces than are compared with each other.
    #[error("it has {found} parts; at most {most} are read")]
    TooManyShells {
        /// Number of parts.
        found: usize,
        /// Most that are read.
        most: usize,
    },
}
