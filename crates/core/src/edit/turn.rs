//! One kind becomes another, and keeps what can be kept: a relief its height, an edge its size, a datum
//! its place.
//!
//! Each rule gives the value the field gets, as it stands in the file. What was worked out of the
//! element where it is (its heights, the box it is placed by) is what it keeps.

use super::relations::nearest_beside;
use super::{Unapplied, laid_out, placed_at};
use crate::bed::{Lie, best};
use crate::evaluate::{Layout, LettersOfLines, Placed, evaluate};
use crate::json::Node;
use crate::lettering::{CircleSide, Reading, Style};
use crate::piece::{
    Address, Blank, Bridges, CircleCourse, Code, Component, Course, EditError, Element,
    ElementKind, Emblem, FaceName, FieldShape, Fit, Fits, Grip, Height, Kind, LetterSize,
    Lettering, Lying, Outline, Piece, Polygon, PolygonSize, Relief, Stroke, Symbol, limit_of,
};
use crate::plane::Tolerance;
use crate::shapes::{Shape, is_own};
use crate::units::Length;
use crate::workshop::Workshop;
use serde_json::{Value, json};

/// Fields and the values they get.
type Values = Vec<(String, Value)>;

/// The values that turn a field into another kind.
pub(super) fn turned(
    piece: &Piece,
    target: &Address,
    field: &str,
    into: &str,
    workshop: &Workshop<'_>,
) -> Result<Values, Unapplied> {
    let names: Vec<&str> = field.split('.').collect();
    let refuse = || {
        let message = format!("“{field}” of “{target}” cannot become “{into}”.");
        EditError { target: target.clone(), field: field.to_owned(), message }
    };
    let one = |value: Option<Value>| -> Result<Values, Unapplied> {
        Ok(vec![(field.to_owned(), value.ok_or_else(refuse)?)])
    };
    if let ([.., "outline"], true) = (names.as_slice(), is_own(into)) {
        let shape = workshop.shape(into).ok_or_else(refuse)?;
        return Ok(drawn_outline(piece, target, field, &shape).ok_or_else(refuse)?);
    }
    if let (Address::Blank(_), ["legs"]) = (target, names.as_slice()) {
        return Ok(legs_measured(piece, target, into).ok_or_else(refuse)?);
    }
    if let (Address::Blank(_), ["grip"]) = (target, names.as_slice())
        && let Some(values) = grip_beside(piece, target, into, workshop)?
    {
        return Ok(values);
    }
    if let Some(value) = by_name(piece, target, field, &names, into) {
        return one(value);
    }
    if let (Address::Component(_), ["lies"]) = (target, names.as_slice()) {
        return one(lying(piece, target, into, workshop)?);
    }
    let element = piece.element(target).ok_or_else(refuse)?;
    let layout = laid_out(piece, target, workshop)?;
    let component = piece.component_of(target)?;
    let placed = placed_at(&layout, target)?;
    let at = Placing { piece, component, layout: &layout, placed };
    Ok(at.turned(element, field, &names, into, workshop).ok_or_else(refuse)?)
}

/// The value a field gets that is turned by its name alone, wherever it stands; nothing for one that asks
/// for the element it belongs to.
fn by_name(
    piece: &Piece,
    target: &Address,
    field: &str,
    names: &[&str],
    into: &str,
) -> Option<Option<Value>> {
    let before = piece.value(target, field);
    let is_blank = matches!(target, Address::Blank(_));
    Some(match names {
        ["shape", "own", "fit"] if into == "exact" => Some(Value::Null),
        ["joints", _, "fit"] | ["fit"] | ["shape", "own", "fit"] => {
            fit(before, into, &piece.printer.drawn())
        }
        ["grip"] => grip(before, into),
        ["grip_band"] => grip_band(piece, target, into),
        ["stroke", "section"] => {
            plain_or(into, &["flat", "round"], ("tapered", CUSTOMARY_RIDGE_MM))
        }
        ["gives"] => plain_or(into, &["nothing", "size", "line"], ("width", CUSTOMARY_NARROWEST)),
        ["hold"] => hold(piece, target, into),
        ["grows", "width" | "height"] if is_blank => grows(piece, target, names[1], into),
        ["inputs", _, "counts"] => match into {
            "plain" => Some(Value::Null),
            "counts" => Some(json!({ "from": 1, "figures": 3 })),
            _ => None,
        },
        ["motif"] => match into {
            "hexagons" | "dots" | "squares" | "stripes" | "waves" | "scales" => Some(json!(into)),
            shape => Some(json!({ "shape": shape })),
        },
        ["bridges"] => match into {
            "none" => Some(Value::Null),
            "held" => Some(json!(Bridges::default())),
            _ => None,
        },
        ["bridges", "run"] => plain_or(into, &["upright", "across"], ("angle", 45.0)),
        ["bridges", "height"] => there_or_not(into, "full", ("lower", 1.5)),
        ["outline", "contour", "ties"] if is_blank => {
            there_or_not(into, "none", ("tied", CUSTOMARY_TIE_MM))
        }
        ["vent"] if is_blank => there_or_not(into, "closed", ("open", 3.0)),
        ["wall"] if is_blank => there_or_not(into, "solid", ("hollow", 2.0)),
        ["thickness"] if is_blank => there_or_not(into, "solid", ("card", 3.0)),
        ["top" | "bottom" | "ends" | "long" | "fold"]
        | ["upper" | "lower" | "lead_in" | "comfort"]
        | [.., "edge"]
        | [.., "edges", "top" | "bottom"] => edge(before, into, if is_blank { 0.6 } else { 0.3 }),
        [.., "polygon", "regular"] => polygon_size(piece, target, field, into),
        [.., "outline"] => outline(piece, target, field, into),
        [.., "rectangle"] => corners(before, into),
        [.., "rectangle", _] => corner(before, into),
        _ => return None,
    })
}

