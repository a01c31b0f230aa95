//! What a file from outside is to be read as, and the answer. A process of its own reads it, so that
//! nothing in a file can harm the server.
//!
//! The file comes in on standard input. The answer goes out on standard output: one line of JSON,
//! and after it the picture, where the answer has one.

use std::io::{Read as _, Write};

use fondant_heat::calibration::log::Log;
use fondant_materials::resin::Record;
use fondant_quantities::Length;
use fondant_shapes::geometry::mesh::Solid;
use serde::{Deserialize, Serialize};

use crate::drawing::{Drawing, Options};
use crate::logs::air::{self, AirLogError, AirOptions, ReadAir};
use crate::logs::cup::{self, CupLogError, CupOptions};
use crate::photo::Photo;
use crate::records::archive::{self, ARCHIVE_LIMIT, Archive};
use crate::records::cast::CAST_LIMIT;
use crate::records::resin::RESIN_LIMIT;
use crate::records::{self, NotARecord};
use crate::text::decoded;
use crate::{
    DXF_LIMIT, FileError, LOG_LIMIT, MESH_LIMIT, PHOTO_LIMIT, SVG_LIMIT, dxf, photo, sized, stl,
    svg,
};

/// Format of a drawing.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Format {
    /// SVG.
    Svg,
    /// DXF.
    Dxf,
}

/// What a file is to be read as.
#[derive(Debug, Clone, PartialEq)]
pub enum Asked {
    /// A drawing.
    Drawing(Format, Options),
    /// A solid from STL, its unit a metre long: STL knows none.
    Stl,
    /// A photo.
    Photo,
    /// A log of a shop's air.
    Air(AirOptions),
    /// A log of a cup of resin.
    Cup(CupOptions),
    /// A whole cast: its plan as JSON, or a ZIP with all that is kept of it.
    Cast,
    /// A resin.
    Resin,
}

/// What was read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub enum Answer {
    /// A drawing.
    Drawing(Drawing),
    /// A solid.
    Solid(Solid),
    /// A photo; its JPEG follows the line of JSON.
    Photo(Photo),
    /// A log of a shop's air, or why it is none.
    Air(Result<ReadAir, AirLogError>),
    /// A log of a cup of resin, or why it is none.
    Cup(Result<Log, CupLogError>),
    /// A cast, or why it is none; with the lengths of its pictures, which follow the line of JSON.
    Cast(Box<Result<Archive, NotARecord>>, Vec<usize>),
    /// A resin, or why it is none.
    Resin(Box<Result<Record, NotARecord>>),
}

/// A word that names no kind of file.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{0} is not svg, dxf, stl, photo, air, cup, cast or resin")]
pub struct NotAsked(String);

/// A drawing's format and options in a word: `dxf:0.0254:0.0001:0,3` is one in inches, whose ends
/// within 0.1 mm are joined, with the layers 0 and 3. What is not said is left empty.
impl std::fmt::Display for Asked {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Self::Drawing(format, Options { unit, join, layers }) => {
                let metres = |length: &Option<Length>| length.map(|l| l.m().to_string());
                let layers = layers.as_ref().map(|layers| {
                    layers.iter().map(ToString::to_string).collect::<Vec<_>>().join(",")
                });
                let format = if *format == Format::Svg { "svg" } else { "dxf" };
                let [unit, join] = [unit, join].map(|l| metres(l).unwrap_or_default());
                match layers {
                    Some(layers) => write!(f, "{format}:{unit}:{join}:{layers}"),
                    None => write!(f, "{format}:{unit}:{join}"),
                }
            }
            Self::Stl => f.write_str("stl"),
            Self::Photo => f.write_str("photo"),
            Self::Air(options) => with_options(f, "air", options),
            Self::Cup(options) => with_options(f, "cup", options),
            Self::Cast => f.write_str("cast"),
            Self::Resin => f.write_str("resin"),
        }
    }
}

fn with_options<T: Serialize>(
    f: &mut std::fmt::Formatter<'_>,
    kind: &str,
    options: &T,
) -> std::fmt::Result {
    let options = serde_json::to_string(options).map_err(|_| std::fmt::Error)?;
    write!(f, "{kind}:{options}")
}

impl std::str::FromStr for Asked {
    type Err = NotAsked;

