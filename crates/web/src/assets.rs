//! Styles, scripts and fonts, embedded in the program: each has its fingerprint in its address, so
//! that browsers keep it for good.

use std::sync::LazyLock;

use askama::filters::Safe;
use axum::Router;
use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use memory_serve::{CacheControl, Manifest, MemoryServe};
use sha2::{Digest, Sha256};

/// Path under which assets are served.
const ROOT: &str = "/assets";
/// Scripts that others import, by the name that they import them by.
const SHARED: [(&str, &str); 9] = [
    ("fondant/depth", "/depth.js"),
    ("fondant/drawing", "/drawing.js"),
    ("fondant/hold", "/hold.js"),
    ("fondant/key", "/key.js"),
    ("fondant/lines", "/lines.js"),
    ("fondant/live", "/live.js"),
    ("fondant/outlines", "/outlines.js"),
    ("fondant/pours", "/pours.js"),
    ("fondant/typed", "/typed.js"),
];

static MANIFEST: LazyLock<Manifest> = LazyLock::new(|| served().manifest());
/// Where scripts find those that they import. Names and addresses of our own: none of them needs
/// escaping.
static IMPORT_MAP: LazyLock<String> = LazyLock::new(|| {
    let entry = |(name, file)| format!("\"{name}\":\"{}\"", path(file));
    format!("{{\"imports\":{{{}}}}}", SHARED.map(entry).join(","))
});

fn served() -> MemoryServe {
    memory_serve::load!()
        .index_file(None)
        .enable_hashed_routes(true)
        .enable_brotli(true)
        .cache_control(CacheControl::NoCache)
}

/// Files are compressed once, when they are first asked for, and kept.
static ROUTES: LazyLock<Router> = LazyLock::new(|| {
    // The version of a font stands in its name: stylesheets name it as it is.
    let fonts = memory_serve::load!("fonts").index_file(None).cache_control(CacheControl::Long);
    Router::new().nest(ROOT, served().into_router()).nest("/assets/fonts", fonts.into_router())
});

/// The routes of all embedded files.
pub(crate) fn routes<S: Clone + Send + Sync + 'static>() -> Router<S> {
    ROUTES.clone().with_state(())
}

/// The address of a file, such as `/app.css`, with its fingerprint.
pub(crate) fn path(file: &str) -> String {
    let served = MANIFEST.get(file);
    debug_assert!(served.is_some(), "there is no {file}");
    format!("{ROOT}{}", served.unwrap_or(file))
}

/// The import map of every page.
pub(crate) fn import_map() -> Safe<&'static str> {
    Safe(&IMPORT_MAP)
}

/// The hash of the import map as it stands on the page, by which the page's policy allows it and
/// no other inline script.
pub(crate) fn import_map_hash() -> String {
    format!("sha256-{}", STANDARD.encode(Sha256::digest(IMPORT_MAP.as_bytes())))
}

#[cfg(test)]
mod tests {
    use std::fs;
    use std::path::Path;
    use std::time::SystemTime;

    /// Were it newer than the build that gathered it, the next command would gather it again, and compile
    /// once more all that is built on these pages.
    #[test]
    fn what_the_build_gathers_is_older_than_the_build() {
        for folder in ["assets", "fonts"] {
            let folder = Path::new(env!("OUT_DIR")).join(folder);
            let files = fs::read_dir(&folder).unwrap().map(|entry| entry.unwrap().path());
            let all: Vec<_> = files.chain([folder.clone()]).collect();
            assert!(all.len() > 1, "{} is empty", folder.display());
            for path in all {
                let changed = fs::metadata(&path).unwrap().modified().unwrap();
                assert_eq!(changed, SystemTime::UNIX_EPOCH, "{}", path.display());
            }
        }
    }
}
