//! Mesh files of others: looked into, measured, checked, and kept as blanks for pieces.

use super::readers::{ReadMesh, Readers};
use super::{Service, Trouble, Viewer};
use kalotype_core::evaluate::Evaluation;
use kalotype_core::filament::{Tones, shipped_palette};
use kalotype_core::formats::FoundBody;
use kalotype_core::halt::Halt;
use kalotype_core::piece::{Blank, MeshBlank, Outline, Piece, WorkedFace};
use kalotype_core::plane::Tolerance;
use kalotype_core::solid::{Faults, Mesh};
use kalotype_core::stock::{self, Stock};
use kalotype_core::units::{Length, Unit, format_length};
use kalotype_store::{KeptMesh, StoreError};
use serde::Serialize;

/// What is in a mesh file. Lengths are in mm where the file states a unit, else in its own figures.
#[derive(Serialize)]
pub struct MeshReport {
    /// What kind of file it is.
    format: String,
    /// The unit it states.
    unit: Option<String>,
    /// What its figures probably are.
    likely_unit: &'static str,
    size: [f64; 3],
    triangles: usize,
    volume: f64,
    bodies: Vec<BodyReport>,
    faults: Faults,
    is_sound: bool,
    /// What is wrong with it, a sentence each.
    sentences: Vec<String>,
    /// What is against the rules of its format but does no harm, a sentence each.
    remarks: Vec<String>,
    /// Whether and how a piece can be made of it.
    blank: BlankReport,
}

#[derive(Serialize)]
struct BodyReport {
    name: String,
    colour: Option<String>,
    triangles: usize,
    volume: f64,
}

/// What a mesh is as a blank.
#[derive(Serialize)]
struct BlankReport {
    /// Why no piece can be made of it.
    refusal: Option<String>,
    /// Whether its surface has to be mended first.
    is_mended: bool,
    /// Millimetres to one of its figures, as far as can be told.
    scale: f64,
    /// Its flat faces, the largest first.
    faces: Vec<FaceReport>,
}

/// A flat face of a mesh, in its own figures.
#[derive(Serialize)]
pub struct FaceReport {
    facing: &'static str,
    size: [f64; 2],
    area: f64,
    normal: [f64; 3],
    level: f64,
}

/// The flat faces of stock.
pub fn faces_of(stock: &Stock) -> Vec<FaceReport> {
    let face = |face: &stock::FlatFace| FaceReport {
        facing: face.facing(),
        size: face.size(&stock.mesh),
        area: face.area,
        normal: face.normal,
        level: face.level,
    };
    stock.faces.iter().map(face).collect()
}

/// What there is to say of a mesh file that was read, and of the stock it makes.
pub fn report_on(read: &ReadMesh) -> MeshReport {
    let ReadMesh { found, faults, stock } = read;
    let body = |body: &FoundBody| BodyReport {
        name: body.name.clone(),
        colour: body.colour.map(|colour| colour.to_string()),
        triangles: body.mesh.triangles.len(),
        volume: body.mesh.measures().volume,
    };
    let bodies: Vec<BodyReport> = found.bodies.iter().map(body).collect();
    let refusal = stock.as_ref().err().map(|error| format!("No piece can be made of it: {error}."));
    let stock = stock.as_ref().ok();
    MeshReport {
        format: found.format.to_string(),
        unit: found.unit.clone(),
        likely_unit: found.likely_unit(),
        size: found.size(),
        triangles: bodies.iter().map(|body| body.triangles).sum(),
        volume: bodies.iter().map(|body| body.volume).sum(),
        bodies,
        faults: *faults,
        is_sound: faults.is_sound(),
        sentences: faults.sentences(),
        remarks: found.remarks.clone(),
        blank: BlankReport {
            refusal,
            is_mended: stock.is_some_and(|stock| stock.was_mended),
            scale: found.likely_scale(),
            faces: stock.map(faces_of).unwrap_or_default(),
        },
    }
}

/// The stock a mesh file makes.
///
/// # Errors
/// [`Trouble::Bad`] with why it cannot be read or worked on.
pub fn stock_of(name: String, file: &[u8]) -> Result<Stock, Trouble> {
    let stock = Readers::Here.stock(file, false, &Halt::default())?;
    Ok(Stock { name, ..stock })
}

/// A piece of one of the flat faces of stock, the largest being 0.
///
/// # Errors
/// [`Trouble::Bad`] where there is no such face, or the mesh cannot stand on a bed at this scale.
pub fn piece_of(stock: &Stock, file: &str, face: usize, scale: f64) -> Result<Piece, Trouble> {
    let count = stock.faces.len();
    let chosen = stock.faces.get(face).ok_or_else(|| {
        Trouble::Bad(format!("There is no flat face {}; the mesh has {count}.", face + 1))
    })?;
    let mut piece = Piece::new("Mesh", Unit::Millimetre);
    let blank = MeshBlank {
        mesh: stock.id.clone(),
        file: file.to_owned(),
        scale,
        face: WorkedFace { normal: chosen.normal, level: chosen.level },
        turn: 0.0,
        colour: piece.filaments[0].id.clone(),
    };
    if stock::level(stock, &blank).is_none() {
        return Err(Trouble::Bad(format!(
            "At this scale the mesh is less than 1 mm across or more than {} mm. Choose the unit it \
             was drawn in.",
            stock::MAX_EXTENT_MM
        )));
    }
    piece.components[0].blank = Blank::Mesh(blank);
    Ok(piece)
}

