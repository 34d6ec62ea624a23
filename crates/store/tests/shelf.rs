//! Own typefaces and starters stay where they were put.

use kalotype_core::piece::{Edit, ElementKind, Piece, apply};
use kalotype_core::units::Unit;
use kalotype_store::{OwnTypeface, Store, StoreError};

fn typeface(id: &str, name: &str, bytes: usize) -> OwnTypeface {
    OwnTypeface {
        id: id.to_owned(),
        name: name.to_owned(),
        font: vec![7; bytes],
        face_index: 2,
        weight: Some(712.5),
        licence: "Free for the quay".to_owned(),
    }
}

#[test]
fn typefaces_are_kept_by_name_until_they_are_dropped_or_the_shelf_is_full() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("test.db");
    let store = Store::open(&path).unwrap();
    let (solveig, anker) = (typeface("own-1", "Solveig", 10), typeface("own-2", "Anker", 20));
    store.keep_typeface(&solveig).unwrap();
    store.keep_typeface(&anker).unwrap();
    drop(store);
    let store = Store::open(&path).unwrap();
    assert_eq!(store.typefaces().unwrap(), [anker, solveig.clone()]);
    let full = store.keep_typeface(&typeface("own-3", "Huge", 48 << 20)).unwrap_err();
    assert!(matches!(full, StoreError::ShelfFull(48)), "{full}");
    store.drop_typeface("own-2").unwrap();
    assert!(matches!(store.drop_typeface("own-2").unwrap_err(), StoreError::NotOnShelf));
    assert_eq!(store.typefaces().unwrap(), [solveig]);
}

#[test]
fn starters_are_pieces_of_their_own() {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(&folder.path().join("test.db")).unwrap();
    let piece = Piece::new("Berth tag", Unit::Millimetre);
    let piece = apply(&piece, &[Edit::add(ElementKind::Lettering)]).unwrap().piece;
    let id = store.keep_starter(&piece).unwrap();
    assert_eq!(store.starter(&id).unwrap().piece, piece);
    assert_eq!(store.starters().unwrap().len(), 1);
    assert!(store.list().unwrap().is_empty(), "a starter is no piece");
    store.drop_starter(&id).unwrap();
    assert!(matches!(store.starter(&id).unwrap_err(), StoreError::NotOnShelf));
}
