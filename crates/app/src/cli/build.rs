use super::{BuildArguments, NOT_BUILDABLE, read_piece};
use anyhow::Context;
use kalotype_core::build::evaluate;
use kalotype_core::formats::stl;
use kalotype_core::preflight::Weight;
use std::io::Write;
use std::path::Path;
use std::process::ExitCode;

/// Builds a piece file into an STL file.
pub(super) fn run(arguments: &BuildArguments) -> anyhow::Result<ExitCode> {
    let piece = read_piece(&arguments.piece)?;
    let evaluation = evaluate(&piece, arguments.tolerance.into());
    for finding in &evaluation.findings {
        eprintln!("{}: {}: {}", word(finding.weight), finding.target, finding.message);
    }
    if evaluation.mesh.triangles.is_empty() {
        return Ok(NOT_BUILDABLE.into());
    }
    let bytes = if arguments.ascii {
        stl::write_ascii(&evaluation.mesh, &piece.name).into_bytes()
    } else {
        stl::write_binary(&evaluation.mesh, &piece.name)
    };
    write_whole(&arguments.output, &bytes)?;
    let (output, triangles) = (arguments.output.display(), evaluation.mesh.triangles.len());
    eprintln!("{output}: {triangles} triangles, {:.2} mm³", evaluation.measures.volume);
    Ok(ExitCode::SUCCESS)
}

fn word(weight: Weight) -> &'static str {
    match weight {
        Weight::Stop => "stop",
        Weight::Wrong => "wrong",
        Weight::Look => "look",
    }
}

/// Writes a file under another name first, so that a half-written one never stands in its place.
fn write_whole(path: &Path, bytes: &[u8]) -> anyhow::Result<()> {
    let folder = path.parent().filter(|folder| !folder.as_os_str().is_empty());
    let shown = path.display();
    let mut file = tempfile::NamedTempFile::new_in(folder.unwrap_or(Path::new(".")))
        .with_context(|| format!("cannot write beside {shown}"))?;
    file.write_all(bytes).with_context(|| format!("cannot write {shown}"))?;
    file.persist(path).with_context(|| format!("cannot write {shown}"))?;
    Ok(())
}
