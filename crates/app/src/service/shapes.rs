//! Shapes of the user's own: kept, and made pieces of.

use super::drawings::DrawingChoice;
use super::{Service, Trouble, Viewer};
use kalotype_core::filament::{Filament, Rgb, shipped_palette};
use kalotype_core::halt::Halt;
use kalotype_core::piece::{
    Blank, Contour, DrawnOutline, Element, Emblem, LetteringPlace, Outline, Piece, limit_of,
};
use kalotype_core::shapes::{Shape, ShapeDocument, is_own};
use kalotype_core::units::{Length, Unit};
use kalotype_store::{KeptShape, ListedShape, Source, StoreError};
use serde::Deserialize;

/// The longest name of a shape, in characters.
const LONGEST_NAME: usize = 80;

/// A name a shape can have.
pub(super) fn shape_name(name: &str) -> Result<String, Trouble> {
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
    /// A rectangular plate with all of them on it, each in its colour.
    Emblems,
    /// The same on a round plate.
    OnDisc,
    /// The same on a plate that follows their outline at a distance.
    OnContour,
}

impl Service {
    /// Keeps the shapes a drawing that is kept makes, and returns their ids and names.
    ///
    /// # Errors
    /// Why there are none, or what the store says.
    pub fn keep_shapes(
        &self,
        drawing: &str,
        name: &str,
        choice: &DrawingChoice,
        halt: &Halt,
    ) -> Result<Vec<(String, String)>, Trouble> {
        let made = self.drawn(drawing, halt)?.shapes(&shape_name(name)?, choice, halt)?;
        let source = Source {
            drawing: drawing.to_owned(),
            choice: serde_json::to_string(choice).expect("a choice has only string keys"),
        };
        let to_keep = made.into_iter().map(|(name, shape)| KeptShape {
            id: shape.document.id(),
            name: name.chars().take(LONGEST_NAME).collect(),
            document: shape.document.write(),
            colour: shape.colour.map(|colour| colour.to_string()),
            source: Some(source.clone()),
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

    /// What a shape was made of: the drawing's id and name and what was chosen of it, where that is known.
    ///
    /// # Errors
    /// Where there is no such shape, or what the store says.
    pub fn source_of(&self, id: &str) -> Result<Option<(String, String, String)>, Trouble> {
        let kept = self.store().shape(id)?.ok_or(StoreError::NotOnShelf)?;
        let Some(source) = kept.source else { return Ok(None) };
        let drawing = self.store().drawing(&source.drawing)?;
        Ok(drawing.map(|drawing| (drawing.id, drawing.name, source.choice)))
    }

    /// Keeps a shape's document as it came in an archive.
    ///
    /// # Errors
    /// Where it is no shape, or what the store says.
    pub fn keep_shape_document(&self, name: &str, document: &[u8]) -> Result<(), Trouble> {
        let read = ShapeDocument::read(document);
        let read = read.map_err(Trouble::bad)?;
        let written = read.write();
        // Opened once, so that what is kept can be.
        Shape::open(&written, name).map_err(Trouble::bad)?;
        let name: String = name.chars().take(LONGEST_NAME).collect();
        let kept = KeptShape { id: read.id(), name, document: written, colour: None, source: None };
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
            let opened = Shape::open(&kept.document, &kept.name).map_err(Trouble::bad)?;
            Ok((opened, kept.colour))
        });
        let kept = kept.collect::<Result<Vec<_>, Trouble>>()?;
        let mut piece = Piece::new(name.trim(), units);
        match made_as {
            MadeAs::Plate => be_plate(&mut piece, &kept[0].0),
            MadeAs::Emblems => put_on(&mut piece, &kept, None),
            MadeAs::OnDisc => put_on(&mut piece, &kept, Some(Outline::Ellipse)),
            MadeAs::OnContour => put_on(&mut piece, &kept, Some(Outline::Contour(AROUND))),
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

/// A contour as it is customary: 2 mm around, crevices closed (common practice, no source).
const AROUND: Contour = Contour {
    offset: Length::mm(2.0),
    crevices: Length::mm(1.5),
    gaps: Length::mm(5.0),
    ties: None,
    by_hand: Vec::new(),
};

/// Puts shapes in the middle of a plate, each raised in its colour, with some room around them.
fn put_on(piece: &mut Piece, kept: &[(Shape, Option<String>)], outline: Option<Outline>) {
    /// Common practice, no source.
    const ROOM_MM: f64 = 4.0;
    let frame = kept[0].0.frame;
    // Whole millimetres, as a person would have typed them.
    let (width, height) =
        ((frame.width() + 2.0 * ROOM_MM).round(), (frame.height() + 2.0 * ROOM_MM).round());
    match outline {
        // Round enough for the corners of the frame.
        Some(Outline::Ellipse) => {
            let across = (frame.width().hypot(frame.height()) + ROOM_MM).round();
            resize(piece, (across, across));
        }
        _ => resize(piece, (width, height)),
    }
    if let (Some(outline), Blank::Plate(plate)) = (outline, &mut piece.components[0].blank) {
        plate.outline = outline;
    }
    let width = limit_of("emblem", "width")
        .map_or(frame.width(), |limit| frame.width().clamp(limit.low, limit.high));
    for (i, (shape, colour)) in kept.iter().enumerate() {
        let colour = colour.as_ref().and_then(|hex| Rgb::try_from(hex.clone()).ok());
        let emblem = Emblem {
            colour: colour.map(|colour| filament_of(piece, colour)),
            place: LetteringPlace::in_the_middle(),
            ..Emblem::plain(&shape.id, Length::mm(width))
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
