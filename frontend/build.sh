#!/usr/bin/env bash
# Builds the stylesheet and copies scripts and fonts from their npm packages to where the
# application embeds them. The application's own scripts stand beside their pages and need no
# building. The results are committed, so that building and running Fondant needs no Node.
set -euo pipefail
cd "$(dirname "$0")"
out=../crates/web/assets
npm ci --ignore-scripts --no-audit --no-fund
mkdir -p "$out/fonts"
npx --no-install @tailwindcss/cli -i src/app.css -o "$out/app.css" --minify
cp node_modules/htmx.org/dist/htmx.min.js "$out/htmx.min.js"
cp node_modules/@alpinejs/csp/dist/cdn.min.js "$out/alpine.min.js"
# Tests look at every page with it.
cp node_modules/axe-core/axe.min.js ../crates/testkit/assets/axe.min.js
# The version stands in a font's name: browsers keep it for good.
version() { node -p "require('./node_modules/@fontsource-variable/$1/package.json').version"; }
font() { # package, its file, our name
  cp "node_modules/@fontsource-variable/$1/files/$2" "$out/fonts/$3-$(version "$1").woff2"
}
rm -f "$out"/fonts/*
font fraunces fraunces-latin-wght-normal.woff2 fraunces
font atkinson-hyperlegible-next atkinson-hyperlegible-next-latin-wght-normal.woff2 next
font atkinson-hyperlegible-mono atkinson-hyperlegible-mono-latin-wght-normal.woff2 mono
