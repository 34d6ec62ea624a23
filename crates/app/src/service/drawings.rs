//! Drawings and pictures of others: kept, looked into, and taken as shapes.

use super::error::sentence;
use super::readers::Readers;
use super::{Service, Trouble};
use kalotype_core::content::content_id;
use kalotype_core::emblems::Setting;
use kalotype_core::formats::{FoundDrawing, MarkKind, Picture, is_picture, read_picture};
use kalotype_core::halt::Halt;
use kalotype_core::piece::Stroke;
use kalotype_core::plane::Tolerance;
use kalotype_core::shapes::drawn::{is_drawn, read_drawn};
use kalotype_core::shapes::trace::{Edges, Smoothing, Tones, edges, smoothed};
use kalotype_core::shapes::{Chosen, Division, LineUse, Shape, Taken, TakenShape, take};
use kalotype_store::{KeptDrawing, StoreError};
use serde::{Deserialize, Serialize};
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

/// What of a drawing is wanted, as a page or the command line asks. Lengths in mm.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct DrawingChoice {
    /// Millimetres to one of its figures; nothing for what it says, or probably is.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub scale: Option<f64>,
    /// How wide what is made of it is to be all in all, instead of a scale.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub width: Option<f64>,
    /// The layers that are wanted, by their places, with commas between; nothing for all.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub layers: Option<String>,
    /// What its lines are.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub lines: Option<LineUse>,
    /// How wide lines without a width are.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub line_width: Option<f64>,
    /// How far apart ends of lines may be to be joined.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub join: Option<f64>,
    /// How many shapes it becomes.
    pub division: Division,
    /// What of a picture becomes an area; nothing for what is dark. An SVG is traced as a picture where this
    /// is asked for.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub tones: Option<ToneChoice>,
    /// The share of white, 0 to 1, that parts dark from light.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub threshold: Option<f64>,
    /// In how many colours a picture is traced.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub colours: Option<usize>,
    /// How far curves may stray from what they follow.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub smooth: Option<f64>,
    /// What turns by more than this, in degrees, stays a corner.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub corner: Option<f64>,
    /// What is smaller than a disc this wide is left out.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub speck: Option<f64>,
}

/// What of a picture becomes an area.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum ToneChoice {
    /// What is dark.
    Dark,
    /// What is light.
    Light,
    /// What stands out from the background.
    Apart,
    /// An area of each of a few colours.
    Colours,
}

/// A drawing or a picture, opened.
pub struct Drawn {
    kind: Kind,
}

enum Kind {
    Drawing {
        found: Box<FoundDrawing>,
        /// The lines of a drawing made here, as paths of SVG with y upwards.
        lines: Vec<String>,
        /// An SVG as it may be traced: drawn the first time it is.
        svg: Option<Rendering>,
    },
    Picture(Tracer),
}

/// A picture that is traced.
struct Tracer {
    picture: Picture,
    /// The edges found last, with what was asked for.
    edges: Mutex<Option<(Tones, Arc<Edges>)>>,
}

/// An SVG that is drawn as a picture when it is first traced.
struct Rendering {
    file: Vec<u8>,
    readers: Readers,
    drawn: OnceLock<Tracer>,
}

impl Rendering {
    fn tracer(&self, halt: &Halt) -> Result<&Tracer, Trouble> {
        if let Some(drawn) = self.drawn.get() {
            return Ok(drawn);
        }
        let tracer = Tracer::of(self.readers.picture(&self.file, halt)?);
        Ok(self.drawn.get_or_init(|| tracer))
    }
}

impl Tracer {
    fn of(picture: Picture) -> Self {
        Tracer { picture, edges: Mutex::new(None) }
    }

    /// The edges of what is asked for, found once.
    fn edges(&self, tones: Tones) -> Result<Arc<Edges>, Trouble> {
        let known = {
            let last = self.edges.lock().unwrap_or_else(PoisonError::into_inner);
            last.as_ref().filter(|(of, _)| *of == tones).map(|(_, edges)| Arc::clone(edges))
        };
        if let Some(known) = known {
            return Ok(known);
        }
        let found = Arc::new(edges(&self.picture, tones).map_err(Trouble::bad)?);
        *self.edges.lock().unwrap_or_else(PoisonError::into_inner) =
            Some((tones, Arc::clone(&found)));
        Ok(found)
    }
}

