//! From sections to closed meshes.
//!
//! All footprints are laid over each other once ([`crate::plane::Arrangement`]), with the ridges of
//! their slopes and the lines along which slopes cross. Above every cell of that subdivision stands a
//! column of spans, each between two surfaces that are plane over the cell and never cross
//! (`columns`). The mesh is the boundary of all spans: a face where one starts or stops, and a wall for
//! whatever one side of a cell's edge has and the other has not. The boundary of a set of cells is
//! closed whatever the cells are, so the mesh is watertight by construction; with upright walls its
//! volume is the sum of its prisms.
//!
//! The same holds for the spans of one colour alone, which is how the bodies are made: they are
//! boundaries over the one subdivision, share its vertices, and never overlap; together they are
//! the whole.

use super::buckets::Buckets;
use super::columns::{Base, Columns, Spans};
use super::pinch::Pinched;
use super::slopes::steps_of;
use super::{Colour, Mesh, Sections, pinch};
use crate::halt::{Halt, Halted, OverAll, heed, heed_at};
use crate::plane::{ArrangementError, from_grid};
use thiserror::Error;

/// Why sections could not be meshed.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum MeshError {
    /// The outlines could not be laid over each other.
    #[error(transparent)]
    Arrangement(#[from] ArrangementError),
    /// Surfaces meet so that no closed one comes of them.
    #[error(
        "what is added and cut meets so closely along its edges that no closed surface comes of it; \
         move something a little"
    )]
    Tangled,
    /// The work was stopped.
    #[error(transparent)]
    Halted(#[from] Halted),
}

/// Places where solids touched along a mere edge, which no machine can make, and were parted.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Partings {
    /// How many there are.
    pub count: usize,
    /// How far apart the widest of them was made, in mm.
    pub widest: f64,
}

impl Partings {
    /// These and more of one width.
    pub(crate) fn and(self, count: usize, width: f64) -> Self {
        let widest = if count > 0 { self.widest.max(width) } else { self.widest };
        Partings { count: self.count + count, widest }
    }
}

/// A meshed component.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Meshed {
    /// The closed mesh of all of it.
    pub mesh: Mesh,
    /// The closed mesh of each colour, by their numbers.
    pub bodies: Vec<(Colour, Mesh)>,
    /// Where solids touched along a mere edge and were parted.
    pub partings: Partings,
    /// Whether every edge has exactly two faces. Where slopes run into each other at very small
    /// angles, parting can fail.
    pub is_sound: bool,
}

/// Meshes sections. The result is closed and consistently turned outwards; where solids would
/// touch along a mere edge they are parted, by 2 µm where that is enough, so that every edge has exactly
/// two faces. Where only one colour touches itself so, another that meets it there takes the place.
///
/// # Errors
/// [`MeshError`] where outlines cannot be laid over each other, or the work was stopped.
pub fn mesh(sections: &Sections, halt: &Halt) -> Result<Meshed, MeshError> {
    const ROUNDS: usize = 9;
    let heights = steps_of(sections);
    halt.go_on()?;
    let mut base = Base::of(sections, &heights)?;
    let mut woven = closed(&Columns::of(&base, sections, &heights))?;
    let mut parted = None;
    let mut partings = Partings::default();
    let mut is_sound = false;
    for round in 0..ROUNDS {
        let mut pinches = pinch::find(&woven.whole, &heights, round);
        let count = pinches.values().map(Vec::len).sum();
        partings = partings.and(count, pinch::width(round));
        if pinches.is_empty() {
            pinches = pinch::between_colours(&woven.bodies, &heights, round);
        }
        if pinches.is_empty() {
            is_sound = true;
            break;
        }
        let sections = parted.get_or_insert_with(|| sections.clone());
        pinch::part(sections, pinches);
        halt.go_on()?;
        base.extend(sections)?;
        woven = closed(&Columns::of(&base, sections, &heights))?;
    }
    let mesh = woven.whole.mesh;
    let of_colour = |(colour, Pinched { mut mesh, .. })| {
        mesh.drop_unused_vertices();
        (colour, mesh)
    };
    let mut bodies: Vec<(Colour, Mesh)> = woven.bodies.into_iter().map(of_colour).collect();
    if bodies.is_empty() && !mesh.triangles.is_empty() {
        let colour = sections.colours().first().copied().unwrap_or(0);
        bodies.push((colour, mesh.clone()));
    }
    Ok(Meshed { mesh, bodies, partings, is_sound })
}

