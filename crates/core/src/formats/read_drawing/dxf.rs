//! DXF, read with the `dxf` crate: lines, arcs, circles, ellipses, polylines, splines, filled corners and
//! blocks, after the DXF Reference.

use super::spline::{self, Spline};
use super::{DrawingError, FoundDrawing, FoundLayer, Mark, MarkKind, Reading, were};
use crate::filament::Rgb;
use ::dxf::entities::{Entity, EntityType, Insert, Polyline};
use ::dxf::enums::{DrawingUnits, Units};
use ::dxf::{Drawing, Point as FilePoint, Vector};
use kurbo::{Affine, Arc, BezPath, Cap, Join, PathEl, Point, Shape, Stroke, Vec2};
use std::collections::{BTreeMap, HashMap, HashSet};
use std::f64::consts::TAU;

/// How deeply blocks may stand in blocks.
const DEEPEST: usize = 12;

/// The most blocks that are put into the drawing, everything counted.
const MOST_INSERTS: usize = 50_000;

/// The most entities that are looked at, those of blocks as often as these are put in, whether anything is drawn of
/// them or not.
const MOST_ENTITIES: usize = 400_000;

/// Reads a DXF file.
pub(super) fn read(bytes: &[u8]) -> Result<FoundDrawing, DrawingError> {
    // Nothing is done with a preview, and what it says of its size may be a lie.
    let bytes = without_preview(bytes);
    let drawing = Drawing::load(&mut &bytes[..]).map_err(|error| {
        let looks_right = bytes.windows(7).take(4096).any(|text| text == b"SECTION");
        match looks_right {
            true => DrawingError::Dxf(format!("{error}.")),
            false => DrawingError::Unknown,
        }
    })?;
    let mut reading = Reading::new("DXF", false);
    reading.found.stated = millimetres(drawing.header.default_drawing_units);
    // Where the file says nothing of it the library says inches; then it is a guess like any other.
    const MEASUREMENT: &[u8] = b"$MEASUREMENT";
    let says_so = bytes.windows(MEASUREMENT.len()).any(|text| text == MEASUREMENT);
    let is_imperial = says_so && matches!(drawing.header.drawing_units, DrawingUnits::English);
    let guess = if is_imperial { 25.4 } else { 1.0 };
    reading.found.likely = reading.found.stated.unwrap_or(guess);
    let blocks: HashMap<&str, &::dxf::Block> =
        drawing.blocks().map(|block| (block.name.as_str(), block)).collect();
    let hidden: HashSet<&str> =
        drawing.layers().filter(|one| !one.is_layer_on).map(|one| one.name.as_str()).collect();
    let mut walk = Walk {
        reading,
        blocks,
        hidden,
        inserts: 0,
        looked_at: 0,
        left_out: BTreeMap::new(),
        extent: extent(&drawing),
    };
    for entity in drawing.entities() {
        walk.entity(entity, Affine::IDENTITY, None, 0)?;
    }
    let Walk { mut reading, left_out, .. } = walk;
    for (noun, count) in left_out {
        reading.remark(format!("{} left out.", were(count, noun)));
    }
    for (name, count) in unread(&bytes) {
        reading.remark(format!("{} left out.", were(count, &format!("{name} entity"))));
    }
    Ok(reading.found)
}

/// The file with its preview named something no reader knows.
fn without_preview(bytes: &[u8]) -> Vec<u8> {
    const NAME: &[u8] = b"THUMBNAILIMAGE";
    let mut bytes = bytes.to_vec();
    let mut at = 0;
    while let Some(found) = bytes[at..].windows(NAME.len()).position(|text| text == NAME) {
        at += found + NAME.len();
        bytes[at - 1] = b'_';
    }
    bytes
}

/// Millimetres to a unit of a drawing (DXF Reference, `$INSUNITS`); `None` where it states none.
fn millimetres(units: Units) -> Option<f64> {
    Some(match units {
        Units::Millimeters => 1.0,
        Units::Centimeters => 10.0,
        Units::Decimeters => 100.0,
        Units::Meters => 1000.0,
        Units::Microns => 1e-3,
        Units::Inches | Units::USSurveyInch => 25.4,
        Units::Mils => 0.0254,
        Units::Microinches => 25.4e-6,
        Units::Feet | Units::USSurveyFeet => 304.8,
        Units::Yards | Units::USSurveyYard => 914.4,
        _ => return None,
    })
}

/// About how far the drawing reaches, for how closely its splines are followed.
fn extent(drawing: &Drawing) -> f64 {
    let mut reach: f64 = 1e-6;
    let mut see = |points: &[&FilePoint]| {
        for point in points {
            reach = reach.max(point.x.abs()).max(point.y.abs());
        }
    };
    for entity in drawing.entities() {
        match &entity.specific {
            EntityType::Spline(spline) => spline.control_points.iter().for_each(|p| see(&[p])),
            EntityType::Line(line) => see(&[&line.p1, &line.p2]),
            _ => {}
        }
    }
    reach
}

