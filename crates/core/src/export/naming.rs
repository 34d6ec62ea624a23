//! File names that are safe on every system.

use crate::piece::Piece;
use std::collections::HashSet;

/// The most characters a file name keeps of a piece's name.
const LONGEST: usize = 60;

/// Names that Windows keeps for devices ("Naming Files, Paths, and Namespaces", Microsoft Learn).
const RESERVED: [&str; 4] = ["con", "prn", "aux", "nul"];

/// A short, descriptive file name for a piece, without its ending: letters and figures of any
/// script stay, everything else becomes a hyphen.
pub fn file_name(piece_name: &str) -> String {
    let mut name = String::new();
    for c in piece_name.trim().chars() {
        if c.is_alphanumeric() {
            name.extend(c.to_lowercase());
        } else if !name.is_empty() && !name.ends_with('-') {
            name.push('-');
        }
    }
    let cut: String = name.chars().take(LONGEST).collect();
    let cut = cut.trim_end_matches('-');
    let device = RESERVED.contains(&cut)
        || (cut.len() == 4 && (cut.starts_with("com") || cut.starts_with("lpt")));
    if cut.is_empty() || device {
        format!("piece-{cut}").trim_end_matches('-').to_owned()
    } else {
        cut.to_owned()
    }
}

/// What the words in braces of a pattern say, put in its place; what nothing is known of is left out.
/// `say` gets the word without its braces.
fn named(pattern: &str, say: impl Fn(&str) -> Option<String>) -> String {
    let mut text = String::new();
    let mut rest = pattern;
    while let Some((before, after)) = rest.split_once('{') {
        text.push_str(before);
        let Some((word, behind)) = after.split_once('}') else {
            rest = after;
            continue;
        };
        text.push_str(&say(word.trim()).unwrap_or_default());
        rest = behind;
    }
    text.push_str(rest);
    file_name(&text)
}

/// Names the files of one export by the pattern of a piece.
pub(super) struct Naming<'a> {
    piece: &'a Piece,
    date: Option<&'a str>,
    taken: HashSet<String>,
}

impl<'a> Naming<'a> {
    pub fn of(piece: &'a Piece, date: Option<&'a str>) -> Self {
        Naming { piece, date, taken: HashSet::new() }
    }

    /// The name of a file that holds all of the piece.
    pub fn whole(&mut self, ending: &str) -> String {
        let name = named(&self.piece.file_name, |word| self.say(word));
        self.free(&name, ending)
    }

    /// The name of the file of a part: its number, from 1, and its colour. A pattern that names
    /// neither gets the colour behind it.
    pub fn part(&mut self, number: usize, colour: &str, ending: &str) -> String {
        let pattern = &self.piece.file_name;
        let tells_apart = ["{colour}", "{part}"].iter().any(|word| pattern.contains(word));
        let pattern = if tells_apart { pattern.clone() } else { format!("{pattern}-{{colour}}") };
        let name = named(&pattern, |word| match word {
            "colour" => Some(colour.to_owned()),
            "part" => Some(number.to_string()),
            other => self.say(other),
        });
        self.free(&name, ending)
    }

    /// What a word of the pattern says: something of the piece, or one of its inputs.
    fn say(&self, word: &str) -> Option<String> {
        let input = |name: &str| {
            let found = self.piece.inputs.iter().find(|input| input.name == name);
            found.map(|input| input.value.clone())
        };
        match word {
            "piece" => Some(self.piece.name.clone()),
            "date" => self.date.map(str::to_owned),
            "initials" => input(word).or_else(|| {
                let name = input("name")?;
                Some(name.split_whitespace().filter_map(|part| part.chars().next()).collect())
            }),
            other => input(other),
        }
    }

    /// The name, or where it is taken with a number behind it.
    fn free(&mut self, name: &str, ending: &str) -> String {
        let numbered = (2..).map(|number| format!("{name}-{number}.{ending}"));
        let mut names = std::iter::once(format!("{name}.{ending}")).chain(numbered);
        let free = names.find(|name| !self.taken.contains(name)).unwrap_or_default();
        self.taken.insert(free.clone());
        free
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_are_safe_short_and_still_readable() {
        for (name, file) in [
            ("Cabin key, Solveig", "cabin-key-solveig"),
            ("  Łucja & Ğül / \"Ω\" ", "łucja-ğül-ω"),
            ("../../etc/passwd", "etc-passwd"),
            ("CON", "piece-con"),
            ("com1", "piece-com1"),
            ("🚢🚢", "piece"),
            ("", "piece"),
        ] {
            assert_eq!(file_name(name), file);
        }
        assert_eq!(file_name(&"å".repeat(300)).chars().count(), LONGEST);
    }

    #[test]
    fn patterns_take_what_is_known_and_names_never_collide() {
        let mut piece = Piece::new("Berth tag", crate::units::Unit::Millimetre);
        let input = |name: &str, value: &str| crate::piece::Input {
            name: name.into(),
            value: value.into(),
        };
        piece.inputs = vec![input("name", "Åse Łukasiewicz"), input("section", "East / quay")];
        let mut name = |pattern: &str| {
            piece.file_name = pattern.into();
            Naming::of(&piece, Some("2026-11-25")).whole("stl")
        };
        assert_eq!(name("{piece}"), "berth-tag.stl");
        assert_eq!(name("{section}_{initials}_{date}"), "east-quay-åł-2026-11-25.stl");
        assert_eq!(name("{nothing}{"), "piece.stl");
        piece.file_name = "{name}".into();
        let mut naming = Naming::of(&piece, None);
        let parts = [(1, "Sail white"), (2, "Tar"), (3, "Tar")];
        assert_eq!(
            parts.map(|(number, colour)| naming.part(number, colour, "stl")),
            [
                "åse-łukasiewicz-sail-white.stl",
                "åse-łukasiewicz-tar.stl",
                "åse-łukasiewicz-tar-2.stl"
            ]
        );
    }
}
