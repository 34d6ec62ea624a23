//! Giving things colours.

use crate::evaluate::FLOOR_COLOUR_MM;
use crate::filament::Filament;
use crate::piece::{Address, EditError, Piece, Relief};
use crate::units::Length;
use serde_json::{Value, json};
use std::collections::HashSet;

/// Gives something a colour. A filament the piece knows is brought up to date; those that nothing names
/// any more are dropped.
pub(super) fn colour(
    piece: &mut Piece,
    target: &Address,
    field: &str,
    filament: Option<&Filament>,
) -> Result<(), EditError> {
    if let Some(filament) = filament {
        match piece.filaments.iter_mut().find(|own| own.id == filament.id) {
            Some(own) => *own = filament.clone(),
            None => piece.filaments.push(filament.clone()),
        }
    }
    let id = filament.map(|filament| filament.id.clone());
    match (field.strip_suffix(".colour"), id) {
        (Some(inlay), None) => piece.set_value(target, inlay, Value::Null)?,
        (Some(inlay), Some(id)) => {
            let depth = piece.value(target, &format!("{inlay}.depth"));
            let depth = depth.unwrap_or_else(|| FLOOR_COLOUR_MM.into());
            piece.set_value(target, inlay, json!({ "colour": id, "depth": depth }))?;
        }
        (None, id) => {
            let is_coloured = id.is_some();
            piece.set_value(target, field, id.into())?;
            if let Some(root) = is_coloured.then(|| floor_that_has_none(piece, target)).flatten() {
                piece.set_value(target, "root", root.into())?;
            }
        }
    }
    let named: HashSet<String> = piece
        .components
        .iter()
        .flat_map(|component| {
            let of_blank = component.blank.colours().into_iter().map(|(_, colour)| colour);
            let of_elements = component.elements.iter().filter_map(|element| element.colour());
            of_blank.chain(of_elements)
        })
        .map(str::to_owned)
        .collect();
    piece.filaments.retain(|filament| named.contains(&filament.id));
    Ok(())
}

/// How deep the floor of something sunk takes its colour, where nobody has said so yet.
fn floor_that_has_none(piece: &Piece, target: &Address) -> Option<f64> {
    let Address::Element(component, id) = target else { return None };
    let element = piece.component(component)?.element(id)?;
    let is_sunk = matches!(element.relief(), Some(Relief::Recessed(_)));
    let root = element.kind.fields().root()?;
    (is_sunk && root == Length::ZERO).then_some(FLOOR_COLOUR_MM)
}
