//! Printers: kept, measured on a gauge, and the pieces that follow them.

use super::pieces::Viewer;
use super::{FieldChange, Service, Trouble};
use kalotype_core::edit::checked;
use kalotype_core::gauge::{GaugeJoint, Went, gauge, read_off};
use kalotype_core::piece::{EditError, FitSource, Piece, Printer};
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

    /// Keeps a new printer, and returns it as it is kept. The same request keeps one.
    ///
    /// # Errors
    /// What it cannot be, or what the store says.
    pub fn add_printer(&self, printer: Printer, viewer: &Viewer) -> Result<Printer, Trouble> {
        let id = format!("own-{}", uuid::Uuid::new_v4().simple());
        let printer = checked_printer(Printer { id, ..printer })?;
        let id = self.store.add_printer(&printer, viewer.request.as_deref())?;
        Ok(self.store.printer(&id)?)
    }

    /// Changes a field of a printer, and gives its figures to the pieces that are made on it. Fits that somebody
    /// changed are theirs from then on. Another name alone changes no piece.
    ///
    /// # Errors
    /// What it cannot be, what somebody else changed since it was seen, or what the store says.
    pub fn change_printer(
        &self,
        id: &str,
        change: &FieldChange,
        viewer: &Viewer,
    ) -> Result<BroughtUp, Trouble> {
        self.bring_up(id, viewer, |before| {
            let printer = change.made_in(before)?;
            if printer.fits != before.fits {
                return Ok(Printer { source: FitSource::Typed, ..printer });
            }
            // Another growth alone changes nothing of what was measured.
            let Printer { fits, source, .. } = before.clone().with_growth(printer.growth);
            Ok(Printer { fits, source, ..printer })
        })
    }

    /// Replaces the fits of a printer by what was read off a gauge today.
    ///
    /// # Errors
    /// A reading that cannot be, a printer that is gone, or what the store says.
    pub fn measured(&self, id: &str, went: &[Went], viewer: &Viewer) -> Result<BroughtUp, Trouble> {
        let fits = read_off(went).map_err(Trouble::Bad)?;
        let today = chrono::Local::now().date_naive().to_string();
        self.bring_up(id, viewer, |before| {
            Ok(Printer { fits, source: FitSource::Measured(today), ..before.clone() })
        })
    }

    /// A gauge for a printer, not kept yet.
    ///
    /// # Errors
    /// Where the printer is gone.
    pub fn gauge_for(&self, id: &str, joint: GaugeJoint) -> Result<Piece, Trouble> {
        let found = self.printers()?.into_iter().find(|one| one.id == id);
        Ok(gauge(joint, &found.ok_or(StoreError::NotOnShelf)?))
    }

    fn bring_up(
        &self,
        id: &str,
        viewer: &Viewer,
        change: impl FnOnce(&Printer) -> Result<Printer, Trouble>,
    ) -> Result<BroughtUp, Trouble> {
        if id == Printer::SHIPPED_ID {
            let message = "This one stays as it came. Add a printer of your own and change that.";
            return Err(Trouble::Bad(message.to_owned()));
        }
        let change = |before: &Printer| checked_printer(change(before)?);
        let (printer, is_followed) = self.store.change_printer(id, &viewer.person, change)?;
        match is_followed {
            true => self.followed(printer, &viewer.person),
            false => Ok(BroughtUp { printer, pieces: 0, left: Vec::new() }),
        }
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
        let by = Change { author, ..Change::default() };
        let ids = self.store.made_on(&printer.id)?;
        let all = self.store.change_several::<Trouble>(&ids, &by, |piece| {
            let mut changed = piece.clone();
            changed.give_printer(printer.clone());
            checked(&changed).map_err(|error| {
                let message = format!("{}: {}", piece.name, error.message);
                EditError { message, ..error }
            })?;
            Ok(changed)
        })?;
        for one in all {
            match one {
                Ok(_) => brought.pieces += 1,
                // Deleted meanwhile.
                Err(Trouble::Store(StoreError::NoSuchPiece)) => {}
                Err(Trouble::Edit(error)) => brought.left.push(error.message),
                Err(other) => return Err(other),
            }
        }
        self.store.all_followed(&printer)?;
        Ok(brought)
    }
}

/// A printer that can be.
fn checked_printer(printer: Printer) -> Result<Printer, Trouble> {
    match printer.trouble() {
        Some(message) => Err(Trouble::Bad(message)),
        None => Ok(printer),
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
            service.store.add_printer(&printer, None).unwrap();
            let piece = Piece::new("Gauge shelf", Unit::Millimetre);
            let id = service.create(&Piece { printer, ..piece }, &astrid).unwrap();
            let change = |_: &Printer| Ok::<_, StoreError>(finer);
            service.store.change_printer("printer-7", "Åstrid", change).unwrap();
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
        service.store.add_printer(&printer, None).unwrap();
        let went = [Went::Not, Went::Not, Went::Mallet, Went::Hand]
            .into_iter()
            .chain(std::iter::repeat(Went::Itself))
            .take(10)
            .collect::<Vec<_>>();
        let measured = service.measured("printer-7", &went, &viewer).unwrap().printer;
        let grows = FieldChange {
            field: "growth".to_owned(),
            seen: serde_json::json!(measured.growth),
            value: serde_json::json!(0.05),
        };
        let kept = service.change_printer("printer-7", &grows, &viewer).unwrap().printer;
        assert_eq!((kept.drawn(), kept.source), (measured.drawn(), measured.source));
        assert_eq!(kept.fits.snug, Length::mm(0.1));
    }

    /// Pieces made on a printer get its figures, and nothing where it only gets another name; and the same request twice makes
    /// one printer.
    #[test]
    fn another_name_of_a_printer_changes_no_piece() {
        let folder = tempfile::tempdir().unwrap();
        let store = Store::open(&folder.path().join("test.db")).unwrap();
        let service = Service::new(store, Readers::Here).unwrap();
        let viewer = Viewer { request: Some("r-1".to_owned()), ..Viewer::default() };
        let printer = service.add_printer(Printer::default(), &viewer).unwrap();
        assert_eq!(service.add_printer(Printer::default(), &viewer).unwrap(), printer);
        assert_eq!(service.printers().unwrap().len(), 2, "and the one that comes with the program");
        let viewer = Viewer::default();
        let piece = Piece::new("Berth", Unit::Millimetre);
        let ids: Vec<String> = (0..90)
            .map(|_| {
                let piece = Piece { printer: printer.clone(), ..piece.clone() };
                service.create(&piece, &viewer).unwrap()
            })
            .collect();
        let change =
            |field: &str, seen, value| FieldChange { field: field.to_owned(), seen, value };
        let name = change("name", serde_json::json!(printer.name), serde_json::json!("Long quay"));
        let brought = service.change_printer(&printer.id, &name, &viewer).unwrap();
        assert_eq!((brought.pieces, brought.printer.name.as_str()), (0, "Long quay"));
        assert_eq!(service.head(&ids[7], &viewer).unwrap().revision, 1);
        let line = change("line", serde_json::json!(printer.line), serde_json::json!(0.6));
        let brought = service.change_printer(&printer.id, &line, &viewer).unwrap();
        assert_eq!(brought.pieces, 90);
        for id in &ids {
            let head = service.head(id, &viewer).unwrap();
            assert_eq!((head.revision, head.piece.printer.clone()), (2, brought.printer.clone()));
        }
        assert!(service.store.followed().unwrap().is_empty());
    }
}
