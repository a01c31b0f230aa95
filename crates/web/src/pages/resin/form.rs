//! The fields of a datasheet, and what is read from them.

use fondant_heat::calibration::mixing::{MixingError, SaidOfMixing, mixing};
use fondant_materials::resin::{
    Datasheet, DeepestAllowed, InBucket, InLayer, Kit, MeasuredBy, Record, shipped,
};
use fondant_quantities::units::trimmed;
use fondant_quantities::{Length, Mass, Money, Span, Temperature, bounds};

use crate::ui::field::{Field, Fields};
use crate::ui::group::Group;
use crate::ui::reader::Reader;
use crate::ui::units::Shown;
use crate::words::calibration;
use crate::words::resin::{CLASSES, HAZARDS, SUNLIGHT, name_of};

/// Longest name and purpose, characters.
const NAME_CHARACTERS: usize = 80;
const PURPOSE_CHARACTERS: usize = 240;

const MEASURED: [(&str, &str, MeasuredBy); 3] = [
    ("either", "by weight or volume", MeasuredBy::Either),
    ("weight", "by weight only", MeasuredBy::Weight),
    ("volume", "by volume only", MeasuredBy::Volume),
];

/// The groups of the form.
pub(super) fn groups(fields: &Fields<'_>, resin: &Record) -> Vec<Group> {
    let sheet = &resin.datasheet;
    let layer = |name: &str, label: &str, said| layer_fields(fields, (name, label), said);
    vec![
        what_it_is(fields, resin),
        how_it_is_mixed(fields, resin),
        in_the_bucket(fields, sheet),
        Group::new("Turns sticky", layer("tacky", "Sticky (tack, gel) after", sheet.tacky)),
        Group::new("Hard", layer("demould", "Out of the form after", sheet.demould)),
        Group::new("Fully cured", layer("full", "Fully cured after", sheet.full_cure)),
        depth(fields, sheet),
        what_it_tolerates(fields, resin),
        kit(fields, resin),
        hazards(fields, resin),
    ]
}

fn what_it_is(fields: &Fields<'_>, resin: &Record) -> Group {
    let class = name_of(&CLASSES, &resin.class);
    let all = vec![
        fields.text("name", "Name", &resin.name),
        fields.choice("class", "Class", class, &CLASSES.map(|(v, l, _)| (v, l))),
        fields.text("purpose", "What it is for", &resin.purpose),
    ];
    Group::new("What it is", all)
        .why("Name it by what it is. The class brings the model that the datasheet is fitted to.")
}

fn how_it_is_mixed(fields: &Fields<'_>, resin: &Record) -> Group {
    let by_mass = 100.0 * resin.mix.b_by_mass / resin.mix.a_by_mass;
    let by_volume = 100.0 * resin.mix.b_per_a_by_volume();
    let parts = |name, label, value: f64| fields.text(name, label, &trimmed(value, 1));
    let measured = name_of(&MEASURED, &resin.measured_by);
    let viscosity = resin.viscosity.fresh_pa_s * 1e3;
    let all = vec![
        parts("by_mass", "B to 100 of A by mass", by_mass),
        parts("by_volume", "B to 100 of A by volume", by_volume),
        fields.density("density_a", "Density of A", resin.mix.density_a),
        fields.density("density_b", "Density of B", resin.mix.density_b),
        fields.density("density", "Density of the mix", resin.density),
        fields.choice("measured", "Measured out", measured, &MEASURED.map(|(v, l, _)| (v, l))),
        fields.number(
            "viscosity",
            "Viscosity at 25 °C (77 °F)",
            viscosity,
            &bounds::VISCOSITY_MPA_S,
        ),
    ];
    Group::new("How it is mixed", all).why(
        "Two of mass ratio, volume ratio and densities are enough; what else is entered must agree.",
    )
}

fn in_the_bucket(fields: &Fields<'_>, sheet: &Datasheet) -> Group {
    let minutes = sheet.pot_life.map(|pot| pot.after.s() / 60.0);
    let all = vec![
        fields.maybe_number("pot", "Pot life", minutes, &bounds::POT_MINUTES),
        fields.maybe_mass("pot_mass", "for a mass of", sheet.pot_life.map(|p| p.mass)),
        fields.maybe_temperature("pot_at", "resin and air at", sheet.pot_life.map(|p| p.at)),
    ];
    Group::new("In the bucket", all).why(
        "Each time with the conditions it was measured in: without them it says nothing. Leave out \
         what the datasheet does not say.",
    )
}

