//! An SVG file as `usvg` is to read it: only what may be an outline, each shape with an id, by which
//! it is told afterwards which layer it lies on and which shapes were not drawn at all.

use std::collections::{HashMap, HashSet};
use std::fmt::Write;

use usvg::roxmltree::{Document, Node};

use super::css;
use super::hidden::Hiding;
use super::size::Scale;
use super::write::escaped;
use crate::FileError;
use crate::drawing::{Omitted, Why};

/// Deepest nesting that is read (convention; drawing programs stay under twenty).
const DEEPEST: usize = 60;
/// Elements that draw others again are followed to this number; nested, they multiply.
const MOST_USES: usize = 20_000;
/// Namespace of SVG.
const SVG: &str = "http://www.w3.org/2000/svg";
/// What is seen whatever hides it.
const SEEN: &str = "display:inline!important;visibility:visible!important";
/// Most layers that are told apart.
const MOST_LAYERS: usize = 1_000;

const SHAPES: [&str; 7] = ["path", "rect", "circle", "ellipse", "line", "polyline", "polygon"];
/// What is no line, and is told of.
const NO_LINES: [&str; 4] = ["text", "image", "foreignObject", "mesh"];
/// What is only there to be referred to.
const REFERRED: [&str; 9] = [
    "defs",
    "symbol",
    "clipPath",
    "mask",
    "pattern",
    "marker",
    "linearGradient",
    "radialGradient",
    "filter",
];
/// What draws nothing by itself and is dropped, markers among them: an arrow's head is no board.
const DROPPED: [&str; 10] = [
    "marker",
    "script",
    "metadata",
    "title",
    "desc",
    "animate",
    "animateTransform",
    "set",
    "font",
    "filter",
];

/// A layer.
#[derive(Debug)]
pub(super) struct SourceLayer {
    pub(super) name: String,
    pub(super) is_read: bool,
}

/// A shape by its id.
#[derive(Debug)]
pub(super) struct Shape {
    pub(super) layer: usize,
    /// The name that the file gives it.
    pub(super) name: Option<String>,
    what: String,
    is_drawn_where_it_stands: bool,
    is_hidden: bool,
}

/// A file as `usvg` is to read it.
#[derive(Debug)]
pub(super) struct Source {
    pub(super) text: String,
    pub(super) layers: Vec<SourceLayer>,
    pub(super) shapes: HashMap<String, Shape>,
    pub(super) omitted: Omitted,
}

/// Where an element stands.
#[derive(Clone, Copy)]
struct Within {
    layer: usize,
    depth: usize,
    is_referred: bool,
    is_hidden: bool,
    is_shut: bool,
}

struct Copier<'a> {
    out: Source,
    ticked: Option<&'a [usize]>,
    hiding: Hiding<'a>,
    has_named_layers: bool,
    by_node: HashMap<String, usize>,
    uses: usize,
}

impl Source {
    /// Copies a document. `ticked` are the layers that are read.
    pub(super) fn of<'a>(
        document: &'a Document<'_>,
        scale: &Scale,
        ticked: Option<&'a [usize]>,
    ) -> Result<Self, FileError> {
        let is_layer = |node: Node<'_, '_>| layer_label(node).is_some();
        let mut copier = Copier {
            out: Self {
                text: String::new(),
                layers: Vec::new(),
                shapes: HashMap::new(),
                omitted: Omitted::default(),
            },
            ticked,
            hiding: Hiding::of(document),
            has_named_layers: document.descendants().any(is_layer),
            by_node: HashMap::new(),
            uses: 0,
        };
        let layer = copier.layer(String::new());
        let is_shut = !copier.out.layers[layer].is_read;
        let within = Within { layer, depth: 0, is_referred: false, is_hidden: false, is_shut };
        copier.element(document.root_element(), within, scale.root)?;
        Ok(copier.out)
    }

    /// Counts the shapes that were not drawn, and those that a clip path cuts away.
    pub(super) fn omit_undrawn(&mut self, drawn: &HashSet<String>, clipped: &HashSet<String>) {
        for (id, shape) in &self.shapes {
            if !shape.is_drawn_where_it_stands || drawn.contains(id) {
                continue;
            }
            let why = match (clipped.contains(id), shape.is_hidden) {
                (true, _) => Why::ClippedAway,
                (_, true) => Why::Hidden,
                _ => Why::Unpainted,
            };
            self.omitted.add(&shape.what, &self.layers[shape.layer].name, why, 1);
        }
    }
}

