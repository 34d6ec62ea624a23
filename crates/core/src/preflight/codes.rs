//! Codes that cannot be made, cannot be printed, or cannot be read.

use super::colours::standing_out;
use super::{Finding, Job, Weight, rounded_up};
use crate::codes::{NoCode, modules, read_back};
use crate::evaluate::Placed;
use crate::piece::{Code, Kind, Level, Relief, Symbol};
use serde_json::json;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (element, placed) in job.pairs() {
        let Kind::Code(code) = &element.kind else { continue };
        let words = job.piece.filled_in(&code.words);
        match modules(code.symbol, &words) {
            Err(reason) => findings.push(not_made(job, code, placed, &reason)),
            Ok(_) => {
                findings.extend(too_fine(job, code, placed));
                findings.extend(not_free(job, code, placed));
                findings.extend(not_seen(job, code, placed));
                findings.extend(not_read(job, code, placed, &words));
            }
        }
    }
    findings
}

fn not_made(job: &Job<'_>, code: &Code, placed: &Placed, reason: &NoCode) -> Finding {
    let finding = job.finding("no-code", Weight::Must, &placed.id, reason.to_string());
    let finding = finding.field("words").at(placed.frame);
    let set = |symbol: Symbol| vec![job.set(&placed.id, "symbol", json!(symbol))];
    match (reason, code.symbol) {
        (NoCode::NoCharacter(_) | NoCode::TooLongForBars(_), _) => {
            finding.remedy("Make it a QR code", set(Symbol::Qr(Level::M)))
        }
        (NoCode::TooLong, Symbol::Qr(level)) if level != Level::L => {
            let words = job.piece.filled_in(&code.words);
            match modules(Symbol::Qr(Level::L), &words) {
                Ok(_) => finding.remedy("Let 7 % of it be unreadable", set(Symbol::Qr(Level::L))),
                Err(_) => finding,
            }
        }
        _ => finding,
    }
}

/// Modules narrower than a line cannot be printed one by one; two lines are better (common practice, no source).
fn too_fine(job: &Job<'_>, code: &Code, placed: &Placed) -> Option<Finding> {
    let (module, line) = (code.module.as_mm(), job.piece.printer.line.as_mm());
    if module >= 2.0 * line - 1e-9 {
        return None;
    }
    let (weight, what) = match module < line {
        true => (Weight::Must, "narrower than a line of the printer"),
        false => {
            (Weight::Should, "narrower than two lines of the printer, which often cannot be read")
        }
    };
    let message = format!(
        "A module of the code is {}: {what} ({}). Make the modules larger, or say less.",
        job.shown(module),
        job.shown(line)
    );
    let enough = rounded_up(2.0 * line);
    let finding = job.finding("code-too-fine", weight, &placed.id, message);
    let finding = finding.field("module").at(placed.frame);
    // Only where there is room for so large a code.
    let wide = placed.frame.width().max(placed.frame.height()) * enough / module;
    let clear = job.layout.clear_of(placed.face)?;
    if wide > clear.width().min(clear.height()) + 1e-6 {
        return Some(finding);
    }
    let edits = vec![job.set(&placed.id, "module", json!(enough))];
    Some(finding.remedy(format!("Make a module {}", job.shown(enough)), edits))
}

fn not_free(job: &Job<'_>, code: &Code, placed: &Placed) -> Option<Finding> {
    let wanted = code.quiet_wanted();
    if code.quiet >= wanted {
        return None;
    }
    let message = format!(
        "{} modules stay free beside the code; a scanner wants {wanted} to find it.",
        code.quiet
    );
    let finding = job.finding("code-not-free", Weight::Should, &placed.id, message);
    let edits = vec![job.set(&placed.id, "quiet", json!(wanted))];
    let finding = finding.field("quiet").at(placed.frame);
    Some(finding.remedy(format!("Leave {wanted} modules free"), edits))
}

/// A scanner tells dark from light; in one colour it has only shadows to go by.
fn not_seen(job: &Job<'_>, code: &Code, placed: &Placed) -> Option<Finding> {
    let is_alike = usize::from(placed.colour) == job.layout.blank.face_colour(placed.face);
    if !is_alike || matches!(code.relief, Relief::Through) {
        return None;
    }
    let message = "The code has the colour of what it is on: a scanner sees only its shadows. Give it another \
                   colour, a dark one on light, or let light modules be drawn on dark.";
    let finding = job.finding("code-in-one-colour", Weight::Should, &placed.id, message.to_owned());
    let mut finding = finding.field("colour").at(placed.frame);
    finding.remedies.extend(standing_out(job, placed));
    Some(finding)
}

/// What a scanner reads in the plan is what it is to say.
fn not_read(job: &Job<'_>, code: &Code, placed: &Placed, words: &str) -> Option<Finding> {
    if placed.region.is_empty() {
        return None;
    }
    // One of several copies is enough, and is what its own box shows.
    let (region, frame) = code.upright(job.piece, job.workshop);
    let read = read_back(code.symbol, &region, frame, code.module.as_mm(), code.inverse);
    if read.as_deref() == Some(words) {
        return None;
    }
    let message =
        "The code cannot be read back from the plan. Leave more room round it, or say less.";
    let finding = job.finding("code-not-read", Weight::Must, &placed.id, message.to_owned());
    Some(finding.field("words").at(placed.frame))
}
