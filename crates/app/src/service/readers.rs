//! Files of others read in a process of their own.
//!
//! The libraries that read drawings and put meshes together cannot be told to stop, and a file of a kilobyte may keep
//! them busy for ever or ask for all memory there is. So the server has them do their work in another process of the
//! same program (`kalotype read`, which is not for people): the file goes in at its standard input, what was read
//! comes out at its standard output. That process has limits of memory and of time, and it is ended when
//! nobody waits for it any more. On the command line, where a person waits and can stop it, files are read on the
//! spot.

use super::Trouble;
use super::error::sentence;
use kalotype_core::formats::{
    FoundDrawing, FoundMesh, Picture, read_drawing, read_mesh, render_svg,
};
use kalotype_core::halt::{Halt, Halted};
use kalotype_core::solid::Faults;
use kalotype_core::stock::{Stock, stock_id};
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use std::io::{Read, Write};
use std::path::{Path, PathBuf};
use std::process::{Child, Command, ExitStatus, Stdio};
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::thread;
use std::time::{Duration, Instant};

/// How long one waits until others are read.
const LONGEST_WAIT: Duration = Duration::from_secs(30);

/// The most memory reading a file may take, the program itself with it: the largest mesh file takes half of it.
const MOST_BYTES: u64 = 768 << 20;

/// How many files are read at once.
const MOST_AT_ONCE: usize = 2;

/// How often is looked whether anybody still waits.
const PAUSE: Duration = Duration::from_millis(5);

/// How files of others are read.
#[derive(Debug, Clone, Default)]
pub enum Readers {
    /// On the spot.
    #[default]
    Here,
    /// In processes of a program, of which so many are at work.
    Apart(PathBuf, Arc<AtomicUsize>),
}

/// What is to be read of a file.
#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
pub enum Reading {
    /// A drawing: areas and lines.
    Drawing,
    /// An SVG as a picture.
    Picture,
    /// A mesh, and what it is as stock.
    Mesh,
    /// Stock that was kept, which may have to be mended.
    Stock,
    /// Stock that was kept and found to need no mending.
    SoundStock,
}

impl Reading {
    /// How many seconds of a processor it may take. An SVG drawn as a picture took under one, ten thousand bodies nine
    /// (unoptimized).
    fn longest(self) -> u64 {
        match self {
            Reading::Drawing | Reading::Picture => 8,
            Reading::Mesh | Reading::Stock | Reading::SoundStock => 20,
        }
    }

    /// What the file is, in the words of somebody who has it.
    fn noun(self) -> &'static str {
        match self {
            Reading::Drawing | Reading::Picture => "drawing",
            Reading::Mesh | Reading::Stock | Reading::SoundStock => "mesh",
        }
    }
}

/// A mesh file as it was read, and the stock it makes or why it makes none.
#[derive(Debug, Serialize, Deserialize)]
pub struct ReadMesh {
    /// What is in it.
    pub found: FoundMesh,
    /// What is wrong with its bodies, together.
    pub faults: Faults,
    /// What it is as stock.
    pub stock: Result<Stock, String>,
}

fn mesh_of(file: &[u8]) -> Result<ReadMesh, String> {
    let found = read_mesh(file).map_err(sentence)?;
    let stock = Stock::of(stock_id(file), String::new(), &found).map_err(|error| error.to_string());
    Ok(ReadMesh { faults: found.faults(), found, stock })
}

fn stock_of(file: &[u8], is_sound: bool) -> Result<Stock, String> {
    let found = read_mesh(file).map_err(sentence)?;
    let make = if is_sound { Stock::of_sound } else { Stock::of };
    let refuse = |error| format!("No piece can be made of this mesh: {error}.");
    make(stock_id(file), String::new(), &found).map_err(refuse)
}

impl Readers {
    /// Processes of the program that is running.
    ///
    /// # Errors
    /// Where it cannot be told which program that is.
    pub fn of_this_program() -> std::io::Result<Self> {
        // Stays the one that is running when another is put in its place.
        let running = PathBuf::from("/proc/self/exe");
        let program = if running.exists() { running } else { std::env::current_exe()? };
        Ok(Readers::Apart(program, Arc::default()))
    }

    /// Reads a drawing.
    ///
    /// # Errors
    /// [`Trouble`] with what is wrong with it, or where the work was stopped.
    pub fn drawing(&self, file: &[u8], halt: &Halt) -> Result<FoundDrawing, Trouble> {
        self.read(Reading::Drawing, file, halt, |file| read_drawing(file).map_err(sentence))
    }

    /// Draws an SVG as a picture.
    ///
    /// # Errors
    /// [`Trouble`], as [`Readers::drawing`].
    pub fn picture(&self, file: &[u8], halt: &Halt) -> Result<Picture, Trouble> {
        self.read(Reading::Picture, file, halt, |file| render_svg(file).map_err(sentence))
    }

    /// Reads a mesh file, and makes stock of it.
    ///
    /// # Errors
    /// [`Trouble`], as [`Readers::drawing`].
    pub fn mesh(&self, file: &[u8], halt: &Halt) -> Result<ReadMesh, Trouble> {
        self.read(Reading::Mesh, file, halt, mesh_of)
    }

    /// Makes stock of a mesh file that was kept.
    ///
    /// # Errors
    /// [`Trouble`], as [`Readers::drawing`].
    pub fn stock(&self, file: &[u8], is_sound: bool, halt: &Halt) -> Result<Stock, Trouble> {
        let reading = if is_sound { Reading::SoundStock } else { Reading::Stock };
        self.read(reading, file, halt, |file| stock_of(file, is_sound))
    }

