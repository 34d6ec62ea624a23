//! File names that are safe on every system.

use super::OutFile;
use crate::piece::Piece;
use std::borrow::Cow;
use std::collections::HashSet;

/// The most characters a file name keeps of a piece's name.
const LONGEST: usize = 60;

/// Names that Windows keeps for devices ("Naming Files, Paths, and Namespaces", Microsoft Learn), and such as it keeps
/// with one figure behind them.
const RESERVED: [&str; 4] = ["con", "prn", "aux", "nul"];
const RESERVED_NUMBERED: [&str; 2] = ["com", "lpt"];

/// A short, descriptive file name for a piece, without its ending: letters and figures of any
/// script stay, everything else becomes a hyphen.
pub fn file_name(piece_name: &str) -> String {
    let cut: String = plain(piece_name).chars().take(LONGEST).collect();
    let cut = cut.trim_end_matches('-');
    let is_numbered = |device: &&str| {
        let behind = cut.strip_prefix(*device).map(|rest| rest.chars().collect::<Vec<_>>());
        matches!(behind.as_deref(), Some(['0'..='9' | '¹' | '²' | '³']))
    };
    let device = RESERVED.contains(&cut) || RESERVED_NUMBERED.iter().any(is_numbered);
    if cut.is_empty() || device {
        format!("piece-{cut}").trim_end_matches('-').to_owned()
    } else {
        cut.to_owned()
    }
}

/// Letters and figures in lower case, everything between them a hyphen.
fn plain(text: &str) -> String {
    let mut name = String::new();
    for c in text.trim().chars() {
        if c.is_alphanumeric() {
            name.extend(c.to_lowercase());
        } else if !name.is_empty() && !name.ends_with('-') {
            name.push('-');
        }
    }
    name
}

