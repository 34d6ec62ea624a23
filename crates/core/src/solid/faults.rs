//! What can be wrong with a mesh, our own or one from elsewhere.

use super::Mesh;
use super::groups::Groups;
use serde::Serialize;
use std::collections::HashMap;

/// Faults of a mesh, counted; a sound one has none of the first five.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize)]
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
            shells: self.shells + other.shells,
        }
    }
}

impl Mesh {
    /// Counts what is wrong with it. Shells are found by the edges triangles share. A shell of negative
    /// volume is a hollow if a larger one lies around it, by its box, and inside out if not.
    pub fn faults(&self) -> Faults {
        let mut edges: Vec<(u64, bool, u32)> = Vec::with_capacity(3 * self.triangles.len());
        let mut faults = Faults::default();
        for (i, &[a, b, c]) in self.triangles.iter().enumerate() {
            let is_flat = self.normal([a, b, c]) == [0.0; 3];
            faults.degenerate_triangles += usize::from(is_flat);
            for (from, to) in [(a, b), (b, c), (c, a)] {
                let edge = u64::from(from.min(to)) << 32 | u64::from(from.max(to));
                edges.push((edge, from < to, i as u32));
            }
        }
        edges.sort_unstable();
        let mut shells = Groups::of(self.triangles.len());
        for uses in edges.chunk_by(|a, b| a.0 == b.0) {
            match uses {
                [_] => faults.open_edges += 1,
                [one, other] => faults.flipped_edges += usize::from(one.1 == other.1),
                _ => faults.crowded_edges += 1,
            }
            uses[1..].iter().for_each(|other| shells.join(uses[0].2, other.2));
        }

        let mut found: HashMap<u32, Shell> = HashMap::new();
        for (i, triangle) in self.triangles.iter().enumerate() {
            let [a, b, c] = self.corners(*triangle);
            let shell = found.entry(shells.root(i as u32)).or_default();
            let normal = super::cross(b, c);
            shell.volume += (a[0] * normal[0] + a[1] * normal[1] + a[2] * normal[2]) / 6.0;
            [a, b, c].into_iter().for_each(|corner| shell.take_in(corner));
        }
        let found: Vec<Shell> = found.into_values().collect();
        faults.shells = found.len();
        // With gaps there is no inside.
        if faults.open_edges == 0 {
            let hollow = |shell: &Shell| found.iter().any(|other| other.lies_around(shell));
            faults.inside_out =
                found.iter().filter(|shell| shell.volume < 0.0 && !hollow(shell)).count();
        }
        faults
    }
}

struct Shell {
    volume: f64,
    low: [f64; 3],
    high: [f64; 3],
}

impl Default for Shell {
    fn default() -> Self {
        Shell { volume: 0.0, low: [f64::INFINITY; 3], high: [f64::NEG_INFINITY; 3] }
    }
}

impl Shell {
    fn take_in(&mut self, point: [f64; 3]) {
        for (axis, figure) in point.into_iter().enumerate() {
            self.low[axis] = self.low[axis].min(figure);
            self.high[axis] = self.high[axis].max(figure);
        }
    }

    fn lies_around(&self, other: &Shell) -> bool {
        self.volume > other.volume.abs()
            && (0..3).all(|i| self.low[i] <= other.low[i] && other.high[i] <= self.high[i])
    }
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
}
