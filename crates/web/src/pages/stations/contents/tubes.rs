//! Tubes in cavities, and their labels.

use fondant_cast::document::Tubes;
use fondant_quantities::bounds;
use fondant_shapes::blanks::label::Label;

use super::each::each;
use super::inside::Inside;
use crate::pages::stations::asked::Asked;
use crate::paths::casts::{Export, Labels};
use crate::ui::figure::Figure;
use crate::ui::group::Group;
use crate::ui::reader::Reader;
use crate::ui::units::Shown;

pub(super) fn apply(reader: &mut Reader<'_>, tubes: &mut Tubes) {
    let (tube, label) = (&mut tubes.tube, &mut tubes.label);
    reader.quantity("tube_length", &bounds::TUBE_SIDE, &mut tube.length);
    reader.quantity("tube_outside", &bounds::TUBE_SIDE, &mut tube.outside);
    reader.quantity("plugs", &bounds::TUBE_PLUGS, &mut tube.plugs);
    reader.quantity("label_tube", &bounds::TUBE_SIDE, &mut label.tube);
    reader.quantity("paper", &bounds::LABEL_PAPER, &mut label.paper);
    reader.quantity("overlap", &bounds::LABEL_MARGIN, &mut label.overlap);
    reader.quantity("label_trim", &bounds::LABEL_MARGIN, &mut label.trim);
    label.tube_length = tube.length;
}

pub(super) fn inside(asked: &Asked<'_>, tubes: &Tubes) -> Inside {
    let (fields, shown) = (asked.fields(), asked.shown);
    let (tube, label) = (&tubes.tube, &tubes.label);
    Inside {
        title: "What is in each cavity?",
        groups: vec![
            Group::new(
                "The tube",
                vec![
                    fields.length("tube_length", "Length", tube.length),
                    fields
                        .length("tube_outside", "Across, with its label", tube.outside),
                    fields
                        .length("plugs", "Plugs beyond it, both ends", tube.plugs)
                        .hint("A plug that leaks fills the tube: seat it and wipe it with a little grease or clay."),
                ],
            ),
            Group::new(
                "Its label",
                vec![
                    fields.length("label_tube", "Bare tube across", label.tube),
                    fields.length("paper", "Paper with its glue", label.paper),
                    fields.length("overlap", "Overlap", label.overlap),
                    fields.length("label_trim", "Beyond each end", label.trim),
                ],
            ),
        ],
        figures: vec![each(asked, &tubes.hollow, tube.volume()), label_figure(label, shown)],
        notes: vec![(
            "All of them",
            {
                let all = &asked.evaluation.own().parts;
                format!(
                    "All {} take {} of A and {} of B, {} in all with what stays in the cup.",
                    tubes.count,
                    shown.weighed(all.a_mass),
                    shown.weighed(all.b_mass),
                    shown.weighed(all.mass)
                )
            },
        )],
        links: vec![
            ("Labels on a sheet, 1:1", Labels { cast: asked.cast }.to_string()),
            ("Labels as SVG", Export { cast: asked.cast, file: "labels.svg".to_owned() }.to_string()),
        ],
        cares: vec!["Clear resin is poured as soon as it is mixed; tubes and plugs stand ready before.".into()],
        ..Inside::default()
    }
}

fn label_figure(label: &Label, shown: Shown) -> Figure {
    let fine = |q: fondant_quantities::Length| shown.length_fine(q);
    Figure::new(
        "label",
        format!("{} × {}", fine(label.width()), fine(label.height())),
        "label as cut".into(),
        "The label of one tube",
    )
    .formula(format!(
        "π × (tube + paper) + overlap = π × ({} + {}) + {}\n= {}",
        fine(label.tube),
        fine(label.paper),
        fine(label.overlap),
        fine(label.width())
    ))
    .note("Once round the middle of the paper; the overlap lies on the beginning.")
    .note(format!("As long as the tube and {} beyond each end, trimmed with it.", fine(label.trim)))
}
