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

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_shapes::geometry::{Bounds, Outline, Point};

    /// What is written and read again lies where it lay: across a wall too, and beside the form.
    #[test]
    fn an_export_that_is_read_again_is_in_its_place() {
        let (length, width) = (Length::from_mm(1220.0), Length::from_mm(620.0));
        let corners = |left: f64, near: f64| {
            [
                (left, near),
                (left + 640.0, near + 3.0),
                (left + 610.0, near + 215.0),
                (left, near + 190.0),
            ]
        };
        for (left, near) in [(0.0, 0.0), (-45.0, -12.5), (700.0, 430.0), (30.0, 200.0)] {
            let outline =
                Outline::new(corners(left, near).map(|(x, y)| Point::from_mm(x, y)).to_vec());
            let named = [("board 1".to_owned(), outline.clone())];
            let svg = svg::write("Top", &named, length, width);
            let dxf = dxf::write(&named, width);
            let from_svg = svg::read(svg.as_bytes()).unwrap();
            // The form is drawn in neither.
            let from_dxf = dxf::read(dxf.as_bytes()).unwrap();
            let up = Point { x_m: 0.0, y_m: width.m() };
            for (kind, found) in [("svg", &from_svg[0]), ("dxf", &from_dxf[0].map(|p| p.plus(up)))]
            {
                let (a, b) = (Bounds::of(&outline.outer), Bounds::of(&found.outer));
                for off in [a.min.minus(b.min), a.max.minus(b.max)] {
                    assert!(off.norm_m() < 1e-6, "{kind} {left} {near}: {off:?}");
                }
                assert!((found.area().m2() - outline.area().m2()).abs() < 1e-6, "{kind}");
            }
        }
    }
}
