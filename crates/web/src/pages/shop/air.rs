//! The shop's air: which way it is known, and the figures of every way.

use fondant_app::Shop;
use fondant_heat::climate::profile::{ClockPoint, Profile, ProfileError, Way};
use fondant_quantities::units::{UnitSystem, parse, trimmed};
use fondant_quantities::{Span, Temperature, bounds};
use jiff::civil::Time;

use crate::ui::field::{Field, Fields};
use crate::ui::reader::Reader;
use crate::ui::units::InUnits;
use crate::ui::written::Written;
use crate::words::air;

const MOST_POINTS: usize = 48;

/// The ways of knowing the air: their names in the form and in words.
const WAYS: [(&str, &str, Way); 5] = [
    ("constant", "Constant", Way::Constant),
    ("daynight", "Day and night", Way::DayNight),
    ("points", "Points of a day", Way::Points),
    ("logged", "The shop's logger", Way::Logged),
    ("forecast", "Forecast and room", Way::Forecast),
];

/// The air as the page shows it.
pub(super) struct AirView {
    pub(super) kind: Field,
    /// Fields by the way that they belong to.
    pub(super) groups: Vec<WayView>,
    pub(super) points: Field,
    pub(super) trouble: String,
}

/// One way of knowing the air.
pub(super) struct WayView {
    pub(super) name: &'static str,
    pub(super) why: &'static str,
    pub(super) fields: Vec<Field>,
}

impl AirView {
    pub(super) fn new(shop: &Shop, fields: &Fields<'_>) -> Self {
        let kept = &shop.workshop.settings.shop.air;
        let chosen = WAYS.iter().find(|way| way.2 == kept.by).map_or("constant", |way| way.0);
        let ways = WAYS.map(|(name, words, _)| (name, words));
        Self {
            kind: fields.choice("air", "How the air is known", chosen, &ways),
            groups: vec![
                constant(fields, kept),
                day_night(fields, kept),
                logged(),
                forecast(fields, kept, shop),
            ],
            points: fields.text("points", "Points of a day", &written(&kept.points, shop)),
            trouble: shop.around.air_trouble.as_ref().map(air::profile).unwrap_or_default(),
        }
    }
}

fn constant(fields: &Fields<'_>, kept: &Profile) -> WayView {
    let steady = &kept.constant;
    let humidity = &bounds::HUMIDITY_PERCENT;
    WayView {
        name: "constant",
        why: "A shop that is heated and dried round the clock.",
        fields: vec![
            fields.temperature("steady_t", "Temperature", steady.temperature),
            fields.number("steady_rh", "Humidity", steady.humidity_percent, humidity),
        ],
    }
}

fn day_night(fields: &Fields<'_>, kept: &Profile) -> WayView {
    let swing = &kept.day_night;
    let at = swing.warmest_at.strftime("%H:%M").to_string();
    let (humidity, bound) = (swing.humidity_percent, &bounds::HUMIDITY_PERCENT);
    WayView {
        name: "daynight",
        why: "From a max–min thermometer.",
        fields: vec![
            fields.temperature("coldest", "Coldest of the night", swing.coldest),
            fields.temperature("warmest", "Warmest of the day", swing.warmest),
            fields.text("warmest_at", "Warmest at", &at).kind("time"),
            fields.number("swing_rh", "Humidity at the mean", humidity, bound),
        ],
    }
}

fn logged() -> WayView {
    WayView {
        name: "logged",
        why: "What the shop's logger wrote, and beyond it its usual day. Bring the file in below.",
        fields: Vec::new(),
    }
}

fn forecast(fields: &Fields<'_>, kept: &Profile, shop: &Shop) -> WayView {
    let room = &kept.indoor;
    let set = room.set_point.map(|t| t.entry(shop.shown())).unwrap_or_default();
    let dry = room.dry_to_percent.map(|p| format!("{} %", trimmed(p, 1))).unwrap_or_default();
    WayView {
        name: "forecast",
        why: "The weather outside, through the room: warmer by an offset, late by a lag, never colder \
              than the heater's set point. The source here is a simulated one.",
        fields: vec![
            fields.quantity("offset", "Warmer than outside by", room.offset),
            fields.number("lag", "Late by", room.lag.h(), &bounds::LAG_HOURS),
            fields.text("set_point", "Heater set to", &set).hint("Empty: no heater."),
            fields.text("dry_to", "Dehumidifier set to", &dry).hint("Empty: none."),
        ],
    }
}

