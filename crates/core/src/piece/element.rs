//! Elements: what every one has, and the kinds there are.
//!
//! A kind is a struct of its own that answers [`Fields`]; its file and one line in `kinds!` are all
//! the document needs to know of it.

use super::check::Checker;
use super::{
    Bridges, Code, Emblem, FaceName, Halo, Hole, Lettering, LetteringPlace, Loop, Pattern, Recess,
    Relief, Repeat, Rim,
};
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Anything added to a blank.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Element {
    /// Unique among the elements of its component: 1 to 40 letters, figures, `-` and `_`.
    pub id: String,
    /// Whether it is kept from being moved or taken away by hand.
    pub locked: bool,
    /// Which face it is on, and is seen from; a loop stands beside the front.
    pub face: FaceName,
    /// What it is.
    pub kind: Kind,
}

/// What the document asks of a kind of element. Nothing that tells kinds apart has an answer of its
/// own, so that a new kind forgets nothing.
pub(crate) trait Fields {
    /// Reports what it cannot be at all.
    fn check(&self, checker: &mut Checker);

    /// How it meets its face, for what can do so in several ways.
    fn relief(&self) -> Option<Relief>;

    /// Where it sits, for what can be placed by another element.
    fn place(&self) -> Option<&LetteringPlace>;

    /// The same to be changed.
    fn place_mut(&mut self) -> Option<&mut LetteringPlace>;

