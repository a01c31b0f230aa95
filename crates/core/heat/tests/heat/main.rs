//! The model of heat and cure against closed forms, laws of conservation, references and itself.

mod field;
mod learning;
mod model;
mod sides;