/// The side a component is to lie on; "best" finds the one it is best printed on.
fn lying(
    piece: &Piece,
    target: &Address,
    into: &str,
    workshop: &Workshop<'_>,
) -> Result<Option<Value>, Unapplied> {
    if into != "best" {
        let found = Lying::ALL.into_iter().find(|lying| lying.word() == into);
        return Ok(found.map(|lying| json!(lying)));
    }
    let component = piece.component_of(target)?;
    let evaluation = evaluate(piece, &workshop.at(Tolerance::Draft))?;
    let made = evaluation.component(&component.id);
    Ok(made
        .and_then(|made| best(&Lie::all(&made.mesh, piece.printer.overhang)))
        .map(|lie| json!(lie.lying)))
}

/// A length that may be missing: by one word it is, by the other it begins with so many mm.
fn there_or_not(into: &str, missing: &str, (there, mm): (&str, f64)) -> Option<Value> {
    match into {
        word if word == missing => Some(Value::Null),
        word if word == there => Some(json!(mm)),
        _ => None,
    }
}

/// One of a few plain words, or a word with the figure it begins with.
fn plain_or(into: &str, plain: &[&str], (word, figure): (&str, f64)) -> Option<Value> {
    match into {
        into if plain.contains(&into) => Some(json!(into)),
        into if into == word => Some(json!({ into: figure })),
        _ => None,
    }
}

/// The lines of a shape begin to have a width of their own as they were drawn.
fn line_width(emblem: &Emblem, into: &str, workshop: &Workshop<'_>) -> Option<Value> {
    let shape = workshop.shape(emblem.own_shape()?)?;
    let drawn = shape.thinnest_line(emblem.setting(), &Stroke::default()).unwrap_or(1.0);
    there_or_not(into, "drawn", ("own", hundredths(drawn).clamp(0.2, 50.0)))
}

/// A typed clearance begins as that of the class before it.
fn fit(before: Option<Value>, into: &str, fits: &Fits) -> Option<Value> {
    let before: Option<Fit> = before.and_then(|fit| Node::from(fit).read().ok());
    match into {
        "clearance" => {
            Some(json!({ "clearance": fits.clearance(before.unwrap_or(Fit::Snug)).max(0.0) }))
        }
        class => Node::Text(class.to_owned()).read::<Fit>().ok().map(|fit| json!(fit)),
    }
}

/// Another grip keeps its pattern.
fn grip(before: Option<Value>, into: &str) -> Option<Value> {
    const CUSTOMARY_FACETS: u32 = 8;
    let before: Option<Grip> = before.and_then(|grip| Node::from(grip).read().ok());
    let pattern = match before {
        Some(Grip::Ribs(pattern) | Grip::Knurl(pattern)) => pattern,
        _ => Grip::CUSTOMARY,
    };
    let grip = match into {
        "plain" => Grip::Plain,
        "facets" => Grip::Facets(CUSTOMARY_FACETS),
        "ribs" => Grip::Ribs(pattern),
        "knurl" => Grip::Knurl(pattern),
        _ => return None,
    };
    Some(json!(grip))
}

/// How high the outside of something with a grip is, in mm, and whether the grip is kept to a band of it.
fn outside(blank: &Blank) -> Option<(f64, bool)> {
    match blank {
        Blank::Cap(cap) => Some((cap.skirt.as_mm() + cap.top.as_mm(), cap.grip_band.is_some())),
        Blank::Plug(plug) => Some((plug.top.as_mm(), plug.grip_band.is_some())),
        _ => None,
    }
}

