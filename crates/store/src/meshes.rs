//! Mesh files that pieces are made of.

use crate::models::{MeshRow, now};
use crate::schema::meshes;
use crate::{Store, StoreError, uses};
use diesel::prelude::*;

/// A mesh file that is kept.
#[derive(Debug, Clone, PartialEq)]
pub struct KeptMesh {
    /// Its id, as it stands in piece files: made of its content.
    pub id: String,
    /// What the file was called.
    pub name: String,
    /// The file as it came.
    pub file: Vec<u8>,
    /// How many triangles it has.
    pub triangles: u32,
    /// Whether its surface has to be mended before it is worked on.
    pub is_mended: bool,
}

/// A mesh in a list.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ListedMesh {
    /// Its id.
    pub id: String,
    /// What the file was called.
    pub name: String,
    /// How many triangles it has.
    pub triangles: u32,
    /// How many pieces and starters are made of it, or were and can be again.
    pub pieces: usize,
    /// How many more were deleted and can be brought back.
    pub deleted: usize,
}

/// All mesh files together; beyond it the database would be slow to copy and to save.
const MOST_MESH_BYTES: i64 = 512 << 20;

impl Store {
    /// Keeps a mesh file. One of the same content is kept once, under the name it had first.
    ///
    /// # Errors
    /// [`StoreError::MeshesFull`], or where the database fails.
    pub fn keep_mesh(&self, mesh: &KeptMesh) -> Result<(), StoreError> {
        let row = MeshRow {
            id: mesh.id.clone(),
            name: mesh.name.clone(),
            file: mesh.file.clone(),
            triangles: mesh.triangles as i32,
            is_mended: mesh.is_mended,
            created_at: now(),
        };
        self.connection()?.immediate_transaction(|connection| {
            use diesel::dsl::sql;
            use diesel::sql_types::BigInt;
            let kept: i64 = meshes::table
                .filter(meshes::id.ne(&row.id))
                .select(sql::<BigInt>("coalesce(sum(length(file)), 0)"))
                .first(connection)?;
            if kept + row.file.len() as i64 > MOST_MESH_BYTES {
                return Err(StoreError::MeshesFull(MOST_MESH_BYTES >> 20));
            }
            diesel::insert_or_ignore_into(meshes::table).values(&row).execute(connection)?;
            Ok(())
        })
    }

    /// One mesh file, if it is kept.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn mesh(&self, id: &str) -> Result<Option<KeptMesh>, StoreError> {
        let row: Option<MeshRow> = meshes::table
            .find(id)
            .select(MeshRow::as_select())
            .first(&mut self.connection()?)
            .optional()?;
        Ok(row.map(|row| KeptMesh {
            id: row.id,
            name: row.name,
            file: row.file,
            triangles: row.triangles as u32,
            is_mended: row.is_mended,
        }))
    }

    /// The meshes that are kept, the last one first.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn meshes(&self) -> Result<Vec<ListedMesh>, StoreError> {
        let connection = &mut self.connection()?;
        let rows: Vec<(String, String, i32)> = meshes::table
            .order((meshes::created_at.desc(), meshes::id))
            .select((meshes::id, meshes::name, meshes::triangles))
            .load(connection)?;
        let needed = uses::all(connection)?;
        let needed_by = |id: &str| needed.get(id).copied().unwrap_or_default();
        let listed = |(id, name, triangles): (String, String, i32)| ListedMesh {
            pieces: needed_by(&id).there,
            deleted: needed_by(&id).deleted,
            id,
            name,
            triangles: triangles as u32,
        };
        Ok(rows.into_iter().map(listed).collect())
    }

    /// Takes a mesh file away, unless a piece or a starter is made of it, was, or can be brought
    /// back.
    ///
    /// # Errors
    /// [`StoreError::MeshInUse`], [`StoreError::NotOnShelf`], or where the database fails.
    pub fn drop_mesh(&self, id: &str) -> Result<(), StoreError> {
        self.connection()?.immediate_transaction(|connection| {
            match uses::of(connection, id)?.count() {
                0 => {}
                count => return Err(StoreError::MeshInUse(count)),
            }
            let gone = diesel::delete(meshes::table.find(id)).execute(connection)?;
            if gone == 1 { Ok(()) } else { Err(StoreError::NotOnShelf) }
        })
    }
}
