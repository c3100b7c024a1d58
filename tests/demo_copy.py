"""The demo put back from a copy: loading it takes seconds, and some tests sweep the database clean."""

import os
import sqlite3
from contextlib import closing
from pathlib import Path
from threading import current_thread, get_ident, main_thread
from time import monotonic, sleep

from django.contrib.auth import get_user_model
from django.core.signals import request_finished, request_started
from django.db import connection

from fotonomy.demo.loader import DEMO_USER, ensure_demo
from fotonomy.field.models import PictureData, Take, TakePicture
from fotonomy.shoots.models import CrewLink

_copies: list[sqlite3.Connection] = []
# Requests that a server of the tests, in a thread beside them, has not answered yet.
_under_way: set[int] = set()


def _begun(**_: object) -> None:
    if current_thread() is not main_thread():
        _under_way.add(get_ident())


def _answered(**_: object) -> None:
    _under_way.discard(get_ident())


request_started.connect(_begun)
request_finished.connect(_answered)


def keep_copy(path: Path) -> None:
    """Keep the database as it is now, with the demo just loaded, in memory and in a file."""
    copy = sqlite3.connect(":memory:", check_same_thread=False)
    connection.connection.backup(copy)
    _copies.append(copy)
    for old in path.parent.glob("*.sqlite3"):
        old.unlink()
    # Under another name first: a process that is ended leaves no half copy behind.
    unfinished = path.with_suffix(f".{os.getpid()}")
    with sqlite3.connect(unfinished) as file:
        copy.backup(file)
    file.close()
    unfinished.rename(path)


def read_copy(path: Path) -> None:
    """Take a kept copy as the database: its tables and the demo in them."""
    with sqlite3.connect(path) as file:
        copy = sqlite3.connect(":memory:", check_same_thread=False)
        file.backup(copy)
    file.close()
    _copies.append(copy)
    put_back()


def put_back() -> bool:
    """The database as it was just after the demo was loaded; False where there is no copy."""
    if not _copies or connection.in_atomic_block:
        return False
    connection.ensure_connection()
    # What a closed page had sent would be written into the copy of the next test.
    waited = monotonic() + 20
    while _under_way and monotonic() < waited:
        sleep(0.02)
    _under_way.clear()
    while True:
        try:
            _copies[-1].backup(connection.connection)
        except sqlite3.OperationalError:
            if monotonic() > waited:
                raise
            sleep(0.02)
        else:
            return True


def emptied() -> bool:
    """The test database without a table; False on PostgreSQL. The copy is put back after the test."""
    if connection.vendor != "sqlite":
        return False
    connection.ensure_connection()
    with closing(sqlite3.connect(":memory:")) as empty:
        empty.backup(connection.connection)
    return True


def demo_again() -> None:
    """The demo is there: put back whole from the copy, else loaded, which takes seconds."""
    if get_user_model().objects.filter(username=DEMO_USER).exists():
        return
    if not put_back():
        ensure_demo()


def nothing_shot() -> None:
    """The demo before its first day: no take, no picture, no crew."""
    for model in (Take, TakePicture, PictureData):
        model.objects.all().delete()
    CrewLink.objects.all().delete()
    get_user_model().objects.exclude(guest=None).delete()
