//! Migrations are embedded, so a new one must rebuild the crate.

fn main() {
    println!("cargo:rerun-if-changed=migrations");
}