/// What was made of a drawing by a choice.
struct Made {
    scale: f64,
    found: FoundDrawing,
    taken: Result<Taken, String>,
    /// How a picture was traced.
    tracing: Option<TracingReport>,
}

/// A figure within limits, or which it would have to be within.
fn within(value: f64, low: f64, high: f64, what: &str) -> Result<f64, Trouble> {
    match (low..=high).contains(&value) {
        true => Ok(value),
        false => Err(Trouble::Bad(format!("{what} can be {low} to {high}, not {value}."))),
    }
}

impl DrawingChoice {
    /// The choice this is of a drawing at a scale.
    fn chosen(&self, scale: f64) -> Result<Chosen, Trouble> {
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
        let width = self.line_width.unwrap_or(plain.line_width);
        let join = self.join.unwrap_or(plain.join);
        Ok(Chosen {
            layers,
            lines: self.lines,
            line_width: within(width, 0.05, 50.0, "The width of lines in mm")?,
            join: within(join, 0.0, 10.0, "The gap that is closed in mm")?,
            division: self.division,
            scale,
        })
    }

    fn tones(&self) -> Result<Tones, Trouble> {
        let threshold = self.threshold;
        threshold.map(|share| within(share, 0.0, 1.0, "The threshold")).transpose()?;
        Ok(match self.tones.unwrap_or(ToneChoice::Dark) {
            ToneChoice::Dark => Tones::Dark(threshold),
            ToneChoice::Light => Tones::Light(threshold),
            ToneChoice::Apart => Tones::Apart(threshold),
            ToneChoice::Colours => Tones::Colours(self.colours.unwrap_or(3)),
        })
    }

    /// How a picture is smoothed at a scale; what is not asked for is a little more than a pixel.
    fn smoothing(&self, scale: f64) -> Result<Smoothing, Trouble> {
        let smooth = self.smooth.unwrap_or((0.8 * scale).max(0.05));
        let speck = self.speck.unwrap_or((4.0 * scale).max(0.4));
        let corner = self.corner.unwrap_or(45.0);
        Ok(Smoothing {
            distance: within(smooth, 0.0, 10.0, "The smoothing in mm")? / scale,
            speck: within(speck, 0.0, 100.0, "The size of specks in mm")? / scale,
            corner: within(corner, 5.0, 175.0, "The angle of corners")?,
        })
    }
}

/// What the figures of a drawing that states no unit are taken as, by how many mm one of them is.
fn taken_as(scale: f64) -> String {
    let known = [
        (25.4 / 96.0, "pixels, 96 to an inch"),
        (25.4 / 72.0, "points, 72 to an inch"),
        (1.0, "millimetres"),
        (10.0, "centimetres"),
        (25.4, "inches"),
    ];
    let unit = known.iter().find(|(mm, _)| (mm / scale - 1.0).abs() < 1e-6);
    let unit = unit.map_or_else(|| format!("{scale:.4} mm"), |(_, word)| (*word).to_owned());
    format!(
        "The file states no unit; its figures are taken as {unit}. Look whether its size is right."
    )
}

impl Drawn {
    /// Opens a file.
    ///
    /// # Errors
    /// [`Trouble::Bad`] with why it cannot be read.
    pub fn open(file: &[u8], readers: &Readers, halt: &Halt) -> Result<Self, Trouble> {
        let kind = if is_picture(file) {
            Kind::Picture(Tracer::of(halt.over(|| read_picture(file))?.map_err(Trouble::bad)?))
        } else if is_drawn(file) {
            let read = halt.over(|| read_drawn(file))?.map_err(Trouble::bad)?;
            let lines = read.lines.iter().map(|line| line.to_svg()).collect();
            Kind::Drawing { found: Box::new(read.found), lines, svg: None }
        } else {
            let found = readers.drawing(file, halt)?;
            let is_svg = found.format == "SVG";
            let svg = is_svg.then(|| Rendering {
                file: file.to_vec(),
                readers: readers.clone(),
                drawn: OnceLock::new(),
            });
            Kind::Drawing { found: Box::new(found), lines: Vec::new(), svg }
        };
        Ok(Drawn { kind })
    }

