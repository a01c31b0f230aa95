//! Pages and forms through the real router, on a real PostgreSQL.

mod answers;
mod common;
mod field;
mod kinds;
mod pages;
mod shelf;
mod today;
mod uploads;