/// Kinds of entities in an ASCII file that the reader passes over, with how many there are.
fn unread(bytes: &[u8]) -> BTreeMap<String, usize> {
    const PASSED_OVER: [&str; 7] =
        ["HATCH", "DIMENSION", "MPOLYGON", "ACAD_TABLE", "MLEADER", "MULTILEADER", "SURFACE"];
    let text = String::from_utf8_lossy(bytes);
    let mut counts = BTreeMap::new();
    let mut lines = text.lines().map(str::trim);
    while let (Some(code), Some(value)) = (lines.next(), lines.next()) {
        if code == "0" && PASSED_OVER.contains(&value) {
            *counts.entry(value.to_lowercase()).or_insert(0) += 1;
        }
    }
    counts
}

struct Walk<'a> {
    reading: Reading,
    blocks: HashMap<&'a str, &'a ::dxf::Block>,
    hidden: HashSet<&'a str>,
    inserts: usize,
    /// How many entities were looked at.
    looked_at: usize,
    /// What is left out, with how often.
    left_out: BTreeMap<&'static str, usize>,
    /// How far the drawing reaches.
    extent: f64,
}

impl<'a> Walk<'a> {
    fn entity(
        &mut self,
        entity: &'a Entity,
        placing: Affine,
        of_block: Option<&str>,
        depth: usize,
    ) -> Result<(), DrawingError> {
        self.looked_at += 1;
        if self.looked_at > MOST_ENTITIES {
            return Err(DrawingError::UsedTooOften(MOST_ENTITIES));
        }
        let common = &entity.common;
        // What a block draws on layer 0 lies on the layer the block is put on.
        let layer = match (of_block, common.layer.as_str()) {
            (Some(outer), "0" | "") => outer,
            (_, own) => own,
        };
        if common.is_in_paper_space || !common.is_visible {
            self.leave_out("hidden entity");
            return Ok(());
        }
        if self.hidden.contains(&layer) {
            self.leave_out("hidden line");
            return Ok(());
        }
        let colour = (common.color_24_bit > 0).then(|| {
            let [_, red, green, blue] = common.color_24_bit.to_be_bytes();
            Rgb([red, green, blue])
        });
        let drawn = match &entity.specific {
            EntityType::Insert(insert) => return self.insert(insert, placing, layer, depth),
            EntityType::AttributeDefinition(_)
            | EntityType::Attribute(_)
            | EntityType::Seqend(_) => {
                return Ok(());
            }
            other => self.drawn(other),
        };
        let (path, kind, frame) = match drawn {
            Ok((path, kind, Some(frame))) => (path, kind, frame),
            Ok((_, _, None)) => {
                self.leave_out("tilted line");
                return Ok(());
            }
            Err(noun) => {
                self.leave_out(noun);
                return Ok(());
            }
        };
        let layer = FoundLayer { name: layer.chars().take(60).collect(), colour };
        let layer = self.reading.layer(layer)?;
        self.reading.put(Mark { layer, kind, path, placing: placing * frame, clips: Vec::new() })
    }

