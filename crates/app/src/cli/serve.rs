//! `kalotype serve` and `kalotype demo`: the application in the browser, over a folder or over sample pieces.

use super::{DemoArguments, Listening, ServeArguments};
use crate::service::{Readers, Service};
use crate::web::Access;
use crate::{demo, web};
use anyhow::{Context, bail};
use kalotype_store::Store;
use std::fs::{File, TryLockError};
use std::io::{ErrorKind, IsTerminal, Write};
use std::os::unix::fs::OpenOptionsExt;
use std::path::Path;
use std::process::ExitCode;

/// The database of somebody's own pieces.
const DATABASE: &str = "kalotype.db";

/// The database of the demo, which is made afresh; never that of somebody's own pieces.
const DEMO_DATABASE: &str = "kalotype-demo.db";

/// Serves the pieces kept in a folder.
pub(super) fn serve(arguments: &ServeArguments) -> anyhow::Result<ExitCode> {
    let _alone = alone_in(&arguments.data, DATABASE)?;
    run(open(&arguments.data, DATABASE)?, &arguments.listening, &arguments.data)
}

/// Serves the demo's pieces from a fresh database.
pub(super) fn demo(arguments: &DemoArguments) -> anyhow::Result<ExitCode> {
    let (temporary, _alone);
    let folder = match &arguments.data {
        Some(folder) => {
            // A file that is held is emptied and not taken away: another server would take hold of another one. What
            // SQLite keeps beside it goes first: left beside an empty file, it would be read as part of it.
            let alone = alone_in(folder, DEMO_DATABASE)?;
            for ending in ["-wal", "-shm"] {
                let file = folder.join(format!("{DEMO_DATABASE}{ending}"));
                if file.exists() {
                    std::fs::remove_file(&file)
                        .with_context(|| format!("cannot remove the old {}", file.display()))?;
                }
            }
            alone.set_len(0).with_context(|| {
                format!("cannot empty the old {}", folder.join(DEMO_DATABASE).display())
            })?;
            _alone = alone;
            folder.as_path()
        }
        None => {
            temporary = tempfile::Builder::new().prefix("kalotype-demo-").tempdir()?;
            temporary.path()
        }
    };
    let service = open(folder, DEMO_DATABASE)?;
    demo::fill(&service)?;
    run(service, &arguments.listening, folder)
}

/// Makes a folder where there is none and takes a database in it for this process alone: two servers on
/// one would not know what the other has running. It is the database itself that is held, not a file beside it that somebody
/// may clear away. The hold ends with the process, however it ends.
fn alone_in(folder: &Path, database: &str) -> anyhow::Result<File> {
    use std::os::unix::fs::OpenOptionsExt;
    std::fs::create_dir_all(folder)
        .with_context(|| format!("cannot make the folder {}", folder.display()))?;
    let path = folder.join(database);
    // Never closed before the process ends: that would let go of what SQLite itself holds of the file.
    let file = File::options()
        .read(true)
        .write(true)
        .create(true)
        .truncate(false)
        .mode(0o600)
        .open(&path)
        .with_context(|| format!("cannot open {}", path.display()))?;
    match file.try_lock() {
        Ok(()) => Ok(file),
        Err(TryLockError::WouldBlock) => bail!(
            "another Kalotype is at work on {}; use that one, or name another folder with --data",
            path.display()
        ),
        // A file system that knows no locks is no reason to keep somebody from their pieces.
        Err(TryLockError::Error(_)) => Ok(file),
    }
}

fn open(folder: &Path, database: &str) -> anyhow::Result<Service> {
    std::fs::create_dir_all(folder)
        .with_context(|| format!("cannot make the folder {}", folder.display()))?;
    let file = folder.join(database);
    let store = Store::open(&file).with_context(|| format!("cannot open {}", file.display()))?;
    let service = Service::new(store, Readers::of_this_program()?)?;
    service.finish_following()?;
    Ok(service)
}

fn run(service: Service, listening: &Listening, folder: &Path) -> anyhow::Result<ExitCode> {
    let access = access(listening, folder)?;
    web::serve(service, listening.address, listening.port, access)?;
    Ok(ExitCode::SUCCESS)
}

/// Who may ask. Where others can reach this machine, that is said.
fn access(listening: &Listening, folder: &Path) -> anyhow::Result<Access> {
    let mut phrase = listening.pass_phrase.clone();
    if !listening.address.is_loopback() {
        println!("Other machines can reach this address.");
        if listening.open {
            println!("Everyone who does can see and change all pieces.");
        } else if phrase.is_none() {
            let made = made_up();
            tell(&made, folder)?;
            phrase = Some(made);
        }
    }
    Ok(Access::new(&listening.names, phrase)?)
}

/// Tells whoever started this the pass-phrase that was made up. Where nobody looks on and what is printed would be
/// kept in a journal, it is put into a file that only they can read.
fn tell(phrase: &str, folder: &Path) -> anyhow::Result<()> {
    if std::io::stdout().is_terminal() {
        println!("The pass-phrase is {phrase}");
        return Ok(());
    }
    let file = folder.join("pass-phrase");
    let written =
        own_file(&file).and_then(|mut own| own.write_all(format!("{phrase}\n").as_bytes()));
    written.with_context(|| format!("cannot write {}", file.display()))?;
    println!("The pass-phrase is in {}", file.display());
    Ok(())
}

/// A new file, or an empty one in the place of an old one, that only its owner can read and write.
fn own_file(path: &Path) -> std::io::Result<File> {
    match std::fs::remove_file(path) {
        Err(error) if error.kind() != ErrorKind::NotFound => return Err(error),
        _ => {}
    }
    File::options().write(true).create_new(true).mode(0o600).open(path)
}

/// A pass-phrase nobody guesses and anybody can type: four groups of five letters and digits.
fn made_up() -> String {
    let digits = uuid::Uuid::new_v4().simple().to_string();
    let groups: Vec<&str> = (0..4).map(|i| &digits[5 * i..5 * i + 5]).collect();
    groups.join("-")
}
