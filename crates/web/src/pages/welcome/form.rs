//! The few questions of the first visit.

use fondant_app::records::WorkshopSettings;
use fondant_cast::ShopSettings;
use fondant_pours::{HoursError, ShopHours, Workday};
use fondant_quantities::units::UnitSystem;

use crate::ui::entries::{Entries, Refusals};
use crate::ui::field::{Field, Fields};
use crate::ui::reader::Reader;
use crate::ui::units::Shown;
use crate::words::hours::hours;

/// Longest name of a workshop or a zone, characters.
const NAME_CHARACTERS: usize = 60;
const UNITS: [(&str, &str, UnitSystem); 2] = [
    ("metric", "mm, L, kg, °C", UnitSystem::Metric),
    ("us_customary", "inches, US gallons, lb, °F", UnitSystem::UsCustomary),
];
/// Fields of hours, and the days that each is for, from Monday.
const HOURS: [(&str, std::ops::Range<usize>); 3] =
    [("weekdays", 0..5), ("saturday", 5..6), ("sunday", 6..7)];

pub(super) fn fields(typed: Option<&Entries>, refusals: &Refusals) -> Vec<Field> {
    let fields = Fields::of(Shown::METRIC, typed, refusals);
    let units = UNITS.map(|(slug, label, _)| (slug, label));
    vec![
        fields.text("name", "What is your workshop called?", ""),
        fields.choice("units", "You measure in", "metric", &units),
        fields
            .text("zone", "Time zone", "UTC")
            .hint("Pours are planned by its clock, and the clock changes are known."),
        fields
            .text("weekdays", "Somebody is there from Monday to Friday", "08:00–18:00")
            .hint("Fondant plans no pour while nobody is there. Two spans with a comma."),
        fields.text("saturday", "On Saturdays", "closed"),
        fields.text("sunday", "On Sundays", "closed"),
    ]
}

pub(super) fn read(entries: &Entries) -> Result<WorkshopSettings, Refusals> {
    let mut reader = Reader::new(entries, UnitSystem::Metric);
    let (mut name, mut time_zone) = (String::new(), String::new());
    reader.text("name", "The name", NAME_CHARACTERS, false, &mut name);
    reader.text("zone", "The time zone", NAME_CHARACTERS, false, &mut time_zone);
    let mut units = UnitSystem::Metric;
    reader.choice("units", &UNITS.map(|(slug, _, system)| (slug, system)), &mut units);
    let mut days: [Vec<Workday>; 7] = std::array::from_fn(|_| Vec::new());
    for (field, of) in HOURS {
        match Workday::read_day(entries.get(field).unwrap_or_default()) {
            Ok(day) => days[of].fill(day),
            Err(error) => reader.refusals.add(field, hours(&error)),
        }
    }
    if reader.refusals.is_empty()
        && let Err(error) = ShopHours::new(days.clone(), &time_zone)
    {
        let field = match error {
            HoursError::UnknownZone(_) => "zone",
            _ => "weekdays",
        };
        reader.refusals.add(field, hours(&error));
    }
    if !reader.refusals.is_empty() {
        return Err(reader.refusals);
    }
    Ok(WorkshopSettings { name, time_zone, days, shop: ShopSettings::usual(units), units })
}
