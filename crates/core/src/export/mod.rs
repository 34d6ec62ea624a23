//! Taking a piece away: what it is written as, as one file or several, and what the files are called.

mod drawing;
mod model;
mod naming;
mod picture;

pub use drawing::drawing_of;
pub use model::{Division, model_of};
pub use naming::{file_name, free_among, free_name};
pub use picture::picture_of;

use crate::evaluate::{Evaluation, Made};
use crate::formats::{Model, dxf, obj, render, stl, svg, threemf};
use crate::piece::{self, Lying, Piece};
use naming::Naming;
use serde::Deserialize;
use std::sync::Arc;

/// What a piece can be written as.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Deserialize)]
pub enum Format {
    /// STL, binary.
    #[default]
    #[serde(rename = "stl")]
    Stl,
    /// STL as text.
    #[serde(rename = "stl-text")]
    StlText,
    /// 3MF.
    #[serde(rename = "3mf")]
    ThreeMf,
    /// OBJ, with its material library where colours are told apart.
    #[serde(rename = "obj")]
    Obj,
    /// Outlines by colour and depth as SVG.
    #[serde(rename = "svg")]
    Svg,
    /// Outlines by colour and depth as DXF.
    #[serde(rename = "dxf")]
    Dxf,
    /// A PNG picture of the plan.
    #[serde(rename = "plan-png")]
    PlanPng,
    /// A PNG picture of the solid.
    #[serde(rename = "solid-png")]
    SolidPng,
    /// The piece's own file.
    #[serde(rename = "piece")]
    Piece,
}

/// What is asked of an export.
#[derive(Debug, Clone, Copy, Default)]
pub struct Wanted<'a> {
    /// What it is written as.
    pub format: Format,
    /// How colours are told apart, in mesh files.
    pub division: Division,
    /// Whether every component gets files of its own, where it is written as a mesh; otherwise all lie
    /// side by side on the bed.
    pub each: bool,
    /// The day it is made, as 2026-11-25; nothing leaves it out.
    pub date: Option<&'a str>,
}

/// A file of an export.
#[derive(Debug, Clone, PartialEq)]
pub struct OutFile {
    /// Its name, safe on every system.
    pub name: String,
    /// What it holds.
    pub bytes: Vec<u8>,
    /// How many triangles, for meshes.
    pub triangles: Option<usize>,
}

impl Format {
    /// All of them, by their words.
    pub const ALL: [(&'static str, Format); 9] = [
        ("stl", Format::Stl),
        ("stl-text", Format::StlText),
        ("3mf", Format::ThreeMf),
        ("obj", Format::Obj),
        ("svg", Format::Svg),
        ("dxf", Format::Dxf),
        ("plan-png", Format::PlanPng),
        ("solid-png", Format::SolidPng),
        ("piece", Format::Piece),
    ];

    /// The format a file of this ending is written in, if there is one; binary STL for `stl` and a
    /// picture of the solid for `png`.
    pub fn by_ending(ending: &str) -> Option<Self> {
        let mut all = [Format::SolidPng].into_iter().chain(Format::ALL.map(|(_, format)| format));
        all.find(|format| format.ending().eq_ignore_ascii_case(ending))
    }

    /// Whether it holds meshes.
    pub fn is_mesh(self) -> bool {
        matches!(self, Format::Stl | Format::StlText | Format::ThreeMf | Format::Obj)
    }

    /// What its file names end in.
    pub fn ending(self) -> &'static str {
        match self {
            Format::Stl | Format::StlText => "stl",
            Format::ThreeMf => "3mf",
            Format::Obj => "obj",
            Format::Svg => "svg",
            Format::Dxf => "dxf",
            Format::PlanPng | Format::SolidPng => "png",
            Format::Piece => "kalotype.json",
        }
    }

    /// The media type of files of an ending (IANA registry; DXF as registered there, `image/vnd.dxf`).
    pub fn media_type(ending: &str) -> &'static str {
        match ending {
            "stl" => "model/stl",
            "3mf" => "model/3mf",
            "obj" => "model/obj",
            "mtl" => "model/mtl",
            "svg" => "image/svg+xml",
            "dxf" => "image/vnd.dxf",
            "png" => "image/png",
            "json" => "application/json",
            "zip" => "application/zip",
            _ => "application/octet-stream",
        }
    }
}

/// The name of the archive that holds all files of an export.
pub fn archive_name(piece: &Piece, date: Option<&str>) -> String {
    Naming::of(piece, date).whole("zip")
}

/// A file of an export that is not written yet.
pub struct Planned<'a> {
    /// Its name, safe on every system.
    pub name: String,
    /// How many triangles, for meshes.
    pub triangles: Option<usize>,
    /// How many bytes it comes to, where that is known before it is written.
    pub bytes: Option<usize>,
    write: Box<dyn FnOnce() -> Vec<u8> + 'a>,
}

impl Planned<'_> {
    /// Writes it.
    pub fn written(self) -> OutFile {
        OutFile { bytes: (self.write)(), name: self.name, triangles: self.triangles }
    }
}

/// Writes an evaluated piece. Several files where each colour has its own, or where a format takes
/// more than one; their names never collide.
pub fn export(piece: &Piece, evaluation: &Evaluation, wanted: Wanted<'_>) -> Vec<OutFile> {
    let mut files = Vec::new();
    plan(piece, evaluation, wanted, &mut |planned| files.push(planned.written()));
    files
}