/// All of it, and the body of each colour where there are several; those share their vertices.
struct Woven {
    whole: Pinched,
    bodies: Vec<(Colour, Pinched)>,
}

/// The closed boundary of columns, touching edges and all, and where there are several colours those of each.
///
/// The bodies are woven beside the whole, on a thread of their own if there is one to be had.
fn closed(columns: &Columns<'_>) -> Result<Woven, Halted> {
    let of_all = || {
        let mesh = weave(columns, &[boundary(columns, &columns.whole)]).pop();
        Pinched::of(mesh.unwrap_or_default())
    };
    let of_colours = || -> Vec<(Colour, Pinched)> {
        let boundaries: Vec<_> =
            columns.by_colour.iter().map(|(_, spans)| boundary(columns, spans)).collect();
        let colours = columns.by_colour.iter().map(|(colour, _)| *colour);
        let bodies = colours.zip(weave(columns, &boundaries));
        let bodies = bodies.filter(|(_, body)| !body.triangles.is_empty());
        bodies.map(|(colour, body)| (colour, Pinched::of(body))).collect()
    };
    if columns.by_colour.is_empty() {
        return Ok(Woven { whole: of_all(), bodies: Vec::new() });
    }
    let over = OverAll::of_this_thread();
    std::thread::scope(|scope| {
        let beside = std::thread::Builder::new().spawn_scoped(scope, || over.over(of_colours));
        let whole = of_all();
        let bodies = match beside {
            Ok(beside) => beside.join().unwrap_or_else(|panic| std::panic::resume_unwind(panic))?,
            Err(_) => of_colours(),
        };
        Ok(Woven { whole, bodies })
    })
}

/// The part of the boundary that stands on one edge between two cells: the solid lies left of the
/// edge from `a` to `b`. At each end it reaches from a low to a high height.
#[derive(Clone, Copy)]
struct Wall {
    a: u32,
    b: u32,
    low: [i32; 2],
    high: [i32; 2],
}

/// What bounds a solid: level faces and slopes, by points and heights, and walls.
struct Boundary {
    faces: Vec<[(u32, i32); 3]>,
    walls: Vec<Wall>,
}

/// The boundary of the solid that spans make up.
fn boundary(columns: &Columns<'_>, spans: &Spans) -> Boundary {
    let mut faces: Vec<[(u32, i32); 3]> = Vec::new();
    let mut walls: Vec<Wall> = Vec::new();
    for (at, cell) in columns.arrangement.cells.iter().enumerate() {
        heed_at(at);
        let [a, b, c] = cell.corners;
        for span in spans.of(at) {
            let ([p, q, r], [x, y, z]) = (span.low, span.high);
            faces.push([(a, p), (c, r), (b, q)]);
            faces.push([(a, x), (b, y), (c, z)]);
        }
        for side in 0..3 {
            let across = cell.across[side].map(|other| other as usize);
            // A side between two cells is stood on once, from the one that comes first.
            if across.is_none_or(|other| at < other && !spans.are_shared(at, other)) {
                stand_walls(columns, spans, at, side, &mut walls);
            }
        }
    }
    Boundary { faces, walls }
}

/// Where a span starts or stops at the two ends of an edge.
#[derive(Clone, Copy)]
struct Bound {
    heights: [i32; 2],
    is_own: bool,
}

