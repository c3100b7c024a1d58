#!/bin/sh
# Debian's chromium for the browser tests, installed if it is missing.
set -eu
command -v chromium >/dev/null && exit 0
as_root=""
[ "$(id -u)" = 0 ] || as_root=sudo
$as_root apt-get update -q
$as_root apt-get install -q -y --no-install-recommends chromium
