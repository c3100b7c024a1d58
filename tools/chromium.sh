#!/bin/sh
# Debian's chromium for the browser tests, without its windows, installed if it is missing.
set -eu
command -v chromium-headless-shell >/dev/null && exit 0
as_root=""
[ "$(id -u)" = 0 ] || as_root=sudo
$as_root apt-get update -q
$as_root apt-get install -q -y --no-install-recommends chromium-headless-shell
