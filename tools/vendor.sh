#!/bin/sh
# Fetch the front-end files from the npm registry and lay them into static/vendor.
# Only needed to renew them; the results are committed.
set -eu
here=$(cd "$(dirname "$0")" && pwd)
out="$here/../fotonomy/site/static/vendor"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cp "$here/package.json" "$work/"
(cd "$work" && npm install --silent --no-audit --no-fund)
from="$work/node_modules"
mkdir -p "$out"
cp "$from/@alpinejs/csp/dist/cdn.min.js" "$out/alpine-csp.min.js"
cp "$from/@alpinejs/morph/dist/cdn.min.js" "$out/alpine-morph.min.js"
cp "$from/sortablejs/Sortable.min.js" "$out/sortable.min.js"
cp "$from/@fontsource-variable/archivo/files/archivo-latin-wdth-normal.woff2" "$out/archivo.woff2"
cp "$from/@fontsource-variable/spline-sans-mono/files/spline-sans-mono-latin-wght-normal.woff2" \
   "$out/spline-sans-mono.woff2"
cp "$from/idb/build/umd.js" "$out/idb.min.js"
cp "$from/idb/LICENSE" "$out/idb.LICENSE"
cp "$from/bulma/LICENSE" "$out/bulma.LICENSE"
cp "$from/sortablejs/LICENSE" "$out/sortable.LICENSE"
cp "$from/@fontsource-variable/archivo/LICENSE" "$out/archivo.LICENSE"
cp "$from/@fontsource-variable/spline-sans-mono/LICENSE" "$out/spline-sans-mono.LICENSE"
"$from/.bin/sass" --no-source-map --style=compressed --load-path="$from" \
   "$here/bulma.scss" "$work/bulma.css"
cp "$here/purge.mjs" "$work/"
node "$work/purge.mjs" "$work/bulma.css" "$out/bulma.css" "$here/.."
