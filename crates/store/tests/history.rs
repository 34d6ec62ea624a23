//! What a user relies on: nothing acknowledged is lost, and every step can be taken back.

use kalotype_core::piece::Piece;
use kalotype_core::units::Unit;
use kalotype_store::{Change, Sought, Store, StoreError};
use tempfile::TempDir;

fn store() -> (TempDir, Store) {
    let folder = TempDir::new().unwrap();
    let store = Store::open(&folder.path().join("pieces.db")).unwrap();
    (folder, store)
}

fn by(author: &str) -> Change<'_> {
    Change { author, ..Change::default() }
}

fn rename(store: &Store, id: &str, name: &str, gesture: Option<&str>) {
    let changed = store.change::<StoreError>(id, &Change { gesture, ..by("") }, |piece| {
        Ok(Piece { name: name.to_owned(), ..piece.clone() })
    });
    assert_eq!(changed.unwrap().piece.name, name);
}

fn name(store: &Store, id: &str) -> String {
    store.head(id, "").unwrap().piece.name
}

#[test]
fn undo_and_redo_survive_the_end_of_the_process() {
    let (folder, store) = store();
    let id = store.create(&Piece::new("one", Unit::Millimetre), &Change::default()).unwrap();
    for number in ["two", "three", "four"] {
        rename(&store, &id, number, None);
    }
    assert_eq!(store.undo(&id, &by("")).unwrap().piece.name, "three");
    // The first store is leaked, never closed: as after a kill.
    std::mem::forget(store);

    let store = Store::open(&folder.path().join("pieces.db")).unwrap();
    let head = store.head(&id, "").unwrap();
    assert_eq!((head.piece.name.as_str(), head.can_undo, head.can_redo), ("three", true, true));
    assert_eq!(store.redo(&id, &by("")).unwrap().piece.name, "four");
    assert!(matches!(store.redo(&id, &by("")), Err(StoreError::EndOfHistory("redo"))));
    for expected in ["three", "two", "one"] {
        assert_eq!(store.undo(&id, &by("")).unwrap().piece.name, expected);
    }
    assert!(matches!(store.undo(&id, &by("")), Err(StoreError::EndOfHistory("undo"))));
}

#[test]
fn an_edit_after_undo_drops_what_could_have_been_redone() {
    let (_folder, store) = store();
    let id = store.create(&Piece::new("one", Unit::Millimetre), &Change::default()).unwrap();
    rename(&store, &id, "two", None);
    store.undo(&id, &by("")).unwrap();
    rename(&store, &id, "other", None);
    assert!(!store.head(&id, "").unwrap().can_redo);
    assert_eq!(store.undo(&id, &by("")).unwrap().piece.name, "one");
    assert_eq!(store.redo(&id, &by("")).unwrap().piece.name, "other");
}

#[test]
fn one_gesture_is_one_step_back() {
    let (_folder, store) = store();
    let id = store.create(&Piece::new("", Unit::Millimetre), &Change::default()).unwrap_err();
    // A piece without a name is refused when it is read back, so it is refused at once.
    assert!(matches!(id, StoreError::Document(_)));

    let id = store.create(&Piece::new("start", Unit::Millimetre), &Change::default()).unwrap();
    for typed in ["S", "So", "Sol"] {
        rename(&store, &id, typed, Some("typing-1"));
    }
    rename(&store, &id, "Sol!", Some("typing-2"));
    assert_eq!(store.undo(&id, &by("")).unwrap().piece.name, "Sol");
    // After undo the old gesture is over: more of it is a step of its own.
    rename(&store, &id, "Solv", Some("typing-1"));
    assert_eq!(store.undo(&id, &by("")).unwrap().piece.name, "Sol");
    assert_eq!(store.undo(&id, &by("")).unwrap().piece.name, "start");
}

#[test]
fn a_refused_change_leaves_everything_as_it_was() {
    let (_folder, store) = store();
    let id = store.create(&Piece::new("one", Unit::Millimetre), &Change::default()).unwrap();
    rename(&store, &id, "two", None);
    store.undo(&id, &by("")).unwrap();
    let refused = store.change::<StoreError>(&id, &by(""), |_| Err(StoreError::Conflict));
    assert!(matches!(refused, Err(StoreError::Conflict)));
    let head = store.head(&id, "").unwrap();
    assert_eq!((head.piece.name.as_str(), head.can_redo), ("one", true));
}