    fn read<T: DeserializeOwned>(
        &self,
        reading: Reading,
        file: &[u8],
        halt: &Halt,
        here: impl FnOnce(&[u8]) -> Result<T, String>,
    ) -> Result<T, Trouble> {
        halt.go_on()?;
        match self {
            Readers::Here => halt.over(|| here(file))?.map_err(Trouble::Bad),
            Readers::Apart(program, at_work) => {
                let _place = Place::wait(at_work, halt)?;
                read_apart(program, reading, file, halt)
            }
        }
    }
}

/// A place among those that are read.
struct Place<'a>(&'a AtomicUsize);

impl<'a> Place<'a> {
    fn wait(at_work: &'a AtomicUsize, halt: &Halt) -> Result<Self, Trouble> {
        let since = Instant::now();
        loop {
            halt.go_on()?;
            let taken = at_work.fetch_update(Ordering::AcqRel, Ordering::Acquire, |taken| {
                (taken < MOST_AT_ONCE).then_some(taken + 1)
            });
            if taken.is_ok() {
                return Ok(Place(at_work));
            }
            if since.elapsed() > LONGEST_WAIT {
                let busy = "Other files are being read. Try again in a minute.";
                return Err(Trouble::Bad(busy.to_owned()));
            }
            thread::sleep(PAUSE);
        }
    }
}

impl Drop for Place<'_> {
    fn drop(&mut self) {
        self.0.fetch_sub(1, Ordering::AcqRel);
    }
}

/// A process that is ended when nobody looks after it any more.
struct Apart(Child);

impl Drop for Apart {
    fn drop(&mut self) {
        // It may have ended by itself.
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

fn read_apart<T: DeserializeOwned>(
    program: &Path,
    reading: Reading,
    file: &[u8],
    halt: &Halt,
) -> Result<T, Trouble> {
    let failed = |error: std::io::Error| {
        tracing::error!("a file could not be read apart: {error}");
        Trouble::Bad("The file could not be read: there is no room for it just now.".to_owned())
    };
    let name = clap::ValueEnum::to_possible_value(&reading).expect("every reading has a name");
    let mut command = Command::new(program);
    command.args(["read", name.get_name()]);
    command.stdin(Stdio::piped()).stdout(Stdio::piped()).stderr(Stdio::null());
    let mut apart = Apart(command.spawn().map_err(failed)?);
    let (input, output) = (apart.0.stdin.take(), apart.0.stdout.take());
    let (answer, status) = thread::scope(|scope| {
        // It may end before it has taken everything in.
        scope.spawn(move || input.map(|mut input| input.write_all(file)));
        let answer = scope.spawn(move || {
            let mut bytes = Vec::new();
            let most = MOST_BYTES;
            output
                .map(|output| output.take(most).read_to_end(&mut bytes))
                .transpose()
                .map(|_| bytes)
        });
        let status = ended(&mut apart.0, &answer, reading, halt);
        if status.is_err() {
            // What was asked for is not read; with the process the pipes close.
            let _ = apart.0.kill();
        }
        (answer.join(), status)
    });
    let status = status?.map_err(failed)?;
    let answer = answer.map_err(|_| Halted)?.map_err(failed)?;
    if !status.success() {
        return Err(Trouble::Bad(format!(
            "Reading this {} takes more memory or time than there is for it. Simplify it in the program it comes from.",
            reading.noun()
        )));
    }
    let read: Result<T, String> = postcard::from_bytes(&answer).map_err(|error| {
        tracing::error!("what was read apart could not be understood: {error}");
        Trouble::Bad("The file could not be read.".to_owned())
    })?;
    read.map_err(Trouble::Bad)
}

/// How a process ended whose answer is being read.
fn ended<T>(
    child: &mut Child,
    answer: &thread::ScopedJoinHandle<'_, T>,
    reading: Reading,
    halt: &Halt,
) -> Result<std::io::Result<ExitStatus>, Halted> {
    let since = Instant::now();
    loop {
        // What it says is read to its end before it is looked how it ended.
        if answer.is_finished() {
            return Ok(child.wait());
        }
        halt.go_on()?;
        if since.elapsed() > Duration::from_secs(reading.longest() + 2) {
            // Killed, it did not end well.
            let _ = child.kill();
        }
        thread::sleep(PAUSE);
    }
}

/// Reads the file at the standard input and writes what was read to the standard output: what a process of its own
/// does.
///
/// # Errors
/// Where its limits cannot be set, or what was read cannot be written.
pub fn read_here(reading: Reading) -> anyhow::Result<()> {
    let limits = [
        (rlimit::Resource::AS, MOST_BYTES),
        (rlimit::Resource::CPU, reading.longest()),
        (rlimit::Resource::CORE, 0),
    ];
    for (resource, most) in limits {
        rlimit::setrlimit(resource, most, most)?;
    }
    let mut file = Vec::new();
    std::io::stdin().lock().read_to_end(&mut file)?;
    let answer = match reading {
        Reading::Drawing => written(read_drawing(&file).map_err(sentence)),
        Reading::Picture => written(render_svg(&file).map_err(sentence)),
        Reading::Mesh => written(mesh_of(&file)),
        Reading::Stock => written(stock_of(&file, false)),
        Reading::SoundStock => written(stock_of(&file, true)),
    }?;
    drop(file);
    std::io::stdout().lock().write_all(&answer)?;
    Ok(())
}

fn written<T: Serialize>(read: Result<T, String>) -> Result<Vec<u8>, postcard::Error> {
    postcard::to_stdvec(&read)
}
