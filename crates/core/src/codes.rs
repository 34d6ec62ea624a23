//! Codes that scanners read: what is dark and what is light, and whether it can be read back.
//!
//! QR codes are made by `qrcodegen` (ISO/IEC 18004), Code 128 by `barcoders` (ISO/IEC 15417); both are read back by
//! `rxing`. Modules lie on a lattice of squares; a code for bars is one row of them, as high as the bars.

use crate::piece::{Level, Symbol};
use crate::plane::{GridPoint, Rect, Region, to_grid};
use barcoders::sym::code128::Code128;
use qrcodegen::{QrCode, QrCodeEcc};
use resvg::tiny_skia::{Color, Pixmap, Transform};
use resvg::usvg::{Options, Tree};
use rxing::common::HybridBinarizer;
use rxing::oned::Code128Reader;
use rxing::qrcode::QRCodeReader;
use rxing::{BinaryBitmap, Luma8LuminanceSource, Reader};
use thiserror::Error;

/// Why there is no code for some words.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum NoCode {
    /// There are none.
    #[error("The code has no words yet. Type what it is to say.")]
    NoWords,
    /// They are too long for any code of this kind.
    #[error("That is too much for a QR code. Say less, or let less of it be unreadable.")]
    TooLong,
    /// Code 128 has no such character.
    #[error(
        "Code 128 has no “{0}”: it says letters without accents, figures and the usual signs. A QR code says everything."
    )]
    NoCharacter(char),
    /// Bars of so many characters are longer than any piece.
    #[error("That is too much for bars: {0} characters are the most. A QR code says more.")]
    TooLongForBars(usize),
}

/// What is dark: rows from the top, each from the left.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Modules {
    columns: usize,
    rows: usize,
    dark: Vec<bool>,
    /// How high a row is, in mm, where that is not as high as a module is wide.
    row_mm: Option<u64>,
}

/// The most characters bars say: more are longer than a plate at the finest module.
const LONGEST_BARS: usize = 80;

/// The modules of a code that says some words.
///
/// # Errors
/// [`NoCode`] where there is none.
pub fn modules(symbol: Symbol, words: &str) -> Result<Modules, NoCode> {
    if words.trim().is_empty() {
        return Err(NoCode::NoWords);
    }
    match symbol {
        Symbol::Qr(level) => {
            let level = match level {
                Level::L => QrCodeEcc::Low,
                Level::M => QrCodeEcc::Medium,
                Level::Q => QrCodeEcc::Quartile,
                Level::H => QrCodeEcc::High,
            };
            let code = QrCode::encode_text(words, level).map_err(|_| NoCode::TooLong)?;
            let side = code.size();
            let dark = (0..side).flat_map(|y| (0..side).map(move |x| (x, y)));
            let dark = dark.map(|(x, y)| code.get_module(x, y)).collect();
            Ok(Modules { columns: side as usize, rows: side as usize, dark, row_mm: None })
        }
        Symbol::Bars(height) => {
            let foreign = words.chars().find(|c| !(' '..='~').contains(c));
            if let Some(foreign) = foreign {
                return Err(NoCode::NoCharacter(foreign));
            }
            if words.len() > LONGEST_BARS {
                return Err(NoCode::TooLongForBars(LONGEST_BARS));
            }
            // Pairs of figures take half the room; sets are named by a letter before the words.
            let pairs =
                words.len().is_multiple_of(2) && words.bytes().all(|byte| byte.is_ascii_digit());
            let set = if pairs { 'Ć' } else { 'Ɓ' };
            let code = Code128::new(format!("{set}{words}"));
            let code =
                code.map_err(|_| NoCode::NoCharacter(words.chars().next().unwrap_or(' ')))?;
            let dark: Vec<bool> = code.encode().into_iter().map(|bit| bit == 1).collect();
            let row_mm = Some(height.as_mm().to_bits());
            Ok(Modules { columns: dark.len(), rows: 1, dark, row_mm })
        }
    }
}

impl Modules {
    /// How many modules it is wide and high.
    pub fn count(&self) -> (usize, usize) {
        (self.columns, self.rows)
    }

    /// Whether a module is dark; beyond the code none is.
    pub fn is_dark(&self, column: i64, row: i64) -> bool {
        let within =
            (0..self.columns as i64).contains(&column) && (0..self.rows as i64).contains(&row);
        within && self.dark[row as usize * self.columns + column as usize]
    }

    fn row_height(&self, module: f64) -> f64 {
        self.row_mm.map_or(module, f64::from_bits)
    }