#[test]
fn deleting_hides_and_restoring_brings_back_with_the_history() {
    let (_folder, store) = store();
    let id = store.create(&Piece::new("one", Unit::Millimetre), &Change::default()).unwrap();
    rename(&store, &id, "two", None);
    store.delete(&id).unwrap();
    assert!(matches!(store.head(&id, ""), Err(StoreError::NoSuchPiece)));
    assert!(store.list(&Sought::default(), 0, 9).unwrap().0.is_empty());
    store.restore(&id).unwrap();
    assert_eq!(name(&store, &id), "two");
    assert_eq!(store.undo(&id, &by("")).unwrap().piece.name, "one");
    assert!(matches!(store.delete("no-such"), Err(StoreError::NoSuchPiece)));
}

#[test]
fn changes_from_many_threads_are_all_kept() {
    let (_folder, store) = store();
    let id = store.create(&Piece::new("0", Unit::Millimetre), &Change::default()).unwrap();
    std::thread::scope(|scope| {
        for _ in 0..4 {
            scope.spawn(|| {
                for _ in 0..25 {
                    store
                        .change::<StoreError>(&id, &by(""), |piece| {
                            let count: u32 = piece.name.parse().unwrap();
                            Ok(Piece { name: (count + 1).to_string(), ..piece.clone() })
                        })
                        .unwrap();
                }
            });
        }
    });
    assert_eq!(name(&store, &id), "100");
    assert_eq!(store.head(&id, "").unwrap().revision, 101);
}

/// One person's undo leaves another's step alone, and says so where it cannot.
#[test]
fn undo_takes_back_what_its_author_did_and_nothing_else() {
    let (_folder, store) = store();
    let id = store
        .create(
            &Piece::new("Berth", Unit::Millimetre),
            &Change { author: "Åse", ..Change::default() },
        )
        .unwrap();
    let change = |author: &str, change: &dyn Fn(&mut Piece)| {
        store
            .change::<StoreError>(&id, &by(author), |piece| {
                let mut piece = piece.clone();
                change(&mut piece);
                Ok(piece)
            })
            .unwrap()
    };
    change("Åse", &|piece| piece.name = "Berth 7".into());
    let head = change("Ğül", &|piece| piece.units = Unit::Inch);
    assert!(head.can_undo && !store.head(&id, "Łucja").unwrap().can_undo);
    let head = store.undo(&id, &by("Åse")).unwrap();
    assert_eq!((head.piece.name.as_str(), head.piece.units), ("Berth", Unit::Inch));
    assert!(head.can_redo && !head.can_undo);
    assert!(store.head(&id, "Ğül").unwrap().can_undo);
    let head = store.redo(&id, &by("Åse")).unwrap();
    assert_eq!((head.piece.name.as_str(), head.piece.units), ("Berth 7", Unit::Inch));
    // Ğül changes the same thing: Åse cannot take hers back from under it.
    change("Ğül", &|piece| piece.name = "Berth 8".into());
    let refused = store.undo(&id, &by("Åse")).unwrap_err();
    assert!(matches!(refused, StoreError::Overtaken(_)), "{refused}");
    assert_eq!(name(&store, &id), "Berth 8");
    store.undo(&id, &by("Ğül")).unwrap();
    assert_eq!(store.undo(&id, &by("Åse")).unwrap().piece.name, "Berth");
}

#[test]
fn the_same_request_is_carried_out_once() {
    let (folder, store) = store();
    let id = store.create(&Piece::new("0", Unit::Millimetre), &Change::default()).unwrap();
    let added = kalotype_core::piece::Address::element("component-1", "hole-1");
    let request = Change { request: Some("r1"), added: Some(added.clone()), ..by("Åse") };
    let count = |store: &Store, request: &Change<'_>| {
        let changed = store.change::<StoreError>(&id, request, |piece| {
            let count: u32 = piece.name.parse().unwrap();
            Ok(Piece { name: (count + 1).to_string(), ..piece.clone() })
        });
        changed.unwrap().piece.name
    };
    assert_eq!(count(&store, &request), "1");
    std::mem::forget(store);
    let store = Store::open(&folder.path().join("pieces.db")).unwrap();
    assert_eq!(count(&store, &request), "1");
    assert_eq!(store.answered(&id, "r1").unwrap(), Some(Some(added)));
    let back = Change { request: Some("r2"), ..by("Åse") };
    assert_eq!(store.undo(&id, &back).unwrap().piece.name, "0");
    assert_eq!(store.undo(&id, &back).unwrap().piece.name, "0", "undone once");
    assert_eq!(store.answered(&id, "r3").unwrap(), None);
}

