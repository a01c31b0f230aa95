//! The fields of a cup's log, and what is read from them.

use fondant_app::records::CastSummary;
use fondant_app::shelf::CupLog;
use fondant_app::{App, AppError, Shop};
use fondant_cast::{Document, measure};
use fondant_files::logs::Scale;
use fondant_files::logs::cup::{CupLogError, CupOptions, TimeUnit};
use fondant_heat::calibration::cup::{Cup, water_test};
use fondant_heat::calibration::forecast::Layer;
use fondant_heat::calibration::log::Log;
use fondant_heat::{Air, Poured, Surroundings};
use fondant_materials::resin::Record;
use fondant_numerics::Stop;
use fondant_quantities::{Length, Mass, Temperature, bounds};

use crate::ui::entries::Entries;
use crate::ui::field::{Field, Fields};
use crate::ui::reader::Reader;
use crate::ui::units::{InUnits, Shown};
use crate::words::{calibration, files};

/// Longest mark of a lot, characters.
const LOT_CHARACTERS: usize = 40;
/// What a lesson is told of where no cast is chosen.
const USUAL_DEPTH: Length = Length::from_mm(20.0);

const TIMES: [(&str, &str, TimeUnit); 3] = [
    ("minutes", "minutes, or h:mm", TimeUnit::Minutes),
    ("seconds", "seconds, or h:mm", TimeUnit::Seconds),
    ("hours", "hours, or h:mm", TimeUnit::Hours),
];
const SCALES: [(&str, &str, Option<Scale>); 3] = [
    ("", "as the heading says, else °C", None),
    ("celsius", "°C", Some(Scale::Celsius)),
    ("fahrenheit", "°F", Some(Scale::Fahrenheit)),
];

/// Everything that was read.
#[derive(Clone)]
pub(super) struct Asked {
    pub(super) read: CupLog,
    pub(super) lot: String,
    /// The cast that it is told of.
    pub(super) cast: String,
    pub(super) layer: Layer,
}

/// A log that was read, or what is said at its field.
type Told = Result<Log, String>;

/// The logs of the form: of the cup, and of the same cup with warm water, where it was measured.
pub(super) struct Logs {
    cup: Told,
    water: Option<Told>,
}

impl Logs {
    /// Reads the texts of the form, or what they are when they come from a file: from outside.
    pub(super) async fn of(app: &App, entries: &Entries, shown: Shown) -> Result<Self, AppError> {
        let mut options = CupOptions::default();
        // What is not one of these is refused with the other fields.
        let mut reader = Reader::new(entries, shown.system);
        reader.choice("times", &TIMES.map(|(v, _, t)| (v, t)), &mut options.times);
        reader.choice("scale", &SCALES.map(|(v, _, s)| (v, s)), &mut options.scale);
        let read = |name| {
            let text = entries.get(name).unwrap_or_default();
            read_log(app, text.as_bytes().to_vec(), (options, shown))
        };
        let has_water = !entries.get("water").unwrap_or_default().trim().is_empty();
        let water = if has_water { Some(read("water").await?) } else { None };
        Ok(Self { cup: read("log").await?, water })
    }
}

async fn read_log(
    app: &App,
    bytes: Vec<u8>,
    (options, shown): (CupOptions, Shown),
) -> Result<Told, AppError> {
    if bytes.is_empty() {
        return Ok(Err(calibration::log(&CupLogError::Empty, shown)));
    }
    Ok(match app.read_cup(options, bytes).await? {
        Ok(Ok(log)) => Ok(log),
        Ok(Err(error)) => Err(calibration::log(&error, shown)),
        Err(error) => Err(files::file(&error)),
    })
}

/// What a lesson is told of where no cast is.
fn usual_layer(shown: Shown) -> String {
    format!("a layer of {}", shown.length(USUAL_DEPTH))
}

