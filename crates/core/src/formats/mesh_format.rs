use super::{obj, stl, threemf};
use crate::solid::Mesh;
use serde::Deserialize;

/// The kinds of file a mesh is written to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Deserialize)]
pub enum MeshFormat {
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
    /// OBJ.
    #[serde(rename = "obj")]
    Obj,
}

impl MeshFormat {
    /// The format a file of this ending is written in, if there is one; binary STL for `stl`.
    pub fn by_ending(ending: &str) -> Option<Self> {
        let all = [MeshFormat::Stl, MeshFormat::ThreeMf, MeshFormat::Obj];
        all.into_iter().find(|format| format.ending().eq_ignore_ascii_case(ending))
    }

    /// What its file names end in.
    pub fn ending(self) -> &'static str {
        match self {
            MeshFormat::Stl | MeshFormat::StlText => "stl",
            MeshFormat::ThreeMf => "3mf",
            MeshFormat::Obj => "obj",
        }
    }

    /// Its media type (IANA registry: model/stl, model/3mf, model/obj).
    pub fn media_type(self) -> &'static str {
        match self {
            MeshFormat::Stl | MeshFormat::StlText => "model/stl",
            MeshFormat::ThreeMf => "model/3mf",
            MeshFormat::Obj => "model/obj",
        }
    }

    /// A mesh as a file of this format, called by the name of its piece.
    pub fn write(self, mesh: &Mesh, name: &str) -> Vec<u8> {
        match self {
            MeshFormat::Stl => stl::write_binary(mesh, name),
            MeshFormat::StlText => stl::write_ascii(mesh, name).into_bytes(),
            MeshFormat::ThreeMf => threemf::write(mesh, name),
            MeshFormat::Obj => obj::write(mesh, name).into_bytes(),
        }
    }
}
