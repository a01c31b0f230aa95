//! The pages: a folder each, with its handlers, form, view, drawing, template and script.
//!
//! - [`today`], [`day_sheet`], [`calendar`], [`way_out`]: the shop's day
//! - [`casts`], [`workspace`], [`stations`]: casts
//! - [`pouring`], [`alternatives`], [`field`]: what is done at the stations of pours and heat
//! - [`bench`]: the day of the pour
//! - [`files`], [`drawing`], [`mesh`], [`photo`], [`prints`]: what goes in and out of a cast
//! - [`shelf`], [`resin`], [`lesson`], [`forms`], [`shop`], [`shop_log`]: the shop
//! - [`devices`]: instruments, and the door through which they send
//! - [`welcome`]: the first visit
//! - [`record`], [`ledger`]: casts that have come to their end
//! - [`events`], [`health`]: for browsers and watchers

pub(crate) mod alternatives;
pub(crate) mod bench;
pub(crate) mod calendar;
pub(crate) mod casts;
pub(crate) mod day_sheet;
pub(crate) mod devices;
pub(crate) mod drawing;
pub(crate) mod events;
pub(crate) mod field;
pub(crate) mod files;
pub(crate) mod finishing;
pub(crate) mod forms;
pub(crate) mod health;
pub(crate) mod ledger;
pub(crate) mod lesson;
pub(crate) mod mesh;
pub(crate) mod photo;
pub(crate) mod pouring;
pub(crate) mod prints;
pub(crate) mod record;
pub(crate) mod resin;
pub(crate) mod shelf;
pub(crate) mod shop;
pub(crate) mod shop_log;
pub(crate) mod stations;
pub(crate) mod today;
pub(crate) mod way_out;
pub(crate) mod welcome;
pub(crate) mod workspace;
