//! The fields of a datasheet, and what is read from them.

use fondant_heat::calibration::mixing::{MixingError, SaidOfMixing, mixing};
use fondant_materials::resin::{
    DeepestAllowed, InBucket, InLayer, Kit, MeasuredBy, Resin, Sheet, shipped,
};
use fondant_quantities::units::trimmed;
use fondant_quantities::{Length, Mass, Span, Temperature, bounds};

use super::{CLASSES, HAZARDS, SUNLIGHT, name_of};
use crate::entries::Reader;
use crate::routes::casts::stations::Group;
use crate::views::fields::Fields;

/// Longest name and purpose, characters.
const NAME_CHARACTERS: usize = 80;
const PURPOSE_CHARACTERS: usize = 240;

const MEASURED: [(&str, &str, MeasuredBy); 3] = [
    ("either", "by weight or volume", MeasuredBy::Either),
    ("weight", "by weight only", MeasuredBy::Weight),
    ("volume", "by volume only", MeasuredBy::Volume),
];

/// The groups of the form.
pub(super) fn groups(fields: &Fields<'_>, resin: &Resin) -> Vec<Group> {
    let sheet = &resin.sheet;
    let minutes = |s: Span| s.s() / 60.0;
    let by_mass = 100.0 * resin.mix.b_by_mass / resin.mix.a_by_mass;
    let by_volume = 100.0 * resin.mix.b_per_a_by_volume();
    let parts = |name, label, value: f64| fields.text(name, label, &trimmed(value, 1));
    let layer = |name: &str, label: &str, said: Option<InLayer>| {
        vec![
            fields.maybe_number(name, label, said.map(|s| s.after.h()), &bounds::LAYER_HOURS),
            fields.maybe_length(
                &format!("{name}_depth"),
                "at a thickness of",
                said.map(|s| s.depth),
            ),
            fields.maybe_temperature(&format!("{name}_at"), "resin and air at", said.map(|s| s.at)),
        ]
    };
    let pot = vec![
        fields.maybe_number(
            "pot",
            "Pot life",
            sheet.pot_life.map(|p| minutes(p.after)),
            &bounds::POT_MINUTES,
        ),
        fields.maybe_mass("pot_mass", "for a mass of", sheet.pot_life.map(|p| p.mass)),
        fields.maybe_temperature("pot_at", "resin and air at", sheet.pot_life.map(|p| p.at)),
    ];
    let depth = vec![
        fields.maybe_length("deepest", "Deepest layer", sheet.deepest.map(|d| d.depth)),
        fields.maybe_temperature("deepest_at", "resin and air at", sheet.deepest.map(|d| d.at)),
        fields.maybe_length("rule", "Your own rule of thumb", sheet.rule_of_thumb),
    ];
    let ticks = HAZARDS
        .iter()
        .map(|(name, label, hazard)| {
            fields.tick(&format!("hz_{name}"), label, resin.hazards.contains(hazard))
        })
        .collect();
    vec![
        Group::new("What it is", vec![
            fields.text("name", "Name", &resin.name),
            fields.choice("class", "Class", name_of(&CLASSES, &resin.class), &CLASSES.map(|(v, l, _)| (v, l))),
            fields.text("purpose", "What it is for", &resin.purpose),
        ])
        .why("Name it by what it is. The class brings the model that the datasheet is fitted to."),
        Group::new("How it is mixed", vec![
            parts("by_mass", "B to 100 of A by mass", by_mass),
            parts("by_volume", "B to 100 of A by volume", by_volume),
            fields.density("density_a", "Density of A", resin.mix.density_a),
            fields.density("density_b", "Density of B", resin.mix.density_b),
            fields.density("density", "Density of the mix", resin.density),
            fields.choice("measured", "Measured out", name_of(&MEASURED, &resin.measured_by), &MEASURED.map(|(v, l, _)| (v, l))),
            fields.number("viscosity", "Viscosity at 25 °C", resin.viscosity.fresh_pa_s * 1e3, &bounds::VISCOSITY_MPA_S),
        ])
        .why("Two of mass ratio, volume ratio and densities are enough; what else is entered must agree."),
        Group::new("In the bucket", pot).why(
            "Each time with the conditions it was measured in: without them it says nothing. Leave \
             out what the datasheet does not say.",
        ),
        Group::new("Turns sticky", layer("tacky", "Sticky (tack, gel) after", sheet.tacky)),
        Group::new("Hard", layer("demould", "Out of the form after", sheet.demould)),
        Group::new("Fully cured", layer("full", "Fully cured after", sheet.full_cure)),
        Group::new("Depth", depth),
        Group::new("What it tolerates", vec![
            fields.temperature("limit", "Hottest it may get", resin.working.peak_limit),
            fields.temperature("coldest", "Coldest shop", resin.working.coldest),
            fields.temperature("warmest", "Warmest shop", resin.working.warmest),
            fields.number("humidity", "Humidity up to", resin.working.humidity_max_percent, &bounds::HUMIDITY_PERCENT),
            fields.number("shore", "Cured hardness", resin.cured.shore_d, &bounds::SHORE_D),
            fields.choice("sunlight", "In sunlight it", name_of(&SUNLIGHT, &resin.cured.sunlight), &SUNLIGHT.map(|(v, l, _)| (v, l))),
            fields.text("colouring", "How it takes colour", &resin.colouring),
        ]),
        Group::new("Kit", vec![
            fields.maybe_volume("kit", "Mixed volume of a kit", resin.kit.map(|k| k.volume)),
            fields.maybe_number("price", "Its price", resin.kit.map(|k| k.price), &bounds::PRICE),
        ]),
        Group::new("Beware", ticks).why("From its safety sheet, which comes first."),
    ]
}

