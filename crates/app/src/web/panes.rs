//! The panes of the settings column and the dialogs of the piece page, each a template of its own.
//!
//! A template becomes one function with all it includes, and the compiler takes more than twice as long over
//! one of twice the length. All of them in the template of the page took it twenty seconds.

use askama::Template;
use askama::filters::HtmlSafe;

/// Something that is chosen by its picture.
pub struct Choice {
    pub id: String,
    pub name: String,
}

impl Choice {
    pub fn of(id: &str, name: &str) -> Self {
        Choice { id: id.to_owned(), name: name.to_owned() }
    }
}

/// A pane or a dialog, with what can be chosen in it.
#[derive(Template)]
pub enum Pane<'a> {
    #[template(path = "settings/plate.html")]
    Plate { shapes: &'a [Choice] },
    #[template(path = "settings/block.html")]
    Block,
    #[template(path = "settings/bent_bar.html")]
    BentBar,
    #[template(path = "settings/tent.html")]
    Tent,
    #[template(path = "settings/cap.html")]
    Cap,
    #[template(path = "settings/plug.html")]
    Plug,
    #[template(path = "settings/ring.html")]
    Ring,
    #[template(path = "settings/box.html")]
    Box,
    #[template(path = "settings/mesh.html")]
    Mesh,
    #[template(path = "settings/lettering.html")]
    Lettering { typefaces: &'a [Choice] },
    #[template(path = "settings/emblem.html")]
    Emblem { shapes: &'a [Choice], emblems: &'a [Choice] },
    #[template(path = "settings/rim.html")]
    Rim,
    #[template(path = "settings/recess.html")]
    Recess { shapes: &'a [Choice] },
    #[template(path = "settings/hole.html")]
    Hole,
    #[template(path = "settings/halo.html")]
    Halo,
    #[template(path = "settings/pattern.html")]
    Pattern { shapes: &'a [Choice], emblems: &'a [Choice] },
    #[template(path = "settings/code.html")]
    Code,
    #[template(path = "settings/several.html")]
    Several,
    #[template(path = "settings/loop.html")]
    Loop,
    #[template(path = "settings/findings.html")]
    Findings,
    #[template(path = "dialogs/export.html")]
    Export,
    #[template(path = "dialogs/swaps.html")]
    Swaps,
    #[template(path = "dialogs/starter.html")]
    Starter,
    #[template(path = "dialogs/keys.html")]
    Keys,
}

/// Its text was escaped when it was written.
impl HtmlSafe for Pane<'_> {}
