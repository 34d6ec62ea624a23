//! Pieces: made, shown, changed, taken back.

use super::starters::starter_name;
use super::{Service, Trouble, given_size_words, size_words};
use kalotype_core::content::content_id;
use kalotype_core::edit::{apply, checked};
use kalotype_core::evaluate::{Evaluation, Sample, evaluate, samples};
use kalotype_core::export::picture_of;
use kalotype_core::formats::{MAX_MESH_BYTES, open_archive};
use kalotype_core::halt::Halt;
use kalotype_core::piece::{self, Address, Edit, EditError, FaceName, FormField, Fronted, Piece};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::{self, Finding, Printed, Weight};
use kalotype_core::shapes::{SHAPE_ENDING, ShapeDocument};
use kalotype_core::stock::stock_id;
use kalotype_store::{Change, Head, LONGEST_DRAWER, Listed, Move, Sought, StoreError};

/// The tolerance that is shown; a file is built at the one chosen for it.
const SHOWN: Tolerance = Tolerance::Normal;

/// The most edits that can be made at once.
const MOST_EDITS: usize = 200;

/// The longest words for a person, a gesture or a request.
pub const LONGEST_WORD: usize = 64;

/// Who asks, and with which request.
#[derive(Debug, Clone, Default)]
pub struct Viewer {
    /// A word for the person; steps are theirs to take back.
    pub person: String,
    /// A word for the page they are at; of the looks of one page at one thing only the newest is worked out.
    pub page: String,
    /// The word of the request: the same request is carried out once.
    pub request: Option<String>,
}

impl Viewer {
    /// The same with what a request sent along as a file: with another file it is another request.
    pub fn with_file(self, mark: &str) -> Self {
        let request = self.request.map(|word| content_id("", format!("{word}\n{mark}").as_bytes()));
        Viewer { request, ..self }
    }

    fn change<'a>(&'a self, gesture: Option<&'a str>, added: Option<Address>) -> Change<'a> {
        Change {
            author: &self.person,
            gesture: gesture.filter(|word| word.len() <= LONGEST_WORD),
            request: self.request.as_deref(),
            added,
            size: None,
        }
    }
}

/// A piece worked out, and what speaks against keeping it so.
#[derive(Debug, Clone)]
pub struct Worked {
    /// Its components.
    pub evaluation: Evaluation,
    /// Why it cannot be built, or values that cannot be carried out; all else preflight says by itself.
    pub objections: Vec<Finding>,
}

/// What preflight says of a piece as it stands.
#[derive(Debug, Clone, serde::Serialize)]
pub struct Said {
    /// The revision it was looked at.
    pub revision: i32,
    /// What is found, the weightiest first.
    pub findings: Vec<Finding>,
}

/// What of a piece is lost, or closes, when it is printed.
#[derive(Debug, Clone, serde::Serialize)]
pub struct PrintedView {
    /// The revision it was looked at.
    pub revision: i32,
    /// Element by element, and what comes of several.
    pub all: Vec<PrintedPaths>,
}

/// What is printed otherwise than it is drawn, as paths that are seen from a face, y downwards.
#[derive(Debug, Clone, serde::Serialize)]
pub struct PrintedPaths {
    /// The element, or the component for what comes of several.
    pub target: Address,
    /// The face it is seen on.
    pub face: FaceName,
    /// What of it is not there.
    pub lost: String,
    /// What runs together.
    pub closed: String,
}

/// How everything that can be mended would be mended.
#[derive(Debug, Clone, serde::Serialize)]
pub struct Mending {
    /// The edits, in order.
    pub edits: Vec<Edit>,
    /// What each step does.
    pub steps: Vec<String>,
    /// How many findings would be left.
    pub left: usize,
}

/// How a piece is kept as a starter.
#[derive(Debug, serde::Deserialize)]
#[serde(deny_unknown_fields)]
pub struct KeptStarter {
    /// The fields it asks for.
    pub fronted: Vec<Fronted>,
    /// What it is called.
    pub name: String,
    /// The starter whose place it takes, by its id.
    #[serde(default)]
    pub instead_of: Option<String>,
}

/// The most pieces that are handled at once.
const MOST_AT_ONCE: usize = 60;

pub(super) fn check_several(ids: &[String]) -> Result<(), Trouble> {
    match ids.len() {
        1..=MOST_AT_ONCE => Ok(()),
        0 => Err(Trouble::Bad("Choose at least one piece.".to_owned())),
        _ => Err(Trouble::Bad(format!("At most {MOST_AT_ONCE} pieces go at once."))),
    }
}

/// Edits carried out on a document, not kept yet.
pub struct Done {
    before: Piece,
    piece: Piece,
    added: Option<Address>,
    worked: Worked,
}

