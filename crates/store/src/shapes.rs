//! Shapes of the user's own, which pieces and starters share.

use crate::models::{DrawingRow, ShapeRow, now};
use crate::schema::{drawings, shapes};
use crate::{Store, StoreError, uses};
use diesel::prelude::*;

/// A shape that is kept.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct KeptShape {
    /// Its id, as it stands in piece files: made of its content.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Its document.
    pub document: Vec<u8>,
    /// The colour it had where it comes from, as `#2f5d83`.
    pub colour: Option<String>,
    /// The drawing it was made of, and what was chosen of it, as JSON.
    pub source: Option<Source>,
}

/// What a shape was made of.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Source {
    /// The id of the drawing.
    pub drawing: String,
    /// What was chosen of it, as JSON.
    pub choice: String,
}

/// A drawing or a picture, as it came.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct KeptDrawing {
    /// Its id, made of its content.
    pub id: String,
    /// What its file was called.
    pub name: String,
    /// The file.
    pub file: Vec<u8>,
}

/// A shape in a list.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ListedShape {
    /// Its id.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// The drawing it was made of, where that is known.
    pub drawing: Option<String>,
    /// How many pieces and starters use it, or did and can again.
    pub pieces: usize,
    /// How many more were deleted and can be brought back.
    pub deleted: usize,
}

/// All shapes together; beyond it their list would be slow to show.
const MOST_SHAPE_BYTES: i64 = 64 << 20;

/// All drawings together.
const MOST_DRAWING_BYTES: i64 = 512 << 20;

/// How long a drawing stays that no shape was made of, in ms.
const DRAWING_STAYS: i64 = 24 * 60 * 60 * 1000;

/// So many shapes are more than anybody finds his way in.
const MOST_SHAPES: i64 = 2000;

impl Store {
    /// Keeps shapes, all or none. One of the same content is kept once, under the name it had first.
    ///
    /// # Errors
    /// [`StoreError::ShapesFull`], or where the database fails.
    pub fn keep_shapes(&self, new: &[KeptShape]) -> Result<(), StoreError> {
        self.connection()?.immediate_transaction(|connection| {
            use diesel::dsl::sql;
            use diesel::sql_types::BigInt;
            for shape in new {
                let row = ShapeRow {
                    id: shape.id.clone(),
                    name: shape.name.clone(),
                    document: shape.document.clone(),
                    colour: shape.colour.clone(),
                    drawing: shape.source.as_ref().map(|source| source.drawing.clone()),
                    choice: shape.source.as_ref().map(|source| source.choice.clone()),
                    created_at: now(),
                };
                diesel::insert_or_ignore_into(shapes::table).values(&row).execute(connection)?;
            }
            let (bytes, count): (i64, i64) = shapes::table
                .select((
                    sql::<BigInt>("coalesce(sum(length(document)), 0)"),
                    sql::<BigInt>("count(*)"),
                ))
                .first(connection)?;
            if bytes > MOST_SHAPE_BYTES || count > MOST_SHAPES {
                return Err(StoreError::ShapesFull);
            }
            Ok(())
        })
    }

    /// One shape, if it is kept.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn shape(&self, id: &str) -> Result<Option<KeptShape>, StoreError> {
        let row: Option<ShapeRow> = shapes::table
            .find(id)
            .select(ShapeRow::as_select())
            .first(&mut self.connection()?)
            .optional()?;
        Ok(row.map(|row| KeptShape {
            id: row.id,
            name: row.name,
            document: row.document,
            colour: row.colour,
            source: row.drawing.zip(row.choice).map(|(drawing, choice)| Source { drawing, choice }),
        }))
    }

    /// Ids and names of the shapes that are kept, the last one first.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn shape_names(&self) -> Result<Vec<(String, String)>, StoreError> {
        Ok(shapes::table
            .order((shapes::created_at.desc(), shapes::name, shapes::id))
            .select((shapes::id, shapes::name))
            .load(&mut self.connection()?)?)
    }

    /// The shapes that are kept, the last one first.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn shapes(&self) -> Result<Vec<ListedShape>, StoreError> {
        let connection = &mut self.connection()?;
        let rows: Vec<(String, String, Option<String>)> = shapes::table
            .order((shapes::created_at.desc(), shapes::name, shapes::id))
            .select((shapes::id, shapes::name, shapes::drawing))
            .load(connection)?;
        let needed = uses::all(connection)?;
        let needed_by = |id: &str| needed.get(id).copied().unwrap_or_default();
        let listed = |(id, name, drawing): (String, String, Option<String>)| ListedShape {
            pieces: needed_by(&id).there,
            deleted: needed_by(&id).deleted,
            id,
            name,
            drawing,
        };
        Ok(rows.into_iter().map(listed).collect())
    }

    /// Gives a shape another name.
    ///
    /// # Errors
    /// [`StoreError::NotOnShelf`], or where the database fails.
    pub fn rename_shape(&self, id: &str, name: &str) -> Result<(), StoreError> {
        let changed = diesel::update(shapes::table.find(id))
            .set(shapes::name.eq(name))
            .execute(&mut self.connection()?)?;
        if changed == 1 { Ok(()) } else { Err(StoreError::NotOnShelf) }
    }

    /// Takes a shape away, unless a piece or a starter uses it, did, or can be brought back.
    ///
    /// # Errors
    /// [`StoreError::ShapeInUse`], [`StoreError::NotOnShelf`], or where the database fails.
    pub fn drop_shape(&self, id: &str) -> Result<(), StoreError> {
        self.connection()?.immediate_transaction(|connection| {
            match uses::of(connection, id)?.count() {
                0 => {}
                count => return Err(StoreError::ShapeInUse(count)),
            }
            let gone = diesel::delete(shapes::table.find(id)).execute(connection)?;
            if gone == 1 { Ok(()) } else { Err(StoreError::NotOnShelf) }
        })
    }

    /// Keeps a drawing. Those nothing was made of for a day go.
    ///
    /// # Errors
    /// [`StoreError::DrawingsFull`], or where the database fails.
    pub fn keep_drawing(&self, drawing: &KeptDrawing) -> Result<(), StoreError> {
        let row = DrawingRow {
            id: drawing.id.clone(),
            name: drawing.name.clone(),
            file: drawing.file.clone(),
            created_at: now(),
        };
        self.connection()?.immediate_transaction(|connection| {
            use diesel::dsl::sql;
            use diesel::sql_types::BigInt;
            let in_use: Vec<Option<String>> =
                shapes::table.select(shapes::drawing).distinct().load(connection)?;
            let in_use: Vec<String> = in_use.into_iter().flatten().collect();
            let is_old = drawings::created_at.lt(now() - DRAWING_STAYS);
            diesel::delete(drawings::table.filter(is_old.and(drawings::id.ne_all(in_use))))
                .execute(connection)?;
            diesel::insert_or_ignore_into(drawings::table).values(&row).execute(connection)?;
            let bytes: i64 = drawings::table
                .select(sql::<BigInt>("coalesce(sum(length(file)), 0)"))
                .first(connection)?;
            if bytes > MOST_DRAWING_BYTES {
                return Err(StoreError::DrawingsFull(MOST_DRAWING_BYTES >> 20));
            }
            Ok(())
        })
    }

    /// One drawing, if it is kept.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn drawing(&self, id: &str) -> Result<Option<KeptDrawing>, StoreError> {
        let row: Option<DrawingRow> = drawings::table
            .find(id)
            .select(DrawingRow::as_select())
            .first(&mut self.connection()?)
            .optional()?;
        Ok(row.map(|row| KeptDrawing { id: row.id, name: row.name, file: row.file }))
    }
}
