//! How much an SVG comes to, counted before it is worked out.
//!
//! Parts of an SVG can be used again by other parts, and those again: a file of a kilobyte may stand for
//! more paths than there are grains of sand. What everything comes to is counted first.

use super::DrawingError;
use resvg::usvg::roxmltree::{Document, Node};
use std::collections::HashMap;

/// The most elements a drawing may come to.
const MOST_ELEMENTS: usize = 50_000;

/// How deep groups may lie in groups.
const DEEPEST: usize = 200;

/// Refuses a document that comes to too much.
pub(super) fn check(document: &Document<'_>) -> Result<(), DrawingError> {
    if depth_of(document) > DEEPEST {
        return Err(DrawingError::TooDeep(DEEPEST));
    }
    let mut by_id: HashMap<&str, Node<'_, '_>> = HashMap::new();
    for node in document.descendants().filter(Node::is_element) {
        if let Some(id) = node.attribute("id") {
            by_id.entry(id).or_insert(node);
        }
    }
    let mut counts = HashMap::new();
    let whole = weigh(document.root_element(), &by_id, &mut counts, 0);
    // A marker is drawn at every point of a line that has one.
    let is_marker = |node: &Node<'_, '_>| node.tag_name().name() == "marker";
    let markers = document.descendants().filter(is_marker);
    let heaviest =
        markers.map(|marker| weigh(marker, &by_id, &mut counts, 0)).max().unwrap_or_default();
    let points = if heaviest == 0 { 0 } else { point_count(document) };
    if whole.saturating_add(heaviest.saturating_mul(points)) > MOST_ELEMENTS {
        return Err(DrawingError::UsedTooOften(MOST_ELEMENTS));
    }
    Ok(())
}

/// How deep the elements of a document lie in each other.
fn depth_of(document: &Document<'_>) -> usize {
    let mut deepest = 0;
    let mut pending = vec![(document.root_element(), 0)];
    while let Some((node, depth)) = pending.pop() {
        deepest = deepest.max(depth);
        pending.extend(node.children().filter(Node::is_element).map(|child| (child, depth + 1)));
    }
    deepest
}

/// How many elements an element comes to, those it uses among them. One that uses itself is left to the
/// reader, which does not follow it.
fn weigh<'a, 'input>(
    node: Node<'a, 'input>,
    by_id: &HashMap<&'a str, Node<'a, 'input>>,
    counts: &mut HashMap<usize, usize>,
    depth: usize,
) -> usize {
    let key = node.id().get_usize();
    if let Some(known) = counts.get(&key) {
        return *known;
    }
    if depth > DEEPEST {
        return MOST_ELEMENTS;
    }
    // While it is being counted it counts for nothing, so that a circle ends.
    counts.insert(key, 0);
    let mut count = 1usize;
    for child in node.children().filter(Node::is_element) {
        count = count.saturating_add(weigh(child, by_id, counts, depth + 1));
    }
    if node.tag_name().name() == "use" {
        let links = node.attributes().filter(|attribute| attribute.name() == "href");
        for link in links {
            let target = link.value().trim().strip_prefix('#').map(str::trim);
            if let Some(target) = target.and_then(|id| by_id.get(id)) {
                count = count.saturating_add(weigh(*target, by_id, counts, depth + 1));
            }
        }
    }
    counts.insert(key, count);
    count
}

/// About how many points the lines of a document have: no more than figures stand in them.
fn point_count(document: &Document<'_>) -> usize {
    let paths = document
        .descendants()
        .flat_map(|node| ["d", "points"].into_iter().filter_map(move |name| node.attribute(name)));
    let separators = |text: &str| {
        text.bytes().filter(|byte| !byte.is_ascii_digit() && *byte != b'.').count() + 1
    };
    paths.map(separators).sum::<usize>() / 2 + document.descendants().count()
}
