//! Lines of an SVG that do not scale with what they are in (`vector-effect: non-scaling-stroke`).
//!
//! The reader of SVG drops that property. Elements that have it are found here before it reads, by their
//! attribute, their style and the style sheets of the document, and are marked with another property, one
//! that says how a path is drawn on screens and means nothing here: every path keeps it, wherever it is
//! used again. (Scalable Vector Graphics 2, §8.14: such a line is drawn in the units of the whole picture,
//! not in those of its own coordinates.)

use resvg::usvg::roxmltree::{Document, Node};
use resvg::usvg::{Path, ShapeRendering};
use simplecss::{AttributeOperator, DeclarationTokenizer, Element, PseudoClass, StyleSheet};

const PROPERTY: &str = "vector-effect";
const VALUE: &str = "non-scaling-stroke";
const MARK: &str = "crispEdges";

/// What draws lines.
const PATHS: [&str; 7] = ["path", "rect", "circle", "ellipse", "line", "polyline", "polygon"];

/// Whether a document may have such lines at all.
pub(super) fn may_have_some(text: &str) -> bool {
    text.contains(VALUE)
}

/// The document with these lines marked, and no others.
pub(super) fn marked(text: &str, document: &Document<'_>) -> String {
    let mut sheet = StyleSheet::new();
    for node in document.descendants().filter(|node| is_called(*node, "style")) {
        sheet.parse_more(node.text().unwrap_or_default());
    }
    // The mark would go on to what is within them, and the property does not.
    let paths =
        document.descendants().filter(|node| PATHS.iter().any(|name| is_called(*node, name)));
    let unscaled: Vec<_> = paths.filter(|node| does_not_scale(*node, &sheet)).collect();
    let mut marked = text.to_owned();
    // From the last one, so that the places of those before it stay.
    for node in unscaled.into_iter().rev() {
        let mark = format!("shape-rendering:{MARK}!important");
        match node.attribute_node("style") {
            Some(style) => marked.insert_str(style.range_value().end, &format!(";{mark}")),
            None => {
                let start = node.range().start;
                let is_end = |c: char| c.is_whitespace() || c == '>' || c == '/';
                if let Some(length) = marked[start..].find(is_end) {
                    marked.insert_str(start + length, &format!(" style=\"{mark}\""));
                }
            }
        }
    }
    marked
}

/// The text without what marks would be taken for.
pub(super) fn unmarked(text: &str) -> String {
    text.replace(MARK, "optimizeSpeed")
}

/// Whether a path was marked.
pub(super) fn is_marked(path: &Path) -> bool {
    path.rendering_mode() == ShapeRendering::CrispEdges
}

/// What an element says of its lines: its style goes before the style sheets, and these before its attribute.
fn does_not_scale(node: Node<'_, '_>, sheet: &StyleSheet<'_>) -> bool {
    let is_it = |value: &str| value.split_whitespace().any(|word| word == VALUE);
    let mut said = node.attribute(PROPERTY).map(is_it);
    for rule in sheet.rules.iter().filter(|rule| rule.selector.matches(&Styled(node))) {
        let declared = rule.declarations.iter().filter(|one| one.name == PROPERTY);
        said = declared.map(|one| is_it(one.value)).next_back().or(said);
    }
    let style = DeclarationTokenizer::from(node.attribute("style").unwrap_or_default());
    let own = style.filter(|one| one.name == PROPERTY).map(|one| is_it(one.value)).last();
    own.or(said).unwrap_or(false)
}

/// Whether a node is an element of a name, whatever its prefix.
fn is_called(node: Node<'_, '_>, name: &str) -> bool {
    node.is_element() && node.tag_name().name() == name
}

/// An element as style sheets look at it.
struct Styled<'a, 'input>(Node<'a, 'input>);

impl Element for Styled<'_, '_> {
    fn parent_element(&self) -> Option<Self> {
        self.0.parent_element().map(Styled)
    }

    fn prev_sibling_element(&self) -> Option<Self> {
        self.0.prev_sibling_element().map(Styled)
    }

    fn has_local_name(&self, name: &str) -> bool {
        is_called(self.0, name)
    }

    fn attribute_matches(&self, name: &str, operator: AttributeOperator<'_>) -> bool {
        self.0.attribute(name).is_some_and(|value| operator.matches(value))
    }

    fn pseudo_class_matches(&self, class: PseudoClass<'_>) -> bool {
        matches!(class, PseudoClass::FirstChild) && self.prev_sibling_element().is_none()
    }
}
