//! `kalotype build`: a piece file into files for the printer or the engraver.

use super::{BuildArguments, Checked, NOT_BUILDABLE, look_through, print_json, work_out_copy};
use crate::service::{Asked, check_copies, export, facts_of};
use anyhow::{Context, anyhow, bail};
use kalotype_core::export::{Format, OutFile, free_name};
use kalotype_core::formats::archive;
use kalotype_core::piece::Piece;
use kalotype_core::preflight::Weight;
use serde_json::json;
use std::fs::{self, File};
use std::io::Write;
use std::path::{Path, PathBuf};
use std::process::ExitCode;

/// Builds a piece file into files for the printer or the engraver.
pub(super) fn run(arguments: &BuildArguments) -> anyhow::Result<ExitCode> {
    let format = format_of(arguments)?;
    let tolerance = arguments.tolerance.into();
    let Checked { piece, worked, findings } =
        look_through(&arguments.piece, &arguments.meshes, tolerance)?;
    if !arguments.json {
        for finding in &findings {
            eprintln!("{}: {}: {}", word(finding.weight), finding.target, finding.message);
        }
    }
    let mut written = Vec::new();
    let files = match arguments.copies {
        // Why it cannot be built, the findings say.
        1 => export(&piece, &worked, asked(arguments, format)).ok(),
        _ => copies(&piece, arguments, format)?,
    };
    let is_buildable = files.is_some();
    if let Some(files) = files {
        for (path, bytes, triangles) in placed(files, &arguments.output)? {
            write_whole(&path, &bytes)?;
            if !arguments.json {
                let of_mesh = triangles.map(|count| format!(", {count} triangles"));
                let (shown, of_mesh) = (path.display(), of_mesh.unwrap_or_default());
                eprintln!("{shown}: {} bytes{of_mesh}", bytes.len());
            }
            let path = path.display().to_string();
            written.push(json!({ "path": path, "bytes": bytes.len(), "triangles": triangles }));
        }
    }
    if arguments.json {
        print_json(&json!({
            "name": piece.name,
            "files": written,
            "facts": facts_of(&piece, &worked.evaluation),
            "findings": findings,
        }))?;
    }
    Ok(if is_buildable { ExitCode::SUCCESS } else { NOT_BUILDABLE.into() })
}

/// What is asked of the export of one piece.
fn asked(arguments: &BuildArguments, format: Format) -> Asked {
    Asked { format, division: arguments.colours.into(), each: arguments.each, copies: 1 }
}

/// The files of several copies of a piece whose texts count; nothing where one cannot be built.
fn copies(
    piece: &Piece,
    arguments: &BuildArguments,
    format: Format,
) -> anyhow::Result<Option<Vec<OutFile>>> {
    check_copies(arguments.copies).map_err(|trouble| anyhow!("{trouble}"))?;
    if !piece.counts() {
        bail!("no text of this piece counts, so that all its copies are alike");
    }
    let mut files: Vec<OutFile> = Vec::new();
    for number in 0..arguments.copies {
        let (copy, worked) =
            work_out_copy(&arguments.piece, &arguments.meshes, arguments.tolerance.into(), number)?;
        let one = export(&copy, &worked, asked(arguments, format));
        let Ok(one) = one else { return Ok(None) };
        for file in one {
            let name = free_name(&files, &file.name);
            files.push(OutFile { name, ..file });
        }
    }
    Ok(Some(files))
}

/// The format that was asked for, or the one the ending of the output tells.
fn format_of(arguments: &BuildArguments) -> anyhow::Result<Format> {
    let shown = arguments.output.display();
    let ending = |path: &Path| path.extension().and_then(|e| e.to_str()).map(str::to_owned);
    let format = match &arguments.format {
        Some(word) => {
            let known = Format::ALL.into_iter().find(|(name, _)| name == word);
            let png = (word == "png").then_some(("png", Format::SolidPng));
            match known.or(png) {
                Some((_, format)) => format,
                None => {
                    let words: Vec<_> = Format::ALL.iter().map(|(name, _)| *name).collect();
                    bail!("there is no format “{word}”; there are {}", words.join(", "));
                }
            }
        }
        None => match ending(&arguments.output).and_then(|ending| Format::by_ending(&ending)) {
            Some(format) => format,
            None => bail!(
                "{shown}: the name must end in .stl, .3mf, .obj, .svg, .dxf or .png to say what is \
                 written, or say it with --format"
            ),
        },
    };
    match (format, arguments.ascii) {
        (Format::Stl, true) => Ok(Format::StlText),
        (_, false) => Ok(format),
        (_, true) => bail!("--ascii is for STL; {shown} is no STL file"),
    }
}

