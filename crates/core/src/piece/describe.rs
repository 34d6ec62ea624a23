//! The description of the piece format, generated from the types themselves. Only the test that writes it, and
//! compares it with what is written, is built with what it takes.

use super::{FORMAT_VERSION, LIMITS, Measure, Piece};
use serde_json::Value;
use std::fmt::Write;

/// The piece format as Markdown: every type with its fields, their types and what they mean, and
/// the JSON Schema it was made from.
fn format_description() -> String {
    let schema = schemars::schema_for!(Piece).to_value();
    let mut text = format!(
        "# The piece file, version {FORMAT_VERSION}\n\n\
         This page is generated from the program's own types; a test fails when the two differ.\n\n\
         A piece file is UTF-8 JSON, by custom named `….kalotype.json`, of at most 1 MiB. All \
         lengths are numbers in millimetres. Unknown versions and unknown fields are refused with \
         the path of what is wrong. Where a field is one of several shapes, its name is the key: \
         `{{\"raised\": 1.5}}`, or a plain string where there is nothing to add: `\"through\"`.\n\n"
    );
    describe(&mut text, "Piece", &schema);
    let definitions = schema["$defs"].as_object().cloned().unwrap_or_default();
    for (name, definition) in &definitions {
        if definition["properties"].is_object() || variants(definition).is_some() {
            describe(&mut text, name, definition);
        }
    }
    describe_limits(&mut text);
    let json = serde_json::to_string_pretty(&schema).unwrap_or_default();
    let _ = write!(text, "## JSON Schema\n\n```json\n{json}\n```\n");
    text
}

fn describe(text: &mut String, name: &str, schema: &Value) {
    let _ = write!(text, "## {name}\n\n{}\n\n", sentence(schema));
    if let Some(properties) = schema["properties"].as_object() {
        text.push_str("| field | type | meaning |\n|---|---|---|\n");
        for (field, property) in properties {
            let (kind, meaning) = (kind(property), sentence(property));
            let _ = writeln!(text, "| `{field}` | {kind} | {meaning} |");
        }
    }
    if let Some(variants) = variants(schema) {
        text.push_str("| one of | meaning |\n|---|---|\n");
        for variant in variants {
            let shape = if let Some(word) = variant["const"].as_str() {
                format!("`\"{word}\"`")
            } else if let Some(words) = variant["enum"].as_array() {
                words.iter().map(|word| format!("`{word}`")).collect::<Vec<_>>().join(", ")
            } else if let Some((key, inner)) =
                variant["properties"].as_object().and_then(|p| p.iter().next())
            {
                format!("`{{\"{key}\": …}}` with {}", kind(inner))
            } else {
                continue;
            };
            let _ = writeln!(text, "| {shape} | {} |", sentence(variant));
        }
    }
    text.push('\n');
}

/// The table of what figures can be, which is the one they are checked by.
fn describe_limits(text: &mut String) {
    text.push_str(
        "## What figures can be\n\nA `*` stands for anything that has such a field, or in a field for \
         one name.\n\n| of | field | what | from | to |\n|---|---|---|---|---|\n",
    );
    for limit in LIMITS {
        let unit = match limit.measure {
            Measure::Length => " mm",
            Measure::Angle => "°",
            Measure::Number | Measure::Count => "",
        };
        let (low, high) = (limit.low, limit.high);
        let _ = writeln!(
            text,
            "| {} | `{}` | {} | {low}{unit} | {high}{unit} |",
            limit.of.replace('*', "`*`"),
            limit.field,
            limit.what
        );
    }
    text.push('\n');
}

fn variants(schema: &Value) -> Option<&Vec<Value>> {
    schema["oneOf"].as_array()
}

fn sentence(schema: &Value) -> String {
    schema["description"].as_str().unwrap_or_default().replace("\n\n", " ").replace('\n', " ")
}

fn kind(schema: &Value) -> String {
    if let Some(name) = schema["$ref"].as_str().and_then(|path| path.rsplit('/').next()) {
        return if name == "Length" {
            "length in mm".to_owned()
        } else {
            format!("[{name}](#{})", name.to_lowercase())
        };
    }
    match schema["type"].as_str() {
        Some("array") => format!("list of {}", kind(&schema["items"])),
        Some("integer") => "whole number".to_owned(),
        Some(other) => other.to_owned(),
        None => String::new(),
    }
}

/// `UPDATE_DOCS=1 cargo test` writes the page anew.
#[test]
fn the_page_in_docs_is_the_one_the_types_give() {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/piece-format.md");
    let made = format_description();
    if std::env::var_os("UPDATE_DOCS").is_some() {
        std::fs::write(path, &made).unwrap();
    }
    assert_eq!(std::fs::read_to_string(path).unwrap_or_default(), made);
}
