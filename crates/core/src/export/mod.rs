//! Taking a piece away: what it is written as, as one file or several, and what the files are called.

mod drawing;
mod model;
mod naming;
mod picture;

pub use drawing::drawing_of;
pub use model::{Division, model_of};
pub use naming::{file_name, free_name};
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
    let model = match (wanted.format, wanted.division) {
        (Format::ThreeMf, Division::Together) => model::model_of_components(piece, evaluation),
        (_, division) => model_of(piece, evaluation, division),
    };
    let model = Model { date: wanted.date, ..model };
    let is_single = model.parts.len() == 1;
    let ending = wanted.format.ending();
    // The models that get a file of their own.
    let mut each = |ends: &[&str]| -> Vec<(Model<'_>, Vec<String>)> {
        let is_stl = matches!(wanted.format, Format::Stl | Format::StlText);
        let is_one_file = match wanted.division {
            Division::Apart => wanted.format == Format::ThreeMf || is_single,
            Division::Split => !is_stl || is_single,
            Division::Together => true,
        };
        if is_one_file {
            let names = ends.iter().map(|end| naming.whole(end)).collect();
            return vec![(model.clone(), names)];
        }
        (0..model.parts.len())
            .map(|i| {
                let part = model.only(i);
                let name = part.parts[0].name.clone();
                let names = ends.iter().map(|end| naming.part(i + 1, &name, end)).collect();
                (part, names)
            })
            .collect()
    };
    let mesh_file = |model: &Model<'_>, names: &[String], bytes: Vec<u8>| OutFile {
        name: names[0].clone(),
        bytes,
        triangles: Some(model.parts.iter().map(|part| part.mesh.triangles.len()).sum()),
    };
    match wanted.format {
        Format::Stl | Format::StlText => each(&[ending])
            .iter()
            .map(|(model, names)| {
                let Some(part) = model.parts.first() else {
                    return mesh_file(model, names, vec![]);
                };
                let bytes = match wanted.format {
                    Format::Stl => stl::write_binary(&part.mesh, &part.name),
                    _ => stl::write_ascii(&part.mesh, &part.name).into_bytes(),
                };
                mesh_file(model, names, bytes)
            })
            .collect(),
        Format::ThreeMf => {
            let (mut model, names) = each(&[ending]).remove(0);
            model.picture = render::solid(&model, THUMBNAIL.0, THUMBNAIL.1);
            vec![mesh_file(&model, &names, threemf::write(&model))]
        }
        Format::Obj if wanted.division == Division::Together => each(&[ending])
            .iter()
            .map(|(model, names)| mesh_file(model, names, obj::write(model, None).into_bytes()))
            .collect(),
        Format::Obj => each(&[ending, "mtl"])
            .iter()
            .flat_map(|(model, names)| {
                let library = OutFile {
                    name: names[1].clone(),
                    bytes: obj::write_materials(model).into_bytes(),
                    triangles: None,
                };
                let text = obj::write(model, Some(&names[1]));
                [mesh_file(model, names, text.into_bytes()), library]
            })
            .collect(),
        Format::Svg | Format::Dxf | Format::PlanPng | Format::SolidPng | Format::Piece => {
            let bytes = drawn(piece, evaluation, wanted.format);
            vec![OutFile { name: naming.whole(ending), bytes, triangles: None }]
        }
    }
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
