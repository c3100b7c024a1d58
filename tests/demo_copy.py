"""The demo put back from a copy: tests with transactions of their own sweep the database clean."""

import sqlite3

from django.contrib.auth import get_user_model
from django.db import connection

from fotonomy.demo.loader import DEMO_USER, ensure_demo
from fotonomy.field.models import PictureData, Take, TakePicture
from fotonomy.shoots.models import CrewLink

_copies: list[sqlite3.Connection] = []


def keep_copy() -> None:
    """Keep the database as it is now, with the demo just loaded; SQLite only."""
    if connection.vendor == "sqlite":
        copy = sqlite3.connect(":memory:", check_same_thread=False)
        connection.connection.backup(copy)
        _copies.append(copy)


def demo_again() -> None:
    """The demo is there: put back whole from the copy, else loaded, which takes seconds."""
    if get_user_model().objects.filter(username=DEMO_USER).exists():
        return
    if _copies and not connection.in_atomic_block:
        _copies[-1].backup(connection.connection)
    else:
        ensure_demo()


def nothing_shot() -> None:
    """The demo before its first day: no take, no picture, no crew."""
    for model in (Take, TakePicture, PictureData):
        model.objects.all().delete()
    CrewLink.objects.all().delete()
    get_user_model().objects.exclude(guest=None).delete()
