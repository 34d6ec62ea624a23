//! Faces: charts on which elements are placed.
//!
//! Everything on a face is given as it is seen from there, in its own across and up, and by heights
//! over the face on the other side of the body. Only the last step brings it to where it lies in the
//! body: [`Face::in_body`] for faces that lie level with the sections a body is made of, and for all
//! others the tool that the kernel works it with. Front and back of a plate, the face of a mesh and the
//! leaning face of a bent bar are the same thing here.

use super::prism::Crest;
use super::{Placed, Prism, Round};
use crate::piece::{BothEdges, Edge, FaceName};
use crate::plane::{Rect, Region};
use crate::solid::Mesh;
use std::sync::Arc;

/// How a chart lies in its body: where its origin is at height 0, and the directions of its across, its
/// up and out of the face. All of length 1 and square to each other, in mm.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Frame {
    /// Where the origin of the chart lies.
    pub origin: [f64; 3],
    /// To the right, seen from the face.
    pub across: [f64; 3],
    /// Upwards, seen from the face.
    pub up: [f64; 3],
    /// Out of the face.
    pub out: [f64; 3],
}

impl Frame {
    /// A face that looks up, over a foot at height 0.
    pub const LOOKING_UP: Frame = Frame {
        origin: [0.0; 3],
        across: [1.0, 0.0, 0.0],
        up: [0.0, 1.0, 0.0],
        out: [0.0, 0.0, 1.0],
    };

    /// The face on the other side of so many mm of material, seen when the body is turned over about
    /// its upright centre line.
    pub fn looking_down(thickness: f64) -> Self {
        Frame {
            origin: [0.0, 0.0, thickness],
            across: [-1.0, 0.0, 0.0],
            up: [0.0, 1.0, 0.0],
            out: [0.0, 0.0, -1.0],
        }
    }

    /// A point of the chart, at a height, in the body.
    pub fn point(&self, u: f64, v: f64, height: f64) -> [f64; 3] {
        let at =
            |i: usize| self.origin[i] + u * self.across[i] + v * self.up[i] + height * self.out[i];
        [at(0), at(1), at(2)]
    }

    /// The same turned about its origin, counter-clockwise seen from the face.
    pub(super) fn turned(self, degrees: f64) -> Self {
        if degrees == 0.0 {
            return self;
        }
        let (sine, cosine) = degrees.to_radians().sin_cos();
        let (across, up) = (self.across, self.up);
        let turned = |a: f64, b: f64| [0, 1, 2].map(|i| a * across[i] + b * up[i]);
        Frame { across: turned(cosine, sine), up: turned(-sine, cosine), ..self }
    }

    /// A mesh of the chart, its heights along z, where it lies in the body.
    pub(super) fn mesh(&self, chart: Mesh) -> Mesh {
        let vertices = chart.vertices.into_iter().map(|[u, v, height]| self.point(u, v, height));
        Mesh { vertices: vertices.collect(), ..chart }
    }
}

/// A face of a body. Lengths in mm, as it is seen from there.
#[derive(Debug, Clone, PartialEq)]
pub struct Face {
    /// Its name.
    pub name: FaceName,
    /// How it lies in the body; a round one in its middle, where it touches this.
    pub frame: Frame,
    /// How it runs round, where it does.
    pub round: Option<Round>,
    /// Its outline, before anything is added to it.
    pub outline: Region,
    /// Its extent, which holes and fields are placed on.
    pub rect: Rect,
    /// What lettering and emblems are placed on: the same, or for a contour blank, which follows them,
    /// the size that was given.
    pub guide: Rect,
    /// How much material lies below it.
    pub thickness: f64,
    /// How the edges of the body are finished, `top` being the one at this face.
    pub edges: BothEdges,
    /// The largest box free of margins, rims and holes, if there is any.
    pub clear: Option<Rect>,
    /// Whether it lies level with the sections its body is made of, so that what is on it becomes part of
    /// them; what is on any other face is worked by the kernel.
    pub in_sections: bool,
}

impl Face {
    /// A face that is worked by the kernel, of so much material; its clear area is not known yet.
    pub(super) fn chart(name: FaceName, frame: Frame, outline: Region, thickness: f64) -> Self {
        let rect = outline.bounds().unwrap_or(Rect::centred(1.0, 1.0));
        Face {
            name,
            frame,
            round: None,
            outline,
            rect,
            guide: rect,
            thickness,
            edges: BothEdges::default(),
            clear: None,
            in_sections: false,
        }
    }

    /// The same with the treatment of the edge round it.
    pub(super) fn edged(mut self, edge: Edge) -> Self {
        self.edges.top = edge;
        self
    }

    /// Whether it is the underside of sections, which is drawn as it is seen from above.
    pub(crate) fn is_turned_over(&self) -> bool {
        self.in_sections && self.frame.out[2] < 0.0
    }

    /// Its clear area; of the underside of sections as it is seen from above.
    pub(super) fn clear_from_front(&self) -> Option<Rect> {
        if self.is_turned_over() { self.clear.map(Rect::mirrored) } else { self.clear }
    }

    /// A prism on it, as it lies in the sections of the body; one that lies on no face of them stays.
    pub(super) fn prism_in_body(&self, prism: Prism) -> Prism {
        if !self.is_turned_over() {
            return prism;
        }
        let height = |height: f64| self.frame.point(0.0, 0.0, height)[2];
        Prism {
            outline: prism.outline.mirrored(true),
            bottom: height(prism.top),
            top: height(prism.bottom),
            bottom_edge: prism.top_edge,
            top_edge: prism.bottom_edge,
            crest: prism.crest.map(Crest::turned_over),
            ..prism
        }
    }

    /// What was placed on it, as it lies in the sections of the body; what lies on no face of them stays
    /// as it is.
    pub(super) fn in_body(&self, placed: Placed) -> Placed {
        if !self.is_turned_over() {
            return placed;
        }
        let height = |height: f64| self.frame.point(0.0, 0.0, height)[2];
        Placed {
            region: placed.region.mirrored(true),
            frame: placed.frame.mirrored(),
            row: placed.row.mirrored(),
            bottom: height(placed.top),
            top: height(placed.bottom),
            prisms: placed.prisms.into_iter().map(|prism| self.prism_in_body(prism)).collect(),
            bridging: placed.bridging.map(|bridging| Arc::new(bridging.mirrored())),
            ..placed
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_point_of_the_back_lies_behind_its_mirror_image() {
        let back = Frame::looking_down(3.0);
        assert_eq!(back.point(10.0, 4.0, 3.0), [-10.0, 4.0, 0.0]);
        assert_eq!(back.point(10.0, 4.0, 0.0), [-10.0, 4.0, 3.0]);
        assert_eq!(Frame::LOOKING_UP.point(10.0, 4.0, 3.0), [10.0, 4.0, 3.0]);
    }
}
