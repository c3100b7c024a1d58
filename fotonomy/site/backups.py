"""Backups: one file with the whole database, made while the program serves, and put back."""

import hashlib
import json
import os
import sqlite3
import tempfile
import zipfile
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from django.db import DatabaseError, connection

from fotonomy import __version__
from fotonomy.exchange.errors import DAMAGED_ZIP

DATABASE, MANIFEST = "fotonomy.sqlite3", "manifest.json"
FORMAT = "fotonomy-backup"
# Larger than any season of any crew; an archive that says more is not one of ours.
MOST_BYTES = 20 * 2**30


class BackupError(ValueError):
    """A backup cannot be made, or a file is no sound backup; the words say why."""


@dataclass(frozen=True, slots=True)
class Manifest:
    """What stands beside the database in a backup: when and by which version, and its checksum."""

    made: str
    version: str
    sha256: str
    size: int


def _needs_sqlite() -> None:
    if connection.vendor != "sqlite":
        raise BackupError("this server keeps its data in PostgreSQL: use pg_dump and pg_restore")


def _checksum(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _sound(path: Path) -> None:
    """Raise BackupError for a database that SQLite itself finds fault with."""
    try:
        base = sqlite3.connect(f"file:{path}?mode=ro", uri=True)
        try:
            (found,) = base.execute("PRAGMA integrity_check").fetchone()
            names = {name for (name,) in base.execute("SELECT name FROM sqlite_master")}
        finally:
            base.close()
    except sqlite3.DatabaseError as error:
        raise BackupError(f"the database in it is damaged: {error}") from error
    if found != "ok":
        raise BackupError(f"the database in it is damaged: {found}")
    if not {"shoots_setup", "django_migrations"} <= names:
        raise BackupError("the database in it is not one of this program")


def _live() -> Any:
    connection.ensure_connection()
    return connection.connection


def backup(target: Path) -> Manifest:
    """Write everything to one file, readable by its owner only, while the program goes on serving.

    The file is complete or not there. Raises BackupError, also where the database is damaged.
    """
    _needs_sqlite()
    try:
        return _backup(target)
    except (DatabaseError, sqlite3.DatabaseError) as error:
        raise BackupError(
            f"the database is damaged ({error}). Put the last backup back: restore FILE --replace"
        ) from error


def _backup(target: Path) -> Manifest:
    with tempfile.TemporaryDirectory(dir=target.parent, prefix=".backup-") as folder:
        copy = Path(folder) / DATABASE
        base = sqlite3.connect(copy)
        try:
            # SQLite's own online backup: a state that stood at one moment.
            _live().backup(base, pages=1000)
        finally:
            base.close()
        _sound(copy)
        made = datetime.now(UTC).isoformat(timespec="seconds")
        manifest = Manifest(made, __version__, _checksum(copy), copy.stat().st_size)
        part = Path(folder) / "part.zip"
        with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.write(copy, DATABASE)
            words = {"format": FORMAT, "format_version": 1, "made": manifest.made,
                     "version": manifest.version, "sha256": manifest.sha256,
                     "size": manifest.size}  # fmt: skip
            archive.writestr(MANIFEST, json.dumps(words, indent=1))
        part.chmod(0o600)
        with part.open("rb+") as file:
            os.fsync(file.fileno())
        part.replace(target)
    return manifest


def restore(source: Path, replace: bool = False) -> Manifest:
    """Put a backup in the place of the database. Raises BackupError, and changes nothing then.

    ``replace`` allows it where there is somebody's data already.
    """
    _needs_sqlite()
    with tempfile.TemporaryDirectory(prefix="fotonomy-restore-") as folder:
        copy = Path(folder) / DATABASE
        manifest = _unpacked(source, copy)
        _sound(copy)
        if not replace and _holds_data():
            raise BackupError("there is data here already: say --replace to put the backup over it")
        try:
            _put_in(copy)
        except (DatabaseError, sqlite3.DatabaseError):
            # What is there cannot even be written over: it is set aside, and kept to be looked at.
            connection.close()
            _set_aside()
            _put_in(copy)
    return manifest


def _put_in(copy: Path) -> None:
    base = sqlite3.connect(copy)
    try:
        base.backup(_live(), pages=-1)
    finally:
        base.close()


def _set_aside() -> None:
    """Move a damaged database, and the files that belong to it, out of the way."""
    stamp = datetime.now(UTC).strftime("%Y%m%d-%H%M%S")
    name = Path(connection.settings_dict["NAME"])
    for end in ("", "-wal", "-shm"):
        path = name.with_name(name.name + end)
        if path.exists():
            path.rename(path.with_name(f"damaged-{stamp}-{path.name}"))


def _unpacked(source: Path, copy: Path) -> Manifest:
    try:
        with zipfile.ZipFile(source) as archive:
            words = json.loads(archive.read(MANIFEST))
            if words.get("format") != FORMAT or words.get("format_version") != 1:
                raise BackupError("it is no backup of this program")
            if archive.getinfo(DATABASE).file_size > MOST_BYTES:
                raise BackupError("the database in it is absurdly large")
            with archive.open(DATABASE) as packed, copy.open("wb") as file:
                while block := packed.read(1 << 20):
                    file.write(block)
            manifest = Manifest(words["made"], words["version"], words["sha256"], words["size"])
    except FileNotFoundError as error:
        raise BackupError("there is no such file") from error
    except (KeyError, *DAMAGED_ZIP) as error:
        if isinstance(error, BackupError):
            raise
        raise BackupError(f"it is damaged, or no backup: {error}") from error
    if _checksum(copy) != manifest.sha256:
        raise BackupError("its checksum does not fit: the file is damaged")
    return manifest


def _holds_data() -> bool:
    """Whether there is somebody's data here; a damaged database may well hold some."""
    try:
        if "auth_user" not in connection.introspection.table_names():
            return False
        with connection.cursor() as cursor:
            cursor.execute("SELECT COUNT(*) FROM auth_user")
            return bool(cursor.fetchone()[0])
    except DatabaseError:
        return True
