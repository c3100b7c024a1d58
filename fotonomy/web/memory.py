"""Memory given back to the system: glibc keeps what is freed, and more of it for each thread.

What long work needs for a moment (tables of the sky, pages of a PDF) would else stay with the
process for good. Elsewhere than on glibc nothing is done.
"""

import ctypes
import gc
import time
from typing import Any

# mallopt(3): so many pools of memory for all threads together.
_ARENA_MAX, POOLS = -8, 2
# What is free is given back no oftener than this.
EVERY_S = 10.0
_last = [float("-inf")]


def _libc() -> Any:
    try:
        libc = ctypes.CDLL(None)
        return libc if hasattr(libc, "malloc_trim") and hasattr(libc, "mallopt") else None
    except OSError:
        return None


def few_pools() -> bool:
    """Let all threads share few pools; whether that can be said here. Before threads begin."""
    libc = _libc()
    return libc is not None and bool(libc.mallopt(_ARENA_MAX, POOLS))


def give_back(now: float | None = None) -> bool:
    """Give free memory back, where it was not done just now; whether it was."""
    now = time.monotonic() if now is None else now
    libc = _libc()
    if libc is None or now - _last[0] < EVERY_S:
        return False
    _last[0] = now
    gc.collect()
    libc.malloc_trim(0)
    return True
