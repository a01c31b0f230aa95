//! A solid from STL, text or binary. STL knows no unit: it is asked for.

use fondant_quantities::Length;
use fondant_shapes::geometry::mesh::{Corner, Solid, measure};

use crate::{FileError, MESH_LIMIT, sized};

/// Most triangles that are read.
const MOST_TRIANGLES: usize = 1_000_000;
/// A binary STL: 80 bytes of header, a count, 50 bytes a triangle.
const HEADER: usize = 84;
const TRIANGLE: usize = 50;

/// Measures the solid in a file whose unit is `unit` long.
///
/// # Errors
/// [`FileError`]: why it was not read, or why it is not a solid.
pub fn read(bytes: &[u8], unit: Length) -> Result<Solid, FileError> {
    sized(bytes, MESH_LIMIT)?;
    let is_text = bytes.trim_ascii_start().starts_with(b"solid");
    if !is_text {
        let count = bytes.get(80..HEADER).and_then(|b| b.try_into().ok()).map(u32::from_le_bytes);
        let count = count.ok_or(FileError::NotThis { wanted: "STL".into() })? as usize;
        // The count is not believed before the bytes are there.
        let present = (bytes.len() - HEADER) / TRIANGLE;
        if count > present {
            return Err(FileError::Broken(format!(
                "the file breaks off: {present} of {count} triangles are there"
            )));
        }
    }
    let mut cursor = std::io::Cursor::new(bytes);
    let broken = |error: std::io::Error| FileError::Broken(error.to_string());
    let mut triangles: Vec<[Corner; 3]> = Vec::new();
    for triangle in stl_io::create_stl_reader(&mut cursor).map_err(broken)? {
        let triangle = triangle.map_err(broken)?;
        if triangles.len() >= MOST_TRIANGLES {
            return Err(FileError::TooMuch("more than a million triangles".into()));
        }
        triangles.push(triangle.vertices.map(|v| [v[0], v[1], v[2]]));
    }
    Ok(measure(&triangles, unit)?)
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_shapes::geometry::mesh::MeshError;
    use proptest::prelude::*;

    const MM: Length = Length::from_mm(1.0);

    /// A tetrahedron with legs of 30, in text.
    fn tetrahedron(faces: &[[[i32; 3]; 3]]) -> String {
        let mut text = "solid thing\n".to_owned();
        for face in faces {
            text.push_str("facet normal 0 0 0\nouter loop\n");
            for [x, y, z] in face {
                text.push_str(&format!("vertex {x} {y} {z}\n"));
            }
            text.push_str("endloop\nendfacet\n");
        }
        text + "endsolid thing\n"
    }

    const FACES: [[[i32; 3]; 3]; 4] = [
        [[0, 0, 0], [0, 30, 0], [30, 0, 0]],
        [[0, 0, 0], [30, 0, 0], [0, 0, 30]],
        [[0, 0, 0], [0, 0, 30], [0, 30, 0]],
        [[30, 0, 0], [0, 30, 0], [0, 0, 30]],
    ];

    fn binary(count: u32, faces: &[[[i32; 3]; 3]]) -> Vec<u8> {
        let mut bytes = vec![0u8; 80];
        bytes.extend(count.to_le_bytes());
        for face in faces {
            bytes.extend([0u8; 12]);
            for v in face.iter().flatten() {
                bytes.extend((*v as f32).to_le_bytes());
            }
            bytes.extend([0u8; 2]);
        }
        bytes
    }

    #[test]
    fn text_and_binary_have_the_same_volume() {
        // 30³ / 6.
        for bytes in [tetrahedron(&FACES).into_bytes(), binary(4, &FACES)] {
            let solid = read(&bytes, MM).unwrap();
            assert!((solid.volume.l() - 0.0045).abs() < 1e-9);
            assert_eq!(solid.triangles, 4);
        }
        let inches = read(&binary(4, &FACES), Length::from_mm(25.4)).unwrap();
        assert!((inches.size[0].mm() - 762.0).abs() < 1e-6);
    }

    #[test]
    fn open_meshes_and_broken_files_are_refused_by_name() {
        let open = read(tetrahedron(&FACES[..3]).as_bytes(), MM);
        assert_eq!(open, Err(FileError::Mesh(MeshError::Open { edges: 3 })));
        assert_eq!(read(b"", MM), Err(FileError::Empty));
        assert_eq!(read(b"short", MM), Err(FileError::NotThis { wanted: "STL".into() }));
        let lying = read(&binary(4_000_000_000, &FACES), MM);
        assert!(matches!(lying, Err(FileError::Broken(_))), "{lying:?}");
        assert!(read(b"solid x\nfacet normal a b c\n", MM).is_err());
        assert_eq!(read(b"solid x\nendsolid x\n", MM), Err(FileError::Mesh(MeshError::Empty)));
    }

    proptest! {
        #[test]
        fn no_bytes_make_it_panic(bytes in proptest::collection::vec(any::<u8>(), 0..400)) {
            let _ = read(&bytes, MM);
            let _ = read(&[b"solid ".as_slice(), &bytes].concat(), MM);
        }
    }
}
