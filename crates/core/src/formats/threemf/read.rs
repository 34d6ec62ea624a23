//! Reading: the model part of a package, its objects as meshes or as components of others, placed as
//! the build says, in the unit it states. Everything in it is checked before it is believed, and sizes
//! are limited, since a few kilobytes of ZIP can unfold to anything.

use super::super::{FoundBody, FoundMesh, MAX_TRIANGLES, MeshFileError};
use crate::filament::Rgb;
use crate::solid::Mesh;
use quick_xml::Reader;
use quick_xml::events::{BytesStart, Event};
use std::collections::HashMap;
use std::io::{Cursor, Read};

/// The most a package may have in it, and the most its model may unfold to, in bytes.
const MOST_PARTS: usize = 10_000;
const MOST_MODEL_BYTES: u64 = 256 << 20;

/// How deep components may lie in components.
const DEEPEST: usize = 16;

/// The most bodies a build may come to.
const MOST_BODIES: usize = 10_000;

/// The most objects that may be put down on the way, those that come to nothing among them: a kilobyte of
/// components of components of nothing would have no end.
const MOST_PLACED: usize = 100_000;

/// A transform as the specification writes it: three rows of a matrix and a row of a vector, which
/// a point, as a row, is multiplied by from the left.
type Transform = [f64; 12];

const UNMOVED: Transform = [1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0];

#[derive(Default)]
struct Object {
    name: String,
    colour: Option<Rgb>,
    mesh: Mesh,
    components: Vec<(u32, Transform)>,
}

#[derive(Default)]
struct Model {
    unit: String,
    /// Base materials by group.
    materials: HashMap<u32, Vec<Option<Rgb>>>,
    objects: HashMap<u32, Object>,
    build: Vec<(u32, Transform)>,
    triangles: usize,
}

fn refuse(message: impl Into<String>) -> MeshFileError {
    MeshFileError::ThreeMf(message.into())
}

/// Reads a 3MF package: the bodies its build puts down, in mm.
///
/// # Errors
/// [`MeshFileError`] for what is no package, is too large, or does not hold together.
pub fn read(bytes: &[u8]) -> Result<FoundMesh, MeshFileError> {
    let xml = model_part(bytes)?;
    let model = parse(&xml)?;
    let scale = match model.unit.as_str() {
        "micron" => 1e-3,
        "" | "millimeter" => 1.0,
        "centimeter" => 10.0,
        "inch" => 25.4,
        "foot" => 304.8,
        "meter" => 1000.0,
        other => return Err(refuse(format!("there is no unit “{other}” in 3MF"))),
    };
    let scaled: Transform = UNMOVED.map(|figure| figure * scale);
    let mut build = Build::default();
    for (object, transform) in &model.build {
        put_down(&model, *object, &after(transform, &scaled), 0, &mut build)?;
    }
    let bodies = build.bodies;
    let unit = if model.unit.is_empty() { "millimeter".to_owned() } else { model.unit };
    Ok(FoundMesh { format: "3MF", unit: Some(unit), bodies })
}

/// The text of the model part: the one the package's relationships name, or the only one there is.
fn model_part(bytes: &[u8]) -> Result<String, MeshFileError> {
    let broken = |error: zip::result::ZipError| refuse(error.to_string());
    let mut package = zip::ZipArchive::new(Cursor::new(bytes)).map_err(broken)?;
    if package.len() > MOST_PARTS {
        return Err(refuse(format!("it has {} parts; {MOST_PARTS} are the most", package.len())));
    }
    let named = text_of(&mut package, "_rels/.rels", 1 << 20)?.and_then(|text| model_target(&text));
    let name = match named {
        Some(name) => name.trim_start_matches('/').to_owned(),
        None => package
            .file_names()
            .filter_map(Result::ok)
            .find(|name| name.ends_with(".model"))
            .map(|name| name.into_owned())
            .ok_or_else(|| refuse("there is no model in it"))?,
    };
    text_of(&mut package, &name, MOST_MODEL_BYTES)?
        .ok_or_else(|| refuse(format!("its model, {name}, is missing")))
}

/// The text of a part; nothing where there is no such part.
fn text_of(
    package: &mut zip::ZipArchive<Cursor<&[u8]>>,
    name: &str,
    most: u64,
) -> Result<Option<String>, MeshFileError> {
    let part = match package.by_name(name) {
        Ok(part) => part,
        Err(zip::result::ZipError::FileNotFound) => return Ok(None),
        Err(error) => return Err(refuse(error.to_string())),
    };
    let mut bytes = Vec::new();
    part.take(most + 1).read_to_end(&mut bytes).map_err(|error| refuse(error.to_string()))?;
    if bytes.len() as u64 > most {
        return Err(refuse(format!("{name} unfolds to more than {} MB", most >> 20)));
    }
    let text = String::from_utf8(bytes).map_err(|_| refuse(format!("{name} is not in UTF-8")))?;
    Ok(Some(text.strip_prefix('\u{feff}').map(str::to_owned).unwrap_or(text)))
}