/// The fields above the log.
pub(super) fn fields(fields: &Fields<'_>, casts: &[CastSummary], resin: &Record) -> Vec<Field> {
    let air = Temperature::from_celsius(20.0);
    let numbers: Vec<String> = casts.iter().map(|cast| cast.id.to_string()).collect();
    let uses = |cast: &CastSummary| {
        cast.document.as_ref().is_some_and(|document| document.resin == resin.id)
    };
    let mut offered: Vec<(bool, &str, &str)> = casts
        .iter()
        .zip(&numbers)
        .map(|(cast, number)| (!uses(cast), number.as_str(), cast.name.as_str()))
        .collect();
    // The casts planned with this resin first.
    offered.sort_by_key(|(is_other, ..)| *is_other);
    let mut offered: Vec<(&str, &str)> = offered.into_iter().map(|(_, n, l)| (n, l)).collect();
    let no_cast = format!("no cast: {}", usual_layer(fields.shown));
    offered.push(("", &no_cast));
    let first = offered[0].0;
    vec![
        fields.mass("mass", "Mixed in the cup", Mass::from_kg(0.3)),
        fields.temperature("air", "Air around it, steady", air),
        fields.text("lot", "Lot, as the bottle says", ""),
        fields.choice("times", "Times in", "minutes", &TIMES.map(|(v, l, _)| (v, l))),
        fields.choice("scale", "Temperatures in", "", &SCALES.map(|(v, l, _)| (v, l))),
        fields.choice("cast", "Show what it means for", first, &offered),
    ]
}

/// Reads the form. What is refused is in the reader.
pub(super) fn read(
    reader: &mut Reader<'_>,
    shop: &Shop,
    resin: &Record,
    casts: &[CastSummary],
    logs: Logs,
) -> Option<Asked> {
    let (mut mass, mut air) = (Mass::from_kg(0.3), Temperature::from_celsius(20.0));
    reader.quantity("mass", &bounds::CUP, &mut mass);
    reader.quantity("air", &bounds::AIR_TEMPERATURE, &mut air);
    let mut lot = String::new();
    reader.text("lot", "The lot", LOT_CHARACTERS, true, &mut lot);
    let (mut times, mut scale) = (TimeUnit::default(), None);
    reader.choice("times", &TIMES.map(|(v, _, t)| (v, t)), &mut times);
    reader.choice("scale", &SCALES.map(|(v, _, s)| (v, s)), &mut scale);
    let cup = Cup { mass, air };
    let log = logs.cup.map_err(|sentence| reader.refusals.add("log", sentence)).ok();
    let water = logs.water.map(|told| {
        told.and_then(|log| {
            water_test(cup.volume(&resin.generic()), cup.air, &log.readings)
                .map_err(|error| calibration::water(&error, shop.shown()))
        })
    });
    let water =
        water.and_then(|test| test.map_err(|sentence| reader.refusals.add("water", sentence)).ok());
    let (cast, layer) = told_of(reader, casts, air);
    let log = log.filter(|_| reader.refusals.is_empty())?;
    let read = CupLog { resin: resin.clone(), cup, log, water };
    Some(Asked { read, lot, cast, layer })
}

/// The cast that a lesson is told of: its name, and its whole depth as one layer.
fn told_of(reader: &Reader<'_>, casts: &[CastSummary], air: Temperature) -> (String, Layer) {
    let number = reader.entries.get("cast").unwrap_or_default();
    let chosen = casts.iter().find(|cast| cast.id.to_string() == number);
    match chosen.and_then(|cast| cast.document.as_ref().map(|document| (cast, document))) {
        Some((cast, document)) => (cast.name.clone(), whole(document)),
        None => {
            let layer = Layer {
                depth_m: USUAL_DEPTH.m(),
                poured: Poured::fresh(air.k()),
                surroundings: Surroundings::still_air(air.k()),
                stop: Stop::NEVER,
            };
            (usual_layer(Shown { system: reader.system }), layer)
        }
    }
}

fn whole(document: &Document) -> Layer {
    let depth = measure(document).map_or(USUAL_DEPTH, |found| found.fill.depth());
    let conditions = &document.conditions;
    Layer {
        depth_m: depth.m(),
        poured: Poured::fresh(conditions.resin.k()),
        surroundings: conditions.cooling.surroundings(Air::Steady(conditions.air.k())),
        stop: Stop::NEVER,
    }
}
