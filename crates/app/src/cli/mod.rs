//! The command line.

mod build;
mod facts;
mod serve;

use clap::{Args, Parser, Subcommand, ValueEnum};
use kalotype_core::piece::{self, Piece};
use kalotype_core::plane::Tolerance;
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
  kalotype build fob.json -o fob.3mf --tolerance fine
  kalotype facts fob.json | jq .volume_mm3      sizes, mass and what preflight says, as JSON

Exit codes: 0 done; 1 not done, with the reason on standard error; 2 wrong arguments;
3 (build, facts) the piece cannot be built, and preflight says why.";

#[derive(Subcommand)]
enum Command {
    /// Start the application on this machine and keep the pieces in a folder.
    Serve(ServeArguments),
    /// Start the application with sample pieces in a fresh database.
    Demo(DemoArguments),
    /// Build a piece file into a mesh file.
    Build(BuildArguments),
    /// Print sizes, mass and findings of a piece file as JSON.
    Facts(FactsArguments),
}

#[derive(Args)]
struct Listening {
    /// Address to listen on. Anything but a loopback address opens the application, which has no
    /// passwords, to everyone who can reach this machine.
    #[arg(long, default_value = "127.0.0.1")]
    address: IpAddr,
    /// Port to listen on; 0 takes any free one.
    #[arg(long, default_value_t = 7230)]
    port: u16,
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
    /// The file to write, .stl, .3mf or .obj; an existing one is replaced.
    #[arg(short, long, value_name = "FILE")]
    output: PathBuf,
    /// How closely curves are followed.
    #[arg(long, value_enum, default_value_t = ToleranceArgument::Normal)]
    tolerance: ToleranceArgument,
    /// Write an STL file in its ASCII form, which is about five times as large.
    #[arg(long)]
    ascii: bool,
}

#[derive(Args)]
struct FactsArguments {
    /// The piece file (.kalotype.json).
    piece: PathBuf,
    /// How closely curves are followed.
    #[arg(long, value_enum, default_value_t = ToleranceArgument::Normal)]
    tolerance: ToleranceArgument,
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

/// What ends a command whose piece cannot be built.
const NOT_BUILDABLE: u8 = 3;

/// Runs the command that was asked for.
pub fn run(arguments: Arguments) -> anyhow::Result<ExitCode> {
    match arguments.command {
        Command::Serve(arguments) => serve::serve(&arguments),
        Command::Demo(arguments) => serve::demo(&arguments),
        Command::Build(arguments) => build::run(&arguments),
        Command::Facts(arguments) => facts::run(&arguments),
    }
}

fn read_piece(path: &Path) -> anyhow::Result<Piece> {
    use anyhow::Context;
    use std::io::Read;
    let shown = path.display();
    let mut bytes = Vec::new();
    std::fs::File::open(path)
        .and_then(|file| file.take(piece::MAX_FILE_BYTES as u64 + 1).read_to_end(&mut bytes))
        .with_context(|| format!("cannot read {shown}"))?;
    piece::read(&bytes).with_context(|| format!("{shown} cannot be used"))
}
