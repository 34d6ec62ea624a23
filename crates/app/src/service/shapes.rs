//! Shapes of the user's own: read from drawings, kept, and made pieces of.

use super::{Service, Trouble, Viewer};
use kalotype_core::filament::{Filament, Rgb, shipped_palette};
use kalotype_core::formats::{FoundDrawing, MarkKind, read_drawing};
use kalotype_core::piece::{
    AcrossClear, Blank, DrawnOutline, Edge, Element, Emblem, LetteringPlace, Offset, Outline,
    Piece, Relief, Repeat, UpClear, limit_of,
};
use kalotype_core::shapes::{
    Chosen, Division, LineUse, Shape, ShapeDocument, Taken, TakenShape, is_own, take,
};
use kalotype_core::units::{Length, Unit};
use kalotype_store::{KeptShape, ListedShape, StoreError};
use serde::{Deserialize, Serialize};

/// The longest name of a shape, in characters.
const LONGEST_NAME: usize = 80;

/// What of a drawing is wanted, as a page or the command line asks.
#[derive(Debug, Clone, Default, Deserialize)]
pub struct DrawingChoice {
    /// Millimetres to one of its figures; nothing for what it says, or probably is.
    pub scale: Option<f64>,
    /// How wide it is to be all in all, in mm, instead of a scale.
    pub width: Option<f64>,
    /// The layers that are wanted, by their places, with commas between; nothing for all.
    pub layers: Option<String>,
    /// What its lines are.
    pub lines: Option<LineUse>,
    /// How wide lines without a width are, in mm.
    pub line_width: Option<f64>,
    /// How far apart ends of lines may be to be joined, in mm.
    pub join: Option<f64>,
    /// How many shapes it becomes.
    #[serde(default)]
    pub division: Division,
}

impl DrawingChoice {
    /// The choice this is of a drawing.
    fn chosen(&self, found: &FoundDrawing) -> Result<Chosen, Trouble> {
        let within = |value: f64, low: f64, high: f64, what: &str| match (low..=high)
            .contains(&value)
        {
            true => Ok(value),
            false => Err(Trouble::Bad(format!("{what} can be {low} to {high} mm, not {value}."))),
        };
        let scale = self.scale.unwrap_or(found.likely);
        if !(1e-6..=1e6).contains(&scale) {
            return Err(Trouble::Bad(format!(
                "A figure of the drawing can be 0.000001 to 1000000 mm, not {scale}."
            )));
        }
        let layers = match self.layers.as_deref() {
            None => None,
            Some(text) => {
                let places = text.split(',').filter(|place| !place.is_empty());
                let read: Result<Vec<usize>, _> = places.map(str::parse).collect();
                let wrong = |_| Trouble::Bad("Layers are named by whole numbers.".to_owned());
                Some(read.map_err(wrong)?)
            }
        };
        let plain = Chosen::all(scale);
        Ok(Chosen {
            layers,
            lines: self.lines,
            line_width: within(
                self.line_width.unwrap_or(plain.line_width),
                0.05,
                50.0,
                "The width of lines",
            )?,
            join: within(self.join.unwrap_or(plain.join), 0.0, 10.0, "The gap that is closed")?,
            division: self.division,
            scale,
        })
    }

    /// Takes what is wanted of a drawing. A width that is asked for is reached by taking it twice: what it
    /// measures is only known once it is taken.
    fn take(&self, found: &FoundDrawing) -> Result<(f64, Result<Taken, String>), Trouble> {
        let mut chosen = self.chosen(found)?;
        let mut taken = take(found, &chosen);
        if let (Some(width), Ok(first)) = (self.width, &taken) {
            if !(0.5..=500.0).contains(&width) {
                return Err(Trouble::Bad(format!(
                    "A shape can be 0.5 to 500 mm wide, not {width}."
                )));
            }
            let [x0, _, x1, _] = first.shapes[0].document.frame;
            chosen.scale *= width / (x1 - x0);
            taken = take(found, &chosen);
        }
        Ok((chosen.scale, taken.map_err(|error| capitalised(&error.to_string()))))
    }
}

