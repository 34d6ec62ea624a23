//! Taking a piece away.

use super::pieces::check_several;
use super::{Service, Trouble, Viewer, Worked};
use kalotype_core::export::{
    self, Division, Format, OutFile, Wanted, archive_name, file_name, free_name,
};
use kalotype_core::halt::Halt;
use kalotype_core::piece::Piece;
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::Weight;
use kalotype_core::shapes::SHAPE_ENDING;

/// The files of an export, and the name of the archive that holds them where there are several.
pub struct Exported {
    /// The files.
    pub files: Vec<OutFile>,
    /// What they are packed as.
    pub archive: Option<String>,
}

/// Today's date on this machine, as 2026-11-25.
pub fn today() -> String {
    chrono::Local::now().date_naive().to_string()
}

/// The name a mesh file is exported under, safe on every system.
pub fn mesh_file_name(name: &str) -> String {
    let (stem, ending) = name.rsplit_once('.').unwrap_or((name, "stl"));
    format!("{}.{}", file_name(stem), file_name(ending))
}

/// The name a shape's document is exported under.
pub fn shape_file_name(name: &str) -> String {
    format!("{}{SHAPE_ENDING}", file_name(name))
}

/// Writes a piece that was worked out; nothing where it cannot be built.
pub fn export(
    piece: &Piece,
    worked: &Worked,
    format: Format,
    division: Division,
    each: bool,
) -> Option<Vec<OutFile>> {
    let date = today();
    let is_buildable = worked.evaluation.is_built() || format == Format::Piece;
    let wanted = Wanted { format, division, each, date: Some(&date) };
    is_buildable.then(|| export::export(piece, &worked.evaluation, wanted))
}

/// What a person asks of an export.
#[derive(Debug, Clone, Copy)]
pub struct Asked {
    /// What it is written as.
    pub format: Format,
    /// How colours are told apart.
    pub division: Division,
    /// Whether every component gets a file of its own.
    pub each: bool,
    /// How many copies of a piece whose texts count, each with its own number.
    pub copies: u32,
}

/// The most copies of a piece that are written at once: each is worked out for itself.
pub const MOST_COPIES: u32 = 100;

/// Refuses a number of copies that nobody waits for.
///
/// # Errors
/// Where it is none, or too many.
pub fn check_copies(copies: u32) -> Result<(), Trouble> {
    if (1..=MOST_COPIES).contains(&copies) {
        return Ok(());
    }
    Err(Trouble::Bad(format!(
        "1 to {MOST_COPIES} copies can be written at once, not {copies}. Write the rest from a later number on."
    )))
}

/// What the files of several pieces may come to together, in bytes: they are packed in memory.
const MOST_TOGETHER: usize = 256 << 20;

/// Refuses files that come to more than there is room for.
fn check_room(files: &[OutFile], most: usize) -> Result<(), Trouble> {
    let all: usize = files.iter().map(|file| file.bytes.len()).sum();
    if all <= most {
        return Ok(());
    }
    let message = format!(
        "The files of these pieces come to more than {} MB together. Choose fewer at once.",
        most >> 20
    );
    Err(Trouble::Bad(message))
}

impl Service {
    /// The files of an export of a piece.
    ///
    /// # Errors
    /// Where it cannot be built, there is no such piece, or the work was stopped.
    pub fn exported(
        &self,
        id: &str,
        tolerance: Tolerance,
        asked: Asked,
        halt: Halt,
    ) -> Result<Exported, Trouble> {
        let piece = self.head(id, &Viewer::default())?.piece;
        check_copies(asked.copies)?;
        if asked.copies == 1 || !piece.counts() {
            return self.exported_one(&piece, tolerance, asked, halt);
        }
        let mut files: Vec<OutFile> = Vec::new();
        for number in 0..asked.copies {
            let copy = piece.copy_number(number);
            let one = self.exported_one(&copy, tolerance, asked, halt.clone())?;
            for file in one.files {
                let name = free_name(&files, &file.name);
                files.push(OutFile { name, ..file });
            }
            check_room(&files, MOST_TOGETHER)?;
        }
        let archive = Some(archive_name(&piece, Some(&today())));
        Ok(Exported { files, archive })
    }

