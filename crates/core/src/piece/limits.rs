//! What figures can be: one table that the checks, the fields of the page and the documentation read.
//!
//! A limit belongs to something ("plate", "hole") or to whatever has a field of its name ("*"); `*` in
//! a field stands for one name, such as that of a corner.

use serde::Serialize;

/// What kind of figure it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Measure {
    /// A length in mm.
    Length,
    /// An angle in degrees.
    Angle,
    /// A plain number.
    Number,
    /// A whole number.
    Count,
}

/// The least and the most a figure can be.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Limit {
    /// Whose field: "piece", a kind of blank or element, or "*".
    pub of: &'static str,
    /// The field, or the end of its name.
    pub field: &'static str,
    /// What it is, as the beginning of a sentence.
    pub what: &'static str,
    /// What kind of figure it is.
    pub measure: Measure,
    /// The least it can be.
    pub low: f64,
    /// The most it can be.
    pub high: f64,
}

macro_rules! limits {
    ($($name:ident = $of:literal $field:literal $measure:ident $low:literal ..= $high:literal, $what:literal;)*) => {
        $(pub(crate) const $name: Limit = Limit {
            of: $of,
            field: $field,
            what: $what,
            measure: Measure::$measure,
            low: $low,
            high: $high,
        };)*

        /// All limits there are.
        pub const LIMITS: &[Limit] = &[$($name),*];
    };
}

