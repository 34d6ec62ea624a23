use std::io::{Cursor, Write};
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipWriter};

/// A ZIP archive of files, by name and content. The time of the files is always the same, so that
/// the same files give the same bytes.
pub fn archive<'a>(files: impl Iterator<Item = (&'a str, &'a [u8])>) -> Vec<u8> {
    let options = SimpleFileOptions::default()
        .compression_method(CompressionMethod::Deflated)
        // A tenth larger than at the usual level, in half the time.
        .compression_level(Some(3))
        .last_modified_time(zip::DateTime::default());
    let mut package = ZipWriter::new(Cursor::new(Vec::new()));
    for (name, bytes) in files {
        package.start_file(name, options).expect("writing to memory does not fail");
        package.write_all(bytes).expect("writing to memory does not fail");
    }
    package.finish().expect("writing to memory does not fail").into_inner()
}
