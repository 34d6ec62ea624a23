//! What panics say and what they do not.

/// Panics of libraries are caught where they may happen; only one that reaches the target counts.
pub fn libraries() {
    std::panic::set_hook(Box::new(|panic| {
        let place = panic.location().map(|place| place.file()).unwrap_or_default();
        if !place.contains("boostvoronoi") && !place.contains("harfrust") {
            eprintln!("{panic}");
        }
    }));
}
