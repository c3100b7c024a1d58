"""Long work goes one at a time in a process, so that nobody's change waits for more than one.

What waits for its turn sits in a thread of the server. Half of the threads at most do: who comes
after is asked to try again, in words, and the other half stays free for changes.
"""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import wraps
from threading import BoundedSemaphore, Lock
from typing import Any, TypeVar, cast

from django.http import HttpRequest, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import render

MOST_WAITING = 6
LONGEST_WAIT_S = 20.0
_working = Lock()
_places = BoundedSemaphore(MOST_WAITING)
View = TypeVar("View", bound=Callable[..., HttpResponseBase])


class BusyError(RuntimeError):
    """So much long work waits already that there is no place, or no turn came in time."""


@contextmanager
def _in_turn() -> Iterator[None]:
    if not _places.acquire(blocking=False):
        raise BusyError
    try:
        if not _working.acquire(timeout=LONGEST_WAIT_S):
            raise BusyError
        try:
            yield
        finally:
            _working.release()
    finally:
        _places.release()


def one_at_a_time(view: View) -> View:
    """A view of long work: it waits for its turn, or answers 503 with words where many wait.

    What is streamed waits for a turn at every piece, so that a slow line holds nobody up.
    """

    @wraps(view)
    def guarded(request: HttpRequest, *arguments: Any, **more: Any) -> HttpResponseBase:
        try:
            with _in_turn():
                response = view(request, *arguments, **more)
        except BusyError:
            busy = render(request, "503.html", status=503)
            busy["Retry-After"] = "5"
            return busy
        if isinstance(response, StreamingHttpResponse):
            made = cast(Iterator[bytes], response.streaming_content)
            response.streaming_content = _pieces(iter(made))
        return response

    return cast(View, guarded)


def _pieces(made: Iterator[bytes]) -> Iterator[bytes]:
    end = object()
    while True:
        # A stream that has begun has its place.
        with _working:
            piece = next(made, end)
        if piece is end:
            return
        yield cast(bytes, piece)
