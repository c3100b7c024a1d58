"""Connections that say half of something and then nothing, and what others get meanwhile."""

import socket
import time
from contextlib import suppress
from dataclasses import dataclass
from urllib.parse import urlparse

from soak.person import Person


@dataclass(frozen=True, slots=True)
class Silent:
    """How many there were, ms that a page took beside them, s until all were cut (None: not)."""

    connections: int
    page_ms: float
    cut_after_s: float | None


def half_open(address: str, connections: int, patience_s: float) -> Silent:
    """Open so many connections that stop in the middle of a request; wait at most so long."""
    where = urlparse(address)
    begun = b"POST /log-in/ HTTP/1.1\r\nHost: localhost\r\nContent-Length: 900\r\n\r\nusername="
    line = [
        socket.create_connection((where.hostname or "", where.port or 0), timeout=10)
        for _ in range(connections)
    ]
    start = time.perf_counter()
    for one in line:
        one.sendall(begun)
    try:
        before = time.perf_counter()
        if Person(address).get("/log-in/").status != 200:
            raise RuntimeError("the log-in page did not come")
        took = 1000 * (time.perf_counter() - before)
        cut_after = None
        while time.perf_counter() - start < patience_s and cut_after is None:
            if all(_is_cut(one) for one in line):
                cut_after = time.perf_counter() - start
            time.sleep(0.2)
        return Silent(connections, took, cut_after)
    finally:
        for one in line:
            one.close()


def _is_cut(one: socket.socket) -> bool:
    one.setblocking(False)
    with suppress(BlockingIOError):
        try:
            return one.recv(4096, socket.MSG_PEEK) == b""
        except ConnectionError:
            return True
    return False
