//! Pages and forms through the real router, on a real PostgreSQL.

mod agreeing;
mod amounts;
mod answers;
mod bench;
mod common;
mod devices;
mod exports;
mod faults;
mod field;
mod finish;
mod front_page;
mod happened;
mod inches;
mod keeping;
mod kept;
mod kinds;
mod ledger;
mod pages;
mod recipe;
mod resins;
mod shelf;
mod stages;
mod today;
mod uploads;
