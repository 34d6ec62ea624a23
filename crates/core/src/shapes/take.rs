//! From a drawing to shapes: which layers, how large, and what its lines are.

use super::document::{PartAct, REACH_MM, Rule, ShapeDocument, ShapeError, check_reach};
use super::join::joined;
use super::laid::{Laid, Pen, PenEnds, check_parts, check_work, region_of};
use super::{MAX_SHAPE_POINTS, by_rule};
use crate::filament::Rgb;
use crate::formats::{FoundDrawing, Mark, MarkKind};
use crate::piece;
use crate::plane::{Rect, Region, Tolerance, flattened, signed_area};
use kurbo::{Affine, BezPath, PathEl, Shape as _, Stroke, StrokeOpts};
use serde::{Deserialize, Serialize};
use thiserror::Error;

/// What a line is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum LineUse {
    /// As wide as it was drawn.
    Lines,
    /// Where it closes, the edge of an area.
    Outlines,
}

/// How many shapes a drawing becomes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Division {
    /// One of all chosen layers.
    #[default]
    Together,
    /// One of each layer; they share their frame.
    ByLayer,
}

/// What is chosen of a drawing.
#[derive(Debug, Clone, PartialEq)]
pub struct Chosen {
    /// Millimetres to one of its figures.
    pub scale: f64,
    /// The layers that are wanted, by their places; nothing for all.
    pub layers: Option<Vec<usize>>,
    /// What its lines are; nothing for what suits the drawing.
    pub lines: Option<LineUse>,
    /// How wide a line is that has no width of its own, in mm.
    pub line_width: f64,
    /// Ends of lines no further apart than this are joined, in mm.
    pub join: f64,
    /// How many shapes it becomes.
    pub division: Division,
}

impl Chosen {
    /// All of a drawing at a scale.
    pub fn all(scale: f64) -> Self {
        Chosen {
            scale,
            layers: None,
            lines: None,
            line_width: 1.0,
            join: 0.05,
            division: Division::Together,
        }
    }
}

/// What was made of a drawing.
#[derive(Debug, Clone)]
pub struct Taken {
    /// The shapes, in the order of their layers.
    pub shapes: Vec<TakenShape>,
    /// What lines were taken as.
    pub lines: LineUse,
    /// Where the middle of the shapes' frame lies in the drawing, in mm, y up.
    pub centre: (f64, f64),
    /// What was joined, mended or left out, a sentence each.
    pub remarks: Vec<String>,
}

/// A shape made of a drawing.
#[derive(Debug, Clone)]
pub struct TakenShape {
    /// The layer it was made of, where each became one.
    pub layer: Option<usize>,
    /// The colour of what it was made of, where it has one.
    pub colour: Option<Rgb>,
    /// Its document.
    pub document: ShapeDocument,
    /// What it encloses, in mm, its frame's centre on the origin.
    pub region: Region,
}

/// Why nothing could be made of a drawing.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum NotTaken {
    /// No layer was chosen, or nothing in those that were.
    #[error("nothing is chosen: choose at least one layer with something in it")]
    NothingChosen,
    /// Nothing in the drawing encloses anything; why, a sentence.
    #[error("nothing is enclosed yet. {0}")]
    NothingYet(String),
    /// Lines that close nowhere.
    #[error(
        "none of its lines closes, so they enclose nothing. Take them as lines of a width, or join \
         ends that are further apart"
    )]
    NothingClosed,
    /// A shape that cannot be.
    #[error(transparent)]
    Shape(#[from] ShapeError),
}

/// Colours that lie over each other more often than this are laid flat at once.
const MOST_TURNS: usize = 3;

/// The most turns from adding to cutting that are laid flat.
const MOST_TURNS_AT_ALL: usize = 2_000;

