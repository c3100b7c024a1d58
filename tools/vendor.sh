#!/bin/sh
# Fetch the front-end files from the npm registry and lay them into static/vendor.
# Only needed to renew them; the results are committed.
set -eu
here=$(cd "$(dirname "$0")" && pwd)
out="$here/../fotonomy/web/static/vendor"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cp "$here/package.json" "$work/"
(cd "$work" && npm install --silent --no-audit --no-fund)
from="$work/node_modules"
mkdir -p "$out"
cp "$from/@alpinejs/csp/dist/cdn.min.js" "$out/alpine-csp.min.js"
cp "$from/@alpinejs/morph/dist/cdn.min.js" "$out/alpine-morph.min.js"
cp "$from/sortablejs/Sortable.min.js" "$out/sortable.min.js"
# Of the faces what the pages use: their letters and marks, the weights and widths that are set.
python3 -m venv "$work/fonts"
"$work/fonts/bin/pip" install --quiet fonttools brotli
letters="U+0020-007E,U+00A0-00FF,U+2009,U+202F,U+2013-2014,U+2018-201E,U+2026,U+2032-2033,U+20AC"
letters="$letters,U+2153-2154,U+215B-215E,U+2190-2193,U+2212,U+2248,U+2260,U+2264-2265"
subset() {
    "$work/fonts/bin/pyftsubset" "$1" --unicodes="$3" --flavor=woff2 --output-file="$2" \
        --layout-features=kern,liga,tnum,lnum,mark,mkmk,ccmp,locl
}
"$work/fonts/bin/fonttools" varLib.instancer -q -o "$work/archivo.ttf" \
    "$from/@fontsource-variable/archivo/files/archivo-latin-wdth-normal.woff2" \
    wght=400:800 wdth=88:112
subset "$work/archivo.ttf" "$out/archivo.woff2" "$letters,U+0100-017F"
"$work/fonts/bin/fonttools" varLib.instancer -q -o "$work/spline-sans-mono.ttf" \
    "$from/@fontsource-variable/spline-sans-mono/files/spline-sans-mono-latin-wght-normal.woff2" \
    wght=400:700
subset "$work/spline-sans-mono.ttf" "$out/spline-sans-mono.woff2" "$letters"
# Formulas: letters, signs and the parts that grow with what they enclose.
signs="U+0020-007E,U+00A0,U+00B0,U+00B2-00B3,U+00B5,U+00B7,U+00B9,U+0391-03A9,U+03B1-03C9,U+2016"
signs="$signs,U+2032,U+2070,U+2074-2079,U+207A-207B,U+2080-2089,U+210E,U+2211-2212,U+221A,U+2260"
signs="$signs,U+2264-2265,U+2308-230B,U+1D434-1D467,U+1D6E2-1D71B"
"$work/fonts/bin/pyftsubset" "$from/@fontsource/noto-sans-math/files/noto-sans-math-latin-400-normal.woff2" \
    --unicodes="$signs" --flavor=woff2 --output-file="$out/noto-sans-math.woff2" \
    --layout-features=kern,ccmp,ssty,mark,mkmk
# A file a weight for PDFs: to take one weight out of a file of all costs a second at every PDF.
mkdir -p "$out/paper"
weight() {
    "$work/fonts/bin/fonttools" varLib.instancer -q -o "$out/paper/$1-$2.ttf" "$out/$1.woff2" "wght=$2" $3
}
for weight in 400 700 800; do weight archivo "$weight" wdth=100; done
for weight in 400 600 700; do weight spline-sans-mono "$weight"; done
cp "$from/idb/build/umd.js" "$out/idb.min.js"
cp "$from/idb/LICENSE" "$out/idb.LICENSE"
cp "$from/bulma/LICENSE" "$out/bulma.LICENSE"
cp "$from/sortablejs/LICENSE" "$out/sortable.LICENSE"
cp "$from/@fontsource-variable/archivo/LICENSE" "$out/archivo.LICENSE"
cp "$from/@fontsource/noto-sans-math/LICENSE" "$out/noto-sans-math.LICENSE"
cp "$from/@fontsource-variable/spline-sans-mono/LICENSE" "$out/spline-sans-mono.LICENSE"
"$from/.bin/sass" --no-source-map --style=compressed --load-path="$from" \
   "$here/bulma.scss" "$work/bulma.css"
cp "$here/purge.mjs" "$work/"
node "$work/purge.mjs" "$work/bulma.css" "$out/bulma.css" "$here/.."
cp "$here/workbox.mjs" "$work/"
"$from/.bin/esbuild" "$work/workbox.mjs" --bundle --minify --format=iife --global-name=workbox \
    --define:process.env.NODE_ENV='"production"' --outfile="$out/workbox.min.js" --log-level=error
cp "$from/workbox-core/LICENSE" "$out/workbox.LICENSE"
