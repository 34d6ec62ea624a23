//! Pictures of others, read: PNG, JPEG and WebP, told apart by what is in them.

use image::{DynamicImage, ImageDecoder, ImageFormat, ImageReader, Limits};
use serde::{Deserialize, Serialize};
use std::borrow::Cow;
use std::io::Cursor;
use thiserror::Error;

/// The largest picture file that is read, in bytes.
pub const MAX_PICTURE_BYTES: usize = 24 << 20;

/// The most pixels a picture may have; unpacked that is a hundred megabytes.
pub const MAX_PIXELS: u64 = 25_000_000;

/// The longer side of what is worked on; larger pictures are made smaller.
pub const WORKED_SIDE: u32 = 2000;

/// A picture, read: rows from the top, every pixel red, green, blue and how opaque it is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Picture {
    /// What kind of file it is: "PNG", "JPEG" or "WebP"; "SVG" for one that was drawn.
    pub format: Cow<'static, str>,
    /// Pixels from left to right.
    pub width: usize,
    /// Pixels from top to bottom.
    pub height: usize,
    /// The pixels, row by row.
    pub pixels: Vec<[u8; 4]>,
    /// Millimetres to a pixel, where that is known.
    pub scale: Option<f64>,
    /// What was read otherwise than it is in the file, a sentence each.
    pub remarks: Vec<String>,
}

/// Why a picture was refused.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum PictureError {
    /// More than [`MAX_PICTURE_BYTES`].
    #[error("the file has {} MB; a picture may have {} MB at most", .0 >> 20, MAX_PICTURE_BYTES >> 20)]
    TooLarge(usize),
    /// None of the kinds that are read.
    #[error("this is no PNG, JPEG or WebP picture")]
    Unknown,
    /// More than [`MAX_PIXELS`].
    #[error(
        "the picture has {0} megapixels; {most} are the most. Make it smaller first: for tracing 2000 pixels \
         are plenty", most = MAX_PIXELS / 1_000_000
    )]
    TooManyPixels(u64),
    /// Too few to trace anything.
    #[error("the picture is {0} × {1} pixels; nothing can be traced in that")]
    TooSmall(u32, u32),
    /// A picture that is broken.
    #[error("this picture cannot be read: {0}")]
    Broken(String),
}

/// What kind of picture a file begins like, if it does.
fn kind(bytes: &[u8]) -> Option<(ImageFormat, &'static str)> {
    match image::guess_format(bytes).ok()? {
        ImageFormat::Png => Some((ImageFormat::Png, "PNG")),
        ImageFormat::Jpeg => Some((ImageFormat::Jpeg, "JPEG")),
        ImageFormat::WebP => Some((ImageFormat::WebP, "WebP")),
        _ => None,
    }
}

/// Whether a file begins like a picture that is read.
pub fn is_picture(bytes: &[u8]) -> bool {
    kind(bytes).is_some()
}

/// Reads a picture. What its head says of its size is believed only as far as there is room for it.
///
/// # Errors
/// [`PictureError`] with what is wrong with it.
pub fn read_picture(bytes: &[u8]) -> Result<Picture, PictureError> {
    if bytes.len() > MAX_PICTURE_BYTES {
        return Err(PictureError::TooLarge(bytes.len()));
    }
    let (format, name) = kind(bytes).ok_or(PictureError::Unknown)?;
    let broken = |error: image::ImageError| PictureError::Broken(format!("{error}."));
    let mut reader = ImageReader::with_format(Cursor::new(bytes), format);
    let mut limits = Limits::default();
    limits.max_alloc = Some(8 * MAX_PIXELS + (32 << 20));
    reader.limits(limits);
    let mut decoder = reader.into_decoder().map_err(broken)?;
    let (width, height) = decoder.dimensions();
    let count = u64::from(width) * u64::from(height);
    if count > MAX_PIXELS {
        return Err(PictureError::TooManyPixels(count.div_ceil(1_000_000)));
    }
    if width.min(height) < 3 {
        return Err(PictureError::TooSmall(width, height));
    }
    let turn = decoder.orientation().map_err(broken)?;
    let mut found = DynamicImage::from_decoder(decoder).map_err(broken)?;
    let mut remarks = Vec::new();
    if width.max(height) > WORKED_SIDE {
        found = found.thumbnail(WORKED_SIDE, WORKED_SIDE);
        remarks.push(format!(
            "The picture has {width} × {height} pixels and was made smaller, to {} × {}.",
            found.width(),
            found.height()
        ));
    }
    found.apply_orientation(turn);
    if is_animated(bytes, name) {
        remarks.push("The picture moves; the first of its pictures was taken.".to_owned());
    }
    let found = found.into_rgba8();
    Ok(Picture {
        format: name.into(),
        width: found.width() as usize,
        height: found.height() as usize,
        pixels: found.pixels().map(|pixel| pixel.0).collect(),
        scale: None,
        remarks,
    })
}

