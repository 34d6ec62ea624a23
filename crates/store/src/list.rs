//! The list of pieces: looked through, put in order, put away and brought back. It reads no document.

use crate::models::{PieceRow, now};
use crate::pieces::last_good;
use crate::schema::pieces;
use crate::{Listed, Store, StoreError};
use deunicode::deunicode;
use diesel::prelude::*;
use kalotype_core::units::{Unit, parse_length};

/// Which pieces a list shows.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub enum Place {
    /// Those that are neither deleted nor in a drawer.
    #[default]
    AtHand,
    /// Those in a drawer.
    Drawer(String),
    /// Those that were deleted and can be brought back.
    Deleted,
}

/// In which order.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub enum Order {
    /// The last changed first.
    #[default]
    Changed,
    /// By name, accents aside.
    Name,
    /// By the longest side, the largest first; those whose size is not known yet at the end.
    Size,
}

/// What a list shows.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Sought {
    /// Words that are all in the name, accents and capitals aside. What is at hand is then looked for in
    /// drawers as well.
    pub words: String,
    /// Where.
    pub place: Place,
    /// In which order.
    pub order: Order,
}

/// What is to be done with several pieces at once.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Move {
    /// Deletes them; they can be brought back for 90 days.
    Delete,
    /// Brings them back.
    Restore,
    /// Keeps them apart in a drawer, or puts them at hand again.
    Keep(Option<String>),
}

/// The longest name of a drawer, in characters.
pub const LONGEST_DRAWER: usize = 60;

/// As it is looked for: plain letters, small.
pub(crate) fn plain(text: &str) -> String {
    deunicode(text).to_lowercase()
}

/// A word as a pattern that is nothing but the word.
fn escaped(word: &str) -> String {
    word.replace('!', "!!").replace('%', "!%").replace('_', "!_")
}

/// The longest side of a size in words such as "72 × 24 × 4.5 mm", in mm.
pub(crate) fn longest_side(size: &str) -> Option<f64> {
    let unit = if size.ends_with("in") { Unit::Inch } else { Unit::Millimetre };
    let figures = size.trim_end_matches("mm").trim_end_matches("in").split('×');
    let lengths = figures.filter_map(|text| Some(parse_length(text, unit).ok()?.as_mm()));
    lengths.reduce(f64::max)
}

