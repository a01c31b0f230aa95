//! Why a file was not read, and what would mend it.

use fondant_files::FileError;
use fondant_files::drawing::{LeftOut, Why};
use fondant_files::records::NotARecord;
use fondant_shapes::geometry::homography::CornersError;
use fondant_shapes::geometry::mesh::MeshError;

/// A sentence for the field of the file.
#[must_use]
pub(crate) fn file(error: &FileError) -> String {
    match error {
        FileError::Empty => "The file is empty. Choose another.".to_owned(),
        FileError::TooLarge { bytes, most } => too_large(*bytes, *most),
        FileError::NotThis { wanted } => {
            format!("This file is not {wanted}. Choose another, or save it as {wanted} first.")
        }
        FileError::BrokenLine { what, line } => {
            format!("It cannot be read: {what}, at line {line}. Save it again and try once more.")
        }
        FileError::Broken(reason) => {
            format!("It cannot be read: {reason}. Save it again and try once more.")
        }
        FileError::TooMuch(reason) => {
            format!("It is more than Fondant reads: {reason}. Simplify it first.")
        }
        FileError::Full(most) => {
            format!("A cast keeps {most} photos, and this one has as many. Remove one first.")
        }
        FileError::Mesh(error) => mesh(error),
        FileError::Corners(error) => corners(*error),
    }
}

/// Why a file is not the cast or resin (`kind`) that its name was given for, and what to do.
#[must_use]
pub(crate) fn record(error: &NotARecord, (name, kind): (&str, &str)) -> String {
    match error {
        NotARecord::Unreadable(why) => {
            format!(
                "“{name}” is not a {kind} from Fondant: {why}. Save it again and try once more."
            )
        }
        NotARecord::OtherFormat => {
            format!("“{name}” is not a {kind} from Fondant. Choose another file.")
        }
        NotARecord::Newer { found, known } => format!(
            "“{name}” is of version {found}, and this Fondant reads up to {known}. Update Fondant first."
        ),
        NotARecord::UnknownField(field) => format!(
            "“{name}” has a field “{field}” that Fondant does not know. Check its spelling, or take \
             it out."
        ),
        NotARecord::CannotBe(what) => {
            format!(
                "“{name}” has {what}: it was changed or broken. Save it again and try once more."
            )
        }
    }
}

/// Things of a drawing that were not read, and why.
#[must_use]
pub(crate) fn left_out(left: &LeftOut) -> String {
    let LeftOut { what, layer, why, count } = left;
    let layer = if layer.is_empty() { String::new() } else { format!(" on layer {layer}") };
    let because = match why {
        Why::NoLine if *count == 1 => "not a line",
        Why::NoLine => "not lines",
        Why::Unticked => "layer unticked",
        Why::LayerOff => "layer switched off",
        Why::LayerFrozen => "layer frozen",
        Why::NeverPlotted => "layer never plotted",
        Why::Hidden => "hidden",
        Why::Unpainted => "neither filled nor stroked",
        Why::OnLayout => "on a sheet layout, outside of the model",
        Why::Tilted => "tilted out of the plane of the drawing",
        Why::BlockMissing => "the block is not in the file",
        Why::BlockTooDeep => "a block within itself, or too deep in others",
        Why::ClippedAway => "cut away by a clip path",
        Why::Speck => "a speck",
        Why::TooMany => "more than is read; the largest were",
    };
    format!("{count} × {what}{layer}: {because}.")
}

fn too_large(bytes: usize, most: usize) -> String {
    let mb = |bytes: usize| (bytes as f64 / 1_048_576.0).ceil();
    format!(
        "The file has {} MB; Fondant reads up to {} MB. Make it smaller and try again.",
        mb(bytes),
        mb(most)
    )
}

fn mesh(error: &MeshError) -> String {
    match error {
        MeshError::Empty => "It has no triangles. Export the solid again.".to_owned(),
        MeshError::NotANumber { index } => {
            format!(
                "Triangle {} has a corner that is not a number. Export the solid again.",
                index + 1
            )
        }
        MeshError::Open { edges } => format!(
            "The mesh is open: {edges} edges belong to one triangle only, so that it holds no \
             volume. Close its holes, or give the volume by water."
        ),
        MeshError::Tangled { edges } => format!(
            "Its triangles do not agree which side is out, at {edges} edges. Repair the mesh, or \
             give the volume by water."
        ),
        MeshError::Flat => "It encloses no volume. Is it a single face?".to_owned(),
        MeshError::Overlap { pairs } => format!(
            "Parts of it reach into each other, in {pairs} places, so that their volumes cannot be \
             added. Unite them, or give the volume by water."
        ),
        MeshError::TooManyShells { found, most } => format!(
            "It consists of {found} parts; Fondant reads up to {most}. Export the solid alone."
        ),
    }
}

/// Corners that square nothing up.
#[must_use]
pub(crate) fn corners(error: CornersError) -> String {
    match error {
        CornersError::TooFew => "Mark four corners.",
        CornersError::InLine => {
            "Three of the corners lie on one line, or two on one spot. Drag each onto its own corner \
             of the rectangle."
        }
        CornersError::OutOfOrder => {
            "The corners are in the wrong order. Go round clockwise from the upper left: 1, 2, 3, 4."
        }
        CornersError::NotANumber => "A corner lies outside of the photo. Drag it back in.",
    }
    .to_owned()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_refusal_says_what_to_do() {
        let errors = [
            FileError::Empty,
            FileError::TooLarge { bytes: 200 << 20, most: 20 << 20 },
            FileError::NotThis { wanted: "SVG".into() },
            FileError::BrokenLine { what: "a coordinate is not a number".into(), line: 8 },
            FileError::Broken("x".into()),
            FileError::TooMuch("too many points".into()),
            FileError::Full(100),
            FileError::Mesh(MeshError::Open { edges: 3 }),
            FileError::Mesh(MeshError::Tangled { edges: 2 }),
            FileError::Corners(CornersError::OutOfOrder),
        ];
        for error in &errors {
            let said = file(error);
            assert!(said.len() > 30 && said.ends_with(['.', '?', '4']), "{said}");
        }
        assert!(file(&errors[1]).contains("200 MB") && file(&errors[1]).contains("20 MB"));
    }
}
