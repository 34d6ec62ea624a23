use super::{Finding, Job, Weight};
use crate::piece::Printer;

/// A component is larger than the bed of the printer the piece is made on. Of the printer that comes with
/// this program the bed is a guess, so nothing is said of it.
pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let printer = &job.piece.printer;
    if printer.id == Printer::SHIPPED_ID || job.made.mesh.triangles.is_empty() {
        return Vec::new();
    }
    let size = crate::bed::size(job.made);
    let bed = printer.bed.map(|side| side.as_mm());
    // It may lie the other way round.
    let fits = |across: f64, deep: f64| across <= bed[0] && deep <= bed[1];
    if size[2] <= bed[2] && (fits(size[0], size[1]) || fits(size[1], size[0])) {
        return Vec::new();
    }
    let [width, depth, height] = size.map(|mm| job.shown(mm));
    let [bed_width, bed_depth, bed_height] = bed.map(|mm| job.shown(mm));
    let message = format!(
        "It is {width} wide, {depth} deep and {height} high; {} prints {bed_width} by {bed_depth} by \
         {bed_height}. Make it smaller, or choose another printer.",
        printer.name
    );
    vec![job.of_blank("larger-than-bed", Weight::Wrong, message)]
}
