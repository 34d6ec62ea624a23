//! Own typefaces, starters and filaments stay where they were put.

use kalotype_core::filament::{Filament, Rgb, shipped_palette};
use kalotype_core::piece::{Blank, MeshBlank, Piece, WorkedFace};
use kalotype_core::units::Unit;
use kalotype_store::{
    Change, KeptMesh, Move, Order, OwnTypeface, Place, Sought, Store, StoreError,
};

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
    assert_eq!(store.keep_typeface(&solveig, Some("r-1")).unwrap(), "own-1");
    // The same request keeps nothing more.
    let again = typeface("own-9", "Solveig", 10);
    assert_eq!(store.keep_typeface(&again, Some("r-1")).unwrap(), "own-1");
    store.keep_typeface(&anker, None).unwrap();
    drop(store);
    let store = Store::open(&path).unwrap();
    assert_eq!(store.typefaces().unwrap(), [anker, solveig.clone()]);
    let listed = store.listed_typefaces().unwrap();
    assert_eq!(listed.iter().map(|[id, ..]| &id[..]).collect::<Vec<_>>(), ["own-2", "own-1"]);
    let full = store.keep_typeface(&typeface("own-3", "Huge", 128 << 20), None).unwrap_err();
    assert!(matches!(full, StoreError::ShelfFull(128)), "{full}");
    store.drop_typeface("own-2").unwrap();
    assert!(matches!(store.drop_typeface("own-2").unwrap_err(), StoreError::NotOnShelf));
    assert_eq!(store.typefaces().unwrap(), [solveig]);
}

#[test]
fn starters_are_pieces_of_their_own_with_names_of_their_own() {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(&folder.path().join("test.db")).unwrap();
    let piece = Piece::new("Berth tag", Unit::Millimetre);
    let first = store.keep_starter(&piece, "Tag").unwrap();
    let second = store.keep_starter(&piece, "Tag").unwrap();
    let name = |id: &str| store.starter(id).unwrap().name;
    assert_eq!((name(&first), name(&second)), ("Tag".to_owned(), "Tag 2".to_owned()));
    assert_eq!(store.starter(&first).unwrap().piece, piece);
    assert!(store.list(&Sought::default(), 0, 9).unwrap().0.is_empty(), "a starter is no piece");

    store.drop_starter(&first).unwrap();
    assert!(matches!(store.starter(&first).unwrap_err(), StoreError::NotOnShelf));
    assert!(matches!(store.drop_starter(&first).unwrap_err(), StoreError::NotOnShelf));
    store.rename_starter(&second, "Tag").unwrap();
    store.restore_starter(&first).unwrap();
    assert_eq!((name(&first), name(&second)), ("Tag 2".to_owned(), "Tag".to_owned()));

    let wider = Piece::new("Wider tag", Unit::Millimetre);
    store.change_starter(&second, &wider, "Tag").unwrap();
    assert_eq!(store.starter(&second).unwrap().piece, wider);
    assert_eq!(name(&second), "Tag");
    assert_eq!(store.starters().unwrap().len(), 2);
    assert!(matches!(store.change_starter("none", &wider, "Tag"), Err(StoreError::NotOnShelf)));

    // One that somebody deleted meanwhile is not changed unseen.
    store.drop_starter(&second).unwrap();
    assert!(matches!(store.change_starter(&second, &piece, "X"), Err(StoreError::NotOnShelf)));
    assert!(matches!(store.rename_starter(&second, "X"), Err(StoreError::NotOnShelf)));
    store.restore_starter(&second).unwrap();
    assert_eq!((store.starter(&second).unwrap().piece, name(&second)), (wider, "Tag".to_owned()));
}

/// A piece and the starter that is kept of it change together: where the starter is gone neither does, and the same request keeps
/// one.
#[test]
fn a_piece_and_its_starter_are_kept_together() {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(&folder.path().join("test.db")).unwrap();
    let id = store.create(&Piece::new("one", Unit::Millimetre), &Change::default()).unwrap();
    let keep = |name: &str, request, instead_of| {
        let by = Change { request, ..Change::default() };
        let change =
            |piece: &Piece| Ok::<_, StoreError>(Piece { name: name.to_owned(), ..piece.clone() });
        store.keep_as_starter(&id, &by, change, ("Tag", instead_of))
    };
    assert!(matches!(keep("two", None, Some("gone")), Err(StoreError::NotOnShelf)));
    assert_eq!(store.head(&id, "").unwrap().revision, 1);
    let made = keep("two", Some("r-1"), None).unwrap();
    assert_eq!(keep("two", Some("r-1"), None).unwrap(), made);
    assert_eq!((store.starters().unwrap().len(), store.head(&id, "").unwrap().revision), (1, 2));
    let deleted = keep("three", None, None).unwrap();
    store.drop_starter(&deleted).unwrap();
    assert!(matches!(keep("four", Some("r-2"), Some(&deleted)), Err(StoreError::NotOnShelf)));
    // What was refused may be asked for again.
    assert_eq!(keep("four", Some("r-2"), Some(&made)).unwrap(), made);
    assert_eq!(store.starter(&made).unwrap().piece.name, "four");
}