/// Reads the form into a resin on the model of its class. The times are in its
/// sheet; its model is not yet fitted to them.
pub(super) fn read(reader: &mut Reader<'_>, before: &Resin) -> Resin {
    let mut class = before.class;
    reader.choice("class", &CLASSES.map(|(v, _, c)| (v, c)), &mut class);
    let mut resin = Resin { id: before.id.clone(), ..shipped::generic(class) };
    reader.text("name", "The name", NAME_CHARACTERS, false, &mut resin.name);
    reader.text("purpose", "What it is for", PURPOSE_CHARACTERS, true, &mut resin.purpose);
    read_mixing(reader, &mut resin);
    reader.choice("measured", &MEASURED.map(|(v, _, m)| (v, m)), &mut resin.measured_by);
    let mut viscosity = resin.viscosity.fresh_pa_s * 1e3;
    reader.number("viscosity", &bounds::VISCOSITY_MPA_S, &mut viscosity);
    // A thicker mix is given up at a thickness in proportion.
    resin.viscosity.pot_limit_pa_s *= viscosity * 1e-3 / resin.viscosity.fresh_pa_s;
    resin.viscosity.fresh_pa_s = viscosity * 1e-3;
    resin.sheet = read_sheet(reader);
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
    let (mut volume, mut price) = (None, None);
    reader.maybe("kit", &bounds::KIT, &mut volume);
    reader.maybe_number("price", &bounds::PRICE, &mut price);
    resin.kit = volume.map(|volume| Kit { volume, price: price.unwrap_or(0.0) });
    resin.hazards = HAZARDS
        .iter()
        .filter(|(name, ..)| reader.entries.get(&format!("hz_{name}")).is_some())
        .map(|(.., hazard)| *hazard)
        .collect();
    resin
}

fn read_mixing(reader: &mut Reader<'_>, resin: &mut Resin) {
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
            reader.refusals.add(field, error.to_string());
        }
    }
}

fn read_sheet(reader: &mut Reader<'_>) -> Sheet {
    let mut sheet = Sheet::default();
    let (mut minutes, mut mass, mut at): (Option<f64>, Option<Mass>, Option<Temperature>) =
        (None, None, None);
    reader.maybe_number("pot", &bounds::POT_MINUTES, &mut minutes);
    reader.maybe("pot_mass", &bounds::CUP, &mut mass);
    reader.maybe("pot_at", &bounds::AIR_TEMPERATURE, &mut at);
    if let Some(minutes) = minutes {
        if mass.is_none() {
            reader.refusals.add(
                "pot_mass",
                "A pot life says nothing without the mass it was measured with. Often it is 100 g.",
            );
        }
        if at.is_none() {
            reader.refusals.add(
                "pot_at",
                "A pot life says nothing without its temperature. Often it is 20 to 25 °C.",
            );
        }
        if let (Some(mass), Some(at)) = (mass, at) {
            sheet.pot_life = Some(InBucket { after: Span::from_s(minutes * 60.0), mass, at });
        }
    }
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
