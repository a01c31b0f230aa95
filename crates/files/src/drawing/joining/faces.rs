//! The faces of a net of lines, each walked round with the face on its left.

use fondant_shapes::geometry::{Point, Ring, signed_area_m2};

use super::knots::Net;
use super::piece::{along, length};
use crate::drawing::Closed;

/// Where the direction is read in which a line leaves a knot, metres: lines that leave it as
/// tangents of each other part within this (a tenth of the smallest radius that is sawn).
const LEAVES_AFTER_M: f64 = 1e-3;

/// One way along an edge: twice its index, and one more against its direction.
type Way = usize;

/// The rings of all faces that are bounded. Edges with the same face on both sides bound nothing;
/// they are taken out as bridges.
pub(super) fn closed(net: &mut Net) -> Vec<Closed> {
    let mut faces = walked(net);
    let mut owner = vec![usize::MAX; 2 * net.edges.len()];
    for (face, ways) in faces.iter().enumerate() {
        for way in ways {
            owner[*way] = face;
        }
    }
    let is_bridge = |edge: usize| owner[2 * edge] == owner[2 * edge + 1];
    let bridges: Vec<usize> = (0..net.edges.len())
        .filter(|edge| net.edges[*edge].is_some() && is_bridge(*edge))
        .collect();
    if !bridges.is_empty() {
        for edge in bridges {
            net.take_bridge(edge);
        }
        faces = walked(net);
    }
    faces.iter().filter_map(|ways| ring(net, ways)).collect()
}

/// All faces as the ways along which they are walked round.
fn walked(net: &Net) -> Vec<Vec<Way>> {
    let after = turns(net);
    let mut seen = vec![false; after.len()];
    let mut faces = Vec::new();
    for start in 0..after.len() {
        if net.edges[start / 2].is_none() || seen[start] {
            continue;
        }
        let (mut way, mut face) = (start, Vec::new());
        while !seen[way] {
            seen[way] = true;
            face.push(way);
            way = after[way];
        }
        faces.push(face);
    }
    faces
}

/// For each way the one that follows it round its left face: the next clockwise from the way back.
fn turns(net: &Net) -> Vec<Way> {
    let mut after = vec![0; 2 * net.edges.len()];
    let mut leaving: Vec<Vec<(f64, Way)>> = vec![Vec::new(); net.at.len()];
    for (index, edge) in net.edges.iter().enumerate() {
        let Some(edge) = edge else { continue };
        leaving[edge.from].push((angle(edge.piece.line.iter().copied()), 2 * index));
        leaving[edge.to].push((angle(edge.piece.line.iter().rev().copied()), 2 * index + 1));
    }
    for ways in &mut leaving {
        ways.sort_by(|a, b| a.0.total_cmp(&b.0));
        for (place, (_, way)) in ways.iter().enumerate() {
            // Who comes in by the way back of this one goes on by the one before it.
            let before = ways[(place + ways.len() - 1) % ways.len()].1;
            after[way ^ 1] = before;
        }
    }
    after
}

/// The angle at which a line leaves its first point.
fn angle(line: impl Iterator<Item = Point>) -> f64 {
    let line: Ring = line.collect();
    let reach = LEAVES_AFTER_M.min(0.5 * length(&line));
    let d = along(&line, reach).minus(line[0]);
    d.y_m.atan2(d.x_m)
}

/// The ring of a bounded face; `None` for the face outside, which is walked the other way round.
fn ring(net: &Net, ways: &[Way]) -> Option<Closed> {
    let mut ring = Ring::new();
    let first = net.edges[ways[0] / 2].as_ref()?;
    for way in ways {
        let line = &net.edges[way / 2].as_ref()?.piece.line;
        let last = line.len() - 1;
        if way % 2 == 0 {
            ring.extend(&line[..last]);
        } else {
            ring.extend(line[1..].iter().rev());
        }
    }
    let name = first.piece.name.clone();
    let is_bounded = signed_area_m2(&ring) > 0.0;
    is_bounded.then_some(Closed { ring, layer: first.piece.layer, times: 1, name })
}
