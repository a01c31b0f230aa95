#!/usr/bin/env bash
# Stands in for the compiler of the workspace's crates (RUSTC_WORKSPACE_WRAPPER): lints a crate and
# compiles it. Linted by itself, a crate needs all its dependencies compiled a second time.
set -euo pipefail
rustc=$1
shift
# Cargo also asks for the compiler's version and settings.
[[ " $* " == *" --emit="* ]] || exec "$rustc" "$@"
# Built for its tests, a library holds all that it holds without them: clippy sees it once.
is_linted=false
case " $* " in
  *" --test "* | *" --crate-type bin "*) is_linted=true ;;
  *) grep -qs '^test = false' "$CARGO_MANIFEST_DIR/Cargo.toml" && is_linted=true ;;
esac
$is_linted || exec "$rustc" "$@" -D warnings
# A library's own tests look at its parts: optimising the parts once more takes longer than it saves when
# they run, but for those of shapes, which trace whole photos.
case " $* " in
  *" --crate-name fondant_shapes "*) ;;
  *" --crate-name fondant_"*" --test "*) set -- "$@" -C opt-level=0 -C codegen-units=16 ;;
esac
# It compiles too, in the same pass, without the optimisations that come before LLVM: what others run
# fast is a library, and compiled without it. Its settings are in CLIPPY_ARGS; see .ci/run.
exec clippy-driver "$rustc" "$@"
