//! Templates and built assets are part of the binary.

fn main() {
    println!("cargo:rerun-if-changed=templates");
    println!("cargo:rerun-if-changed=assets");
    println!("cargo:rerun-if-changed=../../demo");
}
