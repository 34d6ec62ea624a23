//! The two makers behind one door: a plate is made in sections, a mesh is worked by the kernel.

use super::Layout;
use super::sections::sections;
use super::worked::worked;
use crate::plane::ArrangementError;
use crate::solid::{self, Colour, MeshError, Meshed};
use crate::workshop::Workshop;

/// Makes a layout solid. Should its edge treatments run into each other so that no sound solid comes of
/// them, all edges are left square instead, and the layout says so. Should outlines run along each
/// other so closely that even then none comes, they are drawn apart by a few thousandths of a
/// millimetre.
///
/// # Errors
/// [`MeshError`] where no sound solid comes of it.
pub(super) fn meshed(
    layout: &mut Layout,
    blank: Colour,
    workshop: &Workshop<'_>,
) -> Result<Meshed, MeshError> {
    const ATTEMPTS: usize = 3;
    let is_trouble = |made: &Result<Meshed, MeshError>| {
        matches!(
            made,
            Err(MeshError::Tangled | MeshError::Arrangement(ArrangementError::Unresolved))
        )
    };
    let made = match made(layout, blank, workshop) {
        trouble if is_trouble(&trouble) && layout.has_treated_edges() => {
            layout.leave_edges_square();
            made(layout, blank, workshop)
        }
        made => made,
    };
    // The kernel has drawn outlines apart by itself.
    if layout.stock.is_some() {
        return made;
    }
    let mut made = made;
    for _ in 0..ATTEMPTS {
        if !is_trouble(&made) {
            break;
        }
        layout.draw_outlines_apart();
        made = self::made(layout, blank, workshop);
    }
    made
}

/// Makes a layout solid as it is.
fn made(layout: &Layout, blank: Colour, workshop: &Workshop<'_>) -> Result<Meshed, MeshError> {
    match &layout.stock {
        Some(stock) => worked(layout, stock, blank, workshop),
        None => {
            let meshed = solid::mesh(&sections(layout, workshop.cache), &workshop.halt)?;
            if meshed.is_sound { Ok(meshed) } else { Err(MeshError::Tangled) }
        }
    }
}
