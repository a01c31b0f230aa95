#!/usr/bin/env bash
# Stands in for the compiler of the workspace's crates (RUSTC_WORKSPACE_WRAPPER): lints a crate, then
# compiles it. Linted by itself, a crate needs all its dependencies compiled a second time; compiled
# by clippy it is slow, as clippy turns off the optimisations that come before LLVM.
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
if $is_linted; then
  scratch=$(mktemp -d)
  trap 'rm -rf "$scratch"' EXIT
  arguments=()
  is_folder=false
  for argument in "$@"; do
    case $argument in
      --emit=*) argument=--emit=metadata ;;
      --out-dir) is_folder=true ;;
      # Cargo goes on with the crates above once metadata is announced.
      --json=*) argument=${argument/,artifacts/} ;;
      *) if $is_folder; then argument=$scratch; is_folder=false; fi ;;
    esac
    arguments+=("$argument")
  done
  # Clippy's own settings, as cargo-clippy hands them on.
  CLIPPY_ARGS=-D__CLIPPY_HACKERY__warnings__CLIPPY_HACKERY__ clippy-driver "$rustc" "${arguments[@]}"
  rm -rf "$scratch"
fi
exec "$rustc" "$@" -D warnings
