//! A coat over a finished face.

use fondant_cast::document::Coat;
use fondant_quantities::bounds;
use fondant_quantities::units::UnitSystem;

use super::inside::Inside;
use crate::pages::stations::asked::Asked;
use crate::ui::figure::Figure;
use crate::ui::group::Group;
use crate::ui::reader::Reader;

pub(super) fn apply(reader: &mut Reader<'_>, coat: &mut Coat) {
    reader.quantity("coat", &bounds::COAT_THICKNESS, &mut coat.thickness);
    reader.count("coats", &bounds::COATS, &mut coat.coats);
    reader.percent("run_off", &bounds::RUN_OFF_PERCENT, &mut coat.run_off_ratio);
    coat.edges = reader.entries.get("edges").is_some();
}

pub(super) fn inside(asked: &Asked<'_>, coat: &Coat) -> Inside {
    let (fields, shown) = (asked.fields(), asked.shown);
    Inside {
        title: "How thick a coat?",
        groups: vec![Group::new(
            "The coat",
            vec![
                fields
                    .length("coat", "One coat", coat.thickness)
                    .hint(format!(
                        "A self-levelling resin settles at {} by itself.",
                        match shown.system {
                            UnitSystem::Metric => "1.5–3\u{202f}mm",
                            UnitSystem::UsCustomary => "1/16–1/8\u{202f}in",
                        }
                    )),
                fields.number("coats", "Coats", f64::from(coat.coats), &bounds::COATS),
                fields
                    .number("run_off", "Runs off", coat.run_off_ratio * 100.0, &bounds::RUN_OFF_PERCENT)
                    .hint("What drips over the edge, of what is poured."),
                fields.tick("edges", "Coat the edges too", coat.edges),
            ],
        )],
        figures: vec![
            Figure::new("face", shown.area(asked.measured().cast.area()), "face".into(), "What is coated")
                .formula("length × width".into())
                .note("On an upright edge half of a coat stays."),
        ],
        notes: vec![(
            "The next coat",
            "While the first is sticky, or after it is hard and sanded dull; the Pours station says when."
                .into(),
        )],
        cares: vec![
            "Level the piece, mask underneath, pour in the middle and spread; watch for half an hour \
             for bubbles. A casting resin used as a coat runs off: choose a coating resin."
                .into(),
        ],
        ..Inside::default()
    }
}
