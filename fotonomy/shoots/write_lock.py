"""Writers take turns before they ask the database: in order of coming, and without sleeping.

SQLite lets one writer in at a time and makes the others look again after pauses that grow to a
tenth of a second, so under load somebody always waits far longer than the rest. A lock on a file
beside the database wakes the next one at once, over threads and over processes; the system takes
it from a process that dies. PostgreSQL needs none. The threads of one process that share a database
in memory share its connection too: for them it is a lock of the process.
"""

import fcntl
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from threading import RLock

from django.db import connection

LOCK = "fotonomy.turn"
_IN_MEMORY = RLock()


@contextmanager
def in_turn() -> Iterator[None]:
    """Wait for one's turn to write. Inside a transaction, which has its turn, nothing is done."""
    name = connection.settings_dict["NAME"]
    if connection.vendor == "sqlite" and not isinstance(name, Path):
        with _IN_MEMORY:
            yield
        return
    if connection.vendor != "sqlite" or connection.in_atomic_block:
        yield
        return
    file = os.open(name.parent / LOCK, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
    try:
        fcntl.flock(file, fcntl.LOCK_EX)
        yield
    finally:
        os.close(file)
