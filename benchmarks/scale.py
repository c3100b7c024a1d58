"""How large a trial is: whole, or so small that the tests can start it."""

import sys
import time

SMALL = "--small"
_begun = time.monotonic()


def is_small() -> bool:
    """True where the command was started with ``--small``."""
    return SMALL in sys.argv


def rounds(whole: int, small: int = 2) -> int:
    """How often something is done: ``whole`` times, or a few times where all is small."""
    return min(whole, small) if is_small() else whole


def seconds(whole: float, small: float = 0.5) -> float:
    """How long something goes on."""
    return min(whole, small) if is_small() else whole


def say(what: str, figure: str = "") -> None:
    """A line about how far the command is: seconds since its start, the trial, its figure."""
    print(
        f"{time.monotonic() - _begun:6.0f} s  {what}{f': {figure}' if figure else ''}", flush=True
    )
