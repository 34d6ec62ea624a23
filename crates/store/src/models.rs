use crate::schema::{filaments, meshes, pieces, revisions, starters, typefaces};
use diesel::prelude::*;
use kalotype_core::piece::Piece;

/// A piece as it stands, and what its history allows.
#[derive(Debug, Clone, PartialEq)]
pub struct Head {
    /// The piece's id.
    pub id: String,
    /// The document shown.
    pub piece: Piece,
    /// Number of the revision shown, from 1.
    pub revision: i32,
    /// Whether there is an earlier state.
    pub can_undo: bool,
    /// Whether there is a later one.
    pub can_redo: bool,
}

/// A piece in a list.
#[derive(Debug, Clone, PartialEq)]
pub struct Listed {
    /// The piece's id.
    pub id: String,
    /// The document shown.
    pub piece: Piece,
    /// Number of the revision shown.
    pub revision: i32,
    /// When it last changed, in milliseconds since 1970.
    pub changed_at: i64,
}

#[derive(Debug, Clone, Queryable, Selectable, Insertable)]
#[diesel(table_name = pieces, check_for_backend(diesel::sqlite::Sqlite))]
pub(crate) struct PieceRow {
    pub id: String,
    pub head: i32,
    pub created_at: i64,
    pub changed_at: i64,
    pub deleted_at: Option<i64>,
}

#[derive(Debug, Clone, Queryable, Selectable, Insertable)]
#[diesel(table_name = revisions, check_for_backend(diesel::sqlite::Sqlite))]
pub(crate) struct RevisionRow {
    pub piece_id: String,
    pub number: i32,
    pub document: String,
    pub gesture: Option<String>,
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
