//! What the maker has said about a cast: one typed document, kept as JSON with a schema version.
//! Quantities are bare numbers in the SI unit that ends their name.
//!
//! - `cast`: [`Document`], what all casts share
//! - `contents`: [`Contents`], what only casts of one kind have
//! - `begin`: what a new cast begins with
//! - `brought`: what files bring into it; `drawn`: what the lines of a drawing are
//! - `swirl`: colours in cups of their own; `recipe`: the colour of a fill of one
//! - `brief`, `filling`, `building`, `conditions`, `stages`, `pours`: its parts, subject by subject
//! - `typed`: figures as they were typed
//! - `kept`: documents of every version that has been stored

pub(crate) mod amounts;
mod begin;
mod brief;
mod brought;
mod building;
mod cast;
mod conditions;
mod contents;
mod drawn;
mod filling;
mod inches;
mod kept;
mod kind;
mod moulds;
mod pours;
mod recipe;
mod staged;
mod stages;
mod swirl;
mod typed;
mod usual;

pub use brief::Brief;
pub use brought::{Origin, Placing};
pub use building::{FormBuild, FormChoices};
pub use cast::{Document, SCHEMA_VERSION};
pub use conditions::{AirFrom, Conditions, DepthOverride};
pub use contents::{Block, Coat, Contents, Embed, Inlay, River, Shaping, Tubes};
pub use drawn::{Drawn, Read, Role, proposed};
pub use filling::Checks;
pub use kind::Kind;
pub use moulds::{Cavities, Moulds, Pressed, PressedShape};
pub use pours::{PourId, PouredOf, Pours, Split, TakenPour};
pub use recipe::{Recipe, RecipeColour, through_depth};
pub use stages::{CracksFirst, Flood, Stage, Stages};
pub use swirl::{Colour, Swirl};
pub use typed::Typed;
