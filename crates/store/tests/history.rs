//! What a user relies on: nothing acknowledged is lost, and every step can be taken back.

use kalotype_core::piece::Piece;
use kalotype_core::units::Unit;
use kalotype_store::{Store, StoreError};
use tempfile::TempDir;

fn store() -> (TempDir, Store) {
    let folder = TempDir::new().unwrap();
    let store = Store::open(&folder.path().join("pieces.db")).unwrap();
    (folder, store)
}

fn rename(store: &Store, id: &str, name: &str, gesture: Option<&str>) {
    let changed = store.change::<StoreError>(id, gesture, |piece| {
        Ok(Piece { name: name.to_owned(), ..piece.clone() })
    });
    assert_eq!(changed.unwrap().piece.name, name);
}

fn name(store: &Store, id: &str) -> String {
    store.head(id).unwrap().piece.name
}

#[test]
fn undo_and_redo_survive_the_end_of_the_process() {
    let (folder, store) = store();
    let id = store.create(&Piece::new("one", Unit::Millimetre)).unwrap();
    for number in ["two", "three", "four"] {
        rename(&store, &id, number, None);
    }
    assert_eq!(store.undo(&id).unwrap().piece.name, "three");
    // The first store is leaked, never closed: as after a kill.
    std::mem::forget(store);

    let store = Store::open(&folder.path().join("pieces.db")).unwrap();
    let head = store.head(&id).unwrap();
    assert_eq!((head.piece.name.as_str(), head.can_undo, head.can_redo), ("three", true, true));
    assert_eq!(store.redo(&id).unwrap().piece.name, "four");
    assert!(matches!(store.redo(&id), Err(StoreError::EndOfHistory("redo"))));
    for expected in ["three", "two", "one"] {
        assert_eq!(store.undo(&id).unwrap().piece.name, expected);
    }
    assert!(matches!(store.undo(&id), Err(StoreError::EndOfHistory("undo"))));
}

#[test]
fn an_edit_after_undo_drops_what_could_have_been_redone() {
    let (_folder, store) = store();
    let id = store.create(&Piece::new("one", Unit::Millimetre)).unwrap();
    rename(&store, &id, "two", None);
    store.undo(&id).unwrap();
    rename(&store, &id, "other", None);
    assert!(!store.head(&id).unwrap().can_redo);
    assert_eq!(store.undo(&id).unwrap().piece.name, "one");
    assert_eq!(store.redo(&id).unwrap().piece.name, "other");
}

#[test]
fn one_gesture_is_one_step_back() {
    let (_folder, store) = store();
    let id = store.create(&Piece::new("", Unit::Millimetre)).unwrap_err();
    // A piece without a name is refused when it is read back, so it is refused at once.
    assert!(matches!(id, StoreError::Document(_)));

    let id = store.create(&Piece::new("start", Unit::Millimetre)).unwrap();
    for typed in ["S", "So", "Sol"] {
        rename(&store, &id, typed, Some("typing-1"));
    }
    rename(&store, &id, "Sol!", Some("typing-2"));
    assert_eq!(store.undo(&id).unwrap().piece.name, "Sol");
    // After undo the old gesture is over: more of it is a step of its own.
    rename(&store, &id, "Solv", Some("typing-1"));
    assert_eq!(store.undo(&id).unwrap().piece.name, "Sol");
    assert_eq!(store.undo(&id).unwrap().piece.name, "start");
}

#[test]
fn a_refused_change_leaves_everything_as_it_was() {
    let (_folder, store) = store();
    let id = store.create(&Piece::new("one", Unit::Millimetre)).unwrap();
    rename(&store, &id, "two", None);
    store.undo(&id).unwrap();
    let refused = store.change::<StoreError>(&id, None, |_| Err(StoreError::Conflict));
    assert!(matches!(refused, Err(StoreError::Conflict)));
    let head = store.head(&id).unwrap();
    assert_eq!((head.piece.name.as_str(), head.can_redo), ("one", true));
}

#[test]
fn deleting_hides_and_restoring_brings_back_with_the_history() {
    let (_folder, store) = store();
    let id = store.create(&Piece::new("one", Unit::Millimetre)).unwrap();
    rename(&store, &id, "two", None);
    store.delete(&id).unwrap();
    assert!(matches!(store.head(&id), Err(StoreError::NoSuchPiece)));
    assert!(store.list().unwrap().is_empty());
    store.restore(&id).unwrap();
    assert_eq!(name(&store, &id), "two");
    assert_eq!(store.undo(&id).unwrap().piece.name, "one");
    assert!(matches!(store.delete("no-such"), Err(StoreError::NoSuchPiece)));
}

#[test]
fn changes_from_many_threads_are_all_kept() {
    let (_folder, store) = store();
    let id = store.create(&Piece::new("0", Unit::Millimetre)).unwrap();
    std::thread::scope(|scope| {
        for _ in 0..4 {
            scope.spawn(|| {
                for _ in 0..25 {
                    store
                        .change::<StoreError>(&id, None, |piece| {
                            let count: u32 = piece.name.parse().unwrap();
                            Ok(Piece { name: (count + 1).to_string(), ..piece.clone() })
                        })
                        .unwrap();
                }
            });
        }
    });
    assert_eq!(name(&store, &id), "100");
    assert_eq!(store.head(&id).unwrap().revision, 101);
}
