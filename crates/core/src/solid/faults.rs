//! What can be wrong with a mesh, our own or one from elsewhere.

use super::Mesh;
use super::groups::Groups;
use super::shells::{Shell, shells};
use crate::halt::{heed_at, sort_heeding};
use serde::{Deserialize, Serialize};

/// Faults of a mesh, counted; a sound one has none but shells.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct Faults {
    /// Edges with only one triangle: there is a gap.
    pub open_edges: usize,
    /// Edges with more than two triangles: surfaces touch or lie inside.
    pub crowded_edges: usize,
    /// Edges whose two triangles turn against each other.
    pub flipped_edges: usize,
    /// Triangles without area, or with a corner used twice.
    pub degenerate_triangles: usize,
    /// Shells whose surface is turned inside out, though nothing lies around them.
    pub inside_out: usize,
    /// Shells turned outwards inside of what is solid already, whose volume counts twice.
    pub nested: usize,
    /// Shells that enclose nothing, such as two triangles on each other.
    pub empty: usize,
    /// Separate surfaces.
    pub shells: usize,
}

impl Faults {
    /// Closed, consistently turned outwards and free of degenerate triangles.
    pub fn is_sound(&self) -> bool {
        Faults { shells: 0, ..*self } == Faults::default()
    }

    /// What is wrong, a sentence each, in the words of somebody who has to print it.
    pub fn sentences(&self) -> Vec<String> {
        let said = |count: usize, one: &str, several: &str, what: &str| {
            let noun = if count == 1 { one } else { several };
            (count > 0).then(|| format!("{count} {noun}: {what}"))
        };
        [
            said(self.open_edges, "open edge", "open edges", "there is a gap in the surface."),
            said(
                self.crowded_edges,
                "edge of more than two faces",
                "edges of more than two faces",
                "surfaces touch there or lie inside.",
            ),
            said(
                self.flipped_edges,
                "edge between faces that turn against each other",
                "edges between faces that turn against each other",
                "some faces are the wrong way round.",
            ),
            said(
                self.degenerate_triangles,
                "triangle without area",
                "triangles without area",
                "they do no harm where all else is sound.",
            ),
            said(
                self.inside_out,
                "shell turned inside out",
                "shells turned inside out",
                "its inside and outside are exchanged.",
            ),
            said(
                self.nested,
                "shell inside of solid material",
                "shells inside of solid material",
                "what is in there counts twice.",
            ),
            said(
                self.empty,
                "shell without volume",
                "shells without volume",
                "faces lie on each other, and nothing is between them.",
            ),
        ]
        .into_iter()
        .flatten()
        .collect()
    }

    /// The faults of two meshes together.
    pub fn and(self, other: Faults) -> Faults {
        Faults {
            open_edges: self.open_edges + other.open_edges,
            crowded_edges: self.crowded_edges + other.crowded_edges,
            flipped_edges: self.flipped_edges + other.flipped_edges,
            degenerate_triangles: self.degenerate_triangles + other.degenerate_triangles,
            inside_out: self.inside_out + other.inside_out,
            nested: self.nested + other.nested,
            empty: self.empty + other.empty,
            shells: self.shells + other.shells,
        }
    }
}

impl Mesh {
    /// Counts what is wrong with it. Shells are found by the edges triangles share. One turned inwards is
    /// a hollow if another lies around it, and inside out if not; one turned outwards may lie in a
    /// hollow, but not in what is solid.
    pub fn faults(&self) -> Faults {
        let mut edges: Vec<(u64, bool, u32)> = Vec::with_capacity(3 * self.triangles.len());
        let mut faults = Faults::default();
        for (i, &[a, b, c]) in self.triangles.iter().enumerate() {
            heed_at(i);
            let is_flat = self.normal([a, b, c]) == [0.0; 3];
            faults.degenerate_triangles += usize::from(is_flat);
            for (from, to) in [(a, b), (b, c), (c, a)] {
                edges.push((edge((from, to)), from < to, i as u32));
            }
        }
        sort_heeding(&mut edges);
        let mut groups = Groups::of(self.triangles.len());
        for uses in edges.chunk_by(|a, b| a.0 == b.0) {
            match uses {
                [_] => faults.open_edges += 1,
                [one, other] => faults.flipped_edges += usize::from(one.1 == other.1),
                _ => faults.crowded_edges += 1,
            }
            uses[1..].iter().for_each(|other| groups.join(uses[0].2, other.2));
        }

        // With gaps there is no inside.
        let is_closed = faults.open_edges == 0;
        let (shells, _) = shells(self, &mut groups, is_closed);
        faults.shells = shells.len();
        if is_closed {
            let count = |is_so: fn(&Shell) -> bool| shells.iter().filter(|one| is_so(one)).count();
            faults.empty = count(|shell| shell.is_empty);
            faults.inside_out = count(|one| !one.is_empty && one.volume < 0.0 && one.around < 1);
            faults.nested = count(|one| !one.is_empty && one.volume > 0.0 && one.around > 0);
        }
        faults
    }

