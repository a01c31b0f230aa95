//! Symmetric linear systems of blocks in a row, each of which shares one unknown with the next.
//!
//! Each block but the last is eliminated down to the unknown that it shares; what is left of it is added
//! to the next. The inverses of the blocks are kept, since one factorisation serves many solutions and
//! blocks are small.

use crate::lanes::Wide;
use crate::square::Square;

/// The system, and its factors once they are made.
#[derive(Debug, Clone, Default)]
pub struct Chain {
    blocks: Vec<Block>,
}

#[derive(Debug, Clone, Default)]
struct Block {
    /// Its first unknown.
    first: usize,
    entries: Square,
    /// Inverse of what belongs to it alone.
    inverse: Square,
    /// Its entries towards the unknown that it shares with the next block; empty for the last.
    shared: Vec<f64>,
    /// The inverse times those.
    carried: Vec<f64>,
}

impl Chain {
    /// Of blocks of entries, in order: the last unknown of each is the first of the next.
    #[must_use]
    pub fn new(blocks: impl ExactSizeIterator<Item = Square>) -> Self {
        let (mut first, last) = (0, blocks.len().saturating_sub(1));
        let block = |(index, entries): (usize, Square)| {
            let top = entries.size() - 1;
            let own = if index == last { entries.size() } else { top };
            let shared = if index == last {
                Vec::new()
            } else {
                (0..top).map(|i| entries.at(i, top)).collect()
            };
            let block = Block {
                first,
                inverse: Square::zeros(own),
                carried: vec![0.0; shared.len()],
                shared,
                entries,
            };
            first += top;
            block
        };
        Self { blocks: blocks.enumerate().map(block).collect() }
    }

    /// Prepares to solve the system with values added to its diagonal; `false` where it is not positive
    /// definite then.
    pub fn factorise(&mut self, diagonal: &[f64]) -> bool {
        // What is left of the block before.
        let mut left = 0.0;
        for block in &mut self.blocks {
            block.inverse.copy_part(&block.entries);
            block.inverse.add_diagonal(&diagonal[block.first..]);
            block.inverse.add(0, 0, left);
            if !block.inverse.invert() {
                return false;
            }
            block.carried.fill(0.0);
            let top = block.shared.len();
            if top > 0 {
                block.inverse.add_product(1.0, &block.shared, &mut block.carried);
                left = block.entries.at(top, top) - dot(&block.shared, &block.carried);
            }
        }
        true
    }

    /// Solves in place, once factorised.
    pub fn solve(&self, x: &mut [f64]) {
        Wide::new().run(
            #[inline(always)]
            || self.solve_here(x),
        );
    }

    #[inline(always)]
    fn solve_here(&self, x: &mut [f64]) {
        for block in &self.blocks {
            let (own, above) = x[block.first..].split_at_mut(block.inverse.size());
            let mut solved = [0.0; crate::square::MOST_ROWS];
            block.inverse.add_product(1.0, own, &mut solved);
            own.copy_from_slice(&solved[..own.len()]);
            if let Some(above) = above.first_mut().filter(|_| !block.shared.is_empty()) {
                *above -= dot(&block.shared, own);
            }
        }
        for block in self.blocks.iter().rev().skip(1) {
            let (own, above) = x[block.first..].split_at_mut(block.inverse.size());
            for (own, carried) in own.iter_mut().zip(&block.carried) {
                *own -= carried * above[0];
            }
        }
    }
}

#[inline(always)]
fn dot(a: &[f64], b: &[f64]) -> f64 {
    a.iter().zip(b).map(|(a, b)| a * b).sum()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// Unknowns of each block, and where it begins.
    const BLOCKS: [(usize, usize); 3] = [(0, 3), (2, 4), (5, 2)];
    const UNKNOWNS: usize = 7;

    fn blocks(entries: &[f64]) -> Vec<Square> {
        BLOCKS
            .iter()
            .map(|(first, size)| {
                let mut block = Square::zeros(*size);
                for (i, j) in (0..*size).flat_map(|i| (0..*size).map(move |j| (i, j))) {
                    block.add(i, j, entries[(first + i.min(j)) * UNKNOWNS + first + i.max(j)]);
                }
                block
            })
            .collect()
    }

    proptest! {
        #[test]
        fn solutions_put_back_give_the_right_side(
            entries in proptest::collection::vec(-1.0f64..1.0, UNKNOWNS * UNKNOWNS),
            x in proptest::collection::vec(-9.0f64..9.0, UNKNOWNS),
        ) {
            let blocks = blocks(&entries);
            // No row's other entries come to 9.
            let diagonal = [9.0; UNKNOWNS];
            let mut right: Vec<f64> = diagonal.iter().zip(&x).map(|(d, x)| d * x).collect();
            for (block, (first, size)) in blocks.iter().zip(BLOCKS) {
                block.add_product(1.0, &x[first..first + size], &mut right[first..first + size]);
            }
            let mut chain = Chain::new(blocks.into_iter());
            prop_assert!(chain.factorise(&diagonal));
            chain.solve(&mut right);
            for (solved, x) in right.iter().zip(&x) {
                prop_assert!((solved - x).abs() < 1e-12);
            }
        }
    }

    #[test]
    fn a_system_that_is_not_positive_definite_is_refused() {
        let mut chain = Chain::new(blocks(&[1.0; UNKNOWNS * UNKNOWNS]).into_iter());
        assert!(!chain.factorise(&[-2.0; UNKNOWNS]));
        assert!(chain.factorise(&[9.0; UNKNOWNS]));
    }
}
