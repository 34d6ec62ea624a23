//! ZIP archives: written file by file, and opened within bounds.

use std::io::{Cursor, Read, Seek, Write};
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipWriter};

/// A ZIP archive of files, by name and content. The time of the files is always the same, so that
/// the same files give the same bytes.
pub fn archive<'a>(files: impl Iterator<Item = (&'a str, &'a [u8])>) -> Vec<u8> {
    let mut packing = Packing::new(Cursor::new(Vec::new()));
    for (name, bytes) in files {
        packing.add(name, bytes).expect("writing to memory does not fail");
    }
    packing.finish().expect("writing to memory does not fail").into_inner()
}

/// A ZIP archive that is written file by file, so that not all of them have to be there at once.
pub struct Packing<W: Write + Seek> {
    package: ZipWriter<W>,
    names: Vec<String>,
}

impl<W: Write + Seek> Packing<W> {
    /// An archive with nothing in it yet.
    pub fn new(to: W) -> Self {
        Packing { package: ZipWriter::new(to), names: Vec::new() }
    }

    /// Puts a file into it.
    ///
    /// # Errors
    /// Where it cannot be written.
    pub fn add(&mut self, name: &str, bytes: &[u8]) -> std::io::Result<()> {
        let options = SimpleFileOptions::default()
            .compression_method(CompressionMethod::Deflated)
            // A tenth larger than at the usual level, in half the time.
            .compression_level(Some(3))
            .last_modified_time(zip::DateTime::default());
        self.package.start_file(name, options)?;
        self.names.push(name.to_owned());
        self.package.write_all(bytes)
    }

    /// The names of the files in it.
    pub fn names(&self) -> &[String] {
        &self.names
    }

    /// What it was written to, with all of it.
    ///
    /// # Errors
    /// Where it cannot be written.
    pub fn finish(self) -> std::io::Result<W> {
        Ok(self.package.finish()?)
    }
}

/// The files of a ZIP archive by name and content, folders left out.
///
/// # Errors
/// A sentence on what is wrong: no archive, more than 100 files, two of one name, or together larger than
/// `most` bytes when they are unpacked.
pub fn open_archive(bytes: &[u8], most: usize) -> Result<Vec<(String, Vec<u8>)>, String> {
    const MOST_FILES: usize = 100;
    let broken = |error: zip::result::ZipError| format!("The archive cannot be read: {error}.");
    let mut package = zip::ZipArchive::new(Cursor::new(bytes)).map_err(broken)?;
    if package.len() > MOST_FILES {
        let found = package.len();
        return Err(format!("The archive has {found} files; {MOST_FILES} are the most."));
    }
    let mut files: Vec<(String, Vec<u8>)> = Vec::new();
    let mut room = most as u64;
    for i in 0..package.len() {
        let part = package.by_index(i).map_err(broken)?;
        if part.is_dir() {
            continue;
        }
        let name =
            part.name().map_err(broken)?.rsplit(['/', '\\']).next().unwrap_or_default().to_owned();
        if files.iter().any(|(known, _)| *known == name) {
            return Err(format!("The archive has two files called {}.", shortened(&name)));
        }
        let mut content = Vec::new();
        part.take(room + 1)
            .read_to_end(&mut content)
            .map_err(|error| format!("The archive cannot be unpacked: {error}."))?;
        room = room.checked_sub(content.len() as u64).ok_or_else(|| {
            format!("The archive unpacks to more than {} MB, the most that is read.", most >> 20)
        })?;
        files.push((name, content));
    }
    Ok(files)
}

/// A name as it is told: no longer than anybody reads.
fn shortened(name: &str) -> String {
    name.chars().take(80).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_was_packed_comes_out_and_no_more_than_is_bearable() {
        let files = [("a.json", &b"{}"[..]), ("b/c.stl", &[7; 5000])];
        let packed = archive(files.into_iter());
        let opened = open_archive(&packed, 6000).unwrap();
        assert_eq!(opened[0], ("a.json".to_owned(), b"{}".to_vec()));
        assert_eq!((opened[1].0.as_str(), opened[1].1.len()), ("c.stl", 5000));
        assert!(open_archive(&packed, 4000).unwrap_err().contains("unpacks to more"));
        let twice = archive([("a/x.json", &b"1"[..]), ("b/x.json", &b"2"[..])].into_iter());
        let said = open_archive(&twice, 4000).unwrap_err();
        assert_eq!(said, "The archive has two files called x.json.");
        assert!(open_archive(b"PK nothing", 4000).unwrap_err().contains("cannot be read"));
    }
}