    /// The field that names its colour, if it can have one of its own, and the colour.
    fn colour(&self) -> Option<(&'static str, Option<&str>)>;

    /// Gives it the colour of the blank.
    fn lose_colour(&mut self);

    /// How deep a colour of its own goes into what it stands on, or on below its floor; nothing for what says so in
    /// another way.
    fn root(&self) -> Option<Length>;

    /// How often it is there.
    fn repeat(&self) -> Repeat;

    /// Whether others can be placed by it. Where something cut into a plate lies that `follows` what is on it, follows
    /// from that, and nothing is placed by it.
    fn carries(&self, follows: bool) -> bool;

    /// Moves it aside by so many mm, so that a copy does not hide what it was copied from.
    fn nudge(&mut self, mm: f64) {
        // What has no place to be shifted from says itself how it steps aside.
        let _ = self.shift(mm, 0.0);
    }

    /// Moves it on its face by so many mm, whatever its place is measured from.
    ///
    /// # Errors
    /// Why it has no place to be moved from, for the person at it.
    fn shift(&mut self, across: f64, up: f64) -> Result<(), &'static str>;

    /// What it is called in a list: its words, or what it is.
    fn name(&self) -> String;

    /// Its main sizes, for a short form: fields and what they are called.
    fn main_fields(&self) -> Vec<(&'static str, &'static str)>;
}

/// Why what goes along the outline cannot be moved.
pub(super) const FOLLOWS_OUTLINE: &str =
    "It follows the outline; change how far it is from the edge.";

/// Why what goes round other elements cannot be moved.
pub(super) const FOLLOWS_OTHERS: &str = "It follows what it goes round; move that.";

/// The kinds of element: an enum of their structs, one of their words, and the way from one to the
/// other.
macro_rules! kinds {
    ($($(#[doc = $meaning:literal])* $kind:ident = $word:literal),* $(,)?) => {
        /// What an element is.
        #[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
        #[cfg_attr(test, derive(JsonSchema))]
        #[serde(rename_all = "kebab-case", deny_unknown_fields)]
        pub enum Kind {
            $($(#[doc = $meaning])* $kind($kind)),*
        }

        /// The kinds of element there are.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
        #[serde(rename_all = "kebab-case")]
        pub enum ElementKind {
            $($(#[doc = $meaning])* $kind),*
        }

        impl ElementKind {
            /// All of them, in the order they are offered.
            pub const ALL: &[ElementKind] = &[$(ElementKind::$kind),*];

            /// The kind as it stands in ids and in the piece file.
            pub fn word(self) -> &'static str {
                match self { $(ElementKind::$kind => $word),* }
            }
        }

        impl Kind {
            /// The kind it is of.
            pub fn tag(&self) -> ElementKind {
                match self { $(Kind::$kind(_) => ElementKind::$kind),* }
            }

            /// What the document asks of it.
            pub(crate) fn fields(&self) -> &dyn Fields {
                match self { $(Kind::$kind(inner) => inner),* }
            }

            pub(crate) fn fields_mut(&mut self) -> &mut dyn Fields {
                match self { $(Kind::$kind(inner) => inner),* }
            }
        }

        $(impl From<$kind> for Kind {
            fn from(inner: $kind) -> Self {
                Kind::$kind(inner)
            }
        })*
    };
}

kinds! {
    /// Words, in one or several lines.
    Lettering = "lettering",
    /// A drawn shape.
    Emblem = "emblem",
    /// A code that a scanner reads.
    Code = "code",
    /// An area round lettering and emblems.
    Halo = "halo",
    /// One motif over and over.
    Pattern = "pattern",
    /// A band along the outline.
    Rim = "rim",
    /// A sunk field.
    Recess = "recess",
    /// A hole.
    Hole = "hole",
    /// A ring outside the outline.
    Loop = "loop",
}

impl Element {
    /// An element on the front that is not locked.
    pub fn new(id: &str, kind: impl Into<Kind>) -> Self {
        Element { id: id.to_owned(), locked: false, face: FaceName::Front, kind: kind.into() }
    }

    /// What kind of element it is.
    pub fn tag(&self) -> ElementKind {
        self.kind.tag()
    }

    /// How it meets its face, for what can do so in several ways.
    pub fn relief(&self) -> Option<Relief> {
        self.kind.fields().relief()
    }

    /// What holds its inside or its parts, if it asks for that.
    pub fn bridges(&self) -> Option<&Bridges> {
        match &self.kind {
            Kind::Lettering(one) => one.bridges.as_ref(),
            Kind::Emblem(one) => one.bridges.as_ref(),
            _ => None,
        }
    }

    /// Whether it stands on the bed beside or through the blank, as openwork does.
    pub fn stands_on_the_bed(&self) -> bool {
        self.relief().is_some_and(Relief::stands_on_the_bed)
    }

    /// What it is called in a list: its words, or what it is.
    pub fn name(&self) -> String {
        self.kind.fields().name()
    }

    /// The id of its shape, if that is one of one's own.
    pub fn own_shape(&self) -> Option<&str> {
        match &self.kind {
            Kind::Emblem(emblem) => emblem.own_shape(),
            Kind::Recess(recess) => recess.own_shape(),
            Kind::Pattern(pattern) => pattern.own_shape(),
            Kind::Lettering(_)
            | Kind::Code(_)
            | Kind::Halo(_)
            | Kind::Rim(_)
            | Kind::Hole(_)
            | Kind::Loop(_) => None,
        }
    }

    /// Where it sits, for what can be placed by another element.
    pub fn place(&self) -> Option<&LetteringPlace> {
        self.kind.fields().place()
    }

    /// How often it is there.
    pub(crate) fn repeat(&self) -> Repeat {
        self.kind.fields().repeat()
    }

    /// The element it is placed by, if it is.
    pub fn placed_by(&self) -> Option<&str> {
        self.place()?.by.as_ref().map(|by| by.element.as_str())
    }

    /// Whether it is a figure: something that others go round and keep clear of.
    pub fn is_figure(&self) -> bool {
        match self.kind {
            Kind::Lettering(_) | Kind::Emblem(_) | Kind::Code(_) => true,
            Kind::Halo(_)
            | Kind::Pattern(_)
            | Kind::Rim(_)
            | Kind::Recess(_)
            | Kind::Hole(_)
            | Kind::Loop(_) => false,
        }
    }

    /// The colour it has of its own, if any.
    pub fn colour(&self) -> Option<&str> {
        self.kind.fields().colour()?.1
    }
}
