//! What is wrong with a document, in words for a person: the library that reads JSON speaks of types.

use super::limits::{Measure, limit_of};

/// How many characters of a document are quoted.
const MOST_QUOTED: usize = 60;

/// What the reader of JSON says of a value, in words; of a figure, what it could be instead.
///
/// `of` is the kind of thing the field belongs to, as in [`limit_of`].
pub(super) fn said(message: &str, of: &str, field: &str) -> String {
    let expected = message.split_once("expected ").map_or("", |(_, expected)| expected);
    if let Some(name) = after(message, "missing field ") {
        return format!("“{name}” is missing.");
    }
    if let Some(name) = after(message, "duplicate field ") {
        return format!("“{name}” is there twice.");
    }
    if let Some(name) = after(message, "unknown field ") {
        return format!("There is no “{name}” here. There can be {}.", choices(expected));
    }
    if let Some(name) = after(message, "unknown variant ") {
        return format!("“{name}” is none of the choices: {}.", choices(expected));
    }
    if let Some(limit) = limit_of(of, field) {
        return format!("{} is {}.", limit.what, example_of(limit.measure));
    }
    let Some(found) = message
        .strip_prefix("invalid type: ")
        .or_else(|| message.strip_prefix("invalid value: "))
        .or_else(|| message.strip_prefix("invalid length "))
    else {
        return "This cannot be read.".to_owned();
    };
    let found = found.split_once(", expected").map_or(found, |(found, _)| found);
    format!("{} stands where {} belongs.", thing(found), wanted(expected))
}

/// What the library that reads JSON says of something that does not fit, in words; nothing where the message is no message of
/// that library.
pub fn misfit_in_words(message: &str) -> Option<String> {
    const BEGINNINGS: [&str; 7] = [
        "missing field ",
        "duplicate field ",
        "unknown field ",
        "unknown variant ",
        "invalid type: ",
        "invalid value: ",
        "invalid length ",
    ];
    BEGINNINGS.iter().any(|beginning| message.starts_with(beginning)).then(|| said(message, "", ""))
}

/// What a figure of a measure is in a document, with an example.
fn example_of(measure: Measure) -> &'static str {
    match measure {
        Measure::Length => "a number of millimetres, such as 12.5",
        Measure::Angle => "a number of degrees, such as 45",
        Measure::Number => "a number, such as 0.5",
        Measure::Count => "a whole number, such as 4",
    }
}

/// The name in backticks after some words.
fn after(message: &str, words: &str) -> Option<String> {
    let name = message.strip_prefix(words)?.split('`').nth(1)?;
    Some(name.chars().take(MOST_QUOTED).collect())
}

/// The names in backticks, as a list.
fn choices(expected: &str) -> String {
    let names: Vec<&str> = expected.split('`').skip(1).step_by(2).collect();
    match names.split_last() {
        None => "nothing".to_owned(),
        Some((only, [])) => format!("“{only}”"),
        Some((last, others)) => {
            let others: Vec<String> = others.iter().map(|name| format!("“{name}”")).collect();
            format!("{} or “{last}”", others.join(", "))
        }
    }
}

/// What was found, as the reader of JSON calls it: `string "6 mm"`, `integer `5``, `map`.
fn thing(found: &str) -> String {
    let quoted = |text: &str| format!("“{}”", text.chars().take(MOST_QUOTED).collect::<String>());
    match found.split_once(' ') {
        Some(("string", text)) => quoted(text.trim_matches('"')),
        Some((_, figure)) => quoted(figure.trim_matches('`')),
        None => match found {
            "null" | "unit" | "Option" => "Nothing".to_owned(),
            "map" => "A group of fields".to_owned(),
            "sequence" => "A list".to_owned(),
            other => quoted(other),
        },
    }
}

/// What belongs there, as the reader of JSON calls it.
fn wanted(expected: &str) -> String {
    match expected {
        "f64" | "f32" => "a number".to_owned(),
        "u8" | "u16" | "u32" | "u64" | "usize" | "i32" | "i64" => "a whole number".to_owned(),
        "a string" | "string" => "text".to_owned(),
        "a boolean" => "true or false".to_owned(),
        "a sequence" => "a list".to_owned(),
        _ if expected.starts_with("struct ") || expected.contains("map") => {
            "a group of fields".to_owned()
        }
        _ if expected.contains('`') => format!("one of {}", choices(expected)),
        _ => "something else".to_owned(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The messages are those `serde` 1 gives.
    #[test]
    fn a_person_reads_no_types() {
        for (message, of, field, words) in [
            (
                "invalid type: string \"6 mm\", expected f64",
                "plate",
                "width",
                "The plate’s width is a number of millimetres, such as 12.5.",
            ),
            (
                "invalid type: string \"much\", expected f64",
                "lettering",
                "style.slant",
                "The slant is a number of degrees, such as 45.",
            ),
            (
                "invalid type: floating point `2.5`, expected u32",
                "plate",
                "outline.polygon.sides",
                "A polygon’s corners is a whole number, such as 4.",
            ),
            (
                "unknown variant `hovering`, expected one of `raised`, `flush`",
                "lettering",
                "relief",
                "“hovering” is none of the choices: “raised” or “flush”.",
            ),
            (
                "unknown field `wide`, expected `width`",
                "plate",
                "",
                "There is no “wide” here. There can be “width”.",
            ),
            ("missing field `id`", "piece", "", "“id” is missing."),
            ("duplicate field `depth`", "hole", "", "“depth” is there twice."),
            (
                "invalid type: integer `5`, expected struct Component",
                "piece",
                "",
                "“5” stands where a group of fields belongs.",
            ),
            (
                "invalid type: null, expected a string",
                "piece",
                "name",
                "Nothing stands where text belongs.",
            ),
            (
                "invalid type: map, expected a boolean",
                "hole",
                "locked",
                "A group of fields stands where true or false belongs.",
            ),
            ("recursion limit exceeded", "piece", "", "This cannot be read."),
        ] {
            assert_eq!(said(message, of, field), words);
        }
        let long = format!("unknown field `{}`, expected `a`", "x".repeat(10_000));
        assert!(said(&long, "piece", "").len() < 200);
    }
}
