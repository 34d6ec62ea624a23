//! Flat faces triangulated afresh, where they come as fans of slivers.
//!
//! A round plate often comes as a fan from its middle or a rim point. All its triangles reach across
//! the whole of it, so that whatever is cut out of it has to be held against every one: the work grows
//! with the square of the sides. Between the same sides, triangles that are as little elongated as they
//! can be leave most of them out.

use super::FlatFace;
use super::level::axes;
use crate::plane::{GridPoint, triangles_within};
use crate::solid::{Mesh, dot, extremes, minus};
use std::collections::{HashMap, HashSet};

/// Fewer triangles of a face are left as they are.
const FEW: usize = 64;

/// How far the corners of a face may lie off its plane, as a share of the mesh's extent: what single
/// precision leaves.
const HAIR: f64 = 4e-7;

/// The same solid with its large flat faces triangulated afresh; `None` where nothing is gained, or where
/// that would leave no sound mesh.
pub(super) fn evened(mesh: &Mesh, faces: &[FlatFace]) -> Option<Mesh> {
    let (low, high) = extremes(mesh.vertices.iter().copied());
    let extent = minus(high, low).into_iter().fold(0.0, f64::max);
    let mut dropped: HashSet<u32> = HashSet::new();
    let mut fresh: Vec<[u32; 3]> = Vec::new();
    for face in faces.iter().filter(|face| face.triangles.len() > FEW) {
        if let Some(triangles) = afresh(mesh, face, extent) {
            dropped.extend(&face.triangles);
            fresh.extend(triangles);
        }
    }
    if fresh.is_empty() {
        return None;
    }
    let kept = (0..).zip(&mesh.triangles).filter(|(i, _)| !dropped.contains(i)).map(|(_, t)| *t);
    let triangles: Vec<[u32; 3]> = kept.chain(fresh).collect();
    let mut evened = Mesh { vertices: mesh.vertices.clone(), triangles };
    evened.drop_unused_vertices();
    let same = (evened.measures().volume / mesh.measures().volume - 1.0).abs() < 10.0 * HAIR;
    (same && evened.faults().is_sound()).then_some(evened)
}

/// A face between its sides anew, if it is truly flat and its sides meet only in their ends.
fn afresh(mesh: &Mesh, face: &FlatFace, extent: f64) -> Option<Vec<[u32; 3]>> {
    /// What the mesh is across, on the grid.
    const ACROSS: f64 = 268_435_456.0;
    let [right, up, _] = axes(face.normal, 0.0);
    let origin =
        mesh.vertices[*mesh.triangles[*face.triangles.first()? as usize].first()? as usize];
    let from_origin = |i: u32| minus(mesh.vertices[i as usize], origin);
    let triangles = || face.triangles.iter().map(|i| mesh.triangles[*i as usize]);
    let is_off = |i: u32| dot(from_origin(i), face.normal).abs() > HAIR * extent;
    if triangles().flatten().any(is_off) {
        return None;
    }
    let sides: HashSet<(u32, u32)> =
        triangles().flat_map(|[a, b, c]| [(a, b), (b, c), (c, a)]).collect();
    let mut number: HashMap<GridPoint, u32> = HashMap::new();
    let mut place = |i: u32| {
        let from = from_origin(i);
        let [x, y] = [right, up].map(|axis| (dot(from, axis) / extent * ACROSS).round() as i32);
        let point = GridPoint::new(x, y);
        (*number.entry(point).or_insert(i) == i).then_some(point)
    };
    let outer = sides.iter().filter(|(a, b)| !sides.contains(&(*b, *a)));
    let lines: Option<Vec<[GridPoint; 2]>> =
        outer.map(|(a, b)| Some([place(*a)?, place(*b)?])).collect();
    let triangles = triangles_within(&lines?)?;
    Some(triangles.into_iter().map(|corners| corners.map(|point| number[&point])).collect())
}
