//! A triangle mesh of an insert: its volume, and whether it is one.

mod corner;
mod shells;

use std::collections::{HashMap, HashSet};

use fondant_quantities::{Length, Volume};

use corner::key;
pub use corner::{Corner, MeshError};

/// What is known of a mesh that is closed.
#[derive(Debug, Clone, PartialEq, serde::Serialize, serde::Deserialize)]
pub struct Solid {
    /// Volume enclosed by the surface.
    pub volume: Volume,
    /// Size along x, y and z.
    pub size: [Length; 3],
    /// Triangles.
    pub triangles: usize,
    /// Its triangles were inside out, and were turned.
    pub was_inside_out: bool,
    /// Closed surfaces that it consists of, those of [`Solid::within`] left out.
    pub shells: usize,
    /// Of these, the hollows within others.
    pub hollows: usize,
    /// Closed surfaces that lie within others and add nothing to them.
    pub within: usize,
    /// Triangles that are there a second time; they count once.
    pub repeated: usize,
}

impl Solid {
    /// The same with a unit of another length.
    #[must_use]
    pub fn in_unit(&self, before: Length, unit: Length) -> Self {
        let by = unit / before;
        Self {
            volume: self.volume * by.powi(3),
            size: self.size.map(|side| side * by),
            ..self.clone()
        }
    }
}

/// Measures a mesh whose unit is `unit` long: by the divergence theorem, a
/// sixth of the triple products of all triangles. Triangles that are there
/// twice count once; parts within others add nothing, unless they are turned
/// the other way and are hollows.
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
    let once = once_each(triangles);
    closed(&once)?;
    let shells = shells::of(&once);
    let counted = shells::counted(&shells)?;
    let [min, max] = shells::bounds(once.iter().flatten());
    let size = [0, 1, 2].map(|axis| max[axis] - min[axis]);
    let volume = counted.volume;
    if volume.abs() <= 1e-9 * size.iter().product::<f64>() || !volume.is_finite() {
        return Err(MeshError::Flat);
    }
    Ok(Solid {
        volume: Volume::from_m3(volume.abs() * unit.m().powi(3)),
        size: size.map(|s| unit * s),
        triangles: once.len(),
        was_inside_out: counted.was_inside_out,
        shells: shells.len() - counted.within,
        hollows: counted.hollows,
        within: counted.within,
        repeated: triangles.len() - once.len(),
    })
}

/// The triangles, each that is there twice once.
fn once_each(triangles: &[[Corner; 3]]) -> Vec<[Corner; 3]> {
    let mut seen = HashSet::with_capacity(triangles.len());
    let is_new = |t: &&[Corner; 3]| {
        let mut keys = [key(&t[0]), key(&t[1]), key(&t[2])];
        // The same way round from whichever corner it begins.
        let first = (0..3).min_by_key(|i| keys[*i]).unwrap_or(0);
        keys.rotate_left(first);
        seen.insert(keys)
    };
    triangles.iter().filter(is_new).copied().collect()
}

/// A closed surface uses every edge once in each direction.
fn closed(triangles: &[[Corner; 3]]) -> Result<(), MeshError> {
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

    fn both(one: &[[Corner; 3]], other: &[[Corner; 3]]) -> Vec<[Corner; 3]> {
        one.iter().chain(other).copied().collect()
    }

    fn turned(mesh: &[[Corner; 3]]) -> Vec<[Corner; 3]> {
        mesh.iter().map(|[a, b, c]| [*a, *c, *b]).collect()
    }

    #[test]
    fn parts_apart_are_summed_and_copies_counted_once() {
        let one = cuboid([40.0, 30.0, 20.0], 0.0);
        let apart = measure(&both(&one, &cuboid([10.0, 10.0, 10.0], 100.0)), MM).unwrap();
        assert!((apart.volume.l() - 0.025).abs() < 1e-9 && apart.shells == 2, "{apart:?}");
        let twice = measure(&both(&one, &one), MM).unwrap();
        assert!((twice.volume.l() - 0.024).abs() < 1e-9, "{twice:?}");
        assert_eq!((twice.shells, twice.repeated), (1, 12));
    }

    #[test]
    fn a_part_within_another_adds_nothing_and_a_hollow_takes_away() {
        let one = cuboid([40.0, 30.0, 20.0], 0.0);
        let inner = cuboid([10.0, 10.0, 10.0], 5.0);
        let within = measure(&both(&one, &inner), MM).unwrap();
        assert!((within.volume.l() - 0.024).abs() < 1e-9, "{within:?}");
        assert_eq!((within.shells, within.within, within.hollows), (1, 1, 0));
        let hollow = measure(&both(&one, &turned(&inner)), MM).unwrap();
        assert!((hollow.volume.l() - 0.023).abs() < 1e-9, "{hollow:?}");
        assert_eq!((hollow.shells, hollow.hollows, hollow.was_inside_out), (2, 1, false));
        // Something within the hollow counts again.
        let core = cuboid([4.0, 4.0, 4.0], 8.0);
        let nested = measure(&both(&both(&one, &turned(&inner)), &core), MM).unwrap();
        assert!((nested.volume.l() - 0.023_064).abs() < 1e-9, "{nested:?}");
    }

    #[test]
    fn parts_that_reach_into_each_other_are_refused() {
        let one = cuboid([40.0, 30.0, 20.0], 0.0);
        let across = cuboid([40.0, 30.0, 20.0], 10.0);
        assert_eq!(measure(&both(&one, &across), MM), Err(MeshError::Overlap { pairs: 1 }));
        // Like the arms of a cross, with no corner in each other.
        let arm = |sides: [f32; 3]| -> Vec<[Corner; 3]> {
            let move_by = |c: Corner| [0, 1, 2].map(|i| c[i] - sides[i] / 2.0);
            cuboid(sides, 0.0).into_iter().map(|t| t.map(move_by)).collect()
        };
        let cross = both(&arm([60.0, 10.0, 10.0]), &arm([10.0, 60.0, 10.5]));
        assert!(matches!(measure(&cross, MM), Err(MeshError::Overlap { .. })));
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
