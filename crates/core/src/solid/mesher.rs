//! From sections to closed meshes.
//!
//! All footprints are laid over each other once ([`crate::plane::Arrangement`]). In every slab each cell of that
//! subdivision is solid all the way, not at all, or, where an edge profile tapers, below or above a
//! slope. The mesh is the boundary of all these solids: a level face where a column starts or
//! stops, a slope where a taper runs, and a wall for whatever one side of a cell's edge has and
//! the other has not. The boundary of a set of cells is closed whatever the cells are, so the mesh
//! is watertight by construction; with upright walls its volume is the sum of its prisms.
//!
//! The same holds for the cells of one colour alone, which is how the bodies are made: they are
//! boundaries over the one subdivision, share its vertices, and never overlap; together they are
//! the whole.

use super::columns::{Columns, Solid, ones};
use super::slopes::{self, Slopes};
use super::{Colour, Mesh, Sections, pinch};
use crate::halt::{Halt, Halted};
use crate::plane::{ArrangementError, from_grid, to_grid};
use thiserror::Error;

/// Why sections could not be meshed.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum MeshError {
    /// The outlines could not be laid over each other.
    #[error(transparent)]
    Arrangement(#[from] ArrangementError),
    /// More heights than a column has bits.
    #[error("a component can have at most {MAX_SLABS} heights at once, and this one has {0}")]
    TooManySlabs(usize),
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

const MAX_SLABS: usize = 127;

/// A meshed component.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Meshed {
    /// The closed mesh of all of it.
    pub mesh: Mesh,
    /// The closed mesh of each colour, by their numbers.
    pub bodies: Vec<(Colour, Mesh)>,
    /// Places where solids touched along a mere edge and were parted by 2 µm.
    pub partings: usize,
    /// Whether every edge has exactly two faces. Where slopes run into each other at very small
    /// angles, parting can fail.
    pub is_sound: bool,
}

/// Meshes sections. The result is closed and consistently turned outwards; where solids would
/// touch along a mere edge they are parted by 2 µm, so that every edge has exactly two faces. Where
/// only one colour touches itself so, another that meets it there takes the place.
///
/// # Errors
/// [`MeshError`] where there are more outlines or heights than can be handled at once.
pub fn mesh(sections: &Sections, halt: &Halt) -> Result<Meshed, MeshError> {
    const ROUNDS: usize = 9;
    if sections.slabs.len() > MAX_SLABS {
        return Err(MeshError::TooManySlabs(sections.slabs.len()));
    }
    let heights: Vec<i32> = sections.heights().into_iter().map(to_grid).collect();
    halt.go_on()?;
    let mut meshed = closed(sections, &heights)?;
    let mut parted = None;
    let mut partings = 0;
    let mut is_sound = false;
    for round in 0..ROUNDS {
        let mut pinches = pinch::find(&meshed.mesh, &heights, round);
        partings += pinches.values().map(Vec::len).sum::<usize>();
        if pinches.is_empty() {
            pinches = pinch::between_colours(&meshed.bodies, &heights, round);
        }
        if pinches.is_empty() {
            is_sound = true;
            break;
        }
        let sections = parted.get_or_insert_with(|| sections.clone());
        pinch::part(sections, pinches);
        halt.go_on()?;
        meshed = closed(sections, &heights)?;
    }
    for (_, body) in &mut meshed.bodies {
        body.drop_unused_vertices();
    }
    if meshed.bodies.is_empty() && !meshed.mesh.triangles.is_empty() {
        let colour = sections.colours().first().copied().unwrap_or(0);
        meshed.bodies.push((colour, meshed.mesh.clone()));
    }
    Ok(Meshed { partings, is_sound, ..meshed })
}