    /// Takes out the shells that enclose less than so many mm³, if that leaves any: specks that rounding
    /// left.
    pub(crate) fn drop_specks(&mut self, least: f64) {
        let mut groups = Groups::of(self.triangles.len());
        let mut sides: Vec<(u64, u32)> = Vec::with_capacity(3 * self.triangles.len());
        for (i, &[a, b, c]) in self.triangles.iter().enumerate() {
            heed_at(i);
            sides.extend([(a, b), (b, c), (c, a)].map(|side| (edge(side), i as u32)));
        }
        sort_heeding(&mut sides);
        for uses in sides.chunk_by(|a, b| a.0 == b.0) {
            uses[1..].iter().for_each(|other| groups.join(uses[0].1, other.1));
        }
        let (shells, of_triangle) = shells(self, &mut groups, false);
        let is_speck = |shell: &Shell| shell.volume.abs() < least;
        if shells.iter().any(is_speck) && !shells.iter().all(is_speck) {
            let mut shell = of_triangle.iter();
            self.triangles
                .retain(|_| shell.next().is_some_and(|at| !is_speck(&shells[*at as usize])));
            self.drop_unused_vertices();
        }
    }
}

/// An edge, whichever way it is gone.
fn edge((a, b): (u32, u32)) -> u64 {
    u64::from(a.min(b)) << 32 | u64::from(a.max(b))
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A cube with corners at these two heights along every axis, turned outwards.
    fn cube(low: f64, high: f64) -> Mesh {
        let at = |i: usize| if i == 0 { low } else { high };
        let vertices = (0..8).map(|i| [at(i & 1), at((i >> 1) & 1), at((i >> 2) & 1)]).collect();
        let triangles = vec![
            [0, 2, 1],
            [1, 2, 3],
            [4, 5, 6],
            [5, 7, 6],
            [0, 1, 4],
            [1, 5, 4],
            [2, 6, 3],
            [3, 6, 7],
            [0, 4, 2],
            [2, 4, 6],
            [1, 3, 5],
            [3, 7, 5],
        ];
        Mesh { vertices, triangles }
    }

    fn both(mut a: Mesh, b: &Mesh) -> Mesh {
        a.append(b);
        a
    }

    fn turned(mut mesh: Mesh) -> Mesh {
        mesh.triangles.iter_mut().for_each(|t| t.swap(1, 2));
        mesh
    }

    #[test]
    fn faults_are_told_apart() {
        let sound = cube(0.0, 10.0).faults();
        assert_eq!(sound, Faults { shells: 1, ..Faults::default() });
        let mut open = cube(0.0, 10.0);
        open.triangles.pop();
        assert_eq!(open.faults().open_edges, 3);
        let mut flipped = cube(0.0, 10.0);
        flipped.triangles[0].swap(1, 2);
        assert_eq!(flipped.faults().flipped_edges, 3);
        let mut doubled = cube(0.0, 10.0);
        doubled.triangles.push([0, 2, 1]);
        assert_eq!(doubled.faults().crowded_edges, 3);
        let mut flat = cube(0.0, 10.0);
        flat.vertices[7] = flat.vertices[6];
        assert!(flat.faults().degenerate_triangles > 0);
        assert_eq!(turned(cube(0.0, 10.0)).faults().inside_out, 1);

        let hollow = both(cube(0.0, 10.0), &turned(cube(2.0, 8.0)));
        assert_eq!(hollow.faults(), Faults { shells: 2, ..Faults::default() });
        let beside = both(cube(0.0, 10.0), &turned(cube(12.0, 14.0)));
        assert_eq!((beside.faults().inside_out, beside.faults().is_sound()), (1, false));
    }

    /// What surrounds a shell is told by winding, not by boxes: a box around is no solid around.
    #[test]
    fn shells_in_shells_are_told_by_what_lies_around_them() {
        let faults = |meshes: &[Mesh]| {
            meshes.iter().cloned().reduce(|all, one| both(all, &one)).unwrap().faults()
        };
        let sound = |shells| Faults { shells, ..Faults::default() };
        let (outer, inner) = (cube(0.0, 10.0), cube(2.0, 8.0));
        assert_eq!(faults(&[outer.clone(), inner.clone()]), Faults { nested: 1, ..sound(2) });
        assert_eq!(faults(&[inner.clone(), outer.clone()]), Faults { nested: 1, ..sound(2) });
        // A core in a hollow is solid again, and a hollow in it is one again.
        let nest = [outer.clone(), turned(inner), cube(3.0, 7.0), turned(cube(4.0, 6.0))];
        assert_eq!(faults(&nest), sound(4));
        // Turned inwards in a hollow is inside out though a box lies around it.
        let inwards = [outer.clone(), turned(cube(2.0, 8.0)), turned(cube(3.0, 7.0))];
        assert_eq!(faults(&inwards), Faults { inside_out: 1, ..sound(3) });
        // In the notch of an L, in its box but not in it.
        let mut wedge = cube(0.0, 10.0);
        wedge.vertices[7] = [10.0, 10.0, 0.5];
        wedge.vertices[5] = [10.0, 0.0, 0.5];
        assert_eq!(faults(&[wedge.clone(), cube(8.0, 9.0)]), sound(2));
        assert_eq!(faults(&[wedge, turned(cube(8.0, 9.0))]), Faults { inside_out: 1, ..sound(2) });
    }

    #[test]
    fn faces_on_each_other_enclose_nothing() {
        let triangle = Mesh {
            vertices: vec![[0.0; 3], [10.0, 0.0, 0.0], [0.0, 10.0, 5.0]],
            triangles: vec![[0, 1, 2], [0, 2, 1]],
        };
        let found = triangle.faults();
        assert_eq!(found, Faults { shells: 1, empty: 1, ..Faults::default() });
        assert!(!found.is_sound() && found.sentences()[0].contains("without volume"));
        let mut beside = both(cube(20.0, 30.0), &triangle);
        assert_eq!(beside.faults().empty, 1);
        beside.drop_specks(1e-3);
        assert_eq!(beside, cube(20.0, 30.0));
    }
}
