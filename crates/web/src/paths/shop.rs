//! Addresses of the shop and everything that is not of one cast.

use axum_extra::routing::TypedPath;
use fondant_app::records::{AirLogId, CastId, DeviceId, FormId};
use serde::Deserialize;

use crate::ui::error::WebError;

/// Declares addresses without fields.
macro_rules! places {
    ($($(#[$doc:meta])+ $name:ident($pattern:literal))+) => {$(
        $(#[$doc])+
        #[derive(Debug, Clone, Copy, TypedPath, Deserialize)]
        #[typed_path($pattern, rejection(WebError))]
        pub(crate) struct $name;
    )+};
}

/// Declares addresses by their fields and pattern.
macro_rules! paths {
    ($($(#[$doc:meta])+ $name:ident($pattern:literal) { $($field:ident: $type:ty),* })+) => {$(
        $(#[$doc])+
        #[derive(Debug, Clone, TypedPath, Deserialize)]
        #[typed_path($pattern, rejection(WebError))]
        pub(crate) struct $name {
            $(pub(crate) $field: $type),*
        }
    )+};
}

places! {
    /// The beginning: leads to today.
    Home("/")
    /// The first visit.
    Welcome("/welcome")
    /// What the shop does next.
    Today("/today")
    /// The day on paper.
    DaySheet("/today/sheet")
    /// Instruments.
    Devices("/shop/devices")
    /// An instrument added.
    DevicesAdd("/shop/devices/add")
    /// Instruments played by hand.
    DevicesPlay("/shop/devices/play")
    /// The door for what instruments read.
    DeviceReadings("/devices/readings")
    /// What a browser installs the application by.
    AppManifest("/app.webmanifest")
    /// What keeps the bench at hand without a connection.
    BenchWorker("/bench-worker.js")
    /// What happens, as it happens.
    Events("/events")
    /// Whether the server lives.
    Health("/health")
    /// Whether it can serve pages.
    Ready("/health/ready")
    /// Casts that have come to their end.
    Ledger("/ledger")
    /// The same as a table for other programs.
    LedgerCsv("/ledger.csv")
    /// Two of them side by side.
    Compare("/ledger/compare")
    /// Forms and moulds that the shop has.
    Forms("/forms")
    /// Resins, bottles, colours.
    Shelf("/shelf")
    /// What a repair under the lamp takes.
    Repair("/shelf/repair")
    /// A new resin.
    NewResin("/shelf/new")
    /// A resin from a file.
    ImportResin("/shelf/import")
    /// A new lot.
    Lots("/shelf/lots")
    /// A new colour.
    Colours("/shelf/colours")
    /// Hours, people, air.
    Shop("/shop")
    /// The whole workshop as one file.
    WholeShop("/shop/workshop.zip")
    /// A log of the shop's air brought in.
    ShopLog("/shop/log")
    /// A log that was looked at kept.
    KeepLog("/shop/log/keep")
    /// The room fitted to its log.
    FitRoom("/shop/fit")
    /// A new address for the calendar.
    RenewFeed("/shop/feed")
    /// The weather forecast as its source gives it.
    Weather("/shop/forecast.json")
}

paths! {
    /// An instrument calibrated, silenced or revoked.
    ChangeDevice("/shop/devices/{device}") { device: DeviceId }
    /// A log of the shop's air taken out again.
    WithdrawLog("/shop/log/{log}/withdraw") { log: AirLogId }
    /// A pour out of the way of another.
    WayOut("/today/move/{cast}/{pour}") { cast: CastId, pour: i64 }
    /// The calendar of the shop.
    Feed("/feed/{token}/pours.ics") { token: String }
    /// A form changed.
    Form("/forms/{form}") { form: FormId }
    /// A form removed.
    RemoveForm("/forms/{form}/remove") { form: FormId }
    /// A resin by its datasheet.
    Resin("/shelf/resins/{resin}") { resin: String }
    /// A resin put away or brought back.
    PutAway("/shelf/resins/{resin}/away") { resin: String }
    /// A generic resin as it ships.
    Restore("/shelf/resins/{resin}/restore") { resin: String }
    /// A resin as a file.
    ExportResin("/shelf/resins/{resin}/export") { resin: String }
    /// The calibration from a cup's log.
    Lesson("/shelf/resins/{resin}/learn") { resin: String }
    /// A lesson kept.
    AcceptLesson("/shelf/resins/{resin}/learn/accept") { resin: String }
    /// Removes the calibration of a resin.
    Forget("/shelf/resins/{resin}/forget") { resin: String }
    /// How much is left of a lot.
    Lot("/shelf/lots/{lot}") { lot: String }
    /// A lot removed.
    RemoveLot("/shelf/lots/{lot}/remove") { lot: String }
    /// A colour removed.
    RemoveColour("/shelf/colours/{colour}/remove") { colour: String }
}
