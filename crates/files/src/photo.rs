//! A photo: checked, turned upright, made smaller where it is huge, and
//! encoded again, so that nothing of its metadata is kept.

use std::fmt::Write;
use std::io::Cursor;

use fondant_shapes::picture::Raster;
use image::codecs::jpeg::JpegEncoder;
use image::{DynamicImage, ImageDecoder, ImageFormat, ImageReader, Limits, RgbImage};
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};

use crate::{FileError, PHOTO_LIMIT, sized};

/// Longest side that is read, pixels.
const LONGEST_READ_PX: u32 = 16_000;
/// Memory that decoding may take, bytes: 40 MP and a copy.
const DECODING_BYTES: u64 = 256 * 1024 * 1024;
/// Longest side that is kept, pixels: a third of a millimetre on a metre.
const LONGEST_KEPT_PX: u32 = 4000;
/// Longest side of a small one, for a list, pixels: sharp at 240 on a fine screen.
const LONGEST_SMALL_PX: u32 = 480;
/// Quality of the JPEG that is kept: grain and edges survive, size halves.
const QUALITY: u8 = 88;

/// A photo as it is kept.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Photo {
    /// JPEG without metadata.
    #[serde(skip)]
    pub jpeg: Vec<u8>,
    /// Pixels across.
    pub width: u32,
    /// Pixels down.
    pub height: u32,
    /// SHA-256 of the JPEG, in hexadecimal.
    pub sha256: String,
}

impl Photo {
    /// Whether the JPEG is the one that was hashed.
    #[must_use]
    pub(crate) fn is_whole(&self) -> bool {
        sha256(&self.jpeg) == self.sha256
    }
}

/// Reads a JPEG or PNG as a camera wrote it.
///
/// # Errors
/// [`FileError`]: why it was not read.
pub fn read(bytes: &[u8]) -> Result<Photo, FileError> {
    sized(bytes, PHOTO_LIMIT)?;
    let mut image = decoded(bytes)?;
    if image.width().max(image.height()) > LONGEST_KEPT_PX {
        image = image.thumbnail(LONGEST_KEPT_PX, LONGEST_KEPT_PX);
    }
    kept(&image.into_rgb8())
}

fn decoded(bytes: &[u8]) -> Result<DynamicImage, FileError> {
    let not_this = FileError::NotThis { wanted: "JPEG or PNG".into() };
    let format = image::guess_format(bytes).map_err(|_| not_this.clone())?;
    if !matches!(format, ImageFormat::Jpeg | ImageFormat::Png) {
        return Err(not_this);
    }
    let broken = |error: image::ImageError| match error {
        image::ImageError::Limits(_) => {
            FileError::TooMuch("it has more pixels than are read".into())
        }
        error => FileError::Broken(format!("the picture cannot be read: {error}")),
    };
    let mut reader = ImageReader::with_format(Cursor::new(bytes), format);
    let mut limits = Limits::default();
    limits.max_image_width = Some(LONGEST_READ_PX);
    limits.max_image_height = Some(LONGEST_READ_PX);
    limits.max_alloc = Some(DECODING_BYTES);
    reader.limits(limits);
    let mut decoder = reader.into_decoder().map_err(broken)?;
    // Some decoders take limits for hints: the size is looked at first.
    if decoder.total_bytes() > DECODING_BYTES {
        return Err(FileError::TooMuch("it has more pixels than are read".into()));
    }
    let orientation = decoder.orientation().map_err(broken)?;
    let mut image = DynamicImage::from_decoder(decoder).map_err(broken)?;
    image.apply_orientation(orientation);
    Ok(image)
}

/// A kept photo made small, as a JPEG.
///
/// # Errors
/// [`FileError`] where it is not a photo.
pub fn small(jpeg: &[u8]) -> Result<Vec<u8>, FileError> {
    let image = decoded(jpeg)?;
    let image = match image.width().max(image.height()) > LONGEST_SMALL_PX {
        true => image.thumbnail(LONGEST_SMALL_PX, LONGEST_SMALL_PX),
        false => image,
    };
    Ok(kept(&image.into_rgb8())?.jpeg)
}

/// A picture in memory from a kept photo.
///
/// # Errors
/// [`FileError`] where it is not a photo.
pub fn raster(jpeg: &[u8]) -> Result<Raster, FileError> {
    let image = decoded(jpeg)?.into_rgb8();
    let (width, height) = image.dimensions();
    Raster::new(width as usize, height as usize, image.into_raw())
        .ok_or(FileError::NotThis { wanted: "JPEG or PNG".into() })
}

