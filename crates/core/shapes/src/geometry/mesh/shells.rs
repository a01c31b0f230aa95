//! The closed surfaces of a mesh: which lie within others, which are hollows, which reach into each
//! other.

use std::collections::HashMap;

use super::corner::{Corner, MeshError, key};

/// Most surfaces that are compared with each other.
const MOST_SHELLS: usize = 2_000;
/// Places in the space that two surfaces share at which both are looked at (found by trying: parts
/// that share a thousandth of that space are told with 98 %).
const PLACES: usize = 4_096;
/// Work for one pair, triangles times places.
const MOST_WORK: usize = 50_000_000;

/// A closed surface.
#[derive(Debug)]
pub(super) struct Shell {
    triangles: Vec<[Corner; 3]>,
    min: [f64; 3],
    max: [f64; 3],
    /// Volume, negative where it is turned inside out.
    volume: f64,
}

/// What the surfaces come to.
#[derive(Debug, Default)]
pub(super) struct Counted {
    pub(super) volume: f64,
    pub(super) within: usize,
    pub(super) hollows: usize,
    pub(super) was_inside_out: bool,
}

/// The closed surfaces of a mesh: triangles that hang together by their corners.
pub(super) fn of(triangles: &[[Corner; 3]]) -> Vec<Shell> {
    let mut places: HashMap<[u32; 3], usize> = HashMap::new();
    let mut parent: Vec<usize> = Vec::new();
    let corners: Vec<[usize; 3]> = triangles
        .iter()
        .map(|t| {
            t.map(|corner| {
                *places.entry(key(&corner)).or_insert_with(|| {
                    parent.push(parent.len());
                    parent.len() - 1
                })
            })
        })
        .collect();
    for [a, b, c] in &corners {
        for other in [b, c] {
            let (x, y) = (root(&mut parent, *a), root(&mut parent, *other));
            parent[x] = y;
        }
    }
    let mut by_root: HashMap<usize, usize> = HashMap::new();
    let mut parts: Vec<Vec<[Corner; 3]>> = Vec::new();
    for (triangle, [a, ..]) in triangles.iter().zip(&corners) {
        let part = *by_root.entry(root(&mut parent, *a)).or_insert_with(|| {
            parts.push(Vec::new());
            parts.len() - 1
        });
        parts[part].push(*triangle);
    }
    parts.into_iter().map(Shell::new).collect()
}

fn root(parent: &mut [usize], mut at: usize) -> usize {
    while parent[at] != at {
        parent[at] = parent[parent[at]];
        at = parent[at];
    }
    at
}

/// The upright box around some corners.
pub(super) fn bounds<'a>(corners: impl Iterator<Item = &'a Corner>) -> [[f64; 3]; 2] {
    let (mut min, mut max) = ([f64::INFINITY; 3], [f64::NEG_INFINITY; 3]);
    for corner in corners {
        for axis in 0..3 {
            min[axis] = min[axis].min(f64::from(corner[axis]));
            max[axis] = max[axis].max(f64::from(corner[axis]));
        }
    }
    [min, max]
}

/// What the surfaces come to together. Each that lies in others counts by how it is turned: a part
/// in a part adds nothing, a hollow takes away, a part in a hollow counts again.
pub(super) fn counted(shells: &[Shell]) -> Result<Counted, MeshError> {
    if shells.len() > MOST_SHELLS {
        return Err(MeshError::TooManyShells { found: shells.len(), most: MOST_SHELLS });
    }
    let mut order: Vec<&Shell> = shells.iter().collect();
    order.sort_by(|a, b| b.volume.abs().total_cmp(&a.volume.abs()));
    let mut around: Vec<Vec<usize>> = vec![Vec::new(); order.len()];
    let mut overlaps = 0;
    for (j, inner) in order.iter().enumerate() {
        for (i, outer) in order[..j].iter().enumerate() {
            match outer.with(inner) {
                Lie::Apart => {}
                Lie::Within => around[j].push(i),
                Lie::Across => overlaps += 1,
            }
        }
    }
    if overlaps > 0 {
        return Err(MeshError::Overlap { pairs: overlaps });
    }
    Ok(summed(&order, &around))
}

