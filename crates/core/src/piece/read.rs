//! Reading piece files, of this version and earlier ones.

use super::{FORMAT_VERSION, Piece, upgrade, wording};
use crate::json::{Misfit, Node};
use thiserror::Error;

/// The largest piece file that is read.
pub const MAX_FILE_BYTES: usize = 1 << 20;

/// Why a piece file was refused.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum ReadError {
    /// Larger than [`MAX_FILE_BYTES`].
    #[error("the file has {0} bytes; a piece file has at most {MAX_FILE_BYTES}")]
    TooLarge(usize),
    /// Not a piece file of any version.
    #[error("this is not a piece file: {0}")]
    NotAPiece(String),
    /// Written by a program that knows more than this one.
    #[error(
        "kalotype: this is version {0} of the format; this program reads versions 1 to {FORMAT_VERSION}"
    )]
    Version(u32),
    /// A field that is missing, unknown or of the wrong type.
    #[error("{path}: {message}")]
    Field {
        /// Where in the file, for example `components[0].blank.plate.width`.
        path: String,
        /// What is wrong there.
        message: String,
    },
}

/// Reads a piece file.
///
/// # Errors
/// [`ReadError`] with the path of what is wrong; unknown versions and fields are refused.
pub fn read(bytes: &[u8]) -> Result<Piece, ReadError> {
    if bytes.len() > MAX_FILE_BYTES {
        return Err(ReadError::TooLarge(bytes.len()));
    }
    // A list would otherwise be taken for the fields in their order.
    if !bytes.trim_ascii_start().starts_with(b"{") {
        return Err(ReadError::NotAPiece("it does not begin with {".to_owned()));
    }
    let document = Node::parse(bytes).map_err(|error| no_json(&error))?;
    let text = str::from_utf8(bytes).ok();
    let piece = match version_of(&document)? {
        FORMAT_VERSION => piece_of(document, text)?,
        earlier @ 1..FORMAT_VERSION => {
            let mut document = document.try_into().map_err(|misfit| refusal(&misfit, text))?;
            if earlier == 1 {
                document = upgrade::from_version_1(document);
            }
            if earlier <= 2 {
                document = upgrade::from_version_2(document);
            }
            if earlier <= 3 {
                document = upgrade::from_version_3(document);
            }
            if earlier <= 4 {
                document = upgrade::from_version_4(document);
            }
            if earlier <= 5 {
                document = upgrade::from_version_5(document);
            }
            if earlier <= 6 {
                document = upgrade::from_version_6(document);
            }
            if earlier <= 7 {
                document = upgrade::from_version_7(document);
            }
            if earlier <= 8 {
                document = upgrade::from_version_8(document);
            }
            if earlier <= 9 {
                document = upgrade::from_version_9(document);
            }
            if earlier <= 10 {
                document = upgrade::from_version_10(document);
            }
            if earlier <= 11 {
                document = upgrade::from_version_11(document);
            }
            if earlier <= 12 {
                document = upgrade::from_version_12(document);
            }
            piece_of(upgrade::from_version_13(document).into(), None)?
        }
        other => return Err(ReadError::Version(other)),
    };
    match piece.problems().into_iter().next() {
        None => Ok(piece),
        Some(problem) => Err(ReadError::Field { path: problem.path, message: problem.message }),
    }
}

/// The version a document says it has.
fn version_of(document: &Node) -> Result<u32, ReadError> {
    let no_piece = |message: &str| ReadError::NotAPiece(wording::said(message, "piece", ""));
    let version = document.field("kalotype").ok_or_else(|| no_piece("missing field `kalotype`"))?;
    version.clone().read().map_err(|misfit| no_piece(misfit.message()))
}

/// Reads a piece; nothing is checked beyond types.
fn piece_of(document: Node, text: Option<&str>) -> Result<Piece, ReadError> {
    document.read().map_err(|misfit| refusal(&misfit, text))
}

