//! Readers and writers of open formats. Everything read here comes from
//! outside: no reader panics, memory is bounded by the limits below, and what
//! is refused is refused with a reason.
//!
//! - [`drawing`]: a drawing as its file has it, before anything of it is taken
//! - [`svg`]: drawings from and to SVG
//! - [`dxf`]: drawings from and to DXF
//! - [`stl`]: a solid from STL
//! - [`photo`]: a photo, turned upright and freed of its metadata
//! - [`made_up`]: a synthetic photo, for the demo and tests
//! - [`reading`]: what is asked of a file and answered, to be read in a process of its own
//! - [`logs`]: logs of thermometers
//! - [`records`]: casts and resins as JSON
//! - [`text`]: bytes as text, however they are encoded
//!
//! ```
//! let file = br#"<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="100mm"
//!   viewBox="0 0 200 100"><rect width="120" height="80"/></svg>"#;
//! let drawing = fondant_files::svg::read(file, &Default::default())?;
//! let area = fondant_shapes::geometry::signed_area_m2(&drawing.rings[0].ring);
//! assert!((area - 0.120 * 0.080).abs() < 1e-9);
//! # Ok::<(), fondant_files::FileError>(())
//! ```

pub mod drawing;
pub mod dxf;
pub mod logs;
pub mod made_up;
pub mod photo;
pub mod reading;
pub mod records;
pub mod stl;
pub mod svg;
pub mod text;

use std::borrow::Cow;

use fondant_quantities::Length;
use fondant_shapes::geometry::homography::CornersError;
use fondant_shapes::geometry::mesh::MeshError;
use serde::{Deserialize, Serialize};

/// Curves are flattened to within this of themselves.
pub const FLATTENED_TO: Length = Length::from_mm(0.05);
/// Largest SVG that is read, bytes.
pub const SVG_LIMIT: usize = 8 * 1024 * 1024;
/// Largest DXF that is read, bytes: 200 000 entities of some 200 bytes each.
pub const DXF_LIMIT: usize = 50 * 1024 * 1024;
/// Largest mesh that is read, bytes: a million triangles.
pub const MESH_LIMIT: usize = 50 * 1024 * 1024;
/// Largest log that is read, bytes: a year of minutes.
pub const LOG_LIMIT: usize = 24 * 1024 * 1024;
/// Largest photo that is read, bytes.
pub const PHOTO_LIMIT: usize = 20 * 1024 * 1024;

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
        /// Number of the line, from 1.
        line: usize,
    },
    /// It breaks off or contradicts itself.
    #[error("{0}")]
    Broken(String),
    /// It asks for more memory or work than it is given.
    #[error("it is too complicated: {0}")]
    TooMuch(Cow<'static, str>),
    /// As many photos are kept with the cast as it keeps.
    #[error("a cast keeps {0} photos at most")]
    Full(usize),
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
    use drawing::sheet::{Part, Sheet};
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
            let part =
                Part { name: "board 1".into(), layer: "Boards".into(), outline: outline.clone() };
            let sheet = Sheet { title: "Top".into(), form: (length, width), parts: vec![part] };
            let options = drawing::Options::default();
            let from_svg = svg::read(svg::write(&sheet).as_bytes(), &options).unwrap();
            let from_dxf = dxf::read(dxf::write(&sheet).as_bytes(), &options).unwrap();
            let up = Point { x_m: 0.0, y_m: width.m() };
            for (kind, read, shift) in [("svg", from_svg, Point::default()), ("dxf", from_dxf, up)]
            {
                assert_eq!(read.said, Some(Length::from_mm(1.0)), "{kind}");
                let found = Outline::new(read.rings[0].ring.clone()).map(|p| p.plus(shift));
                let (a, b) = (Bounds::of(&outline.outer), Bounds::of(&found.outer));
                for off in [a.min.minus(b.min), a.max.minus(b.max)] {
                    assert!(off.norm_m() < 1e-6, "{kind} {left} {near}: {off:?}");
                }
                assert!((found.area().m2() - outline.area().m2()).abs() < 1e-6, "{kind}");
            }
        }
    }
}
