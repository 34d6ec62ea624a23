//! Pictures of a component's main face.

use crate::evaluate::{Layout, Placed};
use crate::piece::{ElementKind, FaceName, Piece};
use crate::plane::Region;
use crate::solid::Act;
use std::fmt::Write;

/// The face of a piece as a small picture for lists, in the colours of its filaments: what stands
/// up from its own colour lighter, what is cut darker, holes empty. Everything outside the plate's own
/// outline is shown as it will print.
pub fn picture_of(piece: &Piece, layout: &Layout) -> String {
    let outline = layout.outline_seen();
    let shown = |placed: &&Placed| layout.is_seen_on_main(placed);
    let raised = layout.elements.iter().filter(|placed| placed.act == Act::Adds && shown(placed));
    let seen = layout.stock.as_ref().map_or(&outline, |stock| &stock.silhouette);
    let frame = seen.bounds().unwrap_or(layout.blank.rect);
    let bounds = raised
        .filter_map(|placed| placed.region.bounds())
        .fold(frame, |all, one| all.hull(&one))
        .grown(1.0);
    let mut svg = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"{} {} {} {}\">",
        bounds.x0,
        -bounds.y1,
        bounds.width(),
        bounds.height()
    );
    let is_hole = |placed: &&Placed| placed.kind == ElementKind::Hole;
    let through = |placed: &&Placed| is_hole(placed) && placed.through && shown(placed);
    let openings: Vec<_> =
        layout.openings().into_iter().filter(|opening| layout.opens_on_main(opening)).collect();
    let holes = layout.elements.iter().filter(through).map(|placed| &placed.region);
    let mouths = openings.iter().filter(|opening| opening.through).map(|opening| &opening.region);
    let holes = Region::gather(holes.chain(mouths).cloned().collect());
    let plate = layout.blank.face_colour(FaceName::Front);
    let tones = |filament: usize| piece.filaments[filament].colour.tones();
    let line = tones(plate).line;
    let mut draw = |region: &Region, fill: &str| {
        let path = region.difference(&holes).svg_path();
        let _ = write!(
            svg,
            "<path fill=\"{fill}\" stroke=\"{line}\" stroke-width=\"0.15\" fill-rule=\"evenodd\" \
             d=\"{path}\"/>"
        );
    };
    if let Some(stock) = &layout.stock {
        draw(&stock.silhouette, &tones(plate).sunk.to_string());
    }
    draw(&outline, &tones(plate).flat.to_string());
    // Fields lie under everything, halos under what they go round, patterns between other things.
    let under = |placed: &&Placed| match placed.kind {
        ElementKind::Recess => 0,
        ElementKind::Halo => 1,
        ElementKind::Pattern => 2,
        _ => 3,
    };
    let mut drawn: Vec<&Placed> = layout
        .elements
        .iter()
        .filter(|placed| placed.kind != ElementKind::Loop && !through(placed) && shown(placed))
        .collect();
    drawn.sort_by_key(under);
    for placed in drawn {
        let own = usize::from(placed.colour);
        match placed.act {
            Act::Cuts if placed.through => {
                draw(&placed.region.intersection(&outline), "#f7f4ec");
            }
            Act::Cuts => {
                let fill = if own == plate { tones(own).sunk } else { tones(own).flat };
                draw(&placed.region.intersection(&outline), &fill.to_string());
            }
            Act::Adds | Act::Paints => {
                let fill = if own == plate { tones(own).raised } else { tones(own).flat };
                draw(&placed.region, &fill.to_string());
            }
        }
    }
    let loops = layout.elements.iter().filter(|placed| placed.kind == ElementKind::Loop);
    for placed in loops.filter(|placed| usize::from(placed.colour) != plate) {
        let beside = placed.region.difference(&layout.blank.base);
        draw(&beside, &tones(usize::from(placed.colour)).flat.to_string());
    }
    // What is cut for another component goes through whatever is there.
    for opening in openings.iter().filter(|opening| !opening.through) {
        draw(&opening.region, &tones(plate).sunk.to_string());
    }
    svg.push_str("</svg>\n");
    svg
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plane::Tolerance;
    use crate::testing::{fresh, worked};

    #[test]
    fn the_picture_shows_every_part_within_its_frame() {
        let piece = fresh(&[ElementKind::Hole, ElementKind::Lettering]);
        let svg = picture_of(&piece, &worked(&piece, Tolerance::Draft).layout);
        assert!(svg.contains("viewBox=\"-37 -13 74 26\""), "{}", &svg[..120]);
        assert_eq!(svg.matches("<path").count(), 2);
    }
}