/// The same files one after the other, each written only if whoever takes it does so: to know what there will be
/// costs little.
pub fn plan(
    piece: &Piece,
    evaluation: &Evaluation,
    wanted: Wanted<'_>,
    take: &mut dyn FnMut(Planned<'_>),
) {
    if wanted.each && piece.components.len() > 1 && wanted.format.is_mesh() {
        return plan_each(piece, evaluation, wanted, take);
    }
    let mut naming = Naming::of(piece, wanted.date);
    let ending = wanted.format.ending();
    let model = match (wanted.format, wanted.division) {
        (Format::ThreeMf, Division::Together) => model::model_of_components(piece, evaluation),
        (_, division) => model_of(piece, evaluation, division),
    };
    let model = Model { date: wanted.date, ..model };
    let is_obj_of_parts = wanted.format == Format::Obj && wanted.division != Division::Together;
    let endings = if is_obj_of_parts { &[ending, "mtl"][..] } else { &[ending] };
    match wanted.format {
        Format::Stl | Format::StlText | Format::ThreeMf | Format::Obj => {
            for (model, names) in named(&model, wanted, &mut naming, endings) {
                plan_mesh(model, &names, wanted.format, take);
            }
        }
        Format::Svg | Format::Dxf | Format::PlanPng | Format::SolidPng | Format::Piece => {
            let write = Box::new(|| drawn(piece, evaluation, wanted.format));
            take(Planned { name: naming.whole(ending), triangles: None, bytes: None, write });
        }
    }
}

/// The models that get files of their own, each with the names of those.
fn named<'a>(
    model: &Model<'a>,
    wanted: Wanted<'_>,
    naming: &mut Naming<'_>,
    endings: &[&str],
) -> Vec<(Model<'a>, Vec<String>)> {
    let is_single = model.parts.len() == 1;
    let is_stl = matches!(wanted.format, Format::Stl | Format::StlText);
    let is_one_file = match wanted.division {
        Division::Apart => wanted.format == Format::ThreeMf || is_single,
        Division::Split => !is_stl || is_single,
        Division::Together => true,
    };
    if is_one_file {
        let names = endings.iter().map(|end| naming.whole(end)).collect();
        return vec![(model.clone(), names)];
    }
    let mut part = |i: usize| {
        let part = model.only(i);
        let name = part.parts[0].name.clone();
        let names = endings.iter().map(|end| naming.part(i + 1, &name, end)).collect();
        (part, names)
    };
    (0..model.parts.len()).map(&mut part).collect()
}

/// The mesh file of a model, and the file of its materials where that has a name.
fn plan_mesh(
    mut model: Model<'_>,
    names: &[String],
    format: Format,
    take: &mut dyn FnMut(Planned<'_>),
) {
    const THUMBNAIL: (u32, u32) = (320, 240);
    let materials = names.get(1).map(|name| (name, obj::write_materials(&model).into_bytes()));
    let triangles = model.parts.iter().map(|part| part.mesh.triangles.len()).sum();
    take(Planned {
        name: names[0].clone(),
        triangles: Some(triangles),
        bytes: (format == Format::Stl && !model.parts.is_empty()).then(|| stl::size_of(triangles)),
        write: Box::new(|| match (format, model.parts.first()) {
            (Format::ThreeMf, _) => {
                model.picture = render::solid(&model, THUMBNAIL.0, THUMBNAIL.1);
                threemf::write(&model)
            }
            (Format::Obj, _) => obj::write(&model, names.get(1).map(String::as_str)).into_bytes(),
            (_, None) => Vec::new(),
            (Format::Stl, Some(part)) => stl::write_binary(&part.mesh, &part.name),
            (_, Some(part)) => stl::write_ascii(&part.mesh, &part.name).into_bytes(),
        }),
    });
    if let Some((name, bytes)) = materials {
        let name = name.clone();
        take(Planned {
            name,
            triangles: None,
            bytes: Some(bytes.len()),
            write: Box::new(|| bytes),
        });
    }
}

/// The files of every component by itself, named after the piece and the component.
fn plan_each(
    piece: &Piece,
    evaluation: &Evaluation,
    wanted: Wanted<'_>,
    take: &mut dyn FnMut(Planned<'_>),
) {
    let mut names: Vec<String> = Vec::new();
    for (component, made) in piece.components.iter().zip(&evaluation.components) {
        let name = format!("{} {}", piece.name, component.called());
        let alone = Piece { name, components: vec![component.clone()], ..piece.clone() };
        let made = Evaluation { components: vec![made.clone()] };
        plan(&alone, &made, Wanted { each: false, ..wanted }, &mut |planned| {
            let name = free_among(&names, &planned.name);
            names.push(name.clone());
            take(Planned { name, ..planned });
        });
    }
}

/// A drawing, a picture or the piece itself.
fn drawn(piece: &Piece, evaluation: &Evaluation, format: Format) -> Vec<u8> {
    const PICTURE: (u32, u32) = (1280, 960);
    match format {
        Format::Svg => svg::drawing(&drawing_of(piece, evaluation)).into_bytes(),
        Format::Dxf => dxf::write(&drawing_of(piece, evaluation)),
        Format::PlanPng => {
            let svg = picture_of(piece, &evaluation.components[0].layout);
            render::plan(&svg, PICTURE.0).unwrap_or_default()
        }
        Format::SolidPng => {
            // It is looked at as it is made, not as it lies in the printer.
            let upright =
                |made: &Arc<Made>| Arc::new(Made { lies: Lying::AsMade, ..Made::clone(made) });
            let components = evaluation.components.iter().map(upright).collect();
            let upright = Evaluation { components };
            let model = model_of(piece, &upright, Division::Split);
            render::solid(&model, PICTURE.0, PICTURE.1).unwrap_or_default()
        }
        _ => piece::write(piece).into_bytes(),
    }
}