/// The path of what does not fit, and its line in the text it comes from.
fn refusal(misfit: &Misfit, text: Option<&str>) -> ReadError {
    let path = misfit.path();
    let (of, field) = place_of(&path);
    let message = wording::said(misfit.message(), of, field);
    match text.and_then(|text| misfit.line_in(text)) {
        _ if path.is_empty() => ReadError::NotAPiece(message),
        Some(line) => ReadError::Field { path, message: format!("{message} (line {line})") },
        None => ReadError::Field { path, message },
    }
}

/// The kind of thing a path in the file leads to, and the field of it.
fn place_of(path: &str) -> (&str, &str) {
    let in_component = path.split_once(".kind.").or_else(|| path.split_once(".blank."));
    match in_component {
        Some((_, place)) => place.split_once('.').unwrap_or((place, "")),
        None => ("piece", path),
    }
}

/// That something is no JSON, and where it stops being that.
fn no_json(error: &serde_json::Error) -> ReadError {
    let (line, character) = (error.line(), error.column());
    ReadError::NotAPiece(match error.to_string() {
        said if said.starts_with("number out of range") => {
            format!("the figure in line {line} is too large")
        }
        _ => format!("it is no JSON from line {line}, character {character} on"),
    })
}

/// Writes a piece file: indented JSON with a line break at the end.
pub fn write(piece: &Piece) -> String {
    let mut json = serde_json::to_string_pretty(piece).expect("a piece has only string keys");
    json.push('\n');
    json
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::piece::ElementKind;
    use crate::testing::fresh;

    fn fob() -> Piece {
        Piece {
            name: "Cabin key, Solveig".into(),
            ..fresh(&[ElementKind::Hole, ElementKind::Lettering])
        }
    }

    #[test]
    fn a_piece_survives_its_file() {
        assert_eq!(read(write(&fob()).as_bytes()), Ok(fob()));
        insta::assert_snapshot!(write(&fob()));
    }

    #[test]
    fn what_is_wrong_is_named_by_its_path() {
        let refused = |from: &str, to: &str| {
            let file = write(&fob());
            assert!(file.contains(from), "{from}");
            read(file.replacen(from, to, 1).as_bytes()).unwrap_err().to_string()
        };
        insta::assert_snapshot!(
            [
                refused("\"kalotype\": 14", "\"kalotype\": 15"),
                refused("\"kalotype\": 14", "\"version\": 2"),
                refused("\"kalotype\": 14", "\"kalotype\": 13, \"kalotype\": 14"),
                refused("\"width\": 72.0", "\"width\": 10000.0"),
                refused("\"width\": 72.0", "\"width\": -1"),
                refused("\"width\": 72.0", "\"width\": \"72\""),
                refused("\"width\": 72.0", "\"width\": 1e999"),
                refused("\"width\": 72.0", "\"width\": NaN"),
                refused("\"width\": 72.0", "\"wide\": 72.0"),
                refused("\"diameter\": 5.0", "\"diameter\": null"),
                refused("\"diameter\": 5.0", "\"depth\": 5.0, \"diameter\": 5.0"),
                refused("\"raised\"", "\"hovering\""),
                refused("\"nunito\"", "\"nunitoo\""),
                refused("\"Cabin key, Solveig\"", "\"  \""),
                refused("\"id\": \"lettering-1\"", "\"id\": \"hole-1\""),
                refused("\"components\": [", "\"components\": [ 5, "),
                refused("}", ""),
            ]
            .join("\n")
        );
        for list in ["[1]", " [6]", "[]", "1", ""] {
            assert!(matches!(read(list.as_bytes()), Err(ReadError::NotAPiece(_))), "{list}");
        }
        assert_eq!(
            read(&vec![b' '; MAX_FILE_BYTES + 1]),
            Err(ReadError::TooLarge(MAX_FILE_BYTES + 1))
        );
    }
}
