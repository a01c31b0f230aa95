//! The program as its makers use it: in headless Chromium, and on the command line.

mod access;
mod bench;
mod heat;
mod jobs;
mod ledger;
mod measuring;
mod model;
mod outages;
mod path;
mod pours;
mod processes;
mod program;
mod reading;
mod screenshots;
mod stages;
mod swirl;
mod taps;
mod tubes;
mod units;
mod welcome;