/// Makes shapes of a drawing.
///
/// Areas are laid upon each other in the order they were painted: what was painted over a chosen layer
/// and is not chosen itself cuts from it, as it covers it in the drawing. Lines that are outlines make
/// areas where they close, one within another a hole.
///
/// # Errors
/// [`NotTaken`] with what stands against it.
pub fn take(drawing: &FoundDrawing, chosen: &Chosen) -> Result<Taken, NotTaken> {
    if drawing.marks.is_empty() {
        return Err(NotTaken::NothingYet(drawing.remarks.join(" ")));
    }
    let layers: Vec<usize> =
        (0..drawing.layers.len()).filter(|at| is_wanted(chosen, *at)).collect();
    let marks: Vec<&Mark> =
        drawing.marks.iter().filter(|mark| layers.contains(&mark.layer)).collect();
    if marks.is_empty() {
        return Err(NotTaken::NothingChosen);
    }
    let lines = chosen.lines.unwrap_or_else(|| suited(&marks));
    let (far_x, far_y) = far_off(&marks, chosen.scale)?;
    let to_mm = Affine::translate((-far_x, -far_y)) * Affine::scale(chosen.scale);
    let mut maker = Maker { drawing, chosen, to_mm, lines, remarks: Vec::new(), loose: 0 };
    let groups: Vec<(Option<usize>, Vec<usize>)> = match chosen.division {
        Division::Together => vec![(None, layers)],
        Division::ByLayer => layers.into_iter().map(|at| (Some(at), vec![at])).collect(),
    };
    let mut made = Vec::new();
    for (layer, of) in groups {
        let parts = without_specks(maker.parts(&of)?, drawing.speck * chosen.scale);
        let region = as_drawn(&parts, Tolerance::Fine);
        if let Some(bounds) = region.bounds() {
            let first = of.first().and_then(|at| drawing.layers[*at].colour);
            made.push((layer, first, exact_box(&parts, bounds), parts));
        }
    }
    let frames = made.iter().map(|(_, _, frame, _)| *frame);
    let Some(frame) = frames.reduce(|all, one| all.hull(&one)) else {
        return Err(if maker.loose > 0 {
            NotTaken::NothingClosed
        } else {
            NotTaken::NothingChosen
        });
    };
    let (x, y) = frame.centre();
    let home = Affine::translate((-x, -y));
    let centred = frame.moved(-x, -y);
    let shapes = made.into_iter().map(|(layer, colour, _, parts)| {
        let parts: Vec<Laid> =
            parts.into_iter().map(|part| Laid { path: home * &part.path, ..part }).collect();
        let written = |parts: &[Laid]| {
            let document =
                ShapeDocument::of([centred.x0, centred.y0, centred.x1, centred.y1], parts);
            // Read back as it will be: what is refused then is refused now.
            let opened = super::Shape::open(&document.write(), "")?;
            Ok::<_, ShapeError>((document, opened))
        };
        let (mut document, mut opened) = written(&parts)?;
        // Moved and written in few figures, hairs may show that did not before.
        let clean = without_specks(opened.parts.clone(), drawing.speck * chosen.scale);
        if clean.len() > opened.parts.len() {
            (document, opened) = written(&clean)?;
        }
        let region = as_drawn(&opened.parts, Tolerance::Normal);
        Ok(TakenShape { layer, colour, document, region })
    });
    let shapes = shapes.collect::<Result<Vec<_>, ShapeError>>()?;
    Ok(Taken { shapes, lines, centre: (far_x + x, far_y + y), remarks: maker.remarks })
}

/// How far from its origin a drawing lies, in whole metres, given in mm. Plans of a harbour count from a
/// corner of the country; what is drawn there is brought home before anything is worked out.
fn far_off(marks: &[&Mark], scale: f64) -> Result<(f64, f64), ShapeError> {
    let boxes = marks.iter().map(|mark| (Affine::scale(scale) * mark.placing, &mark.path));
    let whole = boxes.map(|(placing, path)| (placing * path).control_box());
    let Some(whole) = whole.reduce(|all, one| all.union(one)) else { return Ok((0.0, 0.0)) };
    let (x, y) = (whole.center().x, whole.center().y);
    if !(x.is_finite() && y.is_finite()) {
        return Err(ShapeError::OutOfReach);
    }
    const METRE: f64 = 1000.0;
    Ok(((x / METRE).round() * METRE, (y / METRE).round() * METRE))
}

