//! The record on one page of paper: what the piece is, what it was made of and when, and how to look after
//! it. It goes with the piece, so it has no costs; faults and remarks only where the shop prints it for
//! itself.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Query, State};
use fondant_app::App;
use fondant_app::ending::{self, Ending};
use fondant_cast::Kind;
use fondant_cast::facts::{Fact, standing};
use fondant_record::figures::Figure;
use fondant_shapes::form::Piece;
use qrcode::{Color, EcLevel, QrCode};
use serde::Deserialize;

use crate::pages::stations::asked::{Looking, Visit};
use crate::pages::stations::record::drawing;
use crate::paths::casts::{RecordSheet, Station};
use crate::routing::Routes;
use crate::svg::{Markup, Svg};
use crate::ui::error::WebError;
use crate::ui::units::{InUnits, Shown};
use crate::words::{causes, kinds, layers, record};
use crate::{Settings, Web};

/// Quiet modules around a QR code, as its standard asks.
const QUIET: usize = 4;

/// How to look after a piece. Where its resin softens hangs on how warm it cured: no figure is promised.
const CARE: &str = "Warmth softens resin: no hot pans, no heater, no sun behind glass, and no warmer than its \
                    datasheet allows. Food only as the datasheets of resin and finish allow. Wipe it with a \
                    damp cloth; no solvent.";
/// Figures that say something to whom the piece goes to.
const FOR_CUSTOMERS: [Figure; 7] = [
    Figure::Volume,
    Figure::Mass,
    Figure::Peak,
    Figure::Air,
    Figure::Humidity,
    Figure::Pressure,
    Figure::Moisture,
];

pub(crate) fn routes() -> Router<Web> {
    Router::new().typed_get(show)
}

#[derive(Debug, Deserialize)]
struct Wanted {
    /// For the shop itself, with faults and remarks.
    #[serde(default)]
    shop: bool,
}

// Many fields: each is one part of the page.
#[derive(Template, WebTemplate)]
#[template(path = "pages/record/sheet.html")]
struct Sheet {
    back: Station,
    other: String,
    is_for_shop: bool,
    name: String,
    kind: &'static str,
    shop: String,
    ended: String,
    people: String,
    drawing: Markup,
    made_of: Vec<(&'static str, String)>,
    poured: Vec<(String, String, String)>,
    known: Vec<(&'static str, String)>,
    faults: Vec<String>,
    note: String,
    care: &'static str,
    code: Markup,
    address: String,
}

async fn show(
    path: RecordSheet,
    State(app): State<App>,
    State(settings): State<Settings>,
    Query(wanted): Query<Wanted>,
) -> Result<Sheet, WebError> {
    let visit = Visit::of(&app, path.cast, Looking::default()).await?;
    let ending = ending::ending(&app, &visit.open, &visit.worked).await?;
    let record = Station::of(path.cast, "record");
    let address = format!("{}{record}", settings.address());
    let code = qr(&address)?;
    let other = if wanted.shop { path.to_string() } else { format!("{path}?shop=true") };
    Ok(Sheet {
        back: record,
        other,
        is_for_shop: wanted.shop,
        code,
        address,
        ..of(&visit, &ending, wanted.shop)
    })
}

/// What is said of the cast itself.
fn of(visit: &Visit, ending: &Ending, is_for_shop: bool) -> Sheet {
    let (shop, document, evaluation) =
        (&visit.open.shop, &visit.open.record.document, &visit.worked.evaluation);
    let (shown, zone) = (shop.shown(), shop.hours().zone());
    let layout = &evaluation.measured.layout;
    let end = ending.kept.as_ref().map(|kept| &kept.end);
    let mut made_of = vec![("Resin", evaluation.resin.name.clone())];
    if let Some(timber) = end.map(|end| &end.timber).filter(|timber| !timber.is_empty()) {
        made_of.push(("Timber", timber.clone()));
    }
    if !matches!(document.kind(), Kind::Tubes | Kind::Moulds) {
        made_of.insert(0, ("Size", size(&document.piece, shown)));
    }
    let known = ending.figures.known();
    let known = known.filter(|(figure, _)| is_for_shop || FOR_CUSTOMERS.contains(figure));
    let faults = ending.faults.iter().filter(|_| is_for_shop).map(|one| {
        let cause = one.kept.cause.map(|cause| format!(": {}", causes::told(cause).name));
        format!("{}{}", record::fault(one.kept.fault.kind), cause.unwrap_or_default())
    });
    Sheet {
        back: Station::of(visit.open.record.id, "record"),
        other: String::new(),
        is_for_shop,
        name: document.name.clone(),
        kind: kinds::name(document.kind()),
        shop: shop.workshop.settings.name.clone(),
        ended: end.map_or_else(String::new, |end| shown.date_and_time(end.ended_at, zone)),
        people: end.map_or_else(String::new, |end| end.people.clone()),
        drawing: drawing::draw(layout, if is_for_shop { &ending.faults } else { &[] }, shown),
        made_of,
        poured: poured(visit, ending),
        known: known
            .map(|(figure, value)| (record::figure(figure), record::value(figure, value, shown)))
            .collect(),
        faults: faults.collect(),
        note: end.filter(|_| is_for_shop).map_or_else(String::new, |end| end.note.clone()),
        care: CARE,
        code: Markup::default(),
        address: String::new(),
    }
}

fn size(piece: &Piece, shown: Shown) -> String {
    let [length, width] = [piece.length, piece.width].map(|side| shown.length_figure(side));
    format!("{length} × {width} × {}", shown.length(piece.thickness))
}

/// The layers that went in, with their hours and volumes.
fn poured(visit: &Visit, ending: &Ending) -> Vec<(String, String, String)> {
    let shop = &visit.open.shop;
    let (shown, zone) = (shop.shown(), shop.hours().zone());
    let happened = standing(&visit.facts);
    let pours = ending.forecast.iter().flat_map(|forecast| &forecast.pours);
    let row = |pour: &fondant_cast::forecast::ForecastPour| {
        let at = happened.iter().find_map(|row| match row.fact {
            Fact::Poured { pour: of, at, .. } if of == pour.id => Some(at),
            _ => None,
        })?;
        Some((
            layers::heading(pour.layer),
            shown.date_and_time(at, zone),
            shown.volume(pour.volume),
        ))
    };
    pours.filter_map(row).collect()
}

/// A QR code of an address.
fn qr(address: &str) -> Result<Markup, WebError> {
    let code = QrCode::with_error_correction_level(address, EcLevel::M)
        .map_err(|error| WebError::BadForm(error.to_string()))?;
    let (width, dark) = (code.width(), code.to_colors());
    let side = (width + 2 * QUIET) as f64;
    let mut svg = Svg::new("qr", side, side, &format!("A QR code of {address}"));
    svg.rect("qr-paper", 0.0, 0.0, side, side);
    let square = |place: usize| {
        let (x, y) = ((place % width + QUIET) as f64, (place / width + QUIET) as f64);
        vec![(x, y), (x + 1.0, y), (x + 1.0, y + 1.0), (x, y + 1.0)]
    };
    let places = dark.iter().enumerate().filter(|(_, color)| **color == Color::Dark);
    let squares: Vec<_> = places.map(|(place, _)| square(place)).collect();
    svg.shape("qr-ink", &squares);
    Ok(svg.finish())
}