    /// Opens a drawing that is being made on the board.
    ///
    /// # Errors
    /// [`Trouble::Bad`] where it is none, or cannot be read.
    pub fn on_the_board(document: &[u8]) -> Result<Self, Trouble> {
        if !is_drawn(document) {
            return Err(Trouble::Bad("This is no drawing of the drawing board.".to_owned()));
        }
        Drawn::open(document, &Readers::Here, &Halt::default())
    }

    /// The picture that is traced: what it is itself, or an SVG drawn as one where that is asked for.
    fn tracer(&self, choice: &DrawingChoice, halt: &Halt) -> Result<Option<&Tracer>, Trouble> {
        match &self.kind {
            Kind::Picture(tracer) => Ok(Some(tracer)),
            Kind::Drawing { svg: Some(svg), .. } if choice.tones.is_some() => {
                svg.tracer(halt).map(Some)
            }
            Kind::Drawing { .. } => Ok(None),
        }
    }

    /// What it is at a scale; nothing for the one it has or probably has.
    fn found(
        &self,
        choice: &DrawingChoice,
        scale: Option<f64>,
        halt: &Halt,
    ) -> Result<(FoundDrawing, f64, Option<TracingReport>), Trouble> {
        let checked = |scale: f64| within(scale, 1e-6, 1e6, "A figure of the drawing in mm");
        let tracer = match (self.tracer(choice, halt)?, &self.kind) {
            (None, Kind::Drawing { found, .. }) => {
                let scale = checked(scale.unwrap_or(found.likely))?;
                return Ok((FoundDrawing::clone(found), scale, None));
            }
            (Some(tracer), _) | (None, Kind::Picture(tracer)) => tracer,
        };
        let picture = &tracer.picture;
        /// How large a picture is at first, in mm.
        const USUAL_MM: f64 = 60.0;
        let longer = picture.width.max(picture.height) as f64;
        let scale = checked(scale.or(picture.scale).unwrap_or(USUAL_MM / longer))?;
        let tones = choice.tones()?;
        let edges = tracer.edges(tones)?;
        let smoothing = choice.smoothing(scale)?;
        let found = smoothed(&edges, smoothing).map_err(Trouble::bad)?;
        let report = TracingReport {
            tones: choice.tones.unwrap_or(ToneChoice::Dark),
            threshold: edges.threshold,
            colours: choice.colours.unwrap_or(3),
            smooth: smoothing.distance * scale,
            corner: smoothing.corner,
            speck: smoothing.speck * scale,
            place: [0.0; 4],
        };
        Ok((found, scale, Some(report)))
    }

    /// Takes what is wanted. A width that is asked for is reached by taking it again: what it measures is
    /// only known once it is taken.
    fn made(&self, choice: &DrawingChoice, halt: &Halt) -> Result<Made, Trouble> {
        let mut scale = choice.scale;
        const ROUNDS: usize = 3;
        for round in 0.. {
            let (found, now, tracing) = halt.over(|| self.found(choice, scale, halt))??;
            let chosen = choice.chosen(now)?;
            let taken = halt.over(|| take(&found, &chosen))?;
            if let (Some(width), Ok(taken), true) = (choice.width, &taken, round < ROUNDS) {
                let width = within(width, 0.5, 500.0, "The width in mm")?;
                let [x0, _, x1, _] = taken.shapes[0].document.frame;
                if ((x1 - x0) / width - 1.0).abs() > 1e-6 {
                    scale = Some(now * width / (x1 - x0));
                    continue;
                }
            }
            let taken = taken.map_err(sentence);
            return Ok(Made { scale: now, found, taken, tracing });
        }
        unreachable!("the last round is answered")
    }

