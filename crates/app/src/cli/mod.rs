//! The command line.

mod blank;
mod build;
mod check;
mod facts;
mod fit;
mod gauge;
mod look;
mod serve;
mod shape;
mod swaps;

use crate::service::{Bench, Reading, Worked, mesh_file_name, read_here, stock_of};
use anyhow::Context;
use clap::{Args, Parser, Subcommand, ValueEnum};
use kalotype_core::colour::Pause;
use kalotype_core::evaluate::evaluate;
use kalotype_core::export::Division;
use kalotype_core::formats::MAX_MESH_BYTES;
use kalotype_core::gauge::GaugeJoint;
use kalotype_core::piece::{self, Piece};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::{self, Finding};
use kalotype_core::shapes::{MAX_SHAPE_BYTES, SHAPE_ENDING, Shape};
use kalotype_core::stock::Stock;
use std::io::{ErrorKind, Read, Write};
use std::net::IpAddr;
use std::path::{Path, PathBuf};
use std::process::ExitCode;

/// Model small personalised solids (key fobs, nameplates, tags) and take away printable meshes.
#[derive(Parser)]
#[command(name = "kalotype", version, about, after_help = AFTER_HELP)]
pub struct Arguments {
    #[command(subcommand)]
    command: Command,
}

const AFTER_HELP: &str = "\
Examples:
  kalotype demo                                 look around, with sample pieces, nothing kept
  kalotype serve --data ~/kalotype              keep pieces in a folder of your own
  kalotype build fob.json -o fob.stl            a piece file to a mesh
  kalotype build fob.json -o fob.3mf --colours split --tolerance fine
  kalotype build fob.json -o parts/ --format stl --colours split --json
  kalotype swaps fob.json --pause m600          changes of filament with one nozzle
  kalotype look part.stl                        what is in a mesh of somebody else's
  kalotype blank part.stl -o part.json          a piece on the flat face of a mesh that looks up
  kalotype build part.json -o named.stl         its mesh lies beside it, or is named by --mesh
  kalotype build desk.json -o parts/ --format 3mf --each
  kalotype build token.json -o tokens.zip --format stl --copies 30
  kalotype fit desk.json                        the joints of a piece and their clearances
  kalotype gauge --joint slot -o gauge.3mf      to be printed, to learn what fits
  kalotype check *.kalotype.json                what would go wrong on the printer
  kalotype check fob.json --mend better.json    and a piece file with all of it mended that can be
  kalotype facts fob.json | jq .volume_mm3      sizes, mass and what preflight says, as JSON

Exit codes: 0 done; 1 not done, with the reason on standard error; 2 wrong arguments;
3 (build, check, facts, fit, swaps) the piece cannot be built, and preflight says why;
4 (look) the mesh has faults;
5 (check) something should be looked at; 6 (check) something must be mended.";

#[derive(Subcommand)]
enum Command {
    /// Start the application on this machine and keep the pieces in a folder.
    Serve(ServeArguments),
    /// Start the application with sample pieces in a fresh database.
    Demo(DemoArguments),
    /// Build a piece file into files for the printer or the engraver.
    Build(BuildArguments),
    /// Make a piece file of a mesh file, to put lettering and holes on one of its flat faces.
    Blank(BlankArguments),
    /// Look piece files through for what would go wrong on the printer.
    Check(CheckArguments),
    /// Print sizes, mass and findings of a piece file as JSON.
    Facts(FactsArguments),
    /// Print the joints of a piece file and their clearances.
    Fit(FitArguments),
    /// Write a gauge: a plate with openings from tight to loose and the part to try in them.
    Gauge(GaugeArguments),
    /// Say what is in a mesh file (STL, OBJ, 3MF), how large it is and what is wrong with it.
    Look(LookArguments),
    /// Make shapes of one's own of a drawing (SVG, DXF) or a picture (PNG, JPEG, WebP), to use as emblems and outlines.
    Shape(ShapeArguments),
    /// Print the changes of filament of a piece file for a printer with one nozzle.
    Swaps(SwapsArguments),
    /// Read the file at the standard input for a server, within limits.
    #[command(hide = true)]
    Read(ReadArguments),
}

