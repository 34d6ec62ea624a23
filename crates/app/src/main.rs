//! a
fn main() {}
