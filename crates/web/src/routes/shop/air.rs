//! The shop's air: which way it is known, and the figures of that way.

use fondant_heat::climate::indoor::Indoor;
use fondant_heat::climate::profile::{ClockPoint, Profile};
use fondant_quantities::units::{UnitSystem, parse, trimmed};
use fondant_quantities::{Span, Temperature, TemperatureDelta, bounds};
use jiff::civil::Time;

use crate::entries::Reader;
use crate::state::Shop;
use crate::views::fields::{Field, Fields};

const MOST_POINTS: usize = 48;

/// The air as the page shows it.
pub(super) struct AirView {
    pub(super) kind: Field,
    /// Fields by the way that they belong to.
    pub(super) groups: Vec<Way>,
    pub(super) points: Field,
    pub(super) trouble: String,
}

/// One way of knowing the air.
pub(super) struct Way {
    pub(super) name: &'static str,
    pub(super) why: &'static str,
    pub(super) fields: Vec<Field>,
}

impl AirView {
    pub(super) fn new(shop: &Shop, fields: &Fields<'_>) -> Self {
        let air = &shop.workshop.settings.shop.air;
        let chosen = match air {
            Profile::Constant { .. } => "constant",
            Profile::DayNight { .. } => "daynight",
            Profile::Points { .. } => "points",
            Profile::Logged => "logged",
            Profile::Forecast { .. } => "forecast",
        };
        let (steady, steady_rh) = match air {
            Profile::Constant { temperature, humidity_percent } => {
                (*temperature, *humidity_percent)
            }
            _ => (Temperature::from_celsius(20.0), 50.0),
        };
        let (coldest, warmest, at, swing_rh) = match air {
            Profile::DayNight { coldest, warmest, warmest_at, humidity_percent } => {
                (*coldest, *warmest, *warmest_at, *humidity_percent)
            }
            _ => (
                Temperature::from_celsius(16.0),
                Temperature::from_celsius(21.0),
                Time::constant(15, 0, 0, 0),
                55.0,
            ),
        };
        let indoor = match air {
            Profile::Forecast { indoor } => *indoor,
            _ => Indoor::default(),
        };
        let points = match air {
            Profile::Points { points } => written(points, shop),
            _ => String::new(),
        };
        let set = indoor.set_point.map_or_else(String::new, |t| shop.shown.temperature_entry(t));
        let dry =
            indoor.dry_to_percent.map_or_else(String::new, |p| format!("{} %", trimmed(p, 1)));
        let humidity = &bounds::HUMIDITY_PERCENT;
        let groups = vec![
            Way {
                name: "constant",
                why: "A shop that is heated and dried round the clock.",
                fields: vec![
                    fields.temperature("steady_t", "Temperature", steady),
                    fields.number("steady_rh", "Humidity", steady_rh, humidity),
                ],
            },
            Way {
                name: "daynight",
                why: "From a max–min thermometer.",
                fields: vec![
                    fields.temperature("coldest", "Coldest of the night", coldest),
                    fields.temperature("warmest", "Warmest of the day", warmest),
                    fields
                        .text("warmest_at", "Warmest at", &at.strftime("%H:%M").to_string())
                        .kind("time"),
                    fields.number("swing_rh", "Humidity at the mean", swing_rh, humidity),
                ],
            },
            Way {
                name: "logged",
                why: "What the shop's logger wrote, and beyond it its usual day. Bring the file in below.",
                fields: Vec::new(),
            },
            Way {
                name: "forecast",
                why: "The weather outside, through the room: warmer by an offset, late by a lag, never colder than the heater's set point. The source here is a simulated one.",
                fields: vec![
                    fields.number(
                        "offset",
                        "Warmer than outside by",
                        indoor.offset.k(),
                        &bounds::OFFSET_K,
                    ),
                    fields.number("lag", "Late by", indoor.lag.h(), &bounds::LAG_HOURS),
                    fields.text("set_point", "Heater set to", &set).hint("Empty: no heater."),
                    fields.text("dry_to", "Dehumidifier set to", &dry).hint("Empty: none."),
                ],
            },
        ];
        let kinds = [
            ("constant", "Constant"),
            ("daynight", "Day and night"),
            ("points", "Points of a day"),
            ("logged", "The shop's logger"),
            ("forecast", "Forecast and room"),
        ];
        Self {
            kind: fields.choice("air", "How the air is known", chosen, &kinds),
            groups,
            points: fields.text("points", "Points of a day", &points),
            trouble: shop.air_trouble.clone().unwrap_or_default(),
        }
    }
}

fn written(points: &[ClockPoint], shop: &Shop) -> String {
    let one = |p: &ClockPoint| {
        format!(
            "{}  {}  {} %",
            p.time.strftime("%H:%M"),
            shop.shown.temperature_entry(p.temperature),
            trimmed(p.humidity_percent, 1)
        )
    };
    points.iter().map(one).collect::<Vec<_>>().join("\n")
}