/// A mesh file looked into: what there is to say of it, its meshes, and how they are drawn.
pub struct Looked {
    /// What there is to say.
    pub report: MeshReport,
    /// How its bodies are drawn.
    pub tones: Vec<Tones>,
    /// The meshes of its bodies.
    pub meshes: Vec<Mesh>,
}

/// What there is to see and say of a mesh file that was read.
fn looked(read: ReadMesh) -> Looked {
    let report = report_on(&read);
    let found = read.found;
    let plain = shipped_palette().swap_remove(0).colour;
    let tones = found.bodies.iter().map(|body| body.colour.unwrap_or(plain).tones()).collect();
    Looked { report, tones, meshes: found.bodies.into_iter().map(|body| body.mesh).collect() }
}

impl Service {
    /// Looks into a mesh file. Nothing is kept.
    ///
    /// # Errors
    /// Why it cannot be read, or where the work was stopped.
    pub fn look_into_mesh(&self, file: &[u8], halt: &Halt) -> Result<Looked, Trouble> {
        Ok(looked(self.readers.mesh(file, halt)?))
    }

    /// Keeps a mesh file under its name, and returns its id.
    ///
    /// # Errors
    /// Where no piece can be made of it, the work was stopped, or the store fails.
    pub fn keep_mesh(&self, name: &str, file: &[u8], halt: &Halt) -> Result<String, Trouble> {
        let stock = self.readers.stock(file, false, halt)?;
        let kept = KeptMesh {
            id: stock.id,
            name: name.trim().chars().take(120).collect(),
            file: file.to_vec(),
            triangles: stock.mesh.triangles.len() as u32,
            is_mended: stock.was_mended,
        };
        self.store().keep_mesh(&kept)?;
        Ok(kept.id)
    }

    /// A mesh file that is kept.
    ///
    /// # Errors
    /// Where there is none of this id.
    pub fn kept_mesh(&self, id: &str) -> Result<KeptMesh, Trouble> {
        Ok(self.store().mesh(id)?.ok_or(StoreError::NotOnShelf)?)
    }

    /// Makes a piece of a mesh that is kept, and returns its id.
    ///
    /// # Errors
    /// Where there is no such mesh or face, or the piece cannot be.
    pub fn piece_of_mesh(
        &self,
        mesh: &str,
        name: &str,
        units: Unit,
        (face, scale): (usize, f64),
        viewer: &Viewer,
    ) -> Result<String, Trouble> {
        let file = self.kept_mesh(mesh)?.name;
        let workshop = self.workshop(Tolerance::Normal, Halt::default());
        let stock = workshop.mesh(mesh).ok_or(StoreError::NotOnShelf)?;
        let piece = piece_of(&stock, &file, face, scale)?;
        self.create(&Piece { name: name.trim().to_owned(), units, ..piece }, viewer)
    }

    /// Takes a mesh away that no piece is made of.
    ///
    /// # Errors
    /// Where a piece is made of it, or there is none.
    pub fn drop_mesh(&self, id: &str) -> Result<(), Trouble> {
        self.store().drop_mesh(id)?;
        self.library.forget(id);
        Ok(())
    }
}

/// Width, height and thickness of a piece in words: as they were given, of a contour blank as it came
/// out, of a mesh or anything that stands all of it.
pub fn size_words(piece: &Piece, evaluation: &Evaluation) -> String {
    let made = &evaluation.components[0];
    let rounded = |mm: f64| Length::mm((mm * 10.0).round() / 10.0);
    let blank = &made.layout.blank;
    let layout = &made.layout;
    let size = given_size(piece).unwrap_or_else(|| {
        let size = match (&layout.stock, &layout.profile, &layout.stack) {
            (Some(stock), _, _) => stock.extent,
            (_, Some(profile), _) => profile.size(),
            (_, _, Some(stack)) => stack.size,
            _ => [blank.rect.width(), blank.rect.height(), blank.thickness],
        };
        size.map(rounded)
    });
    in_words(piece, size)
}

/// The same where it is known without working the piece out.
pub fn given_size_words(piece: &Piece) -> Option<String> {
    Some(in_words(piece, given_size(piece)?))
}

/// The size of a plate that does not follow what is on it.
fn given_size(piece: &Piece) -> Option<[Length; 3]> {
    let plate = piece.first().plate()?;
    let follows = matches!(plate.outline, Outline::Contour(_));
    (!follows).then_some([plate.width, plate.height, plate.thickness])
}

fn in_words(piece: &Piece, [width, height, thickness]: [Length; 3]) -> String {
    let figure = |length: Length| {
        format_length(length, piece.units).replace(piece.units.sign(), "").trim().to_owned()
    };
    let size = [figure(width), figure(height), format_length(thickness, piece.units)].join(" × ");
    match piece.components.len() {
        1 => size,
        count => format!("{size}, {count} parts"),
    }
}