/// A picture in memory as it is kept.
///
/// # Errors
/// [`FileError`] where it has no pixels.
pub fn keep(raster: &Raster) -> Result<Photo, FileError> {
    let size = |pixels: usize| u32::try_from(pixels).unwrap_or(u32::MAX);
    RgbImage::from_raw(size(raster.width()), size(raster.height()), raster.rgb().to_vec())
        .ok_or(FileError::NotThis { wanted: "picture".into() })
        .and_then(|image| kept(&image))
}

fn kept(image: &RgbImage) -> Result<Photo, FileError> {
    let mut jpeg = Vec::new();
    image
        .write_with_encoder(JpegEncoder::new_with_quality(&mut jpeg, QUALITY))
        .map_err(|error| FileError::Broken(error.to_string()))?;
    Ok(Photo { width: image.width(), height: image.height(), sha256: sha256(&jpeg), jpeg })
}

pub(crate) fn sha256(bytes: &[u8]) -> String {
    let mut text = String::with_capacity(64);
    for byte in Sha256::digest(bytes) {
        let _ = write!(text, "{byte:02x}");
    }
    text
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn png(width: u32, height: u32) -> Vec<u8> {
        let image = RgbImage::from_fn(width, height, |x, y| {
            image::Rgb([
                (x * 7 % 256) as u8,
                (y * 5 % 256) as u8,
                if x < width / 2 { 200 } else { 20 },
            ])
        });
        let mut bytes = Cursor::new(Vec::new());
        image.write_to(&mut bytes, ImageFormat::Png).unwrap();
        bytes.into_inner()
    }

    /// A JPEG with an orientation in its metadata, and a place in it to lose.
    fn jpeg_turned(orientation: u8) -> Vec<u8> {
        let plain = read(&png(60, 30)).unwrap().jpeg;
        let mut exif = b"Exif\0\0MM\0\x2a\0\0\0\x08\0\x01\x01\x12\0\x03\0\0\0\x01\0".to_vec();
        exif.extend([orientation, 0, 0, 0, 0, 0, 0]);
        exif.extend(b"SECRET PLACE");
        let mut bytes = plain[..2].to_vec();
        bytes.extend([0xff, 0xe1]);
        bytes.extend((exif.len() as u16 + 2).to_be_bytes());
        bytes.extend(exif);
        bytes.extend(&plain[2..]);
        bytes
    }

    #[test]
    fn a_photo_is_turned_upright_and_freed_of_its_metadata() {
        let lying = read(&jpeg_turned(6)).unwrap();
        assert_eq!((lying.width, lying.height), (30, 60));
        let text = String::from_utf8_lossy(&lying.jpeg).into_owned();
        assert!(!text.contains("SECRET") && !text.contains("Exif"));
        assert_eq!(lying.sha256.len(), 64);
    }

    #[test]
    fn a_huge_photo_is_made_smaller() {
        let photo = read(&png(5000, 40)).unwrap();
        assert_eq!((photo.width, photo.height), (4000, 32));
        let again = raster(&photo.jpeg).unwrap();
        assert_eq!((again.width(), again.height()), (4000, 32));
        assert_eq!(keep(&again).unwrap().width, 4000);
    }

    #[test]
    fn what_is_no_photo_is_refused_with_its_reason() {
        assert_eq!(read(b""), Err(FileError::Empty));
        assert_eq!(
            read(b"GIF89a........"),
            Err(FileError::NotThis { wanted: "JPEG or PNG".into() })
        );
        assert_eq!(
            read(b"not a picture"),
            Err(FileError::NotThis { wanted: "JPEG or PNG".into() })
        );
        let cut = &png(50, 50)[..200];
        assert!(matches!(read(cut), Err(FileError::Broken(_))));
        let large = vec![0u8; PHOTO_LIMIT + 1];
        assert!(matches!(read(&large), Err(FileError::TooLarge { .. })));
        // A PNG that claims a square of 60 000 pixels in a handful of bytes.
        let mut bomb = png(4, 4);
        bomb[16..20].copy_from_slice(&60_000u32.to_be_bytes());
        bomb[20..24].copy_from_slice(&60_000u32.to_be_bytes());
        assert!(read(&bomb).is_err());
    }

    proptest! {
        #[test]
        fn no_bytes_make_it_panic(bytes in proptest::collection::vec(any::<u8>(), 0..300)) {
            let _ = read(&bytes);
            let _ = read(&[b"\x89PNG\r\n\x1a\n".as_slice(), &bytes].concat());
            let _ = read(&[b"\xff\xd8\xff".as_slice(), &bytes].concat());
        }
    }
}
