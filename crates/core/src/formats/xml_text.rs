/// Text as it may stand in XML: markup escaped, characters XML 1.0 does not have left out.
pub(super) fn xml_text(text: &str) -> String {
    let mut safe = String::with_capacity(text.len());
    for character in text.chars() {
        match character {
            '&' => safe.push_str("&amp;"),
            '<' => safe.push_str("&lt;"),
            '>' => safe.push_str("&gt;"),
            '"' => safe.push_str("&quot;"),
            '\t' | '\n' | '\r' => safe.push(' '),
            '\u{0}'..='\u{1f}' | '\u{fffe}' | '\u{ffff}' => {}
            other => safe.push(other),
        }
    }
    safe
}