    /// What is in it, and what would be made of it.
    ///
    /// # Errors
    /// [`Trouble::Bad`] with a choice that cannot be.
    pub fn report(&self, choice: &DrawingChoice, halt: &Halt) -> Result<DrawingReport, Trouble> {
        let Made { scale, found, taken, tracing } = self.made(choice, halt)?;
        let marks_of = |layer: usize| found.marks.iter().filter(|mark| mark.layer == layer).count();
        let layers = found.layers.iter().enumerate().map(|(i, layer)| LayerReport {
            name: layer.name.clone(),
            colour: layer.colour.map(|colour| colour.to_string()),
            marks: marks_of(i),
        });
        let is_line = |kind: &MarkKind| matches!(kind, MarkKind::Line(_));
        let mut remarks = found.remarks.clone();
        if found.stated.is_none() && tracing.is_none() {
            remarks.insert(0, taken_as(scale));
        }
        let (shapes, lines, centre, refusal) = match taken {
            Ok(taken) => {
                remarks.extend(taken.remarks);
                (taken.shapes, taken.lines, taken.centre, None)
            }
            Err(why) => {
                (Vec::new(), choice.lines.unwrap_or(LineUse::Outlines), (0.0, 0.0), Some(why))
            }
        };
        let tracing = tracing.map(|report| TracingReport {
            place: self.place(choice, scale, centre, halt),
            ..report
        });
        Ok(DrawingReport {
            format: found.format.to_string(),
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
            tracing,
            centre: [centre.0, centre.1],
            drawn: match &self.kind {
                Kind::Drawing { lines, .. } => lines.clone(),
                Kind::Picture(_) => Vec::new(),
            },
            can_be_traced: matches!(&self.kind, Kind::Drawing { svg: Some(_), .. }),
        })
    }

    /// Where the picture lies below what was traced of it: left, top, width and height in mm, y downwards.
    fn place(
        &self,
        choice: &DrawingChoice,
        scale: f64,
        (x, y): (f64, f64),
        halt: &Halt,
    ) -> [f64; 4] {
        let Ok(Some(Tracer { picture, .. })) = self.tracer(choice, halt) else { return [0.0; 4] };
        let [width, height] = [picture.width, picture.height].map(|side| side as f64 * scale);
        [-x, y, width, height]
    }

    /// The shapes it makes, with what they are called.
    ///
    /// # Errors
    /// [`Trouble::Bad`] with why there are none.
    pub fn shapes(
        &self,
        name: &str,
        choice: &DrawingChoice,
        halt: &Halt,
    ) -> Result<Vec<(String, TakenShape)>, Trouble> {
        let Made { found, taken, .. } = self.made(choice, halt)?;
        let named = taken.map_err(Trouble::Bad)?.shapes.into_iter().map(|shape| {
            let layer = shape.layer.map(|layer| found.layers[layer].name.as_str());
            (layer.map_or_else(|| name.to_owned(), |layer| format!("{name}, {layer}")), shape)
        });
        Ok(named.collect())
    }

    /// The picture as PNG, if it is one or can be drawn as one.
    fn png(&self, halt: &Halt) -> Result<Option<Vec<u8>>, Trouble> {
        let tracer = match &self.kind {
            Kind::Drawing { svg, .. } => svg.as_ref().map(|svg| svg.tracer(halt)).transpose()?,
            Kind::Picture(tracer) => Some(tracer),
        };
        Ok(tracer.and_then(|tracer| tracer.picture.png()))
    }
}

/// What is in a drawing, and what would be made of it.
#[derive(Serialize)]
pub struct DrawingReport {
    format: String,
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
    /// How a picture was traced.
    tracing: Option<TracingReport>,
    /// Where the middle of the shapes lies in the drawing, in mm, y upwards.
    centre: [f64; 2],
    /// The lines of a drawing made here, one for each figure.
    drawn: Vec<String>,
    /// Whether it is no picture and can be traced as one.
    can_be_traced: bool,
}

#[derive(Serialize)]
struct LayerReport {
    name: String,
    colour: Option<String>,
    /// How many areas and lines are in it.
    marks: usize,
}

