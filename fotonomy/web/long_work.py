"""Long work goes one at a time in a process, and each person has a share of it.

What waits for its turn sits in a thread of the server. Half of the threads at most do, and of one
person three, as one page may ask for so many: the other half stays free for changes. Turns go
round among people, whoever had none longest first. Who finds no place stands in a line: the page
says at which place and asks again by itself, and a place that comes free goes to the first of it.
"""

import time
from collections import Counter
from collections.abc import Callable, Generator, Hashable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from functools import wraps
from threading import Condition
from typing import Any, TypeVar, cast

from django.http import HttpRequest, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import render

from fotonomy.web.memory import give_back

MOST_WAITING, SHARE = 6, 3
LONGEST_WAIT_S = 20.0
# A page in the line asks again after so long; who was not heard of for four times as long has left.
ASK_AGAIN_S = 5
GONE_AFTER_S = 4.0 * ASK_AGAIN_S
# How many people stand before one, for scripts.
AHEAD_HEADER = "X-Fotonomy-Ahead"
View = TypeVar("View", bound=Callable[..., HttpResponseBase])


class BusyError(RuntimeError):
    """No place: ``ahead`` people stand before one in the line; None where one has one's share."""

    def __init__(self, ahead: int | None) -> None:
        super().__init__("no place for long work")
        self.ahead = ahead


@dataclass(eq=False, slots=True)
class Ticket:
    """A place of a person, from when it was taken to when it is given back."""

    person: Hashable
    waits: bool = False


@dataclass(slots=True)
class Line:
    """Places for long work, turns of those who have one, and the line of those who have none."""

    places: int = MOST_WAITING
    share: int = SHARE
    clock: Callable[[], float] = time.monotonic
    _changed: Condition = field(default_factory=Condition)
    _inside: list[Ticket] = field(default_factory=list)
    _working: Ticket | None = None
    # When each person inside had the last turn, and when each in the line was last heard of.
    _had: dict[Hashable, float] = field(default_factory=dict)
    _line: dict[Hashable, float] = field(default_factory=dict)

    def enter(self, person: Hashable) -> Ticket:
        """Take a place. Raises BusyError."""
        with self._changed:
            now = self.clock()
            self._line = {one: at for one, at in self._line.items() if now - at < GONE_AFTER_S}
            if Counter(one.person for one in self._inside)[person] >= self.share:
                raise BusyError(None)
            line = list(self._line)
            ahead = line.index(person) if person in self._line else len(line)
            if self.places - len(self._inside) <= ahead:
                self._line[person] = now
                raise BusyError(ahead)
            self._line.pop(person, None)
            ticket = Ticket(person)
            self._inside.append(ticket)
            return ticket

    def leave(self, ticket: Ticket) -> None:
        """Give a place back."""
        with self._changed:
            if ticket in self._inside:
                self._inside.remove(ticket)
            if not any(one.person == ticket.person for one in self._inside):
                self._had.pop(ticket.person, None)
            self._changed.notify_all()

    @contextmanager
    def turn(self, ticket: Ticket, wait_s: float | None = LONGEST_WAIT_S) -> Iterator[None]:
        """Work while nobody else does. Raises BusyError where no turn came in time."""
        with self._changed:
            ticket.waits = True
            came = self._changed.wait_for(lambda: self._next() is ticket, wait_s)
            ticket.waits = False
            if not came:
                raise BusyError(0)
            self._working = ticket
        try:
            yield
        finally:
            with self._changed:
                self._working = None
                self._had[ticket.person] = self.clock()
                self._changed.notify_all()
            give_back()

    def _next(self) -> Ticket | None:
        """Whose turn it is: none while somebody works."""
        if self._working is not None:
            return None
        waiting = (one for one in self._inside if one.waits)
        return min(waiting, key=lambda one: self._had.get(one.person, float("-inf")), default=None)


_here = Line()


def one_at_a_time(view: View) -> View:
    """A view of long work: it waits for its turn, or answers 503 with its place in the line.

    What is streamed waits for a turn at every piece, so that a slow line holds nobody up, and has
    its place until it ends.
    """

    @wraps(view)
    def guarded(request: HttpRequest, *arguments: Any, **more: Any) -> HttpResponseBase:
        try:
            ticket = _here.enter(request.user.pk or request.META.get("REMOTE_ADDR", ""))
        except BusyError as busy:
            return _in_line(request, busy)
        try:
            with _here.turn(ticket):
                response = view(request, *arguments, **more)
        except BusyError as busy:
            _here.leave(ticket)
            return _in_line(request, busy)
        except BaseException:
            _here.leave(ticket)
            raise
        if isinstance(response, StreamingHttpResponse):
            made = cast(Iterator[bytes], response.streaming_content)
            response.streaming_content = _Pieces(iter(made), ticket)
        else:
            _here.leave(ticket)
        return response

    return cast(View, guarded)


def _in_line(request: HttpRequest, busy: BusyError) -> HttpResponseBase:
    context = {
        "ahead": busy.ahead, "again_s": ASK_AGAIN_S if request.method == "GET" else 0,
    }  # fmt: skip
    answer = render(request, "503.html", context, status=503)
    answer["Retry-After"] = str(ASK_AGAIN_S)
    if busy.ahead is not None:
        answer[AHEAD_HEADER] = str(busy.ahead)
    return answer


class _Pieces:
    """What is streamed, piece by piece; closed, also before the first, it gives its place back."""

    def __init__(self, made: Iterator[bytes], ticket: Ticket) -> None:
        self.made, self.ticket = made, ticket

    def __iter__(self) -> Iterator[bytes]:
        return self

    def __next__(self) -> bytes:
        try:
            with _here.turn(self.ticket, None):
                return next(self.made)
        except BaseException:
            _here.leave(self.ticket)
            raise

    def __del__(self) -> None:
        # Whoever forgot to close it: its place is not lost for good.
        _here.leave(self.ticket)

    def close(self) -> None:
        """Read no more."""
        if isinstance(self.made, Generator):
            self.made.close()
        _here.leave(self.ticket)
