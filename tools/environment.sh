#!/bin/sh
# Make (or renew) the Python environment: tools/environment.sh FOLDER REQUIREMENTS
set -eu
venv=$1
wanted=$2
stamp="$venv/.installed-from"
if [ -f "$stamp" ] && cmp -s "$wanted" "$stamp"; then exit 0; fi

python=${PYTHON:-}
for name in $python python3.11 python3.12 python3.13 python3; do
    if command -v "$name" >/dev/null && "$name" -c 'import sys; sys.exit(sys.version_info < (3, 11))'; then
        python=$name
        break
    fi
done
if [ -z "$python" ]; then
    echo "Python 3.11 or newer is needed; on Debian: apt install python3 python3-venv" >&2
    exit 1
fi
if ! "$python" -c 'import ensurepip, venv' 2>/dev/null; then
    if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
        apt-get update -q && apt-get install -q -y python3-venv
    else
        echo "Python's venv module is missing; on Debian: apt install python3-venv" >&2
        exit 1
    fi
fi
[ -x "$venv/bin/python" ] || "$python" -m venv "$venv"
# PDFs are set with Pango; without it the program runs, and says so where a PDF is asked for.
if ! ldconfig -p 2>/dev/null | grep -q 'libpangoft2-1.0'; then
    if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
        apt-get update -q && apt-get install -q -y libpango-1.0-0 libpangoft2-1.0-0 || true
    else
        echo "For PDFs: apt install libpango-1.0-0 libpangoft2-1.0-0" >&2
    fi
fi
"$venv/bin/python" -m pip install --quiet --disable-pip-version-check -r "$wanted"
cp "$wanted" "$stamp"
