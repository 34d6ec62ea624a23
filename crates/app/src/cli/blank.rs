//! `blank`: makes a piece file of a mesh file.

use super::build::write_whole;
use super::{BlankArguments, read_stock};
use crate::service::piece_of;
use anyhow::bail;
use kalotype_core::edit::checked;
use kalotype_core::piece::{self, Piece};
use std::process::ExitCode;

/// Makes a piece file of a mesh file.
pub(super) fn run(arguments: &BlankArguments) -> anyhow::Result<ExitCode> {
    let stock = read_stock(&arguments.mesh)?;
    let Some(face) = arguments.face.checked_sub(1) else {
        bail!("faces are counted from 1, the first that `look` lists");
    };
    let (file, scale) = (stock.name.clone(), arguments.scale.unwrap_or(stock.scale));
    let stem = file.rsplit_once('.').map_or(file.as_str(), |(stem, _)| stem);
    let name = arguments.name.clone().unwrap_or_else(|| stem.to_owned());
    let piece = Piece { name, ..piece_of(&stock, &file, face, scale)? };
    checked(&piece)?;
    write_whole(&arguments.output, piece::write(&piece).as_bytes())?;
    Ok(ExitCode::SUCCESS)
}