/// The label of a group that drawing programs mark as a layer.
fn layer_label<'a>(node: Node<'a, '_>) -> Option<&'a str> {
    let by_name = |name: &str| node.attributes().find(|a| a.name() == name).map(|a| a.value());
    if node.tag_name().name() != "g" || by_name("groupmode") != Some("layer") {
        return None;
    }
    by_name("label").or_else(|| node.attribute("id"))
}

impl Copier<'_> {
    fn layer(&mut self, name: String) -> usize {
        if let Some(index) = self.by_node.get(&name) {
            return *index;
        }
        let index = self.out.layers.len();
        if index >= MOST_LAYERS {
            return index - 1;
        }
        let is_read = self.ticked.is_none_or(|ticked| ticked.contains(&index));
        self.by_node.insert(name.clone(), index);
        self.out.layers.push(SourceLayer { name, is_read });
        index
    }

    /// Where the children of an element stand. A group that programs mark as a layer is one; where
    /// none is marked, the groups of the root are, by their ids.
    fn inside(&mut self, node: Node<'_, '_>, within: Within) -> Within {
        let named = match self.has_named_layers {
            true => layer_label(node),
            false => top_group(node),
        };
        let mut inside = Within { depth: within.depth + 1, ..within };
        inside.is_referred |= REFERRED.contains(&node.tag_name().name());
        inside.is_hidden |= self.hiding.hides(node);
        if let Some(name) = named.filter(|_| !inside.is_referred) {
            inside.layer = self.layer(name.to_owned());
            let layer = &mut self.out.layers[inside.layer];
            match self.ticked {
                // A hidden layer that the maker has ticked is seen.
                Some(_) if layer.is_read => inside.is_hidden = within.is_hidden,
                None if inside.is_hidden => layer.is_read = false,
                _ => {}
            }
            inside.is_shut = self.ticked.is_some() && !layer.is_read;
        }
        inside
    }

    fn element(
        &mut self,
        node: Node<'_, '_>,
        within: Within,
        size: Option<(f64, f64)>,
    ) -> Result<(), FileError> {
        let tag = node.tag_name().name();
        let is_svg = matches!(node.tag_name().namespace(), None | Some(SVG));
        if !is_svg || DROPPED.contains(&tag) {
            return Ok(());
        }
        if within.depth > DEEPEST {
            return Err(FileError::TooMuch("groups are nested too deeply".into()));
        }
        if NO_LINES.contains(&tag) {
            self.omit(tag, within, Why::NoLine);
            return Ok(());
        }
        if tag == "use" {
            self.uses += 1;
            if self.uses > MOST_USES {
                let why = "too many elements are drawn again by reference";
                return Err(FileError::TooMuch(why.into()));
            }
        }
        let is_drawn = SHAPES.contains(&tag) || tag == "use";
        if is_drawn && within.is_shut && !within.is_referred {
            self.omit(tag, within, Why::Unticked);
            return Ok(());
        }
        let inside = self.inside(node, within);
        let id = is_drawn.then(|| self.shape(node, inside));
        let is_shown = inside.is_hidden == within.is_hidden && self.hiding.hides(node);
        self.open(node, id.as_deref(), size, is_shown);
        for child in node.children() {
            if child.is_element() {
                self.element(child, inside, None)?;
            } else if tag == "style" && child.is_text() {
                self.out.text.push_str(&escaped(&css::style(child.text().unwrap_or_default())));
            }
        }
        let _ = write!(self.out.text, "</{tag}>");
        Ok(())
    }

    fn omit(&mut self, what: &str, within: Within, why: Why) {
        if !within.is_referred {
            self.out.omitted.add(what, &self.out.layers[within.layer].name, why, 1);
        }
    }

    /// The id of a shape, one of our own where it has none.
    fn shape(&mut self, node: Node<'_, '_>, within: Within) -> String {
        let own = node.attribute("id").filter(|id| !id.is_empty());
        let id = own.map_or_else(|| format!("shape-{}", self.out.shapes.len()), str::to_owned);
        let label = node.attributes().find(|a| a.name() == "label").map(|a| a.value());
        let shape = Shape {
            layer: within.layer,
            name: label.or(own).map(str::to_owned),
            what: node.tag_name().name().to_owned(),
            is_drawn_where_it_stands: !within.is_referred,
            is_hidden: within.is_hidden,
        };
        self.out.shapes.insert(id.clone(), shape);
        id
    }

    /// The beginning of an element.
    fn open(
        &mut self,
        node: Node<'_, '_>,
        id: Option<&str>,
        size: Option<(f64, f64)>,
        is_shown: bool,
    ) {
        let text = &mut self.out.text;
        let _ = write!(text, "<{}", node.tag_name().name());
        if node.parent().is_none_or(|parent| parent.is_root()) {
            let _ = write!(text, " xmlns=\"{SVG}\"");
        }
        if let Some((width, height)) = size {
            let _ = write!(text, " width=\"{width}\" height=\"{height}\"");
        }
        if let Some(id) = id {
            let _ = write!(text, " id=\"{}\"", escaped(id));
        }
        for attribute in node.attributes() {
            let (name, value) = (attribute.name(), attribute.value());
            let is_href = name == "href";
            let is_own = attribute.namespace().is_none() || is_href;
            let is_replaced = match name {
                "id" => id.is_some(),
                "width" | "height" => size.is_some(),
                "display" | "visibility" | "style" => is_shown,
                // The order of painting splits a shape in two that have no id.
                "paint-order" => true,
                _ => name.starts_with("on") || name.starts_with("marker"),
            };
            if !is_own || is_replaced || (is_href && !value.starts_with('#')) {
                continue;
            }
            let value = match name {
                "transform" => css::transform(value),
                "style" => css::style(value),
                _ => value.to_owned(),
            };
            let _ = write!(text, " {name}=\"{}\"", escaped(&value));
        }
        // It is seen whatever its own style or a style sheet says.
        if is_shown {
            let own = css::style(node.attribute("style").unwrap_or_default());
            let between = if own.trim().is_empty() { "" } else { ";" };
            let _ = write!(text, " style=\"{}{between}{SEEN}\"", escaped(&own));
        }
        text.push('>');
    }
}

/// The name of a group that stands right in the root, or in the one group that does.
fn top_group<'a>(node: Node<'a, '_>) -> Option<&'a str> {
    let is_group = |node: &Node<'_, '_>| node.is_element() && node.tag_name().name() == "g";
    let parent = node.parent_element()?;
    let is_alone = |group: Node<'_, '_>| {
        let drawn = |n: &Node<'_, '_>| {
            let tag = n.tag_name().name();
            n.is_element() && (tag == "g" || tag == "use" || SHAPES.contains(&tag))
        };
        group.parent_element().is_some_and(|root| root.children().filter(drawn).count() == 1)
    };
    let root = node.document().root_element();
    let is_top = parent == root
        || (is_group(&parent) && parent.parent_element() == Some(root) && is_alone(parent));
    let by_name = |name: &str| node.attributes().find(|a| a.name() == name).map(|a| a.value());
    let name = by_name("label").or_else(|| node.attribute("data-name")).or(node.attribute("id"));
    name.filter(|_| is_top && is_group(&node))
}
