//! The makers behind one door: a body of sections is made at once, and what is on faces that do not lie
//! level with them is worked by the kernel, as a mesh is.

use super::around::{is_needed, worked_around};
use super::sections::sections;
use super::worked::worked;
use super::{Layout, Profile};
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
            let mut meshed = solid::mesh(&sections(layout, workshop.cache), &workshop.halt)?;
            if !meshed.is_sound {
                return Err(MeshError::Tangled);
            }
            if let Some(profile) = &layout.profile {
                stand(&mut meshed, profile);
            }
            if is_needed(layout) {
                worked_around(layout, &meshed, blank, workshop)
            } else {
                Ok(meshed)
            }
        }
    }
}

/// Sets up what was made lying, drawn out of a profile.
fn stand(meshed: &mut Meshed, profile: &Profile) {
    let of_bodies = meshed.bodies.iter_mut().map(|(_, mesh)| mesh);
    for mesh in std::iter::once(&mut meshed.mesh).chain(of_bodies) {
        mesh.vertices.iter_mut().for_each(|vertex| *vertex = profile.stand(*vertex));
    }
}