/// What a filament is called where filaments are told apart by name: its name, and of several of one
/// name the later ones with a number behind it.
pub(super) fn called(piece: &Piece, filament: usize) -> Cow<'_, str> {
    let name = &piece.filaments[filament].name;
    let before = piece.filaments[..filament].iter().filter(|other| other.name == *name).count();
    if before == 0 { Cow::Borrowed(name) } else { Cow::Owned(format!("{name} {}", before + 1)) }
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
    text
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
        self.free(&file_name(&name), ending)
    }

    /// The name of the file of a part: its number, from 1, and its colour. A pattern that names
    /// neither gets the colour behind it.
    pub fn part(&mut self, number: usize, colour: &str, ending: &str) -> String {
        let pattern = &self.piece.file_name;
        let tells_apart = ["{colour}", "{part}"].iter().any(|word| pattern.contains(word));
        let pattern = if tells_apart { pattern.clone() } else { format!("{pattern}-{{colour}}") };
        let say = |word: &str, most: usize| match word {
            "colour" => Some(colour.to_owned()),
            "part" => Some(number.to_string()),
            other => Some(self.say(other)?.chars().take(most).collect()),
        };
        // What tells the parts apart stays, however long the rest is.
        let cut = (1..=LONGEST).rev().map(|most| named(&pattern, |word| say(word, most)));
        let name = std::iter::once(named(&pattern, |word| say(word, usize::MAX)))
            .chain(cut)
            .find(|name| plain(name).chars().count() <= LONGEST)
            .unwrap_or_else(|| colour.to_owned());
        self.free(&file_name(&name), ending)
    }

    /// What a word of the pattern says: something of the piece, or one of its inputs.
    fn say(&self, word: &str) -> Option<String> {
        let input = |name: &str| {
            let found = self.piece.inputs.iter().find(|input| input.name == name);
            found.map(|input| input.says().into_owned())
        };
        match word {
            "piece" => Some(self.piece.name.clone()),
            // What the name of the piece says already is not said again.
            "words" => {
                let words = self.piece.words();
                let whole = |text: &str| format!("-{}-", plain(text).trim_end_matches('-'));
                let is_said = whole(&self.piece.name).contains(&whole(&words));
                (!is_said).then_some(words)
            }
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

/// A name none of the files has, whatever system they are unpacked on: itself, or with the first number
/// that is free before its ending.
pub fn free_name(files: &[OutFile], name: &str) -> String {
    let taken: Vec<&str> = files.iter().map(|file| file.name.as_str()).collect();
    free_among(&taken, name)
}

/// The same among names.
pub fn free_among(taken: &[impl AsRef<str>], name: &str) -> String {
    let is_free =
        |name: &String| !taken.iter().any(|one| one.as_ref().to_lowercase() == name.to_lowercase());
    let ending = name.find('.').unwrap_or(name.len());
    let (stem, ending) = name.split_at(ending);
    let numbered = (2..).map(|number| format!("{stem}-{number}{ending}"));
    std::iter::once(name.to_owned()).chain(numbered).find(is_free).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::piece::ElementKind;
    use crate::testing::{edited, fresh, set, try_edits};
    use serde_json::json;

    #[test]
    fn fobs_of_one_starter_are_told_apart_by_their_words() {
        let named = |name: &str, words: &str| {
            let mut piece = edited(
                &fresh(&[ElementKind::Lettering]),
                &[set("lettering-1", "lines.0.words", json!(words))],
            );
            piece.name = name.to_owned();
            Naming::of(&piece, None).whole("stl")
        };
        assert_eq!(named("Key fob", "Ana"), "key-fob-ana.stl");
        assert_eq!(named("Key fob", "Łucja ß"), "key-fob-łucja-ß.stl");
        assert_eq!(named("Key fob", ""), "key-fob.stl");
        // "Ana" is not said by "Anatomy".
        assert_eq!(named("Anatomy tag", "Ana"), "anatomy-tag-ana.stl");
        assert_eq!(named("Tag, Ana!", "ANA"), "tag-ana.stl");
        assert_eq!(named("Cabin key, Solveig", "SOLVEIG"), "cabin-key-solveig.stl");
        let unknown = try_edits(&fresh(&[]), &[set("piece", "file_name", json!("{nam}-{date}"))]);
        let message = unknown.unwrap_err().message;
        assert!(message.starts_with("There is no {nam}. There are {piece}, {words},"), "{message}");
        edited(&fresh(&[]), &[set("piece", "file_name", json!("{ piece }-{date} {wor"))]);
    }

    #[test]
    fn names_are_safe_short_and_still_readable() {
        for (name, file) in [
            ("Cabin key, Solveig", "cabin-key-solveig"),
            ("  Łucja & Ğül / \"Ω\" ", "łucja-ğül-ω"),
            ("../../etc/passwd", "etc-passwd"),
            ("CON", "piece-con"),
            ("com1", "piece-com1"),
            ("LPT³", "piece-lpt³"),
            ("Comb", "comb"),
            ("coma", "coma"),
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
        let input = crate::piece::Input::new;
        piece.inputs = vec![input("name", "Åse Łukasiewicz"), input("section", "East / quay")];
        let mut name = |pattern: &str| {
            piece.file_name = pattern.into();
            Naming::of(&piece, Some("2026-11-25")).whole("stl")
        };
        assert_eq!(name("{piece}"), "berth-tag.stl");
        assert_eq!(name("{section}_{initials}_{date}"), "east-quay-åł-2026-11-25.stl");
        assert_eq!(name("{nothing}{"), "piece.stl");
        // A text that counts is named as it is set.
        let mut token = crate::piece::Input::new("token", "No ");
        token.counts = Some(crate::piece::Counts { from: 7, figures: 3 });
        let mut counting = Piece::new("Token", crate::units::Unit::Millimetre);
        counting.inputs = vec![token];
        counting.file_name = "{piece} {token}".into();
        let third = Naming::of(&counting.copy_number(2), None).whole("stl");
        assert_eq!(third, "token-no-009.stl");
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

    #[test]
    fn a_long_name_leaves_room_for_the_colour_and_one_name_twice_is_told_apart() {
        let name = "The long way round the outer skerries by the evening ferry, Ólafur";
        let mut piece = Piece::new(name, crate::units::Unit::Millimetre);
        let mut naming = Naming::of(&piece, None);
        for colour in ["Sail white", "Lantern yellow"] {
            let file = naming.part(1, colour, "stl");
            assert!(file.starts_with("the-long-way-round"), "{file}");
            assert!(file.ends_with(&format!("{}.stl", plain(colour))), "{file}");
            assert!(file.chars().count() <= LONGEST + 4, "{file}");
        }
        let first = piece.filaments[0].clone();
        piece.filaments.push(crate::filament::Filament { id: "other".into(), ..first.clone() });
        assert_eq!(called(&piece, 0), first.name);
        assert_eq!(called(&piece, 1), format!("{} 2", first.name));
    }

    fn file(name: &str) -> OutFile {
        OutFile { name: name.to_owned(), bytes: Vec::new(), triangles: None }
    }

    #[test]
    fn files_are_told_apart_before_their_ending_whatever_their_capitals() {
        let files = [file("fob.stl"), file("fob-2.stl"), file("Tag.kalotype.json")];
        assert_eq!(free_name(&files, "FOB.stl"), "FOB-3.stl");
        assert_eq!(free_name(&files, "tag.kalotype.json"), "tag-2.kalotype.json");
        assert_eq!(free_name(&files, "ring.stl"), "ring.stl");
    }
}
