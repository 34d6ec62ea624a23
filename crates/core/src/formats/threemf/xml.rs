//! Attributes of a tag, in one pass and by name.

use super::super::MeshFileError;
use super::{quoted, refuse};
use quick_xml::events::BytesStart;
use std::borrow::Cow;

/// The most attributes a tag may have: looking for doubled ones takes the square of their number.
const MOST_ATTRIBUTES: usize = 64;

/// The attributes a tag has of these names, and the first of another name that has no prefix.
pub(super) struct Attributes<'a, const N: usize> {
    tag: &'a BytesStart<'a>,
    names: [&'static str; N],
    found: [Option<Cow<'a, str>>; N],
    pub unknown: Option<&'a str>,
}

impl<'a, const N: usize> Attributes<'a, N> {
    /// Reads a tag. Entities other than those of XML itself are refused, and so are doubled attributes.
    pub fn of(tag: &'a BytesStart<'a>, names: [&'static str; N]) -> Result<Self, MeshFileError> {
        let mut all = Attributes { tag, names, found: [const { None }; N], unknown: None };
        for (count, attribute) in tag.attributes().enumerate() {
            if count == MOST_ATTRIBUTES {
                return Err(refuse(format!("a {} of too many attributes", all.tag_name())));
            }
            let attribute = attribute.map_err(|error| refuse(error.to_string()))?;
            let name = attribute.key.into_inner();
            match names.iter().position(|known| *known == name) {
                Some(slot) => all.found[slot] = Some(unescaped(attribute.value)?),
                None if name.contains(':') || name == "xmlns" => {}
                None => all.unknown = Some(name),
            }
        }
        Ok(all)
    }

    /// The words of one of them.
    pub fn words(&self, slot: usize) -> Option<&str> {
        self.found[slot].as_deref()
    }

    /// The words of one that must be there.
    pub fn needed(&self, slot: usize) -> Result<&str, MeshFileError> {
        self.words(slot)
            .ok_or_else(|| refuse(format!("a {} without “{}”", self.tag_name(), self.names[slot])))
    }

    /// A number from nought (ST_ResourceIndex), if it is there.
    pub fn index(&self, slot: usize) -> Result<Option<u32>, MeshFileError> {
        let Some(text) = self.words(slot) else { return Ok(None) };
        let number = text.trim().parse().ok().filter(|number| *number < 1 << 31);
        number.map(Some).ok_or_else(|| {
            refuse(format!("{} is {}, which is no whole number", self.names[slot], quoted(text)))
        })
    }

    /// A number from nought that must be there.
    pub fn needed_index(&self, slot: usize) -> Result<u32, MeshFileError> {
        self.needed(slot)?;
        Ok(self.index(slot)?.unwrap_or_default())
    }

    /// A number from one (ST_ResourceID), if it is there.
    pub fn id(&self, slot: usize) -> Result<Option<u32>, MeshFileError> {
        match self.index(slot)? {
            Some(0) => Err(refuse(format!("{} is 0; ids begin with 1", self.names[slot]))),
            id => Ok(id),
        }
    }

    /// An id that must be there.
    pub fn needed_id(&self, slot: usize) -> Result<u32, MeshFileError> {
        self.needed(slot)?;
        Ok(self.id(slot)?.unwrap_or_default())
    }

    fn tag_name(&self) -> &str {
        self.tag.local_name().into_inner()
    }
}

fn unescaped(value: Cow<'_, str>) -> Result<Cow<'_, str>, MeshFileError> {
    if !value.contains('&') {
        return Ok(value);
    }
    let text = quick_xml::escape::unescape(&value).map_err(|error| refuse(error.to_string()))?;
    Ok(Cow::Owned(text.into_owned()))
}

/// A finite number (ST_Number).
pub(super) fn figure(text: &str) -> Result<f64, MeshFileError> {
    let found = text.trim().parse().ok().filter(|figure: &f64| figure.is_finite());
    found.ok_or_else(|| refuse(format!("{} is no number", quoted(text))))
}
