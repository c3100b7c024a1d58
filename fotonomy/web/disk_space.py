"""Room on the disk, kept for those who come in while it is full.

A file of zeros beside the database holds some megabytes. When the disk runs short it is given up,
and from then on nothing is written but what log-ins and log-outs need: the room that it held is
theirs. When there is enough again, it is made again and edits go on. That the file is not there is
the whole state, so any number of processes agree on it.
"""

import logging
import os
import shutil
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from fotonomy.web.log import present_id

KEPT = "kept-free"
KEPT_BYTES = 8 * 2**20
# Less than this left, and a change could end half way: the log of the database grows to about 4 MB.
LEAST_BYTES = 8 * 2**20
# What may be written without room: coming in, going out, and removing things of one's own.
ALWAYS = ("login", "second-step", "logout", "enter-demo", "choose-theme", "account")

log = logging.getLogger("fotonomy.room")


def has_room(folder: Path) -> bool:
    """Whether changes may be written to ``folder``; gives up or makes the file that keeps room."""
    kept = folder / KEPT
    try:
        free = shutil.disk_usage(folder).free
        if kept.exists():
            if free >= LEAST_BYTES:
                return True
            kept.unlink(missing_ok=True)
            log.error("the disk is full: %d bytes left, the room kept is given up", free)
            return False
        if free < LEAST_BYTES + KEPT_BYTES:
            return False
        _keep(kept)
    except OSError:
        # Nothing can be said of the disk: the database will say it.
        return True
    return True


def _keep(path: Path) -> None:
    """Make the file, whole or not at all."""
    part = path.with_name(f"{KEPT}-{os.getpid()}")
    try:
        with part.open("wb") as file:
            os.posix_fallocate(file.fileno(), 0, KEPT_BYTES)
        part.chmod(0o600)
        part.replace(path)
    finally:
        with suppress(OSError):
            part.unlink(missing_ok=True)


def full_disk(request: HttpRequest) -> HttpResponse:
    """The page of a full disk, with the name to ask by."""
    return render(request, "507.html", {"request_id": present_id.get()}, status=507)


class Room:
    """Answers for a full disk before anything is written."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_view(self, request: HttpRequest, *_: Any) -> HttpResponse | None:
        """The page of a full disk for a change that there is no room for."""
        if request.method != "POST" or settings.DATABASES["default"]["ENGINE"].endswith(
            "postgresql"
        ):
            return None
        match = request.resolver_match
        if match is not None and match.url_name in ALWAYS:
            return None
        if not settings.DATA_DIR.exists() or has_room(settings.DATA_DIR):
            return None
        return full_disk(request)
