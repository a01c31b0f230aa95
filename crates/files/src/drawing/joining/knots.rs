//! Ends of lines that meet in knots, and what hangs from the net by one end only.

use std::collections::HashMap;

use fondant_quantities::Length;
use fondant_shapes::geometry::{Point, Ring};

use super::cells::Cells;
use super::piece::{Piece, half_way, length};
use crate::drawing::Open;

/// Lines of the same ends that are farther apart in their middles are two ways, metres.
const SAME_WAY_M: f64 = 1e-4;

/// A line between two knots.
#[derive(Debug)]
pub(super) struct Edge {
    pub(super) piece: Piece,
    pub(super) from: usize,
    pub(super) to: usize,
}

/// Lines joined where their ends meet.
#[derive(Debug)]
pub(super) struct Net {
    pub(super) edges: Vec<Option<Edge>>,
    /// The edges of each knot; one that begins and ends there stands twice.
    pub(super) at: Vec<Vec<usize>>,
    bridges: Vec<Edge>,
}

impl Net {
    /// Lines whose ends are one where they are closer than `within`, metres. A line that is drawn
    /// twice is one.
    pub(super) fn new(pieces: Vec<Piece>, within: f64) -> Self {
        let mut knots = Cells::new(within.max(1e-9));
        let mut net = Self { edges: Vec::new(), at: Vec::new(), bridges: Vec::new() };
        let mut ways: HashMap<(usize, usize), Vec<Point>> = HashMap::new();
        for mut piece in pieces {
            let last = piece.line.len() - 1;
            let mut knot = |p: Point| knots.near(p).unwrap_or_else(|| knots.add(p));
            let (from, to) = (knot(piece.line[0]), knot(piece.line[last]));
            if from == to && length(&piece.line) <= within {
                continue;
            }
            let middle = half_way(&piece.line);
            let known = ways.entry((from.min(to), from.max(to))).or_default();
            if known.iter().any(|m| m.minus(middle).norm_m() < SAME_WAY_M) {
                continue;
            }
            known.push(middle);
            // What met within the distance meets exactly.
            piece.line[0] = knots.at(from);
            piece.line[last] = knots.at(to);
            net.add(Edge { piece, from, to }, knots.len());
        }
        net
    }

    fn add(&mut self, edge: Edge, knots: usize) {
        self.at.resize(knots, Vec::new());
        let index = self.edges.len();
        self.at[edge.from].push(index);
        self.at[edge.to].push(index);
        self.edges.push(Some(edge));
    }

    /// Takes an edge out.
    pub(super) fn take(&mut self, index: usize) -> Option<Edge> {
        let edge = self.edges[index].take()?;
        for knot in [edge.from, edge.to] {
            self.at[knot].retain(|other| *other != index);
        }
        Some(edge)
    }

    /// Takes an edge out that joins what closes without it.
    pub(super) fn take_bridge(&mut self, index: usize) {
        let edge = self.take(index);
        self.bridges.extend(edge);
    }

    /// Takes out what hangs by one end, and what hangs from that.
    pub(super) fn take_loose(&mut self) -> Vec<Edge> {
        let mut ends: Vec<usize> =
            (0..self.at.len()).filter(|knot| self.at[*knot].len() == 1).collect();
        let mut loose = Vec::new();
        while let Some(knot) = ends.pop() {
            let [only] = self.at[knot][..] else { continue };
            let Some(edge) = self.take(only) else { continue };
            let other = if edge.from == knot { edge.to } else { edge.from };
            if self.at[other].len() == 1 {
                ends.push(other);
            }
            loose.push(edge);
        }
        loose
    }

    /// Takes out the edges that were bridges.
    pub(super) fn take_bridges(&mut self) -> Vec<Edge> {
        std::mem::take(&mut self.bridges)
    }
}

/// Loose lines joined end to end, the longest first: as many as `most`, each with the gap that keeps
/// it open, and the others as they are.
pub(super) fn open_lines(
    loose: impl Iterator<Item = Edge>,
    within: f64,
    most: usize,
) -> (Vec<Open>, Vec<Piece>) {
    let mut chains = chained(loose.collect());
    chains.sort_by(|a, b| length(&b.line).total_cmp(&length(&a.line)));
    let ends = |piece: &Piece| [piece.line[0], piece.line[piece.line.len() - 1]];
    let mut tips: Vec<Point> = chains.iter().flat_map(ends).collect();
    tips.sort_by(|a, b| a.x_m.total_cmp(&b.x_m));
    let rest = chains.split_off(most.min(chains.len()));
    let open = chains.into_iter().map(|piece| {
        let [a, b] = ends(&piece).map(|tip| (nearest(&tips, tip, within), tip));
        let (gap, at) = if a.0 > b.0 { a } else { b };
        let gap = Length::from_m(gap.min(length(&piece.line)));
        Open { line: piece.line, layer: piece.layer, gap, at }
    });
    (open.collect(), rest)
}

/// Distance from a tip to the nearest other one that does not meet it. The tips are sorted along x,
/// so that only those about as near are looked at.
fn nearest(sorted: &[Point], tip: Point, within: f64) -> f64 {
    let begin = sorted.partition_point(|p| p.x_m < tip.x_m);
    let mut best = f64::INFINITY;
    let mut look = |p: Point| {
        let distance = p.minus(tip).norm_m();
        if distance > within {
            best = best.min(distance);
        }
        (p.x_m - tip.x_m).abs() <= best
    };
    for p in &sorted[begin..] {
        if !look(*p) {
            break;
        }
    }
    for p in sorted[..begin].iter().rev() {
        if !look(*p) {
            break;
        }
    }
    best
}

/// Edges that follow each other as one line.
fn chained(edges: Vec<Edge>) -> Vec<Piece> {
    let mut at: HashMap<usize, Vec<usize>> = HashMap::new();
    for (index, edge) in edges.iter().enumerate() {
        at.entry(edge.from).or_default().push(index);
        at.entry(edge.to).or_default().push(index);
    }
    let mut edges: Vec<Option<Edge>> = edges.into_iter().map(Some).collect();
    let mut chains = Vec::new();
    for start in 0..edges.len() {
        let Some(edge) = edges[start].take() else { continue };
        let Edge { mut piece, from, to } = edge;
        extend(&mut piece.line, to, &at, &mut edges);
        piece.line.reverse();
        extend(&mut piece.line, from, &at, &mut edges);
        chains.push(piece);
    }
    chains
}

/// Goes on from a knot in which two lines meet, as long as there is one.
fn extend(
    line: &mut Ring,
    mut knot: usize,
    at: &HashMap<usize, Vec<usize>>,
    edges: &mut [Option<Edge>],
) {
    while let Some(&[a, b]) = at.get(&knot).map(Vec::as_slice) {
        let Some(next) = edges[a].take().or_else(|| edges[b].take()) else { break };
        let mut points = next.piece.line;
        if next.to == knot {
            points.reverse();
            knot = next.from;
        } else {
            knot = next.to;
        }
        line.extend(points.into_iter().skip(1));
    }
}