    fn from_str(text: &str) -> Result<Self, NotAsked> {
        let not_asked = || NotAsked(text.to_owned());
        if let Some(options) = text.strip_prefix("air:") {
            return serde_json::from_str(options).map(Self::Air).map_err(|_| not_asked());
        }
        if let Some(options) = text.strip_prefix("cup:") {
            return serde_json::from_str(options).map(Self::Cup).map_err(|_| not_asked());
        }
        let asked = || match text.split(':').collect::<Vec<_>>()[..] {
            ["photo"] => Some(Self::Photo),
            ["stl"] => Some(Self::Stl),
            ["cast"] => Some(Self::Cast),
            ["resin"] => Some(Self::Resin),
            ["svg", ref options @ ..] => Some(Self::Drawing(Format::Svg, drawing(options)?)),
            ["dxf", ref options @ ..] => Some(Self::Drawing(Format::Dxf, drawing(options)?)),
            _ => None,
        };
        asked().ok_or_else(not_asked)
    }
}

fn length(metres: &str) -> Option<Length> {
    metres.parse().ok().filter(|m: &f64| m.is_finite() && *m > 0.0).map(Length::from_m)
}

fn drawing(options: &[&str]) -> Option<Options> {
    let said = |text: &str| if text.is_empty() { Some(None) } else { length(text).map(Some) };
    let places = |text: &str| {
        let texts = text.split(',').filter(|text| !text.is_empty());
        texts.map(|place| place.parse().ok()).collect::<Option<Vec<usize>>>()
    };
    Some(match *options {
        [] => Options::default(),
        [unit, join] => Options { unit: said(unit)?, join: said(join)?, layers: None },
        [unit, join, layers] => {
            Options { unit: said(unit)?, join: said(join)?, layers: Some(places(layers)?) }
        }
        _ => return None,
    })
}

impl Asked {
    /// Most bytes of such a file.
    #[must_use]
    pub const fn limit(&self) -> usize {
        match self {
            Self::Drawing(Format::Svg, _) => SVG_LIMIT,
            Self::Drawing(Format::Dxf, _) => DXF_LIMIT,
            Self::Stl => MESH_LIMIT,
            Self::Photo => PHOTO_LIMIT,
            Self::Air(_) | Self::Cup(_) => LOG_LIMIT,
            Self::Cast => ARCHIVE_LIMIT,
            Self::Resin => RESIN_LIMIT,
        }
    }

    /// Reads a file in this process.
    ///
    /// # Errors
    /// [`FileError`]: why it was not read.
    pub fn read(&self, bytes: &[u8]) -> Result<Answer, FileError> {
        match self {
            Self::Drawing(Format::Svg, options) => svg::read(bytes, options).map(Answer::Drawing),
            Self::Drawing(Format::Dxf, options) => dxf::read(bytes, options).map(Answer::Drawing),
            Self::Stl => stl::read(bytes).map(Answer::Solid),
            Self::Photo => photo::read(bytes).map(Answer::Photo),
            Self::Air(options) => {
                sized(bytes, LOG_LIMIT)?;
                Ok(Answer::Air(air::read(&decoded(bytes, None), options)))
            }
            Self::Cup(options) => {
                sized(bytes, LOG_LIMIT)?;
                Ok(Answer::Cup(cup::read(&decoded(bytes, None), *options)))
            }
            Self::Cast => {
                let read = if archive::is_zip(bytes) {
                    sized(bytes, ARCHIVE_LIMIT)?;
                    archive::read(bytes)
                } else {
                    sized(bytes, CAST_LIMIT)?;
                    records::cast::read(bytes).map(Archive::from)
                };
                let pictures = read.iter().flat_map(Archive::bytes_after).map(<[u8]>::len);
                let lengths = pictures.collect();
                Ok(Answer::Cast(Box::new(read), lengths))
            }
            Self::Resin => {
                sized(bytes, RESIN_LIMIT)?;
                Ok(Answer::Resin(Box::new(records::resin::read(bytes))))
            }
        }
    }

    /// Reads a file from one stream and writes the answer to another.
    ///
    /// # Errors
    /// Those of the streams. Why a file was not read is an answer.
    pub fn answer(&self, input: impl std::io::Read, mut output: impl Write) -> std::io::Result<()> {
        let mut bytes = Vec::new();
        // One byte more than is read shows that it is too large.
        input.take(self.limit() as u64 + 1).read_to_end(&mut bytes)?;
        let read = self.read(&bytes);
        serde_json::to_writer(&mut output, &read)?;
        output.write_all(b"\n")?;
        match &read {
            Ok(Answer::Photo(photo)) => output.write_all(&photo.jpeg)?,
            Ok(Answer::Cast(read, _)) => {
                let mut pictures = read.iter().flat_map(Archive::bytes_after);
                pictures.try_for_each(|jpeg| output.write_all(jpeg))?;
            }
            _ => {}
        }
        output.flush()
    }
}