fn layer_fields(
    fields: &Fields<'_>,
    (name, label): (&str, &str),
    said: Option<InLayer>,
) -> Vec<Field> {
    let (depth, at) = (format!("{name}_depth"), format!("{name}_at"));
    vec![
        fields.maybe_number(name, label, said.map(|s| s.after.h()), &bounds::LAYER_HOURS),
        fields.maybe_length(&depth, "at a thickness of", said.map(|s| s.depth)),
        fields.maybe_temperature(&at, "resin and air at", said.map(|s| s.at)),
    ]
}

fn depth(fields: &Fields<'_>, sheet: &Datasheet) -> Group {
    let all = vec![
        fields.maybe_length("deepest", "Deepest layer", sheet.deepest.map(|d| d.depth)),
        fields.maybe_temperature("deepest_at", "resin and air at", sheet.deepest.map(|d| d.at)),
        fields.maybe_length("rule", "Your own rule of thumb", sheet.rule_of_thumb),
    ];
    Group::new("Depth", all)
}

fn what_it_tolerates(fields: &Fields<'_>, resin: &Record) -> Group {
    let (working, cured) = (&resin.working, &resin.cured);
    let humidity = working.humidity_max_percent;
    let sunlight = name_of(&SUNLIGHT, &cured.sunlight);
    let all = vec![
        fields.temperature("limit", "Hottest it may get", working.peak_limit),
        fields.temperature("coldest", "Coldest shop", working.coldest),
        fields.temperature("warmest", "Warmest shop", working.warmest),
        fields.number("humidity", "Humidity up to", humidity, &bounds::HUMIDITY_PERCENT),
        fields.number("shore", "Cured hardness", cured.shore_d, &bounds::SHORE_D),
        fields.choice("sunlight", "In sunlight it", sunlight, &SUNLIGHT.map(|(v, l, _)| (v, l))),
        fields.text("colouring", "How it takes colour", &resin.colouring),
    ];
    Group::new("What it tolerates", all)
}

fn kit(fields: &Fields<'_>, resin: &Record) -> Group {
    let price = resin.kit.map(|kit| kit.price.units());
    let all = vec![
        fields.maybe_volume("kit", "Mixed volume of a kit", resin.kit.map(|kit| kit.volume)),
        fields.maybe_number("price", "Its price", price, &bounds::PRICE),
    ];
    Group::new("Kit", all)
}

fn hazards(fields: &Fields<'_>, resin: &Record) -> Group {
    let tick = |(name, label, hazard): &(&str, &str, _)| {
        fields.tick(&format!("hz_{name}"), label, resin.hazards.contains(hazard))
    };
    Group::new("Beware", HAZARDS.iter().map(tick).collect())
        .why("From its safety sheet, which comes first.")
}

/// Reads the form into a resin on the model of its class. The times are in its datasheet; its model
/// is not yet fitted to them.
pub(super) fn read(reader: &mut Reader<'_>, before: &Record) -> Record {
    let mut class = before.class;
    reader.choice("class", &CLASSES.map(|(v, _, c)| (v, c)), &mut class);
    let mut resin = shipped::generic(class);
    resin.id = before.id.clone();
    reader.text("name", "The name", NAME_CHARACTERS, false, &mut resin.name);
    reader.text("purpose", "What it is for", PURPOSE_CHARACTERS, true, &mut resin.purpose);
    read_mixing(reader, &mut resin);
    resin.datasheet = read_sheet(reader);
    read_tolerances(reader, &mut resin);
    let (mut volume, mut price) = (None, None);
    reader.maybe("kit", &bounds::KIT, &mut volume);
    reader.maybe_number("price", &bounds::PRICE, &mut price);
    let price = Money::from_units(price.unwrap_or(0.0));
    resin.kit = volume.map(|volume| Kit { volume, price });
    resin.hazards = HAZARDS
        .iter()
        .filter(|(name, ..)| reader.entries.get(&format!("hz_{name}")).is_some())
        .map(|(.., hazard)| *hazard)
        .collect();
    resin
}

fn read_tolerances(reader: &mut Reader<'_>, resin: &mut Record) {
    let resin = &mut resin.properties;
    let working = &mut resin.working;
    reader.quantity("limit", &bounds::PEAK_LIMIT, &mut working.peak_limit);
    reader.quantity("coldest", &bounds::AIR_TEMPERATURE, &mut working.coldest);
    reader.quantity("warmest", &bounds::AIR_TEMPERATURE, &mut working.warmest);
    if working.warmest <= working.coldest {
        reader.refusals.add("warmest", "The warmest shop must be warmer than the coldest.");
    }
    reader.number("humidity", &bounds::HUMIDITY_PERCENT, &mut working.humidity_max_percent);
    reader.number("shore", &bounds::SHORE_D, &mut resin.cured.shore_d);
    reader.choice("sunlight", &SUNLIGHT.map(|(v, _, s)| (v, s)), &mut resin.cured.sunlight);
    let most = PURPOSE_CHARACTERS;
    reader.text("colouring", "How it takes colour", most, true, &mut resin.colouring);
}

