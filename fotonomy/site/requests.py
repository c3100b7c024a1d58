"""Every request has a name: in its answer, in the log, and on the page of a fault."""

import errno
import logging
import shutil
import sys
import time
import uuid
from collections.abc import Callable
from datetime import timedelta

from django.conf import settings
from django.contrib.sessions.models import Session
from django.db import DatabaseError, connection, transaction
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.template.loader import render_to_string
from django.utils import timezone

from fotonomy import __version__
from fotonomy.web.disk_space import full_disk
from fotonomy.web.log import present_id

REQUEST_HEADER = "X-Request-ID"
# How SQLite and PostgreSQL say that there is no room left, that nothing may be written, and that
# what they hold cannot be read.
FULL_DISK = ("disk is full", "No space left on device")
READ_ONLY = ("readonly database", "read-only transaction")
DAMAGED = ("malformed", "not a database", "invalid page", "could not read block")
access = logging.getLogger("fotonomy.access")


class NamedRequest:
    """Names a request, writes its line of the access log, and answers for a sick database."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        name = uuid.uuid4().hex[:12]
        present_id.set(name)
        start = time.perf_counter()
        response = self.get_response(request)
        response[REQUEST_HEADER] = name
        response.setdefault("Permissions-Policy", settings.PERMISSIONS_POLICY)
        if getattr(request, "user", None) is not None and request.user.is_authenticated:
            # What belongs to a person stays out of shared and other people's caches.
            response.setdefault("Cache-Control", "private, no-cache")
        access.info(
            "request", extra={
                "method": request.method, "path": request.path, "status": response.status_code,
                "ms": round(1000 * (time.perf_counter() - start), 1),
                "bytes": None if response.streaming else len(response.content),
            },
        )  # fmt: skip
        return response

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        """A full disk, a database that is damaged or not to be written: each is said as such."""
        return _sick(request, error)


def _sick(request: HttpRequest, error: BaseException | None) -> HttpResponse | None:
    """The page of what ails the place where everything is kept; None where it is something else."""
    if _says(error, FULL_DISK) or (isinstance(error, OSError) and error.errno == errno.ENOSPC):
        words, answer = "the disk is full", full_disk(request)
    elif _says(error, READ_ONLY):
        words, answer = "the database is read-only", _alone("read_only.html")
    elif _says(error, DAMAGED):
        words, answer = "the database is damaged", _alone("damaged.html")
    else:
        return None
    logging.getLogger("django.request").error(words, exc_info=error)
    return answer


def _says(error: BaseException | None, signs: tuple[str, ...]) -> bool:
    return isinstance(error, DatabaseError) and any(sign in str(error) for sign in signs)


def _alone(template: str) -> HttpResponse:
    """A page that asks the database for nothing, not even for who asks."""
    return HttpResponse(render_to_string(template, {"request_id": present_id.get()}), status=503)


def server_error(request: HttpRequest) -> HttpResponse:
    """The page of a fault of our own, with the name to ask by, or of a sick database."""
    sick = _sick(request, sys.exc_info()[1])
    return sick or render(request, "500.html", {"request_id": present_id.get()}, status=500)


def health(request: HttpRequest) -> JsonResponse:
    """Whether the database can be written and read, what is left of the disk, and the version."""
    stamp = timezone.now().isoformat()
    said: dict[str, object] = {"version": __version__, "database": "ok"}
    try:
        with transaction.atomic():
            until = timezone.now() + timedelta(days=1)
            Session.objects.update_or_create(
                session_key="health", defaults={"session_data": stamp, "expire_date": until}
            )
        read = Session.objects.get(session_key="health").session_data
        good = read >= stamp
    except DatabaseError as error:
        connection.close()
        good, said["database"] = False, str(error)
    if settings.DATA_DIR.exists():
        said["disk_free_mb"] = shutil.disk_usage(settings.DATA_DIR).free // 2**20
    return JsonResponse(said | {"ok": good}, status=200 if good else 503)
