//! Components larger than the bed they are printed on, and such as lie on each other there.

use super::{Figures, Finding, Job, Source, Weight};
use crate::evaluate::Evaluation;
use crate::piece::{Blank, Lying, Piece, Printer};
use crate::workshop::Workshop;

/// A component is turned about its upright axis by steps of so many degrees.
const STEP_DEGREES: f64 = 1.0;

/// Rounding, in mm.
const HAIR_MM: f64 = 0.01;

/// A component is larger than the bed of the printer the piece is made on, however it is turned. Of the printer that
/// comes with this program the bed is a guess.
pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    if job.made.mesh.triangles.is_empty() {
        return Vec::new();
    }
    let printer = &job.piece.printer;
    let size = crate::bed::size(job.made);
    let bed = printer.bed.map(|side| side.as_mm());
    let fits_flat =
        |[width, depth]: [f64; 2]| width <= bed[0] + HAIR_MM && depth <= bed[1] + HAIR_MM;
    let is_low = size[2] <= bed[2] + HAIR_MM;
    if is_low && (fits_flat([size[0], size[1]]) || turned(job).any(fits_flat)) {
        return Vec::new();
    }
    let [width, depth, height] = size.map(|mm| job.shown(mm));
    let [bed_width, bed_depth, bed_height] = bed.map(|mm| job.shown(mm));
    let is_guess = printer.id == Printer::SHIPPED_ID;
    let (weight, whose) = match is_guess {
        true => (Weight::Should, "a customary printer".to_owned()),
        false => (Weight::Must, printer.name.clone()),
    };
    let message = format!(
        "It is {width} wide, {depth} deep and {height} high; {whose} prints {bed_width} by {bed_depth} by \
         {bed_height}. Make it smaller, or choose another printer."
    );
    let (measured, limit) = [0, 1, 2]
        .map(|i| (size[i], bed[i]))
        .into_iter()
        .max_by(|a, b| (a.0 - a.1).total_cmp(&(b.0 - b.1)))
        .unwrap_or_default();
    let figures = Figures { measured, limit, source: Source::Printer };
    let finding = job.of_blank("larger-than-bed", weight, message).measured(figures);
    vec![with_smaller(job, finding, size, bed)]
}

/// Components that lie on each other on the bed, which no file may have.
pub(super) fn overlapping(
    piece: &Piece,
    evaluation: &Evaluation,
    _: &Workshop<'_>,
    _: &[Finding],
) -> Vec<Finding> {
    let called = |at: usize| piece.components[at].called();
    let finding = |(one, other): (usize, usize)| {
        let message = format!(
            "{} and {} lie on each other on the bed. Let one of them lie on another side.",
            called(one),
            called(other)
        );
        let target = piece.components[other].address();
        Finding::new("on-the-bed", Weight::Stop, target, message).field("lies")
    };
    crate::bed::overlapping(evaluation).into_iter().map(finding).collect()
}

/// Offers a plate as large as the bed, or a mesh at a smaller scale.
fn with_smaller(job: &Job<'_>, finding: Finding, size: [f64; 3], bed: [f64; 3]) -> Finding {
    // The longer side along the longer one of the bed.
    let is_turned = (size[0] > size[1]) != (bed[0] > bed[1]) && bed[0] != bed[1];
    let room = if is_turned { [bed[1], bed[0], bed[2]] } else { bed };
    match &job.component.blank {
        Blank::Plate(plate) if job.made.lies == Lying::AsMade => {
            let sides = [
                ("width", "wide", plate.width, plate.grows.width),
                ("height", "deep", plate.height, plate.grows.height),
            ];
            let (mut edits, mut told) = (Vec::new(), Vec::new());
            for (i, (field, word, now, growth)) in sides.into_iter().enumerate() {
                let over = size[i] - room[i];
                let fitting = (now.as_mm() - over).floor();
                if over > 0.0 && growth.is_none() && fitting >= 1.0 {
                    edits.push(job.set_blank(field, fitting));
                    told.push(format!("{} {word}", job.shown(fitting)));
                }
            }
            match edits.is_empty() {
                true => finding,
                false => finding.remedy(format!("Make it {}", told.join(" and ")), edits),
            }
        }
        Blank::Mesh(mesh) => {
            let share = (0..3).map(|i| room[i] / size[i].max(1e-9)).fold(1.0, f64::min);
            let scale = (mesh.scale * share * 100.0).floor() / 100.0;
            let label = format!("Scale it to {:.0} %", 100.0 * scale);
            finding.remedy(label, vec![job.set_blank("scale", scale)])
        }
        _ => finding,
    }
}

/// Width and depth as it lies, turned by a quarter in steps. What is turned further is one of these the other way
/// round.
fn turned(job: &Job<'_>) -> impl Iterator<Item = [f64; 2]> {
    let lies = job.made.lies;
    let flat: Vec<[f64; 2]> = job
        .made
        .mesh
        .vertices
        .iter()
        .map(|vertex| {
            let [x, y, _] = lies.turned(*vertex);
            [x, y]
        })
        .collect();
    let steps = (90.0 / STEP_DEGREES) as usize;
    (1..=steps).map(move |step| {
        let (sine, cosine) = (step as f64 * STEP_DEGREES).to_radians().sin_cos();
        let along = |x: f64, y: f64| {
            let reach = flat.iter().map(|point| point[0] * x + point[1] * y);
            let (low, high) = reach.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), at| {
                (low.min(at), high.max(at))
            });
            high - low
        };
        [along(cosine, sine), along(-sine, cosine)]
    })
}
