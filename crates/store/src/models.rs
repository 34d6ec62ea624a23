//! Rows of the tables, and what the store gives and takes in their place.

use crate::schema::{
    drawings, filaments, meshes, pieces, printers, requests, revisions, shapes, starters, steps,
    typefaces,
};
use diesel::prelude::*;
use kalotype_core::piece::{Address, Piece};
use std::time::{SystemTime, UNIX_EPOCH};

/// A piece as it stands, and what its history allows.
#[derive(Debug, Clone, PartialEq)]
pub struct Head {
    /// The piece's id.
    pub id: String,
    /// The document shown.
    pub piece: Piece,
    /// Number of the last revision, from 1.
    pub revision: i32,
    /// Number of the revision shown: the last one, or the last that can be read.
    pub shown: i32,
    /// Whether the author it was asked for has a step to take back.
    pub can_undo: bool,
    /// Whether there is one to bring again.
    pub can_redo: bool,
}

/// Who changes a piece, and as part of what.
#[derive(Debug, Clone, Default)]
pub struct Change<'a> {
    /// Who does; empty for nobody in particular.
    pub author: &'a str,
    /// Changes of one gesture (a drag, a burst of typing) share this word and are taken back together.
    pub gesture: Option<&'a str>,
    /// The request it comes with; the same request is carried out once.
    pub request: Option<&'a str>,
    /// What it adds, to be answered again.
    pub added: Option<Address>,
    /// Width, height and thickness of what it makes of the piece, in words, where they are known.
    pub size: Option<String>,
}

/// A piece in a list.
#[derive(Debug, Clone, PartialEq)]
pub struct Listed {
    /// The piece's id.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Width, height and thickness in words, once they were worked out.
    pub size: Option<String>,
    /// Number of the revision shown.
    pub revision: i32,
    /// When it last changed, in milliseconds since 1970.
    pub changed_at: i64,
    /// When it was deleted, if it was.
    pub deleted_at: Option<i64>,
    /// The drawer it is kept apart in, if it is.
    pub drawer: Option<String>,
}

#[derive(Debug, Clone, Queryable, Selectable, Insertable)]
#[diesel(table_name = pieces, check_for_backend(diesel::sqlite::Sqlite))]
pub(crate) struct PieceRow {
    pub id: String,
    pub head: i32,
    pub created_at: i64,
    pub changed_at: i64,
    pub deleted_at: Option<i64>,
    pub name: String,
    pub size: Option<String>,
    pub drawer: Option<String>,
    pub uses_known: bool,
    pub plain: Option<String>,
    pub longest: Option<f64>,
    pub printer: Option<String>,
}

#[derive(Debug, Clone, Queryable, Selectable, Insertable)]
#[diesel(table_name = revisions, check_for_backend(diesel::sqlite::Sqlite))]
pub(crate) struct RevisionRow {
    pub piece_id: String,
    pub number: i32,
    pub document: String,
}

#[derive(Debug, Clone, Queryable, Selectable, Insertable)]
#[diesel(table_name = steps, check_for_backend(diesel::sqlite::Sqlite))]
pub(crate) struct StepRow {
    pub piece_id: String,
    pub number: i32,
    pub author: String,
    pub created_at: i64,
    pub act: String,
    pub step: Option<i32>,
    pub base: i32,
    pub gesture: Option<String>,
}

impl StepRow {
    /// A step made now.
    pub fn new(
        piece_id: &str,
        number: i32,
        author: &str,
        act: Act,
        step: Option<i32>,
        base: i32,
        gesture: Option<&str>,
    ) -> Self {
        StepRow {
            piece_id: piece_id.to_owned(),
            number,
            author: author.to_owned(),
            created_at: now(),
            act: act.word().to_owned(),
            step,
            base,
            gesture: gesture.map(str::to_owned),
        }
    }
}

#[derive(Debug, Clone, Queryable, Selectable, Insertable)]
#[diesel(table_name = requests, check_for_backend(diesel::sqlite::Sqlite))]
pub(crate) struct RequestRow {
    pub id: String,
    pub made: String,
    pub added: Option<String>,
    pub created_at: i64,
}

#[derive(Debug, Clone, Queryable, Selectable, Insertable)]
#[diesel(table_name = typefaces, check_for_backend(diesel::sqlite::Sqlite))]
pub(crate) struct TypefaceRow {
    pub id: String,
    pub name: String,
    pub font: Vec<u8>,
    pub face_index: i32,
    pub weight: Option<f32>,
    pub licence: String,
    pub created_at: i64,
}

#[derive(Debug, Clone, Queryable, Selectable, Insertable)]
#[diesel(table_name = starters, check_for_backend(diesel::sqlite::Sqlite))]
pub(crate) struct StarterRow {
    pub id: String,
    pub document: String,
    pub created_at: i64,
    pub name: String,
    pub deleted_at: Option<i64>,
}

#[derive(Debug, Clone, Queryable, Selectable, Insertable)]
#[diesel(table_name = filaments, check_for_backend(diesel::sqlite::Sqlite))]
pub(crate) struct FilamentRow {
    pub id: String,
    pub place: i64,
    pub name: String,
    pub colour: String,
    pub material: String,
    pub density: f64,
    pub spool_price: f64,
    pub spool_mass: f64,
}

#[derive(Debug, Clone, Insertable)]
#[diesel(table_name = printers, check_for_backend(diesel::sqlite::Sqlite))]
pub(crate) struct PrinterRow {
    pub id: String,
    pub document: String,
    pub created_at: i64,
    pub following: Option<String>,
}

#[derive(Debug, Clone, Queryable, Selectable, Insertable)]
#[diesel(table_name = meshes, check_for_backend(diesel::sqlite::Sqlite))]
pub(crate) struct MeshRow {
    pub id: String,
    pub name: String,
    pub file: Vec<u8>,
    pub triangles: i32,
    pub is_mended: bool,
    pub created_at: i64,
}

#[derive(Debug, Clone, Queryable, Selectable, Insertable)]
#[diesel(table_name = shapes, check_for_backend(diesel::sqlite::Sqlite))]
pub(crate) struct ShapeRow {
    pub id: String,
    pub name: String,
    pub document: Vec<u8>,
    pub colour: Option<String>,
    pub drawing: Option<String>,
    pub choice: Option<String>,
    pub created_at: i64,
}

#[derive(Debug, Clone, Queryable, Selectable, Insertable)]
#[diesel(table_name = drawings, check_for_backend(diesel::sqlite::Sqlite))]
pub(crate) struct DrawingRow {
    pub id: String,
    pub name: String,
    pub file: Vec<u8>,
    pub created_at: i64,
}

/// What a revision is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Act {
    /// The first.
    Made,
    /// A change.
    Step,
    /// A step taken back.
    Undo,
    /// A step brought again.
    Redo,
}

impl Act {
    /// As it stands in the database.
    pub fn word(self) -> &'static str {
        match self {
            Act::Made => "made",
            Act::Step => "step",
            Act::Undo => "undo",
            Act::Redo => "redo",
        }
    }
}

/// Milliseconds since 1970.
pub(crate) fn now() -> i64 {
    SystemTime::now().duration_since(UNIX_EPOCH).map_or(0, |since| since.as_millis() as i64)
}
