//! PNG pictures of the plan and of the solid.

use super::Model;
use crate::solid::{cross, dot, minus};
use resvg::tiny_skia::{Color, Pixmap, Transform};
use resvg::usvg::{Options, Tree};

/// A drawing in SVG as a PNG picture, its longer side this many pixels, on nothing.
pub fn plan(svg: &str, pixels: u32) -> Option<Vec<u8>> {
    let tree = Tree::from_str(svg, &Options::default()).ok()?;
    let (width, height) = (tree.size().width(), tree.size().height());
    let scale = pixels as f32 / width.max(height);
    let side = |length: f32| ((length * scale).round() as u32).max(1);
    let mut picture = Pixmap::new(side(width), side(height))?;
    resvg::render(&tree, Transform::from_scale(scale, scale), &mut picture.as_mut());
    picture.encode_png().ok()
}

/// A model seen from the front corner as a PNG picture this many pixels wide, on nothing.
///
/// A parallel projection with a depth buffer; every triangle is shaded flat by Lambert's law with a
/// light beside the eye. It is drawn twice as large and averaged.
pub fn solid(model: &Model<'_>, width: u32, height: u32) -> Option<Vec<u8>> {
    const FINER: u32 = 2;
    let (wide, high) = ((width * FINER) as usize, (height * FINER) as usize);
    let eye = unit([-0.28, -0.8, 1.0]);
    let right = unit(cross([0.0, 0.0, 1.0], eye));
    let up = cross(eye, right);
    let light = unit([-0.45, -0.5, 1.0]);
    let seen = |p: [f64; 3]| [dot(p, right), dot(p, up), dot(p, eye)];

    let corners = model.parts.iter().flat_map(|part| part.mesh.vertices.iter().map(|v| seen(*v)));
    let (mut low, mut far) = ([f64::INFINITY; 2], [f64::NEG_INFINITY; 2]);
    for corner in corners {
        for axis in 0..2 {
            low[axis] = low[axis].min(corner[axis]);
            far[axis] = far[axis].max(corner[axis]);
        }
    }
    let scale = 0.94 * (wide as f64 / (far[0] - low[0])).min(high as f64 / (far[1] - low[1]));
    if !scale.is_finite() {
        return None;
    }
    let middle = [(low[0] + far[0]) / 2.0, (low[1] + far[1]) / 2.0];
    let placed = |p: [f64; 3]| {
        let [x, y, depth] = seen(p);
        let column = wide as f64 / 2.0 + (x - middle[0]) * scale;
        [column, high as f64 / 2.0 - (y - middle[1]) * scale, depth]
    };

    let mut depths = vec![f64::NEG_INFINITY; wide * high];
    let mut pixels = vec![[0u8; 4]; wide * high];
    for part in &model.parts {
        for triangle in &part.mesh.triangles {
            let corners = part.mesh.corners(*triangle);
            let normal = cross(minus(corners[1], corners[0]), minus(corners[2], corners[0]));
            if dot(normal, eye) <= 0.0 {
                continue;
            }
            let bright = 0.42 + 0.58 * dot(unit(normal), light).max(0.0);
            let [r, g, b] = part.filament.colour.0.map(|c| (f64::from(c) * bright).round() as u8);
            fill(corners.map(placed), (wide, high), |at, depth| {
                if depth > depths[at] {
                    (depths[at], pixels[at]) = (depth, [r, g, b, 255]);
                }
            });
        }
    }

    let mut picture = Pixmap::new(width, height)?;
    for (i, pixel) in picture.pixels_mut().iter_mut().enumerate() {
        let (x, y) = (i as u32 % width * FINER, i as u32 / width * FINER);
        let mut sum = [0u32; 4];
        for (dx, dy) in [(0, 0), (1, 0), (0, 1), (1, 1)] {
            let of = pixels[(y + dy) as usize * wide + (x + dx) as usize];
            (0..4).for_each(|channel| sum[channel] += u32::from(of[channel]));
        }
        let covered = sum[3] as f32 / 1020.0;
        // Colours are averaged over what is covered.
        let channel = |i: usize| if covered > 0.0 { sum[i] as f32 / 1020.0 / covered } else { 0.0 };
        if let Some(colour) = Color::from_rgba(channel(0), channel(1), channel(2), covered) {
            *pixel = colour.premultiply().to_color_u8();
        }
    }
    picture.encode_png().ok()
}

/// Visits the pixels whose middles a triangle covers, with their depths.
fn fill([a, b, c]: [[f64; 3]; 3], (wide, high): (usize, usize), mut visit: impl FnMut(usize, f64)) {
    let double = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
    if double == 0.0 {
        return;
    }
    let span = |axis: usize, most: usize| {
        let low = a[axis].min(b[axis]).min(c[axis]).floor().max(0.0) as usize;
        let far = a[axis].max(b[axis]).max(c[axis]).ceil().max(0.0) as usize;
        low..far.min(most)
    };
    for row in span(1, high) {
        for column in span(0, wide) {
            let (x, y) = (column as f64 + 0.5, row as f64 + 0.5);
            // Barycentric coordinates.
            let of_b = ((x - a[0]) * (c[1] - a[1]) - (y - a[1]) * (c[0] - a[0])) / double;
            let of_c = ((b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0])) / double;
            let of_a = 1.0 - of_b - of_c;
            if of_a >= 0.0 && of_b >= 0.0 && of_c >= 0.0 {
                visit(row * wide + column, of_a * a[2] + of_b * b[2] + of_c * c[2]);
            }
        }
    }
}

fn unit(v: [f64; 3]) -> [f64; 3] {
    let length = dot(v, v).sqrt();
    v.map(|part| part / length)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::export::{Division, model_of, picture_of};
    use crate::piece::Piece;
    use crate::plane::Tolerance;
    use crate::testing::{evaluated, worked};
    use crate::units::Unit;

    /// A plate of 40 × 40 mm fills the middle of both pictures with its own colour, and the corners
    /// stay empty.
    #[test]
    fn pictures_show_the_plate_in_its_colour() {
        let mut piece = Piece::new("Tile", Unit::Millimetre);
        let crate::piece::Blank::Plate(plate) = &mut piece.components[0].blank else {
            unreachable!()
        };
        plate.width = crate::units::Length::mm(40.0);
        plate.height = crate::units::Length::mm(40.0);
        let found = evaluated(&piece, Tolerance::Draft);
        let model = model_of(&piece, &found, Division::Together);
        let svg = picture_of(&piece, &worked(&piece, Tolerance::Draft).layout);
        let colour = piece.filaments[0].colour.0;
        for (png, is_shaded) in
            [(plan(&svg, 100).unwrap(), false), (solid(&model, 100, 100).unwrap(), true)]
        {
            let picture = Pixmap::decode_png(&png).unwrap();
            assert_eq!((picture.width(), picture.height()), (100, 100));
            let middle = picture.pixel(50, 50).unwrap();
            assert_eq!(middle.alpha(), 255);
            let found = [middle.red(), middle.green(), middle.blue()];
            for (found, exact) in found.into_iter().zip(colour) {
                let share = f64::from(found) / f64::from(exact);
                assert!(share <= 1.02 && share > if is_shaded { 0.7 } else { 0.98 }, "{share}");
            }
            assert_eq!(picture.pixel(0, 0).unwrap().alpha(), 0);
        }
    }
}
