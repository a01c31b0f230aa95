//! The best pour times and depths on a grid: A* over the pours, with the
//! layered heat model as the transition.
//!
//! A node is the pours so far; following it runs the model on from the state of
//! the one before. What is left to pay is bounded from below by a relaxed
//! graph in which a pour's window no longer depends on what lies below
//! (`table`, `to_go`). Nodes are taken in the order of their bound, a fixed number at
//! a time and side by side, so that the answer does not depend on the number of
//! threads. The first complete plan whose cost is no more than the least bound
//! is the best on the grid.

mod climb;
mod dive;
mod node;
mod path;
mod reach;
mod run;
mod state;
mod table;
mod terms;
mod to_go;
mod write_out;

pub use run::search;
pub use terms::{Aim, Allowance};

#[cfg(test)]
mod tests;