#[derive(Args)]
struct Listening {
    /// Address to listen on. Anything but a loopback address can be reached from other machines; a
    /// pass-phrase is asked for there.
    #[arg(long, default_value = "127.0.0.1")]
    address: IpAddr,
    /// Port to listen on; 0 takes any free one.
    #[arg(long, default_value_t = 7230)]
    port: u16,
    /// A name other machines know this one by, as shop.local; may be given several times. Numbers
    /// always do.
    #[arg(long = "name", value_name = "HOST")]
    names: Vec<String>,
    /// The pass-phrase asked for in every browser. Without one, on an address others can reach, one
    /// is made up and printed.
    #[arg(long, value_name = "WORDS", env = "KALOTYPE_PASS_PHRASE", hide_env_values = true)]
    pass_phrase: Option<String>,
    /// Let everyone in who can reach this machine, without a pass-phrase.
    #[arg(long, conflicts_with = "pass_phrase")]
    open: bool,
}

#[derive(Args)]
struct ServeArguments {
    /// Folder that holds the database; made where there is none.
    #[arg(long, value_name = "FOLDER", default_value = "kalotype-data")]
    data: PathBuf,
    #[command(flatten)]
    listening: Listening,
}

#[derive(Args)]
struct DemoArguments {
    /// Folder for the demo's database, which is made afresh; without it a temporary one is used.
    #[arg(long, value_name = "FOLDER")]
    data: Option<PathBuf>,
    #[command(flatten)]
    listening: Listening,
}

#[derive(Args)]
struct BuildArguments {
    /// The piece file (.kalotype.json).
    piece: PathBuf,
    /// The file to write; where several are written a folder that exists, or a .zip. Existing files
    /// are replaced.
    #[arg(short, long, value_name = "FILE")]
    output: PathBuf,
    /// stl, stl-text, 3mf, obj, svg, dxf, plan-png, solid-png or piece; without it the ending of the
    /// output tells.
    #[arg(long)]
    format: Option<String>,
    /// How colours are told apart in mesh files.
    #[arg(long, value_enum, default_value_t = ColoursArgument::Together)]
    colours: ColoursArgument,
    /// Write so many copies, each with its own number, where a text of the piece counts.
    #[arg(long, default_value_t = 1, value_name = "NUMBER")]
    copies: u32,
    /// Write a file for each component; otherwise all lie side by side on the bed.
    #[arg(long)]
    each: bool,
    /// How closely curves are followed.
    #[arg(long, value_enum, default_value_t = ToleranceArgument::Normal)]
    tolerance: ToleranceArgument,
    /// Write an STL file in its ASCII form, which is about five times as large.
    #[arg(long)]
    ascii: bool,
    /// Print what was written, the facts and the findings as JSON.
    #[arg(long)]
    json: bool,
    #[command(flatten)]
    meshes: MeshArguments,
}

#[derive(Args)]
struct CheckArguments {
    /// The piece files (.kalotype.json).
    #[arg(required = true)]
    pieces: Vec<PathBuf>,
    /// A printer as JSON, as a piece file has it under `printer`; without it that of each piece.
    #[arg(long, value_name = "FILE")]
    profile: Option<PathBuf>,
    /// Write the piece with everything mended that can be; an existing file is replaced.
    #[arg(long, value_name = "FILE")]
    mend: Option<PathBuf>,
    /// Print the findings as JSON.
    #[arg(long)]
    json: bool,
    #[command(flatten)]
    meshes: MeshArguments,
}

/// Mesh files that pieces are made of.
#[derive(Args)]
struct MeshArguments {
    /// The mesh file the piece is made of, where it is made of one that does not lie beside it.
    #[arg(long = "mesh", value_name = "FILE")]
    meshes: Vec<PathBuf>,
}

#[derive(Args)]
struct BlankArguments {
    /// The mesh file: STL, OBJ or 3MF.
    mesh: PathBuf,
    /// The piece file to write; an existing one is replaced.
    #[arg(short, long, value_name = "FILE")]
    output: PathBuf,
    /// What the piece is called; without it after the mesh file.
    #[arg(long)]
    name: Option<String>,
    /// Which of its flat faces is worked on, as `look` counts them: those that look up first.
    #[arg(long, default_value_t = 1)]
    face: usize,
    /// How many millimetres one of its figures is, where the file does not say and the guess is wrong:
    /// 25.4 for inches.
    #[arg(long)]
    scale: Option<f64>,
}

#[derive(Args)]
struct LookArguments {
    /// The mesh file.
    file: PathBuf,
    /// Print the report as JSON.
    #[arg(long)]
    json: bool,
}