/// A grip on an outside that something goes round is kept to a band below it, where there is room for one.
fn grip_beside(
    piece: &Piece,
    target: &Address,
    into: &str,
    workshop: &Workshop<'_>,
) -> Result<Option<Values>, Unapplied> {
    /// Between the band and what goes round, and the lowest band.
    const CLEAR_MM: f64 = 1.5;
    const LEAST_MM: f64 = 2.0;
    let component = piece.component_of(target)?;
    let goes_round = |element: &Element| element.face == FaceName::Around;
    let Some((whole, false)) = outside(&component.blank) else { return Ok(None) };
    if into == "plain" || !component.elements.iter().any(goes_round) {
        return Ok(None);
    }
    let layout = laid_out(piece, target, workshop)?;
    let round = layout.elements.iter().filter(|placed| placed.face == FaceName::Around);
    let ink = round.filter_map(|placed| placed.region.bounds()).reduce(|all, one| all.hull(&one));
    let left = whole - ink.map_or(0.0, |ink| ink.height()) - 2.0 * CLEAR_MM;
    let Some(value) = grip(piece.value(target, "grip"), into).filter(|_| left >= LEAST_MM) else {
        return Ok(None);
    };
    let band = json!({ "up": 0.0, "height": tenths_below(left) });
    Ok(Some(vec![("grip".to_owned(), value), ("grip_band".to_owned(), band)]))
}

/// A band over the lower half of an outside.
fn grip_band(piece: &Piece, target: &Address, into: &str) -> Option<Value> {
    let (whole, _) = outside(&piece.component(target.component()?)?.blank)?;
    match into {
        "all" => Some(Value::Null),
        "band" => Some(json!({ "up": 0.0, "height": tenths(whole / 2.0).max(0.5) })),
        _ => None,
    }
}

/// A bead a third of the way up the skirt, and a step half as wide as the wall: sizes that go with the
/// cap there is.
fn hold(piece: &Piece, target: &Address, into: &str) -> Option<Value> {
    let Blank::Cap(cap) = &piece.component(target.component()?)?.blank else { return None };
    let [wall, skirt] = [cap.wall, cap.skirt].map(|length| length.as_mm());
    match into {
        "nothing" => Some(json!("nothing")),
        "bead" => {
            let proud = tenths(wall / 6.0).clamp(0.2, 0.5);
            let up = tenths(skirt / 3.0).max(proud);
            Some(json!({ "bead": { "proud": proud, "up": up } }))
        }
        "stop" => Some(json!({ "stop": {
            "width": tenths(wall / 2.0).max(0.4),
            "height": tenths(skirt / 8.0).clamp(0.4, 2.0),
        } })),
        _ => None,
    }
}

/// A size begins to grow up to half as much again, in no steps.
fn grows(piece: &Piece, target: &Address, side: &str, into: &str) -> Option<Value> {
    let least = piece.value(target, side)?.as_f64()?;
    match into {
        "fixed" => Some(Value::Null),
        "grows" => {
            let limit = limit_of("plate", "grows.width.most")?;
            let most = (least * 1.5).ceil().clamp(limit.low, limit.high).max(least);
            Some(json!({ "most": most, "step": 0.0 }))
        }
        _ => None,
    }
}

/// A code of another kind says the same.
fn symbol(code: &Code, into: &str) -> Option<Value> {
    match (into, code.symbol) {
        ("qr", Symbol::Qr(level)) => Some(json!({ "qr": level })),
        ("qr", Symbol::Bars(_)) => Some(json!({ "qr": "m" })),
        ("bars", Symbol::Bars(height)) => Some(json!({ "bars": height })),
        // As high as they have to be for a hand scanner (common practice, no source).
        ("bars", Symbol::Qr(_)) => {
            Some(json!({ "bars": tenths(code.module.as_mm() * 15.0).clamp(1.0, 200.0) }))
        }
        _ => None,
    }
}

/// Downwards, so that what has to fit does.
fn tenths_below(mm: f64) -> f64 {
    (mm * 10.0).floor() / 10.0
}

fn tenths(mm: f64) -> f64 {
    (mm * 10.0).round() / 10.0
}

fn hundredths(share: f64) -> f64 {
    (share * 100.0).round() / 100.0
}

/// The figure in an object of one key.
fn figure_of(value: &Value) -> Option<f64> {
    value.as_object()?.values().next()?.as_f64()
}

/// Another treatment of an edge keeps its size.
fn edge(before: Option<Value>, into: &str, usual: f64) -> Option<Value> {
    let size = before.as_ref().and_then(figure_of).unwrap_or(usual);
    match into {
        "square" => Some(json!("square")),
        "chamfer" | "round" => Some(json!({ into: size })),
        _ => None,
    }
}

/// How wide the top of a tapered stroke begins: a line of a nozzle of 0.4 mm (common practice, no source).
const CUSTOMARY_RIDGE_MM: f64 = 0.4;