#[test]
fn pieces_are_sought_by_name_in_any_order_and_kept_apart() {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(&folder.path().join("test.db")).unwrap();
    let sizes =
        [("Łosoś", "30 × 20 × 3 mm"), ("Ægir", "2 × 1 × 1/8 in"), ("Åse", "72 × 24 × 3 mm")];
    let ids: Vec<String> = sizes
        .iter()
        .map(|(name, size)| {
            let by = Change { size: Some((*size).to_owned()), ..Change::default() };
            store.create(&Piece::new(name, Unit::Millimetre), &by).unwrap()
        })
        .collect();
    let names = |words: &str, place: Place, order: Order| {
        let sought = Sought { words: words.to_owned(), place, order };
        let (listed, count) = store.list(&sought, 0, 9).unwrap();
        assert_eq!(listed.len(), count);
        listed.into_iter().map(|one| one.name).collect::<Vec<_>>()
    };
    assert_eq!(names("", Place::AtHand, Order::Name), ["Ægir", "Åse", "Łosoś"]);
    assert_eq!(names("", Place::AtHand, Order::Size), ["Åse", "Ægir", "Łosoś"]);
    assert_eq!(names("  LOSOS ", Place::AtHand, Order::Changed), ["Łosoś"]);
    assert_eq!(names("%", Place::AtHand, Order::Changed), [""; 0]);
    let two = Sought { order: Order::Name, ..Sought::default() };
    assert_eq!(store.list(&two, 2, 9).unwrap().0[0].name, "Łosoś");

    let east = || Place::Drawer("East".to_owned());
    store.put(&ids[..2], &Move::Keep(Some("East".to_owned()))).unwrap();
    assert_eq!(names("", Place::AtHand, Order::Name), ["Åse"]);
    assert_eq!(names("", east(), Order::Name), ["Ægir", "Łosoś"]);
    assert_eq!(names("aegir", Place::AtHand, Order::Name), ["Ægir"], "drawers are looked through");
    store.delete(&ids[1]).unwrap();
    assert_eq!(names("", Place::Deleted, Order::Name), ["Ægir"]);
    assert_eq!(store.drawers().unwrap(), (vec![("East".to_owned(), 1)], 1));

    // One that is not there keeps the others where they are.
    let with_stranger = [ids[2].clone(), "none".to_owned()];
    for to in [Move::Delete, Move::Keep(None), Move::Restore] {
        assert!(matches!(store.put(&with_stranger, &to), Err(StoreError::NoSuchPiece)));
    }
    assert_eq!(names("", Place::AtHand, Order::Name), ["Åse"]);
    store.restore(&ids[1]).unwrap();
    assert_eq!(names("", east(), Order::Name), ["Ægir", "Łosoś"], "back where it was");
}

#[test]
fn the_palette_begins_as_shipped_and_keeps_what_is_made_of_it() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("test.db");
    let store = Store::open(&path).unwrap();
    assert_eq!(store.filaments().unwrap(), shipped_palette());
    let mut sail = shipped_palette().remove(1);
    (sail.name, sail.spool_price) = ("Sail white, matt".to_owned(), 31.5);
    let change = |_: &Filament| Ok::<_, StoreError>(sail.clone());
    assert_eq!(store.change_filament(&sail.id, change).unwrap(), sail);
    let gone = store.change_filament("nothing", change).unwrap_err();
    assert!(matches!(gone, StoreError::NotOnShelf));
    let own = Filament { id: "own".to_owned(), colour: Rgb([1, 2, 3]), ..sail.clone() };
    for _ in 0..2 {
        let own = Filament { name: "Told apart by its request".to_owned(), ..own.clone() };
        assert_eq!(store.add_filament(&own, Some("r-2")).unwrap(), "own");
    }
    store.change_filament("own", |_| Ok::<_, StoreError>(own.clone())).unwrap();
    store.drop_filament("harbour").unwrap();
    drop(store);

    let store = Store::open(&path).unwrap();
    let kept = store.filaments().unwrap();
    assert_eq!(
        (kept.len(), &kept[0], kept.last().unwrap()),
        (shipped_palette().len(), &sail, &own)
    );
    for filament in &kept[1..] {
        store.drop_filament(&filament.id).unwrap();
    }
    let last = store.drop_filament(&kept[0].id).unwrap_err();
    assert!(matches!(last, StoreError::LastFilament), "{last}");
    assert_eq!(store.filaments().unwrap(), [sail]);
    assert!(matches!(store.drop_filament("harbour").unwrap_err(), StoreError::NotOnShelf));
}

