//! The fields of a cup's log, and what is read from them.

use fondant_app::Shop;
use fondant_app::records::CastSummary;
use fondant_app::shelf::CupLog;
use fondant_cast::{Document, measure};
use fondant_files::logs::Scale;
use fondant_files::logs::cup::{TimeUnit, read as read_log};
use fondant_heat::calibration::cup::{Cup, WaterTest, water_test};
use fondant_heat::calibration::forecast::Layer;
use fondant_heat::calibration::log::Log;
use fondant_heat::{Air, Poured, Surroundings};
use fondant_materials::resin::Record;
use fondant_numerics::Stop;
use fondant_quantities::{Length, Mass, Temperature, bounds};

use crate::ui::field::{Field, Fields};
use crate::ui::reader::Reader;
use crate::ui::units::{InUnits, Shown};
use crate::words::calibration;

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
    offered.push(("", "no cast: a layer of 20 mm"));
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
) -> Option<Asked> {
    let (mut mass, mut air) = (Mass::from_kg(0.3), Temperature::from_celsius(20.0));
    reader.quantity("mass", &bounds::CUP, &mut mass);
    reader.quantity("air", &bounds::AIR_TEMPERATURE, &mut air);
    let mut lot = String::new();
    reader.text("lot", "The lot", LOT_CHARACTERS, true, &mut lot);
    let (mut times, mut scale) = (TimeUnit::Minutes, None);
    reader.choice("times", &TIMES.map(|(v, _, t)| (v, t)), &mut times);
    reader.choice("scale", &SCALES.map(|(v, _, s)| (v, s)), &mut scale);
    let cup = Cup { mass, air };
    let log = read_readings(reader, shop.shown(), (times, scale));
    let water = read_water(reader, shop.shown(), (resin, &cup), (times, scale));
    let (cast, layer) = told_of(reader, casts, air);
    let log = log.filter(|_| reader.refusals.is_empty())?;
    let read = CupLog { resin: resin.clone(), cup, log, water };
    Some(Asked { read, lot, cast, layer })
}

fn read_readings(
    reader: &mut Reader<'_>,
    shown: Shown,
    (times, scale): (TimeUnit, Option<Scale>),
) -> Option<Log> {
    match read_log(reader.entries.get("log").unwrap_or_default(), times, scale) {
        Ok(log) => Some(log),
        Err(error) => {
            reader.refusals.add("log", calibration::log(&error, shown));
            None
        }
    }
}

/// The same cup with warm water in it, where it was measured.
fn read_water(
    reader: &mut Reader<'_>,
    shown: Shown,
    (resin, cup): (&Record, &Cup),
    (times, scale): (TimeUnit, Option<Scale>),
) -> Option<WaterTest> {
    let text = reader.entries.get("water").unwrap_or_default();
    if text.trim().is_empty() {
        return None;
    }
    let log = read_log(text, times, scale).map_err(|error| calibration::log(&error, shown));
    let test = log.and_then(|log| {
        let volume = cup.volume(&resin.generic());
        water_test(volume, cup.air, &log.readings)
            .map_err(|error| calibration::water(&error, shown))
    });
    test.map_err(|sentence| reader.refusals.add("water", sentence)).ok()
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
            ("a layer of 20 mm".to_owned(), layer)
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
