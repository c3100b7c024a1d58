#!/bin/sh
# What checks the pages' scripts, from the npm registry, into a folder: tools/scripts.sh FOLDER
# Node is Debian's, installed if it is missing.
set -eu
into=$1
from=$(cd "$(dirname "$0")/scripts" && pwd)
if ! command -v node >/dev/null || ! command -v npm >/dev/null; then
    as_root=""
    [ "$(id -u)" = 0 ] || as_root=sudo
    $as_root apt-get update -q
    $as_root apt-get install -q -y --no-install-recommends nodejs npm
fi
if [ -f "$into/package-lock.json" ] && cmp -s "$from/package-lock.json" "$into/package-lock.json"; then exit 0; fi
mkdir -p "$into"
cp "$from/package.json" "$into/"
rm -f "$into/package-lock.json"
cp "$from/package-lock.json" "$into/.wanted"
mv "$into/.wanted" "$into/package-lock.json"
(cd "$into" && npm ci --silent --no-audit --no-fund) || { rm -f "$into/package-lock.json"; exit 1; }