fn written(points: &[ClockPoint], shop: &Shop) -> String {
    let one = |p: &ClockPoint| {
        format!(
            "{}  {}  {} %",
            p.time.strftime("%H:%M"),
            p.temperature.entry(shop.shown()),
            trimmed(p.humidity_percent, 1)
        )
    };
    points.iter().map(one).collect::<Vec<_>>().join("\n")
}

/// Reads the way that was chosen; the figures of the others are left alone.
pub(super) fn read(reader: &mut Reader<'_>, kept: &mut Profile) {
    reader.choice("air", &WAYS.map(|(name, _, way)| (name, way)), &mut kept.by);
    match kept.by {
        Way::Constant => read_constant(reader, kept),
        Way::DayNight => read_day_night(reader, kept),
        Way::Points => kept.points = points(reader),
        Way::Logged => {}
        Way::Forecast => read_indoor(reader, kept),
    }
    if let Err(error) = kept.check() {
        let field = match error {
            ProfileError::NightWarmerThanDay => "coldest",
            _ => "points",
        };
        reader.refusals.add(field, air::profile(&error));
    }
}

fn read_constant(reader: &mut Reader<'_>, kept: &mut Profile) {
    let steady = &mut kept.constant;
    reader.quantity("steady_t", &bounds::AIR_TEMPERATURE, &mut steady.temperature);
    reader.number("steady_rh", &bounds::HUMIDITY_PERCENT, &mut steady.humidity_percent);
}

fn read_day_night(reader: &mut Reader<'_>, kept: &mut Profile) {
    let swing = &mut kept.day_night;
    reader.quantity("coldest", &bounds::AIR_TEMPERATURE, &mut swing.coldest);
    reader.quantity("warmest", &bounds::AIR_TEMPERATURE, &mut swing.warmest);
    reader.number("swing_rh", &bounds::HUMIDITY_PERCENT, &mut swing.humidity_percent);
    let text = reader.entries.get("warmest_at").unwrap_or_default();
    match Time::strptime("%H:%M", text.trim()) {
        Ok(time) => swing.warmest_at = time,
        Err(_) => {
            let sentence = format!("“{text}” is not a time. Write it as 15:00.");
            reader.refusals.add("warmest_at", sentence);
        }
    }
}

fn read_indoor(reader: &mut Reader<'_>, kept: &mut Profile) {
    let room = &mut kept.indoor;
    let mut lag = room.lag.h();
    reader.quantity("offset", &bounds::OFFSET, &mut room.offset);
    reader.number("lag", &bounds::LAG_HOURS, &mut lag);
    room.lag = Span::from_h(lag);
    reader.maybe("set_point", &bounds::AIR_TEMPERATURE, &mut room.set_point);
    reader.maybe_number("dry_to", &bounds::HUMIDITY_PERCENT, &mut room.dry_to_percent);
}

fn points(reader: &mut Reader<'_>) -> Vec<ClockPoint> {
    let text = reader.entries.get("points").unwrap_or_default();
    let mut all = Vec::new();
    for line in text.lines().map(str::trim).filter(|line| !line.is_empty()) {
        match point(line, reader.system) {
            Some(_) if all.len() == MOST_POINTS => {
                let sentence = format!("A day has {MOST_POINTS} points at most. Leave some out.");
                reader.refusals.add("points", sentence);
                break;
            }
            Some(point) => all.push(point),
            None => {
                let sentence = format!(
                    "“{line}” is not a point of a day. Write the time, the temperature and the humidity, such as 06:00 14.5 62."
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
    use crate::ui::entries::Entries;

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
            assert!(refusal.contains(&format!("“{bad}” is not a point")), "{bad}: {refusal}");
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
        assert!(reader.refusals.is_empty());
        assert_eq!(air, Profile { by: Way::Logged, ..Profile::default() });
    }
}