/// Sums the surfaces, the largest first; `around` are those around each.
fn summed(order: &[&Shell], around: &[Vec<usize>]) -> Counted {
    let mut counted = Counted::default();
    // Whether the space inside of each is filled.
    let mut is_filled = vec![false; order.len()];
    for (j, shell) in order.iter().enumerate() {
        // The smallest around it is the last, as they are sorted.
        let Some(&outer) = around[j].last() else {
            is_filled[j] = true;
            counted.was_inside_out |= shell.volume < 0.0;
            counted.volume += shell.volume.abs();
            continue;
        };
        let outermost = around[j][0];
        // A whole mesh that is inside out has its hollows turned too.
        let is_turned = (shell.volume < 0.0) != (order[outermost].volume < 0.0);
        match (is_filled[outer], is_turned) {
            (true, true) => {
                counted.hollows += 1;
                counted.volume -= shell.volume.abs();
            }
            (false, false) => {
                is_filled[j] = true;
                counted.volume += shell.volume.abs();
            }
            (filled, _) => {
                is_filled[j] = filled;
                counted.within += 1;
            }
        }
    }
    counted
}

/// How a smaller surface lies to a larger one.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Lie {
    Apart,
    Within,
    Across,
}

impl Shell {
    fn new(triangles: Vec<[Corner; 3]>) -> Self {
        let [min, max] = bounds(triangles.iter().flatten());
        // Seen from a corner of the box, so that far meshes keep their digits.
        let sixths = triangles.iter().map(|t| {
            let [a, b, c] = t.map(|p| [0, 1, 2].map(|i| f64::from(p[i]) - min[i]));
            a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0])
                + a[2] * (b[0] * c[1] - b[1] * c[0])
        });
        let volume = sixths.sum::<f64>() / 6.0;
        Self { triangles, min, max, volume }
    }

    /// How a smaller one lies to this: by places spread evenly over the space that their boxes share
    /// (additive recurrence by the powers of the plastic number, M. Roberts 2018).
    fn with(&self, inner: &Self) -> Lie {
        let min = [0, 1, 2].map(|i| self.min[i].max(inner.min[i]));
        let max = [0, 1, 2].map(|i| self.max[i].min(inner.max[i]));
        if (0..3).any(|i| max[i] <= min[i]) {
            return Lie::Apart;
        }
        let each = self.triangles.len() + inner.triangles.len();
        let places = (MOST_WORK / each.max(1)).clamp(16, PLACES);
        let (mut in_both, mut in_inner) = (0, 0);
        for n in 1..=places {
            let share =
                [0.819_172_513, 0.671_043_607, 0.549_700_478].map(|a| (n as f64 * a).fract());
            let at = [0, 1, 2].map(|i| min[i] + (max[i] - min[i]) * share[i]);
            if inner.holds(at) {
                in_inner += 1;
                in_both += usize::from(self.holds(at));
            }
        }
        // The box of what is within lies within.
        let is_boxed = (0..3).all(|i| self.min[i] <= inner.min[i] && inner.max[i] <= self.max[i]);
        match (in_both, in_inner) {
            (0, _) => Lie::Apart,
            (both, inner) if both == inner && is_boxed => Lie::Within,
            _ => Lie::Across,
        }
    }

    /// Whether a place is inside: a ray along x crosses the surface an odd number of times.
    fn holds(&self, [x, y, z]: [f64; 3]) -> bool {
        let crosses = |t: &&[Corner; 3]| {
            let [a, b, c] = t.map(|p| [0, 1, 2].map(|i| f64::from(p[i])));
            let side =
                |p: [f64; 3], q: [f64; 3]| (q[1] - p[1]) * (z - p[2]) - (q[2] - p[2]) * (y - p[1]);
            let (u, v, w) = (side(b, c), side(c, a), side(a, b));
            let is_hit = (u >= 0.0 && v >= 0.0 && w >= 0.0) || (u <= 0.0 && v <= 0.0 && w <= 0.0);
            let whole = u + v + w;
            is_hit && whole != 0.0 && (u * a[0] + v * b[0] + w * c[0]) / whole > x
        };
        self.triangles.iter().filter(crosses).count() % 2 == 1
    }
}