fn model_target(relationships: &str) -> Option<String> {
    const KIND: &str = "http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel";
    let mut reader = Reader::from_str(relationships);
    loop {
        let tag = match reader.read_event().ok()? {
            Event::Eof => return None,
            Event::Start(tag) | Event::Empty(tag) => tag,
            _ => continue,
        };
        let is_relationship = tag.local_name().as_ref() == "Relationship";
        if is_relationship && attribute(&tag, "Type").ok()?.as_deref() == Some(KIND) {
            return attribute(&tag, "Target").ok()?;
        }
    }
}

/// An attribute of a tag, unescaped. Entities other than those of XML itself are refused.
fn attribute(tag: &BytesStart<'_>, name: &str) -> Result<Option<String>, MeshFileError> {
    let found = tag.try_get_attribute(name).map_err(|error| refuse(error.to_string()))?;
    let Some(found) = found else { return Ok(None) };
    let text =
        quick_xml::escape::unescape(&found.value).map_err(|error| refuse(error.to_string()))?;
    Ok(Some(text.into_owned()))
}

fn needed(tag: &BytesStart<'_>, name: &str) -> Result<String, MeshFileError> {
    attribute(tag, name)?
        .ok_or_else(|| refuse(format!("a {} without “{name}”", tag.local_name().as_ref())))
}

fn whole(tag: &BytesStart<'_>, name: &str) -> Result<u32, MeshFileError> {
    let text = needed(tag, name)?;
    text.trim().parse().map_err(|_| refuse(format!("{name} is “{text}”, which is no whole number")))
}

fn figure(text: &str) -> Result<f64, MeshFileError> {
    let found = text.trim().parse().ok().filter(|figure: &f64| figure.is_finite());
    found.ok_or_else(|| refuse(format!("“{text}” is no number")))
}

fn transform(tag: &BytesStart<'_>) -> Result<Transform, MeshFileError> {
    let Some(text) = attribute(tag, "transform")? else { return Ok(UNMOVED) };
    let figures: Result<Vec<f64>, _> = text.split_whitespace().map(figure).collect();
    figures?.try_into().map_err(|_| refuse("a transform has twelve figures"))
}

fn parse(xml: &str) -> Result<Model, MeshFileError> {
    let mut model = Model::default();
    let mut reader = Reader::from_str(xml);
    let mut object: Option<(u32, Object)> = None;
    let mut group = 0;
    let mut is_closed = false;
    loop {
        let event = reader
            .read_event()
            .map_err(|error| refuse(format!("at byte {}: {error}", reader.error_position())))?;
        match event {
            Event::Eof if is_closed => return Ok(model),
            Event::Eof => return Err(refuse("its model breaks off")),
            Event::DocType(_) => return Err(refuse("its model has a DTD, which 3MF forbids")),
            Event::Start(tag) | Event::Empty(tag) => match tag.local_name().as_ref() {
                "model" => model.unit = attribute(&tag, "unit")?.unwrap_or_default(),
                "basematerials" => group = whole(&tag, "id")?,
                "base" => {
                    let colour = attribute(&tag, "displaycolor")?.and_then(|text| rgb(&text));
                    model.materials.entry(group).or_default().push(colour);
                }
                "object" => object = Some((whole(&tag, "id")?, begun(&model, &tag)?)),
                "vertex" => {
                    let at = |axis: &str| figure(&needed(&tag, axis)?);
                    let vertex = [at("x")?, at("y")?, at("z")?];
                    if let Some((_, object)) = &mut object {
                        object.mesh.vertices.push(vertex);
                    }
                }
                "triangle" => {
                    model.triangles += 1;
                    if model.triangles > MAX_TRIANGLES {
                        return Err(MeshFileError::TooMany);
                    }
                    let corners = [whole(&tag, "v1")?, whole(&tag, "v2")?, whole(&tag, "v3")?];
                    if let Some((_, object)) = &mut object {
                        object.mesh.triangles.push(corners);
                    }
                }
                "component" => {
                    let component = (whole(&tag, "objectid")?, transform(&tag)?);
                    if let Some((_, object)) = &mut object {
                        object.components.push(component);
                    }
                }
                "item" => model.build.push((whole(&tag, "objectid")?, transform(&tag)?)),
                _ => {}
            },
            Event::End(tag) => match tag.local_name().as_ref() {
                "object" => {
                    let Some((id, object)) = object.take() else { continue };
                    let count = object.mesh.vertices.len();
                    let outside = |corner: &u32| *corner as usize >= count;
                    if object.mesh.triangles.iter().flatten().any(outside) {
                        return Err(refuse(format!("object {id} names a vertex it lacks")));
                    }
                    if model.objects.insert(id, object).is_some() {
                        return Err(refuse(format!("there are two objects {id}")));
                    }
                }
                "model" => is_closed = true,
                _ => {}
            },
            _ => {}
        }
    }
}

