//! Printers: kept, measured on a gauge, and the pieces that follow them.

use super::pieces::Viewer;
use super::{Service, Trouble};
use kalotype_core::edit::checked;
use kalotype_core::gauge::{GaugeJoint, Went, gauge, read_off};
use kalotype_core::piece::{FitSource, Piece, Printer};
use kalotype_store::{Change, StoreError};
use serde::Serialize;

/// What became of the pieces that are made on a printer.
#[derive(Debug, Serialize)]
pub struct BroughtUp {
    /// The printer as it is kept.
    pub printer: Printer,
    /// How many pieces follow it.
    pub pieces: usize,
    /// The pieces that cannot be with its figures, and keep those they had, with the reasons.
    pub left: Vec<String>,
}

impl Service {
    /// The printer that comes with this program, and those at hand.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn printers(&self) -> Result<Vec<Printer>, Trouble> {
        Ok(std::iter::once(Printer::default()).chain(self.store.printers()?).collect())
    }

    /// Keeps a printer, and gives its figures to the pieces that are made on it. Fits that somebody
    /// changed are theirs from then on.
    ///
    /// # Errors
    /// What it cannot be, or what the store says.
    pub fn keep_printer(&self, printer: Printer, viewer: &Viewer) -> Result<BroughtUp, Trouble> {
        let before = self.store.printers()?.into_iter().find(|one| one.id == printer.id);
        let fits = before.as_ref().map_or(Printer::default().fits, |one| one.fits);
        let source = match before {
            Some(before) if printer.fits == fits => before.source,
            None if printer.fits == fits => FitSource::Shipped,
            _ => FitSource::Typed,
        };
        self.bring_up(Printer { source, ..printer }, viewer)
    }

    /// Replaces the fits of a printer by what was read off a gauge today.
    ///
    /// # Errors
    /// A reading that cannot be, a printer that is gone, or what the store says.
    pub fn measured(&self, id: &str, went: &[Went], viewer: &Viewer) -> Result<BroughtUp, Trouble> {
        let fits = read_off(went).map_err(Trouble::Bad)?;
        let printer = self.printer(id)?;
        let today = chrono::Local::now().date_naive().to_string();
        self.bring_up(Printer { fits, source: FitSource::Measured(today), ..printer }, viewer)
    }

    /// A gauge for a printer, not kept yet.
    ///
    /// # Errors
    /// Where the printer is gone.
    pub fn gauge_for(&self, id: &str, joint: GaugeJoint) -> Result<Piece, Trouble> {
        let found = self.printers()?.into_iter().find(|one| one.id == id);
        Ok(gauge(joint, &found.ok_or(StoreError::NotOnShelf)?))
    }

    fn printer(&self, id: &str) -> Result<Printer, Trouble> {
        let found = self.store.printers()?.into_iter().find(|one| one.id == id);
        Ok(found.ok_or(StoreError::NotOnShelf)?)
    }

    fn bring_up(&self, printer: Printer, viewer: &Viewer) -> Result<BroughtUp, Trouble> {
        if printer.id == Printer::SHIPPED_ID {
            let message = "This one stays as it came. Add a printer of your own and change that.";
            return Err(Trouble::Bad(message.to_owned()));
        }
        if let Some(message) = printer.trouble() {
            return Err(Trouble::Bad(message));
        }
        self.store.keep_printer(&printer)?;
        let mut brought = BroughtUp { printer: printer.clone(), pieces: 0, left: Vec::new() };
        for id in self.store.made_on(&printer.id)? {
            let by = Change { author: &viewer.person, ..Change::default() };
            let mut name = String::new();
            let changed = self.store.change::<Trouble>(&id, &by, |piece| {
                name.clone_from(&piece.name);
                let piece = Piece { printer: printer.clone(), ..piece.clone() };
                checked(&piece)?;
                Ok(piece)
            });
            match changed {
                Ok(_) => brought.pieces += 1,
                // Deleted meanwhile.
                Err(Trouble::Store(StoreError::NoSuchPiece)) => {}
                Err(Trouble::Edit(error)) => {
                    brought.left.push(format!("{name}: {}", error.message))
                }
                Err(other) => return Err(other),
            }
        }
        Ok(brought)
    }
}