    /// What an entity draws and how its plane lies; or what is left out.
    fn drawn(&mut self, entity: &EntityType) -> Result<Drawn, &'static str> {
        let line = MarkKind::Line(None);
        Ok(match entity {
            EntityType::Line(one) => {
                let ends = [(flat(&one.p1), 0.0), (flat(&one.p2), 0.0)];
                (bulged(&ends, false), line, Some(Affine::IDENTITY))
            }
            EntityType::Arc(arc) => {
                let (from, to) = (arc.start_angle.to_radians(), arc.end_angle.to_radians());
                let sweep = (to - from).rem_euclid(TAU);
                let sweep = if sweep == 0.0 { TAU } else { sweep };
                let path = arc_path(flat(&arc.center), arc.radius, from, sweep);
                (path, line, upright(&arc.normal))
            }
            EntityType::Circle(circle) => {
                let mut path = arc_path(flat(&circle.center), circle.radius, 0.0, TAU);
                path.close_path();
                (path, line, upright(&circle.normal))
            }
            EntityType::Ellipse(one) => {
                let is_level = one.normal.x.hypot(one.normal.y) < 1e-6;
                (ellipse(one), line, is_level.then_some(Affine::IDENTITY))
            }
            EntityType::LwPolyline(one) => {
                let corners: Vec<_> = one
                    .vertices
                    .iter()
                    .map(|vertex| (Point::new(vertex.x, vertex.y), vertex.bulge))
                    .collect();
                let own = one.vertices.first().map_or(0.0, |first| first.starting_width);
                let width = if one.constant_width > 0.0 { one.constant_width } else { own };
                let path = bulged(&corners, one.is_closed());
                (path, MarkKind::Line(pen(width)), upright(&one.extrusion_direction))
            }
            EntityType::Polyline(one) => {
                let path = polyline(one).ok_or("mesh")?;
                (path, MarkKind::Line(pen(one.default_starting_width)), upright(&one.normal))
            }
            EntityType::Spline(spline) => {
                let path = self.spline(spline).ok_or("broken spline")?;
                (path, line, Some(Affine::IDENTITY))
            }
            EntityType::Solid(solid) => {
                // The last two corners stand the wrong way round (DXF Reference, SOLID).
                let corners = [
                    &solid.first_corner,
                    &solid.second_corner,
                    &solid.fourth_corner,
                    &solid.third_corner,
                ];
                let path = bulged(&corners.map(|corner| (flat(corner), 0.0)), true);
                (path, MarkKind::Area { even_odd: false }, upright(&solid.extrusion_direction))
            }
            EntityType::Text(_) | EntityType::MText(_) | EntityType::RText(_) => {
                return Err("text");
            }
            EntityType::Image(_) => return Err("picture"),
            EntityType::ModelPoint(_) => return Err("point"),
            _ => return Err("other entity"),
        })
    }

    fn leave_out(&mut self, noun: &'static str) {
        *self.left_out.entry(noun).or_insert(0) += 1;
    }

    /// A block, as often as it is put into the drawing.
    fn insert(
        &mut self,
        insert: &'a Insert,
        placing: Affine,
        layer: &str,
        depth: usize,
    ) -> Result<(), DrawingError> {
        let Some(block) = self.blocks.get(insert.name.as_str()).copied() else {
            self.leave_out("missing block");
            return Ok(());
        };
        let Some(frame) = upright(&insert.extrusion_direction) else {
            self.leave_out("tilted block");
            return Ok(());
        };
        if depth >= DEEPEST {
            self.leave_out("too deeply nested block");
            return Ok(());
        }
        let layer = layer.to_owned();
        for row in 0..insert.row_count.max(1) {
            for column in 0..insert.column_count.max(1) {
                self.inserts += 1;
                if self.inserts > MOST_INSERTS {
                    return Err(DrawingError::UsedTooOften(MOST_INSERTS));
                }
                let step = Vec2::new(
                    f64::from(column) * insert.column_spacing,
                    f64::from(row) * insert.row_spacing,
                );
                let inner = placing
                    * frame
                    * Affine::translate(flat(&insert.location).to_vec2())
                    * Affine::rotate(insert.rotation.to_radians())
                    * Affine::translate(step)
                    * Affine::scale_non_uniform(insert.x_scale_factor, insert.y_scale_factor)
                    * Affine::translate(-flat(&block.base_point).to_vec2());
                for entity in &block.entities {
                    self.entity(entity, inner, Some(&layer), depth + 1)?;
                }
            }
        }
        Ok(())
    }

    fn spline(&mut self, spline: &::dxf::entities::Spline) -> Option<BezPath> {
        let tolerance = 1e-5 * self.extent;
        if spline.control_points.is_empty() {
            let points: Vec<Point> = spline.fit_points.iter().map(flat).collect();
            self.reading.remark(
                "A spline without control points was drawn smoothly through its points.".to_owned(),
            );
            return spline::through(&points, spline.is_closed());
        }
        let points: Vec<Point> = spline.control_points.iter().map(flat).collect();
        let curve = Spline {
            degree: usize::try_from(spline.degree_of_curve).ok()?,
            knots: &spline.knot_values,
            points: &points,
            weights: &spline.weight_values,
        };
        let mut path = curve.curves(tolerance)?;
        let first = path.elements().first().and_then(PathEl::end_point)?;
        let last = path.elements().last().and_then(PathEl::end_point)?;
        if spline.is_closed() || first.distance(last) < 1e-9 * self.extent {
            path.close_path();
        }
        Some(path)
    }
}

/// A path, what it is, and how its plane lies; `None` where it is tilted.
type Drawn = (BezPath, MarkKind, Option<Affine>);

/// An ellipse or a part of one.
fn ellipse(ellipse: &::dxf::entities::Ellipse) -> BezPath {
    let major = Vec2::new(ellipse.major_axis.x, ellipse.major_axis.y);
    let turn = if ellipse.normal.z < 0.0 { -1.0 } else { 1.0 };
    let (from, to) = (ellipse.start_parameter, ellipse.end_parameter);
    let is_whole = (to - from).abs() >= TAU - 1e-9;
    let sweep = if is_whole { TAU } else { (to - from).rem_euclid(TAU) };
    let mut path = unit_arc(from, sweep);
    if is_whole {
        path.close_path();
    }
    Affine::translate(flat(&ellipse.center).to_vec2())
        * Affine::rotate(major.atan2())
        * Affine::scale_non_uniform(major.hypot(), major.hypot() * ellipse.minor_axis_ratio * turn)
        * path
}