/// An object as its tag begins it: its name, and its colour if it is of one material.
fn begun(model: &Model, tag: &BytesStart<'_>) -> Result<Object, MeshFileError> {
    let name = attribute(tag, "name")?.unwrap_or_default();
    let number = |name: &str| attribute(tag, name).map(|text| text.and_then(|t| t.parse().ok()));
    let (group, index): (Option<u32>, Option<usize>) =
        (number("pid")?, number("pindex")?.map(|index: u32| index as usize));
    let colours = group.and_then(|group| model.materials.get(&group));
    let colour = colours.zip(index).and_then(|(all, index)| all.get(index).copied().flatten());
    Ok(Object { name, colour, ..Object::default() })
}

/// `#RRGGBB` or `#RRGGBBAA` (3MF Core Specification 1.3, ST_ColorValue).
fn rgb(text: &str) -> Option<Rgb> {
    let opaque = if text.len() == 9 { text.get(..7)? } else { text };
    Rgb::try_from(opaque.to_owned()).ok()
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

/// What a build came to so far.
#[derive(Default)]
struct Build {
    bodies: Vec<FoundBody>,
    triangles: usize,
    placed: usize,
}

/// Puts an object and its components down as bodies.
fn put_down(
    model: &Model,
    id: u32,
    transform: &Transform,
    depth: usize,
    build: &mut Build,
) -> Result<(), MeshFileError> {
    build.placed += 1;
    if build.placed > MOST_PLACED {
        return Err(refuse(format!("its build puts down more than {MOST_PLACED} objects")));
    }
    let object =
        model.objects.get(&id).ok_or_else(|| refuse(format!("there is no object {id}")))?;
    if depth > DEEPEST {
        return Err(refuse("its components lie in each other without end"));
    }
    if !object.mesh.triangles.is_empty() {
        if build.bodies.len() >= MOST_BODIES {
            return Err(refuse(format!("its build comes to more than {MOST_BODIES} bodies")));
        }
        build.triangles += object.mesh.triangles.len();
        if build.triangles > MAX_TRIANGLES {
            return Err(MeshFileError::TooMany);
        }
        build.bodies.push(FoundBody {
            name: object.name.clone(),
            colour: object.colour,
            mesh: moved(&object.mesh, transform),
        });
    }
    for (part, own) in &object.components {
        put_down(model, *part, &after(own, transform), depth + 1, build)?;
    }
    Ok(())
}

/// A mesh moved; one that is mirrored is turned so that its outside stays outside.
fn moved(mesh: &Mesh, t: &Transform) -> Mesh {
    let at =
        |[x, y, z]: &[f64; 3]| [0, 1, 2].map(|i| x * t[i] + y * t[3 + i] + z * t[6 + i] + t[9 + i]);
    let determinant = t[0] * (t[4] * t[8] - t[5] * t[7]) - t[1] * (t[3] * t[8] - t[5] * t[6])
        + t[2] * (t[3] * t[7] - t[4] * t[6]);
    let mut triangles = mesh.triangles.clone();
    if determinant < 0.0 {
        triangles.iter_mut().for_each(|triangle| triangle.swap(1, 2));
    }
    Mesh { vertices: mesh.vertices.iter().map(at).collect(), triangles }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formats::{archive, read_mesh};

    /// A corner of a cube as an object, so many units along its legs.
    const CORNER: &str = r#"<mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/>
        <vertex x="0" y="2" z="0"/><vertex x="0" y="0" z="3"/></vertices><triangles>
        <triangle v1="0" v2="2" v3="1"/><triangle v1="0" v2="1" v3="3"/><triangle v1="0" v2="3" v3="2"/>
        <triangle v1="1" v2="2" v3="3"/></triangles></mesh>"#;

    fn package(model: &str) -> Vec<u8> {
        archive([("3D/any.model", model.as_bytes())].into_iter())
    }

    fn model(unit: &str, objects: &str, build: &str) -> Vec<u8> {
        package(&format!(
            "<?xml version=\"1.0\"?><model unit=\"{unit}\"><resources><basematerials id=\"9\"><base \
             name=\"a\" displaycolor=\"#10203040\"/></basematerials><object id=\"1\" name=\"&lt;Å&gt;\" \
             pid=\"9\" pindex=\"0\">{CORNER}</object>{objects}</resources><build>{build}</build></model>"
        ))
    }

    #[test]
    fn objects_are_put_down_as_the_build_and_the_unit_say() {
        let parts = "<object id=\"2\"><components><component objectid=\"1\" \
                     transform=\"-1 0 0 0 1 0 0 0 1 5 0 0\"/><component objectid=\"1\"/></components></object>";
        let build = "<item objectid=\"2\" transform=\"1 0 0 0 1 0 0 0 2 0 0 0\"/>";
        let found = read_mesh(&model("inch", parts, build)).unwrap();
        assert_eq!((found.format, found.unit.as_deref()), ("3MF", Some("inch")));
        assert_eq!(found.bodies.len(), 2);
        // abc/6, twice as tall, in cubic inches; the mirrored one is no less outward.
        for body in &found.bodies {
            assert!((body.mesh.measures().volume - 2.0 * 25.4f64.powi(3)).abs() < 1e-9);
            assert_eq!((body.name.as_str(), body.colour), ("<Å>", Some(Rgb([16, 32, 48]))));
        }
        assert!((found.bodies[0].mesh.measures().high[0] - 5.0 * 25.4).abs() < 1e-9);
        assert!(found.faults().is_sound());
    }

    #[test]
    fn what_does_not_hold_together_is_refused_with_its_reason() {
        let item = "<item objectid=\"1\"/>";
        let said = |bytes: Vec<u8>| read_mesh(&bytes).unwrap_err().to_string();
        for (bytes, words) in [
            (model("furlong", "", item), "there is no unit “furlong”"),
            (model("inch", "", "<item objectid=\"7\"/>"), "there is no object 7"),
            (model("inch", "", "<item objectid=\"1\" transform=\"1 0\"/>"), "twelve figures"),
            (model("inch", "", ""), "no triangle"),
            (
                model(
                    "inch",
                    "<object id=\"2\"><components><component objectid=\"2\"/></components></object>",
                    "<item objectid=\"2\"/>",
                ),
                "without end",
            ),
            (package("<model><resources>"), "breaks off"),
            (package("<!DOCTYPE m [<!ENTITY a \"b\">]><model></model>"), "DTD"),
            (package("<model><object id=\"&boom;\"/></model>"), "boom"),
            (package("<model><vertex x=\"NaN\" y=\"0\" z=\"0\"/></model>"), "“NaN” is no number"),
            (
                package(
                    "<model><object id=\"1\"><triangle v1=\"0\" v2=\"1\" v3=\"2\"/></object></model>",
                ),
                "names a vertex it lacks",
            ),
            (archive([("a.txt", &b"x"[..])].into_iter()), "there is no model in it"),
            (b"PK\x03\x04 and nothing more".to_vec(), "cannot be read"),
        ] {
            let message = said(bytes);
            assert!(message.contains(words), "{message}: {words}");
        }
    }

    /// A quarter of a gigabyte of blanks packs to a quarter of a megabyte.
    #[test]
    fn what_unfolds_without_measure_is_refused() {
        let bomb = vec![b' '; (MOST_MODEL_BYTES + 2) as usize];
        let bytes = archive([("3D/any.model", &bomb[..])].into_iter());
        assert!(bytes.len() < 1 << 20);
        let said = read_mesh(&bytes).unwrap_err().to_string();
        assert!(said.contains("unfolds to more than 256 MB"), "{said}");
    }

    /// Sixteen levels of components, sixty-four references each, to an object without triangles.
    #[test]
    fn components_of_nothing_end() {
        let mut objects = String::from("<object id=\"100\"><mesh/></object>");
        for level in (1..=14).rev() {
            let below = if level == 14 { 100 } else { 100 + level + 1 };
            let one = format!("<component objectid=\"{below}\"/>");
            let all = one.repeat(64);
            let id = 100 + level;
            objects += &format!("<object id=\"{id}\"><components>{all}</components></object>");
        }
        let bytes = model("millimeter", &objects, "<item objectid=\"101\"/>");
        let said = read_mesh(&bytes).unwrap_err().to_string();
        assert!(said.contains("more than 100000 objects"), "{said}");
    }
}
