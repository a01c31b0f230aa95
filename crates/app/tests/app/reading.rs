//! Programs that read a file from outside, and how they end.

use std::os::unix::fs::PermissionsExt;

use fondant_app::{App, AppError, Readers};
use fondant_files::FileError;
use fondant_files::drawing::Options;
use fondant_files::reading::Format;

use crate::app;

/// What is said of a drawing whose reader is this shell script.
async fn read_by(app: &App, script: &str) -> Result<FileError, AppError> {
    let folder = tempfile::tempdir().expect("a folder");
    let program = folder.path().join("reader");
    std::fs::write(&program, format!("#!/bin/sh\n{script}\n")).expect("a script");
    std::fs::set_permissions(&program, PermissionsExt::from_mode(0o700)).expect("it may run");
    let app = app.clone().with_readers(Readers::Program(program));
    let read = app.read_drawing(Format::Svg, Options::default(), b"<svg/>".to_vec().into());
    read.await.map(|read| read.expect_err("it has no answer"))
}

#[tokio::test]
async fn how_a_process_ended_says_what_was_wrong_with_the_file() {
    let test = app().await;
    let read_by = async |script: &str| read_by(&test.app, script).await;
    let too_long = read_by("kill -XCPU $$").await.unwrap();
    assert!(too_long.to_string().contains("takes too long"), "{too_long}");
    for signal in ["ABRT", "KILL", "SEGV"] {
        let too_much = read_by(&format!("kill -{signal} $$")).await.unwrap();
        assert!(matches!(too_much, FileError::TooMuch(_)), "{signal}: {too_much}");
        assert!(too_much.to_string().contains("more memory"), "{signal}: {too_much}");
    }
    assert!(matches!(read_by("exit 101").await, Ok(FileError::Broken(_))), "it panicked");
    let could_not_begin = read_by("exit 2").await;
    assert!(matches!(could_not_begin, Err(AppError::Fault(_))), "{could_not_begin:?}");
}
