//! Things on the back of a mesh that has no flat back.

use super::{Finding, Job, Weight};
use crate::piece::FaceName;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let Some(stock) = &job.layout.stock else { return Vec::new() };
    if !stock.foot.is_empty() {
        return Vec::new();
    }
    let on_back = job.layout.elements.iter().filter(|placed| placed.face == FaceName::Back);
    on_back
        .map(|placed| {
            let message = format!(
                "The mesh does not lie flat on the bed, so there is no back for the {} to be on. \
                 Put it on the front, or make a piece of the mesh’s other face.",
                placed.kind.word()
            );
            let finding = job.finding("no-back", Weight::Must, &placed.id, message);
            let front = vec![job.set(&placed.id, "face", "front")];
            finding.field("face").remedy("Put it on the front", front)
        })
        .collect()
}