/// A file to write: where to, what, and how many triangles it has.
type Placed = (PathBuf, Vec<u8>, Option<usize>);

/// Where the files go: a single one to the output, several into it as an archive or a folder. A
/// material library stands beside its OBJ file.
pub(super) fn placed(files: Vec<OutFile>, output: &Path) -> anyhow::Result<Vec<Placed>> {
    let is_zip = output.extension().is_some_and(|ending| ending.eq_ignore_ascii_case("zip"));
    if is_zip {
        let triangles = files.iter().filter_map(|file| file.triangles).sum();
        let bytes = archive(files.iter().map(|file| (file.name.as_str(), &file.bytes[..])));
        return Ok(vec![(output.to_owned(), bytes, Some(triangles))]);
    }
    if output.is_dir() {
        let into = |file: OutFile| (output.join(&file.name), file.bytes, file.triangles);
        return Ok(files.into_iter().map(into).collect());
    }
    let meshes = files.iter().filter(|file| !file.name.ends_with(".mtl")).count();
    if meshes > 1 {
        bail!(
            "{meshes} files are to be written: give a folder that exists, or a name that ends in \
             .zip, instead of {}",
            output.display()
        );
    }
    let place = |file: OutFile| {
        let path = if file.name.ends_with(".mtl") {
            output.with_file_name(&file.name)
        } else {
            output.to_owned()
        };
        (path, file.bytes, file.triangles)
    };
    Ok(files.into_iter().map(place).collect())
}

/// The word of a weight.
pub(super) fn word(weight: Weight) -> &'static str {
    match weight {
        Weight::Stop => "stop",
        Weight::Must => "must",
        Weight::Should => "should",
        Weight::Note => "note",
    }
}

/// Writes a file under another name first, so that a half-written one never stands in its place.
///
/// A link stays one, and what it leads to is replaced; a pipe or a device is written into. What is replaced keeps
/// its permissions, and a new file has those new files have.
pub(super) fn write_whole(path: &Path, bytes: &[u8]) -> anyhow::Result<()> {
    let shown = path.display();
    let cannot = || format!("cannot write {shown}");
    let before = fs::metadata(path).ok();
    if before.as_ref().is_some_and(|before| !before.is_file()) {
        let mut into = File::options().write(true).open(path).with_context(cannot)?;
        return into.write_all(bytes).with_context(cannot);
    }
    let target = led_to(path);
    let folder = target.parent().filter(|folder| !folder.as_os_str().is_empty());
    let mut naming = tempfile::Builder::new();
    #[cfg(unix)]
    naming.permissions(std::os::unix::fs::PermissionsExt::from_mode(0o666));
    let mut file = naming
        .tempfile_in(folder.unwrap_or(Path::new(".")))
        .with_context(|| format!("cannot write beside {shown}"))?;
    file.write_all(bytes).with_context(cannot)?;
    if let Some(before) = before {
        file.as_file().set_permissions(before.permissions()).with_context(cannot)?;
    }
    file.persist(&target).with_context(cannot)?;
    Ok(())
}

/// What a path leads to where it is a link, also to a file that is not there yet.
fn led_to(path: &Path) -> PathBuf {
    const MOST_LINKS: usize = 40;
    let mut target = path.to_owned();
    for _ in 0..MOST_LINKS {
        let Ok(next) = fs::read_link(&target) else { break };
        target = target.parent().unwrap_or(Path::new("")).join(next);
    }
    target
}
