//! One mistake is said once: where two checks see the same, the one that says more stays.

use super::Finding;
use crate::piece::Address;

/// Where two findings must be for one of them to say the same as the other.
#[derive(Clone, Copy, PartialEq)]
enum At {
    /// Of the same target.
    Target,
    /// Of the same target, or at the same place.
    Place,
    /// Of the same component.
    Component,
}

/// What says less than others, which those are (any where there are none), and where.
const SAYS_LESS: &[(&str, &[&str], At)] = &[
    ("changes-nothing", &[], At::Target),
    ("changes-nothing", &["same-twice", "on-each-other"], At::Place),
    (
        "near-edge",
        &["over-edge", "onto-rim", "thin-wall", "hole-meets-letters", "on-each-other"],
        At::Place,
    ),
    (
        "thin-wall",
        &[
            "hole-near-edge",
            "hole-meets-letters",
            "over-edge",
            "on-each-other",
            "same-twice",
            "thin-neck",
            "thin-bridge",
            "back-to-back",
        ],
        At::Place,
    ),
    ("thin-wall", &["lines-meet"], At::Target),
    (
        "thin-left",
        &[
            "thin-wall",
            "thin-rim",
            "thin-loop",
            "thin-floor",
            "back-to-back",
            "hole-near-edge",
            "slot-thin-wall",
        ],
        At::Component,
    ),
    ("narrow-gap", &["lines-meet"], At::Target),
    ("thin-stroke", &["thin-neck", "thin-bridge", "on-each-other", "same-twice"], At::Place),
    ("narrow-gap", &["hardly-touches", "on-each-other", "same-twice"], At::Place),
    ("thin-floor", &["back-to-back", "too-deep"], At::Place),
    ("loose-parts", &["hole-too-large"], At::Place),
    ("mere-edge", &["hole-too-large"], At::Component),
    ("part-layers", &["thin-relief", "too-deep"], At::Target),
    ("hangs-over", &["stands-on-relief"], At::Component),
    ("long-span", &["hangs-over"], At::Component),
    ("may-lift", &["larger-than-bed"], At::Component),
];

/// How near to each other places are the same, in mm.
const SAME_PLACE_MM: f64 = 0.1;

/// Takes away what says less than another finding of the same thing.
pub(super) fn each(findings: &mut Vec<Finding>) {
    let all = findings.clone();
    findings.retain(|finding| {
        let rules = SAYS_LESS.iter().filter(|(code, ..)| *code == finding.code);
        !rules.clone().any(|(_, more, at)| {
            all.iter().any(|other| {
                let is_more = match more {
                    [] => other.code != finding.code,
                    _ => more.contains(&other.code),
                };
                is_more && is_same(finding, other, *at)
            })
        })
    });
}

fn is_same(finding: &Finding, other: &Finding, at: At) -> bool {
    let is_near = match (finding.place, other.place) {
        (Some(a), Some(b)) => a.grown(SAME_PLACE_MM).overlaps(&b),
        _ => false,
    };
    match at {
        At::Target => finding.target == other.target,
        At::Place => finding.target == other.target || is_near,
        // What concerns the piece concerns all of it.
        At::Component => {
            let component = |address: &Address| address.component().map(str::to_owned);
            let (a, b) = (component(&finding.target), component(&other.target));
            a.is_none() || b.is_none() || a == b
        }
    }
}