/// A point as it is seen from above.
fn flat(point: &FilePoint) -> Point {
    Point::new(point.x, point.y)
}

/// How the plane of an entity lies in the drawing: as it is, or seen from below; `None` where it is tilted
/// (arbitrary axis algorithm, DXF Reference).
fn upright(normal: &Vector) -> Option<Affine> {
    let is_level = normal.x.hypot(normal.y) < 1e-6;
    match is_level {
        true if normal.z < 0.0 => Some(Affine::FLIP_X),
        true => Some(Affine::IDENTITY),
        false => None,
    }
}

/// A pen of a width, if it has one.
fn pen(width: f64) -> Option<Stroke> {
    (width > 0.0).then(|| {
        Stroke::new(width).with_caps(Cap::Butt).with_join(Join::Miter).with_miter_limit(4.0)
    })
}

/// A circular arc, angles in radians, counter-clockwise where the sweep is positive.
fn arc_path(centre: Point, radius: f64, from: f64, sweep: f64) -> BezPath {
    Affine::translate(centre.to_vec2()) * Affine::scale(radius) * unit_arc(from, sweep)
}

/// A part of a circle of radius 1 about the origin, as near to it in proportion however large it is made; of an angle
/// that is none, nothing.
fn unit_arc(from: f64, sweep: f64) -> BezPath {
    const WITHIN: f64 = 1e-7;
    if !(from.is_finite() && sweep.abs() <= 2.0 * TAU) {
        return BezPath::new();
    }
    let arc = Arc::new((0.0, 0.0), (1.0, 1.0), from, sweep, 0.0);
    BezPath::from_vec(arc.path_elements(WITHIN).collect())
}

/// A line through corners; a bulge bends what leads to the next corner into an arc, and is the tangent of
/// a quarter of its angle (DXF Reference, LWPOLYLINE).
fn bulged(corners: &[(Point, f64)], is_closed: bool) -> BezPath {
    let mut path = BezPath::new();
    let Some(&(first, _)) = corners.first() else { return path };
    path.move_to(first);
    let following = corners.iter().skip(1).chain(is_closed.then_some(&corners[0]));
    for (&(from, bulge), &(to, _)) in corners.iter().zip(following) {
        let chord = to - from;
        if bulge.abs() < 1e-9 || chord.hypot() < 1e-12 {
            path.line_to(to);
            continue;
        }
        let sweep = 4.0 * bulge.atan();
        // From the chord's middle towards the centre, to the left of its way.
        let left = Vec2::new(-chord.y, chord.x);
        let centre = from.midpoint(to) + left * ((1.0 - bulge * bulge) / (4.0 * bulge));
        let arm = from - centre;
        let arc = arc_path(centre, arm.hypot(), arm.atan2(), sweep);
        arc.elements().iter().skip(1).for_each(|element| path.push(*element));
    }
    if is_closed {
        path.close_path();
    }
    path
}

/// A polyline of the old kind; meshes are none.
fn polyline(line: &Polyline) -> Option<BezPath> {
    const CLOSED: i32 = 1;
    const MESH: i32 = 16 | 64;
    if line.flags & MESH != 0 {
        return None;
    }
    // Frame points of a fitted spline are no corners (DXF Reference, VERTEX, flag 16).
    let corners: Vec<_> = line
        .vertices()
        .filter(|one| one.flags & 16 == 0)
        .map(|one| (flat(&one.location), one.bulge))
        .collect();
    Some(bulged(&corners, line.flags & CLOSED != 0))
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::f64::consts::PI;

    /// A bulge of 1 is half a circle, of √2 − 1 a quarter.
    #[test]
    fn bulges_bend_to_the_arcs_they_say() {
        let at = |x: f64, y: f64| Point::new(x, y);
        let half = bulged(&[(at(0.0, 0.0), 1.0), (at(10.0, 0.0), 0.0)], true);
        assert!((half.area().abs() - PI * 25.0 / 2.0).abs() < 1e-4);
        // Counter-clockwise: it bends below its chord.
        assert!((half.bounding_box().y0 + 5.0).abs() < 1e-4);
        let quarter = 2f64.sqrt() - 1.0;
        let round: Vec<_> = [(10.0, 0.0), (0.0, 10.0), (-10.0, 0.0), (0.0, -10.0)]
            .map(|(x, y)| (at(x, y), quarter))
            .to_vec();
        assert!((bulged(&round, true).area() - PI * 100.0).abs() < 1e-3);
    }
}