/// Reads the way that was chosen; the figures of the others are left alone.
pub(super) fn read(reader: &mut Reader<'_>, place: &mut Profile) {
    let humidity = &bounds::HUMIDITY_PERCENT;
    let read = match reader.entries.get("air") {
        Some("constant") => {
            let (mut temperature, mut humidity_percent) = (Temperature::from_celsius(20.0), 50.0);
            reader.quantity("steady_t", &bounds::AIR_TEMPERATURE, &mut temperature);
            reader.number("steady_rh", humidity, &mut humidity_percent);
            Profile::Constant { temperature, humidity_percent }
        }
        Some("daynight") => {
            let (mut coldest, mut warmest) =
                (Temperature::from_celsius(16.0), Temperature::from_celsius(21.0));
            let mut humidity_percent = 55.0;
            reader.quantity("coldest", &bounds::AIR_TEMPERATURE, &mut coldest);
            reader.quantity("warmest", &bounds::AIR_TEMPERATURE, &mut warmest);
            reader.number("swing_rh", humidity, &mut humidity_percent);
            let text = reader.entries.get("warmest_at").unwrap_or_default();
            let warmest_at = Time::strptime("%H:%M", text.trim()).unwrap_or_else(|_| {
                reader
                    .refusals
                    .add("warmest_at", format!("“{text}” is not a time. Write it as 15:00."));
                Time::constant(15, 0, 0, 0)
            });
            Profile::DayNight { coldest, warmest, warmest_at, humidity_percent }
        }
        Some("points") => Profile::Points { points: points(reader) },
        Some("logged") => Profile::Logged,
        Some("forecast") => Profile::Forecast { indoor: indoor(reader, place) },
        _ => return,
    };
    if let Err(error) = read.check() {
        let field = if matches!(read, Profile::DayNight { .. }) { "coldest" } else { "points" };
        reader.refusals.add(field, error.to_string());
    }
    *place = read;
}

fn indoor(reader: &mut Reader<'_>, kept: &Profile) -> Indoor {
    let mut indoor = match kept {
        Profile::Forecast { indoor } => *indoor,
        _ => Indoor::default(),
    };
    let (mut offset, mut lag) = (indoor.offset.k(), indoor.lag.h());
    reader.number("offset", &bounds::OFFSET_K, &mut offset);
    reader.number("lag", &bounds::LAG_HOURS, &mut lag);
    indoor.offset = TemperatureDelta::from_k(offset);
    indoor.lag = Span::from_h(lag);
    reader.maybe("set_point", &bounds::AIR_TEMPERATURE, &mut indoor.set_point);
    reader.maybe_number("dry_to", &bounds::HUMIDITY_PERCENT, &mut indoor.dry_to_percent);
    indoor
}

fn points(reader: &mut Reader<'_>) -> Vec<ClockPoint> {
    let text = reader.entries.get("points").unwrap_or_default();
    let mut all = Vec::new();
    for line in text.lines().map(str::trim).filter(|line| !line.is_empty()).take(MOST_POINTS) {
        match point(line, reader.system) {
            Some(point) => all.push(point),
            None => {
                let sentence = format!(
                    "“{line}” is no point of a day. Write the time, the temperature and the humidity, such as 06:00 14.5 62."
                );
                reader.refusals.add("points", sentence);
                break;
            }
        }
    }
    all
}

/// `06:00 14.5 62`: units may follow the figures.
fn point(line: &str, system: UnitSystem) -> Option<ClockPoint> {
    let plain = line.replace(['%', ';'], " ").replace("°C", "").replace("°F", "");
    let mut parts = plain.split_whitespace();
    let time = Time::strptime("%H:%M", parts.next()?).ok()?;
    let unit = if line.contains("°F") {
        UnitSystem::UsCustomary
    } else if line.contains("°C") {
        UnitSystem::Metric
    } else {
        system
    };
    let temperature = parse::<Temperature>(parts.next()?, unit.temperature()).ok()?;
    let humidity_percent = match parts.next() {
        Some(text) => text.parse().ok()?,
        None => 55.0,
    };
    let sane =
        bounds::AIR_TEMPERATURE.contains(temperature) && (1.0..=100.0).contains(&humidity_percent);
    (sane && parts.next().is_none()).then_some(ClockPoint { time, temperature, humidity_percent })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::entries::Entries;

    fn read_points(text: &str, system: UnitSystem) -> (Vec<ClockPoint>, String) {
        let entries = Entries::new(vec![("points".into(), text.into())]);
        let mut reader = Reader::new(&entries, system);
        let found = points(&mut reader);
        (found, reader.refusals.of("points"))
    }

    #[test]
    fn points_of_a_day_are_read_as_makers_write_them() {
        let (found, refusal) =
            read_points("06:00 14.5 62\n\n15:30  21 °C  50 %\n22:00 17", UnitSystem::Metric);
        assert_eq!((found.len(), refusal.as_str()), (3, ""));
        assert!((found[1].temperature.celsius() - 21.0).abs() < 1e-9);
        assert!((found[2].humidity_percent - 55.0).abs() < 1e-9, "none was given");
        let (found, _) = read_points("06:00 59 62\n15:00 20 °C 50", UnitSystem::UsCustomary);
        assert!((found[0].temperature.celsius() - 15.0).abs() < 1e-9);
        assert!((found[1].temperature.celsius() - 20.0).abs() < 1e-9);
    }

    #[test]
    fn a_line_that_is_no_point_is_named() {
        for bad in ["noon 20 50", "06:00", "06:00 95 50", "06:00 20 130", "06:00 20 50 7"] {
            let (_, refusal) = read_points(bad, UnitSystem::Metric);
            assert!(refusal.contains(&format!("“{bad}” is no point")), "{bad}: {refusal}");
        }
    }

    #[test]
    fn the_figures_of_other_ways_are_left_alone() {
        let entries = Entries::new(vec![
            ("air".into(), "logged".into()),
            ("coldest".into(), "nonsense".into()),
        ]);
        let mut reader = Reader::new(&entries, UnitSystem::Metric);
        let mut air = Profile::default();
        read(&mut reader, &mut air);
        assert!(reader.refusals.is_empty() && air == Profile::Logged);
    }
}
