#!/usr/bin/env bash
# Builds the stylesheet and copies scripts and fonts from their npm packages to
# where the application embeds them, beside its own app.js, theme.js and icon,
# which need no building. The results are committed, so that building and
# running Fondant needs no Node.
set -euo pipefail
cd "$(dirname "$0")"
out=../crates/fondant-web/assets
npm ci --ignore-scripts --no-audit --no-fund
mkdir -p "$out/fonts"
npx --no-install @tailwindcss/cli -i src/app.css -o "$out/app.css" --minify
cp node_modules/htmx.org/dist/htmx.min.js "$out/htmx.min.js"
cp node_modules/@alpinejs/csp/dist/cdn.min.js "$out/alpine.min.js"
fonts=node_modules/@fontsource-variable
cp "$fonts/fraunces/files/fraunces-latin-wght-normal.woff2" "$out/fonts/fraunces.woff2"
cp "$fonts/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2" \
  "$out/fonts/next.woff2"
cp "$fonts/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-wght-normal.woff2" \
  "$out/fonts/mono.woff2"
