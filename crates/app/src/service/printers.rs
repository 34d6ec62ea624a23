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
        let before = before.unwrap_or_default();
        if printer.fits != before.fits {
            return self.bring_up(Printer { source: FitSource::Typed, ..printer }, viewer);
        }
        // Another growth alone changes nothing of what was measured.
        let Printer { fits, source, .. } = before.with_growth(printer.growth);
        self.bring_up(Printer { fits, source, ..printer }, viewer)
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
        self.store.keep_printer(&printer, &viewer.person)?;
        self.followed(printer, &viewer.person)
    }

    /// Goes on where giving the figures of printers to pieces was broken off. Pieces that have them already
    /// are left alone.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn finish_following(&self) -> Result<(), Trouble> {
        for (printer, author) in self.store.followed()? {
            self.followed(printer, &author)?;
        }
        Ok(())
    }

    /// Gives the figures of a printer to the pieces that are made on it.
    fn followed(&self, printer: Printer, author: &str) -> Result<BroughtUp, Trouble> {
        let mut brought = BroughtUp { printer: printer.clone(), pieces: 0, left: Vec::new() };
        for id in self.store.made_on(&printer.id)? {
            let by = Change { author, ..Change::default() };
            let mut name = String::new();
            let changed = self.store.change::<Trouble>(&id, &by, |piece| {
                name.clone_from(&piece.name);
                let mut piece = piece.clone();
                piece.give_printer(printer.clone());
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
        self.store.all_followed(&printer)?;
        Ok(brought)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::service::Readers;
    use kalotype_core::units::Unit;
    use kalotype_store::Store;

    /// The process was killed after the printer got new figures and before any piece did: the next one
    /// gives them to the pieces, once, as a step of who changed the printer.
    #[test]
    fn pieces_get_the_figures_a_killed_process_left_behind() {
        let folder = tempfile::tempdir().unwrap();
        let file = folder.path().join("test.db");
        let astrid = Viewer { person: "Åstrid".to_owned(), ..Viewer::default() };
        let printer = Printer { id: "printer-7".to_owned(), ..Printer::default() };
        let snug = kalotype_core::units::Length::mm(0.18);
        let finer = Printer {
            fits: kalotype_core::piece::Fits { snug, ..printer.fits },
            ..printer.clone()
        };
        let id = {
            let service = Service::new(Store::open(&file).unwrap(), Readers::Here).unwrap();
            service.keep_printer(printer.clone(), &astrid).unwrap();
            let piece = Piece::new("Gauge shelf", Unit::Millimetre);
            let id = service.create(&Piece { printer, ..piece }, &astrid).unwrap();
            service.store.keep_printer(&finer, "Åstrid").unwrap();
            id
        };
        let service = Service::new(Store::open(&file).unwrap(), Readers::Here).unwrap();
        service.finish_following().unwrap();
        let head = service.head(&id, &astrid).unwrap();
        assert_eq!(head.piece.printer.fits.snug, snug);
        assert!(head.can_undo, "it is her step");
        assert!(service.store.followed().unwrap().is_empty());
        service.finish_following().unwrap();
        assert_eq!(service.head(&id, &astrid).unwrap().revision, head.revision);
    }

    /// What a reading took into its fits already is not drawn twice when the growth becomes known.
    #[test]
    fn growth_that_becomes_known_leaves_what_was_measured_as_it_is_drawn() {
        use kalotype_core::units::Length;
        let folder = tempfile::tempdir().unwrap();
        let store = Store::open(&folder.path().join("test.db")).unwrap();
        let service = Service::new(store, Readers::Here).unwrap();
        let viewer = Viewer::default();
        let printer = Printer { id: "printer-7".to_owned(), ..Printer::default() };
        service.keep_printer(printer, &viewer).unwrap();
        let went = [Went::Not, Went::Not, Went::Mallet, Went::Hand]
            .into_iter()
            .chain(std::iter::repeat(Went::Itself))
            .take(10)
            .collect::<Vec<_>>();
        let measured = service.measured("printer-7", &went, &viewer).unwrap().printer;
        let grows = Printer { growth: Length::mm(0.05), ..measured.clone() };
        let kept = service.keep_printer(grows, &viewer).unwrap().printer;
        assert_eq!((kept.drawn(), kept.source), (measured.drawn(), measured.source));
        assert_eq!(kept.fits.snug, Length::mm(0.1));
    }
}