/// What is made a shape lies within this, in mm, so that their points fit on the grid: a shape at its largest,
/// the points beside its curves, and the distance [`far_off`] leaves.
const MOST_AWAY_MM: f64 = 2.0 * REACH_MM;

/// What parts enclose as they were drawn.
fn as_drawn(parts: &[Laid], tolerance: Tolerance) -> Region {
    region_of(parts, Affine::IDENTITY, &piece::Stroke::default(), tolerance)
}

/// Parts without what is smaller than a disc that many mm wide, at any tolerance: crumbs are cut away at the
/// end, and openings filled. All curves stay what they are.
fn without_specks(mut parts: Vec<Laid>, wide: f64) -> Vec<Laid> {
    const ALL: [Tolerance; 3] = [Tolerance::Fine, Tolerance::Normal, Tolerance::Draft];
    /// A patch reaches a little over the edge of what it covers, so that no hair of it is left.
    const OVER_MM: f64 = 0.005;
    let least = std::f64::consts::PI / 4.0 * wide * wide;
    if least <= 0.0 {
        return parts;
    }
    // What one patch leaves may show at another tolerance.
    const ROUNDS: usize = 2;
    for tolerance in [ALL; ROUNDS].into_iter().flatten() {
        let region = as_drawn(&parts, tolerance);
        let small = region.contours().iter().map(|one| (one, signed_area(one)));
        let small = small.filter(|(_, area)| area.abs() < least);
        let (crumbs, openings): (Vec<_>, Vec<_>) = small.partition(|(_, area)| *area > 0.0);
        for (act, found) in [(PartAct::Cuts, crumbs), (PartAct::Adds, openings)] {
            let contours: Vec<_> = found.into_iter().map(|(one, _)| one.clone()).collect();
            let patch = Region::resolve(&contours).offset(OVER_MM, Tolerance::Draft);
            if !patch.is_empty() {
                parts.push(Laid::area(act, Rule::NonZero, patch.path()));
            }
        }
    }
    parts
}

fn is_wanted(chosen: &Chosen, layer: usize) -> bool {
    chosen.layers.as_ref().is_none_or(|layers| layers.contains(&layer))
}

/// What the lines of a drawing are, where nobody says: outlines, unless they have widths or stand
/// among areas.
fn suited(marks: &[&Mark]) -> LineUse {
    let is_hairline = |mark: &&Mark| matches!(mark.kind, MarkKind::Line(None));
    let is_area = |mark: &&Mark| matches!(mark.kind, MarkKind::Area { .. });
    let is_whole = |mark: &&Mark| mark.path.elements().last() == Some(&PathEl::ClosePath);
    match marks.iter().any(is_area) {
        true => LineUse::Lines,
        false if marks.iter().any(is_hairline) || marks.iter().all(is_whole) => LineUse::Outlines,
        false => LineUse::Lines,
    }
}

/// The box of what parts enclose: that of their curves, unless something was cut away.
fn exact_box(parts: &[Laid], flattened: Rect) -> Rect {
    let boxes = parts.iter().map(|part| part.as_drawn().bounding_box());
    let Some(whole) = boxes.reduce(|all, one| all.union(one)) else { return flattened };
    let sides = [
        (whole.x0, flattened.x0),
        (whole.y0, flattened.y0),
        (whole.x1, flattened.x1),
        (whole.y1, flattened.y1),
    ];
    let within = 2.0 * Tolerance::Fine.chord_mm();
    match sides.iter().all(|(exact, chord)| (exact - chord).abs() < within) {
        true => Rect { x0: whole.x0, y0: whole.y0, x1: whole.x1, y1: whole.y1 },
        false => flattened,
    }
}

struct Maker<'a> {
    drawing: &'a FoundDrawing,
    chosen: &'a Chosen,
    /// From the drawing to millimetres near the origin.
    to_mm: Affine,
    lines: LineUse,
    remarks: Vec<String>,
    /// Lines that close nowhere.
    loose: usize,
}

