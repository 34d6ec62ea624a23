//! Where a plane cuts a mesh.

use super::Mesh;
use crate::plane::{GridPoint, Region, from_grid, to_grid};
use std::collections::HashMap;

/// The planes a mesh is cut by: upright ones through its origin.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Cut {
    /// Along x, seen from the front: how far to the right, and how high.
    Lengthwise,
    /// Along y, seen from the right: how far to the back, and how high.
    Across,
}

impl Cut {
    /// Which axes run to the right and upwards in what is cut, and which is looked along.
    fn axes(self) -> [usize; 3] {
        match self {
            Cut::Lengthwise => [0, 2, 1],
            Cut::Across => [1, 2, 0],
        }
    }
}

impl Mesh {
    /// What a plane cuts of a closed mesh, in mm.
    ///
    /// The plane lies half a step of the grid beside the origin, so that no vertex lies in it: then every
    /// edge it cuts belongs to two triangles, which lead from one cut edge to the next.
    pub fn section(&self, cut: Cut) -> Region {
        self.cut_at(cut.axes(), from_grid(1) / 2.0)
    }

    /// What lies in a level plane at a height, seen from above, in mm. The plane is moved by half a step of the
    /// grid at the most, so that no vertex lies in it.
    pub fn level(&self, height: f64) -> Region {
        let level = from_grid(to_grid(height)) + from_grid(1) / 2.0;
        self.cut_at([0, 1, 2], level)
    }

    fn cut_at(&self, [right, up, along]: [usize; 3], level: f64) -> Region {
        let is_beyond = |i: u32| self.vertices[i as usize][along] > level;
        // From the edge where the cut enters a triangle to the one where it leaves it.
        let mut next: HashMap<[u32; 2], [u32; 2]> = HashMap::new();
        for triangle in &self.triangles {
            let beyond = triangle.map(is_beyond);
            if beyond[0] == beyond[1] && beyond[1] == beyond[2] {
                continue;
            }
            let mut ends = [[0; 2]; 2];
            for i in 0..3 {
                let (a, b) = (i, (i + 1) % 3);
                if beyond[a] != beyond[b] {
                    let edge = [triangle[a].min(triangle[b]), triangle[a].max(triangle[b])];
                    ends[usize::from(beyond[a])] = edge;
                }
            }
            next.insert(ends[0], ends[1]);
        }
        let point = |[a, b]: [u32; 2]| {
            let [a, b] = [a, b].map(|i| self.vertices[i as usize]);
            let share = (level - a[along]) / (b[along] - a[along]);
            let at = |axis: usize| to_grid(a[axis] + share * (b[axis] - a[axis]));
            GridPoint::new(at(right), at(up))
        };
        let mut rings = Vec::new();
        while let Some(start) = next.keys().next().copied() {
            let (mut ring, mut at) = (Vec::new(), start);
            while let Some(following) = next.remove(&at) {
                ring.push(point(at));
                at = following;
            }
            rings.push(ring);
        }
        // Rings round what is hollow turn the other way and take it out again, whichever way that is.
        Region::resolve(&rings)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::piece::{BlankKind, Component, Piece};
    use crate::plane::Tolerance;
    use crate::testing::{edited, evaluated, set};
    use crate::units::Unit;
    use serde_json::json;

    fn customary(kind: BlankKind) -> Piece {
        let mut piece = Piece::new("Berth 7", Unit::Millimetre);
        piece.components[0] = Component::customary(Component::FIRST, kind, Unit::Millimetre);
        piece
    }

    /// Half of a cap is its wall times its height and its top; the other half is the same.
    #[test]
    fn a_cap_is_cut_into_two_walls_and_a_top() {
        let cap = edited(
            &customary(BlankKind::Cap),
            &[
                set("blank", "over", json!(40.0)),
                set("blank", "fit", json!("loose")),
                set("blank", "wall", json!(2.8)),
                set("blank", "skirt", json!(16.0)),
                set("blank", "top", json!(3.0)),
                set("blank", "upper", json!("square")),
                set("blank", "lower", json!("square")),
                set("blank", "hold", json!("nothing")),
                set("blank", "lead_in", json!(0.0)),
                set("blank", "vent", json!(null)),
            ],
        );
        let made = evaluated(&cap, Tolerance::Fine);
        for cut in [Cut::Lengthwise, Cut::Across] {
            let section = made.components[0].mesh.section(cut);
            let exact = 46.0 * 3.0 + 2.0 * 2.8 * 16.0;
            assert!((section.area() - exact).abs() < 0.05, "{} {exact}", section.area());
            let bounds = section.bounds().unwrap();
            assert!((bounds.width() - 46.0).abs() < 0.01 && (bounds.height() - 19.0).abs() < 1e-6);
        }
    }

    /// And a box into a trough: what is hollow is not filled.
    #[test]
    fn what_is_drawn_out_is_cut_across_to_its_profile() {
        let bar = customary(BlankKind::BentBar);
        let made = evaluated(&bar, Tolerance::Normal);
        let profile = made.components[0].layout.profile.as_ref().unwrap();
        let section = made.components[0].mesh.section(Cut::Across);
        let over = section.difference(&profile.outline).area()
            + profile.outline.difference(&section).area();
        assert!(over < 1e-2, "{over}");
        let walls = evaluated(&customary(BlankKind::Box), Tolerance::Normal);
        let section = walls.components[0].mesh.section(Cut::Across);
        // 66 mm of floor and two walls, but for the chamfers below.
        let exact = 66.0 * 2.0 + 2.0 * 3.0 * 30.0 - 0.36;
        assert!((section.area() - exact).abs() < 1e-3, "{} {exact}", section.area());
    }
}
