//! Lots of resin and colours.

use axum::extract::{Path, State};
use axum::response::{IntoResponse, Redirect, Response};
use fondant_materials::resin::ResinId;
use fondant_materials::resin::shelf::{Colour, ColourBase, ColourKind, Lot};
use fondant_quantities::units::trimmed;
use fondant_quantities::{Volume, bounds};
use fondant_store::repos::Kept;
use jiff::civil::Date;

use super::{ColourRow, LotRow, Refused, page, words_of};
use crate::entries::{Reader, Refusals};
use crate::routes::extract::Typed;
use crate::state::Shop;
use crate::views::fields::{Field, Fields};
use crate::{AppState, WebError};

/// An opened bottle older than this is to be looked at before it is used, days.
const OLD_DAYS: i32 = 365;
/// Longest mark and name, characters.
const MARK_CHARACTERS: usize = 40;

const KINDS: [(&str, &str, ColourKind); 4] = [
    ("powder", "powder or flakes", ColourKind::Powder),
    ("paste", "pigment paste", ColourKind::Paste),
    ("dye", "dye or ink", ColourKind::Dye),
    ("paint", "paint", ColourKind::Paint),
];
const BASES: [(&str, &str, ColourBase); 4] = [
    ("dry", "dry", ColourBase::Dry),
    ("resin", "in resin", ColourBase::Resin),
    ("solvent", "in solvent", ColourBase::Solvent),
    ("water", "in water", ColourBase::Water),
];

pub(super) fn lot_row(kept: &Kept<Lot>, shop: &Shop, fields: &Fields<'_>, today: Date) -> LotRow {
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
    LotRow {
        slug: kept.slug.clone(),
        revision: kept.revision,
        resin: shop.shelf.find(&lot.resin).map_or_else(|_| lot.resin.0.clone(), |r| r.name.clone()),
        lot: lot.lot.clone(),
        about: format!("bought {}, {opened}, cost {}", age(lot.bought), trimmed(lot.cost, 2)),
        left: fields.volume(&format!("left-{}", kept.slug), "left", lot.left),
        is_old: lot.opened.is_some_and(|date| days(date) > OLD_DAYS),
    }
}

pub(super) fn colour_row(kept: &Kept<Colour>) -> ColourRow {
    let colour = &kept.item;
    ColourRow {
        slug: kept.slug.clone(),
        name: colour.name.clone(),
        about: format!(
            "{}, {}, at most {} % of the mixed mass",
            words_of(&KINDS, &colour.kind),
            words_of(&BASES, &colour.base),
            trimmed(colour.ceiling_percent, 1)
        ),
    }
}

pub(super) fn lot_fields(fields: &Fields<'_>, shop: &Shop, today: Date) -> Vec<Field> {
    let resins: Vec<(&str, &str)> =
        shop.shelf.offered().map(|r| (r.id.0.as_str(), r.name.as_str())).collect();
    let first = resins.first().map_or("", |r| r.0);
    vec![
        fields.choice("lot_resin", "Resin", first, &resins),
        fields.text("lot_mark", "Lot, as the bottle says", ""),
        fields.text("lot_bought", "Bought", &today.to_string()).kind("date"),
        fields.text("lot_opened", "Opened, if it is", "").kind("date"),
        fields.volume("lot_left", "Mixed volume left", Volume::from_l(3.0)),
        fields.number("lot_cost", "Cost", 0.0, &bounds::PRICE),
    ]
}

pub(super) fn colour_fields(fields: &Fields<'_>) -> Vec<Field> {
    let ceiling = ColourKind::Powder.usual_ceiling_percent();
    vec![
        fields.text("colour_name", "What the shop calls it", ""),
        fields.choice("colour_kind", "Made of", "powder", &KINDS.map(|(v, l, _)| (v, l))),
        fields.choice("colour_base", "It comes", "dry", &BASES.map(|(v, l, _)| (v, l))),
        fields
            .number("colour_ceiling", "At most, of the mixed mass", ceiling, &bounds::DOSE_PERCENT)
            .hint("Powders and pastes about 5 %, dyes 1–2 %."),
    ]
}

fn date(reader: &mut Reader<'_>, name: &str, must: bool) -> Option<Date> {
    let text = reader.entries.get(name).unwrap_or_default().trim();
    if text.is_empty() && !must {
        return None;
    }
    let read = text.parse::<Date>().ok();
    if read.is_none() {
        reader.refusals.add(name, format!("“{text}” is no date. Pick a day such as 2026-05-31."));
    }
    read
}

