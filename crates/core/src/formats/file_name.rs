//! File names that are safe on every system.

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
}
