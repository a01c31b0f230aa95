//! A solid from STL, text or binary. STL has no unit: the solid is measured in metres until the
//! maker has said the unit.

use fondant_quantities::Length;
use fondant_shapes::geometry::mesh::{Corner, Solid, measure};

use crate::text::decoded;
use crate::{FileError, MESH_LIMIT, sized};

/// Most triangles that are read.
const MOST_TRIANGLES: usize = 1_000_000;
/// A binary STL: 80 bytes of header, a count, 50 bytes a triangle.
const HEADER: usize = 84;
const TRIANGLE: usize = 50;

/// Length of a unit until it is said.
pub const UNTIL_SAID: Length = Length::from_m(1.0);

/// Measures the solid in a file, whose unit counts [`UNTIL_SAID`].
///
/// # Errors
/// [`FileError`]: why it was not read, or why it is not a solid.
pub fn read(bytes: &[u8]) -> Result<Solid, FileError> {
    sized(bytes, MESH_LIMIT)?;
    let text = is_text(bytes).then(|| one_solid(bytes));
    let bytes = text.as_deref().map_or(bytes, str::as_bytes);
    if text.is_none() {
        let count = bytes.get(80..HEADER).and_then(|b| b.try_into().ok()).map(u32::from_le_bytes);
        let count = count.ok_or(FileError::NotThis { wanted: "STL".into() })? as usize;
        // A count is not relied on before that many bytes are there.
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
    Ok(measure(&triangles, UNTIL_SAID)?)
}

/// Bytes of a file in which the first triangle of a text stands.
const HEAD: usize = 1_000;

/// Whether a mesh is text: some programs begin the header of the binary form with the same word.
fn is_text(bytes: &[u8]) -> bool {
    let head = decoded(&bytes[..bytes.len().min(HEAD)], None).trim_start().to_ascii_lowercase();
    head.starts_with("solid") && (head.contains("facet") || head.contains("endsolid"))
}

/// A text with all its solids in one, in small letters, as the reader wants them.
fn one_solid(bytes: &[u8]) -> String {
    let text = decoded(bytes, None).to_ascii_lowercase();
    let is_inner = |line: &&str| {
        let line = line.trim_start();
        !line.starts_with("solid") && !line.starts_with("endsolid")
    };
    let mut one = String::with_capacity(text.len() + 20);
    one.push_str("solid all\n");
    for line in text.lines().filter(is_inner) {
        one.push_str(line);
        one.push('\n');
    }
    one.push_str("endsolid all\n");
    one
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_shapes::geometry::mesh::MeshError;
    use proptest::prelude::*;

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
            let solid = read(&bytes).unwrap();
            assert!((solid.volume.m3() - 4500.0).abs() < 1e-6);
            assert_eq!(solid.triangles, 4);
        }
        let inches = read(&binary(4, &FACES)).unwrap().in_unit(UNTIL_SAID, Length::from_mm(25.4));
        assert!((inches.size[0].mm() - 762.0).abs() < 1e-6);
    }

    #[test]
    fn open_meshes_and_broken_files_are_refused_by_name() {
        let open = read(tetrahedron(&FACES[..3]).as_bytes());
        assert_eq!(open, Err(FileError::Mesh(MeshError::Open { edges: 3 })));
        assert_eq!(read(b""), Err(FileError::Empty));
        assert_eq!(read(b"short"), Err(FileError::NotThis { wanted: "STL".into() }));
        let lying = read(&binary(4_000_000_000, &FACES));
        assert!(matches!(lying, Err(FileError::Broken(_))), "{lying:?}");
        assert!(read(b"solid x\nfacet normal a b c\n").is_err());
        assert_eq!(read(b"solid x\nendsolid x\n"), Err(FileError::Mesh(MeshError::Empty)));
    }

    #[test]
    fn several_solids_capitals_and_a_mark_are_read() {
        let apart = FACES.map(|f| f.map(|[x, y, z]| [x + 90, y, z]));
        let text = tetrahedron(&FACES) + &tetrahedron(&apart);
        let one = read(tetrahedron(&FACES).as_bytes()).unwrap();
        let two = read(text.as_bytes()).unwrap();
        assert!((two.volume / one.volume - 2.0).abs() < 1e-6 && two.shells == 2, "{two:?}");
        let loud = format!("\u{feff}{}", text.to_uppercase());
        assert_eq!(read(loud.as_bytes()).unwrap(), two);
        // A binary file whose header begins like a text.
        let mut bytes = binary(4, &FACES);
        bytes[..10].copy_from_slice(b"solid part");
        assert_eq!(read(&bytes).unwrap(), one);
    }

    proptest! {
        #[test]
        fn no_bytes_make_it_panic(bytes in proptest::collection::vec(any::<u8>(), 0..400)) {
            let _ = read(&bytes);
            let _ = read(&[b"solid ".as_slice(), &bytes].concat());
        }
    }
}
