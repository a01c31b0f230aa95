//! What the form is built of, and forms that the shop has.

use fondant_cast::document::FormBuild;
use fondant_materials::sheet::Sheet;
use fondant_quantities::bounds;
use fondant_shapes::form::FREEBOARD;
use fondant_shapes::form::cut_list::cut_list;
use fondant_shapes::form::seal::{Release, bead};
use fondant_shapes::form::wall::MOST_BOW;
use fondant_shapes::form::wall::{Wall, bow};

use crate::drawings::blanks::{nest_note, part_name, sheets};
use crate::pages::stations::asked::Asked;
use crate::svg::{Markup, WIDE, both};
use crate::ui::group::Group;
use crate::ui::reader::Reader;

pub(crate) struct Build {
    pub(crate) fields: Group,
    pub(crate) cuts: Vec<(String, String)>,
    pub(crate) sheets: Markup,
    pub(crate) caption: String,
    pub(crate) sentences: Vec<(&'static str, String)>,
    pub(crate) troubles: Vec<String>,
}

pub(crate) const SHEETS: [(&str, &str, Sheet); 5] = [
    ("melamine", "melamine-faced chipboard", Sheet::Melamine),
    ("plywood", "plywood, sealed", Sheet::Plywood),
    ("hdpe", "HDPE", Sheet::Hdpe),
    ("polypropylene", "polypropylene", Sheet::Polypropylene),
    ("acrylic", "acrylic", Sheet::Acrylic),
];

const RELEASES: [(&str, &str, Release); 3] = [
    ("tape", "release tape", Release::Tape),
    ("wax", "paste wax, buffed", Release::Wax),
    ("bare", "the bare sheet", Release::Bare),
];

pub(super) fn apply(reader: &mut Reader<'_>, build: &mut FormBuild) {
    let before = build.sheet;
    reader.choice("sheet", &SHEETS.map(|(name, _, sheet)| (name, sheet)), &mut build.sheet);
    reader.quantity("sheet_thickness", &bounds::SHEET_THICKNESS, &mut build.thickness);
    // Another sheet comes in other thicknesses and lets go in another way.
    if before != build.sheet {
        build.thickness = build.sheet.usual_thickness();
        build.release = if build.sheet.releases_bare() { Release::Bare } else { Release::Tape };
    } else {
        reader.choice("release", &RELEASES.map(|(name, _, r)| (name, r)), &mut build.release);
    }
    reader.quantity("sealant", &bounds::SEALANT, &mut build.sealant);
    reader.quantity("stock_length", &bounds::STOCK_SIDE, &mut build.stock_length);
    reader.quantity("stock_width", &bounds::STOCK_SIDE, &mut build.stock_width);
    reader.quantity("saw", &bounds::KERF, &mut build.kerf);
}

pub(super) fn view(asked: &Asked<'_>, build: &FormBuild) -> Build {
    let (shown, fields, measured) = (asked.shown, asked.fields(), asked.measured());
    let height = measured.fill.depth() + FREEBOARD;
    let list = cut_list(&measured.cast, height, build.thickness, build.stock());
    let sheet = SHEETS.iter().find(|s| s.2 == build.sheet).map_or("melamine", |s| s.0);
    let release = RELEASES.iter().find(|r| r.2 == build.release).map_or("tape", |r| r.0);
    let stock = build.stock();
    let mut troubles = Vec::new();
    if !list.nest.too_large.is_empty() {
        troubles.push(
            "The base is larger than a stock sheet. Join two with a backed, sealed seam, or buy a \
             larger sheet."
                .to_owned(),
        );
    }
    if build.release.grips(build.sheet) {
        troubles.push(
            "Resin grips this bare sheet for good. Use tape or wax, or a sheet of polyethylene or \
             polypropylene."
                .to_owned(),
        );
    }
    let used = nest_note(list.nest.used_ratio, list.nest.sheets);
    Build {
        caption: format!("The parts on the stock, to scale: saw the long cuts first. {used}."),
        fields: Group::new(
            "",
            vec![
                fields.choice("sheet", "Sheet", sheet, &SHEETS.map(|(v, l, _)| (v, l))),
                fields.length("sheet_thickness", "Thickness", build.thickness),
                fields.choice(
                    "release",
                    "It comes off by",
                    release,
                    &RELEASES.map(|(v, l, _)| (v, l)),
                ),
                fields.length("sealant", "Sealant's fillet", build.sealant),
                fields.length("stock_length", "Stock sheet, long", build.stock_length),
                fields.length("stock_width", "Stock sheet, wide", build.stock_width),
                fields.length("saw", "Saw cut", build.kerf),
            ],
        ),
        cuts: list
            .cuts
            .iter()
            .map(|cut| {
                (
                    format!("{} × {}", cut.count, part_name(cut.part)),
                    format!("{} × {}", shown.length_figure(cut.length), shown.length(cut.width)),
                )
            })
            .collect(),
        sheets: both(WIDE, |frame| sheets(&list, &stock, shown, frame)),
        sentences: sentences(asked, build),
        troubles,
    }
}

/// How far the long wall bows, and what holds it.
fn bowing(asked: &Asked<'_>, build: &FormBuild) -> String {
    let (shown, measured) = (asked.shown, asked.measured());
    let wall = Wall {
        length: measured.cast.length.max(measured.cast.width),
        depth: measured.fill.depth(),
        thickness: build.thickness,
        sheet: build.sheet,
    };
    let bows = bow(&wall, asked.evaluation.resin.density);
    let mut said = format!(
        "The long wall bows {} under the resin, hinged at its foot and ends, free at its top.",
        shown.length_fine(bows.bow)
    );
    if let Some(count) = bows.battens {
        said += &format!(
            " Hold it to {} with {count} upright battens, evenly spaced",
            shown.length(MOST_BOW)
        );
        said += &bows
            .thicker
            .map_or_else(|| ".".to_owned(), |t| format!(", or with sheet of {}.", shown.length(t)));
    } else if bows.bow > MOST_BOW {
        said += " No number of battens holds this sheet: take a thicker one.";
    }
    said
}

fn sentences(asked: &Asked<'_>, build: &FormBuild) -> Vec<(&'static str, String)> {
    let (shown, measured) = (asked.shown, asked.measured());
    let depth = measured.fill.depth();
    let height = depth + FREEBOARD;
    let bead = bead(&measured.cast, height, build.sealant);
    let wait = match build.release {
        Release::Wax => "Wax waits about 20 minutes, then it is buffed.",
        Release::Tape => "Tape without wrinkles, seams burnished down: every edge shows.",
        Release::Bare if build.release.grips(build.sheet) => {
            "Resin grips this sheet; nothing parts them but the saw."
        }
        Release::Bare => "The bare sheet lets go by itself; scratches hold on.",
    };
    vec![
        (
            "Walls at least",
            format!(
                "{}: {} of resin and {} above it.",
                shown.length(height),
                shown.length(depth),
                shown.length(FREEBOARD)
            ),
        ),
        ("Bow", bowing(asked, build)),
        (
            "Sealant",
            format!(
                "{} of bead, {}; let it cure through before the resin goes in, then try the form \
                 with water or a lamp.",
                shown.length(bead.length),
                shown.volume(bead.volume)
            ),
        ),
        (
            "Release",
            format!("{wait} A base that runs hot makes tape and wax grip: see the Heat station."),
        ),
    ]
}
