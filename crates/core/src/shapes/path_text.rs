//! Paths as text, in the syntax of SVG's path data.

use kurbo::{BezPath, PathEl, Point};
use std::fmt::Write;

/// A path as text with four decimals, every curve of it closed.
pub(super) fn closed_text(path: &BezPath) -> String {
    text_of(path, true)
}

/// A path as text with four decimals, its curves closed or open as they are.
pub(super) fn open_text(path: &BezPath) -> String {
    text_of(path, false)
}

fn text_of(path: &BezPath, closes: bool) -> String {
    let mut text = String::new();
    let mut is_open = false;
    let mut put = |letter: char, points: &[Point]| {
        text.push(letter);
        for (i, point) in points.iter().enumerate() {
            let gap = if i == 0 { "" } else { " " };
            let [x, y] = [point.x, point.y].map(|mm| (mm * 1e4).round() / 1e4 + 0.0);
            let _ = write!(text, "{gap}{x} {y}");
        }
    };
    for element in path.elements() {
        match element {
            PathEl::MoveTo(to) => {
                if std::mem::replace(&mut is_open, closes) {
                    put('Z', &[]);
                }
                put('M', &[*to]);
            }
            PathEl::LineTo(to) => put('L', &[*to]),
            PathEl::QuadTo(by, to) => put('Q', &[*by, *to]),
            PathEl::CurveTo(by, and, to) => put('C', &[*by, *and, *to]),
            PathEl::ClosePath => {
                put('Z', &[]);
                is_open = false;
            }
        }
    }
    if is_open {
        put('Z', &[]);
    }
    text
}

/// A path of a text.
///
/// # Errors
/// A sentence on what is wrong: no path, or a figure that is none.
pub(super) fn parsed(text: &str) -> Result<BezPath, String> {
    let path =
        BezPath::from_svg(text).map_err(|error| format!("its path cannot be read: {error}"))?;
    if path.is_finite() {
        Ok(path)
    } else {
        Err("a coordinate of its path is no figure".to_owned())
    }
}
