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
# Clippy's own settings, as cargo-clippy hands them on.
export CLIPPY_ARGS=-D__CLIPPY_HACKERY__warnings__CLIPPY_HACKERY__
# Clippy compiles too, in one pass with the linting, without the optimisations that come before LLVM: a
# crate that is optimised is compiled by the compiler itself, in a second pass.
if $is_linted && [[ " $* " != *" opt-level="* ]]; then
  exec clippy-driver "$rustc" "$@"
fi
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
  clippy-driver "$rustc" "${arguments[@]}"
  rm -rf "$scratch"
fi
exec "$rustc" "$@" -D warnings
