//! A triangle mesh of an insert: its volume, and whether it is one.

use std::collections::HashMap;

use fondant_quantities::{Length, Volume};

/// A corner of a triangle, in the unit of the file.
pub type Corner = [f32; 3];

/// What is known of a mesh that is closed.
#[derive(Debug, Clone, PartialEq, serde::Serialize, serde::Deserialize)]
pub struct Solid {
    /// Volume.
    pub volume: Volume,
    /// Size along x, y and z.
    pub size: [Length; 3],
    /// Triangles.
    pub triangles: usize,
    /// Its triangles were inside out, and were turned.
    pub was_inside_out: bool,
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
}

/// Measures a mesh whose unit is `unit` long: by the divergence theorem, a
/// sixth of the triple products of all triangles.
///
/// # Errors
/// [`MeshError`] where it does not enclose a volume.
pub fn measure(triangles: &[[Corner; 3]], unit: Length) -> Result<Solid, MeshError> {
    if triangles.is_empty() {
        return Err(MeshError::Empty);
    }
    let bad = |t: &[Corner; 3]| t.iter().flatten().any(|v| !v.is_finite());
    if let Some(index) = triangles.iter().position(bad) {
        return Err(MeshError::NotANumber { index });
    }
    closed(triangles)?;
    let at = |c: &Corner| c.map(f64::from);
    let mut min = at(&triangles[0][0]);
    let mut max = min;
    for corner in triangles.iter().flatten() {
        for (axis, v) in at(corner).into_iter().enumerate() {
            min[axis] = f64::min(min[axis], v);
            max[axis] = f64::max(max[axis], v);
        }
    }
    let sixth: f64 = triangles
        .iter()
        .map(|t| {
            // Seen from a corner of the box, so that far meshes keep their digits.
            let [a, b, c] = t.map(|p| {
                let p = at(&p);
                [p[0] - min[0], p[1] - min[1], p[2] - min[2]]
            });
            a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0])
                + a[2] * (b[0] * c[1] - b[1] * c[0])
        })
        .sum::<f64>()
        / 6.0;
    let size = [0, 1, 2].map(|axis| max[axis] - min[axis]);
    if sixth.abs() <= 1e-9 * size.iter().product::<f64>() || !sixth.is_finite() {
        return Err(MeshError::Flat);
    }
    Ok(Solid {
        volume: Volume::from_m3(sixth.abs() * unit.m().powi(3)),
        size: size.map(|s| unit * s),
        triangles: triangles.len(),
        was_inside_out: sixth < 0.0,
    })
}

/// A closed surface uses every edge once in each direction.
fn closed(triangles: &[[Corner; 3]]) -> Result<(), MeshError> {
    // Corners by their bits, with one zero: -0.0 is the same place as 0.0.
    let key = |c: &Corner| c.map(|v| (v + 0.0).to_bits());
    let mut edges: HashMap<_, (u32, u32)> = HashMap::with_capacity(triangles.len() * 2);
    for t in triangles {
        for i in 0..3 {
            let (a, b) = (key(&t[i]), key(&t[(i + 1) % 3]));
            if a == b {
                continue;
            }
            let count = edges.entry((a.min(b), a.max(b))).or_default();
            if a < b { count.0 += 1 } else { count.1 += 1 }
        }
    }
    let open = edges.values().filter(|(up, down)| up + down == 1).count();
    if open > 0 {
        return Err(MeshError::Open { edges: open });
    }
    let tangled = edges.values().filter(|(up, down)| up != down).count();
    if tangled > 0 { Err(MeshError::Tangled { edges: tangled }) } else { Ok(()) }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A box of a size, each face two triangles, normals outwards.
    fn cuboid([x, y, z]: [f32; 3], at: f32) -> Vec<[Corner; 3]> {
        let p = |i: usize| {
            let pick = |bit: usize, v: f32| if i >> bit & 1 == 1 { at + v } else { at };
            [pick(0, x), pick(1, y), pick(2, z)]
        };
        let quads =
            [[0, 2, 3, 1], [4, 5, 7, 6], [0, 1, 5, 4], [2, 6, 7, 3], [0, 4, 6, 2], [1, 3, 7, 5]];
        quads
            .into_iter()
            .flat_map(|[a, b, c, d]| [[p(a), p(b), p(c)], [p(a), p(c), p(d)]])
            .collect()
    }

    const MM: Length = Length::from_mm(1.0);

    #[test]
    fn a_box_has_its_volume_wherever_it_is() {
        for at in [0.0, 1000.0, -250.0] {
            let solid = measure(&cuboid([40.0, 30.0, 20.0], at), MM).unwrap();
            assert!((solid.volume.l() - 0.024).abs() < 1e-9, "{solid:?}");
            assert!((solid.size[2].mm() - 20.0).abs() < 1e-9);
            assert!(!solid.was_inside_out);
        }
        let inches = measure(&cuboid([1.0, 1.0, 1.0], 0.0), Length::from_mm(25.4)).unwrap();
        assert!((inches.volume.l() - 0.016_387_064).abs() < 1e-12);
    }

    #[test]
    fn an_inside_out_box_is_turned_and_said_so() {
        let turned: Vec<_> =
            cuboid([40.0, 30.0, 20.0], 0.0).into_iter().map(|[a, b, c]| [a, c, b]).collect();
        let solid = measure(&turned, MM).unwrap();
        assert!(solid.was_inside_out && (solid.volume.l() - 0.024).abs() < 1e-9);
    }

    #[test]
    fn an_octahedron() {
        let r = 30.0_f32;
        let tips = [[r, 0.0, 0.0], [0.0, r, 0.0], [-r, 0.0, 0.0], [0.0, -r, 0.0]];
        let mut faces = Vec::new();
        for i in 0..4 {
            let (a, b) = (tips[i], tips[(i + 1) % 4]);
            faces.push([a, b, [0.0, 0.0, r]]);
            faces.push([b, a, [0.0, 0.0, -r]]);
        }
        // 4/3 r³.
        assert!((measure(&faces, MM).unwrap().volume.l() - 0.036).abs() < 1e-8);
    }

    #[test]
    fn broken_meshes_are_refused_by_name() {
        let mut open = cuboid([40.0, 30.0, 20.0], 0.0);
        open.pop();
        assert_eq!(measure(&open, MM), Err(MeshError::Open { edges: 3 }));
        let mut mixed = cuboid([40.0, 30.0, 20.0], 0.0);
        mixed[3].swap(0, 1);
        assert!(matches!(measure(&mixed, MM), Err(MeshError::Tangled { .. })));
        assert_eq!(measure(&[], MM), Err(MeshError::Empty));
        let mut odd = cuboid([40.0, 30.0, 20.0], 0.0);
        odd[4][1][2] = f32::NAN;
        assert_eq!(measure(&odd, MM), Err(MeshError::NotANumber { index: 4 }));
        assert_eq!(measure(&cuboid([40.0, 30.0, 0.0], 0.0), MM).map(|_| ()), Err(MeshError::Flat));
    }
}
