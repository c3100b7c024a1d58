"""What the program writes is for its owner's eyes only."""

import os
from pathlib import Path

NAMES = ("fotonomy.sqlite3", "fotonomy.sqlite3-wal", "fotonomy.sqlite3-shm", "secret_key",
         "fotonomy.turn", "kept-free")  # fmt: skip


def keep_private(folder: Path) -> None:
    """From here on files are made for the owner alone; those that are there are made so."""
    os.umask(0o077)
    for name in NAMES:
        path = folder / name
        if path.exists() and path.stat().st_mode & 0o077:
            path.chmod(0o600)
