//! `check`: looks pieces through for what goes wrong on the printer, and mends what can be mended.

use super::build::{word, write_whole};
use super::{AtHand, CheckArguments, NOT_BUILDABLE, print, print_json, read_file};
use anyhow::{Context, bail};
use kalotype_core::evaluate::evaluate;
use kalotype_core::piece::{self, Printer};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::{self, Finding, Printed, Weight};
use kalotype_core::units::{Length, format_length};
use serde_json::{Value, json};
use std::path::Path;
use std::process::ExitCode;

/// Something should be looked at.
const SHOULD: u8 = 5;

/// Something must be mended.
const MUST: u8 = 6;

/// Looks piece files through. The exit code is that of the weightiest finding of all of them.
pub(super) fn run(arguments: &CheckArguments) -> anyhow::Result<ExitCode> {
    if arguments.mend.is_some() && arguments.pieces.len() > 1 {
        bail!("--mend writes one file: give one piece file, not {}", arguments.pieces.len());
    }
    let profile = arguments.profile.as_deref().map(read_profile).transpose()?;
    let (mut all, mut failed) = (Vec::new(), 0);
    let mut weightiest: Option<Weight> = None;
    for path in &arguments.pieces {
        // One file that cannot be used keeps nobody from hearing of the others.
        match look_through(path, profile.as_ref(), arguments) {
            Ok(Seen { findings, printed }) => {
                let open = findings.iter().filter(|finding| finding.set_aside.is_none());
                weightiest = open.map(|finding| finding.weight).chain(weightiest).min();
                if !arguments.json {
                    print(&told(path, &findings))?;
                }
                let file = path.display().to_string();
                all.push(json!({ "file": file, "findings": findings, "printed": printed }));
            }
            Err(error) => {
                failed += 1;
                eprintln!("{error:#}");
                let reason = format!("{error:#}");
                all.push(json!({ "file": path.display().to_string(), "error": reason }));
            }
        }
    }
    if arguments.json {
        print_json(&Value::from(all))?;
    }
    if failed > 0 {
        bail!("{failed} of {} files could not be looked through", arguments.pieces.len());
    }
    Ok(match weightiest {
        Some(Weight::Stop) => NOT_BUILDABLE.into(),
        Some(Weight::Must) => MUST.into(),
        Some(Weight::Should) => SHOULD.into(),
        Some(Weight::Note) | None => ExitCode::SUCCESS,
    })
}

/// What is said of one file.
struct Seen {
    findings: Vec<Finding>,
    /// What its elements lose, or close, when they are printed.
    printed: Vec<Value>,
}

fn read_profile(path: &Path) -> anyhow::Result<Printer> {
    let bytes = read_file(path, piece::MAX_FILE_BYTES)?;
    let printer: Printer = serde_json::from_slice(&bytes)
        .with_context(|| format!("{} is no printer", path.display()))?;
    match printer.trouble() {
        None => Ok(printer),
        Some(trouble) => bail!("{}: {trouble}", path.display()),
    }
}

fn look_through(
    path: &Path,
    profile: Option<&Printer>,
    arguments: &CheckArguments,
) -> anyhow::Result<Seen> {
    let mut at_hand = AtHand::read(path, &arguments.meshes)?;
    if let Some(profile) = profile {
        at_hand.piece.give_printer(profile.clone());
    }
    let workshop = at_hand.bench.workshop(Tolerance::Normal);
    if let Some(output) = &arguments.mend {
        let mended = preflight::mend(&at_hand.piece, &workshop)
            .with_context(|| format!("{} cannot be mended", path.display()))?;
        for step in &mended.steps {
            eprintln!("{}: {step}", path.display());
        }
        write_whole(output, piece::write(&mended.piece).as_bytes())?;
        at_hand.piece = mended.piece;
    }
    let piece = &at_hand.piece;
    let evaluation = evaluate(piece, &workshop)?;
    let findings = preflight::run(piece, &evaluation, &workshop)?;
    let printed = preflight::printed(piece, &evaluation, &workshop)?;
    let told = |one: &Printed| {
        json!({
            "target": one.target,
            "face": one.face,
            "lost_mm2": one.lost.area(),
            "closed_mm2": one.closed.area(),
        })
    };
    Ok(Seen { findings, printed: printed.iter().map(told).collect() })
}

/// The findings of a file in lines.
fn told(path: &Path, findings: &[Finding]) -> String {
    let path = path.display();
    if findings.is_empty() {
        return format!("{path}: nothing to mend\n");
    }
    let line = |finding: &Finding| {
        let figures = finding.figures.map(|figures| {
            let mm = |mm: f64| {
                format_length(
                    Length::mm((mm * 100.0).round() / 100.0),
                    kalotype_core::units::Unit::Millimetre,
                )
            };
            format!(" [{} of {}]", mm(figures.measured), mm(figures.limit))
        });
        let ways: Vec<&str> = finding.remedies.iter().map(|one| one.label.as_str()).collect();
        let ways = match (&finding.set_aside, ways.is_empty()) {
            (Some(reason), _) => format!(" (set aside: {reason})"),
            (None, true) => String::new(),
            (None, false) => format!(" -> {}", ways.join(" | ")),
        };
        format!(
            "{path}: {}: {}: {}: {}{}{ways}\n",
            word(finding.weight),
            finding.code,
            finding.target,
            finding.message,
            figures.unwrap_or_default()
        )
    };
    findings.iter().map(line).collect()
}