/// What is in a drawing, and what would be made of it.
#[derive(Serialize)]
pub struct DrawingReport {
    format: &'static str,
    /// Whether the file says how large it is.
    is_stated: bool,
    /// Millimetres to one of its figures.
    scale: f64,
    layers: Vec<LayerReport>,
    /// What its lines were taken as.
    lines: LineUse,
    /// Whether it has lines at all, and any without a width.
    has_lines: bool,
    has_hairlines: bool,
    /// Width and height in mm.
    size: Option<[f64; 2]>,
    shapes: Vec<ShapeReport>,
    /// Why nothing can be made of it as it is chosen.
    refusal: Option<String>,
    remarks: Vec<String>,
}

#[derive(Serialize)]
struct LayerReport {
    name: String,
    colour: Option<String>,
    /// How many areas and lines are in it.
    marks: usize,
}

/// A shape that would be made.
#[derive(Serialize)]
struct ShapeReport {
    layer: Option<usize>,
    colour: Option<String>,
    /// Its path in mm, as SVG draws it.
    path: String,
    /// What it encloses, in mm².
    area: f64,
    points: usize,
    parts: usize,
    openings: usize,
}

impl ShapeReport {
    fn of(taken: &TakenShape) -> Self {
        let parts = taken.region.parts().len();
        ShapeReport {
            layer: taken.layer,
            colour: taken.colour.map(|colour| colour.to_string()),
            path: taken.region.svg_path(),
            area: taken.region.area(),
            points: taken.region.vertex_count(),
            parts,
            openings: taken.region.contours().len() - parts,
        }
    }
}

fn capitalised(text: &str) -> String {
    let mut letters = text.chars();
    let first = letters.next().map(|letter| letter.to_uppercase().to_string()).unwrap_or_default();
    let end = if text.ends_with('.') { "" } else { "." };
    format!("{first}{}{end}", letters.as_str())
}

fn found_in(file: &[u8]) -> Result<FoundDrawing, Trouble> {
    read_drawing(file).map_err(|error| Trouble::Bad(capitalised(&error.to_string())))
}

/// Looks into a drawing. Nothing is kept.
///
/// # Errors
/// [`Trouble::Bad`] with why it cannot be read.
pub fn look_into_drawing(file: &[u8], wanted: &DrawingChoice) -> Result<DrawingReport, Trouble> {
    let found = found_in(file)?;
    let (scale, taken) = wanted.take(&found)?;
    let marks_of = |layer: usize| found.marks.iter().filter(|mark| mark.layer == layer).count();
    let layers = found.layers.iter().enumerate().map(|(i, layer)| LayerReport {
        name: layer.name.clone(),
        colour: layer.colour.map(|colour| colour.to_string()),
        marks: marks_of(i),
    });
    let is_line = |kind: &MarkKind| matches!(kind, MarkKind::Line(_));
    let mut remarks = found.remarks.clone();
    let (shapes, lines, refusal) = match taken {
        Ok(taken) => {
            remarks.extend(taken.remarks);
            (taken.shapes, taken.lines, None)
        }
        Err(why) => (Vec::new(), wanted.lines.unwrap_or(LineUse::Outlines), Some(why)),
    };
    Ok(DrawingReport {
        format: found.format,
        is_stated: found.stated.is_some(),
        scale,
        layers: layers.collect(),
        lines,
        has_lines: found.marks.iter().any(|mark| is_line(&mark.kind)),
        has_hairlines: found.marks.iter().any(|mark| matches!(mark.kind, MarkKind::Line(None))),
        size: shapes.first().map(|shape| {
            let [x0, y0, x1, y1] = shape.document.frame;
            [x1 - x0, y1 - y0]
        }),
        shapes: shapes.iter().map(ShapeReport::of).collect(),
        refusal,
        remarks,
    })
}

