use crate::build::Evaluation;
use crate::colour::Filament;
use crate::piece::Piece;
use crate::solid::Mesh;
use serde::Deserialize;

/// How the colours of a piece are told apart in a mesh file.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Division {
    /// Not at all: one mesh.
    #[default]
    Together,
    /// A part for each colour, the parts belonging together: of one object in 3MF, of one file in
    /// OBJ. STL knows no parts and takes a file for each.
    Split,
    /// Each colour on its own: an object for each in 3MF, a file for each in OBJ and STL, all on one
    /// origin.
    Apart,
}

/// What a mesh file holds.
#[derive(Debug, Clone)]
pub struct Model<'a> {
    /// What it is called.
    pub name: &'a str,
    /// The day it was made, as 2026-11-25.
    pub date: Option<&'a str>,
    /// Its parts, in mm on one origin.
    pub parts: Vec<Part<'a>>,
    /// Whether the parts are one object.
    pub is_one_object: bool,
    /// A PNG picture of it.
    pub picture: Option<Vec<u8>>,
}

/// A part of a model.
#[derive(Debug, Clone, Copy)]
pub struct Part<'a> {
    /// What it is called.
    pub name: &'a str,
    /// What it prints in.
    pub filament: &'a Filament,
    /// Its closed mesh.
    pub mesh: &'a Mesh,
}

impl<'a> Model<'a> {
    /// The model of a piece: all of it in one part in the filament of the plate, or a part for each
    /// colour, called by the name of its filament.
    pub fn of(piece: &'a Piece, evaluation: &'a Evaluation, division: Division) -> Self {
        let parts = match division {
            Division::Together => vec![Part {
                name: &piece.name,
                filament: &piece.filaments[piece.filament_of(None)],
                mesh: &evaluation.mesh,
            }],
            Division::Split | Division::Apart => {
                let part = |body: &'a crate::build::Body| {
                    let filament = &piece.filaments[body.filament];
                    Part { name: &filament.name, filament, mesh: &body.mesh }
                };
                evaluation.bodies.iter().map(part).collect()
            }
        };
        let is_one_object = division != Division::Apart;
        Model { name: &piece.name, date: None, parts, is_one_object, picture: None }
    }

    /// The same with only one of its parts.
    pub fn only(&self, part: usize) -> Model<'a> {
        Model { parts: vec![self.parts[part]], picture: None, ..*self }
    }

    /// The lowest coordinates of all parts, in mm.
    pub fn low(&self) -> [f64; 3] {
        let lows = self.parts.iter().map(|part| part.mesh.measures().low);
        lows.reduce(|a, b| [0, 1, 2].map(|axis| a[axis].min(b[axis]))).unwrap_or_default()
    }

    /// Its filaments, each once, in the order of the parts.
    pub fn filaments(&self) -> Vec<&'a Filament> {
        let mut filaments: Vec<&Filament> = Vec::new();
        for part in &self.parts {
            if !filaments.iter().any(|known| known.id == part.filament.id) {
                filaments.push(part.filament);
            }
        }
        filaments
    }
}
