use super::{LookArguments, UNSOUND, print, print_json};
use crate::web::report_on;
use anyhow::Context;
use kalotype_core::formats::{MAX_MESH_BYTES, read_mesh};
use std::io::Read;
use std::process::ExitCode;

/// Says what is in a mesh file and what is wrong with it.
pub(super) fn run(arguments: &LookArguments) -> anyhow::Result<ExitCode> {
    let shown = arguments.file.display();
    let mut bytes = Vec::new();
    std::fs::File::open(&arguments.file)
        .and_then(|file| file.take(MAX_MESH_BYTES as u64 + 1).read_to_end(&mut bytes))
        .with_context(|| format!("cannot read {shown}"))?;
    let found = read_mesh(&bytes).with_context(|| format!("{shown} cannot be used"))?;
    let faults = found.faults();
    if arguments.json {
        print_json(&serde_json::to_value(report_on(&found))?)?;
    } else {
        let [x, y, z] = found.size();
        let triangles: usize = found.bodies.iter().map(|body| body.mesh.triangles.len()).sum();
        let unit = found.likely_unit();
        let sure = if found.unit.is_some() { "" } else { " (the file states no unit)" };
        print(&format!(
            "{}, {triangles} triangles, {x:.3} × {y:.3} × {z:.3} {unit}{sure}\n",
            found.format
        ))?;
        for sentence in faults.sentences() {
            print(&format!("{sentence}\n"))?;
        }
        if faults.is_sound() {
            print("It is closed and turned outwards.\n")?;
        }
    }
    Ok(if faults.is_sound() { ExitCode::SUCCESS } else { UNSOUND.into() })
}