#[derive(Args)]
struct ShapeArguments {
    /// The drawing or picture.
    file: PathBuf,
    /// Folder the shapes are written into; without it they are only told.
    #[arg(long, value_name = "FOLDER")]
    out: Option<PathBuf>,
    /// What the shapes are called; without it after the drawing.
    #[arg(long)]
    name: Option<String>,
    /// How many millimetres one of its figures is, where the file does not say and the guess is wrong:
    /// 25.4 for inches.
    #[arg(long, conflicts_with = "width")]
    scale: Option<f64>,
    /// How wide it is to be, in millimetres.
    #[arg(long)]
    width: Option<f64>,
    /// The layers that are wanted, as they are told, counted from 1, with commas between.
    #[arg(long, value_delimiter = ',')]
    layers: Option<Vec<usize>>,
    /// What its lines are: as wide as drawn, or the outlines of areas.
    #[arg(long, value_enum)]
    lines: Option<LinesArgument>,
    /// How wide lines are that have no width, in millimetres.
    #[arg(long)]
    line_width: Option<f64>,
    /// How far apart ends of lines may be to be joined, in millimetres.
    #[arg(long)]
    join: Option<f64>,
    /// Trace a picture in so many colours, 2 to 6.
    #[arg(long)]
    colours: Option<usize>,
    /// Trace what is light in a picture, and not what is dark.
    #[arg(long, conflicts_with = "colours")]
    light: bool,
    /// Trace what stands out from the background of a picture.
    #[arg(long, conflicts_with_all = ["colours", "light"])]
    apart: bool,
    /// Trace an SVG as a picture, with its shades and masks; what is dark, unless said otherwise.
    #[arg(long)]
    traced: bool,
    /// What parts dark from light, as a share of white from 0 to 1; without it what parts them best.
    #[arg(long)]
    threshold: Option<f64>,
    /// How far curves may stray from the picture, in millimetres.
    #[arg(long)]
    smooth: Option<f64>,
    /// What turns by more than this, in degrees, stays a corner.
    #[arg(long)]
    corner: Option<f64>,
    /// What is smaller than a disc this wide, in millimetres, is left out.
    #[arg(long)]
    speck: Option<f64>,
    /// Make a shape of each layer.
    #[arg(long)]
    by_layer: bool,
    /// Print the report as JSON.
    #[arg(long)]
    json: bool,
}

#[derive(Clone, Copy, ValueEnum)]
enum LinesArgument {
    /// As wide as they were drawn.
    Lines,
    /// Where they close, the edge of an area.
    Outlines,
}

#[derive(Args)]
struct ReadArguments {
    /// What is to be read of it.
    #[arg(value_enum)]
    reading: Reading,
}

#[derive(Args)]
struct SwapsArguments {
    /// The piece file (.kalotype.json).
    piece: PathBuf,
    /// Also print lines of G-code that pause the printer.
    #[arg(long, value_enum)]
    pause: Option<PauseArgument>,
    #[command(flatten)]
    meshes: MeshArguments,
}

#[derive(Clone, Copy, ValueEnum)]
enum PauseArgument {
    /// M600, change the filament.
    M600,
    /// M0, stop and wait for the user.
    M0,
    /// M25, pause the print from the card.
    M25,
}

impl From<PauseArgument> for Pause {
    fn from(argument: PauseArgument) -> Self {
        match argument {
            PauseArgument::M600 => Pause::M600,
            PauseArgument::M0 => Pause::M0,
            PauseArgument::M25 => Pause::M25,
        }
    }
}

#[derive(Clone, Copy, ValueEnum)]
enum ColoursArgument {
    /// Not at all: one mesh.
    Together,
    /// A part for each colour: of one object in 3MF and OBJ, a file for each in STL.
    Split,
    /// Each colour an object of its own in 3MF, a file of its own in OBJ and STL.
    Apart,
}

impl From<ColoursArgument> for Division {
    fn from(argument: ColoursArgument) -> Self {
        match argument {
            ColoursArgument::Together => Division::Together,
            ColoursArgument::Split => Division::Split,
            ColoursArgument::Apart => Division::Apart,
        }
    }
}

#[derive(Args)]
struct FactsArguments {
    /// The piece file (.kalotype.json).
    piece: PathBuf,
    /// How closely curves are followed.
    #[arg(long, value_enum, default_value_t = ToleranceArgument::Normal)]
    tolerance: ToleranceArgument,
    #[command(flatten)]
    meshes: MeshArguments,
}

#[derive(Args)]
struct FitArguments {
    /// The piece file (.kalotype.json).
    piece: PathBuf,
    /// Print them as JSON.
    #[arg(long)]
    json: bool,
    #[command(flatten)]
    meshes: MeshArguments,
}

