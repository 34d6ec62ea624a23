use super::{BuildArguments, NOT_BUILDABLE, read_piece};
use anyhow::{Context, bail};
use kalotype_core::build::evaluate;
use kalotype_core::formats::MeshFormat;
use kalotype_core::preflight::Weight;
use std::io::Write;
use std::path::Path;
use std::process::ExitCode;

/// Builds a piece file into a file for the printer, its format told by the ending of its name.
pub(super) fn run(arguments: &BuildArguments) -> anyhow::Result<ExitCode> {
    let format = format_of(arguments)?;
    let piece = read_piece(&arguments.piece)?;
    let evaluation = evaluate(&piece, arguments.tolerance.into());
    for finding in &evaluation.findings {
        eprintln!("{}: {}: {}", word(finding.weight), finding.target, finding.message);
    }
    if evaluation.mesh.triangles.is_empty() {
        return Ok(NOT_BUILDABLE.into());
    }
    let bytes = format.write(&evaluation.mesh, &piece.name);
    write_whole(&arguments.output, &bytes)?;
    let (output, triangles) = (arguments.output.display(), evaluation.mesh.triangles.len());
    eprintln!("{output}: {triangles} triangles, {:.2} mm³", evaluation.measures.volume);
    Ok(ExitCode::SUCCESS)
}

fn format_of(arguments: &BuildArguments) -> anyhow::Result<MeshFormat> {
    let ending =
        arguments.output.extension().and_then(|ending| ending.to_str()).unwrap_or_default();
    match (MeshFormat::by_ending(ending), arguments.ascii) {
        (Some(MeshFormat::Stl), true) => Ok(MeshFormat::StlText),
        (Some(format), false) => Ok(format),
        (Some(_), true) => {
            bail!("--ascii is for STL; {} is no STL file", arguments.output.display())
        }
        (None, _) => bail!(
            "{}: the name must end in .stl, .3mf or .obj to say what is written",
            arguments.output.display()
        ),
    }
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
