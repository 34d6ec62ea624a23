//! SVG, read with usvg: nested transforms, used parts, styles and units are worked out there.

use super::super::{Picture, WORKED_SIDE};
use super::{
    DrawingError, FoundDrawing, FoundLayer, Mark, MarkKind, Reading, budget, svg_lines, were,
};
use crate::filament::Rgb;
use kurbo::{Affine, BezPath, Cap, Join, Point, Stroke};
use resvg::tiny_skia::Pixmap;
use resvg::usvg::roxmltree::{Document, Node as XmlNode, ParsingOptions};
use resvg::usvg::tiny_skia_path::PathSegment;
use resvg::usvg::{
    ClipPath, FillRule, Group, ImageHrefResolver, LineCap, LineJoin, Node, Options, Paint, Path,
    Transform, Tree,
};

/// Millimetres to the user unit of CSS, of which 96 are an inch (CSS Values and Units, level 4, §6.2).
const MM_PER_PIXEL: f64 = 25.4 / 96.0;

/// The most nodes an XML document may have.
const MOST_NODES: u32 = 400_000;

/// More layers than this are no help; then everything of one colour is one.
const MOST_TOLD: usize = 24;

/// The most dashes a line is cut into.
const MOST_DASHES: f64 = 5_000.0;

/// Reads an SVG document.
pub(super) fn read(bytes: &[u8]) -> Result<FoundDrawing, DrawingError> {
    parsed(bytes, &|document, tree, has_marks| {
        let mut reading = Reading::new("SVG", true);
        reading.found.stated = stated_unit(document).then_some(MM_PER_PIXEL);
        reading.found.likely = MM_PER_PIXEL;
        say_what_is_left_out(document, &mut reading);
        let mut walk = Walk { reading, by_group: true, has_marks };
        walk.group(tree.root(), None, &[])?;
        if walk.reading.found.layers.len() > MOST_TOLD {
            let Reading { found, .. } = walk.reading;
            let mut reading = Reading::new("SVG", true);
            reading.found =
                FoundDrawing { layers: Vec::new(), marks: Vec::new(), clips: Vec::new(), ..found };
            walk = Walk { reading, by_group: false, has_marks };
            walk.group(tree.root(), None, &[])?;
        }
        Ok(walk.reading.found)
    })
}

/// How many pictures of their own the groups of a drawing may need while it is drawn, and how many at a time.
const MOST_LAID: usize = 60;
const DEEPEST_LAID: usize = 6;

/// Draws an SVG document as a picture whose longer side is [`WORKED_SIDE`], on nothing.
///
/// # Errors
/// [`DrawingError`] where it cannot be read, or takes too much to be drawn.
pub(super) fn render(bytes: &[u8]) -> Result<Picture, DrawingError> {
    parsed(bytes, &|_, tree, _| {
        let mut laid = 0;
        let deepest = laid_within(tree.root(), &mut laid);
        if laid > MOST_LAID || deepest > DEEPEST_LAID {
            return Err(DrawingError::Svg(format!(
                "to be traced as a picture it may have {MOST_LAID} groups with masks, filters or \
                 transparency at most, {DEEPEST_LAID} within each other."
            )));
        }
        let (wide, high) = (tree.size().width(), tree.size().height());
        let scale = WORKED_SIDE as f32 / wide.max(high);
        let side = |length: f32| ((length * scale).round() as u32).clamp(3, WORKED_SIDE);
        let too_large = || DrawingError::Svg("it has no size that can be drawn.".to_owned());
        let mut drawn = Pixmap::new(side(wide), side(high)).ok_or_else(too_large)?;
        resvg::render(
            tree,
            resvg::tiny_skia::Transform::from_scale(scale, scale),
            &mut drawn.as_mut(),
        );
        let pixels = drawn.pixels().iter().map(|pixel| {
            let of = pixel.demultiply();
            [of.red(), of.green(), of.blue(), of.alpha()]
        });
        Ok(Picture {
            format: "SVG".into(),
            width: drawn.width() as usize,
            height: drawn.height() as usize,
            pixels: pixels.collect(),
            scale: Some(MM_PER_PIXEL / f64::from(scale)),
            remarks: Vec::new(),
        })
    })
}