/// The shapes a drawing makes, with what they are called.
///
/// # Errors
/// [`Trouble::Bad`] with why there are none.
pub fn shapes_of(
    file: &[u8],
    name: &str,
    wanted: &DrawingChoice,
) -> Result<Vec<(String, TakenShape)>, Trouble> {
    let name = shape_name(name)?;
    let found = found_in(file)?;
    let (_, taken) = wanted.take(&found)?;
    let shapes = taken.map_err(Trouble::Bad)?.shapes;
    let named = shapes.into_iter().map(|shape| {
        let layer = shape.layer.map(|layer| found.layers[layer].name.as_str());
        let called = layer.map_or_else(|| name.clone(), |layer| format!("{name}, {layer}"));
        (called.chars().take(LONGEST_NAME).collect(), shape)
    });
    Ok(named.collect())
}

/// A name a shape can have.
fn shape_name(name: &str) -> Result<String, Trouble> {
    let name = name.trim();
    if name.is_empty() || name.chars().count() > LONGEST_NAME || name.chars().any(char::is_control)
    {
        return Err(Trouble::Bad(format!("Give the shape a name of 1 to {LONGEST_NAME} letters.")));
    }
    Ok(name.to_owned())
}

/// What a piece made of shapes is like.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum MadeAs {
    /// A plate of the outline of the first.
    Plate,
    /// A plate with all of them on it, each in its colour.
    Emblems,
}

impl Service {
    /// Keeps the shapes a drawing makes, and returns their ids and names.
    ///
    /// # Errors
    /// Why there are none, or what the store says.
    pub fn keep_shapes(
        &self,
        file: &[u8],
        name: &str,
        wanted: &DrawingChoice,
    ) -> Result<Vec<(String, String)>, Trouble> {
        let made = shapes_of(file, name, wanted)?;
        let to_keep = made.into_iter().map(|(name, shape)| KeptShape {
            id: shape.document.id(),
            name,
            document: shape.document.write(),
            colour: shape.colour.map(|colour| colour.to_string()),
        });
        let new: Vec<KeptShape> = to_keep.collect();
        self.store().keep_shapes(&new)?;
        // One that was there before keeps the name it has.
        let named = new.into_iter().map(|shape| {
            let kept = self.store().shape(&shape.id)?.ok_or(StoreError::NotOnShelf)?;
            Ok((kept.id, kept.name))
        });
        named.collect()
    }

    /// Keeps a shape's document as it came in an archive.
    ///
    /// # Errors
    /// Where it is no shape, or what the store says.
    pub fn keep_shape_document(&self, name: &str, document: &[u8]) -> Result<(), Trouble> {
        let read = ShapeDocument::read(document);
        let read = read.map_err(|error| Trouble::Bad(capitalised(&error.to_string())))?;
        let written = read.write();
        // Opened once, so that what is kept can be.
        Shape::open(&written, name)
            .map_err(|error| Trouble::Bad(capitalised(&error.to_string())))?;
        let name: String = name.chars().take(LONGEST_NAME).collect();
        let kept = KeptShape { id: read.id(), name, document: written, colour: None };
        Ok(self.store().keep_shapes(&[kept])?)
    }

    /// The shapes that are kept, the last one first.
    ///
    /// # Errors
    /// What the store says.
    pub fn shapes(&self) -> Result<Vec<ListedShape>, Trouble> {
        Ok(self.store().shapes()?)
    }

    /// Gives a shape another name.
    ///
    /// # Errors
    /// A name it cannot have, or what the store says.
    pub fn rename_shape(&self, id: &str, name: &str) -> Result<(), Trouble> {
        self.store().rename_shape(id, &shape_name(name)?)?;
        self.library.forget(id);
        Ok(())
    }

    /// Takes a shape away that no piece uses.
    ///
    /// # Errors
    /// Where one does, or there is none.
    pub fn drop_shape(&self, id: &str) -> Result<(), Trouble> {
        self.store().drop_shape(id)?;
        self.library.forget(id);
        Ok(())
    }

