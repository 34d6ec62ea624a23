//! The core stays free of the web and of the database.

use std::process::Command;

#[test]
fn the_core_depends_on_no_web_or_database_crate() {
    let output = Command::new(env!("CARGO"))
        .args(["tree", "-p", "kalotype-core", "-e", "normal", "--prefix", "none", "--offline"])
        .current_dir(env!("CARGO_MANIFEST_DIR"))
        .output()
        .unwrap();
    let tree = String::from_utf8(output.stdout).unwrap();
    assert!(tree.contains("i_overlay"), "{tree}");
    for banned in
        ["actix", "askama", "diesel", "sqlite", "tokio", "hyper", "kalotype-store", "clap"]
    {
        let found = tree.lines().find(|line| line.starts_with(banned));
        assert_eq!(found, None, "the core must not depend on {banned}");
    }
}
