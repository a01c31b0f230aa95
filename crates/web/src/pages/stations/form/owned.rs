//! Forms and moulds of the shop that would serve this cast.

use fondant_app::records::{FormId, FormRecord};
use fondant_shapes::form::owned::{Condition, Fit, OwnedKind};

use crate::pages::stations::asked::Asked;

/// A form that would serve.
pub(crate) struct OwnedRow {
    pub(crate) id: FormId,
    pub(crate) name: String,
    pub(crate) how: String,
    pub(crate) is_ours: bool,
    pub(crate) is_free: bool,
}

/// Forms and moulds that would serve this cast.
pub(super) fn owned(asked: &Asked<'_>, forms: &[FormRecord]) -> Vec<OwnedRow> {
    let has_moulds = asked.document.kind().has_moulds();
    let wanted = if has_moulds { OwnedKind::Mould } else { OwnedKind::SheetForm };
    let fitting = forms.iter().filter(|record| record.form.kind == wanted);
    fitting.filter_map(|record| owned_row(asked, record)).collect()
}

fn owned_row(asked: &Asked<'_>, record: &FormRecord) -> Option<OwnedRow> {
    let (measured, shown) = (asked.measured(), asked.shown);
    let fit = record.form.fit(&measured.cast, measured.fill.depth())?;
    let mut how = match fit {
        Fit::AsIs => "fits as it is".to_owned(),
        Fit::CutDown { length, width, waste } => {
            let mut cuts = Vec::new();
            if length.mm() > 0.1 {
                cuts.push(format!("{} off its length", shown.length(length)));
            }
            if width.mm() > 0.1 {
                cuts.push(format!("{} off its width", shown.length(width)));
            }
            format!("cut down: {}, {} of base lost", cuts.join(", "), shown.area(waste))
        }
    };
    if record.form.kind == OwnedKind::Mould {
        let count = asked.document.contents.moulding().map_or(1, |(count, ..)| count);
        let rounds = count.div_ceil(record.form.cavities.max(1));
        how += &match rounds {
            1 => ", all in one round".to_owned(),
            n => format!(", {n} rounds of its {} cavities", record.form.cavities),
        };
    }
    if record.form.condition == Condition::NeedsWork {
        how += "; it needs work first";
    }
    let form = &record.form;
    Some(OwnedRow {
        id: record.id,
        name: format!(
            "{}, {} × {} × {}",
            form.name,
            shown.length_figure(form.length),
            shown.length_figure(form.width),
            shown.length(form.height)
        ),
        how,
        is_ours: record.booked_by.as_ref().is_some_and(|booked| booked.cast == asked.cast),
        is_free: record.booked_by.is_none(),
    })
}