impl Store {
    /// The pieces that are sought: those from a place in the list on, and how many there are in all.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn list(
        &self,
        sought: &Sought,
        from: usize,
        most: usize,
    ) -> Result<(Vec<Listed>, usize), StoreError> {
        let words: Vec<String> =
            plain(&sought.words).split_whitespace().map(str::to_owned).collect();
        let them = || {
            let mut query = pieces::table.into_boxed();
            query = match &sought.place {
                Place::Deleted => query.filter(pieces::deleted_at.is_not_null()),
                Place::AtHand if words.is_empty() => {
                    query.filter(pieces::deleted_at.is_null()).filter(pieces::drawer.is_null())
                }
                Place::AtHand => query.filter(pieces::deleted_at.is_null()),
                Place::Drawer(name) => {
                    query.filter(pieces::deleted_at.is_null()).filter(pieces::drawer.eq(name))
                }
            };
            for word in &words {
                let within = format!("%{}%", escaped(word));
                query = query.filter(pieces::plain.assume_not_null().like(within).escape('!'));
            }
            query
        };
        let mut query = them();
        query = match sought.order {
            Order::Changed => {
                query.order((pieces::changed_at.desc(), pieces::created_at.desc(), pieces::id))
            }
            Order::Name => query.order((pieces::plain, pieces::name, pieces::id)),
            // Those of no size yet at the end, as SQLite has it.
            Order::Size => query.order((
                pieces::longest.desc(),
                pieces::changed_at.desc(),
                pieces::created_at.desc(),
                pieces::id,
            )),
        };
        let (from, most) = (from.min(u32::MAX as usize) as i64, most as i64);
        let (rows, count): (Vec<PieceRow>, i64) = self.connection()?.transaction(|connection| {
            let rows = query.offset(from).limit(most).select(PieceRow::as_select());
            Ok::<_, StoreError>((rows.load(connection)?, them().count().get_result(connection)?))
        })?;
        let listed = |row: PieceRow| Listed {
            id: row.id,
            name: row.name,
            size: row.size,
            revision: row.head,
            changed_at: row.changed_at,
            deleted_at: row.deleted_at,
            drawer: row.drawer,
        };
        Ok((rows.into_iter().map(listed).collect(), count as usize))
    }

    /// Fills in what the list looks for pieces by where that is not known: in databases from before it was kept.
    pub(crate) fn learn_listed(&self) -> Result<(), StoreError> {
        let connection = &mut self.connection()?;
        let unknown: Vec<String> =
            pieces::table.filter(pieces::plain.is_null()).select(pieces::id).load(connection)?;
        for some in unknown.chunks(200) {
            connection.immediate_transaction::<_, StoreError, _>(|connection| {
                for id in some {
                    let (name, size, head): (String, Option<String>, i32) = pieces::table
                        .find(id)
                        .select((pieces::name, pieces::size, pieces::head))
                        .first(connection)?;
                    let printer = last_good(connection, id, head).ok();
                    diesel::update(pieces::table.find(id))
                        .set((
                            pieces::plain.eq(plain(&name)),
                            pieces::longest.eq(size.as_deref().and_then(longest_side)),
                            pieces::printer.eq(printer.map(|(_, piece)| piece.printer.id)),
                        ))
                        .execute(connection)?;
                }
                Ok(())
            })?;
        }
        Ok(())
    }

    /// The drawers there are, by name, with how many pieces are in each; and how many are deleted.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn drawers(&self) -> Result<(Vec<(String, i64)>, i64), StoreError> {
        let connection = &mut self.connection()?;
        let drawers: Vec<(Option<String>, i64)> = pieces::table
            .filter(pieces::deleted_at.is_null())
            .filter(pieces::drawer.is_not_null())
            .group_by(pieces::drawer)
            .select((pieces::drawer, diesel::dsl::count_star()))
            .load(connection)?;
        let mut drawers: Vec<(String, i64)> = drawers
            .into_iter()
            .filter_map(|(name, count)| name.map(|name| (name, count)))
            .collect();
        drawers.sort_by_cached_key(|(name, _)| plain(name));
        let deleted = pieces::table
            .filter(pieces::deleted_at.is_not_null())
            .count()
            .get_result(connection)?;
        Ok((drawers, deleted))
    }

    /// Moves several pieces at once: all of them, or none where one is not there.
    ///
    /// # Errors
    /// [`StoreError::NoSuchPiece`], or where the database fails.
    pub fn put(&self, ids: &[String], to: &Move) -> Result<(), StoreError> {
        self.connection()?.immediate_transaction(|connection| {
            for id in ids {
                let piece = pieces::table.find(id);
                let changed = match to {
                    Move::Delete => diesel::update(piece)
                        .set(pieces::deleted_at.eq(Some(now())))
                        .execute(connection)?,
                    Move::Restore => diesel::update(piece)
                        .set(pieces::deleted_at.eq(None::<i64>))
                        .execute(connection)?,
                    Move::Keep(drawer) => {
                        diesel::update(piece.filter(pieces::deleted_at.is_null()))
                            .set(pieces::drawer.eq(drawer))
                            .execute(connection)?
                    }
                };
                if changed != 1 {
                    return Err(StoreError::NoSuchPiece);
                }
            }
            Ok(())
        })
    }

    /// Deletes a piece; [`Store::restore`] brings it back with its history, for 90 days.
    ///
    /// # Errors
    /// [`StoreError::NoSuchPiece`], or where the database fails.
    pub fn delete(&self, id: &str) -> Result<(), StoreError> {
        self.put(&[id.to_owned()], &Move::Delete)
    }

    /// Brings a deleted piece back.
    ///
    /// # Errors
    /// [`StoreError::NoSuchPiece`], or where the database fails.
    pub fn restore(&self, id: &str) -> Result<(), StoreError> {
        self.put(&[id.to_owned()], &Move::Restore)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_longest_side_is_read_in_either_unit() {
        assert_eq!(longest_side("72 × 24 × 4.5 mm"), Some(72.0));
        assert_eq!(longest_side("1/2 × 3 × 1/8 in"), Some(76.2));
        assert_eq!(longest_side("–"), None);
    }

    #[test]
    fn names_are_looked_for_without_accents_and_capitals() {
        assert_eq!(plain("Łosoś, Ğülşah Ω"), plain("losos, gulsah o"));
    }
}
