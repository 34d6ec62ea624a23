//! The build of a model: its objects as bodies in mm, components placed as their transforms say. The
//! unfolding itself is limited, since a kilobyte of components of components would have no end.

use super::super::{FoundBody, FoundMesh, MAX_TRIANGLES, MeshFileError};
use super::model::{Model, ObjectKind, Transform, UNMOVED, determinant};
use super::refuse;
use crate::solid::Mesh;

/// How deep components may lie in components.
const DEEPEST: usize = 16;

/// The most bodies a build may come to.
const MOST_BODIES: usize = 10_000;

/// The most objects that may be put down on the way, those that come to nothing among them.
const MOST_PLACED: usize = 100_000;

/// Puts down all that a model's build names.
pub(super) fn put_down(model: Model) -> Result<FoundMesh, MeshFileError> {
    let scaled: Transform = UNMOVED.map(|figure| figure * model.millimetres);
    let mut build = Build::default();
    for (object, transform) in &model.build {
        build.put_down(&model, *object, &after(transform, &scaled), 0)?;
    }
    let mut remarks = model.remarks;
    if build.supports > 0 {
        remarks.push(format!(
            "Objects that are supports were left out ({} in its build).",
            build.supports
        ));
    }
    Ok(FoundMesh { format: "3MF".into(), unit: Some(model.unit), bodies: build.bodies, remarks })
}

/// What a build came to so far.
#[derive(Default)]
struct Build {
    bodies: Vec<FoundBody>,
    triangles: usize,
    placed: usize,
    supports: usize,
}

impl Build {
    /// Puts an object and its components down.
    fn put_down(
        &mut self,
        model: &Model,
        id: u32,
        transform: &Transform,
        depth: usize,
    ) -> Result<(), MeshFileError> {
        self.placed += 1;
        if self.placed > MOST_PLACED {
            return Err(refuse(format!("its build puts down more than {MOST_PLACED} objects")));
        }
        if depth > DEEPEST {
            return Err(refuse(format!(
                "its components lie in each other more than {DEEPEST} deep"
            )));
        }
        let object = &model.objects[&id];
        if object.kind == ObjectKind::Support {
            self.supports += 1;
            return Ok(());
        }
        if !object.mesh.triangles.is_empty() {
            if self.bodies.len() >= MOST_BODIES {
                return Err(refuse(format!("its build comes to more than {MOST_BODIES} bodies")));
            }
            self.triangles += object.mesh.triangles.len();
            if self.triangles > MAX_TRIANGLES {
                return Err(MeshFileError::TooMany);
            }
            self.bodies.push(FoundBody {
                name: object.name.clone(),
                colour: object.colour,
                mesh: moved(&object.mesh, transform),
            });
        }
        for (part, own) in &object.components {
            self.put_down(model, *part, &after(own, transform), depth + 1)?;
        }
        Ok(())
    }
}

/// One transform and then another.
fn after(first: &Transform, then: &Transform) -> Transform {
    let row = |x: f64, y: f64, z: f64, is_point: f64| {
        [0, 1, 2].map(|i| x * then[i] + y * then[3 + i] + z * then[6 + i] + is_point * then[9 + i])
    };
    let mut made = [0.0; 12];
    for i in 0..4 {
        let [x, y, z] = [first[3 * i], first[3 * i + 1], first[3 * i + 2]];
        made[3 * i..3 * i + 3].copy_from_slice(&row(x, y, z, f64::from(u8::from(i == 3))));
    }
    made
}

/// A mesh moved; one that is mirrored is turned so that its outside stays outside.
fn moved(mesh: &Mesh, t: &Transform) -> Mesh {
    let at =
        |[x, y, z]: &[f64; 3]| [0, 1, 2].map(|i| x * t[i] + y * t[3 + i] + z * t[6 + i] + t[9 + i]);
    let mut triangles = mesh.triangles.clone();
    if determinant(t) < 0.0 {
        triangles.iter_mut().for_each(|triangle| triangle.swap(1, 2));
    }
    Mesh { vertices: mesh.vertices.iter().map(at).collect(), triangles }
}