/// The walls that stand on one side of a cell: what one of the cells beside it has and the other has
/// not. Beyond the hull nothing is solid.
fn stand_walls(
    columns: &Columns<'_>,
    spans: &Spans,
    at: usize,
    side: usize,
    walls: &mut Vec<Wall>,
) {
    let cells = &columns.arrangement.cells;
    let next = (side + 1) % 3;
    let (a, b) = (cells[at].corners[side], cells[at].corners[next]);
    let mut bounds: Vec<Bound> = Vec::with_capacity(8);
    for span in spans.of(at) {
        for surface in [span.low, span.high] {
            bounds.push(Bound { heights: [surface[side], surface[next]], is_own: true });
        }
    }
    if let Some(other) = cells[at].across[side].map(|other| other as usize) {
        let place = |point: u32| cells[other].corners.iter().position(|one| *one == point);
        let (Some(i), Some(j)) = (place(a), place(b)) else { return };
        for span in spans.of(other) {
            for surface in [span.low, span.high] {
                bounds.push(Bound { heights: [surface[i], surface[j]], is_own: false });
            }
        }
    }
    // Both are sorted, and no two surfaces cross over an edge.
    bounds.sort_by_key(|bound| i64::from(bound.heights[0]) + i64::from(bound.heights[1]));
    let (mut is_in_own, mut is_in_other) = (false, false);
    for pair in bounds.windows(2) {
        if pair[0].is_own {
            is_in_own ^= true
        } else {
            is_in_other ^= true
        }
        let (low, high) = (pair[0].heights, pair[1].heights);
        if is_in_own == is_in_other || low == high {
            continue;
        }
        walls.push(if is_in_own {
            Wall { a, b, low, high }
        } else {
            Wall { a: b, b: a, low: [low[1], low[0]], high: [high[1], high[0]] }
        });
    }
}

