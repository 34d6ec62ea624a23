//! Letters the typefaces do not have.

use super::{Finding, Job, Weight};
use crate::lettering::typeface_for;
use serde_json::Value;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let lacking = job.lettering().filter(|(_, placed)| !placed.drawn.missing.is_empty());
    lacking
        .filter_map(|(lettering, placed)| {
            let face = job.workshop.typeface(&lettering.typeface)?;
            let named = named(&placed.drawn.missing);
            let words = job.piece.filled_in(&lettering.words());
            let characters: Vec<char> =
                words.chars().filter(|c| !c.is_whitespace() && !c.is_control()).collect();
            let other = typeface_for(&characters, face.group);
            let ending = match &other {
                Some(other) => format!("{} has.", other.name),
                None => "No typeface here has all the letters of these words.".to_owned(),
            };
            let message = format!("{} does not have {named}; left out. {ending}", face.name);
            let finding = job
                .finding("letters-missing", Weight::Must, &placed.id, message)
                .field("lines")
                .at(placed.frame);
            let Some(other) = other else { return Some(finding) };
            let id = &placed.id;
            let mut edits = vec![job.set(id, "typeface", other.id.as_ref())];
            for (i, line) in lettering.lines.iter().enumerate() {
                if line.typeface.is_some() {
                    edits.push(job.set(id, &format!("lines.{i}.typeface"), Value::Null));
                }
            }
            Some(finding.remedy(format!("Use {}", other.name), edits))
        })
        .collect()
}

/// Characters as they are named in a sentence: a few, and how many more there are. One that cannot be
/// seen by itself is named by its number.
fn named(characters: &[char]) -> String {
    const NAMED: usize = 6;
    let name = |c: &char| {
        // A base for what would join the quotation mark.
        let is_mark = matches!(*c as u32, 0x300..=0x36F | 0x483..=0x489 | 0x1AB0..=0x1AFF
            | 0x1DC0..=0x1DFF | 0x20D0..=0x20FF | 0xFE20..=0xFE2F);
        let is_unseen = c.is_control() || matches!(*c as u32 & 0xFFFF, 0xFFFE | 0xFFFF);
        match (is_mark, is_unseen) {
            (true, _) => format!("“◌{c}”"),
            (_, true) => format!("U+{:04X}", *c as u32),
            _ => format!("“{c}”"),
        }
    };
    let mut named = characters.iter().take(NAMED).map(name).collect::<Vec<_>>().join(", ");
    if let Some(more @ 1..) = characters.len().checked_sub(NAMED) {
        named.push_str(&format!(" and {more} more"));
    }
    named
}

#[cfg(test)]
mod tests {
    use super::named;

    #[test]
    fn what_is_missing_is_named_and_counted() {
        assert_eq!(named(&['Ω', '\u{0489}', '\u{FFFF}']), "“Ω”, “◌\u{0489}”, U+FFFF");
        assert_eq!(named(&['a'; 6]).matches('a').count(), 6);
        assert!(named(&['a'; 9]).ends_with("“a” and 3 more"));
    }
}
