//! Readers and writers of open formats. Everything read here comes from
//! outside: no reader panics, memory is bounded by the limits below, and what
//! is refused is refused with a reason.
//!
//! - [`svg`]: outlines from and to SVG
//! - [`dxf`]: outlines from and to DXF
//! - [`stl`]: a solid from STL
//! - [`photo`]: a photo, turned upright and freed of its metadata
//! - [`made_up`]: a synthetic photo, for the demo and tests
//! - [`reading`]: what is asked of a file and answered, to be read in a process of its own
//! - [`logs`]: logs of thermometers
//! - [`rings`]: lines and curves joined to closed outlines
//!
//! ```
//! let drawing = br#"<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="100mm"
//!   viewBox="0 0 200 100"><rect width="120" height="80"/></svg>"#;
//! let outlines = fondant_files::svg::read(drawing)?;
//! assert!((outlines[0].area().m2() - 0.120 * 0.080).abs() < 1e-9);
//! # Ok::<(), fondant_files::FileError>(())
//! ```

pub mod dxf;
pub mod logs;
pub mod made_up;
pub mod photo;
pub mod reading;
pub mod rings;
pub mod stl;
pub mod svg;

use std::borrow::Cow;

use fondant_quantities::Length;
use fondant_shapes::geometry::homography::CornersError;
use fondant_shapes::geometry::mesh::MeshError;
use serde::{Deserialize, Serialize};

/// Curves are flattened to within this of themselves.
pub const FLATTENED_TO: Length = Length::from_mm(0.05);
/// Largest drawing that is read, bytes.
pub const DRAWING_LIMIT: usize = 8 * 1024 * 1024;
/// Largest mesh that is read, bytes: a million triangles.
pub const MESH_LIMIT: usize = 50 * 1024 * 1024;
/// Largest photo that is read, bytes.
pub const PHOTO_LIMIT: usize = 20 * 1024 * 1024;
/// Most points that the lines of a drawing may have together.
pub const MOST_POINTS: usize = 200_000;

/// Why a file was not read.
#[derive(Debug, Clone, PartialEq, thiserror::Error, Serialize, Deserialize)]
pub enum FileError {
    /// Nothing in it.
    #[error("the file is empty")]
    Empty,
    /// More bytes than are read.
    #[error("the file has {bytes} bytes; at most {most} are read")]
    TooLarge {
        /// Size of the file, bytes.
        bytes: usize,
        /// Largest size that is read, bytes.
        most: usize,
    },
    /// The file is of another format.
    #[error("this is no {wanted}")]
    NotThis {
        /// Name of the expected format.
        wanted: Cow<'static, str>,
    },
    /// It breaks off or contradicts itself.
    #[error("{what}, at line {line}")]
    BrokenLine {
        /// Description of the fault.
        what: Cow<'static, str>,
        /// Where, from 1.
        line: usize,
    },
    /// It breaks off or contradicts itself.
    #[error("{0}")]
    Broken(String),
    /// It asks for more memory or work than it is given.
    #[error("it is too complicated: {0}")]
    TooMuch(Cow<'static, str>),
    /// There is no closed outline in it.
    #[error("there is no closed outline in it")]
    NothingClosed {
        /// Open ends that were found instead.
        open: usize,
    },
    /// The mesh has no volume.
    #[error(transparent)]
    Mesh(#[from] MeshError),
    /// The corners square nothing up.
    #[error(transparent)]
    Corners(#[from] CornersError),
}

/// Refuses what is empty or too large before anything reads it.
fn sized(bytes: &[u8], most: usize) -> Result<(), FileError> {
    match bytes.len() {
        0 => Err(FileError::Empty),
        n if n > most => Err(FileError::TooLarge { bytes: n, most }),
        _ => Ok(()),
    }
}