limits! {
    LAYER = "piece" "layers.height" Length 0.02..=2.0, "A layer";
    FIRST_LAYER = "piece" "layers.first" Length 0.02..=2.0, "The first layer";
    LAYER_START = "piece" "layers.start" Count 0.0..=2.0, "The layers a colour starts above its face";
    MARGIN = "component" "margin" Length 0.0..=100.0, "The margin";
    PLATE_WIDTH = "plate" "width" Length 1.0..=500.0, "The plate’s width";
    PLATE_HEIGHT = "plate" "height" Length 1.0..=500.0, "The plate’s height";
    PLATE_THICKNESS = "plate" "thickness" Length 0.2..=100.0, "The plate’s thickness";
    GROWS_MOST = "plate" "grows.*.most" Length 1.0..=500.0, "The most";
    GROWS_STEP = "plate" "grows.*.step" Length 0.0..=100.0, "A step";
    BLOCK_WIDTH = "block" "width" Length 1.0..=500.0, "The block’s width";
    BLOCK_DEPTH = "block" "depth" Length 1.0..=500.0, "The block’s depth";
    BLOCK_HEIGHT = "block" "height" Length 1.0..=500.0, "The block’s height";
    BLOCK_LEAN = "block" "lean" Angle 0.0..=60.0, "The lean of the front";
    BAR_LENGTH = "bent-bar" "length" Length 1.0..=500.0, "The bar’s length";
    BAR_THICKNESS = "bent-bar" "thickness" Length 0.4..=100.0, "The bar’s thickness";
    BAR_BASE = "bent-bar" "base" Length 1.0..=500.0, "The base";
    BAR_UPRIGHT = "bent-bar" "upright" Length 1.0..=500.0, "The upright";
    BAR_ANGLE = "bent-bar" "angle" Angle 30.0..=150.0, "The angle between base and upright";
    BAR_INSIDE = "bent-bar" "inside" Length 0.0..=100.0, "The radius inside the bend";
    BAR_OUTSIDE = "bent-bar" "outside" Length 0.0..=100.0, "The radius outside the bend";
    TENT_LENGTH = "tent" "length" Length 1.0..=500.0, "The tent’s length";
    TENT_FRONT = "tent" "front" Length 1.0..=500.0, "The leg at the front";
    TENT_BACK = "tent" "back" Length 1.0..=500.0, "The leg at the back";
    TENT_ANGLE = "tent" "angle" Angle 10.0..=150.0, "The angle between the legs";
    TENT_THICKNESS = "tent" "thickness" Length 0.4..=100.0, "The card’s thickness";
    CAP_OVER = "cap" "over" Length 2.0..=250.0, "The pipe";
    CAP_WALL = "cap" "wall" Length 0.4..=30.0, "The wall";
    CAP_SKIRT = "cap" "skirt" Length 1.0..=200.0, "The skirt";
    CAP_TOP = "cap" "top" Length 0.4..=50.0, "The top’s thickness";
    LEAD_IN = "cap" "lead_in" Length 0.0..=10.0, "The lead-in";
    BEAD_PROUD = "cap" "hold.bead.proud" Length 0.05..=5.0, "The bead";
    BEAD_UP = "cap" "hold.bead.up" Length 0.0..=200.0, "The bead’s place";
    STOP_WIDTH = "cap" "hold.stop.width" Length 0.2..=50.0, "The step’s width";
    STOP_HEIGHT = "cap" "hold.stop.height" Length 0.2..=100.0, "The step’s height";
    VENT = "cap" "vent" Length 0.5..=200.0, "The vent";
    PLUG_INTO = "plug" "into" Length 2.0..=250.0, "The bore";
    PLUG_SHANK = "plug" "shank" Length 1.0..=200.0, "The shank";
    PLUG_TAPER = "plug" "taper" Angle 0.0..=20.0, "The taper";
    PLUG_WALL = "plug" "wall" Length 0.4..=100.0, "The shank’s wall";
    PLUG_COLLAR = "plug" "collar" Length 0.0..=100.0, "The collar";
    PLUG_TOP = "plug" "top" Length 0.4..=50.0, "The collar’s thickness";
    RING_OVER = "ring" "over" Length 2.0..=250.0, "The finger or pipe";
    RING_WALL = "ring" "wall" Length 0.4..=100.0, "The ring’s thickness";
    RING_HEIGHT = "ring" "height" Length 1.0..=200.0, "The ring’s width";
    BOX_INSIDE_WIDTH = "box" "width" Length 2.0..=480.0, "The width inside";
    BOX_INSIDE_DEPTH = "box" "depth" Length 2.0..=480.0, "The depth inside";
    BOX_INSIDE_HEIGHT = "box" "height" Length 2.0..=480.0, "The height inside";
    BOX_WALL = "box" "wall" Length 0.4..=50.0, "The wall";
    BOX_FLOOR = "box" "floor" Length 0.4..=50.0, "The floor";
    BOX_CORNER = "box" "corner" Length 0.0..=240.0, "A corner";
    FACETS = "*" "grip.facets" Count 3.0..=24.0, "The flat sides";
    GRIP_COUNT = "*" "grip.*.count" Count 6.0..=120.0, "The pattern’s count";
    GRIP_DEPTH = "*" "grip.*.depth" Length 0.2..=5.0, "The pattern’s depth";
    BAND_UP = "*" "grip_band.up" Length 0.0..=250.0, "The band’s foot";
    BAND_HEIGHT = "*" "grip_band.height" Length 0.5..=250.0, "The band’s height";
    COUNT_FROM = "piece" "inputs.*.counts.from" Count 0.0..=999999.0, "The first number";
    COUNT_FIGURES = "piece" "inputs.*.counts.figures" Count 1.0..=9.0, "The figures of a number";
    NOZZLE = "piece" "printer.nozzle" Length 0.05..=2.0, "The nozzle";
    LINE = "piece" "printer.line" Length 0.05..=3.0, "A line";
    BED = "piece" "printer.bed.*" Length 20.0..=2000.0, "A side of the bed";
    PRINTER_LAYER = "piece" "printer.layer" Length 0.02..=2.0, "A layer";
    PRINTER_FIRST_LAYER = "piece" "printer.first_layer" Length 0.02..=2.0, "The first layer";
    GROWTH = "piece" "printer.growth" Length -1.0..=1.0, "The growth";
    PRINTER_GAP = "piece" "printer.gap" Length 0.05..=3.0, "The narrowest gap";
    PRINTER_OVERHANG = "piece" "printer.overhang" Angle 0.0..=89.0, "The steepest overhang";
    PRINTER_SPAN = "piece" "printer.span" Length 0.0..=200.0, "The longest span";
    PRINTER_FILAMENTS = "piece" "printer.filaments" Count 1.0..=16.0, "The filaments in one layer";
    SPREAD = "piece" "printer.spread" Length 0.0..=1.0, "The first layer’s spread";
    FIT = "piece" "printer.fits.*" Length -1.0..=10.0, "A fit";
    MESH_SCALE = "mesh" "scale" Number 1e-6..=10_000.0, "The scale";
    SLOT_DEPTH = "piece" "joints.*.slot.depth" Length 0.5..=200.0, "The slot’s depth";
    SLOT_LEAN = "piece" "joints.*.slot.lean" Angle -45.0..=45.0, "The slot’s lean";
    SOCKET_TURN = "piece" "joints.*.socket.turn" Angle -360.0..=360.0, "The turn of the socket";
    SOCKET_DEPTH = "piece" "joints.*.socket.depth" Length 0.2..=200.0, "The socket’s depth";
    CLEARANCE = "*" "fit.clearance" Length 0.0..=10.0, "The clearance";
    CORNER = "*" "rectangle.*.*" Length 0.0..=250.0, "A corner";
    CORNERS_ROUNDING = "*" "rectangle.rounding" Length 0.0..=250.0, "The rounding";
    POLYGON_SIDES = "*" "polygon.sides" Count 3.0..=12.0, "A polygon’s corners";
    POLYGON_ROUNDING = "*" "polygon.rounding" Length 0.0..=250.0, "The rounding";
    POLYGON_FLATS = "*" "polygon.regular.flats" Length 1.0..=500.0, "A polygon across its flats";
    POLYGON_ACROSS = "*" "polygon.regular.corners" Length 1.0..=500.0, "A polygon across its corners";
    POLYGON_SIDE = "*" "polygon.regular.side" Length 0.2..=500.0, "A polygon’s side";
    STAR_POINTS = "*" "star.points" Count 3.0..=24.0, "A star’s tips";
    STAR_INNER = "*" "star.inner" Number 0.1..=0.95, "The inner radius";
    STAR_ROUNDING = "*" "star.rounding" Length 0.0..=250.0, "The rounding";
    TAG_POINT = "*" "tag.point" Length 0.0..=250.0, "The point";
    TAG_ROUNDING = "*" "tag.rounding" Length 0.0..=250.0, "The rounding";
    SCALLOP_WAVES = "*" "scallop.waves" Count 3.0..=48.0, "The waves";
    SCALLOP_DEPTH = "*" "scallop.depth" Length 0.0..=50.0, "The depth of the waves";
    RING_INSIDE = "*" "ring.inside" Length 0.2..=480.0, "The opening";
    CONTOUR_OFFSET = "*" "contour.offset" Length 0.2..=50.0, "The contour";
    CONTOUR_CREVICES = "*" "contour.crevices" Length 0.0..=50.0, "The crevices";
    CONTOUR_GAPS = "*" "contour.gaps" Length 0.0..=200.0, "The gaps";
    CONTOUR_TIES = "*" "contour.ties" Length 0.2..=20.0, "The width of the ties";
    CHAMFER = "*" "chamfer" Length 0.05..=50.0, "The chamfer";
    ROUND = "*" "round" Length 0.05..=50.0, "The round";
    TURN = "*" "turn" Angle -360.0..=360.0, "A turn";
    DISTANCE = "*" "distance" Length -500.0..=500.0, "A distance";
    BESIDE_GAP = "*" "place.by.gap" Length -500.0..=500.0, "A distance";
    BESIDE_SHIFT = "*" "place.by.shift" Length -500.0..=500.0, "A distance";
    HALO_DISTANCE = "halo" "distance" Length 0.0..=100.0, "How far a halo reaches";
    HALO_CREVICES = "halo" "crevices" Length 0.0..=50.0, "The crevices";
    HALO_GAPS = "halo" "gaps" Length 0.0..=200.0, "The openings";
    HALO_STEPS = "halo" "steps" Count 1.0..=8.0, "The steps";
    HALO_WIDEN = "halo" "widen" Length 0.1..=20.0, "The width of a step";
    PATTERN_PITCH = "pattern" "pitch" Length 0.5..=100.0, "The pitch";
    PATTERN_LINE = "pattern" "line" Length 0.1..=99.0, "The line";
    PATTERN_INSET = "pattern" "inset" Length 0.0..=250.0, "The distance from the edge";
    PATTERN_APART = "pattern" "apart" Length 0.0..=100.0, "The distance from other things";
    CODE_BARS = "code" "symbol.bars" Length 1.0..=200.0, "The bars’ height";
    CODE_MODULE = "code" "module" Length 0.2..=20.0, "A module";
    CODE_QUIET = "code" "quiet" Count 0.0..=20.0, "The modules that stay free";
    EMBLEM_POINTS = "emblem" "points" Count 3.0..=60.0, "How many there are";
    EMBLEM_DEPTH = "emblem" "depth" Number 0.05..=0.95, "The depth";
    BRIDGE_WIDTH = "*" "bridges.width" Length 0.2..=20.0, "The width of the bridges";
    BRIDGE_HEIGHT = "*" "bridges.height" Length 0.05..=100.0, "The height of the bridges";
    BRIDGE_ACROSS = "*" "by_hand.*.across" Number -5.0..=6.0, "Where the bridge lies across";
    BRIDGE_UP = "*" "by_hand.*.up" Number -5.0..=6.0, "Where the bridge lies in height";
    ROW_COUNT = "*" "repeat.row.count" Count 2.0..=100.0, "How many in a row";
    ROW_ACROSS = "*" "repeat.row.across" Length -500.0..=500.0, "The step to the right";
    ROW_UP = "*" "repeat.row.up" Length -500.0..=500.0, "The step upwards";
    AROUND = "*" "repeat.around" Count 2.0..=100.0, "How many around";
    RAISED_BY = "*" "relief.raised.by" Length 0.05..=100.0, "The height above the plate";
    RAISED_SHARE = "*" "relief.raised.fraction" Number 0.05..=5.0, "The share of the thickness";
    FROM_FOOT = "*" "relief.raised.from-foot" Length 0.05..=100.0, "The height from the bed";
    FLUSH = "*" "relief.flush" Length 0.05..=100.0, "The depth of the inlay";
    DEPTH_BY = "*" "by" Length 0.05..=100.0, "The depth";
    DEPTH_SHARE = "*" "fraction" Number 0.05..=0.95, "The share of the thickness";
    DEPTH_FLOOR = "*" "floor" Length 0.05..=100.0, "The floor";
    INLAY_DEPTH = "*" "depth" Length 0.05..=100.0, "The depth of the inlay";
    ROOT = "*" "root" Length 0.0..=100.0, "The depth of the root";
    LINE_SCALE = "lettering" "lines.*.scale" Number 0.1..=10.0, "The size of a line";
    LETTER_HEIGHT = "lettering" "size.height" Length 0.5..=400.0, "The letter height";
    BOX_WIDTH = "lettering" "size.box.width" Length 1.0..=500.0, "The width of the box";
    BOX_HEIGHT = "lettering" "size.box.height" Length 0.5..=400.0, "The height of the box";
    GIVES_WIDTH = "lettering" "gives.width" Number 0.3..=1.0, "The least width of the letters";
    SPACING = "lettering" "style.spacing" Number -0.3..=3.0, "The room between letters";
    HEAVIER = "lettering" "style.heavier" Length -2.0..=5.0, "The added weight";
    SLANT = "lettering" "style.slant" Angle -45.0..=45.0, "The slant";
    STRETCH = "lettering" "style.stretch" Number 0.3..=3.0, "The stretch";
    PITCH = "lettering" "pitch" Number 0.5..=5.0, "The distance from line to line";
    CIRCLE_RADIUS = "lettering" "course.circle.radius" Length 0.5..=500.0, "The radius of the circle";
    CIRCLE_MIDDLE = "lettering" "course.circle.middle" Angle -360.0..=360.0, "The middle of the words";
    CIRCLE_SPREAD = "lettering" "course.circle.spread" Angle 5.0..=360.0, "The part of the circle";
    OUTLINE_DISTANCE = "lettering" "course.outline.distance" Length -100.0..=250.0, "The distance from the outline";
    OUTLINE_MIDDLE = "lettering" "course.outline.middle" Angle -360.0..=360.0, "The middle of the words";
    OUTLINE_SPREAD = "lettering" "course.outline.spread" Angle 5.0..=360.0, "The part of the outline";
    ROUND_SPREAD = "lettering" "course.round.spread" Angle 5.0..=360.0, "The part of the way round";
    EMBLEM_WIDTH = "emblem" "width" Length 0.5..=480.0, "The emblem’s width";
    EMBLEM_STRETCH = "emblem" "stretch" Number 0.1..=10.0, "The stretch";
    STROKE_WIDTH = "emblem" "stroke.width" Length 0.2..=50.0, "The width of its lines";
    STROKE_TOP = "emblem" "stroke.section.tapered" Length 0.0..=50.0, "The width at the top of its lines";
    RIM_INSET = "rim" "inset" Length 0.0..=250.0, "The rim’s distance from the edge";
    RIM_WIDTH = "rim" "width" Length 0.2..=250.0, "The rim’s width";
    FIELD_INSET = "recess" "shape.inset" Length 0.0..=250.0, "The field’s distance from the edge";
    FIELD_WIDTH = "recess" "shape.own.width" Length 0.5..=500.0, "The field’s width";
    FIELD_HEIGHT = "recess" "shape.own.height" Length 0.5..=500.0, "The field’s height";
    HOLE_DIAMETER = "hole" "diameter" Length 0.2..=480.0, "The hole’s diameter";
    SLOT_LENGTH = "hole" "shape.slot" Length 0.2..=480.0, "The slot’s length";
    HOLE_DEPTH = "hole" "depth" Length 0.05..=100.0, "The hole’s depth";
    LOOP_ANGLE = "loop" "at.angle" Angle -360.0..=360.0, "The direction of the loop";
    LOOP_INSIDE = "loop" "inside" Length 0.5..=200.0, "The loop’s hole";
    LOOP_RIBBON = "loop" "ribbon" Length 0.5..=480.0, "The opening’s length";
    LOOP_WALL = "loop" "wall" Length 0.4..=100.0, "The loop’s wall";
    LOOP_BLEND = "loop" "blend" Length 0.0..=100.0, "The blend";
    LOOP_THICKNESS = "loop" "own.thickness" Length 0.2..=100.0, "The loop’s thickness";
}

