//! What there is to tell of a piece in figures.

use kalotype_core::bed::{places, size_of_all};
use kalotype_core::colour::{Advice, Pause, SwapPlan, advise, pause_lines, plan_swaps, swap_sheet};
use kalotype_core::evaluate::{ColourBody, Evaluation};
use kalotype_core::piece::Piece;
use serde::Serialize;

/// Figures of a piece.
#[derive(Serialize)]
pub struct Facts {
    /// Width, height and overall thickness in mm.
    pub size_mm: [f64; 3],
    /// Volume in mm³.
    pub volume_mm3: f64,
    /// Surface in mm².
    pub area_mm2: f64,
    /// Mass in g if it is printed solid.
    pub mass_g: f64,
    /// What that much filament costs, in the currency of the prices of the spools.
    pub cost: f64,
    /// Centre of mass of the first component in mm where it lies on the bed, for even density; as it is made
    /// from the centre of its foot.
    pub centre_of_mass_mm: [f64; 3],
    /// Triangles of the mesh.
    pub triangles: usize,
    /// Loose parts.
    pub parts: usize,
    /// What prints in each colour.
    pub bodies: Vec<BodyFacts>,
}

/// Figures of all that prints in one colour.
#[derive(Serialize)]
pub struct BodyFacts {
    /// Which of the filaments of the piece.
    pub filament: usize,
    /// Its name.
    pub name: String,
    /// Volume in mm³.
    pub volume_mm3: f64,
    /// Mass in g if it is printed solid.
    pub mass_g: f64,
    /// What that much filament costs.
    pub cost: f64,
}

/// The figures of a piece: of a single component, or of all together, the size being the room they take
/// side by side on the bed.
pub fn facts_of(piece: &Piece, evaluation: &Evaluation) -> Facts {
    let made = || evaluation.components.iter();
    let sum =
        |figure: fn(&kalotype_core::evaluate::Made) -> f64| made().map(|one| figure(one)).sum();
    let mut bodies: Vec<BodyFacts> = Vec::new();
    for body in evaluation.bodies() {
        let own = body_facts(piece, body);
        match bodies.iter_mut().find(|known| known.filament == own.filament) {
            Some(known) => {
                known.volume_mm3 += own.volume_mm3;
                known.mass_g += own.mass_g;
                known.cost += own.cost;
            }
            None => bodies.push(own),
        }
    }
    bodies.sort_by_key(|body| body.filament);
    Facts {
        size_mm: size_of_all(evaluation),
        volume_mm3: sum(|one| one.measures.volume),
        area_mm2: sum(|one| one.measures.area),
        mass_g: bodies.iter().map(|body| body.mass_g).sum(),
        cost: bodies.iter().map(|body| body.cost).sum(),
        centre_of_mass_mm: {
            let [x, y, z] = evaluation.components[0].measures.centre_of_mass;
            places(evaluation)[0].point(x, y, z)
        },
        triangles: made().map(|one| one.mesh.triangles.len()).sum(),
        parts: made().map(|one| one.parts).sum(),
        bodies,
    }
}

fn body_facts(piece: &Piece, body: &ColourBody) -> BodyFacts {
    let filament = &piece.filaments[body.filament];
    let mass = filament.mass_of(body.volume);
    BodyFacts {
        filament: body.filament,
        name: filament.name.clone(),
        volume_mm3: body.volume,
        mass_g: mass,
        cost: filament.cost_of(mass),
    }
}

/// Changes of filament with one nozzle, and the texts that tell them: all of one plan, so that what is copied is
/// what is shown.
#[derive(Serialize)]
pub struct SwapsView {
    #[serde(flatten)]
    plan: SwapPlan,
    /// Why layers have more than one colour, in the order of the conflicts.
    reasons: Vec<Advice>,
    /// A list to print.
    sheet: String,
    /// Lines for the printer, by the command it pauses at.
    lines: Vec<PauseLines>,
}

/// Lines for a printer that pauses at a command.
#[derive(Serialize)]
struct PauseLines {
    pause: Pause,
    text: String,
}

/// The changes of a piece of several colours.
pub fn swaps_of(piece: &Piece, evaluation: &Evaluation) -> Option<SwapsView> {
    let mut filaments: Vec<usize> = evaluation.bodies().map(|body| body.filament).collect();
    filaments.sort_unstable();
    filaments.dedup();
    if filaments.len() < 2 {
        return None;
    }
    let plan = plan_swaps(evaluation, piece.layers);
    let reasons = plan.conflicts.iter().map(|one| advise(piece, evaluation, one)).collect();
    let sheet = swap_sheet(piece, evaluation, &plan);
    let lines =
        Pause::ALL.map(|pause| PauseLines { pause, text: pause_lines(piece, &plan, pause) });
    Some(SwapsView { plan, reasons, sheet, lines: lines.into() })
}

#[cfg(test)]
mod tests {
    use super::*;
    use kalotype_core::cache::Cache;
    use kalotype_core::edit::apply;
    use kalotype_core::evaluate::evaluate;
    use kalotype_core::filament::shipped_palette;
    use kalotype_core::library::Shipped;
    use kalotype_core::piece::{Address, Component, Edit};
    use kalotype_core::plane::Tolerance;
    use kalotype_core::units::Unit;
    use kalotype_core::workshop::Workshop;
    use serde_json::json;

    /// A plate of 100 × 50 × 2 mm whose uppermost 0.5 mm are of another colour: 7.5 cm³ of 1.24 g/cm³ at
    /// 24 for 1 kg, and 2.5 cm³ of 1.3 g/cm³ at 30 for 750 g.
    #[test]
    fn mass_and_cost_are_those_of_the_colours_in_the_piece() {
        let cache = Cache::new(1 << 20);
        let workshop = Workshop::new(&Shipped, &cache, Tolerance::Draft);
        let blank = Address::Blank(Component::FIRST.to_owned());
        let set = |field: &str, value: serde_json::Value| Edit::set(&blank, field, value);
        let other = shipped_palette().remove(1);
        let edits = [
            set("width", json!(100)),
            set("height", json!(50)),
            set("thickness", json!(2)),
            set(
                "outline",
                json!({ "rectangle": { "top_left": "square", "top_right": "square",
                    "bottom_right": "square", "bottom_left": "square" } }),
            ),
            Edit::Colour {
                target: blank.clone(),
                field: "faces.top.colour".to_owned(),
                filament: Some(other),
            },
            set("faces.top.depth", json!(0.5)),
        ];
        let mut piece = Piece::new("Berth 7", Unit::Millimetre);
        piece = apply(&piece, &edits, &workshop).unwrap().piece;
        for (filament, [density, price, mass]) in
            piece.filaments.iter_mut().zip([[1.24, 24.0, 1000.0], [1.3, 30.0, 750.0]])
        {
            (filament.density, filament.spool_price, filament.spool_mass) = (density, price, mass);
        }
        let facts = facts_of(&piece, &evaluate(&piece, &workshop).unwrap());
        let close = |found: f64, exact: f64| {
            assert!((found - exact).abs() < 1e-4 * exact, "{found} is not {exact}");
        };
        close(facts.volume_mm3, 10_000.0);
        let [below, above] = &facts.bodies[..] else { panic!("two colours") };
        close(below.mass_g, 9.3);
        close(above.mass_g, 3.25);
        close(facts.mass_g, 12.55);
        close(below.cost, 0.2232);
        close(above.cost, 0.13);
        close(facts.cost, 0.3532);
    }
}