/// How deep groups lie in each other that are drawn by themselves first; all of them are counted.
fn laid_within(group: &Group, laid: &mut usize) -> usize {
    let own = group.should_isolate();
    if own {
        *laid +=
            1 + 4 * group.filters().iter().map(|filter| filter.primitives().len()).sum::<usize>();
    }
    let mut deepest = group.mask().map_or(0, |mask| laid_within(mask.root(), laid));
    for node in group.children() {
        let depth = match node {
            Node::Group(inner) => laid_within(inner, laid),
            Node::Path(path) => {
                let fill = path.fill().map(|fill| fill.paint());
                let stroke = path.stroke().map(|stroke| stroke.paint());
                let tiles = fill.into_iter().chain(stroke).filter_map(|paint| match paint {
                    Paint::Pattern(pattern) => Some(laid_within(pattern.root(), laid) + 1),
                    _ => None,
                });
                tiles.max().unwrap_or(0)
            }
            _ => 0,
        };
        deepest = deepest.max(depth);
    }
    deepest + usize::from(own)
}

/// What is done with a document: as XML, as what it comes to, and whether lines that do not scale are
/// marked in it.
type Then<'a, T> = &'a dyn Fn(&Document<'_>, &Tree, bool) -> Result<T, DrawingError>;

/// Reads an SVG document and does something with what it comes to.
fn parsed<T>(bytes: &[u8], then: Then<'_, T>) -> Result<T, DrawingError> {
    let broken = |error: &dyn std::fmt::Display| DrawingError::Svg(format!("{error}."));
    let text = std::str::from_utf8(bytes).map_err(|_| {
        DrawingError::Svg("it is not written in UTF-8. Save it again in that encoding.".to_owned())
    })?;
    // Entities could unfold into anything; without a document type there are none.
    let options =
        || ParsingOptions { allow_dtd: false, nodes_limit: MOST_NODES, ..Default::default() };
    let document = match Document::parse_with_options(text, options()) {
        Ok(document) => document,
        Err(resvg::usvg::roxmltree::Error::DtdDetected) => {
            let plain = without_doctype(text).ok_or_else(|| {
                DrawingError::Svg("it declares entities of its own, which are not read.".to_owned())
            })?;
            return parsed(plain.as_bytes(), then);
        }
        Err(error) => return Err(broken(&error)),
    };
    if document.root_element().tag_name().name() != "svg" {
        return Err(DrawingError::Unknown);
    }
    budget::check(&document)?;
    if !svg_lines::may_have_some(text) {
        return then(&document, &tree_of(&document)?, false);
    }
    let plain = svg_lines::unmarked(text);
    let read = |text| Document::parse_with_options(text, options()).map_err(|e| broken(&e));
    let marked = svg_lines::marked(&plain, &read(&plain)?);
    let document = read(&marked)?;
    then(&document, &tree_of(&document)?, true)
}

/// What a document comes to.
fn tree_of(document: &Document<'_>) -> Result<Tree, DrawingError> {
    // Nothing is fetched, from this machine or another.
    let nothing = ImageHrefResolver {
        resolve_data: Box::new(|_, _, _| None),
        resolve_string: Box::new(|_, _| None),
    };
    let options = Options { image_href_resolver: nothing, ..Options::default() };
    Tree::from_xmltree(document, &options).map_err(|error| DrawingError::Svg(format!("{error}.")))
}

/// The text without a document type that declares nothing, as old files begin; `None` where it does.
fn without_doctype(text: &str) -> Option<String> {
    let start = text.find("<!DOCTYPE")?;
    let end = start + text[start..].find('>')?;
    if text[start..end].contains('[') {
        return None;
    }
    Some(format!("{}{}", &text[..start], &text[end + 1..]))
}

/// Whether the drawing says how large it is: its width or height carries a unit of length.
fn stated_unit(document: &Document<'_>) -> bool {
    const UNITS: [&str; 6] = ["mm", "cm", "in", "pt", "pc", "Q"];
    let root = document.root_element();
    let sides = ["width", "height"].into_iter().filter_map(|side| root.attribute(side));
    sides.map(str::trim).any(|side| UNITS.iter().any(|unit| side.ends_with(unit)))
}

/// Says what is in the document and is not read.
fn say_what_is_left_out(document: &Document<'_>, reading: &mut Reading) {
    let count = |name: &str| {
        let is_one = |node: &XmlNode<'_, '_>| node.is_element() && node.tag_name().name() == name;
        document.descendants().filter(is_one).count()
    };
    let rules: [(&str, &str, &str); 5] = [
        (
            "text",
            "text",
            "left out; turn text to outlines in the program the drawing comes from, or add it as lettering",
        ),
        ("image", "picture", "left out"),
        ("mask", "mask", "not followed"),
        ("filter", "filter", "not followed"),
        ("script", "script", "not run"),
    ];
    for (name, noun, what) in rules {
        let found = count(name);
        if found > 0 {
            reading.remark(format!("{} {what}.", were(found, noun)));
        }
    }
}

struct Walk {
    reading: Reading,
    /// Whether layers are told apart by their groups too, and not by colour alone.
    by_group: bool,
    /// Whether lines that do not scale are marked.
    has_marks: bool,
}

impl Walk {
    fn group(
        &mut self,
        group: &Group,
        name: Option<&str>,
        clips: &[usize],
    ) -> Result<(), DrawingError> {
        if group.opacity().get() == 0.0 {
            return Ok(());
        }
        let name = name.or(Some(group.id()).filter(|id| !id.is_empty()));
        let mut clips = clips.to_vec();
        let mut clip = group.clip_path();
        while let Some(one) = clip {
            clips.push(self.clip(one, group.abs_transform())?);
            clip = one.clip_path();
        }
        for node in group.children() {
            match node {
                Node::Group(inner) => self.group(inner, name, &clips)?,
                Node::Path(path) if path.is_visible() => self.path(path, name, &clips)?,
                Node::Path(_) | Node::Image(_) | Node::Text(_) => {}
            }
        }
        Ok(())
    }

    /// The outline of what a clip leaves, as a plain path.
    fn clip(&mut self, clip: &ClipPath, of: Transform) -> Result<usize, DrawingError> {
        let mut all = BezPath::new();
        let mut pending = vec![clip.root()];
        let placing = affine(of) * affine(clip.transform());
        while let Some(group) = pending.pop() {
            for node in group.children() {
                match node {
                    Node::Group(inner) => pending.push(inner),
                    Node::Path(path) => {
                        all.extend(UP * placing * affine(path.abs_transform()) * curves(path));
                    }
                    Node::Image(_) | Node::Text(_) => {}
                }
            }
        }
        self.reading.count(&all)?;
        self.reading.found.clips.push(all);
        Ok(self.reading.found.clips.len() - 1)
    }

    fn path(
        &mut self,
        path: &Path,
        name: Option<&str>,
        clips: &[usize],
    ) -> Result<(), DrawingError> {
        let placing = UP * affine(path.abs_transform());
        let curves = curves(path);
        let area = path.fill().filter(|fill| fill.opacity().get() > 0.0).map(|fill| {
            (fill.paint(), MarkKind::Area { even_odd: fill.rule() == FillRule::EvenOdd })
        });
        let line = path.stroke().filter(|stroke| stroke.opacity().get() > 0.0);
        let line =
            line.map(|stroke| (stroke.paint(), MarkKind::Line(Some(self.pen(path, stroke)))));
        for (paint, kind) in [area, line].into_iter().flatten() {
            let colour = self.colour(paint);
            let hex = colour.to_string();
            let named = name.filter(|_| self.by_group).map(|name| {
                let name: String = name.chars().take(40).collect();
                format!("{name}, {hex}")
            });
            let layer = FoundLayer { name: named.unwrap_or(hex), colour: Some(colour) };
            let layer = self.reading.layer(layer)?;
            let is_unscaled =
                self.has_marks && matches!(kind, MarkKind::Line(_)) && svg_lines::is_marked(path);
            // The line is drawn in the units of the whole picture, where its curves are placed already.
            let (path, placing) = if is_unscaled {
                (placing * curves.clone(), Affine::IDENTITY)
            } else {
                (curves.clone(), placing)
            };
            self.reading.put(Mark { layer, kind, path, placing, clips: clips.to_vec() })?;
        }
        Ok(())
    }

    /// The colour of a paint; where there are several, the first.
    fn colour(&mut self, paint: &Paint) -> Rgb {
        let stops = match paint {
            Paint::Color(colour) => return Rgb([colour.red, colour.green, colour.blue]),
            Paint::LinearGradient(gradient) => gradient.stops(),
            Paint::RadialGradient(gradient) => gradient.stops(),
            Paint::Pattern(_) => &[],
        };
        match stops.first().map(|stop| stop.color()) {
            Some(first) => {
                self.reading.remark("Of gradients the first colour was taken.".to_owned());
                Rgb([first.red, first.green, first.blue])
            }
            None => {
                self.reading.remark("What is filled with a pattern was taken whole.".to_owned());
                Rgb([128; 3])
            }
        }
    }

    /// How a line is drawn.
    fn pen(&mut self, path: &Path, stroke: &resvg::usvg::Stroke) -> Stroke {
        let cap = match stroke.linecap() {
            LineCap::Butt => Cap::Butt,
            LineCap::Round => Cap::Round,
            LineCap::Square => Cap::Square,
        };
        let join = match stroke.linejoin() {
            LineJoin::Miter | LineJoin::MiterClip => Join::Miter,
            LineJoin::Round => Join::Round,
            LineJoin::Bevel => Join::Bevel,
        };
        let pen = Stroke::new(f64::from(stroke.width().get()))
            .with_caps(cap)
            .with_join(join)
            .with_miter_limit(f64::from(stroke.miterlimit().get()));
        let Some(dashes) = stroke.dasharray() else { return pen };
        let period: f64 = dashes.iter().map(|dash| f64::from(*dash)).sum();
        let bounds = path.bounding_box();
        let points = path.data().len() as f64;
        let length = f64::from(bounds.width() + bounds.height()) * points;
        if !(period > 0.0 && length / period < MOST_DASHES) {
            self.reading.remark("A line of very many dashes was read as a whole line.".to_owned());
            return pen;
        }
        let offset = f64::from(stroke.dashoffset());
        pen.with_dashes(offset, dashes.iter().map(|dash| f64::from(*dash)))
    }
}

/// SVG counts downwards.
const UP: Affine = Affine::FLIP_Y;

fn affine(of: Transform) -> Affine {
    Affine::new([of.sx, of.ky, of.kx, of.sy, of.tx, of.ty].map(f64::from))
}

fn curves(path: &Path) -> BezPath {
    let mut curves = BezPath::new();
    let at = |p: resvg::usvg::tiny_skia_path::Point| Point::new(f64::from(p.x), f64::from(p.y));
    for segment in path.data().segments() {
        match segment {
            PathSegment::MoveTo(to) => curves.move_to(at(to)),
            PathSegment::LineTo(to) => curves.line_to(at(to)),
            PathSegment::QuadTo(by, to) => curves.quad_to(at(by), at(to)),
            PathSegment::CubicTo(by, and, to) => curves.curve_to(at(by), at(and), at(to)),
            PathSegment::Close => curves.close_path(),
        }
    }
    curves
}
