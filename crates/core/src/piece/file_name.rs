//! What the files of a piece are named by: a pattern with words in braces.

use super::{Kind, Piece};

/// The pattern of a new piece: two fobs from one starter get different names.
pub const FRESH_FILE_NAME: &str = "{piece} {words}";

/// The pattern of pieces from before there was one.
pub(super) const PLAIN_FILE_NAME: &str = "{piece}";

/// The words a pattern may have in braces, beside the names of the piece's own texts.
pub const FILE_WORDS: [&str; 6] = ["piece", "words", "colour", "part", "date", "initials"];

impl Piece {
    /// The words a pattern for its files may have in braces.
    pub fn file_words(&self) -> impl Iterator<Item = &str> {
        let own = self.inputs.iter().map(|input| input.name.as_str());
        FILE_WORDS.into_iter().chain(own.filter(|name| !FILE_WORDS.contains(name)))
    }

    /// What is wrong with a pattern for its files, for the person who typed it.
    pub(crate) fn trouble_with_file_name(&self, pattern: &str) -> Option<String> {
        let mut in_braces = pattern.split('{').skip(1).filter_map(|rest| rest.split_once('}'));
        let unknown = in_braces.find(|(word, _)| !self.file_words().any(|one| one == word.trim()));
        let (unknown, _) = unknown?;
        let known: Vec<String> = self.file_words().map(|word| format!("{{{word}}}")).collect();
        let shown: String = unknown.chars().take(40).collect();
        Some(format!("There is no {{{shown}}}. There are {}.", known.join(", ")))
    }

    /// What its lettering says, all of it, in the order of the document.
    pub fn words(&self) -> String {
        let elements = self.components.iter().flat_map(|component| &component.elements);
        let lines = elements.filter_map(|element| match &element.kind {
            Kind::Lettering(lettering) => Some(&lettering.lines),
            _ => None,
        });
        let words = lines.flatten().map(|line| self.filled_in(&line.words).trim().to_owned());
        words.collect::<Vec<_>>().join(" ")
    }
}