fn read_mixing(reader: &mut Reader<'_>, resin: &mut Record) {
    let mut said = SaidOfMixing::default();
    reader.maybe_number("by_mass", &bounds::PARTS_OF_B, &mut said.b_by_mass);
    reader.maybe_number("by_volume", &bounds::PARTS_OF_B, &mut said.b_by_volume);
    let mut density = |name: &str| {
        let mut found = None;
        reader.maybe(name, &bounds::LIQUID_DENSITY, &mut found);
        found.map(|density| density.kg_m3())
    };
    (said.density_a, said.density_b, said.mixed) =
        (density("density_a"), density("density_b"), density("density"));
    reader.choice("measured", &MEASURED.map(|(v, _, m)| (v, m)), &mut resin.measured_by);
    let mut viscosity = resin.viscosity.fresh_pa_s * 1e3;
    reader.number("viscosity", &bounds::VISCOSITY_MPA_S, &mut viscosity);
    let flow = &mut resin.viscosity;
    // A thicker mix is given up at a thickness in proportion.
    flow.pot_limit_pa_s *= viscosity * 1e-3 / flow.fresh_pa_s;
    flow.fresh_pa_s = viscosity * 1e-3;
    if !reader.refusals.is_empty() {
        return;
    }
    match mixing(&said) {
        Ok(mix) => {
            resin.mix = mix;
            resin.density = mix.mixed_density();
        }
        Err(error) => {
            let field = match error {
                MixingError::TooLittle | MixingError::RatiosDisagree { .. } => "by_volume",
                MixingError::DensityDisagrees { .. } => "density",
            };
            let shown = Shown { system: reader.system };
            reader.refusals.add(field, calibration::mixing(&error, shown));
        }
    }
}

fn read_sheet(reader: &mut Reader<'_>) -> Datasheet {
    let mut sheet = Datasheet { pot_life: read_pot_life(reader), ..Datasheet::default() };
    sheet.tacky = read_layer(reader, "tacky");
    sheet.demould = read_layer(reader, "demould");
    sheet.full_cure = read_layer(reader, "full");
    let (mut depth, mut at): (Option<Length>, Option<Temperature>) = (None, None);
    reader.maybe("deepest", &bounds::SHEET_DEPTH, &mut depth);
    reader.maybe("deepest_at", &bounds::AIR_TEMPERATURE, &mut at);
    if depth.is_some() && at.is_none() {
        reader.refusals.add("deepest_at", "A deepest layer holds at a temperature: enter it.");
    }
    sheet.deepest = depth.zip(at).map(|(depth, at)| DeepestAllowed { depth, at });
    reader.maybe("rule", &bounds::SHEET_DEPTH, &mut sheet.rule_of_thumb);
    sheet
}

fn read_pot_life(reader: &mut Reader<'_>) -> Option<InBucket> {
    let (mut minutes, mut mass, mut at): (Option<f64>, Option<Mass>, Option<Temperature>) =
        (None, None, None);
    reader.maybe_number("pot", &bounds::POT_MINUTES, &mut minutes);
    reader.maybe("pot_mass", &bounds::CUP, &mut mass);
    reader.maybe("pot_at", &bounds::AIR_TEMPERATURE, &mut at);
    let minutes = minutes?;
    if mass.is_none() {
        reader.refusals.add(
            "pot_mass",
            "A pot life says nothing without the mass it was measured with. Often it is 100 g.",
        );
    }
    if at.is_none() {
        reader.refusals.add(
            "pot_at",
            "A pot life says nothing without its temperature. Often it is 20 to 25 °C (68 to 77 °F).",
        );
    }
    Some(InBucket { after: Span::from_s(minutes * 60.0), mass: mass?, at: at? })
}

fn read_layer(reader: &mut Reader<'_>, name: &str) -> Option<InLayer> {
    let (mut hours, mut depth, mut at): (Option<f64>, Option<Length>, Option<Temperature>) =
        (None, None, None);
    let (depth_name, at_name) = (format!("{name}_depth"), format!("{name}_at"));
    reader.maybe_number(name, &bounds::LAYER_HOURS, &mut hours);
    reader.maybe(&depth_name, &bounds::SHEET_DEPTH, &mut depth);
    reader.maybe(&at_name, &bounds::AIR_TEMPERATURE, &mut at);
    let hours = hours?;
    if depth.is_none() {
        reader.refusals.add(
            &depth_name,
            "The time depends on the thickness: enter the one it was measured at.",
        );
    }
    if at.is_none() {
        reader.refusals.add(
            &at_name,
            "The time depends on the temperature: enter the one it was measured at.",
        );
    }
    Some(InLayer { after: Span::from_h(hours), depth: depth?, at: at? })
}
