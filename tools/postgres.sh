#!/bin/sh
# Run a command with a PostgreSQL of its own: tools/postgres.sh COMMAND…
# Installs Debian's server if it is missing, starts a private cluster in a temporary folder that is
# reached by a socket in that folder only, sets FOTONOMY_DATABASE_URL, and removes all of it at the end.
set -eu
server_at() { ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1; }
bin=$(server_at)
if [ -z "$bin" ] || [ ! -x "$bin/postgres" ]; then
    as_root=""
    [ "$(id -u)" = 0 ] || as_root=sudo
    # The package would start a cluster of the system's: this one is private.
    $as_root mkdir -p /etc/postgresql-common
    [ -f /etc/postgresql-common/createcluster.conf ] ||
        echo "create_main_cluster = false" | $as_root tee /etc/postgresql-common/createcluster.conf >/dev/null
    $as_root apt-get update -q
    $as_root apt-get install -q -y --no-install-recommends postgresql
    bin=$(server_at)
fi

folder=$(mktemp -d)
# The server refuses to run as root.
as_server=""
if [ "$(id -u)" = 0 ]; then
    chown postgres "$folder"
    as_server="setpriv --reuid=postgres --regid=postgres --clear-groups"
fi
cd_back=$(pwd)
cd "$folder"
finish() {
    cd "$folder" && $as_server "$bin/pg_ctl" --pgdata="$folder/data" --mode=immediate --silent stop || true
    cd "$cd_back" && rm -rf "$folder"
}
trap finish EXIT
trap 'exit 130' INT TERM
$as_server "$bin/initdb" --pgdata="$folder/data" --username=fotonomy --auth=trust --encoding=UTF8 \
    --locale=C.UTF-8 --no-sync >"$folder/initdb.log"
$as_server "$bin/pg_ctl" --pgdata="$folder/data" --log="$folder/server.log" --wait --silent \
    --options="-c listen_addresses='' -c unix_socket_directories='$folder' -c max_connections=200" start
cd "$cd_back"
# Two strokes after the @: a folder of sockets, then the database's name.
FOTONOMY_DATABASE_URL="postgresql://fotonomy@/$folder/postgres" "$@"