#[derive(Args)]
struct GaugeArguments {
    /// What is tried.
    #[arg(long, value_enum)]
    joint: JointArgument,
    /// The file to write, ending in .3mf, .stl, .obj or .json (a piece).
    #[arg(short, long, value_name = "FILE")]
    output: PathBuf,
}

#[derive(Clone, Copy, ValueEnum)]
enum JointArgument {
    /// A plate in slots.
    Slot,
    /// A peg in bores.
    Bore,
    /// A pipe's end in bores, for caps, plugs and rings.
    Cap,
}

impl From<JointArgument> for GaugeJoint {
    fn from(joint: JointArgument) -> Self {
        match joint {
            JointArgument::Slot => GaugeJoint::Slot,
            JointArgument::Bore => GaugeJoint::Bore,
            JointArgument::Cap => GaugeJoint::Cap,
        }
    }
}

#[derive(Clone, Copy, ValueEnum)]
enum ToleranceArgument {
    /// Within 0.05 mm.
    Draft,
    /// Within 0.02 mm.
    Normal,
    /// Within 0.005 mm.
    Fine,
}

impl From<ToleranceArgument> for Tolerance {
    fn from(argument: ToleranceArgument) -> Self {
        match argument {
            ToleranceArgument::Draft => Tolerance::Draft,
            ToleranceArgument::Normal => Tolerance::Normal,
            ToleranceArgument::Fine => Tolerance::Fine,
        }
    }
}

/// What ends a look into a mesh that is not sound.
const UNSOUND: u8 = 4;

/// What ends a command whose piece cannot be built.
const NOT_BUILDABLE: u8 = 3;

/// Runs the command that was asked for.
pub fn run(arguments: Arguments) -> anyhow::Result<ExitCode> {
    match arguments.command {
        Command::Serve(arguments) => serve::serve(&arguments),
        Command::Demo(arguments) => serve::demo(&arguments),
        Command::Blank(arguments) => blank::run(&arguments),
        Command::Build(arguments) => build::run(&arguments),
        Command::Check(arguments) => check::run(&arguments),
        Command::Facts(arguments) => facts::run(&arguments),
        Command::Fit(arguments) => fit::run(&arguments),
        Command::Gauge(arguments) => gauge::run(&arguments),
        Command::Look(arguments) => look::run(&arguments),
        Command::Shape(arguments) => shape::run(&arguments),
        Command::Swaps(arguments) => swaps::run(&arguments),
        Command::Read(arguments) => read_here(arguments.reading).map(|()| ExitCode::SUCCESS),
    }
}

/// Prints text. A reader that has seen enough and closed the pipe is no fault.
fn print(text: &str) -> anyhow::Result<()> {
    match std::io::stdout().write_all(text.as_bytes()) {
        Err(error) if error.kind() != ErrorKind::BrokenPipe => Err(error.into()),
        _ => Ok(()),
    }
}

fn print_json(value: &serde_json::Value) -> anyhow::Result<()> {
    print(&format!("{}\n", serde_json::to_string_pretty(value)?))
}

/// Reads a file, and no more of it than just beyond the most it may have.
fn read_file(path: &Path, most: usize) -> anyhow::Result<Vec<u8>> {
    let mut bytes = Vec::new();
    std::fs::File::open(path)
        .and_then(|file| file.take(most as u64 + 1).read_to_end(&mut bytes))
        .with_context(|| format!("cannot read {}", path.display()))?;
    Ok(bytes)
}

/// A piece file worked out, and what preflight says of it.
struct Checked {
    piece: Piece,
    worked: Worked,
    findings: Vec<Finding>,
}

/// A piece file with all it is made of at hand.
struct AtHand {
    piece: Piece,
    bench: Bench,
}

impl AtHand {
    /// Reads a piece file, and the meshes and shapes it names from beside it.
    fn read(path: &Path, meshes: &MeshArguments) -> anyhow::Result<Self> {
        let mut bench = Bench::new();
        for mesh in &meshes.meshes {
            bench.shelf.put_mesh(read_stock(mesh)?);
        }
        let bytes = read_file(path, piece::MAX_FILE_BYTES)?;
        let piece =
            piece::read(&bytes).with_context(|| format!("{} cannot be used", path.display()))?;
        take_from_beside(path, &piece, &mut bench);
        take_shapes_from_beside(path, &piece, &mut bench);
        Ok(AtHand { piece, bench })
    }

