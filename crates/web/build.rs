//! Gathers styles, fonts and the scripts that stand beside their pages, and embeds them with their
//! fingerprints, compressed.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};
use std::time::SystemTime;
use std::{env, fs, io};

fn main() -> io::Result<()> {
    let out = PathBuf::from(env::var("OUT_DIR").map_err(io::Error::other)?);
    let (gathered, fonts) = (out.join("assets"), out.join("fonts"));
    let mut found = BTreeMap::new();
    files(Path::new("assets"), &mut found)?;
    scripts(Path::new("src"), &mut found)?;
    replace(&gathered, &found)?;
    found.clear();
    files(Path::new("assets/fonts"), &mut found)?;
    replace(&fonts, &found)?;
    memory_serve::load_names_directories([("default", gathered), ("fonts", fonts)], true);
    Ok(())
}

/// Files by their names, which are unique.
type Files = BTreeMap<String, PathBuf>;

fn files(folder: &Path, found: &mut Files) -> io::Result<()> {
    println!("cargo::rerun-if-changed={}", folder.display());
    for entry in fs::read_dir(folder)? {
        let path = entry?.path();
        if path.is_file() {
            add(path, found)?;
        }
    }
    Ok(())
}

/// All scripts under a folder. A new one is found with the next change of an old one.
fn scripts(folder: &Path, found: &mut Files) -> io::Result<()> {
    for entry in fs::read_dir(folder)? {
        let path = entry?.path();
        if path.is_dir() {
            scripts(&path, found)?;
        } else if path.extension().is_some_and(|extension| extension == "js") {
            println!("cargo::rerun-if-changed={}", path.display());
            add(path, found)?;
        }
    }
    Ok(())
}

fn add(path: PathBuf, found: &mut Files) -> io::Result<()> {
    let name = path.file_name().unwrap_or_default().to_string_lossy().into_owned();
    match found.insert(name, path) {
        None => Ok(()),
        Some(other) => Err(io::Error::other(format!("{} has a namesake", other.display()))),
    }
}

/// Makes a folder hold these files and no others. Cargo goes by times of change: what is written here
/// while this runs looks newer than the run, and with the next command this would run again and all that
/// is built on it be compiled again. So the folder and its files are as old as can be.
fn replace(folder: &Path, files: &Files) -> io::Result<()> {
    fs::create_dir_all(folder)?;
    for entry in fs::read_dir(folder)? {
        let path = entry?.path();
        let name = path.file_name().unwrap_or_default().to_string_lossy().into_owned();
        if !files.contains_key(&name) {
            fs::remove_file(path)?;
        }
    }
    for (name, from) in files {
        let (to, bytes) = (folder.join(name), fs::read(from)?);
        if fs::read(&to).ok().as_ref() != Some(&bytes) {
            fs::write(&to, bytes)?;
        }
        make_old(&to)?;
    }
    make_old(folder)
}

fn make_old(path: &Path) -> io::Result<()> {
    fs::File::open(path)?.set_modified(SystemTime::UNIX_EPOCH)
}
