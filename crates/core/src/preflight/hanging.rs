//! What would hang over nothing on the bed, where another side down leaves less of it hanging.

use super::{Finding, Job, Weight};
use crate::bed::{HAIR_MM2, Lie, best};
use crate::piece::{Edit, Lying};

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    // How a mesh of another program stands is said by the face of it that is worked on.
    if job.component.mesh().is_some() {
        return Vec::new();
    }
    let steepest = job.piece.printer.overhang;
    let all = Lie::all(&job.made.mesh, steepest);
    let now = all.iter().find(|lie| lie.lying == job.made.lies);
    let (Some(now), Some(best)) = (now, best(&all)) else { return Vec::new() };
    // A tenth of it is worth turning it over for.
    if best.lying == now.lying || now.hanging < HAIR_MM2 || best.hanging > 0.9 * now.hanging {
        return Vec::new();
    }
    // Letters sunk into the side that lies on the bed are bridged.
    if now.hanging - super::spans::bridged(job) < HAIR_MM2 {
        return Vec::new();
    }
    let area = |mm2: f64| format!("{:.1} cm²", mm2 / 100.0);
    let message = format!(
        "It {} on the bed: {} of it hang over nothing, steeper than {steepest:.0}°, and want \
         supports. Where it {}, {}.",
        now.lying.phrase(),
        area(now.hanging),
        best.lying.phrase(),
        if best.hanging < HAIR_MM2 {
            "nothing does".to_owned()
        } else {
            format!("{} do", area(best.hanging))
        }
    );
    let label = match best.lying {
        Lying::AsMade => "Print it as it is made".to_owned(),
        other => format!("Print it so that it {}", other.phrase()),
    };
    let target = job.component.address();
    let edit = Edit::set(&target, "lies", best.lying.word());
    vec![
        Finding::new("hangs-over", Weight::Should, target, message)
            .field("lies")
            .remedy(label, vec![edit]),
    ]
}