    fn work_out(&self, tolerance: Tolerance) -> anyhow::Result<Worked> {
        let workshop = self.bench.workshop(tolerance);
        let evaluation = evaluate(&self.piece, &workshop)?;
        let objections = preflight::objections(&self.piece, &evaluation, &workshop)?;
        Ok(Worked { evaluation, objections })
    }
}

/// Reads a piece file and works it out.
fn work_out(
    path: &Path,
    meshes: &MeshArguments,
    tolerance: Tolerance,
) -> anyhow::Result<(Piece, Worked)> {
    work_out_copy(path, meshes, tolerance, 0)
}

/// The same of a copy of it, 0 being the first: where its texts count, they are so much further.
fn work_out_copy(
    path: &Path,
    meshes: &MeshArguments,
    tolerance: Tolerance,
    number: u32,
) -> anyhow::Result<(Piece, Worked)> {
    let mut at_hand = AtHand::read(path, meshes)?;
    at_hand.piece = at_hand.piece.copy_number(number);
    let worked = at_hand.work_out(tolerance)?;
    Ok((at_hand.piece, worked))
}

/// Reads a piece file, works it out and looks it through.
fn look_through(
    path: &Path,
    meshes: &MeshArguments,
    tolerance: Tolerance,
) -> anyhow::Result<Checked> {
    let at_hand = AtHand::read(path, meshes)?;
    let worked = at_hand.work_out(tolerance)?;
    let workshop = at_hand.bench.workshop(tolerance);
    let findings = preflight::run(&at_hand.piece, &worked.evaluation, &workshop)?;
    Ok(Checked { piece: at_hand.piece, worked, findings })
}

/// Takes the meshes a piece is made of from where its file lies, under the names they had or the ones an
/// export gives them.
fn take_from_beside(path: &Path, piece: &Piece, bench: &mut Bench) {
    for blank in piece.components.iter().filter_map(|component| component.mesh()) {
        if bench.workshop(Tolerance::Draft).mesh(&blank.mesh).is_some() {
            continue;
        }
        let own = Path::new(&blank.file).file_name().map(PathBuf::from);
        let names = own.into_iter().chain([PathBuf::from(mesh_file_name(&blank.file))]);
        for mesh in names.map(|name| path.with_file_name(name)).filter(|mesh| mesh.is_file()) {
            match read_stock(&mesh) {
                Ok(found) if found.id == blank.mesh => bench.shelf.put_mesh(found),
                Ok(_) => {
                    tracing::warn!("{} is another mesh than the piece is made of", mesh.display());
                }
                Err(error) => tracing::warn!("{error:#}"),
            }
        }
    }
}

/// Takes the shapes a piece names from where its file lies: from the files there that end as shapes do.
fn take_shapes_from_beside(path: &Path, piece: &Piece, bench: &mut Bench) {
    const MOST_FILES: usize = 500;
    let named: Vec<&str> =
        piece.components.iter().flat_map(|component| component.own_shapes()).collect();
    let folder = path.parent().filter(|parent| !parent.as_os_str().is_empty());
    let Ok(entries) = std::fs::read_dir(folder.unwrap_or(Path::new("."))) else { return };
    if named.is_empty() {
        return;
    }
    let files = entries.flatten().map(|entry| entry.path());
    let is_shape = |file: &PathBuf| file.to_string_lossy().ends_with(SHAPE_ENDING);
    for file in files.filter(is_shape).take(MOST_FILES) {
        let name = file.file_name().map(|name| name.to_string_lossy().into_owned());
        let name = name.unwrap_or_default();
        let shape = read_file(&file, MAX_SHAPE_BYTES).map_err(|error| error.to_string());
        let opened = shape.and_then(|bytes| {
            let name = name.trim_end_matches(SHAPE_ENDING);
            Shape::open(&bytes, name).map_err(|error| error.to_string())
        });
        match opened {
            Ok(shape) if named.contains(&shape.id.as_str()) => bench.shelf.put_shape(shape),
            Ok(_) => {}
            Err(error) => tracing::warn!("{}: {error}", file.display()),
        }
    }
}

/// Reads a mesh file as stock.
fn read_stock(path: &Path) -> anyhow::Result<Stock> {
    let bytes = read_file(path, MAX_MESH_BYTES)?;
    let name = path.file_name().map(|name| name.to_string_lossy().into_owned());
    stock_of(name.unwrap_or_default(), &bytes)
        .map_err(|error| anyhow::anyhow!("{} cannot be used: {error}", path.display()))
}