    /// Width and height in mm with so many modules free round it; bars need them at their ends alone.
    pub fn size(&self, module: f64, quiet: u32) -> (f64, f64) {
        let free = 2.0 * f64::from(quiet) * module;
        let height = self.rows as f64 * self.row_height(module);
        let above = if self.row_mm.is_some() { 0.0 } else { free };
        (self.columns as f64 * module + free, height + above)
    }

    /// What is dark as a region about the origin; what is light, with the room that stays free, where it is
    /// inverse.
    ///
    /// Two dark modules that share a corner and no side would touch in a mere point. A square as wide as a
    /// twentieth of a module joins them.
    pub fn region(&self, module: f64, quiet: u32, inverse: bool) -> Region {
        const JOINT: f64 = 0.025;
        let row = self.row_height(module);
        let (left, top) = (-(self.columns as f64) * module / 2.0, self.rows as f64 * row / 2.0);
        let box_of = |x0: f64, y0: f64, x1: f64, y1: f64| {
            let [x0, y0, x1, y1] = [x0, y0, x1, y1].map(to_grid);
            vec![
                GridPoint::new(x0, y0),
                GridPoint::new(x1, y0),
                GridPoint::new(x1, y1),
                GridPoint::new(x0, y1),
            ]
        };
        let mut contours = Vec::new();
        for y in 0..self.rows as i64 {
            let mut x = 0;
            while x < self.columns as i64 {
                let from = x;
                while self.is_dark(x, y) {
                    x += 1;
                }
                if x > from {
                    let (x0, x1) = (left + from as f64 * module, left + x as f64 * module);
                    contours.push(box_of(x0, top - (y + 1) as f64 * row, x1, top - y as f64 * row));
                }
                x += 1;
            }
        }
        for y in 1..self.rows as i64 {
            for x in 1..self.columns as i64 {
                let [a, b, c, d] = [(x - 1, y - 1), (x, y - 1), (x - 1, y), (x, y)]
                    .map(|(x, y)| self.is_dark(x, y));
                if a == d && b == c && a != b {
                    let (cx, cy) = (left + x as f64 * module, top - y as f64 * row);
                    let half = JOINT * module;
                    contours.push(box_of(cx - half, cy - half, cx + half, cy + half));
                }
            }
        }
        let dark = Region::resolve(&contours);
        if !inverse {
            return dark;
        }
        let (width, height) = self.size(module, quiet);
        let whole = box_of(-width / 2.0, -height / 2.0, width / 2.0, height / 2.0);
        Region::from_contours(vec![whole]).difference(&dark)
    }
}

/// What a scanner reads in the picture of a code that stands upright: the region as it lies in the plan, dark on
/// light, or light on dark where it is inverse. `module` in mm says how finely the picture is drawn. Nothing where
/// it reads nothing.
pub fn read_back(
    symbol: Symbol,
    region: &Region,
    frame: Rect,
    module: f64,
    inverse: bool,
) -> Option<String> {
    let (pixels, width, height) = picture(region, frame, module, inverse)?;
    let source = Luma8LuminanceSource::new(pixels, width, height).ok()?;
    let mut picture = BinaryBitmap::new(HybridBinarizer::new(source));
    let read = match symbol {
        Symbol::Qr(_) => QRCodeReader.decode(&mut picture),
        Symbol::Bars(_) => Code128Reader.decode(&mut picture),
    };
    Some(read.ok()?.getText().to_owned())
}

