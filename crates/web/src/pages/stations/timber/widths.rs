//! The table of widths.

use fondant_quantities::{Length, bounds};
use fondant_shapes::timber::Station as Measured;

use crate::pages::stations::asked::Asked;
use crate::ui::field::{Field, Fields};
use crate::ui::reader::Reader;

/// One row of the table of stations.
pub(crate) struct StationRow {
    pub(crate) is_here: bool,
    pub(crate) cells: Vec<Field>,
}

pub(super) fn apply(reader: &mut Reader<'_>, place: &mut Vec<Measured>) {
    let entries = reader.entries;
    let texts = entries.all("at").zip(entries.all("river")).zip(entries.all("wall"));
    let mut stations = Vec::new();
    for ((at, width), wall) in texts {
        let index = stations.len();
        // A row without a word in it was never measured.
        if [at, width, wall].iter().all(|text| text.trim().is_empty()) {
            continue;
        }
        let mut station = Measured { at: Length::ZERO, width: Length::ZERO, from_wall: None };
        let name = |field: &str| format!("{field}-{index}");
        reader.quantity_of(&name("at"), at, &bounds::STATION_PLACE, &mut station.at);
        reader.quantity_of(&name("river"), width, &bounds::RIVER_WIDTH, &mut station.width);
        if !wall.trim().is_empty() {
            let mut from_wall = Length::ZERO;
            reader.quantity_of(&name("wall"), wall, &bounds::RIVER_OFFSET, &mut from_wall);
            station.from_wall = Some(from_wall);
        }
        stations.push(station);
    }
    *place = stations;
}

/// The rows as typed, or as kept.
pub(super) fn rows(asked: &Asked<'_>, kept: &[Measured], fields: &Fields<'_>) -> Vec<StationRow> {
    let shown = asked.shown;
    let here = asked.station().unwrap_or(usize::MAX);
    let cell = |name: &str, index: usize, value: String, other: String| Field {
        name: name.to_owned(),
        label: match name {
            "at" => format!("Station {}, from the left end", index + 1),
            "river" => format!("Station {}, width of the river", index + 1),
            _ => format!("Station {}, from the near wall", index + 1),
        },
        value,
        other,
        refusal: fields.refusals.of(&format!("{name}-{index}")),
        ..Field::default()
    };
    if let Some(typed) = asked.typed.filter(|typed| typed.all("at").next().is_some()) {
        let texts = typed.all("at").zip(typed.all("river")).zip(typed.all("wall"));
        return texts
            .filter(|((at, river), wall)| {
                ![at, river, wall].iter().all(|text| text.trim().is_empty())
            })
            .enumerate()
            .map(|(index, ((at, river), wall))| StationRow {
                is_here: index == here,
                cells: [("at", at), ("river", river), ("wall", wall)]
                    .map(|(name, text)| cell(name, index, text.to_owned(), String::new()))
                    .to_vec(),
            })
            .collect();
    }
    kept.iter()
        .enumerate()
        .map(|(index, station)| {
            let both = |q: Length| (shown.length_entry(q), shown.other().length(q));
            let (at, at_other) = both(station.at);
            let (width, width_other) = both(station.width);
            let (wall, wall_other) = station.from_wall.map(both).unwrap_or_default();
            StationRow {
                is_here: index == here,
                cells: vec![
                    cell("at", index, at, at_other),
                    cell("river", index, width, width_other),
                    cell("wall", index, wall, wall_other),
                ],
            }
        })
        .collect()
}