    /// The files of one piece.
    fn exported_one(
        &self,
        piece: &Piece,
        tolerance: Tolerance,
        Asked { format, division, each, .. }: Asked,
        halt: Halt,
    ) -> Result<Exported, Trouble> {
        let worked = self.work_out(piece, tolerance, halt)?;
        let Some(mut files) = export(piece, &worked, format, division, each) else {
            let stop = worked.objections.iter().find(|one| one.weight == Weight::Stop);
            return Err(Trouble::Bad(stop.map(|one| one.message.clone()).unwrap_or_default()));
        };
        // A piece made of a mesh or of shapes is only whole with them.
        if format == Format::Piece {
            files.extend(self.shape_files(piece)?);
            for blank in piece.components.iter().filter_map(|component| component.mesh()) {
                let Some(mesh) = self.store.mesh(&blank.mesh)? else { continue };
                let name = mesh_file_name(&mesh.name);
                if !files.iter().any(|file| file.name == name) {
                    files.push(OutFile { name, bytes: mesh.file, triangles: None });
                }
            }
        }
        let archive = (files.len() > 1).then(|| archive_name(piece, Some(&today())));
        Ok(Exported { files, archive })
    }

    /// The documents of the shapes of one's own that are in a piece, a file each.
    fn shape_files(&self, piece: &Piece) -> Result<Vec<OutFile>, Trouble> {
        let mut ids: Vec<&str> =
            piece.components.iter().flat_map(|component| component.own_shapes()).collect();
        ids.sort_unstable();
        ids.dedup();
        let mut files: Vec<OutFile> = Vec::new();
        for id in ids {
            let Some(kept) = self.store.shape(id)? else { continue };
            let name = free_name(&files, &shape_file_name(&kept.name));
            files.push(OutFile { name, bytes: kept.document, triangles: None });
        }
        Ok(files)
    }

    /// The files of several pieces, in one archive; files of one name are told apart by numbers.
    ///
    /// # Errors
    /// As [`Service::exported`], naming the piece; or too many pieces at once.
    pub fn exported_together(
        &self,
        ids: &[String],
        format: Format,
        division: Division,
        halt: Halt,
    ) -> Result<Exported, Trouble> {
        check_several(ids)?;
        let mut files: Vec<OutFile> = Vec::new();
        for id in ids {
            let asked = Asked { format, division, each: false, copies: 1 };
            let one = self.exported(id, Tolerance::Normal, asked, halt.clone());
            let exported = match one {
                Err(Trouble::Bad(why)) => {
                    let name = self.head(id, &Viewer::default())?.piece.name;
                    return Err(Trouble::Bad(format!("“{name}”: {why}")));
                }
                other => other?,
            };
            for file in exported.files {
                let name = free_name(&files, &file.name);
                files.push(OutFile { name, ..file });
            }
            check_room(&files, MOST_TOGETHER)?;
        }
        Ok(Exported { files, archive: Some(format!("pieces-{}.zip", today())) })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn file(name: &str, bytes: usize) -> OutFile {
        OutFile { name: name.to_owned(), bytes: vec![0; bytes], triangles: None }
    }

    #[test]
    fn copies_are_bounded_before_they_are_worked_out() {
        assert!(check_copies(1).is_ok() && check_copies(MOST_COPIES).is_ok());
        for copies in [0, MOST_COPIES + 1, u32::MAX] {
            assert!(matches!(check_copies(copies), Err(Trouble::Bad(_))), "{copies}");
        }
    }

    #[test]
    fn what_would_fill_the_memory_is_refused_before_it_is_packed() {
        let files = [file("a.stl", 2 << 20), file("b.stl", 1 << 20)];
        assert!(check_room(&files, 3 << 20).is_ok());
        assert!(matches!(check_room(&files, (3 << 20) - 1), Err(Trouble::Bad(_))));
    }
}
