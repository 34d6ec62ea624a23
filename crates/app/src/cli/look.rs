//! `kalotype look`: what is in a mesh file of others, and what is wrong with it.

use super::{LookArguments, UNSOUND, print, print_json, read_file};
use crate::service::{ReadMesh, Readers, report_on};
use anyhow::Context;
use kalotype_core::formats::MAX_MESH_BYTES;
use kalotype_core::halt::Halt;
use std::process::ExitCode;

/// Says what is in a mesh file, what is wrong with it, and what a piece could be made on.
pub(super) fn run(arguments: &LookArguments) -> anyhow::Result<ExitCode> {
    let shown = arguments.file.display();
    let bytes = read_file(&arguments.file, MAX_MESH_BYTES)?;
    let read = Readers::Here.mesh(&bytes, &Halt::default());
    let read = read.with_context(|| format!("{shown} cannot be used"))?;
    if arguments.json {
        print_json(&serde_json::to_value(report_on(&read))?)?;
        return Ok(if read.faults.is_sound() { ExitCode::SUCCESS } else { UNSOUND.into() });
    }
    let ReadMesh { found, faults, stock } = read;
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
    for remark in &found.remarks {
        print(&format!("{remark}\n"))?;
    }
    if faults.is_sound() {
        print("It is closed and turned outwards.\n")?;
    }
    match stock {
        Ok(stock) => {
            if stock.was_mended {
                print("A piece of it would be made of the mended surface.\n")?;
            }
            print("Flat faces:\n")?;
            for (i, face) in stock.faces.iter().enumerate() {
                let [width, height] = face.size(&stock.mesh);
                let facing = face.facing();
                print(&format!("  {:2}  {facing:9}  {width:.2} × {height:.2} {unit}\n", i + 1))?;
            }
        }
        Err(error) => print(&format!("No piece can be made of it: {error}.\n"))?,
    }
    Ok(if faults.is_sound() { ExitCode::SUCCESS } else { UNSOUND.into() })
}
