//! Databases of every earlier schema are brought up to date, whatever is in them; and what cannot be read costs nothing
//! else.

use diesel::connection::SimpleConnection;
use diesel::prelude::*;
use diesel::sql_types::{BigInt, Text};
use kalotype_core::piece::{self, Piece, Printer};
use kalotype_core::units::Unit;
use kalotype_store::{Change, Order, PutAside, Sought, Store, StoreError};
use std::path::{Path, PathBuf};

/// The migrations, the oldest first.
fn migrations() -> Vec<PathBuf> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("migrations");
    let mut all: Vec<PathBuf> =
        std::fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path()).collect();
    all.sort();
    all
}

/// A database as a program with only the first of the migrations left it.
fn database_of(count: usize, file: &Path) -> SqliteConnection {
    let mut connection = SqliteConnection::establish(file.to_str().unwrap()).unwrap();
    connection
        .batch_execute(
            "PRAGMA journal_mode = WAL;
             CREATE TABLE __diesel_schema_migrations (version VARCHAR(50) PRIMARY KEY NOT NULL,
                 run_on TIMESTAMP NOT NULL DEFAULT CURRENT_TIMESTAMP);",
        )
        .unwrap();
    for folder in &migrations()[..count] {
        let script = std::fs::read_to_string(folder.join("up.sql")).unwrap();
        connection.batch_execute(&script).unwrap();
        let name = folder.file_name().unwrap().to_str().unwrap();
        let version: String =
            name.split('_').next().unwrap().chars().filter(char::is_ascii_digit).collect();
        diesel::sql_query("INSERT INTO __diesel_schema_migrations (version) VALUES (?)")
            .bind::<Text, _>(version)
            .execute(&mut connection)
            .unwrap();
    }
    connection
}

#[derive(QueryableByName)]
struct Found {
    #[diesel(sql_type = BigInt)]
    found: i64,
}

fn has(connection: &mut SqliteConnection, table: &str, column: &str) -> bool {
    let query = "SELECT count(*) AS found FROM pragma_table_info(?) WHERE name = ?";
    let found: Found = diesel::sql_query(query)
        .bind::<Text, _>(table)
        .bind::<Text, _>(column)
        .get_result(connection)
        .unwrap();
    found.found > 0
}

fn run(connection: &mut SqliteConnection, query: &str, texts: &[&str]) {
    let mut query = diesel::sql_query(query).into_boxed();
    for text in texts {
        query = query.bind::<Text, _>((*text).to_owned());
    }
    query.execute(connection).unwrap();
}

/// A piece with a revision of each of these documents, the last one shown.
fn put(connection: &mut SqliteConnection, id: &str, documents: &[String]) {
    let head = documents.len();
    let query = format!(
        "INSERT INTO pieces (id, head, created_at, changed_at) VALUES (?, {head}, 1000, 2000)"
    );
    run(connection, &query, &[id]);
    if has(connection, "pieces", "name") {
        let query = "UPDATE pieces SET name = ?, size = '72 × 24 × 3 mm' WHERE id = ?";
        run(connection, query, &[id, id]);
    }
    for (i, document) in documents.iter().enumerate() {
        let number = i + 1;
        let query =
            format!("INSERT INTO revisions (piece_id, number, document) VALUES (?, {number}, ?)");
        run(connection, &query, &[id, document]);
        if has(connection, "steps", "act") {
            let act = if i == 0 { "made" } else { "step" };
            let query = format!(
                "INSERT INTO steps (piece_id, number, author, created_at, act, base) \
                 VALUES (?, {number}, '', 0, '{act}', {i})"
            );
            run(connection, &query, &[id]);
        }
    }
}

fn named(name: &str) -> String {
    piece::write(&Piece::new(name, Unit::Millimetre))
}

fn rename(store: &Store, id: &str, name: &str) {
    let change =
        |piece: &Piece| Ok::<_, StoreError>(Piece { name: name.to_owned(), ..piece.clone() });
    store.change(id, &Change::default(), change).unwrap();
}

