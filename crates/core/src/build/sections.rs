use super::Layout;
use crate::plane::to_grid;
use crate::solid::{Layer, Sections, Slab};

/// What is solid between which heights.
///
/// The heights are all those at which a prism starts, ends or changes slope, on the grid; between
/// two neighbours nothing changes but what an edge profile tapers.
pub fn sections(layout: &Layout) -> Sections {
    let prisms = layout.prisms();
    let mut heights: Vec<f64> = prisms.iter().flat_map(|prism| prism.breaks()).collect();
    heights.sort_by(f64::total_cmp);
    heights.dedup_by_key(|height| to_grid(*height));

    let footprints = prisms.iter().map(|prism| prism.outline.clone()).collect();
    let slabs = heights
        .windows(2)
        .map(|pair| {
            let (bottom, top) = (pair[0], pair[1]);
            let present = prisms.iter().enumerate().filter(|(_, prism)| {
                to_grid(prism.bottom) <= to_grid(bottom) && to_grid(top) <= to_grid(prism.top)
            });
            let layers = present.map(|(i, prism)| Layer::upright(prism.act, i)).collect();
            Slab { bottom, top, layers }
        })
        .collect();
    Sections { footprints, slabs }
}