#[test]
fn old_revisions_go_and_a_list_reads_no_documents() {
    let (folder, store) = store();
    let id = store.create(&Piece::new("0", Unit::Millimetre), &Change::default()).unwrap();
    for number in 1..=20 {
        rename(&store, &id, &number.to_string(), None);
    }
    store.keep_look(&id, 21, "72 × 24 × 3 mm", "<svg/>").unwrap();
    store.keep_look(&id, 20, "of yesterday", "<svg></svg>").unwrap();
    let (listed, count) = store.list(&Sought::default(), 0, 10).unwrap();
    assert_eq!((count, listed[0].name.as_str()), (1, "20"));
    assert_eq!(listed[0].size.as_deref(), Some("72 × 24 × 3 mm"));
    assert_eq!(store.picture(&id).unwrap().as_deref(), Some("<svg/>"));
    rename(&store, &id, "21", None);
    assert_eq!(store.picture(&id).unwrap(), None, "a picture of another state is none");
    assert_eq!(store.list(&Sought::default(), 0, 1).unwrap().0[0].size, None, "nor is its size");
    let grown = Change { size: Some("80 × 24 × 3 mm".into()), ..by("Åse") };
    let change = |piece: &Piece| Ok::<_, StoreError>(Piece { name: "22".into(), ..piece.clone() });
    store.change(&id, &grown, change).unwrap();
    assert_eq!(
        store.list(&Sought::default(), 0, 1).unwrap().0[0].size.as_deref(),
        Some("80 × 24 × 3 mm")
    );
    // A document that cannot be read is one bad card, not a list that fails.
    let file = folder.path().join("pieces.db");
    drop(store);
    use diesel::prelude::*;
    let mut connection = SqliteConnection::establish(file.to_str().unwrap()).unwrap();
    diesel::sql_query("UPDATE revisions SET document = '[1]'").execute(&mut connection).unwrap();
    drop(connection);
    let store = Store::open(&file).unwrap();
    assert_eq!(store.list(&Sought::default(), 0, 10).unwrap().1, 1);
    assert!(store.meshes().unwrap().is_empty());
    assert!(matches!(store.head(&id, ""), Err(StoreError::Document(_))));
}

#[test]
fn a_database_of_a_newer_program_is_refused_untouched() {
    let (folder, store) = store();
    let file = folder.path().join("pieces.db");
    drop(store);
    use diesel::prelude::*;
    let mut connection = SqliteConnection::establish(file.to_str().unwrap()).unwrap();
    diesel::sql_query("INSERT INTO __diesel_schema_migrations (version) VALUES ('20991231000000')")
        .execute(&mut connection)
        .unwrap();
    drop(connection);
    assert!(matches!(Store::open(&file), Err(StoreError::Newer)));
}

#[test]
fn a_file_that_is_no_database_is_refused_at_once_and_left_as_it_is() {
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("notes.db");
    let notes = "Low water at Skerry Point 06:12. ".repeat(400);
    std::fs::write(&file, &notes).unwrap();
    let said = Store::open(&file).err().unwrap().to_string();
    assert_eq!(said, "it is not a database");
    assert_eq!(std::fs::read_to_string(&file).unwrap(), notes);

    // One whose pages were overwritten.
    let file = folder.path().join("pieces.db");
    drop(Store::open(&file).unwrap());
    let mut bytes = std::fs::read(&file).unwrap();
    let end = bytes.len();
    bytes[200..end].fill(b'x');
    std::fs::write(&file, &bytes).unwrap();
    let said = Store::open(&file).err().unwrap().to_string();
    assert_eq!(said, "it is damaged");
    let said = Store::open(&folder.path().join("nowhere/pieces.db")).err().unwrap().to_string();
    assert!(said.contains("may the folder be written to?"), "{said}");
}

/// A drag has many answers and is one step: what others saw of it can be compared with for a while, and it does not eat
/// the steps before it.
#[test]
fn a_drag_of_many_answers_is_one_step_of_the_history() {
    let (_folder, store) = store();
    let id = store.create(&Piece::new("start", Unit::Millimetre), &Change::default()).unwrap();
    rename(&store, &id, "before", None);
    for answer in 0..2100 {
        rename(&store, &id, &format!("dragged {answer}"), Some("drag"));
    }
    let head = store.head(&id, "").unwrap();
    let seen = store.revision(&id, head.revision - 100).unwrap();
    assert_eq!(seen.map(|piece| piece.name).as_deref(), Some("dragged 1999"));
    assert_eq!(store.revision(&id, 10).unwrap(), None, "not all of them");
    assert_eq!(store.undo(&id, &by("")).unwrap().piece.name, "before");
    assert_eq!(store.undo(&id, &by("")).unwrap().piece.name, "start");
    assert_eq!(store.redo(&id, &by("")).unwrap().piece.name, "before");
    assert_eq!(store.redo(&id, &by("")).unwrap().piece.name, "dragged 2099");
}
