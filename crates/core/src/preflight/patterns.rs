//! Patterns of more motifs than are drawn, or of none, or of another pitch than was asked for, and halos round nothing.

use super::{Finding, Job, Weight};
use crate::evaluate::{MOST_MOTIFS, Placed};
use crate::piece::{Kind, Pattern, limit_of};
use serde_json::json;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (element, placed) in job.pairs() {
        let id = &placed.id;
        match &element.kind {
            Kind::Pattern(pattern) if placed.drawn.too_many > 0 => {
                let message = format!(
                    "That would be some {} motifs; up to {MOST_MOTIFS} are drawn, fewer where they have many \
                     points. It is left out. Make the pitch larger, or fill less.",
                    placed.drawn.too_many
                );
                let finding = job.finding("too-many-motifs", Weight::Must, id, message);
                let finding = finding.field("pitch").instead();
                // Their number goes with the square of the pitch; the tenth more is for the edge and for points.
                let ratio = (placed.drawn.too_many as f64 / MOST_MOTIFS as f64).max(1.0).sqrt();
                let pitch = (pattern.pitch.as_mm() * ratio * 1.6 * 10.0).ceil() / 10.0;
                let most = limit_of("pattern", "pitch").map_or(pitch, |limit| limit.high);
                findings.push(if pitch > most {
                    finding
                } else {
                    let mut edits = vec![job.set(id, "pitch", json!(pitch))];
                    let mut label = format!("Make the pitch {}", job.shown(pitch));
                    // What is left between them must be there when it is printed.
                    let line = (job.piece.printer.line.as_mm() * 20.0 + 0.04).ceil() / 20.0;
                    if pattern.line.as_mm() < line && line < pitch {
                        edits.push(job.set(id, "line", json!(line)));
                        label += &format!(", and leave {} between them", job.shown(line));
                    }
                    finding.remedy(label, edits)
                });
            }
            Kind::Pattern(pattern) if placed.region.is_empty() => {
                let message = "No motif has room in what the pattern fills. Make them smaller, or let it keep \
                               less far from the edge and from other things.";
                let finding = job.finding("no-motif", Weight::Should, id, message.to_owned());
                let half = pattern.pitch.as_mm() / 2.0;
                let edits = vec![
                    job.set(id, "pitch", json!(half)),
                    job.set(id, "line", json!(pattern.line.as_mm().min(half / 2.0))),
                ];
                let label = format!("Make the pitch {}", job.shown(half));
                findings.push(finding.field("pitch").remedy(label, edits));
            }
            Kind::Pattern(pattern) => findings.extend(fitted(job, pattern, placed)),
            Kind::Halo(halo) if placed.drawn.too_many > 0 => {
                let message = "The halo would go round more letters, in more steps or further out, than can be worked \
                               out in good time. It is left out. Let it go round fewer, in one step, or reach less \
                               far.";
                let finding = job.finding("too-much-halo", Weight::Must, id, message.to_owned());
                let finding = finding.field("distance").instead();
                findings.push(match halo.steps {
                    1 => finding,
                    _ => finding.remedy("One step", vec![job.set(id, "steps", json!(1))]),
                });
            }
            Kind::Halo(_) if placed.region.is_empty() => {
                let message = "The halo goes round nothing: there are no lettering, emblems or codes of its face \
                               that it is told to go round.";
                let finding =
                    job.finding("halo-round-nothing", Weight::Should, id, message.to_owned());
                findings.push(finding.field("round"));
            }
            _ => {}
        }
    }
    findings
}

/// A pattern that runs all the way round closes there, at a pitch of its own.
fn fitted(job: &Job<'_>, pattern: &Pattern, placed: &Placed) -> Option<Finding> {
    /// Less than this nobody measures.
    const NOTICEABLE_MM: f64 = 0.005;
    let pitch = placed.drawn.pitch?;
    let asked = pattern.pitch.as_mm();
    if (pitch - asked).abs() < NOTICEABLE_MM {
        return None;
    }
    let message = format!(
        "So that it closes round the face, the pattern has a pitch of {} instead of {}.",
        job.shown(pitch),
        job.shown(asked)
    );
    let finding = job.finding("pitch-fitted", Weight::Note, &placed.id, message).field("pitch");
    let pitch = (pitch * 1e4).round() / 1e4;
    Some(finding.remedy(
        format!("Make the pitch {}", job.shown(pitch)),
        vec![job.set(&placed.id, "pitch", pitch)],
    ))
}
