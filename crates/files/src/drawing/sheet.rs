//! What is written to a drawing for other programs: outlines with their names and layers, at 1:1.

use fondant_quantities::Length;
use fondant_shapes::geometry::Outline;

/// A sheet with outlines on it.
#[derive(Debug, Clone, PartialEq)]
pub struct Sheet {
    /// What it is called.
    pub title: String,
    /// Size of the form, whose near left corner is the origin.
    pub form: (Length, Length),
    /// What is drawn.
    pub parts: Vec<Part>,
}

/// An outline on a sheet.
#[derive(Debug, Clone, PartialEq)]
pub struct Part {
    /// Name of the part.
    pub name: String,
    /// Name of its layer.
    pub layer: String,
    /// Where it lies.
    pub outline: Outline,
}

impl Sheet {
    /// The layers in the order in which they are first drawn on.
    #[must_use]
    pub fn layers(&self) -> Vec<&str> {
        let mut layers: Vec<&str> = Vec::new();
        for part in &self.parts {
            if !layers.contains(&part.layer.as_str()) {
                layers.push(&part.layer);
            }
        }
        layers
    }
}

/// A name of letters, digits, dots, dashes and low lines, as an id in XML and a layer in DXF may be.
#[must_use]
pub fn plain_id(name: &str) -> String {
    let plain = |c: char| if c.is_alphanumeric() || matches!(c, '-' | '_' | '.') { c } else { '_' };
    let id: String = name.chars().map(plain).collect();
    if id.starts_with(|c: char| c.is_alphabetic() || c == '_') { id } else { format!("_{id}") }
}