impl Service {
    /// Works a piece out and looks it through.
    ///
    /// # Errors
    /// Where the work was stopped.
    pub fn work_out(
        &self,
        piece: &Piece,
        tolerance: Tolerance,
        halt: Halt,
    ) -> Result<Worked, Trouble> {
        let workshop = self.workshop(tolerance, halt);
        let evaluation = evaluate(piece, &workshop)?;
        let objections = preflight::objections(piece, &evaluation, &workshop)?;
        Ok(Worked { evaluation, objections })
    }

    /// Looks a piece through, with remedies that were tried.
    ///
    /// # Errors
    /// Where the work was stopped.
    pub fn look_through(&self, head: &Head, halt: Halt) -> Result<Said, Trouble> {
        let workshop = self.workshop(SHOWN, halt);
        let evaluation = evaluate(&head.piece, &workshop)?;
        let findings = preflight::run(&head.piece, &evaluation, &workshop)?;
        Ok(Said { revision: head.revision, findings })
    }

    /// What of a piece is lost, or closes, when it is printed.
    ///
    /// # Errors
    /// Where the work was stopped.
    pub fn printed(&self, head: &Head, halt: Halt) -> Result<PrintedView, Trouble> {
        let workshop = self.workshop(SHOWN, halt);
        let evaluation = evaluate(&head.piece, &workshop)?;
        let all = preflight::printed(&head.piece, &evaluation, &workshop)?;
        let view = |one: Printed| PrintedPaths {
            target: one.target,
            face: one.face,
            lost: one.lost.svg_path(),
            closed: one.closed.svg_path(),
        };
        let all = all.into_iter().map(view).collect();
        Ok(PrintedView { revision: head.revision, all })
    }

    /// How everything that can be mended would be mended; nothing is changed.
    ///
    /// # Errors
    /// Where the work was stopped.
    pub fn mending(&self, head: &Head, halt: Halt) -> Result<Mending, Trouble> {
        let workshop = self.workshop(SHOWN, halt);
        let mended = preflight::mend(&head.piece, &workshop)?;
        let is_left = |finding: &&Finding| finding.set_aside.is_none();
        let left = mended.findings.iter().filter(is_left).count();
        Ok(Mending { edits: mended.edits, steps: mended.steps, left })
    }

    /// The same as it is shown.
    ///
    /// # Errors
    /// Where the work was stopped.
    pub fn shown(&self, piece: &Piece, halt: Halt) -> Result<Worked, Trouble> {
        self.work_out(piece, SHOWN, halt)
    }

    /// Keeps a new piece, and returns its id. What cannot be one is said as an edit of it would be.
    ///
    /// # Errors
    /// What it cannot have, or what the store says.
    pub fn create(&self, piece: &Piece, viewer: &Viewer) -> Result<String, Trouble> {
        checked(piece)?;
        let by = Change { size: given_size_words(piece), ..viewer.change(None, None) };
        Ok(self.store.create(piece, &by)?)
    }

    /// A piece from a piece file, or from an archive of one with the meshes and shapes it is made of, which
    /// are kept.
    ///
    /// # Errors
    /// What is wrong with the file, or where the work was stopped.
    pub fn import(&self, file: &[u8], halt: &Halt) -> Result<Piece, Trouble> {
        let files = match file.starts_with(b"PK") {
            true => open_archive(file, MAX_MESH_BYTES).map_err(Trouble::Bad)?,
            false => vec![("piece.json".to_owned(), file.to_vec())],
        };
        let is_piece = |(name, _): &&(String, Vec<u8>)| {
            name.ends_with(".json") && !name.ends_with(SHAPE_ENDING)
        };
        let Some((_, document)) = files.iter().find(is_piece) else {
            let message = "There is no piece file (.kalotype.json) in the archive.";
            return Err(Trouble::Bad(message.to_owned()));
        };
        let piece = piece::read(document)
            .map_err(|error| Trouble::Bad(format!("The file was not taken: {error}")))?;
        let meshes = piece.components.iter().filter_map(|component| component.mesh());
        for mesh in meshes {
            if self.workshop(SHOWN, halt.clone()).mesh(&mesh.mesh).is_some() {
                continue;
            }
            let Some((_, file)) = files.iter().find(|(_, file)| stock_id(file) == mesh.mesh) else {
                return Err(Trouble::Bad(format!(
                    "The mesh “{}” the piece is made of is neither here nor in the file. Open the \
                     archive the piece was exported as, or read the mesh first on the page of mesh \
                     files.",
                    mesh.file
                )));
            };
            self.keep_mesh(&mesh.file, file, halt)?;
        }
        self.take_shapes(&piece, &files)?;
        Ok(piece)
    }

