//! The bench: one run, one act at a time, for a tablet and gloved hands.
//!
//! - `form`: what was tapped → what happened
//! - `telling`: what an act looks like; `act`: each of them; `weigh`, `tint`, `vacuum`, `after`: those on
//!   the scale, under vacuum and once all is in; `known`: what the plan knows of the ready list
//! - `view`: everything beside it; `clocks`: what runs out; `baths`: warm and cold water; `drawing`: the
//!   form as it fills; `live`: which instrument the act asks for
//! - `model`: open buckets as the model sees them
//! - `labels`: for the buckets, to print
//! - `worker.js`: the page opens without a connection
//! - `typed.js`: what is typed and not yet tapped outlives every answer
//! - `live.js`: what instruments read, told and written into its field
//! - `bench.js`: rows are kept on the device until the server has them; clocks

mod act;
mod after;
mod baths;
mod clocks;
mod drawing;
mod form;
mod handlers;
mod join;
mod known;
mod labels;
mod live;
mod model;
mod telling;
mod tint;
mod vacuum;
mod view;
mod weigh;

use axum::Router;

use crate::Web;
use crate::routing::Routes;

pub(crate) use model::modelled;

pub(crate) fn routes() -> Router<Web> {
    Router::new()
        .typed_post(handlers::begin)
        .typed_get(handlers::show)
        .typed_post(handlers::write_down)
        .typed_get(handlers::worker)
        .typed_get(labels::show)
        .typed_get(handlers::manifest)
}
