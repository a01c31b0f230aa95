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
    let here = asked.station().unwrap_or(usize::MAX);
    let label = |name: &str, index: usize| match name {
        "at" => format!("Station {}, from the left end", index + 1),
        "river" => format!("Station {}, width of the river", index + 1),
        _ => format!("Station {}, from the near wall", index + 1),
    };
    let cell = |name: &str, index: usize, value: String| Field {
        name: name.to_owned(),
        label: label(name, index),
        value,
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
                    .map(|(name, text)| cell(name, index, text.to_owned()))
                    .to_vec(),
            })
            .collect();
    }
    kept.iter()
        .enumerate()
        .map(|(index, station)| {
            let kept = |name: &str, length: Option<Length>| {
                let field = format!("{name}-{index}");
                let field = fields.maybe_length(&field, &label(name, index), length);
                Field { name: name.to_owned(), ..field }
            };
            StationRow {
                is_here: index == here,
                cells: vec![
                    kept("at", Some(station.at)),
                    kept("river", Some(station.width)),
                    kept("wall", station.from_wall),
                ],
            }
        })
        .collect()
}
