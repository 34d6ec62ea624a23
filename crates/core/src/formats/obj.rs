//! OBJ, written.
//!
//! After the "Object Files (.obj)" appendix of the Advanced Visualizer manual as commonly cited:
//! `o` names the object, `v` gives a vertex, `f` a face by vertex numbers from 1. The format has no
//! unit; ours are millimetres, which a comment says.

use crate::solid::Mesh;
use std::fmt::Write;

/// An OBJ file of one object.
pub fn write(mesh: &Mesh, name: &str) -> String {
    let name: String = name.chars().map(|c| if c.is_control() { ' ' } else { c }).collect();
    let mut text = format!("# Kalotype, millimetres\no {}\n", name.trim().replace(' ', "_"));
    for [x, y, z] in &mesh.vertices {
        let _ = writeln!(text, "v {x} {y} {z}");
    }
    for [a, b, c] in &mesh.triangles {
        let _ = writeln!(text, "f {} {} {}", a + 1, b + 1, c + 1);
    }
    text
}