    /// Makes a piece of shapes that are kept, and returns its id.
    ///
    /// # Errors
    /// Where one is not there, or the piece cannot be.
    pub fn piece_of_shapes(
        &self,
        name: &str,
        units: Unit,
        ids: &[String],
        made_as: MadeAs,
        viewer: &Viewer,
    ) -> Result<String, Trouble> {
        const MOST: usize = 16;
        if ids.is_empty() || ids.len() > MOST {
            return Err(Trouble::Bad(format!("Choose 1 to {MOST} shapes.")));
        }
        let kept = ids.iter().map(|id| {
            let kept = self.store().shape(id)?.filter(|_| is_own(id));
            let kept = kept.ok_or(StoreError::NotOnShelf)?;
            let opened = Shape::open(&kept.document, &kept.name)
                .map_err(|error| Trouble::Bad(capitalised(&error.to_string())))?;
            Ok((opened, kept.colour))
        });
        let kept = kept.collect::<Result<Vec<_>, Trouble>>()?;
        let mut piece = Piece::new(name.trim(), units);
        match made_as {
            MadeAs::Plate => be_plate(&mut piece, &kept[0].0),
            MadeAs::Emblems => put_on(&mut piece, &kept),
        }
        self.create(&piece, viewer)
    }
}

/// Gives the plate of a piece a size in mm, as far as plates go.
fn resize(piece: &mut Piece, (width, height): (f64, f64)) {
    let Blank::Plate(plate) = &mut piece.components[0].blank else { return };
    let fitted = |mm: f64, field: &str| {
        let limit = limit_of("plate", field);
        let mm = (mm * 100.0).round() / 100.0;
        Length::mm(limit.map_or(mm, |limit| mm.clamp(limit.low, limit.high)))
    };
    plate.width = fitted(width, "width");
    plate.height = fitted(height, "height");
}

/// The plate of a piece gets a shape's outline and size.
fn be_plate(piece: &mut Piece, shape: &Shape) {
    resize(piece, shape.size());
    if let Blank::Plate(plate) = &mut piece.components[0].blank {
        plate.outline = Outline::Drawn(DrawnOutline { shape: shape.id.clone() });
    }
}

/// Puts shapes in the middle of a plate, each raised in its colour, with some room around them.
fn put_on(piece: &mut Piece, kept: &[(Shape, Option<String>)]) {
    /// Common practice, no source.
    const ROOM_MM: f64 = 4.0;
    let frame = kept[0].0.frame;
    resize(piece, (frame.width() + 2.0 * ROOM_MM, frame.height() + 2.0 * ROOM_MM));
    let width = limit_of("emblem", "width")
        .map_or(frame.width(), |limit| frame.width().clamp(limit.low, limit.high));
    for (i, (shape, colour)) in kept.iter().enumerate() {
        let colour = colour.as_ref().and_then(|hex| Rgb::try_from(hex.clone()).ok());
        let emblem = Emblem {
            shape: shape.id.clone(),
            width: Length::mm(width),
            stretch: 1.0,
            turn: 0.0,
            mirrored: false,
            relief: Relief::raised(1.0),
            colour: colour.map(|colour| filament_of(piece, colour)),
            root: Length::ZERO,
            edge: Edge::Square,
            place: LetteringPlace {
                across: Offset { from: AcrossClear::Centre, distance: Length::ZERO },
                up: Offset { from: UpClear::Centre, distance: Length::ZERO },
            },
            repeat: Repeat::Once,
        };
        piece.components[0].elements.push(Element::new(&format!("emblem-{}", i + 1), emblem));
    }
}

/// The id of the piece's filament of a colour; a new one where there is none yet.
fn filament_of(piece: &mut Piece, colour: Rgb) -> String {
    let spool = || shipped_palette().remove(0);
    let known = piece.filaments.iter().position(|one| one.colour == colour);
    let at = known.unwrap_or_else(|| {
        let id = format!("drawn-{}", piece.filaments.len());
        let name = format!("Colour {colour}");
        piece.filaments.push(Filament { id, name, colour, ..spool() });
        piece.filaments.len() - 1
    });
    piece.filaments[at].id.clone()
}
