//! The page of the shelf.

use askama::Template;
use askama_web::WebTemplate;
use fondant_app::Shop;
use fondant_app::records::{Kept, Shelved};
use fondant_materials::resin::shelf::{Colour, Lot as LotItem, OnShelf};
use fondant_quantities::units::UnitSystem;
use fondant_quantities::units::trimmed;
use jiff::Timestamp;
use jiff::civil::Date;

use super::form::{BASES, KINDS, colour_fields, lot_fields};
use super::repair::RepairView;
use crate::paths::shop::{Lesson, Lot, RemoveColour, RemoveLot, Resin};
use crate::ui::entries::{Entries, Refusals};
use crate::ui::field::{Field, Fields};
use crate::ui::numbers::money;
use crate::ui::page::{Follows, Page, Place};
use crate::ui::units::{InUnits, Shown};
use crate::words::measures::priced_mass;
use crate::words::resin::{CLASSES, words_of};

/// An opened bottle older than this is to be looked at before it is used, days.
const OLD_DAYS: i32 = 365;

#[derive(Template, WebTemplate)]
#[template(path = "pages/shelf/shelf.html")]
pub(super) struct ShelfPage {
    page: Page,
    resins: Vec<ResinRow>,
    repair: RepairView,
    lots: Vec<LotRow>,
    colours: Vec<ColourRow>,
    /// Records that cannot be read.
    unreadable: Vec<String>,
    /// Names the next addition, so that it is added once.
    request: String,
    lot_fields: Vec<Field>,
    colour_fields: Vec<Field>,
    lot_refused: bool,
    colour_refused: bool,
    notice: String,
}

struct ResinRow {
    href: Resin,
    teach: Lesson,
    name: String,
    about: String,
    deepest: String,
    learnt: String,
    origin: &'static str,
    is_away: bool,
}

struct LotRow {
    save: Lot,
    remove: RemoveLot,
    revision: i32,
    resin: String,
    lot: String,
    about: String,
    left: Field,
    is_old: bool,
}

struct ColourRow {
    remove: RemoveColour,
    name: String,
    about: String,
}

/// A form of this page.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(super) enum Which<'a> {
    NewLot,
    NewColour,
    /// How much is left of a lot.
    Lot(&'a str),
    /// A resin from a file.
    File,
}

/// A form of this page that was refused.
pub(super) struct Refused<'a> {
    pub(super) which: Which<'a>,
    pub(super) entries: &'a Entries,
    pub(super) refusals: &'a Refusals,
    pub(super) notice: String,
}

static NONE: Refusals = Refusals::none();

impl ShelfPage {
    pub(super) fn new(
        (shop, now): (&Shop, Timestamp),
        (lots, colours): (&Shelved<LotItem>, &Shelved<Colour>),
        repair: RepairView,
        refused: Option<Refused<'_>>,
        request: String,
    ) -> Self {
        let of = |which: Which<'_>| {
            let refused = refused.as_ref().filter(|refused| refused.which == which);
            Fields::of(
                shop.shown(),
                refused.map(|refused| refused.entries),
                refused.map_or(&NONE, |refused| refused.refusals),
            )
        };
        let system = shop.shown().system;
        let today = now.to_zoned_datetime(shop.hours().zone().clone()).date();
        let lot = |kept: &Kept<LotItem>| lot_row(kept, shop, &of(Which::Lot(&kept.slug)), today);
        let which = refused.as_ref().map(|refused| refused.which);
        let unreadable = [&shop.stock.unreadable, &lots.unreadable, &colours.unreadable];
        let typed_request = refused.as_ref().and_then(|r| r.entries.get("request"));
        Self {
            page: Page::new("Shelf", Place::Shelf).following(Follows::Shop),
            resins: shop.shelf().all().iter().map(|on| resin_row(on, shop.shown())).collect(),
            repair,
            lots: lots.items.iter().map(lot).collect(),
            colours: colours.items.iter().map(|one| colour_row(one, system)).collect(),
            unreadable: unreadable.into_iter().flatten().cloned().collect(),
            request: typed_request.map_or(request, str::to_owned),
            lot_fields: lot_fields(&of(Which::NewLot), shop, today),
            colour_fields: colour_fields(&of(Which::NewColour)),
            lot_refused: which == Some(Which::NewLot),
            colour_refused: which == Some(Which::NewColour),
            notice: refused.map(|refused| refused.notice).unwrap_or_default(),
        }
    }
}

fn resin_row(on: &OnShelf, shown: Shown) -> ResinRow {
    let record = &on.resin;
    let resin = record.id.0.clone();
    ResinRow {
        href: Resin { resin: resin.clone() },
        teach: Lesson { resin },
        name: record.name.clone(),
        about: words_of(&CLASSES, &record.class).to_owned(),
        deepest: record.datasheet.deepest.map_or_else(
            || format!("limit {}", shown.temperature(record.working.peak_limit)),
            |deepest| format!("datasheet: {} a layer", shown.length(deepest.depth)),
        ),
        learnt: record.calibration.as_ref().map_or_else(
            || "no readings yet".to_owned(),
            |learnt| format!("calibrated with lot {}", lot_name(&learnt.lot)),
        ),
        origin: if on.is_own { "yours" } else { "generic" },
        is_away: on.is_put_away,
    }
}

/// The mark of a lot, where there is one.
pub(crate) fn lot_name(lot: &str) -> &str {
    if lot.is_empty() { "unknown" } else { lot }
}

fn lot_row(kept: &Kept<LotItem>, shop: &Shop, fields: &Fields<'_>, today: Date) -> LotRow {
    let lot = &kept.item;
    let days = |from: Date| (today - from).get_days();
    let age = |from: Date| match days(from) {
        ..1 => "today".to_owned(),
        1 => "yesterday".to_owned(),
        d @ 2..61 => format!("{d} days ago"),
        d => format!("{} months ago", (f64::from(d) / 30.4).round()),
    };
    let opened =
        lot.opened.map_or_else(|| "not opened".to_owned(), |date| format!("opened {}", age(date)));
    let held =
        lot.held.map(|held| format!(" for {}", shop.shown().volume(held))).unwrap_or_default();
    let named = |id: &str| id.to_owned();
    LotRow {
        save: Lot { lot: kept.slug.clone() },
        remove: RemoveLot { lot: kept.slug.clone() },
        revision: kept.revision,
        resin: shop
            .shelf()
            .find(&lot.resin)
            .map_or_else(|_| named(&lot.resin.0), |r| named(&r.name)),
        lot: lot.lot.clone(),
        about: format!("bought {}, {opened}, cost {}{held}", age(lot.bought), money(lot.cost)),
        left: fields.volume(&format!("left-{}", kept.slug), "left", lot.left),
        is_old: lot.opened.is_some_and(|date| days(date) > OLD_DAYS),
    }
}

fn colour_row(kept: &Kept<Colour>, system: UnitSystem) -> ColourRow {
    let colour = &kept.item;
    ColourRow {
        remove: RemoveColour { colour: kept.slug.clone() },
        name: colour.name.clone(),
        about: format!(
            "{}, {}, at most {}\u{202f}% of the mixed mass{}",
            words_of(&KINDS, &colour.kind),
            words_of(&BASES, &colour.base),
            trimmed(colour.ceiling_percent, 1),
            colour
                .price_kg
                .map(|price| {
                    let (by, a_kilogram) = priced_mass(system);
                    format!(", {} a {by}", money(price / a_kilogram))
                })
                .unwrap_or_default()
        ),
    }
}