    /// Keeps the shapes of an archive that its piece names. One that is neither there nor here is missing
    /// from the piece, which says so.
    fn take_shapes(&self, piece: &Piece, files: &[(String, Vec<u8>)]) -> Result<(), Trouble> {
        let named: Vec<&str> =
            piece.components.iter().flat_map(|component| component.own_shapes()).collect();
        for (file, document) in files {
            let Some(name) = file.strip_suffix(SHAPE_ENDING) else { continue };
            let id = ShapeDocument::read(document).map(|document| document.id());
            if id.is_ok_and(|id| named.contains(&id.as_str())) {
                self.keep_shape_document(name, document)?;
            }
        }
        Ok(())
    }

    /// A copy of a piece, not kept yet.
    ///
    /// # Errors
    /// Where there is no such piece.
    pub fn copy_of(&self, id: &str) -> Result<Piece, Trouble> {
        let piece = self.store.head(id, "")?.piece;
        let name: String = piece.name.chars().take(112).collect();
        Ok(Piece { name: format!("{name}, copy"), ..piece })
    }

    /// A piece as it stands.
    ///
    /// # Errors
    /// Where there is no such piece.
    pub fn head(&self, id: &str, viewer: &Viewer) -> Result<Head, Trouble> {
        Ok(self.store.head(id, &viewer.person)?)
    }

    /// A part of the list of pieces that are sought, and how many there are.
    ///
    /// # Errors
    /// What the store says.
    pub fn list(
        &self,
        sought: &Sought,
        from: usize,
        most: usize,
    ) -> Result<(Vec<Listed>, usize), Trouble> {
        Ok(self.store.list(sought, from, most)?)
    }

    /// Moves several pieces at once.
    ///
    /// # Errors
    /// Too many at once, a drawer without a name, or what the store says.
    pub fn put(&self, ids: &[String], to: &Move) -> Result<(), Trouble> {
        check_several(ids)?;
        if let Move::Keep(Some(drawer)) = to {
            let is_fit = !drawer.trim().is_empty() && drawer.chars().count() <= LONGEST_DRAWER;
            if !is_fit {
                let message = format!("Give the drawer a name of 1 to {LONGEST_DRAWER} letters.");
                return Err(Trouble::Bad(message));
            }
        }
        Ok(self.store.put(ids, to)?)
    }

    /// Whether the request was carried out before, and what it added then.
    ///
    /// # Errors
    /// What the store says.
    pub fn answered(&self, id: &str, viewer: &Viewer) -> Result<Option<Option<Address>>, Trouble> {
        match &viewer.request {
            Some(request) => Ok(self.store.answered(id, request)?),
            None => Ok(None),
        }
    }

    /// Looks at what edits are to be made on: the piece as it stands, unless what they set was changed
    /// by somebody else since the revision they were made on.
    ///
    /// # Errors
    /// [`Trouble::Overtaken`], too many edits, or no such piece.
    pub fn before_edits(
        &self,
        id: &str,
        viewer: &Viewer,
        expected: Option<i32>,
        edits: &[Edit],
    ) -> Result<Piece, Trouble> {
        if edits.len() > MOST_EDITS {
            return Err(Trouble::Bad(format!("At most {MOST_EDITS} edits can be made at once.")));
        }
        let head = self.head(id, viewer)?;
        let Some(expected) = expected.filter(|expected| *expected != head.revision) else {
            return Ok(head.piece);
        };
        if !(1..=head.revision).contains(&expected) {
            return Err(Trouble::Bad(format!("This piece has no revision {expected}.")));
        }
        // What has passed out of the history can no longer be held against it.
        let Some(seen) = self.store.revision(id, expected)? else {
            return Err(Trouble::Overtaken("The piece".to_owned()));
        };
        let is_overtaken = |(target, field): &(&Address, &str)| {
            seen.value(target, field) != head.piece.value(target, field)
        };
        match edits.iter().filter_map(Edit::field).find(is_overtaken) {
            Some((target, field)) => Err(Trouble::Overtaken(format!("“{field}” of {target}"))),
            None => Ok(head.piece),
        }
    }

    /// Carries edits out on a document and works it out. A value that cannot be carried out is refused
    /// at its field.
    ///
    /// # Errors
    /// What does not fit, or that the work was stopped.
    pub fn carry_out(&self, before: Piece, edits: &[Edit], halt: Halt) -> Result<Done, Trouble> {
        let workshop = self.workshop(SHOWN, halt.clone());
        let applied = apply(&before, edits, &workshop)?;
        let worked = self.shown(&applied.piece, halt)?;
        let edited = || edits.iter().filter_map(Edit::field);
        let refused = worked.objections.iter().find(|finding| {
            finding.weight == Weight::Stop
                || edited().any(|(target, field)| finding.refuses(target, field))
        });
        if let Some(finding) = refused {
            let (target, field) = edited().next_back().unwrap_or((&finding.target, &finding.field));
            let (target, field) = (target.clone(), field.to_owned());
            return Err(EditError { target, field, message: finding.message.clone() }.into());
        }
        Ok(Done { before, piece: applied.piece, added: applied.added, worked })
    }

