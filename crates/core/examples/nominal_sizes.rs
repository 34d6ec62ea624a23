//! Prints the nominal sizes of pipes and tubes as JSON, for comparison with other tables:
//! `cargo run -p kalotype-core --example nominal_sizes`.

use kalotype_core::piece::{COPPER_TUBES, Nominal, STEEL_PIPES};
use serde_json::json;

fn main() {
    let told = |sizes: &[Nominal]| -> Vec<_> {
        sizes.iter().map(|size| json!({ "name": size.name, "outside_mm": size.outside })).collect()
    };
    println!("{}", json!({ "steel": told(&STEEL_PIPES), "copper": told(&COPPER_TUBES) }));
}
