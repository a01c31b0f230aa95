//! A cast as a drawing for other programs: form, faces and undersides, each on a layer of its own,
//! by whose names they are known again when the drawing comes back.

use fondant_cast::Document;
use fondant_files::drawing::sheet::{Part, Sheet};
use fondant_shapes::form::CastSize;
use fondant_shapes::geometry::Outline;
use fondant_shapes::geometry::ruled::Ruled;

use crate::ui::error::WebError;

pub(super) fn of(document: &Document) -> Result<Sheet, WebError> {
    let size = CastSize::of(&document.piece);
    let part = |layer: &str, name: String, outline: Outline| Part {
        name,
        layer: layer.to_owned(),
        outline,
    };
    let mut parts =
        vec![part("Form", "form".to_owned(), Outline::rectangle(size.length, size.width))];
    for (index, shape) in document.board_shapes().into_iter().enumerate() {
        let Some(shape) = shape else { continue };
        let name = format!("board {}", index + 1);
        let ruled = Ruled::new(&shape.outline, &shape.underside);
        if !ruled.is_prism() {
            // Holes go straight through: those of the face say it.
            let rim = Outline::new(ruled.lower.outer);
            parts.push(part("Undersides", name.clone(), rim));
        }
        parts.push(part("Boards", name, shape.outline));
    }
    if parts.len() == 1 {
        return Err(WebError::NotFound("outline"));
    }
    Ok(Sheet { title: document.name.clone(), form: (size.length, size.width), parts })
}