/// Makes meshes of boundaries, which share their vertices. Every height at which anything meets a
/// point becomes a vertex there, and walls are cut at the vertices of both their upright edges.
fn weave(columns: &Columns<'_>, boundaries: &[Boundary]) -> Vec<Mesh> {
    // Heights in an order that numbers without a sign keep.
    let raised = |height: i32| height.wrapping_sub(i32::MIN) as u32;
    let of_faces = boundaries.iter().flat_map(|one| one.faces.iter().flatten().copied());
    let of_walls = boundaries.iter().flat_map(|one| &one.walls).flat_map(|wall| {
        [
            (wall.a, wall.low[0]),
            (wall.a, wall.high[0]),
            (wall.b, wall.low[1]),
            (wall.b, wall.high[1]),
        ]
    });
    let corners = of_faces.chain(of_walls).map(|(point, height)| (point, raised(height)));
    let points = &columns.arrangement.points;
    let used = Buckets::of(points.len(), corners).deduplicated();
    let index = |point: u32, height: i32| -> u32 {
        let height = raised(height);
        let above = used.of_one(point).partition_point(|vertex| *vertex < height);
        (used.begin(point) + above) as u32
    };
    let position = |point: u32, height: &u32| {
        let height = (*height as i32).wrapping_add(i32::MIN);
        let point = points[point as usize];
        [from_grid(point.x), from_grid(point.y), from_grid(height)]
    };
    let heights = used.all();
    heed();
    let mut vertices: Vec<[f64; 3]> = Vec::with_capacity(heights.len());
    for (at, (point, heights)) in used.iter().enumerate() {
        heed_at(at);
        vertices.extend(heights.iter().map(|height| position(point, height)));
    }

    let woven = |Boundary { faces, walls }: &Boundary| {
        let mut triangles: Vec<[u32; 3]> = Vec::with_capacity(faces.len() + 2 * walls.len());
        triangles.extend(faces.iter().enumerate().map(|(at, face)| {
            heed_at(at);
            face.map(|(point, height)| index(point, height))
        }));
        for (at, wall) in walls.iter().enumerate() {
            heed_at(at);
            let (mut left, left_end) = (index(wall.a, wall.low[0]), index(wall.a, wall.high[0]));
            let (mut right, right_end) = (index(wall.b, wall.low[1]), index(wall.b, wall.high[1]));
            // A strip between the two upright edges, climbing on whichever side is lower. Where
            // rounding has turned one over, it goes down there.
            let step = |from: u32, to: u32| if from < to { from + 1 } else { from.max(1) - 1 };
            while left != left_end || right != right_end {
                let (up_left, up_right) = (step(left, left_end), step(right, right_end));
                let climbs_left = right == right_end
                    || (left != left_end && heights[up_left as usize] < heights[up_right as usize]);
                let next = if climbs_left { up_left } else { up_right };
                triangles.push([left, right, next]);
                if climbs_left { left = next } else { right = next }
            }
        }
        triangles
    };
    let mut woven: Vec<Vec<[u32; 3]>> = boundaries.iter().map(woven).collect();
    let last = woven.pop();
    let mut meshes: Vec<Mesh> =
        woven.into_iter().map(|triangles| Mesh { vertices: vertices.clone(), triangles }).collect();
    meshes.extend(last.map(|triangles| Mesh { vertices, triangles }));
    meshes
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plane::{
        Rect, Region, Side, Skeleton, Tolerance, circle, rounded_rectangle, to_grid,
    };
    use crate::solid::{Act, Layer, Slab, Taper};

    fn mesh(sections: &Sections) -> Result<Meshed, MeshError> {
        super::mesh(sections, &Halt::default())
    }

    fn rect(x0: f64, y0: f64, x1: f64, y1: f64) -> Region {
        rounded_rectangle(Rect { x0, y0, x1, y1 }, 0.0, Tolerance::Normal)
    }

    /// Bottom, top, and what each footprint does there.
    type Slice<'a> = (f64, f64, &'a [(Act, usize)]);

    fn stack(footprints: Vec<Region>, slabs: &[Slice<'_>]) -> Sections {
        let slabs = slabs
            .iter()
            .map(|&(bottom, top, layers)| Slab {
                bottom,
                top,
                layers: layers.iter().map(|&(act, f)| Layer::upright(act, 0, f)).collect(),
            })
            .collect();
        Sections { footprints, slabs, ..Sections::default() }
    }

    use Act::{Adds, Cuts};

    #[test]
    fn a_plate_with_raised_and_recessed_parts_has_the_volume_of_its_prisms() {
        // 20 × 10 × 3 plate, a 4 × 4 recess 1 deep, a 5 × 5 block 2 high, a hole of 2 mm radius.
        let hole = circle((-6.0, 0.0), 2.0, Tolerance::Normal);
        let hole_area = hole.area();
        let sections = stack(
            vec![rect(-10., -5., 10., 5.), rect(-2., -2., 2., 2.), rect(4., -2., 9., 3.), hole],
            &[
                (0.0, 2.0, &[(Adds, 0), (Cuts, 3)]),
                (2.0, 3.0, &[(Adds, 0), (Cuts, 1), (Cuts, 3)]),
                (3.0, 5.0, &[(Adds, 2), (Cuts, 3)]),
            ],
        );
        let Meshed { mesh, partings, .. } = mesh(&sections).unwrap();
        assert_eq!(partings, Partings::default());
        let measures = mesh.measures();
        let exact = 200.0 * 3.0 - 16.0 + 50.0 - 3.0 * hole_area;
        assert!((measures.volume - exact).abs() < 1e-9 * exact);
        assert!(mesh.faults().is_sound());
        assert_eq!(mesh.parts(), 1);
        // Walls that pass a height where nothing changes beside them are not cut there.
        let at_two = mesh.vertices.iter().filter(|v| v[2] == 2.0);
        assert!(at_two.clone().count() == 4, "{:?}", at_two.collect::<Vec<_>>());
    }

    #[test]
    fn solids_that_touch_in_an_upright_edge_are_parted() {
        // A hole tangent to the plate's edge: a corner of its polygon lies exactly on the edge.
        let hole = circle((-8.0, 0.0), 2.0, Tolerance::Normal);
        let sections =
            stack(vec![rect(-10., -5., 10., 5.), hole], &[(0.0, 3.0, &[(Adds, 0), (Cuts, 1)])]);
        let Meshed { mesh: found, partings, .. } = mesh(&sections).unwrap();
        assert_eq!((partings.count > 0, partings.widest), (true, 0.001_953_125));
        assert!(found.faults().is_sound(), "{:?}", found.faults());

        // Two blocks corner to corner fall into two bodies.
        let sections = stack(
            vec![rect(0., 0., 5., 5.), rect(5., 5., 10., 10.)],
            &[(0.0, 3.0, &[(Adds, 0), (Adds, 1)])],
        );
        let Meshed { mesh: found, partings, .. } = mesh(&sections).unwrap();
        assert_eq!((partings.count > 0, partings.widest), (true, 0.001_953_125));
        assert!(found.faults().is_sound(), "{:?}", found.faults());
        assert_eq!(found.parts(), 2);
        assert!((found.measures().volume - 150.0).abs() < 1e-3);
    }

    #[test]
    fn solids_that_touch_in_a_level_edge_are_parted() {
        let sections = stack(
            vec![rect(0., 0., 5., 5.), rect(5., 0., 10., 5.)],
            &[(0.0, 3.0, &[(Adds, 0)]), (3.0, 6.0, &[(Adds, 1)])],
        );
        let Meshed { mesh: found, partings, .. } = mesh(&sections).unwrap();
        assert_eq!((partings.count > 0, partings.widest), (true, 0.001_953_125));
        assert!(found.faults().is_sound(), "{:?}", found.faults());
        assert_eq!(found.parts(), 2);
    }

    #[test]
    fn nothing_gives_an_empty_mesh() {
        assert!(mesh(&Sections::default()).unwrap().mesh.triangles.is_empty());
        let sections = stack(
            vec![rect(0., 0., 5., 5.), rect(-1., -1., 6., 6.)],
            &[(0.0, 3.0, &[(Adds, 0), (Cuts, 1)])],
        );
        assert!(mesh(&sections).unwrap().mesh.triangles.is_empty());
    }

    /// Adds the footprints of an outline at the distances, with its ridges, and the layers of slabs
    /// between neighbouring heights.
    fn taper(
        sections: &mut Sections,
        outline: &Region,
        side: Side,
        insets: &[(f64, f64)],
        act: Act,
    ) -> Vec<Layer> {
        let steps = |mm: f64| f64::from(to_grid(mm));
        let mut distances: Vec<f64> = insets.iter().map(|(_, inset)| steps(*inset)).collect();
        distances.sort_by(f64::total_cmp);
        distances.dedup();
        distances.retain(|distance| *distance > 0.0);
        let most = distances.last().copied().unwrap_or(0.0);
        let skeleton = Skeleton::of(outline, side, most).unwrap();
        let roof = skeleton.roof(&distances, Tolerance::Fine).unwrap();
        let base = sections.footprints.len();
        sections.footprints.push(outline.clone());
        sections.footprints.extend(roof.levels);
        sections.ridges.extend(roof.ridges);
        let place = |inset: f64| {
            base + distances.iter().position(|one| *one == steps(inset)).map_or(0, |i| i + 1)
        };
        insets
            .windows(2)
            .map(|pair| {
                let (foot, head) = (place(pair[0].1), place(pair[1].1));
                let taper = Taper { outline: base, foot: pair[0].1, head: pair[1].1 };
                Layer { act, colour: 0, foot, head, taper: (foot != head).then_some(taper) }
            })
            .collect()
    }

    /// A stack whose outline is drawn in step by step, with the heights.
    fn tapered(outline: &Region, insets: &[(f64, f64)], act: Act) -> Sections {
        let mut sections = Sections::default();
        let layers = taper(&mut sections, outline, Side::Inside, insets, act);
        let slabs = insets.windows(2).zip(layers);
        let slabs = slabs.map(|(pair, layer)| Slab {
            bottom: pair[0].0,
            top: pair[1].0,
            layers: vec![layer],
        });
        sections.slabs = slabs.collect();
        sections
    }

    #[test]
    fn a_chamfered_block_has_the_volume_of_its_frustum() {
        // Prismatoid: h/6 (A₀ + 4 A½ + A₁), exact for linear tapers.
        let sections = tapered(&rect(0., 0., 20., 10.), &[(0., 0.), (3., 0.), (5., 2.)], Adds);
        let Meshed { mesh: found, .. } = mesh(&sections).unwrap();
        assert!(found.faults().is_sound(), "{:?}", found.faults());
        let exact = 600.0 + 2.0 / 6.0 * (200.0 + 4.0 * 18.0 * 8.0 + 16.0 * 6.0);
        assert!((found.measures().volume - exact).abs() < 1e-2, "{}", found.measures().volume);
        // An overhanging foot chamfer is the same upside down.
        let sections = tapered(&rect(0., 0., 20., 10.), &[(0., 2.), (2., 0.), (5., 0.)], Adds);
        let Meshed { mesh: found, .. } = mesh(&sections).unwrap();
        assert!(found.faults().is_sound());
        assert!((found.measures().volume - exact).abs() < 1e-2);
    }

    #[test]
    fn a_chamfered_disc_is_a_cone_frustum_and_a_countersunk_hole_its_negative() {
        // π h/3 (R² + R r + r²).
        let frustum = |big: f64, small: f64, h: f64| {
            std::f64::consts::PI * h / 3.0 * (big * big + big * small + small * small)
        };
        let disc = circle((1., 2.), 10., Tolerance::Fine);
        let Meshed { mesh: found, .. } =
            mesh(&tapered(&disc, &[(0., 0.), (2., 2.)], Adds)).unwrap();
        assert!(found.faults().is_sound());
        let exact = frustum(10., 8., 2.);
        assert!(
            (found.measures().volume - exact).abs() < 2e-3 * exact,
            "{}",
            found.measures().volume
        );

        let hole = circle((1., 2.), 2., Tolerance::Fine);
        let mut sections = Sections::default();
        sections.footprints.push(rect(-20., -20., 20., 20.));
        let widened = [(0.0, 0.0), (2.0, 2.0)];
        let mut layers = vec![Layer::upright(Adds, 0, 0)];
        layers.extend(taper(&mut sections, &hole, Side::Outside, &widened, Cuts));
        sections.slabs = vec![Slab { bottom: 0., top: 2., layers }];
        let Meshed { mesh: found, .. } = mesh(&sections).unwrap();
        assert!(found.faults().is_sound());
        let exact = 3200.0 - frustum(4., 2., 2.);
        assert!((found.measures().volume - exact).abs() < 0.3, "{}", found.measures().volume);
    }

    #[test]
    fn a_hole_through_a_chamfer_leaves_the_slope_where_it_was() {
        let block = rect(0., 0., 20., 10.);
        let mut sections = tapered(&block, &[(0., 0.), (3., 0.), (5., 2.)], Adds);
        let drill = sections.footprints.len();
        for slab in &mut sections.slabs {
            slab.layers.push(Layer::upright(Cuts, 0, drill));
        }
        sections.footprints.push(rect(-1., 4., 8., 6.));
        let Meshed { mesh: found, .. } = mesh(&sections).unwrap();
        assert!(found.faults().is_sound(), "{:?}", found.faults());
        // The slot takes 8 × 2 mm at the foot and, under the slope, 6 × 2 mm at the head.
        let whole = 600.0 + 2.0 / 6.0 * (200.0 + 4.0 * 18.0 * 8.0 + 16.0 * 6.0);
        let slot = 3.0 * 16.0 + 2.0 * (16.0 + 12.0) / 2.0;
        assert!((found.measures().volume - (whole - slot)).abs() < 1e-2);
    }

    #[test]
    fn slopes_keep_their_heights_whatever_crosses_them() {
        // A square frustum (prismatoid formula), with discs across its corner and its flank that
        // change nothing: what they cut out is put back at once.
        let block = rect(0., 0., 20., 10.);
        let exact = 600.0 + 2.0 / 6.0 * (200.0 + 4.0 * 18.0 * 8.0 + 16.0 * 6.0);
        for (x, y, r) in [(0.0, 0.0, 3.0), (19.3, 9.1, 1.7), (10.0, 0.8, 1.1), (20.0, 5.0, 6.0)] {
            let mut sections = tapered(&block, &[(0., 0.), (3., 0.), (5., 2.)], Adds);
            let disc = sections.footprints.len();
            sections.footprints.push(circle((x, y), r, Tolerance::Draft));
            for slab in &mut sections.slabs {
                slab.layers.insert(0, Layer::upright(Cuts, 0, disc));
            }
            let Meshed { mesh: found, .. } = mesh(&sections).unwrap();
            assert!(found.faults().is_sound(), "{:?}", found.faults());
            let volume = found.measures().volume;
            assert!((volume - exact).abs() < 2e-3, "{volume} {exact}");
        }
    }

    #[test]
    fn two_slopes_that_cross_meet_in_a_line() {
        // Two wedges across each other: a ridge roof of 10 × 10 mm falling to both sides from the
        // middle, cut by another at a right angle, is a pyramid: 100 · 5 / 3.
        let wide = rect(-20., -5., 20., 5.);
        let tall = rect(-5., -20., 5., 20.);
        let mut sections = Sections::default();
        let roof = [(0.0, 0.0), (5.0, 5.0)];
        let adds = taper(&mut sections, &wide, Side::Inside, &roof, Adds);
        // Cutting away what lies outside the other roof leaves what both have.
        let outside = rect(-30., -30., 30., 30.).difference(&tall);
        let cuts = taper(&mut sections, &outside, Side::Outside, &roof, Cuts);
        let layers = adds.into_iter().chain(cuts).collect();
        sections.slabs = vec![Slab { bottom: 0.0, top: 5.0, layers }];
        let Meshed { mesh: found, .. } = mesh(&sections).unwrap();
        assert!(found.faults().is_sound(), "{:?}", found.faults());
        let exact = 100.0 * 5.0 / 3.0;
        let volume = found.measures().volume;
        assert!((volume - exact).abs() < 1e-2, "{volume} {exact}");
    }

    #[test]
    fn between_a_slope_from_above_and_one_from_below_stands_what_neither_takes() {
        // A plate of 2 mm with a countersink of 2 × 2 mm from above and one from below, 3 mm apart:
        // they meet in the middle. Each takes a cone frustum; where both reach, between the holes, the
        // upper one takes what is above its flank, the lower what is below its own.
        let plate = rect(-20., -20., 20., 20.);
        let mut sections = Sections { footprints: vec![plate], ..Sections::default() };
        let above = circle((-2.5, 0.0), 1.0, Tolerance::Fine);
        let below = circle((2.5, 0.0), 1.0, Tolerance::Fine);
        let mut layers = vec![Layer::upright(Adds, 0, 0)];
        let up = [(0.0, 0.0), (2.0, 2.0)];
        let down = [(0.0, 2.0), (2.0, 0.0)];
        layers.extend(taper(&mut sections, &above, Side::Outside, &up, Cuts));
        layers.extend(taper(&mut sections, &below, Side::Outside, &down, Cuts));
        sections.slabs = vec![Slab { bottom: 0.0, top: 2.0, layers }];
        let Meshed { mesh: found, .. } = mesh(&sections).unwrap();
        assert!(found.faults().is_sound(), "{:?}", found.faults());
        // Slices of 2000 levels, each a plate less two discs whose overlap is a lens (circle-circle
        // intersection, elementary geometry).
        let lens = |r: f64, s: f64, d: f64| {
            if d >= r + s {
                return 0.0;
            }
            let half = |r: f64, s: f64| {
                let x = (d * d + r * r - s * s) / (2.0 * d);
                r * r * (x / r).acos() - x * (r * r - x * x).sqrt()
            };
            half(r, s) + half(s, r)
        };
        let exact: f64 = (0..2000)
            .map(|i| {
                let z = (f64::from(i) + 0.5) / 1000.0;
                let (r, s) = (1.0 + z, 1.0 + 2.0 - z);
                let discs = std::f64::consts::PI * (r * r + s * s);
                (1600.0 - discs + lens(r, s, 5.0)) / 1000.0
            })
            .sum();
        let volume = found.measures().volume;
        assert!((volume - exact).abs() < 0.2, "{volume} {exact}");
        assert!(lens(2.0, 2.0, 5.0) == 0.0 && found.parts() == 1);
    }
}
