//! Sockets that break out of what they are cut into, and lids that do not lie on their boxes.

use super::spot::Spot;
use super::{Finding, Job, Weight};
use crate::evaluate::SocketCut;
use crate::piece::{Edit, Element, FaceName, Relief};

/// Less than this is rounding.
const NOTICEABLE_MM2: f64 = 0.01;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    job.layout.sockets.iter().filter_map(|socket| of_socket(job, socket)).collect()
}

fn of_socket(job: &Job<'_>, socket: &SocketCut) -> Option<Finding> {
    let face = job.layout.face(socket.face)?;
    let called = job.component.called();
    let joint = job.piece.joints.iter().find(|joint| joint.id == socket.joint)?;
    let part = job.piece.component(&joint.part)?;
    let at = |code, field: &str, message: String| {
        let (target, field) = job.piece.joint_field(&socket.joint, field);
        Finding::new(code, Weight::Must, target, message).field(field)
    };
    if socket.depth >= face.thickness - 1e-6 {
        let message = format!(
            "The socket is {} deep, and {called} is {} thick there: {} would fall through. Make it less deep.",
            job.shown(socket.depth),
            job.shown(face.thickness),
            part.called()
        );
        return Some(at("socket-too-deep", "socket.depth", message));
    }
    let whole = face.outline.without_openings();
    let beyond = socket.outline.difference(&whole);
    if beyond.area() >= NOTICEABLE_MM2 {
        let message = format!(
            "The socket for {} runs over the edge of {called}. Move it, or make {} smaller.",
            part.called(),
            part.called()
        );
        let finding = at("socket-breaks-out", "socket.place.across.distance", message);
        let spot = Spot {
            seen: job.seen(socket.face),
            bottom: face.thickness - socket.depth,
            top: face.thickness,
            ..job.spot_of_blank(beyond)
        };
        return Some(finding.spots([spot]));
    }
    // What is raised on the back of the plate lies on the floor, and the plate on that.
    let is_raised = |element: &&Element| {
        let relief = element.kind.fields().relief();
        element.face == FaceName::Back && matches!(relief, Some(Relief::Raised(_)))
    };
    if let Some(element) = part.elements.iter().find(is_raised) {
        let message = format!(
            "“{}” is raised on the back of {}, which stands on it in its socket and is not level with \
             {called}. Sink it into the back.",
            element.name(),
            part.called()
        );
        let target = part.element_address(&element.id);
        let edits =
            vec![Edit::Turn { target, field: "relief".to_owned(), into: "recessed".to_owned() }];
        let finding = at("stands-in-socket", "socket.depth", message);
        return Some(finding.remedy(format!("Sink “{}”", element.name()), edits));
    }
    // What a lid lies on is what its socket takes of the walls.
    let ledge = socket.outline.intersection(&face.outline);
    let opening = whole.difference(&face.outline);
    let falls_in =
        !opening.is_empty() && opening.difference(&socket.outline).area() >= NOTICEABLE_MM2;
    if job.component.is_box() && (ledge.area() < NOTICEABLE_MM2 || falls_in) {
        let message = format!(
            "{} does not reach over the opening of {called} all round, so it falls in. Make it larger.",
            part.called()
        );
        return Some(at("lid-falls-in", "socket.place.across.distance", message));
    }
    None
}
