//! The package around a model: a ZIP archive with a list of content types and the relationships that
//! name the part to start from (Open Packaging Conventions, ECMA-376 part 2; 3MF Core Specification 1.3,
//! section 2). Sizes are limited, since a few kilobytes of ZIP can unfold to anything.

use super::super::MeshFileError;
use super::xml::Attributes;
use super::{MODEL_TYPE, START_PART, quoted, refuse};
use quick_xml::Reader;
use quick_xml::events::{BytesStart, Event};
use std::collections::HashSet;
use std::io::{Cursor, Read};

/// The most a package may have in it, and the most its model may unfold to, in bytes.
const MOST_PARTS: usize = 10_000;
pub(super) const MOST_MODEL_BYTES: u64 = 256 << 20;

/// The most a list of content types or of relationships may unfold to, in bytes.
const MOST_LIST_BYTES: u64 = 1 << 20;

type Package<'a> = zip::ZipArchive<Cursor<&'a [u8]>>;

/// The text of the model part: the one the package's relationships name.
pub(super) fn model_part(bytes: &[u8]) -> Result<String, MeshFileError> {
    let broken = |error: zip::result::ZipError| refuse(error.to_string());
    let mut package = zip::ZipArchive::new(Cursor::new(bytes)).map_err(broken)?;
    if package.len() > MOST_PARTS {
        return Err(refuse(format!("it has {} parts; {MOST_PARTS} are the most", package.len())));
    }
    let relationships = text_of(&mut package, "_rels/.rels", MOST_LIST_BYTES)?
        .ok_or_else(|| refuse("it has no relationships (_rels/.rels) that name its model"))?;
    let name = start_part(&relationships)?;
    let types = text_of(&mut package, "[Content_Types].xml", MOST_LIST_BYTES)?
        .ok_or_else(|| refuse("it has no list of content types ([Content_Types].xml)"))?;
    if content_type(&types, &name)?.as_deref() != Some(MODEL_TYPE) {
        let shown = quoted(&name);
        return Err(refuse(format!("its content types do not call {shown} a 3MF model")));
    }
    text_of(&mut package, &name, MOST_MODEL_BYTES)?
        .ok_or_else(|| refuse(format!("its model, {}, is missing", quoted(&name))))
}

/// The text of a part, in UTF-8 or UTF-16; nothing where there is no such part.
fn text_of(
    package: &mut Package<'_>,
    name: &str,
    most: u64,
) -> Result<Option<String>, MeshFileError> {
    let part = match package.by_name(name) {
        Ok(part) => part,
        Err(zip::result::ZipError::FileNotFound) => return Ok(None),
        Err(error) => return Err(refuse(error.to_string())),
    };
    let mut bytes = Vec::new();
    part.take(most + 1).read_to_end(&mut bytes).map_err(|error| refuse(error.to_string()))?;
    if bytes.len() as u64 > most {
        let shown = quoted(name);
        return Err(refuse(format!("{shown} unfolds to more than {} MB", most >> 20)));
    }
    let other = || refuse(format!("{} is neither in UTF-8 nor in UTF-16", quoted(name)));
    let text = match bytes {
        bytes if bytes.starts_with(&[0xff, 0xfe]) => utf_16(&bytes[2..], u16::from_le_bytes),
        bytes if bytes.starts_with(&[0xfe, 0xff]) => utf_16(&bytes[2..], u16::from_be_bytes),
        bytes => String::from_utf8(bytes).ok(),
    };
    let text = text.ok_or_else(other)?;
    Ok(Some(text.strip_prefix('\u{feff}').map(str::to_owned).unwrap_or(text)))
}

fn utf_16(bytes: &[u8], unit: fn([u8; 2]) -> u16) -> Option<String> {
    let units = bytes.chunks(2).map(|pair| pair.try_into().ok().map(unit));
    String::from_utf16(&units.collect::<Option<Vec<u16>>>()?).ok()
}

/// The tags of a list of one level, each with what it is called.
fn each_tag(
    xml: &str,
    mut take: impl FnMut(&BytesStart<'_>) -> Result<(), MeshFileError>,
) -> Result<(), MeshFileError> {
    let mut reader = Reader::from_str(xml);
    loop {
        match reader.read_event().map_err(|error| refuse(error.to_string()))? {
            Event::Eof => return Ok(()),
            Event::Start(tag) | Event::Empty(tag) => take(&tag)?,
            _ => {}
        }
    }
}

/// The name of the one part to start from, without its leading slash.
fn start_part(relationships: &str) -> Result<String, MeshFileError> {
    let mut ids = HashSet::new();
    let mut found = Vec::new();
    each_tag(relationships, |tag| {
        if tag.local_name().as_ref() != "Relationship" {
            return Ok(());
        }
        let attributes = Attributes::of(tag, ["Id", "Type", "Target"])?;
        let id = attributes.needed(0)?;
        if !ids.insert(id.to_owned()) {
            return Err(refuse(format!("there are two relationships {}", quoted(id))));
        }
        if attributes.needed(1)? == START_PART {
            found.push(attributes.needed(2)?.to_owned());
        }
        Ok(())
    })?;
    match &found[..] {
        [name] => Ok(name.trim_start_matches('/').to_owned()),
        [] => Err(refuse("none of its relationships names a model")),
        several => Err(refuse(format!("its relationships name {} models", several.len()))),
    }
}

/// The content type of a part: its own, or that of its extension. Names are compared without regard to
/// the case of ASCII letters, as the conventions say.
fn content_type(types: &str, name: &str) -> Result<Option<String>, MeshFileError> {
    let extension = name.rsplit_once('.').map_or("", |(_, extension)| extension);
    let (mut own, mut of_extension) = (None, None);
    each_tag(types, |tag| {
        let (kind, named, of) = match tag.local_name().as_ref() {
            "Override" => (&mut own, "PartName", name),
            "Default" => (&mut of_extension, "Extension", extension),
            _ => return Ok(()),
        };
        let attributes = Attributes::of(tag, [named, "ContentType"])?;
        if attributes.needed(0)?.trim_start_matches('/').eq_ignore_ascii_case(of) {
            *kind = Some(attributes.needed(1)?.to_owned());
        }
        Ok(())
    })?;
    Ok(own.or(of_extension))
}
