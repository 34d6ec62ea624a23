use super::{DemoArguments, Listening, ServeArguments};
use crate::{demo, web};
use anyhow::Context;
use kalotype_store::Store;
use std::path::Path;
use std::process::ExitCode;

const DATABASE: &str = "kalotype.db";

/// Serves the pieces kept in a folder.
pub(super) fn serve(arguments: &ServeArguments) -> anyhow::Result<ExitCode> {
    run(&open(&arguments.data)?, &arguments.listening)
}

/// Serves the demo's pieces from a fresh database.
pub(super) fn demo(arguments: &DemoArguments) -> anyhow::Result<ExitCode> {
    let temporary;
    let folder = match &arguments.data {
        Some(folder) => {
            for ending in ["", "-wal", "-shm"] {
                let file = folder.join(format!("{DATABASE}{ending}"));
                if file.exists() {
                    std::fs::remove_file(&file)
                        .with_context(|| format!("cannot remove the old {}", file.display()))?;
                }
            }
            folder.as_path()
        }
        None => {
            temporary = tempfile::Builder::new().prefix("kalotype-demo-").tempdir()?;
            temporary.path()
        }
    };
    let store = open(folder)?;
    demo::fill(&store)?;
    run(&store, &arguments.listening)
}

fn open(folder: &Path) -> anyhow::Result<Store> {
    std::fs::create_dir_all(folder)
        .with_context(|| format!("cannot make the folder {}", folder.display()))?;
    let file = folder.join(DATABASE);
    Store::open(&file).with_context(|| format!("cannot open {}", file.display()))
}

fn run(store: &Store, listening: &Listening) -> anyhow::Result<ExitCode> {
    web::serve(store.clone(), listening.address, listening.port)?;
    Ok(ExitCode::SUCCESS)
}
