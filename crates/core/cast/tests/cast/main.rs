//! Whole casts: from a document to its resin, its heat and its pours.

mod curing;
mod kept_documents;
mod kinds;
mod measuring;
mod obeying;
mod poured_of;
mod pouring;
mod staged;
mod worked_jobs;
