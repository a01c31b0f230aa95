//! All that can be wrong with a document without measuring it.

use super::bounds::out_of_bounds;
use super::conflict::Conflict;
use super::contents::contradictions;
use crate::document::{Document, SCHEMA_VERSION};

impl Document {
    /// Everything in which the document contradicts itself or leaves its bounds.
    /// It is kept only where this is empty.
    #[must_use]
    pub fn conflicts(&self) -> Vec<Conflict> {
        if self.schema > SCHEMA_VERSION {
            return vec![Conflict::NewerSchema { found: self.schema }];
        }
        let mut all = out_of_bounds(self);
        // Geometry of figures out of bounds says nothing, and may cost much.
        if all.is_empty() {
            contradictions(self, &mut all);
            super::stages::contradictions(self, &mut all);
        }
        all
    }
}

#[cfg(test)]
mod tests;