/// The closed boundary of sections, touching edges and all, and where there are several colours
/// those of each, which share their vertices. Heights in grid steps.
fn closed(sections: &Sections, heights: &[i32]) -> Result<Meshed, ArrangementError> {
    let mut columns = Columns::of(sections)?;
    let slopes = slopes::of(sections, &columns, heights);
    columns.settle(heights, |slab, corner| slopes.height(slab, corner, heights));
    let boundary = |solid: &Solid| boundary(&columns, solid, heights, &slopes);
    let mesh = weave(&columns, &[boundary(&columns.whole)]).pop().unwrap_or_default();
    let boundaries: Vec<_> = columns.by_colour.iter().map(|(_, solid)| boundary(solid)).collect();
    let colours = columns.by_colour.iter().map(|(colour, _)| *colour);
    let bodies = colours.zip(weave(&columns, &boundaries));
    let bodies = bodies.filter(|(_, body)| !body.triangles.is_empty()).collect();
    Ok(Meshed { mesh, bodies, ..Meshed::default() })
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

/// What of a slab is solid along an edge, at the edge's two ends: from `low` to `high`.
#[derive(Clone, Copy, PartialEq)]
struct Extent {
    low: [i32; 2],
    high: [i32; 2],
}

/// What bounds a solid: level faces and slopes, by points and heights, and walls.
struct Boundary {
    faces: Vec<[(u32, i32); 3]>,
    walls: Vec<Wall>,
}

/// The boundary of a solid. Heights in grid steps, one more than there are slabs.
fn boundary(columns: &Columns, solid: &Solid, heights: &[i32], slopes: &Slopes) -> Boundary {
    let mut faces: Vec<[(u32, i32); 3]> = Vec::new();
    let mut walls: Vec<Wall> = Vec::new();
    for (at, cell) in columns.arrangement.cells.iter().enumerate() {
        let (feet, heads) = (solid.feet[at], solid.heads[at]);
        if feet | heads == 0 {
            continue;
        }
        let [a, b, c] = cell.corners;
        for level in ones((heads << 1) & !feet) {
            faces.push([a, b, c].map(|corner| (corner, heights[level])));
        }
        for level in ones(feet & !(heads << 1)) {
            faces.push([a, c, b].map(|corner| (corner, heights[level])));
        }
        for slab in ones(feet ^ heads) {
            let sloped = [a, b, c].map(|corner| (corner, slopes.height(slab, corner, heights)));
            let [p, q, r] = sloped;
            faces.push(if feet & 1 << slab != 0 { [p, q, r] } else { [p, r, q] });
        }
        for side in 0..3 {
            stand_walls(columns, solid, heights, slopes, at, side, &mut walls);
        }
    }
    Boundary { faces, walls }
}

/// The walls that stand on one side of a cell, the solid being the cell's; neighbours in height are
/// joined.
fn stand_walls(
    columns: &Columns,
    solid: &Solid,
    heights: &[i32],
    slopes: &Slopes,
    at: usize,
    side: usize,
    walls: &mut Vec<Wall>,
) {
    let cell = &columns.arrangement.cells[at];
    let (a, b) = (cell.corners[side], cell.corners[(side + 1) % 3]);
    let (feet, heads) = (solid.feet[at], solid.heads[at]);
    // Nothing lies beyond the hull.
    let across = cell.across[side].map(|other| other as usize);
    let (other_feet, other_heads) =
        across.map_or((0, 0), |other| (solid.feet[other], solid.heads[other]));
    let start = walls.len();
    let mut stand = |low: [i32; 2], high: [i32; 2]| {
        if low == high {
            return;
        }
        match walls[start..].last_mut() {
            Some(below) if below.high == low => below.high = high,
            _ => walls.push(Wall { a, b, low, high }),
        }
    };
    for slab in ones((feet | heads) & !(other_feet & other_heads)) {
        let bit = 1u128 << slab;
        let (bottom, top) = ([heights[slab]; 2], [heights[slab + 1]; 2]);
        let extent = |feet: u128, heads: u128| {
            let slope = || [a, b].map(|corner| slopes.height(slab, corner, heights));
            match (feet & bit != 0, heads & bit != 0) {
                (true, true) => Some(Extent { low: bottom, high: top }),
                (true, false) => Some(Extent { low: bottom, high: slope() }),
                (false, true) => Some(Extent { low: slope(), high: top }),
                (false, false) => None,
            }
        };
        let Some(own) = extent(feet, heads) else { continue };
        let Some(other) = extent(other_feet, other_heads) else {
            stand(own.low, own.high);
            continue;
        };
        // What lies below the other's solid, then what lies above it.
        let pair =
            |f: fn(i32, i32) -> i32, x: [i32; 2], y: [i32; 2]| [f(x[0], y[0]), f(x[1], y[1])];
        stand(own.low, pair(i32::max, own.low, pair(i32::min, own.high, other.low)));
        stand(pair(i32::min, own.high, pair(i32::max, own.low, other.high)), own.high);
    }
}

/// Makes meshes of boundaries, which share their vertices. Every height at which anything meets a
/// point becomes a vertex there, and walls are cut at the vertices of both their upright edges.
fn weave(columns: &Columns, boundaries: &[Boundary]) -> Vec<Mesh> {
    let key = |(point, height): (u32, i32)| {
        u64::from(point) << 32 | u64::from(height.wrapping_sub(i32::MIN) as u32)
    };
    let of_faces = boundaries.iter().flat_map(|one| one.faces.iter().flatten());
    let of_walls = boundaries.iter().flat_map(|one| &one.walls).flat_map(|wall| {
        [
            (wall.a, wall.low[0]),
            (wall.a, wall.high[0]),
            (wall.b, wall.low[1]),
            (wall.b, wall.high[1]),
        ]
        .map(key)
    });
    let mut used: Vec<u64> = of_faces.map(|corner| key(*corner)).chain(of_walls).collect();
    used.sort_unstable();
    used.dedup();
    let points = &columns.arrangement.points;
    let mut first = vec![0u32; points.len() + 1];
    for vertex in &used {
        first[(vertex >> 32) as usize + 1] += 1;
    }
    for point in 0..points.len() {
        first[point + 1] += first[point];
    }
    let index = |point: u32, height: i32| -> u32 {
        let (from, to) = (first[point as usize], first[point as usize + 1]);
        let heights = &used[from as usize..to as usize];
        from + heights.partition_point(|vertex| *vertex < key((point, height))) as u32
    };
    let position = |vertex: &u64| {
        let point = points[(vertex >> 32) as usize];
        let height = (*vertex as u32 as i32).wrapping_add(i32::MIN);
        [from_grid(point.x), from_grid(point.y), from_grid(height)]
    };
    let vertices: Vec<[f64; 3]> = used.iter().map(position).collect();

    let woven = |Boundary { faces, walls }: &Boundary| {
        let mut triangles: Vec<[u32; 3]> = Vec::with_capacity(faces.len() + 2 * walls.len());
        triangles.extend(faces.iter().map(|face| face.map(|(point, height)| index(point, height))));
        for wall in walls {
            let (mut left, left_end) = (index(wall.a, wall.low[0]), index(wall.a, wall.high[0]));
            let (mut right, right_end) = (index(wall.b, wall.low[1]), index(wall.b, wall.high[1]));
            // A strip between the two upright edges, climbing on whichever side is lower.
            while left < left_end || right < right_end {
                let climbs_left = right == right_end
                    || (left < left_end
                        && (used[left as usize + 1] as u32) < (used[right as usize + 1] as u32));
                let next = if climbs_left { left + 1 } else { right + 1 };
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
    use crate::plane::{Rect, Region, Tolerance, circle, rounded_rectangle};
    use crate::solid::{Act, Layer, Slab};

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
        Sections { footprints, slabs }
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
        assert_eq!(partings, 0);
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
        assert!(partings > 0);
        assert!(found.faults().is_sound(), "{:?}", found.faults());

        // Two blocks corner to corner fall into two bodies.
        let sections = stack(
            vec![rect(0., 0., 5., 5.), rect(5., 5., 10., 10.)],
            &[(0.0, 3.0, &[(Adds, 0), (Adds, 1)])],
        );
        let Meshed { mesh: found, partings, .. } = mesh(&sections).unwrap();
        assert!(partings > 0);
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
        assert!(partings > 0);
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

    /// Footprints of a stack whose outline is drawn in step by step, with the heights.
    fn tapered(outline: &Region, insets: &[(f64, f64)], act: Act) -> Sections {
        let footprints =
            insets.iter().map(|(_, inset)| outline.offset(-inset, Tolerance::Fine)).collect();
        let slabs = insets
            .windows(2)
            .enumerate()
            .map(|(i, pair)| Slab {
                bottom: pair[0].0,
                top: pair[1].0,
                layers: vec![Layer { act, colour: 0, foot: i, head: i + 1 }],
            })
            .collect();
        Sections { footprints, slabs }
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

        let hole = |r| circle((1., 2.), r, Tolerance::Fine);
        let layers =
            vec![Layer::upright(Adds, 0, 0), Layer { act: Cuts, colour: 0, foot: 1, head: 2 }];
        let sections = Sections {
            footprints: vec![rect(-20., -20., 20., 20.), hole(2.), hole(4.)],
            slabs: vec![Slab { bottom: 0., top: 2., layers }],
        };
        let Meshed { mesh: found, .. } = mesh(&sections).unwrap();
        assert!(found.faults().is_sound());
        let exact = 3200.0 - frustum(4., 2., 2.);
        assert!((found.measures().volume - exact).abs() < 0.3, "{}", found.measures().volume);
    }

    #[test]
    fn a_hole_through_a_chamfer_leaves_the_slope_where_it_was() {
        let block = rect(0., 0., 20., 10.);
        let mut sections = tapered(&block, &[(0., 0.), (3., 0.), (5., 2.)], Adds);
        let drill = rect(-1., 4., 8., 6.);
        for slab in &mut sections.slabs {
            slab.layers.push(Layer::upright(Cuts, 0, 3));
        }
        sections.footprints.push(drill);
        let Meshed { mesh: found, .. } = mesh(&sections).unwrap();
        assert!(found.faults().is_sound(), "{:?}", found.faults());
        // The slot takes 8 × 2 mm at the foot and, under the slope, 6 × 2 mm at the head.
        let whole = 600.0 + 2.0 / 6.0 * (200.0 + 4.0 * 18.0 * 8.0 + 16.0 * 6.0);
        let slot = 3.0 * 16.0 + 2.0 * (16.0 + 12.0) / 2.0;
        assert!((found.measures().volume - (whole - slot)).abs() < 1e-2);
    }
}
