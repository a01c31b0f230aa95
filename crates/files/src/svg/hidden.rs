//! What a drawing says is not to be seen: by attributes, by the rules of its style sheets, and by an
//! element's own style, of which the later one counts.

use simplecss::{AttributeOperator, DeclarationTokenizer, Element, PseudoClass, StyleSheet};
use usvg::roxmltree::{Document, Node};

/// Comparisons of rules with elements that are made at most. Drawing programs hide by a few rules; with
/// more, what a rule hides counts as not painted.
const MOST_COMPARED: usize = 5_000_000;

/// Style sheets of a document, as far as they say what is seen.
pub(super) struct Hiding<'a>(StyleSheet<'a>);

impl<'a> Hiding<'a> {
    /// Reads the style sheets.
    pub(super) fn of(document: &'a Document<'_>) -> Self {
        let mut sheet = StyleSheet::new();
        let mut elements = 0;
        for node in document.descendants().filter(Node::is_element) {
            elements += 1;
            if node.tag_name().name() == "style" {
                sheet.parse_more(node.text().unwrap_or_default());
            }
        }
        let tells = |name: &str| matches!(name, "display" | "visibility");
        sheet.rules.retain(|rule| rule.declarations.iter().any(|said| tells(said.name)));
        if sheet.rules.len().saturating_mul(elements) > MOST_COMPARED {
            sheet.rules.clear();
        }
        Self(sheet)
    }

    /// Whether an element is said not to be seen.
    pub(super) fn hides(&self, node: Node<'_, '_>) -> bool {
        matches!(self.said(node, "display"), Some("none"))
            || matches!(self.said(node, "visibility"), Some("hidden" | "collapse"))
    }

    /// The value of a property that is valid in the end.
    fn said<'b>(&'b self, node: Node<'b, '_>, property: &str) -> Option<&'b str> {
        let mut said = (node.attribute(property), false);
        let ruled = self.0.rules.iter().filter(|rule| rule.selector.matches(&Styled(node)));
        let own = node.attribute("style").unwrap_or_default();
        let declared = ruled.flat_map(|rule| rule.declarations.iter().copied());
        for one in declared.chain(DeclarationTokenizer::from(own)) {
            if one.name == property && (one.important || !said.1) {
                said = (Some(one.value), one.important);
            }
        }
        said.0.map(str::trim)
    }
}

/// An element as selectors see it.
struct Styled<'a, 'b>(Node<'a, 'b>);

impl Element for Styled<'_, '_> {
    fn parent_element(&self) -> Option<Self> {
        self.0.parent_element().map(Styled)
    }

    fn prev_sibling_element(&self) -> Option<Self> {
        self.0.prev_sibling_element().map(Styled)
    }

    fn has_local_name(&self, name: &str) -> bool {
        self.0.tag_name().name() == name
    }

    fn attribute_matches(&self, name: &str, operator: AttributeOperator<'_>) -> bool {
        self.0.attribute(name).is_some_and(|value| operator.matches(value))
    }

    fn pseudo_class_matches(&self, class: PseudoClass<'_>) -> bool {
        class == PseudoClass::FirstChild && self.prev_sibling_element().is_none()
    }
}