#[test]
fn meshes_are_kept_once_and_stay_while_a_piece_is_made_of_them() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("test.db");
    let store = Store::open(&path).unwrap();
    let float = KeptMesh {
        id: "mesh-1".to_owned(),
        name: "float.stl".to_owned(),
        file: vec![7; 1000],
        triangles: 12,
        is_mended: false,
    };
    store.keep_mesh(&float).unwrap();
    store.keep_mesh(&KeptMesh { name: "again.stl".to_owned(), ..float.clone() }).unwrap();
    let mut piece = Piece::new("Mooring float", Unit::Millimetre);
    piece.components[0].blank = Blank::Mesh(MeshBlank {
        mesh: float.id.clone(),
        file: float.name.clone(),
        scale: 1.0,
        face: WorkedFace { normal: [0.0, 0.0, 1.0], level: 4.0 },
        turn: 0.0,
        colour: piece.filaments[0].id.clone(),
    });
    let made = store.create(&piece, &Change::default()).unwrap();
    drop(store);

    let store = Store::open(&path).unwrap();
    assert_eq!(store.mesh("mesh-1").unwrap(), Some(float));
    assert_eq!(store.mesh("mesh-2").unwrap(), None);
    let listed = store.meshes().unwrap();
    assert_eq!((listed.len(), listed[0].name.as_str(), listed[0].pieces), (1, "float.stl", 1));
    let used = store.drop_mesh("mesh-1").unwrap_err();
    assert!(matches!(used, StoreError::MeshInUse(1)), "{used}");
    // A piece that was deleted can be brought back, and one that is something else by now can be a float again.
    store.delete(&made).unwrap();
    assert!(matches!(store.drop_mesh("mesh-1").unwrap_err(), StoreError::MeshInUse(1)));
    assert_eq!((store.meshes().unwrap()[0].pieces, store.meshes().unwrap()[0].deleted), (0, 1));
    store.restore(&made).unwrap();
    let plate = Piece::new("Plate", Unit::Millimetre);
    let change = |_: &Piece| Ok::<_, StoreError>(plate.clone());
    store.change(&made, &Change::default(), change).unwrap();
    assert!(matches!(store.drop_mesh("mesh-1").unwrap_err(), StoreError::MeshInUse(1)));
    store.undo(&made, &Change::default()).unwrap();
    assert_eq!(store.head(&made, "").unwrap().piece, piece);
    // So can a starter that was taken away.
    let starter = store.keep_starter(&piece, "Float").unwrap();
    store.drop_starter(&starter).unwrap();
    assert_eq!((store.meshes().unwrap()[0].pieces, store.meshes().unwrap()[0].deleted), (1, 1));
    drop(store);

    // What was made before this was remembered is looked through when the database is opened.
    let sql = |sql: &str| {
        use diesel::connection::SimpleConnection;
        let file = path.to_str().unwrap();
        let mut database: diesel::SqliteConnection = diesel::Connection::establish(file).unwrap();
        database.batch_execute(sql).unwrap();
    };
    sql("DELETE FROM piece_uses; UPDATE pieces SET uses_known = 0; DELETE FROM starters;");
    let store = Store::open(&path).unwrap();
    assert!(matches!(store.drop_mesh("mesh-1").unwrap_err(), StoreError::MeshInUse(1)));
    store.delete(&made).unwrap();
    drop(store);
    sql("UPDATE pieces SET deleted_at = 1;");
    let store = Store::open(&path).unwrap();
    store.drop_mesh("mesh-1").unwrap();
    assert!(matches!(store.drop_mesh("mesh-1").unwrap_err(), StoreError::NotOnShelf));
}
