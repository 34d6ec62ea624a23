//! Changes of filament as a person reads them: why layers have two colours and what would cure it, a
//! list to print, and lines for the printer.

use super::{Conflict, SwapPlan};
use crate::evaluate::{Evaluation, Made, Placed};
use crate::piece::{Component, Edit, Lying, Piece, Remedy};
use crate::solid::Act;
use crate::units::{Length, format_length};
use serde::Serialize;
use std::fmt::Write;

/// The command a printer pauses at.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Pause {
    /// `M600`: change the filament.
    #[default]
    M600,
    /// `M0`: stop and wait for the user.
    M0,
    /// `M25`: pause the print from the card.
    M25,
}

impl Pause {
    /// All there are, the usual one first.
    pub const ALL: [Pause; 3] = [Pause::M600, Pause::M0, Pause::M25];

    /// The command.
    pub fn word(self) -> &'static str {
        match self {
            Pause::M600 => "M600",
            Pause::M0 => "M0",
            Pause::M25 => "M25",
        }
    }
}

/// Why neighbouring layers have more than one colour, and what would cure it.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Advice {
    /// Which layers, why, and the cure in words.
    pub text: String,
    /// Cures that can be carried out at once.
    pub remedies: Vec<Remedy>,
}

/// Why neighbouring layers have more than one colour, and what would cure it.
pub fn advise(piece: &Piece, evaluation: &Evaluation, conflict: &Conflict) -> Advice {
    let shown = |mm: f64| format_length(Length::mm((mm * 100.0).round() / 100.0), piece.units);
    let name = |filament: usize| piece.filaments[filament].name.as_str();
    let (from, to) = conflict.heights;
    let (first, last) = conflict.layers;
    let mut text =
        if first == last { format!("Layer {first}") } else { format!("Layers {first} to {last}") };
    let names: Vec<&str> = conflict.filaments.iter().map(|filament| name(*filament)).collect();
    let _ = write!(
        text,
        " ({} to {}) have {}; one nozzle prints them in {}.",
        shown(from),
        shown(to),
        joined(&names),
        names[0]
    );
    let printed_in = conflict.filaments[0];
    let mut remedies = Vec::new();
    let all = evaluation.components.iter().zip(&piece.components).flat_map(|(made, component)| {
        made.layout.elements.iter().map(move |placed| (&**made, component, placed))
    });
    let others = all.filter(|(_, _, placed)| {
        let own = usize::from(placed.colour);
        own != printed_in && conflict.filaments.contains(&own) && !placed.prisms.is_empty()
    });
    for (made, component, placed) in others.take(3) {
        let reaches =
            |bottom: f64, top: f64| bottom + made.lift < to - 1e-6 && top + made.lift > from + 1e-6;
        let what = placed.kind.word();
        let is_inlaid = placed.prisms.iter().all(|prism| prism.act == Act::Paints);
        let painted = placed.prisms.iter().filter(|prism| prism.act == Act::Paints);
        let is_painted_here = painted.clone().any(|prism| reaches(prism.bottom, prism.top));
        let target = component.element_address(&placed.id);
        let cure = if made.lies != Lying::AsMade {
            remedies.extend(one_colour(piece, component, placed, printed_in));
            format!(
                "It {}, and the {what} shares its layers: give it that colour.",
                made.lies.phrase()
            )
        } else if !made.layout.is_on_sections(placed) {
            remedies.extend(one_colour(piece, component, placed, printed_in));
            format!(
                "The {what} is on the {}, so its layers are those of what it is on: give it that colour.",
                placed.face.word()
            )
        } else if is_inlaid {
            let raise =
                Edit::Turn { target, field: "relief".to_owned(), into: "raised".to_owned() };
            remedies.push(Remedy { label: format!("Raise the {what}"), edits: vec![raise] });
            format!("The {what} is level with its face: raise it instead.")
        } else if placed.act == Act::Cuts {
            remedies.extend(one_colour(piece, component, placed, printed_in));
            format!("The floor of the {what} lies beside the plate: give it the plate’s colour.")
        } else if placed.root > 0.0 && is_painted_here {
            let edits = vec![Edit::set(&target, "root", 0.0)];
            remedies.push(Remedy { label: "Leave the root out".to_owned(), edits });
            format!("The {what} goes down into what it stands on: leave the root out.")
        } else if reaches(placed.bottom, placed.top) {
            remedies.extend(one_colour(piece, component, placed, printed_in));
            beside(placed, made, printed_in, &shown)
        } else {
            continue;
        };
        let _ = write!(text, " {cure}");
    }
    Advice { text, remedies }
}

