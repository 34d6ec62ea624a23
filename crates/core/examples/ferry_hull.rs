//! Draws the hull of the demo's ferry, a solid with a flat deck, and writes it as `demo/ferry-hull.stl`:
//! `cargo run -p kalotype-core --example ferry_hull -- demo/ferry-hull.stl`.

use kalotype_core::formats::stl;
use kalotype_core::solid::Mesh;

/// Length over all, half the beam, depth from deck to keel, in mm.
const LENGTH: f64 = 96.0;
const HALF_BEAM: f64 = 13.0;
const DEPTH: f64 = 18.0;

/// Stations from stern to stem, and points from the deck down to the keel.
const STATIONS: usize = 40;
const GIRTHS: usize = 12;

/// Half the breadth at a share of the length, 0 at the stern: full to the middle, drawn in to the stem.
fn half_breadth(along: f64) -> f64 {
    let forward = ((along - 0.35) / 0.65).max(0.0);
    let aft = ((0.35 - along) / 0.35).max(0.0);
    HALF_BEAM * (1.0 - 0.94 * forward.powf(2.4) - 0.18 * aft * aft)
}

/// A point of the hull's right or left side (`side` 1 or −1), `down` being 0 at the deck and 1 at the
/// keel, which is flat.
fn point(along: f64, down: f64, side: f64) -> [f64; 3] {
    let bilge = (1.0 - down.powf(2.2)).max(0.0).sqrt();
    let out = half_breadth(along) * (0.42 + 0.58 * bilge);
    // The stem rakes.
    let rake = 1.0 - 0.13 * down * along * along;
    [(along * rake - 0.5) * LENGTH, side * out, DEPTH * (1.0 - down)]
}

fn hull() -> Mesh {
    let mut mesh = Mesh::default();
    // A ring at every station: down the left side and up the right one.
    let ring: Vec<(f64, f64)> = (0..=GIRTHS)
        .map(|i| (i as f64 / GIRTHS as f64, 1.0))
        .chain((0..=GIRTHS).rev().map(|i| (i as f64 / GIRTHS as f64, -1.0)))
        .collect();
    let around = ring.len();
    for station in 0..=STATIONS {
        let along = station as f64 / STATIONS as f64;
        mesh.vertices.extend(ring.iter().map(|(down, side)| point(along, *down, *side)));
    }
    let at = |station: usize, i: usize| (station * around + i % around) as u32;
    for station in 0..STATIONS {
        for i in 0..around {
            let (a, b) = (at(station, i), at(station, i + 1));
            let (c, d) = (at(station + 1, i), at(station + 1, i + 1));
            mesh.triangles.extend([[a, d, b], [a, c, d]]);
        }
    }
    // Transom and stem, as strips from side to side.
    for (station, is_stem) in [(0, false), (STATIONS, true)] {
        for i in 0..GIRTHS {
            let (a, b) = (at(station, i), at(station, i + 1));
            let (c, d) = (at(station, around - 1 - i), at(station, around - 2 - i));
            let strip = [[a, c, b], [b, c, d]];
            mesh.triangles
                .extend(strip.map(|[p, q, r]| if is_stem { [p, q, r] } else { [p, r, q] }));
        }
    }
    mesh
}

fn main() -> std::io::Result<()> {
    let Some(path) = std::env::args().nth(1) else {
        eprintln!("name the file to write");
        std::process::exit(2);
    };
    let mesh = hull();
    let (faults, measures) = (mesh.faults(), mesh.measures());
    assert!(faults.is_sound() && measures.volume > 0.0, "{faults:?} {}", measures.volume);
    std::fs::write(path, stl::write_binary(&mesh, "Ferry hull, drawn for Kalotype's demo"))
}
