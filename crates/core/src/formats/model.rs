//! What goes into a mesh file, whatever its format.

use crate::filament::Filament;
use crate::solid::Mesh;
use std::borrow::Cow;

/// What a mesh file holds.
#[derive(Debug, Clone)]
pub struct Model<'a> {
    /// What it is called.
    pub name: &'a str,
    /// The day it was made, as 2026-11-25.
    pub date: Option<&'a str>,
    /// Its parts, in mm on one origin.
    pub parts: Vec<Part<'a>>,
    /// What its parts make up, one after the other: things that can be moved by themselves.
    pub objects: Vec<Object<'a>>,
    /// A PNG picture of it.
    pub picture: Option<Vec<u8>>,
}

/// What some parts make up together.
#[derive(Debug, Clone)]
pub struct Object<'a> {
    /// What it is called.
    pub name: Cow<'a, str>,
    /// How many of the parts belong to it.
    pub parts: usize,
}

/// A part of a model.
#[derive(Debug, Clone)]
pub struct Part<'a> {
    /// What it is called.
    pub name: Cow<'a, str>,
    /// What it prints in.
    pub filament: &'a Filament,
    /// Its closed mesh.
    pub mesh: Cow<'a, Mesh>,
}

impl<'a> Model<'a> {
    /// The same with only one of its parts.
    pub fn only(&self, part: usize) -> Model<'a> {
        let parts = vec![self.parts[part].clone()];
        let objects = vec![Object { name: parts[0].name.clone(), parts: 1 }];
        Model { parts, objects, picture: None, ..*self }
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
