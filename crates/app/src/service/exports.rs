//! Taking a piece away.

use super::pieces::check_several;
use super::{Service, Trouble, Viewer, Worked};
use kalotype_core::export::{
    self, Division, Format, OutFile, Planned, Wanted, archive_name, file_name, free_among,
    free_name,
};
use kalotype_core::formats::Packing;
use kalotype_core::halt::Halt;
use kalotype_core::piece::Piece;
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::Weight;
use kalotype_core::shapes::SHAPE_ENDING;
use kalotype_store::StoreError;
use std::collections::BTreeSet;
use std::fs::File;
use std::io::{Seek, SeekFrom};

/// The files an export consists of, and the name of the archive that holds them where there are several.
pub struct ListedExport {
    /// The files; of several copies those of the first.
    pub files: Vec<ListedFile>,
    /// How many copies have such files.
    pub copies: u32,
    /// What they are packed as.
    pub archive: Option<String>,
}

/// A file of an export.
pub struct ListedFile {
    /// What it is called.
    pub name: String,
    /// How many bytes it has, where that is known before it is written.
    pub bytes: Option<usize>,
    /// How many triangles are in it, where it is a mesh.
    pub triangles: Option<usize>,
}

/// An export as it is taken away.
pub enum Exported {
    /// One file.
    File(OutFile),
    /// Several, in an archive that was written to a temporary file.
    Archive {
        /// What it is called.
        name: String,
        /// The file, at its beginning.
        file: File,
        /// How many bytes it has.
        size: u64,
    },
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

/// Writes a piece that was worked out.
///
/// # Errors
/// What stops it, where it cannot be built.
pub fn export(piece: &Piece, worked: &Worked, asked: Asked) -> Result<Vec<OutFile>, Trouble> {
    let mut files = Vec::new();
    plan(piece, worked, asked, &mut |planned| files.push(planned.written()))?;
    Ok(files)
}

/// Plans the files of a piece that was worked out.
///
/// # Errors
/// What stops it, where it cannot be built.
fn plan(
    piece: &Piece,
    worked: &Worked,
    Asked { format, division, each, .. }: Asked,
    take: &mut dyn FnMut(Planned<'_>),
) -> Result<(), Trouble> {
    if !worked.evaluation.is_built() && format != Format::Piece {
        let stop = worked.objections.iter().find(|one| one.weight == Weight::Stop);
        return Err(Trouble::Bad(stop.map(|one| one.message.clone()).unwrap_or_default()));
    }
    let date = today();
    export::plan(
        piece,
        &worked.evaluation,
        Wanted { format, division, each, date: Some(&date) },
        take,
    );
    Ok(())
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

/// What the files of one export may come to together, in bytes: the archive is written to the disk.
const MOST_TOGETHER: usize = 1 << 30;

/// Several files on their way into an archive; of one name they are told apart by numbers.
struct Packed {
    packing: Packing<File>,
    bytes: usize,
    most: usize,
}

impl Packed {
    fn new(most: usize) -> Result<Self, Trouble> {
        let packing = Packing::new(tempfile::tempfile().map_err(unwritten)?);
        Ok(Packed { packing, bytes: 0, most })
    }

    /// Puts a file into it, unless all together come to more than there is room for.
    fn add(&mut self, file: &OutFile) -> Result<(), Trouble> {
        self.bytes += file.bytes.len();
        if self.bytes > self.most {
            return Err(Trouble::Bad(format!(
                "The files of this come to more than {} MB together. Choose fewer at once.",
                self.most >> 20
            )));
        }
        let name = free_among(self.packing.names(), &file.name);
        self.packing.add(&name, &file.bytes).map_err(unwritten)
    }

    fn finish(self, name: String) -> Result<Exported, Trouble> {
        let mut file = self.packing.finish().map_err(unwritten)?;
        let size = file.seek(SeekFrom::End(0)).map_err(unwritten)?;
        file.rewind().map_err(unwritten)?;
        Ok(Exported::Archive { name, file, size })
    }
}

/// Why an archive could not be written.
fn unwritten(error: std::io::Error) -> Trouble {
    tracing::error!("an archive cannot be written: {error}");
    match error.kind() {
        std::io::ErrorKind::StorageFull => StoreError::DiskFull.into(),
        _ => Trouble::Bad("The archive could not be written on this machine.".to_owned()),
    }
}

impl Service {
    /// What an export of a piece consists of.
    ///
    /// # Errors
    /// As [`Service::exported`].
    pub fn listed_export(
        &self,
        id: &str,
        tolerance: Tolerance,
        asked: Asked,
        halt: Halt,
    ) -> Result<ListedExport, Trouble> {
        check_copies(asked.copies)?;
        let piece = self.head(id, &Viewer::default())?.piece;
        let copies = if piece.counts() { asked.copies } else { 1 };
        let mut files: Vec<ListedFile> = Vec::new();
        let worked = self.work_out(&piece, tolerance, halt.clone())?;
        halt.over(|| {
            plan(&piece, &worked, asked, &mut |Planned { name, triangles, bytes, .. }| {
                files.push(ListedFile { name, bytes, triangles });
            })
        })??;
        for OutFile { name, bytes, .. } in self.others(&piece, asked.format)? {
            files.push(ListedFile { name, bytes: Some(bytes.len()), triangles: None });
        }
        let is_archive = files.len() > 1 || copies > 1;
        let archive = is_archive.then(|| archive_name(&piece, Some(&today())));
        Ok(ListedExport { files, copies, archive })
    }

    /// An export of a piece.
    ///
    /// # Errors
    /// Where it cannot be built or comes to too much, there is no such piece, or the work was stopped.
    pub fn exported(
        &self,
        id: &str,
        tolerance: Tolerance,
        asked: Asked,
        halt: Halt,
    ) -> Result<Exported, Trouble> {
        let piece = self.head(id, &Viewer::default())?.piece;
        // The first waits for a second, and is packed when there is one.
        let mut only: Option<OutFile> = None;
        let mut packed: Option<Packed> = None;
        self.make_files(&piece, tolerance, asked, &halt, &mut |file| {
            match (&mut packed, only.take()) {
                (None, None) => only = Some(file),
                (None, Some(first)) => {
                    let packed = packed.insert(Packed::new(MOST_TOGETHER)?);
                    packed.add(&first)?;
                    packed.add(&file)?;
                }
                (Some(packed), _) => packed.add(&file)?,
            }
            Ok(())
        })?;
        match (packed, only) {
            (Some(packed), _) => packed.finish(archive_name(&piece, Some(&today()))),
            (None, Some(only)) => Ok(Exported::File(only)),
            (None, None) => Err(Trouble::Bad("There is nothing to write.".to_owned())),
        }
    }

    /// Makes the files of an export, one after the other.
    fn make_files(
        &self,
        piece: &Piece,
        tolerance: Tolerance,
        asked: Asked,
        halt: &Halt,
        take: &mut dyn FnMut(OutFile) -> Result<(), Trouble>,
    ) -> Result<(), Trouble> {
        check_copies(asked.copies)?;
        if asked.copies == 1 || !piece.counts() {
            let files = self.exported_one(piece, tolerance, asked, halt.clone())?;
            return files.into_iter().try_for_each(take);
        }
        for number in 0..asked.copies {
            let copy = piece.copy_number(number);
            halt.go_on()?;
            let files = self.exported_one(&copy, tolerance, asked, halt.clone())?;
            files.into_iter().try_for_each(&mut *take)?;
        }
        Ok(())
    }

    /// The files of one piece.
    fn exported_one(
        &self,
        piece: &Piece,
        tolerance: Tolerance,
        asked: Asked,
        halt: Halt,
    ) -> Result<Vec<OutFile>, Trouble> {
        let worked = self.work_out(piece, tolerance, halt.clone())?;
        let mut files = halt.over(|| export(piece, &worked, asked))??;
        files.extend(self.others(piece, asked.format)?);
        Ok(files)
    }

    /// What goes with a piece's own file: it is only whole with the meshes and shapes it is made of.
    fn others(&self, piece: &Piece, format: Format) -> Result<Vec<OutFile>, Trouble> {
        let mut files = Vec::new();
        if format == Format::Piece {
            files.extend(self.shape_files(piece)?);
            files.extend(self.mesh_files(piece)?);
        }
        Ok(files)
    }

    /// The mesh files a piece is made of, each once. Two of one name are two all the same: they are told apart by what is in
    /// them.
    fn mesh_files(&self, piece: &Piece) -> Result<Vec<OutFile>, Trouble> {
        let ids: BTreeSet<&str> = piece
            .components
            .iter()
            .filter_map(|component| Some(component.mesh()?.mesh.as_str()))
            .collect();
        let mut files: Vec<OutFile> = Vec::new();
        for id in ids {
            let Some(mesh) = self.store.mesh(id)? else { continue };
            let name = free_name(&files, &mesh_file_name(&mesh.name));
            files.push(OutFile { name, bytes: mesh.file, triangles: None });
        }
        Ok(files)
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
        let mut packed = Packed::new(MOST_TOGETHER)?;
        for id in ids {
            let piece = self.head(id, &Viewer::default())?.piece;
            let asked = Asked { format, division, each: false, copies: 1 };
            let made = self
                .make_files(&piece, Tolerance::Normal, asked, &halt, &mut |file| packed.add(&file));
            made.map_err(|trouble| match trouble {
                Trouble::Bad(why) => Trouble::Bad(format!("“{}”: {why}", piece.name)),
                other => other,
            })?;
        }
        packed.finish(format!("pieces-{}.zip", today()))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::service::Readers;
    use kalotype_core::formats::open_archive;
    use kalotype_core::units::Unit;
    use kalotype_store::Store;

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
    fn what_is_too_much_together_is_refused_and_files_of_one_name_are_kept_apart() {
        let files = [file("a.stl", 2 << 20), file("A.stl", 1 << 20)];
        let pack = |most: usize| {
            let mut packed = Packed::new(most)?;
            files.iter().try_for_each(|file| packed.add(file))?;
            packed.finish("all.zip".to_owned())
        };
        assert!(matches!(pack((3 << 20) - 1), Err(Trouble::Bad(_))));
        let Ok(Exported::Archive { mut file, size, .. }) = pack(3 << 20) else { panic!() };
        let mut bytes = Vec::new();
        std::io::Read::read_to_end(&mut file, &mut bytes).unwrap();
        assert_eq!(bytes.len() as u64, size);
        let found = open_archive(&bytes, 4 << 20).unwrap();
        let found: Vec<_> = found.iter().map(|(name, file)| (&name[..], file.len())).collect();
        assert_eq!(found, [("a.stl", 2 << 20), ("A-2.stl", 1 << 20)]);
    }

    /// Two meshes of one name, and of two contents, are both in the archive of the piece that is made of them.
    #[test]
    fn two_meshes_of_one_name_are_two_files() {
        let folder = tempfile::tempdir().unwrap();
        let store = Store::open(&folder.path().join("test.db")).unwrap();
        let service = Service::new(store, Readers::Here).unwrap();
        let mut piece = Piece::new("Two floats", Unit::Millimetre);
        let mut components = Vec::new();
        for (i, side) in [20.0, 30.0].into_iter().enumerate() {
            let stl = tetrahedron(side);
            let id = service.keep_mesh("Float.stl", &stl, &Halt::default()).unwrap();
            let viewer = Viewer::default();
            let made =
                service.piece_of_mesh(&id, "x", Unit::Millimetre, (0, 1.0), &viewer).unwrap();
            let mut part = service.head(&made, &viewer).unwrap().piece.components.remove(0);
            part.id = format!("component-{}", i + 1);
            components.push(part);
        }
        piece.components = components;
        let id = service.create(&piece, &Viewer::default()).unwrap();
        let asked =
            Asked { format: Format::Piece, division: Division::default(), each: false, copies: 1 };
        let exported = service.exported(&id, Tolerance::Draft, asked, Halt::default()).unwrap();
        let Exported::Archive { mut file, .. } = exported else { panic!("one file") };
        let mut bytes = Vec::new();
        std::io::Read::read_to_end(&mut file, &mut bytes).unwrap();
        let elsewhere = tempfile::tempdir().unwrap();
        let store = Store::open(&elsewhere.path().join("test.db")).unwrap();
        let other = Service::new(store, Readers::Here).unwrap();
        assert_eq!(other.import(&bytes, &Halt::default()).unwrap(), piece);
        assert_eq!(other.store().meshes().unwrap().len(), 2);
    }

    /// An STL text file of a corner of a box, its legs so long.
    fn tetrahedron(side: f64) -> Vec<u8> {
        let corners = [[0.0; 3], [side, 0.0, 0.0], [0.0, side, 0.0], [0.0, 0.0, side]];
        let mut text = "solid float\n".to_owned();
        for face in [[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]] {
            text.push_str("facet normal 0 0 0\nouter loop\n");
            for corner in face {
                let [x, y, z] = corners[corner];
                text.push_str(&format!("vertex {x} {y} {z}\n"));
            }
            text.push_str("endloop\nendfacet\n");
        }
        text.push_str("endsolid float\n");
        text.into_bytes()
    }
}
