//! Fourteen jobs as makers do them, each from an empty workshop to a taken plan, with figures worked
//! out by hand beside them.

mod clear;
mod maker;
mod rivers;
mod small;
mod timber;