/// How narrow letters begin to be allowed to be: further they are no longer the same typeface (common practice, no
/// source).
const CUSTOMARY_NARROWEST: f64 = 0.75;

/// How wide ties between the parts of a contour begin: they are what the piece is held by (common practice, no source).
const CUSTOMARY_TIE_MM: f64 = 2.0;

/// The size corners get that had none.
const USUAL_CORNER_MM: f64 = 3.0;

fn corner(before: Option<Value>, into: &str) -> Option<Value> {
    let size = before.as_ref().and_then(figure_of).unwrap_or(USUAL_CORNER_MM);
    match into {
        "square" => Some(json!("square")),
        "round" | "chamfer" | "scoop" => Some(json!({ into: size })),
        _ => None,
    }
}

/// All four corners alike, as large as the largest was.
fn corners(before: Option<Value>, into: &str) -> Option<Value> {
    const ROUNDING: &str = "rounding";
    let before = before?;
    let mut corners = before.as_object()?.clone();
    let rounding = corners.remove(ROUNDING);
    let largest = corners.values().filter_map(figure_of).fold(0.0, f64::max);
    let size = if largest > 0.0 { largest } else { USUAL_CORNER_MM };
    let each = corner(Some(json!({ "round": size })), into)?;
    let all = corners.keys().map(|name| (name.clone(), each.clone()));
    // What is only rounded has no corners left.
    let rounding = rounding.filter(|_| !matches!(into, "round" | "square"));
    Some(Value::Object(all.chain(rounding.map(|mm| (ROUNDING.to_owned(), mm))).collect()))
}

/// Another outline takes over what it can: the size of a corner becomes its rounding.
fn outline(piece: &Piece, target: &Address, field: &str, into: &str) -> Option<Value> {
    let (before, width, height, grows) = match target {
        Address::Blank(id) => {
            let plate = piece.component(id)?.plate()?;
            (&plate.outline, plate.width, plate.height, plate.grows.any())
        }
        _ => match &piece.element(target)?.kind {
            Kind::Recess(recess) => match &recess.shape {
                FieldShape::Own(own) => (&own.outline, own.width, own.height, false),
                FieldShape::Inset(_) => return None,
            },
            _ => return None,
        },
    };
    let is_plain = ["ellipse", "stadium", "heart", "shield", "arch"].contains(&into);
    if is_plain {
        return Some(json!(into));
    }
    let half = width.as_mm().min(height.as_mm()) / 2.0;
    let rounding = match before {
        Outline::Rectangle(corners) => corners.top_left.size(),
        Outline::Polygon(polygon) => polygon.rounding.as_mm(),
        Outline::Star(star) => star.rounding.as_mm(),
        Outline::Tag(tag) => tag.rounding.as_mm(),
        Outline::Ellipse
        | Outline::Stadium
        | Outline::Heart
        | Outline::Shield
        | Outline::Arch
        | Outline::Scallop(_)
        | Outline::Ring(_)
        | Outline::Drawn(_)
        | Outline::Contour(_) => USUAL_CORNER_MM,
    };
    let size = rounding.min(half);
    let round = json!({ "round": if size > 0.0 { size } else { half.min(USUAL_CORNER_MM) } });
    match into {
        "rectangle" => Some(json!({ "rectangle": {
            "top_left": round, "top_right": round, "bottom_right": round, "bottom_left": round,
        } })),
        // A hexagon that has room in what there was; what grows is stretched as it does.
        "polygon" => {
            let flats = tenths(2.0 * half * (std::f64::consts::PI / 6.0).cos()).max(1.0);
            let regular = if grows { Value::Null } else { json!({ "flats": flats }) };
            Some(json!({ "polygon": {
                "sides": 6, "turn": 0.0, "rounding": tenths(size.min(half / 2.0)), "regular": regular,
            } }))
        }
        "star" => Some(json!({ "star": {
            "points": 5, "inner": 0.5, "turn": 0.0, "rounding": size.min(1.0),
        } })),
        "tag" => Some(json!({ "tag": { "point": tenths(half * 0.8), "rounding": size } })),
        "scallop" => {
            Some(json!({ "scallop": { "waves": 12, "depth": tenths(half / 4.0).min(1.5) } }))
        }
        "ring" => Some(json!({ "ring": { "inside": tenths(half).max(0.2) } })),
        "contour" if field == "outline" => Some(
            json!({ "contour": { "offset": 2.0, "crevices": 1.5, "gaps": 5.0, "ties": null, "by_hand": [] } }),
        ),
        _ => None,
    }
}

