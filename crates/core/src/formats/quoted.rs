/// Words of a file as they are shown: so many characters at most.
pub(super) fn shortened(text: &str, most: usize) -> String {
    let mut shown: String = text.chars().take(most).collect();
    if shown.len() < text.len() {
        shown.push('…');
    }
    shown
}

/// Words of a file as they are quoted in a message.
pub(super) fn quoted(text: &str) -> String {
    format!("“{}”", shortened(text, 60))
}