impl Maker<'_> {
    fn remark(&mut self, sentence: String) {
        if !self.remarks.contains(&sentence) {
            self.remarks.push(sentence);
        }
    }

    /// What a group of layers encloses, in mm.
    fn parts(&mut self, layers: &[usize]) -> Result<Vec<Laid>, NotTaken> {
        let mut parts: Vec<Laid> = Vec::new();
        let mut outlines: Vec<BezPath> = Vec::new();
        let mut points = 0;
        // What is there so far lies within this box.
        let mut reach: Option<kurbo::Rect> = None;
        for mark in &self.drawing.marks {
            let is_own = layers.contains(&mark.layer);
            // What lies on it in the drawing, and is another colour, covers it.
            let covers = self.drawing.is_painted && !parts.is_empty();
            if !is_own && !covers {
                continue;
            }
            let placing = self.to_mm * mark.placing;
            // What merely covers or cuts off may be as large as it likes, unless it must be widened first.
            let must_fit = is_own || matches!(mark.kind, MarkKind::Line(_));
            if must_fit {
                check_reach(&(placing * &mark.path), MOST_AWAY_MM)?;
            }
            let (rule, outline) = match &mark.kind {
                MarkKind::Area { even_odd: true } => (Rule::EvenOdd, placing * mark.path.clone()),
                MarkKind::Area { even_odd: false } => (Rule::NonZero, placing * mark.path.clone()),
                MarkKind::Line(_) if self.lines == LineUse::Outlines => {
                    if is_own {
                        outlines.extend(runs(&(placing * mark.path.clone())));
                    }
                    continue;
                }
                MarkKind::Line(pen) => (Rule::NonZero, self.stroked(mark, pen.as_ref(), placing)),
            };
            if must_fit {
                check_reach(&outline, MOST_AWAY_MM)?;
            }
            let (rule, outline) = self.clipped(mark, rule, outline)?;
            let bounds = outline.bounding_box();
            let act = match (is_own, reach) {
                (true, _) => PartAct::Adds,
                (false, Some(reach)) if reach.overlaps(bounds) => PartAct::Cuts,
                (false, _) => continue,
            };
            if is_own {
                reach = Some(reach.map_or(bounds, |reach| reach.union(bounds)));
            }
            points += outline.elements().len();
            if points > MAX_SHAPE_POINTS {
                return Err(ShapeError::TooManyPoints(points).into());
            }
            let line = self.line(mark, placing).filter(|_| is_own);
            parts.push(line.unwrap_or_else(|| Laid::area(act, rule, outline)));
        }
        if !outlines.is_empty() {
            let closed = self.closed(outlines)?;
            parts.extend(closed.map(|path| Laid::area(PartAct::Adds, Rule::Nested, path)));
        }
        check_parts(&parts)?;
        self.laid_flat(parts)
    }

    /// A line that stays one, so that another width can be given to it: one of a plain pen, nowhere cut
    /// off, that nothing stretches more one way than the other.
    fn line(&self, mark: &Mark, placing: Affine) -> Option<Laid> {
        let MarkKind::Line(pen) = &mark.kind else { return None };
        let [a, b, c, d, _, _] = placing.as_coeffs();
        let scale = placing.determinant().abs().sqrt();
        let is_even = (a * a + b * b - scale * scale).abs() < 1e-6 * scale * scale
            && (c * c + d * d - scale * scale).abs() < 1e-6 * scale * scale;
        let pen = match pen {
            None => Pen { width: self.chosen.line_width, ends: PenEnds::Flat },
            Some(pen) => {
                let pen = Pen::of(pen)?;
                Pen { width: (pen.width * scale * 1e4).round() / 1e4, ..pen }
            }
        };
        (is_even && mark.clips.is_empty()).then(|| Laid {
            act: PartAct::Adds,
            rule: Rule::NonZero,
            path: placing * &mark.path,
            pen: Some(pen),
        })
    }

    /// The outline of a line.
    fn stroked(&self, mark: &Mark, pen: Option<&Stroke>, placing: Affine) -> BezPath {
        // Areas keep their proportions by the root of what the placing does to them.
        let scale = placing.determinant().abs().sqrt().max(1e-9);
        let plain = Stroke::new(self.chosen.line_width / scale);
        let pen = pen.unwrap_or(&plain);
        const WITHIN_MM: f64 = 0.002;
        placing * kurbo::stroke(mark.path.iter(), pen, &StrokeOpts::default(), WITHIN_MM / scale)
    }

    /// What is left of a path within what cuts it off.
    fn clipped(
        &self,
        mark: &Mark,
        rule: Rule,
        path: BezPath,
    ) -> Result<(Rule, BezPath), ShapeError> {
        if mark.clips.is_empty() {
            return Ok((rule, path));
        }
        let clips: Vec<BezPath> =
            mark.clips.iter().map(|clip| self.to_mm * &self.drawing.clips[*clip]).collect();
        check_work(clips.iter().chain([&path]))?;
        let mut region = by_rule(flattened(&path, Tolerance::Fine), rule);
        for clip in &clips {
            region = region.intersection(&Region::from_path(clip, Tolerance::Fine));
        }
        Ok((Rule::NonZero, region.path()))
    }

    /// The areas that lines enclose, joined end to end; `None` where they enclose none.
    fn closed(&mut self, lines: Vec<BezPath>) -> Result<Option<BezPath>, ShapeError> {
        let found = joined(lines, self.chosen.join);
        check_work(found.closed.iter())?;
        let plural = |count: usize, one: &str, more: &str| {
            if count == 1 { format!("1 {one}") } else { format!("{count} {more}") }
        };
        if found.bridged > 0 {
            let gaps = plural(found.bridged, "gap", "gaps");
            self.remark(format!(
                "{gaps} between the ends of lines {} closed, the widest {:.3} mm.",
                if found.bridged == 1 { "was" } else { "were" },
                found.widest
            ));
        }
        if found.doubled > 0 {
            let lines = plural(found.doubled, "line", "lines");
            self.remark(format!("{lines} lay on another just like it and counted once."));
        }
        if !found.open.is_empty() {
            self.loose += found.open.len();
            let lines = plural(found.open.len(), "line that closes", "lines that close");
            self.remark(format!(
                "{lines} nowhere {} left out.",
                if found.open.len() == 1 { "was" } else { "were" }
            ));
        }
        let crossing = found.closed.iter().filter(|path| crosses_itself(path)).count();
        if crossing > 0 {
            let outlines = plural(crossing, "outline crosses itself", "outlines cross themselves");
            self.remark(format!("{outlines}; whatever is run round was taken as inside."));
        }
        let mut all = BezPath::new();
        found.closed.iter().for_each(|path| all.extend(path.iter()));
        Ok((!all.elements().is_empty()).then_some(all))
    }

    /// Parts that lie over each other again and again, worked out and put down as they are seen.
    fn laid_flat(&mut self, parts: Vec<Laid>) -> Result<Vec<Laid>, NotTaken> {
        let turns = parts.chunk_by(|a, b| a.act == b.act).count();
        if turns <= MOST_TURNS {
            return Ok(parts);
        }
        if turns > MOST_TURNS_AT_ALL {
            return Err(ShapeError::Tangled.into());
        }
        let region = as_drawn(&parts, Tolerance::Fine);
        let path = region.path();
        let points = path.elements().len();
        if points > MAX_SHAPE_POINTS {
            return Err(ShapeError::TooManyPoints(points).into());
        }
        Ok(vec![Laid::area(PartAct::Adds, Rule::NonZero, path)])
    }
}

/// The runs of a path one by one.
fn runs(path: &BezPath) -> Vec<BezPath> {
    let mut all: Vec<BezPath> = Vec::new();
    for element in path.elements() {
        match (element, all.last_mut()) {
            (PathEl::MoveTo(_), _) | (_, None) => all.push(BezPath::from_vec(vec![*element])),
            (_, Some(run)) => run.push(*element),
        }
    }
    all
}

/// Whether a closed run crosses itself: what it runs round is then not what its signed area says.
fn crosses_itself(path: &BezPath) -> bool {
    let contours = flattened(path, Tolerance::Fine);
    let whole = Region::resolve(&contours);
    let signed = Region::from_contours(contours).area().abs();
    whole.contours().len() > 1 || (whole.area() - signed).abs() > 1e-3 + 1e-4 * signed
}