    /// Keeps what was carried out; nothing where another change came between, and then it must be carried
    /// out again on what that left.
    ///
    /// # Errors
    /// What the store says.
    pub fn keep_edits(
        &self,
        id: &str,
        viewer: &Viewer,
        gesture: Option<&str>,
        done: &Done,
    ) -> Result<Option<Head>, Trouble> {
        let size = Some(size_words(&done.piece, &done.worked.evaluation));
        let change = Change { size, ..viewer.change(gesture, done.added.clone()) };
        let kept = self.store.change::<Trouble>(id, &change, |now| match *now == done.before {
            true => Ok(done.piece.clone()),
            false => Err(StoreError::Conflict.into()),
        });
        match kept {
            Ok(head) => Ok(Some(head)),
            Err(Trouble::Store(StoreError::Conflict)) => Ok(None),
            Err(error) => Err(error),
        }
    }

    /// Takes the viewer's last step back.
    ///
    /// # Errors
    /// What the store says.
    pub fn undo(&self, id: &str, viewer: &Viewer) -> Result<Head, Trouble> {
        Ok(self.store.undo(id, &viewer.change(None, None))?)
    }

    /// Brings it again.
    ///
    /// # Errors
    /// What the store says.
    pub fn redo(&self, id: &str, viewer: &Viewer) -> Result<Head, Trouble> {
        Ok(self.store.redo(id, &viewer.change(None, None))?)
    }

    /// Changes a piece in a way that needs no working out.
    ///
    /// # Errors
    /// What it cannot have, or what the store says.
    pub fn change(
        &self,
        id: &str,
        viewer: &Viewer,
        change: impl FnOnce(Piece) -> Piece,
    ) -> Result<Head, Trouble> {
        self.store.change(id, &viewer.change(None, None), |piece| {
            let piece = change(piece.clone());
            checked(&piece)?;
            Ok::<_, Trouble>(piece)
        })
    }

    /// The picture of a piece's front. It is kept with what the list says of the piece.
    ///
    /// # Errors
    /// Where there is no such piece, or the work was stopped.
    pub fn picture(&self, id: &str, halt: Halt) -> Result<String, Trouble> {
        if let Some(picture) = self.store.picture(id)? {
            return Ok(picture);
        }
        let head = self.head(id, &Viewer::default())?;
        let worked = self.shown(&head.piece, halt)?;
        let picture = picture_of(&head.piece, &worked.evaluation.components[0].layout);
        let size = size_words(&head.piece, &worked.evaluation);
        self.store.keep_look(id, head.revision, &size, &picture)?;
        Ok(picture)
    }

    /// The words of a lettering in every typeface there is.
    ///
    /// # Errors
    /// Where there is no such piece, or the work was stopped.
    pub fn samples(&self, id: &str, target: &Address, halt: Halt) -> Result<Vec<Sample>, Trouble> {
        let piece = self.head(id, &Viewer::default())?.piece;
        Ok(samples(&piece, target, &self.workshop(Tolerance::Draft, halt))?)
    }

    /// The fields a short form of a piece could ask for, and those it does.
    ///
    /// # Errors
    /// Where there is no such piece.
    pub fn form_fields(&self, id: &str) -> Result<(Vec<FormField>, Vec<FormField>), Trouble> {
        let piece = self.head(id, &Viewer::default())?.piece;
        Ok((piece.form_candidates(), piece.form()))
    }

    /// Keeps a piece as a starter that asks for the given fields, and returns the starter's id: a new
    /// one, or that of the starter whose place it takes. The piece itself then asks for them too.
    ///
    /// # Errors
    /// Where no field is given or a new one has no name, or what the store says.
    pub fn keep_as_starter(
        &self,
        id: &str,
        viewer: &Viewer,
        kept: KeptStarter,
    ) -> Result<String, Trouble> {
        let KeptStarter { fronted, name, instead_of } = kept;
        if fronted.is_empty() {
            let message = "Choose at least one field the starter asks for.";
            return Err(Trouble::Bad(message.to_owned()));
        }
        let name = starter_name(&name)?;
        let change = |piece: &Piece| {
            let piece = Piece { fronted, ..piece.clone() };
            checked(&piece)?;
            Ok::<_, Trouble>(piece)
        };
        let place = (name.as_str(), instead_of.as_deref());
        self.store.keep_as_starter(id, &viewer.change(None, None), change, place)
    }
}

impl Done {
    /// What was worked out, and the address of what was added.
    pub fn into_parts(self) -> (Worked, Option<Address>) {
        (self.worked, self.added)
    }
}
