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

/// Writes an evaluated piece. Several files where each colour has its own, or where a format takes
/// more than one; their names never collide.
pub fn export(piece: &Piece, evaluation: &Evaluation, wanted: Wanted<'_>) -> Vec<OutFile> {
    const THUMBNAIL: (u32, u32) = (320, 240);
    if wanted.each && piece.components.len() > 1 && wanted.format.is_mesh() {
        return export_each(piece, evaluation, wanted);
    }
    let mut naming = Naming::of(piece, wanted.date);
    let ending = wanted.format.ending();
    let model = match (wanted.format, wanted.division) {
        (Format::ThreeMf, Division::Together) => model::model_of_components(piece, evaluation),
        (_, division) => model_of(piece, evaluation, division),
    };
    let model = Model { date: wanted.date, ..model };
    match wanted.format {
        Format::Stl | Format::StlText => named(&model, wanted, &mut naming, &[ending])
            .iter()
            .map(|(model, names)| stl_file(model, names, wanted.format))
            .collect(),
        Format::ThreeMf => {
            let (mut model, names) = named(&model, wanted, &mut naming, &[ending]).remove(0);
            model.picture = render::solid(&model, THUMBNAIL.0, THUMBNAIL.1);
            vec![mesh_file(&model, &names, threemf::write(&model))]
        }
        Format::Obj if wanted.division == Division::Together => {
            let all = named(&model, wanted, &mut naming, &[ending]);
            let file = |(model, names): &(Model<'_>, Vec<String>)| {
                mesh_file(model, names, obj::write(model, None).into_bytes())
            };
            all.iter().map(file).collect()
        }
        Format::Obj => {
            let all = named(&model, wanted, &mut naming, &[ending, "mtl"]);
            all.iter().flat_map(|(model, names)| obj_files(model, names)).collect()
        }
        Format::Svg | Format::Dxf | Format::PlanPng | Format::SolidPng | Format::Piece => {
            let bytes = drawn(piece, evaluation, wanted.format);
            vec![OutFile { name: naming.whole(ending), bytes, triangles: None }]
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

fn mesh_file(model: &Model<'_>, names: &[String], bytes: Vec<u8>) -> OutFile {
    OutFile {
        name: names[0].clone(),
        bytes,
        triangles: Some(model.parts.iter().map(|part| part.mesh.triangles.len()).sum()),
    }
}

fn stl_file(model: &Model<'_>, names: &[String], format: Format) -> OutFile {
    let bytes = match (model.parts.first(), format) {
        (None, _) => Vec::new(),
        (Some(part), Format::Stl) => stl::write_binary(&part.mesh, &part.name),
        (Some(part), _) => stl::write_ascii(&part.mesh, &part.name).into_bytes(),
    };
    mesh_file(model, names, bytes)
}

/// An OBJ with the file of its materials.
fn obj_files(model: &Model<'_>, names: &[String]) -> [OutFile; 2] {
    let library = OutFile {
        name: names[1].clone(),
        bytes: obj::write_materials(model).into_bytes(),
        triangles: None,
    };
    let text = obj::write(model, Some(&names[1]));
    [mesh_file(model, names, text.into_bytes()), library]
}

/// The files of every component by itself, named after the piece and the component.
fn export_each(piece: &Piece, evaluation: &Evaluation, wanted: Wanted<'_>) -> Vec<OutFile> {
    let mut files: Vec<OutFile> = Vec::new();
    for (component, made) in piece.components.iter().zip(&evaluation.components) {
        let name = format!("{} {}", piece.name, component.called());
        let alone = Piece { name, components: vec![component.clone()], ..piece.clone() };
        let made = Evaluation { components: vec![made.clone()] };
        for file in export(&alone, &made, Wanted { each: false, ..wanted }) {
            let name = free_name(&files, &file.name);
            files.push(OutFile { name, ..file });
        }
    }
    files
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