/// Whether a file has an animation in it: the chunk `acTL` of a PNG, `ANIM` of a WebP.
fn is_animated(bytes: &[u8], format: &str) -> bool {
    let mark: &[u8] = match format {
        "PNG" => b"acTL",
        "WebP" => b"ANIM",
        _ => return false,
    };
    bytes[..bytes.len().min(4096)].windows(4).any(|four| four == mark)
}

impl Picture {
    /// The picture as PNG, for showing it.
    pub fn png(&self) -> Option<Vec<u8>> {
        let flat: Vec<u8> = self.pixels.iter().flatten().copied().collect();
        let picture = image::RgbaImage::from_raw(self.width as u32, self.height as u32, flat)?;
        let mut bytes = Cursor::new(Vec::new());
        picture.write_to(&mut bytes, ImageFormat::Png).ok()?;
        Some(bytes.into_inner())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn png(width: u32, height: u32) -> Vec<u8> {
        let picture = Picture {
            format: "PNG".into(),
            width: width as usize,
            height: height as usize,
            pixels: vec![[10, 20, 30, 255]; (width * height) as usize],
            scale: None,
            remarks: Vec::new(),
        };
        picture.png().unwrap()
    }

    #[test]
    fn what_was_written_is_read_and_what_is_large_made_smaller() {
        let small = read_picture(&png(40, 30)).unwrap();
        assert_eq!((small.width, small.height, small.pixels[7]), (40, 30, [10, 20, 30, 255]));
        let large = read_picture(&png(4000, 100)).unwrap();
        assert_eq!((large.width, large.height), (2000, 50));
        assert!(large.remarks[0].contains("4000 × 100"));
    }

    #[test]
    fn heads_that_lie_and_files_that_are_none_are_refused_in_words() {
        let said = |bytes: &[u8]| read_picture(bytes).unwrap_err().to_string();
        // A head of 60 000 × 60 000 pixels, with its checksum, and nothing behind it.
        let mut lying = png(3, 3);
        lying[16..20].copy_from_slice(&60_000u32.to_be_bytes());
        lying[20..24].copy_from_slice(&60_000u32.to_be_bytes());
        let sum = crc32(&lying[12..29]);
        lying[29..33].copy_from_slice(&sum.to_be_bytes());
        assert!(said(&lying).contains("3600 megapixels"), "{}", said(&lying));
        let cut = png(40, 30);
        assert!(said(&cut[..cut.len() / 2]).contains("cannot be read"));
        assert!(said(&png(2, 50)).contains("nothing can be traced"));
        assert!(said(b"GIF89a nothing").contains("no PNG, JPEG or WebP"));
        assert!(said(b"").contains("no PNG"));
    }

    /// CRC-32 as PNG has it (ISO 3309).
    fn crc32(bytes: &[u8]) -> u32 {
        !bytes.iter().fold(!0u32, |crc, byte| {
            (0..8).fold(crc ^ u32::from(*byte), |crc, _| {
                if crc & 1 == 1 { (crc >> 1) ^ 0xedb8_8320 } else { crc >> 1 }
            })
        })
    }
}