/// How a picture was traced; lengths in mm.
#[derive(Serialize)]
struct TracingReport {
    tones: ToneChoice,
    threshold: Option<f64>,
    colours: usize,
    smooth: f64,
    corner: f64,
    speck: f64,
    /// Where the picture lies below what was traced.
    place: [f64; 4],
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

/// The area of a shape in mm² as its curves have it: of chords that stray too little to matter, in a shape so many times as
/// large.
fn area_of(taken: &TakenShape) -> f64 {
    const LARGER: f64 = 16.0;
    /// Of more points it is that of the chords that are shown.
    const MOST_POINTS: usize = 20_000;
    let shape = Shape::open(&taken.document.write(), "").ok();
    let shape = shape.filter(|shape| shape.points() < MOST_POINTS);
    let large = shape.map(|shape| {
        let width = LARGER * shape.frame.width();
        let setting = Setting { width, stretch: 1.0, turn: 0.0, mirrored: false };
        shape.set(setting, &Stroke::default(), Tolerance::Fine)
    });
    large.map_or_else(|| taken.region.area(), |large| large.area() / (LARGER * LARGER))
}

impl ShapeReport {
    fn of(taken: &TakenShape) -> Self {
        let parts = taken.region.parts().len();
        ShapeReport {
            layer: taken.layer,
            colour: taken.colour.map(|colour| colour.to_string()),
            path: taken.region.svg_path(),
            area: area_of(taken),
            points: taken.region.vertex_count(),
            parts,
            openings: taken.region.contours().len() - parts,
        }
    }
}

/// What the ids of drawings begin with.
const DRAWING: &str = "drawing-";

/// How many drawings are kept opened, the last asked for first: a picture is up to sixteen megabytes.
const MOST_OPENED: usize = 3;

/// Drawings that were opened lately, by their ids.
#[derive(Default)]
pub(super) struct OpenedDrawings(Mutex<Vec<(String, Arc<Drawn>)>>);

impl OpenedDrawings {
    fn get(&self, id: &str) -> Option<Arc<Drawn>> {
        let mut opened = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let at = opened.iter().position(|(known, _)| known == id)?;
        let found = opened.remove(at);
        let drawn = Arc::clone(&found.1);
        opened.insert(0, found);
        Some(drawn)
    }

    fn put(&self, id: &str, drawn: &Arc<Drawn>) {
        let mut opened = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        opened.retain(|(known, _)| known != id);
        opened.insert(0, (id.to_owned(), Arc::clone(drawn)));
        opened.truncate(MOST_OPENED);
    }
}

impl Service {
    /// Keeps a drawing or a picture that can be read, and returns its id.
    ///
    /// # Errors
    /// Why it cannot be read, or what the store says.
    pub fn keep_drawing(&self, name: &str, file: &[u8], halt: &Halt) -> Result<String, Trouble> {
        let drawn = Arc::new(self.opened(file, halt)?);
        let id = content_id(DRAWING, file);
        let name: String = name.trim().chars().take(120).collect();
        self.store().keep_drawing(&KeptDrawing { id: id.clone(), name, file: file.to_vec() })?;
        self.drawings.put(&id, &drawn);
        Ok(id)
    }

    fn opened(&self, file: &[u8], halt: &Halt) -> Result<Drawn, Trouble> {
        Drawn::open(file, &self.readers, halt)
    }

    /// A drawing that is kept, opened.
    ///
    /// # Errors
    /// Where there is none, it cannot be read, or the work was stopped.
    pub fn drawn(&self, id: &str, halt: &Halt) -> Result<Arc<Drawn>, Trouble> {
        if let Some(drawn) = self.drawings.get(id) {
            return Ok(drawn);
        }
        let kept = self.store().drawing(id)?.ok_or(StoreError::NotOnShelf)?;
        let drawn = Arc::new(self.opened(&kept.file, halt)?);
        self.drawings.put(id, &drawn);
        Ok(drawn)
    }

    /// The document of a drawing that was made here.
    ///
    /// # Errors
    /// Where there is none, or it was not made here.
    pub fn drawn_document(&self, id: &str) -> Result<Vec<u8>, Trouble> {
        let kept = self.store().drawing(id)?.ok_or(StoreError::NotOnShelf)?;
        match is_drawn(&kept.file) {
            true => Ok(kept.file),
            false => Err(Trouble::Bad("This drawing was not made here.".to_owned())),
        }
    }

    /// A picture that is kept, as PNG.
    ///
    /// # Errors
    /// Where there is none, or it is no picture.
    pub fn drawn_picture(&self, id: &str, halt: &Halt) -> Result<Vec<u8>, Trouble> {
        let png = self.drawn(id, halt)?.png(halt)?;
        png.ok_or_else(|| Trouble::Bad("This drawing is no picture.".to_owned()))
    }
}