/// The legs of a bent bar measured from elsewhere, as long as they are.
fn legs_measured(piece: &Piece, target: &Address, into: &str) -> Option<Values> {
    let Blank::BentBar(bar) = &piece.component_of(target).ok()?.blank else { return None };
    let bar = bar.measured(serde_json::from_value(json!(into)).ok()?);
    let figures =
        [("legs", json!(bar.legs)), ("base", json!(bar.base)), ("upright", json!(bar.upright))];
    Some(figures.map(|(field, value)| (field.to_owned(), value)).into())
}

/// A regular polygon given by another figure, as large as it is; or stretched to the overall size, and back.
fn polygon_size(piece: &Piece, target: &Address, field: &str, into: &str) -> Option<Value> {
    let whole = field.strip_suffix(".regular")?;
    let polygon: Polygon = serde_json::from_value(piece.value(target, whole)?).ok()?;
    if into == "stretched" {
        return Some(Value::Null);
    }
    let half = || {
        let of = field.strip_suffix("outline.polygon.regular").unwrap_or_default();
        let side = |name: &str| piece.value(target, &format!("{of}{name}"))?.as_f64();
        Some(side("width")?.min(side("height")?) / 2.0)
    };
    let radius = match polygon.regular {
        Some(size) => size.circumradius(polygon.sides),
        None => half()?,
    };
    Some(json!(PolygonSize::of_radius(into, radius, polygon.sides)?))
}

/// A shape of one's own as an outline, its width kept and its height in proportion.
fn drawn_outline(piece: &Piece, target: &Address, field: &str, shape: &Shape) -> Option<Values> {
    let (of, limit) = match target {
        Address::Blank(_) => ("", limit_of("plate", "height")?),
        _ => ("shape.own.", limit_of("recess", "shape.own.height")?),
    };
    let width = piece.value(target, &format!("{of}width"))?.as_f64()?;
    let (across, up) = shape.size();
    let height = hundredths(width * up / across).clamp(limit.low, limit.high);
    let outline = json!({ "drawn": { "shape": shape.id } });
    Some(vec![(field.to_owned(), outline), (format!("{of}height"), json!(height))])
}

/// An element where it is.
struct Placing<'a> {
    piece: &'a Piece,
    component: &'a Component,
    layout: &'a Layout,
    placed: Placed,
}