/// The answer that a process has written; `None` where it is none, since the process came to its
/// end before.
#[must_use]
pub fn answered(written: &[u8]) -> Option<Result<Answer, FileError>> {
    let line = written.iter().position(|byte| *byte == b'\n')?;
    let mut answer: Result<Answer, FileError> = serde_json::from_slice(&written[..line]).ok()?;
    let after = &written[line + 1..];
    match &mut answer {
        Ok(Answer::Photo(photo)) => {
            photo.jpeg = after.to_vec();
            photo.is_whole().then_some(())?;
        }
        Ok(Answer::Cast(read, lengths)) => {
            if let Ok(read) = &mut **read {
                read.fill(lengths, after)?;
            }
        }
        _ => {}
    }
    Some(answer)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::logs::cup::TimeUnit;
    use crate::made_up;
    use fondant_materials::resin::ResinClass;

    fn svg() -> Asked {
        Asked::Drawing(Format::Svg, Options::default())
    }

    fn through(asked: &Asked, file: &[u8]) -> Result<Answer, FileError> {
        let mut written = Vec::new();
        asked.answer(file, &mut written).unwrap();
        answered(&written).unwrap()
    }

    const SQUARE: &[u8] = br#"<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm"
        viewBox="0 0 100 100"><rect width="33.3" height="20"/></svg>"#;

    #[test]
    fn an_answer_that_was_written_is_the_one_that_was_read() {
        let dxf = Asked::Drawing(Format::Dxf, Options::default());
        assert_eq!(through(&svg(), SQUARE), svg().read(SQUARE));
        assert_eq!(through(&dxf, b"nothing"), dxf.read(b"nothing"));
        let photo = photo::keep(&made_up::slab_photo(240).unwrap()).unwrap();
        assert_eq!(through(&Asked::Photo, &photo.jpeg), Asked::Photo.read(&photo.jpeg));
        let stl = b"solid x\nendsolid x\n";
        assert_eq!(through(&Asked::Stl, stl), Asked::Stl.read(stl));
        let resin = fondant_materials::resin::shipped::generic(ResinClass::SlowCasting);
        let resin = records::resin::write(&resin).unwrap();
        assert_eq!(through(&Asked::Resin, resin.as_bytes()), Asked::Resin.read(resin.as_bytes()));
        assert_eq!(through(&Asked::Cast, b"{}"), Asked::Cast.read(b"{}"));
        let cup = Asked::Cup(CupOptions::default());
        let log = b"0;20,5\n10;31\n20;44,25";
        assert_eq!(through(&cup, log), cup.read(log));
        assert_eq!(through(&cup, b"lots"), cup.read(b"lots"));
    }

    #[test]
    fn what_is_asked_is_told_in_a_word() {
        let (unit, join) = (Some(Length::from_mm(25.4)), Some(Length::from_mm(0.1)));
        let options = [
            Options { unit, join, layers: Some(vec![0, 3]) },
            Options { unit, join: None, layers: Some(Vec::new()) },
            Options { unit: None, join, layers: None },
        ];
        let drawings = options.map(|options| Asked::Drawing(Format::Dxf, options));
        let clock = crate::logs::air::Clock::Place("Europe/Lisbon".into());
        let air = Asked::Air(AirOptions { clock, scale: None, order: None });
        let cup =
            CupOptions { times: TimeUnit::Hours, scale: Some(crate::logs::Scale::Fahrenheit) };
        let others = [Asked::Photo, Asked::Stl, air, Asked::Cup(cup), Asked::Cast, Asked::Resin];
        for asked in [svg()].into_iter().chain(others).chain(drawings) {
            assert_eq!(asked.to_string().parse(), Ok(asked));
        }
        assert_eq!("svg".parse(), Ok(svg()));
        for word in ["", "pdf", "stl:", "svg ", "dxf:x:", "dxf:-1:", "dxf:NaN:", "dxf:1", "dxf:::x"]
        {
            assert!(word.parse::<Asked>().is_err(), "{word}");
        }
    }

    #[test]
    fn what_breaks_off_is_no_answer() {
        let photo = photo::keep(&made_up::slab_photo(240).unwrap()).unwrap();
        let mut written = Vec::new();
        Asked::Photo.answer(&*photo.jpeg, &mut written).unwrap();
        for end in [0, 10, written.len() / 2, written.len() - 1] {
            assert_eq!(answered(&written[..end]), None, "{end}");
        }
        assert!(answered(b"thread main panicked\n").is_none());
    }

    #[test]
    fn no_more_than_the_limit_is_taken_in() {
        let endless = std::io::repeat(b'<');
        let mut written = Vec::new();
        svg().answer(endless, &mut written).unwrap();
        let refused = answered(&written).unwrap();
        assert!(matches!(refused, Err(FileError::TooLarge { most: SVG_LIMIT, .. })));
    }
}