/// A picture of a region in its frame, six points to a module: its greys, row by row from the top, and how many are
/// in a row and in a column.
fn picture(
    region: &Region,
    frame: Rect,
    module: f64,
    inverse: bool,
) -> Option<(Vec<u8>, u32, u32)> {
    const TO_A_MODULE: f64 = 6.0;
    const MOST_PIXELS: f64 = 2400.0;
    let shown = frame.grown(4.0 * module);
    let scale = (TO_A_MODULE / module).min(MOST_PIXELS / shown.width().max(shown.height()));
    let (wide, high) = ((shown.width() * scale).ceil(), (shown.height() * scale).ceil());
    let (paper, ink) = if inverse { ("#000", "#fff") } else { ("#fff", "#000") };
    let (x, y) = (shown.x0, -shown.y1);
    let svg = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{wide}\" height=\"{high}\" viewBox=\"{x} {y} {} {}\"><rect \
         x=\"{x}\" y=\"{y}\" width=\"100%\" height=\"100%\" fill=\"{paper}\"/><path fill=\"{ink}\" \
         fill-rule=\"evenodd\" d=\"{}\"/></svg>",
        shown.width(),
        shown.height(),
        region.svg_path()
    );
    let tree = Tree::from_str(&svg, &Options::default()).ok()?;
    let mut drawn = Pixmap::new(wide as u32, high as u32)?;
    drawn.fill(Color::WHITE);
    resvg::render(&tree, Transform::identity(), &mut drawn.as_mut());
    let greys = drawn.data().chunks_exact(4).map(|pixel| pixel[1]).collect();
    Some((greys, wide as u32, high as u32))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::Length;

    const QR: Symbol = Symbol::Qr(Level::M);

    /// The sides of QR codes are 17 + 4 v modules (ISO/IEC 18004); bars take 11 for each character, start and check
    /// among them, and 13 for the stop (ISO/IEC 15417).
    #[test]
    fn codes_are_as_large_as_the_standards_say() {
        let count = |symbol, words: &str| modules(symbol, words).unwrap().count();
        assert_eq!(count(QR, "BERTH 7"), (21, 21));
        // 20 characters of the alphanumeric set are the most of version 1-M.
        assert_eq!(count(QR, "SKERRY POINT BERTH 7"), (21, 21));
        assert_eq!(count(QR, "SKERRY POINT BERTH 17"), (25, 25));
        let bars = Symbol::Bars(Length::mm(10.0));
        assert_eq!(count(bars, "Skerry 7"), (11 * 10 + 13, 1));
        assert_eq!(count(bars, "001234"), (11 * 5 + 13, 1));
    }

    #[test]
    fn what_cannot_be_said_is_refused_in_words() {
        let bars = Symbol::Bars(Length::mm(10.0));
        assert_eq!(modules(bars, "Å 7"), Err(NoCode::NoCharacter('Å')));
        assert_eq!(modules(QR, " "), Err(NoCode::NoWords));
        assert_eq!(modules(bars, &"7".repeat(82)), Err(NoCode::TooLongForBars(80)));
        assert_eq!(modules(Symbol::Qr(Level::H), &"ß".repeat(1000)), Err(NoCode::TooLong));
        assert!(modules(Symbol::Qr(Level::L), &"Å".repeat(900)).is_ok());
    }

    /// Dark and light together are the whole field, and each is what its modules come to.
    #[test]
    fn dark_and_light_are_the_whole() {
        let made = modules(QR, "https://skerry.example/berth/7").unwrap();
        let dark =
            (0..made.rows as i64).flat_map(|y| (0..made.columns as i64).map(move |x| (x, y)));
        let dark = dark.filter(|(x, y)| made.is_dark(*x, *y)).count() as f64;
        let (module, quiet) = (0.8, 4);
        let [plain, inverse] = [false, true].map(|inverse| made.region(module, quiet, inverse));
        let (width, height) = made.size(module, quiet);
        assert!((plain.area() / (dark * module * module) - 1.0).abs() < 2e-3);
        assert!((plain.area() + inverse.area() - width * height).abs() < 1e-3);
        // Nothing touches in a mere point: drawn in and out by a hair there are as many parts.
        use crate::plane::Tolerance;
        for region in [&plain, &inverse] {
            assert!(region.can_be_inset(0.001, Tolerance::Fine));
            assert!(region.can_be_inset(-0.001, Tolerance::Fine));
        }
    }

    #[test]
    fn what_is_drawn_is_read_back() {
        let bars = Symbol::Bars(Length::mm(8.0));
        for (symbol, words) in [
            (Symbol::Qr(Level::L), "BERTH 7"),
            (QR, "https://skerry.example/berth/7?watch=ß"),
            (Symbol::Qr(Level::H), "Åse Łukasiewicz · Øst 3"),
            (bars, "SKERRY-007 ~{}"),
            (bars, "20261127"),
        ] {
            let made = modules(symbol, words).unwrap();
            for inverse in [false, true] {
                let region = made.region(0.5, 10, inverse);
                let (width, height) = made.size(0.5, 10);
                let frame = Rect::centred(width, height);
                let read = read_back(symbol, &region, frame, 0.5, inverse);
                assert_eq!(read.as_deref(), Some(words), "{symbol:?} {inverse}");
                // What was drawn in until most of it is gone says nothing any more.
                let worn = made.region(0.5, 10, false).offset(-0.2, crate::plane::Tolerance::Fine);
                assert_eq!(read_back(symbol, &worn, frame, 0.5, false), None, "{symbol:?}");
            }
        }
    }
}