/// Gives an element, or its floor, the colour its layers are printed in.
fn one_colour(
    piece: &Piece,
    component: &Component,
    placed: &Placed,
    filament: usize,
) -> Option<Remedy> {
    let element = component.element(&placed.id)?;
    let (field, _) = element.kind.fields().colour()?;
    let is_blanks = filament == piece.filament_of(component, None);
    let wanted = &piece.filaments[filament];
    let edit = Edit::Colour {
        target: component.element_address(&placed.id),
        field: field.to_owned(),
        filament: (!is_blanks).then(|| wanted.clone()),
    };
    let what = if placed.act == Act::Cuts { "floor of the " } else { "" };
    let label = format!("Give the {what}{} {} too", placed.kind.word(), wanted.name);
    Some(Remedy { label, edits: vec![edit] })
}

/// What would part an element from what stands beside it in the colour that is printed.
fn beside(
    placed: &Placed,
    made: &Made,
    printed_in: usize,
    shown: &impl Fn(f64) -> String,
) -> String {
    let layout = &made.layout;
    let what = placed.kind.word();
    let face = layout.blank.thickness;
    let in_plate =
        printed_in == layout.blank.face_colour(placed.face) && placed.bottom < face - 1e-6;
    let mut neighbours = layout.elements.iter().filter(|other| {
        usize::from(other.colour) == printed_in
            && other.act == Act::Adds
            && other.prisms.iter().any(|prism| prism.act == Act::Adds)
            && other.top > placed.bottom
            && other.bottom < placed.top
    });
    let Some(other) = neighbours.next().filter(|_| !in_plate) else {
        return format!(
            "The {what} begins below the top of the plate, which is at {}: let it begin there, on the \
             face.",
            shown(face + made.lift)
        );
    };
    let (low, high) = if placed.bottom <= other.bottom { (placed, other) } else { (other, placed) };
    let begins = shown(high.bottom + made.lift);
    let (low_word, high_word) = (low.kind.word(), high.kind.word());
    if high.bottom - low.bottom < 1e-6 {
        format!(
            "The {low_word} and the {high_word} both begin at {begins}: give them one colour, or sink \
             one of them into the plate in the plate’s colour."
        )
    } else {
        format!(
            "The {low_word} and the {high_word} stand side by side: give them one colour, or make \
             the {low_word} end at {begins}, where the {high_word} begins."
        )
    }
}

/// A list of the changes to print and to lay beside the printer.
pub fn swap_sheet(piece: &Piece, evaluation: &Evaluation, plan: &SwapPlan) -> String {
    let shown = |mm: f64| format_length(Length::mm((mm * 1000.0).round() / 1000.0), piece.units);
    let name = |filament: usize| {
        let filament = &piece.filaments[filament];
        format!("{} ({}, {})", filament.name, filament.material, filament.colour)
    };
    let layers = &piece.layers;
    let mut text = format!("{}\n\n", piece.name);
    let _ = writeln!(
        text,
        "{} layers of {}, the first {}",
        plan.layers,
        shown(layers.height.as_mm()),
        shown(layers.first.as_mm())
    );
    let _ = writeln!(text, "Begin with {}", name(plan.begins_with));
    for (i, swap) in plan.swaps.iter().enumerate() {
        let (layer, height) = (swap.layer, shown(swap.height));
        let _ = writeln!(
            text,
            "{}. Before layer {layer}, at {height}: change to {}",
            i + 1,
            name(swap.filament)
        );
    }
    if plan.swaps.is_empty() {
        text.push_str("No changes.\n");
    }
    for conflict in &plan.conflicts {
        let _ = write!(text, "\n{}\n", advise(piece, evaluation, conflict).text);
    }
    text
}

/// Lines of G-code for the start of each layer that begins with a change, to be pasted where a
/// slicing program lets one do so. Comments start with a semicolon.
pub fn pause_lines(piece: &Piece, plan: &SwapPlan, pause: Pause) -> String {
    let mut text = String::new();
    for swap in &plan.swaps {
        // Comments of G-code are plain text in one line.
        let name: String = piece.filaments[swap.filament]
            .name
            .chars()
            .map(|c| if c.is_control() || c == ';' { ' ' } else { c })
            .collect();
        let _ = writeln!(
            text,
            "; before layer {}, Z {:.3} mm: {name}\n{}",
            swap.layer,
            swap.height,
            pause.word()
        );
    }
    text
}

/// "A, B and C".
fn joined(names: &[&str]) -> String {
    match names {
        [] => String::new(),
        [one] => (*one).to_owned(),
        [first @ .., last] => format!("{} and {last}", first.join(", ")),
    }
}
