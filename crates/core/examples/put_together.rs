//! Puts a piece together and prints its components as meshes where they then stand, and its slots, as
//! JSON, for comparison with other libraries:
//! `cargo run -p kalotype-core --example put_together -- PIECE_FILE`.

use kalotype_core::cache::Cache;
use kalotype_core::evaluate::{evaluate, put_together};
use kalotype_core::library::Shipped;
use kalotype_core::piece;
use kalotype_core::plane::Tolerance;
use kalotype_core::workshop::Workshop;
use serde_json::json;

fn main() {
    let path = std::env::args().nth(1).expect("usage: put_together PIECE_FILE");
    let piece = piece::read(&std::fs::read(path).expect("a file to read")).expect("a piece file");
    let cache = Cache::new(16 << 20);
    let workshop = Workshop::new(&Shipped, &cache, Tolerance::Normal);
    let evaluation = evaluate(&piece, &workshop).expect("nobody stops it");
    let poses = put_together(&piece, &evaluation);
    let components: Vec<_> = evaluation
        .components
        .iter()
        .zip(poses)
        .map(|(made, pose)| {
            let vertices = made.mesh.vertices.iter().map(|[x, y, z]| pose.point(*x, *y, *z));
            let slots = made.layout.slots.iter().map(|slot| {
                json!({ "joint": slot.joint, "clearance_mm": slot.clearance, "depth_mm": slot.depth })
            });
            json!({
                "id": made.id,
                "vertices_mm": vertices.collect::<Vec<_>>(),
                "triangles": made.mesh.triangles,
                "slots": slots.collect::<Vec<_>>(),
            })
        })
        .collect();
    println!("{}", json!({ "components": components }));
}