/// The limit of a field of something, the nearest to it first: that of its own kind before that of
/// anything with such a field, and the longest name before a shorter one.
pub fn limit_of(of: &str, field: &str) -> Option<&'static Limit> {
    let names: Vec<&str> = field.split('.').collect();
    let fits = |limit: &&Limit| {
        let wanted: Vec<&str> = limit.field.split('.').collect();
        let end = names.len().checked_sub(wanted.len()).map(|start| &names[start..]);
        let alike = |end: &[&str]| wanted.iter().zip(end).all(|(a, b)| *a == "*" || a == b);
        let whole = limit.of == of && names.len() == wanted.len();
        (whole || limit.of == "*") && end.is_some_and(alike)
    };
    let rank = |limit: &&Limit| (limit.of == of, limit.field.split('.').count());
    LIMITS.iter().filter(fits).max_by_key(rank)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_nearest_limit_of_a_field_is_found() {
        let found = |of: &str, field: &str| limit_of(of, field).map(|limit| limit.what);
        assert_eq!(found("hole", "depth"), Some("The hole’s depth"));
        assert_eq!(found("recess", "floor.depth"), Some("The depth of the inlay"));
        assert_eq!(found("recess", "depth.by"), Some("The depth"));
        assert_eq!(found("rim", "relief.raised.by"), Some("The height above the plate"));
        assert_eq!(found("plate", "outline.rectangle.top_left.round"), Some("A corner"));
        assert_eq!(found("plate", "edges.top.round"), Some("The round"));
        assert_eq!(found("recess", "shape.own.outline.polygon.sides"), Some("A polygon’s corners"));
        assert_eq!(found("lettering", "lines.3.scale"), Some("The size of a line"));
        assert_eq!(found("plate", "colour"), None);
    }
}