pub(in crate::routes) async fn add_lot(
    State(state): State<AppState>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let mut reader = Reader::new(&entries, shop.shown.system);
    let resin = ResinId(entries.get("lot_resin").unwrap_or_default().to_owned());
    if let Err(error) = shop.shelf.find(&resin) {
        reader.refusals.add("lot_resin", error.to_string());
    }
    let (mut mark, mut left, mut cost) = (String::new(), Volume::ZERO, 0.0);
    reader.text("lot_mark", "The lot", MARK_CHARACTERS, false, &mut mark);
    reader.quantity("lot_left", &bounds::OPENED, &mut left);
    reader.number("lot_cost", &bounds::PRICE, &mut cost);
    let bought = date(&mut reader, "lot_bought", true);
    let opened = date(&mut reader, "lot_opened", false);
    if let (Some(bought), Some(opened)) = (bought, opened)
        && opened < bought
    {
        reader.refusals.add("lot_opened", "It cannot be opened before it was bought.");
    }
    let refusals = reader.refusals;
    let (Some(bought), true) = (bought, refusals.is_empty()) else {
        return refused(&state, &entries, &refusals).await;
    };
    let lot = Lot { resin, lot: mark, bought, opened, left, cost };
    let slug = format!("lot-{}", state.now().as_microsecond());
    state.store.put_on_shelf(shop.id, &slug, 0, &lot, state.now()).await?;
    Ok(Redirect::to("/shelf#stock").into_response())
}

async fn refused(
    state: &AppState,
    entries: &crate::entries::Entries,
    refusals: &Refusals,
) -> Result<Response, WebError> {
    page(state, Some(Refused { entries, refusals, notice: String::new(), lot: None })).await
}

/// How much is left in a lot now.
pub(in crate::routes) async fn left(
    State(state): State<AppState>,
    Path(slug): Path<String>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let all = state.store.shelf_items::<Lot>(shop.id).await?;
    let kept = all.into_iter().find(|k| k.slug == slug).ok_or(WebError::NotFound("lot"))?;
    let mut lot = kept.item;
    let mut reader = Reader::new(&entries, shop.shown.system);
    reader.quantity(&format!("left-{slug}"), &bounds::OPENED, &mut lot.left);
    let refusals = reader.refusals;
    if !refusals.is_empty() {
        let notice = String::new();
        let refused = Refused { entries: &entries, refusals: &refusals, notice, lot: Some(slug) };
        return page(&state, Some(refused)).await;
    }
    let expected = entries.number("revision").unwrap_or_default();
    state.store.put_on_shelf(shop.id, &slug, expected, &lot, state.now()).await?;
    Ok(Redirect::to("/shelf#stock").into_response())
}

pub(in crate::routes) async fn remove_lot(
    State(state): State<AppState>,
    Path(slug): Path<String>,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    state.store.take_off_shelf::<Lot>(shop.id, &slug).await?;
    Ok(Redirect::to("/shelf#stock").into_response())
}

pub(in crate::routes) async fn add_colour(
    State(state): State<AppState>,
    Typed(entries): Typed,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    let mut reader = Reader::new(&entries, shop.shown.system);
    let mut colour = Colour {
        name: String::new(),
        kind: ColourKind::Powder,
        base: ColourBase::Dry,
        ceiling_percent: 5.0,
    };
    reader.text("colour_name", "The name", MARK_CHARACTERS, false, &mut colour.name);
    reader.choice("colour_kind", &KINDS.map(|(v, _, k)| (v, k)), &mut colour.kind);
    reader.choice("colour_base", &BASES.map(|(v, _, b)| (v, b)), &mut colour.base);
    reader.number("colour_ceiling", &bounds::DOSE_PERCENT, &mut colour.ceiling_percent);
    if colour.base == ColourBase::Water {
        let most = ColourKind::Paint.usual_ceiling_percent();
        if colour.ceiling_percent > most {
            reader.refusals.add(
                "colour_ceiling",
                format!(
                    "Water clouds resin: keep it to {most} % and test it in a small cup first."
                ),
            );
        }
    }
    let refusals = reader.refusals;
    if !refusals.is_empty() {
        return refused(&state, &entries, &refusals).await;
    }
    let slug = format!("colour-{}", state.now().as_microsecond());
    state.store.put_on_shelf(shop.id, &slug, 0, &colour, state.now()).await?;
    Ok(Redirect::to("/shelf#colours").into_response())
}

pub(in crate::routes) async fn remove_colour(
    State(state): State<AppState>,
    Path(slug): Path<String>,
) -> Result<Response, WebError> {
    let shop = state.shop().await?;
    state.store.take_off_shelf::<Colour>(shop.id, &slug).await?;
    Ok(Redirect::to("/shelf#colours").into_response())
}
