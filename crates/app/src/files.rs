//! Files from outside, read as what they are. A file that is kept afterwards is shared with its
//! reader and not copied: it may have fifty megabytes.

use std::sync::Arc;

use fondant_files::FileError;
use fondant_files::drawing::{Drawing, Options};
use fondant_files::logs::air::{AirLogError, AirOptions, ReadAir};
use fondant_files::logs::cup::{CupLogError, CupOptions};
use fondant_files::photo::Photo;
use fondant_files::reading::{Answer, Asked, Format};
use fondant_files::records::NotARecord;
use fondant_files::records::archive::Archive;
use fondant_heat::calibration::log::Log;
use fondant_materials::resin::Record;
use fondant_shapes::geometry::mesh::Solid;

use crate::app::App;
use crate::error::AppError;
use crate::reading::Readers;

impl App {
    /// Reads a file from outside.
    async fn read_file(
        &self,
        asked: Asked,
        bytes: Arc<Vec<u8>>,
    ) -> Result<Result<Answer, FileError>, AppError> {
        match &self.reading.readers {
            Readers::Program(program) => self.reading.read(program, &asked, &bytes).await,
            Readers::Here => self.compute_beside(move |_| asked.read(&bytes)).await,
        }
    }

    /// A drawing, read as the maker says.
    ///
    /// # Errors
    /// The inner error says why the file was not read; [`AppError::Busy`], [`AppError::Fault`].
    pub async fn read_drawing(
        &self,
        format: Format,
        options: Options,
        bytes: Arc<Vec<u8>>,
    ) -> Result<Result<Drawing, FileError>, AppError> {
        match self.read_file(Asked::Drawing(format, options), bytes).await? {
            Ok(Answer::Drawing(drawing)) => Ok(Ok(drawing)),
            other => unlike(other),
        }
    }

    /// The solid in a mesh, its unit a metre long.
    ///
    /// # Errors
    /// As [`App::read_drawing`].
    pub async fn read_solid(
        &self,
        bytes: Arc<Vec<u8>>,
    ) -> Result<Result<Solid, FileError>, AppError> {
        match self.read_file(Asked::Stl, bytes).await? {
            Ok(Answer::Solid(solid)) => Ok(Ok(solid)),
            other => unlike(other),
        }
    }

    /// A log of the shop's air.
    ///
    /// # Errors
    /// As [`App::read_drawing`]; the innermost error says which line is wrong.
    pub async fn read_air(
        &self,
        options: AirOptions,
        bytes: Vec<u8>,
    ) -> Result<Result<Result<ReadAir, AirLogError>, FileError>, AppError> {
        match self.read_file(Asked::Air(options), Arc::new(bytes)).await? {
            Ok(Answer::Air(read)) => Ok(Ok(read)),
            other => unlike(other),
        }
    }

    /// A log of a cup of resin.
    ///
    /// # Errors
    /// As [`App::read_air`].
    pub async fn read_cup(
        &self,
        options: CupOptions,
        bytes: Vec<u8>,
    ) -> Result<Result<Result<Log, CupLogError>, FileError>, AppError> {
        match self.read_file(Asked::Cup(options), Arc::new(bytes)).await? {
            Ok(Answer::Cup(read)) => Ok(Ok(read)),
            other => unlike(other),
        }
    }

    /// A whole cast.
    ///
    /// # Errors
    /// As [`App::read_drawing`]; the innermost error says why it is none.
    pub async fn read_cast(
        &self,
        bytes: Vec<u8>,
    ) -> Result<Result<Result<Archive, NotARecord>, FileError>, AppError> {
        match self.read_file(Asked::Cast, Arc::new(bytes)).await? {
            Ok(Answer::Cast(read, _)) => Ok(Ok(*read)),
            other => unlike(other),
        }
    }

    /// A resin.
    ///
    /// # Errors
    /// As [`App::read_cast`].
    pub async fn read_resin(
        &self,
        bytes: Vec<u8>,
    ) -> Result<Result<Result<Record, NotARecord>, FileError>, AppError> {
        match self.read_file(Asked::Resin, Arc::new(bytes)).await? {
            Ok(Answer::Resin(read)) => Ok(Ok(*read)),
            other => unlike(other),
        }
    }

    /// A photo as a camera wrote it.
    ///
    /// # Errors
    /// As [`App::read_drawing`].
    pub(crate) async fn read_photo(
        &self,
        bytes: Vec<u8>,
    ) -> Result<Result<Photo, FileError>, AppError> {
        match self.read_file(Asked::Photo, Arc::new(bytes)).await? {
            Ok(Answer::Photo(photo)) => Ok(Ok(photo)),
            other => unlike(other),
        }
    }
}

/// A refusal; another answer than was asked for is a fault of the program.
fn unlike<T>(answer: Result<Answer, FileError>) -> Result<Result<T, FileError>, AppError> {
    match answer {
        Err(error) => Ok(Err(error)),
        Ok(_) => Err(AppError::fault("a reader answered another question")),
    }
}