#[test]
fn a_database_of_every_earlier_schema_is_brought_up_to_date() {
    let count = migrations().len();
    assert!(count > 9);
    for known in 1..=count {
        let folder = tempfile::tempdir().unwrap();
        let file = folder.path().join("kalotype.db");
        let mut connection = database_of(known, &file);
        let cut = |name: &str| named(name)[..40].to_owned();
        put(&mut connection, "good", &["one", "two", "Łosoś"].map(named));
        put(&mut connection, "cut", &[named("one"), named("two"), cut("three")]);
        put(&mut connection, "lost", &[cut("one"), String::new()]);
        let mut lost = 1;
        for (table, column) in [("starters", "document"), ("printers", "document")] {
            if has(&mut connection, table, column) {
                let query =
                    format!("INSERT INTO {table} (id, document, created_at) VALUES (?, ?, 1000)");
                run(&mut connection, &query, &["bad", "{\"name\": "]);
                lost += 1;
            }
        }
        drop(connection);

        let store = Store::open(&file).unwrap();
        let head = store.head("good", "").unwrap();
        assert_eq!((head.piece.name.as_str(), head.can_undo), ("Łosoś", true), "of {known}");
        assert_eq!(store.undo("good", &Change::default()).unwrap().piece.name, "two");
        assert_eq!(store.redo("good", &Change::default()).unwrap().piece.name, "Łosoś");
        let sought = Sought { words: "LOSOS".to_owned(), ..Sought::default() };
        assert_eq!(store.list(&sought, 0, 9).unwrap().1, 1, "of {known}");
        assert!(store.made_on(Printer::SHIPPED_ID).unwrap().contains(&"good".to_owned()));
        assert_eq!(store.head("cut", "").unwrap().piece.name, "two", "of {known}");
        if known < count {
            assert_eq!(store.put_aside().unwrap(), PutAside { lost, revisions: 1 }, "of {known}");
            assert!(matches!(store.head("lost", ""), Err(StoreError::NoSuchPiece)));
            let by_name = Sought { order: Order::Name, ..Sought::default() };
            assert_eq!(store.list(&by_name, 0, 9).unwrap().1, 2, "of {known}");
        }
        // It goes on from there, and again after it was closed.
        rename(&store, "cut", "four");
        assert_eq!(store.undo("cut", &Change::default()).unwrap().piece.name, "two");
        drop(store);
        let store = Store::open(&file).unwrap();
        assert_eq!(store.redo("cut", &Change::default()).unwrap().piece.name, "four");
    }
}

/// The newest document of a piece cannot be read, well formed or not: the piece is opened at the last that can, which is
/// said, and what is changed then is kept on that.
#[test]
fn a_piece_whose_newest_document_is_broken_opens_at_the_last_good_one() {
    for broken in ["{}", "[1]", "{\"kalotype\": 99999}", "", "\0"] {
        let folder = tempfile::tempdir().unwrap();
        let file = folder.path().join("kalotype.db");
        let store = Store::open(&file).unwrap();
        let first = Piece::new("one", Unit::Millimetre);
        let id = store.create(&first, &Change::default()).unwrap();
        ["two", "three", "four"].iter().for_each(|name| rename(&store, &id, name));
        let mut connection = SqliteConnection::establish(file.to_str().unwrap()).unwrap();
        let query = "UPDATE revisions SET document = ? WHERE piece_id = ? AND number > 2";
        run(&mut connection, query, &[broken, &id]);
        let head = store.head(&id, "").unwrap();
        assert_eq!(
            (head.piece.name.as_str(), head.shown, head.revision),
            ("two", 2, 4),
            "{broken}"
        );
        // What was based on a state that cannot be read is compared with nothing, and what was taken away cannot be
        // brought back by going back either.
        assert_eq!(store.revision(&id, 3).unwrap(), None);
        assert!(matches!(store.undo(&id, &Change::default()), Err(StoreError::EndOfHistory(_))));
        rename(&store, &id, "five");
        let head = store.head(&id, "").unwrap();
        assert_eq!((head.piece.name.as_str(), head.shown, head.revision), ("five", 5, 5));
        assert_eq!(store.undo(&id, &Change::default()).unwrap().piece.name, "two");
        assert_eq!(store.redo(&id, &Change::default()).unwrap().piece.name, "five");
    }
}
