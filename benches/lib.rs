//! Nothing but a place for the benches.