impl Placing<'_> {
    /// The values that turn one of its fields into another kind, by what it is.
    fn turned(
        &self,
        element: &Element,
        field: &str,
        names: &[&str],
        into: &str,
        workshop: &Workshop<'_>,
    ) -> Option<Values> {
        let one = |value: Option<Value>| Some(vec![(field.to_owned(), value?)]);
        match (names, &element.kind) {
            (["relief"], kind) => one(self.relief(kind, into)),
            (["relief", "raised"], kind) => one(self.height(kind, into)),
            (["relief", "recessed"], _) | (["depth"], Kind::Recess(_)) => one(self.depth(into)),
            (["depth"], Kind::Hole(_)) => one(self.hole_depth(into)),
            (["repeat"], _) => one(self.repeat(into)),
            (["place" | "at", .., axis @ ("across" | "up"), "from"], _) => {
                let place = field.trim_end_matches(".from").to_owned();
                Some(vec![(place, self.datum(axis, into)?)])
            }
            (["place", "by"], _) => one(self.beside(element, into)),
            (["symbol"], Kind::Code(code)) => one(symbol(code, into)),
            (["round"], Kind::Halo(_)) => one(self.goes_round(into)),
            (["fills"], Kind::Pattern(_)) => one(self.fills(into)),
            (["stroke", "width"], Kind::Emblem(emblem)) => one(line_width(emblem, into, workshop)),
            (["size"], Kind::Lettering(_)) => one(self.letter_size(into)),
            (["course"], Kind::Lettering(lettering)) => self.course(lettering, into, workshop),
            (["course", "circle" | "outline", "spread"], Kind::Lettering(_)) => {
                one(self.spread(into))
            }
            (["course", "outline", "of"], Kind::Lettering(_)) => one(self.fills(into)),
            (["shape"], Kind::Recess(_)) => one(self.field_shape(into)),
            (["shape"], Kind::Hole(hole)) => {
                let length = tenths(hole.diameter.as_mm() * 2.0);
                one(Some(if into == "slot" { json!({ "slot": length }) } else { json!(into) }))
            }
            (["ribbon"], Kind::Loop(ring)) => one(match into {
                "round" => Some(Value::Null),
                "ribbon" => Some(json!(tenths(ring.inside.as_mm() * 2.5))),
                _ => None,
            }),
            (["at"], Kind::Loop(_)) => one(self.loop_place(into)),
            (["own"], Kind::Loop(_)) => one(self.own_thickness(into)),
            _ => None,
        }
    }

    /// How tall or deep it is, in mm.
    fn height_now(&self) -> f64 {
        self.placed.top - self.placed.bottom
    }

    fn thickness(&self) -> f64 {
        let face = self.layout.face(self.placed.face);
        face.map_or(self.layout.blank.thickness, |face| face.thickness)
    }

    /// How much material there is where it starts, seen from its own face.
    fn ground(&self) -> f64 {
        self.placed.ground
    }

    /// A relief of another kind keeps its height as far as it can.
    fn relief(&self, kind: &Kind, into: &str) -> Option<Value> {
        let or = |mm: f64, otherwise: f64| if mm > 0.0 { mm } else { otherwise };
        let now = tenths(or(self.height_now(), 1.0)).max(0.1);
        let half = or(tenths(self.ground() / 2.0), tenths(self.thickness() / 2.0));
        let deepest = half.max(0.1);
        let is_raised = matches!(kind_relief(kind)?, Relief::Raised(_));
        match into {
            "raised" => Some(json!({ "raised": { "by": if is_raised { now } else { 1.0 } } })),
            "recessed" => Some(json!({ "recessed": { "by": now.min(deepest) } })),
            "flush" => Some(json!({ "flush": deepest.min(0.6) })),
            "through" => Some(json!("through")),
            _ => None,
        }
    }

    /// The same height, given another way.
    fn height(&self, kind: &Kind, into: &str) -> Option<Value> {
        let Relief::Raised(now) = kind_relief(kind)? else { return None };
        let stands_on_bed = matches!(now, Height::FromFoot(_));
        let thickness = self.thickness();
        let height = if stands_on_bed { self.placed.top - thickness } else { self.height_now() };
        let height = if height > 0.0 { height } else { 1.0 };
        match into {
            "by" => Some(json!({ "by": tenths(height).max(0.05) })),
            "from-foot" => Some(json!({ "from-foot": tenths(self.placed.top).max(0.05) })),
            "fraction" => {
                Some(json!({ "fraction": hundredths(height / thickness).clamp(0.05, 5.0) }))
            }
            "level-with-rim" | "level-with-face" => Some(json!(into)),
            _ => None,
        }
    }

    /// The same depth, given another way.
    fn depth(&self, into: &str) -> Option<Value> {
        let (depth, ground) = (self.height_now(), self.ground());
        match into {
            "by" => Some(json!({ "by": tenths(depth).max(0.05) })),
            "floor" => Some(json!({ "floor": tenths(ground - depth).max(0.05) })),
            "fraction" => Some(json!({ "fraction": hundredths(depth / ground).clamp(0.05, 0.95) })),
            _ => None,
        }
    }

    fn hole_depth(&self, into: &str) -> Option<Value> {
        match into {
            "through" => Some(Value::Null),
            "blind" => Some(json!(tenths(self.thickness() / 2.0).max(0.1))),
            _ => None,
        }
    }

    /// Beside another element, on the side it lies on now; by the word "face" on its own again, where it is.
    fn beside(&self, element: &Element, into: &str) -> Option<Value> {
        if into == "face" {
            return Some(Value::Null);
        }
        let other = self.component.others_for(element).into_iter().find(|one| one.id == into)?;
        let seen = |placed: &Placed| self.layout.from_face(placed, placed.frame);
        let other = self.layout.element(&other.id)?;
        Some(json!(nearest_beside(into, seen(&self.placed), seen(other))))
    }

    /// Round everything, or round what is there now.
    fn goes_round(&self, into: &str) -> Option<Value> {
        let figures = self
            .component
            .elements
            .iter()
            .filter(|element| element.is_figure() && element.face == self.placed.face);
        match into {
            "all" => Some(json!("all")),
            "these" => {
                let ids: Vec<&str> = figures.map(|element| element.id.as_str()).collect();
                Some(json!({ "these": ids }))
            }
            _ => None,
        }
    }

    /// The face, or a recess or halo by its id.
    fn fills(&self, into: &str) -> Option<Value> {
        match into {
            "face" => Some(json!("face")),
            id => self.component.element(id).map(|_| json!({ "element": id })),
        }
    }

    /// A row leaves room between its copies.
    fn repeat(&self, into: &str) -> Option<Value> {
        let step = (self.placed.frame.width() * 1.2 + 1.0).ceil();
        match into {
            "row" => Some(json!({ "row": { "count": 3, "across": step, "up": 0.0 } })),
            "around" => Some(json!({ "around": 6 })),
            "once" | "mirrored-across" | "mirrored-up" => Some(json!(into)),
            _ => None,
        }
    }

    /// Another datum: from an edge the same place; what is chosen to hang from a centre is put there,
    /// but a loop stays at its point.
    fn datum(&self, axis: &str, from: &str) -> Option<Value> {
        let is_loop = self.placed.kind == ElementKind::Loop;
        let [across, up] = self.layout.measured(&self.placed);
        let along = if axis == "across" { across } else { up };
        let found =
            along.into_iter().find(|one| one.from == from && !(is_loop && from == "clear"))?;
        let is_centre = matches!(from, "centre" | "clear");
        let distance = if is_centre && !is_loop { 0.0 } else { found.distance };
        let distance = (distance * 1000.0).round() / 1000.0 + 0.0;
        Some(json!({ "from": from, "distance": distance }))
    }

    /// The same size, given another way.
    fn letter_size(&self, into: &str) -> Option<Value> {
        let tall = tenths(self.placed.drawn.letter_height).max(0.5);
        let frame = self.placed.frame;
        match into {
            "height" => Some(json!({ "height": tall })),
            "box" => Some(json!({ "box": {
                "width": tenths(frame.width()).max(1.0),
                "height": tenths(frame.height()).max(0.5),
            } })),
            "clear-area" => Some(json!(into)),
            _ => None,
        }
    }

    /// Onto a circle that has room for it, over or under; a circle that is there is kept.
    fn course(&self, lettering: &Lettering, into: &str, workshop: &Workshop<'_>) -> Option<Values> {
        let middle = match into {
            "straight" | "below" => return Some(vec![("course".to_owned(), json!(into))]),
            "round" => {
                return Some(vec![("course".to_owned(), json!({ "round": { "spread": 360.0 } }))]);
            }
            "outline" => {
                return Some(vec![(
                    "course".to_owned(),
                    json!({ "outline": {
                    "of": "face", "distance": self.component.margin.as_mm().min(250.0),
                    "reading": "clockwise", "middle": 90.0, "spread": null,
                } }),
                )]);
            }
            "clockwise" => 90.0,
            "upright" => -90.0,
            _ => return None,
        };
        let mut values = Vec::new();
        let (radius, side, spread) = match &lettering.course {
            Course::Circle(circle) => (circle.radius.as_mm(), circle.side, circle.spread),
            Course::Straight | Course::Below | Course::Round(_) | Course::Outline(_) => {
                // What was asked for: along a circle nothing gives way.
                let asked = match lettering.size {
                    LetterSize::Height(asked) => Some(asked.as_mm()),
                    LetterSize::Box(_) | LetterSize::ClearArea => None,
                };
                let (radius, height, spacing) =
                    self.circle_with_room(lettering, into, asked, workshop);
                if let Some(spacing) = spacing {
                    values.push(("style.spacing".to_owned(), json!(spacing)));
                }
                if asked.is_none_or(|asked| height < asked) {
                    values.push(("size".to_owned(), json!({ "height": height })));
                }
                let centre = json!({ "from": "centre", "distance": 0.0 });
                values.push(("place.across".to_owned(), centre.clone()));
                values.push(("place.up".to_owned(), centre));
                (radius, Default::default(), None)
            }
        };
        let circle = json!({
            "radius": radius, "reading": into, "side": side, "middle": middle, "spread": spread,
        });
        values.push(("course".to_owned(), json!({ "circle": circle })));
        Some(values)
    }

    /// The radius of a circle just inside the rim or the edge on which words that are straight now can
    /// stand, and how tall their letters can be to have room on the way round that is free; in mm.
    ///
    /// Words of the advance a·h (h their height) take a·h / r on a circle of the radius r = R − h under
    /// the edge R, so that h = w R / (a + w) is the tallest for a way w in radians.
    ///
    /// Also the spacing that keeps letters apart there which would run into each other at their heads or feet.
    fn circle_with_room(
        &self,
        lettering: &Lettering,
        reading: &str,
        asked: Option<f64>,
        workshop: &Workshop<'_>,
    ) -> (f64, f64, Option<f64>) {
        /// Left free between words, in degrees.
        const GAP: f64 = 12.0;
        /// What words that are alone take at most, in degrees, so that others find room.
        const ALONE: f64 = 216.0;
        /// What words under others take at most, in degrees: their half.
        const HALF: f64 = 180.0 - 2.0 * GAP;
        /// Spent on the room beside the first and the last letter, which their box does not count.
        const SLACK: f64 = 0.97;
        let edge = self.free_radius() - self.component.margin.as_mm();
        let taken: Vec<f64> = self.on_circles().map(|placed| placed.drawn.span + GAP).collect();
        let left = match taken.as_slice() {
            [] => ALONE,
            taken => 360.0 - GAP - taken.iter().sum::<f64>(),
        };
        let way = if reading == "upright" { left.min(HALF) } else { left };
        let way = way.max(2.0 * GAP).to_radians();
        let drawn = self.placed.drawn.letter_height;
        let advance = self.placed.frame.width() / drawn.max(1e-6);
        // What gave way as a straight line need not along a circle.
        let tall = asked.unwrap_or(drawn);
        let on_circle = |more: f64| {
            let fitting = SLACK * way * edge / (advance + more + way);
            let height = tenths_below(tall.min(fitting).min(edge / 2.0)).max(0.5);
            (tenths(edge - height).max(0.5), height)
        };
        let (radius, height) = on_circle(0.0);
        let reading = if reading == "upright" { Reading::Upright } else { Reading::Clockwise };
        let laid = |radius: f64, style: Style| {
            let (side, middle) = (CircleSide::default(), 0.0);
            let radius = Length::mm(radius);
            let circle = CircleCourse { radius, reading, side, middle, spread: None };
            Lettering { course: Course::Circle(circle), style, ..lettering.clone() }
        };
        let apart = |(radius, height): (f64, f64), style: Style| {
            let laid = laid(radius, style);
            let letters = LettersOfLines::of(self.piece, &laid, height, None, None, workshop)?;
            (letters.meeting() > 0).then(|| letters.apart(self.piece.printer.gap.as_mm())).flatten()
        };
        // Letters set further apart take more of the way, and are smaller for it.
        let Some(spacing) = apart((radius, height), lettering.style) else {
            return (radius, height, None);
        };
        let letters = lettering.lines.iter().map(|line| line.words.chars().count()).max();
        let gaps = letters.unwrap_or(1).saturating_sub(1) as f64;
        let (radius, height) = on_circle((spacing - lettering.style.spacing) * gaps);
        let style = Style { spacing, ..lettering.style };
        (radius, height, Some(apart((radius, height), style).unwrap_or(spacing)))
    }

    /// From the middle of the face to the rim that is on it, or to its edge, in mm.
    fn free_radius(&self) -> f64 {
        let blank = &self.layout.blank;
        let (guide, outline) = match self.layout.face(self.placed.face) {
            Some(face) if !face.in_sections => (face.guide, &face.outline),
            _ => (blank.guide, &blank.base),
        };
        let middle = guide.centre();
        let edge = outline.depth_of(middle);
        let half = guide.width().min(guide.height()) / 2.0;
        let edge = if edge > 0.0 { edge } else { half };
        let rims =
            self.layout.elements.iter().filter(|placed| {
                placed.kind == ElementKind::Rim && placed.face == self.placed.face
            });
        rims.map(|rim| rim.region.distance_to_outline(middle)).fold(edge, f64::min)
    }

    /// Other words along circles on the same face.
    fn on_circles(&self) -> impl Iterator<Item = &Placed> {
        self.component.elements.iter().zip(&self.layout.elements).filter_map(|(element, placed)| {
            let Kind::Lettering(lettering) = &element.kind else { return None };
            let is_other = placed.id != self.placed.id && placed.face == self.placed.face;
            (is_other && matches!(lettering.course, Course::Circle(_))).then_some(placed)
        })
    }

    fn spread(&self, into: &str) -> Option<Value> {
        match into {
            "natural" => Some(Value::Null),
            "spread" => Some(json!(self.placed.drawn.span.round().clamp(5.0, 360.0))),
            _ => None,
        }
    }

    /// A shape of its own begins as a rectangle within the one that follows the outline.
    fn field_shape(&self, into: &str) -> Option<Value> {
        let tidy = |mm: f64| tenths(mm * 0.7).max(1.0);
        let frame = self.placed.frame;
        let (width, height) = (tidy(frame.width()), tidy(frame.height()));
        let round = json!({ "round": tenths(width.min(height) / 4.0).min(2.0) });
        match into {
            "inset" => Some(json!({ "inset": 2.0 })),
            "own" => Some(json!({ "own": {
                "width": width, "height": height, "turn": 0.0,
                "outline": { "rectangle": {
                    "top_left": round, "top_right": round,
                    "bottom_right": round, "bottom_left": round,
                } },
            } })),
            _ => None,
        }
    }

    fn loop_place(&self, into: &str) -> Option<Value> {
        let (x, y) = self.placed.frame.centre();
        let at = |mm: f64| json!({ "from": "centre", "distance": tenths(mm) });
        match into {
            "angle" => Some(json!({ "angle": tenths(y.atan2(x).to_degrees()) })),
            "point" => Some(json!({ "point": { "across": at(x), "up": at(y) } })),
            _ => None,
        }
    }

    fn own_thickness(&self, into: &str) -> Option<Value> {
        let edges = match &self.component.blank {
            Blank::Plate(plate) => plate.edges,
            _ => Default::default(),
        };
        match into {
            "plate" => Some(Value::Null),
            "own" => Some(json!({ "thickness": self.thickness(), "edges": edges })),
            _ => None,
        }
    }
}

fn kind_relief(kind: &Kind) -> Option<Relief> {
    kind.fields().relief()
}
