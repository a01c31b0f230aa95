//! The list of casts, and the few questions with which a new one begins.
//!
//! - `list`: found by state and word; `row`: one of them; `keep`: renamed, copied, put away, deleted
//! - `new`: begun; `import`: from a file

mod import;
mod keep;
mod list;
mod new;
mod row;

use axum::Router;

use crate::Web;
use crate::routing::Routes;

pub(crate) use import::uploads;

pub(crate) fn routes() -> Router<Web> {
    Router::new()
        .typed_get(list::list)
        .typed_get(new::new)
        .typed_post(new::create)
        .merge(keep::routes())
}
