"""A disk that is really full: a small one of its own, filled to the last byte while the server runs."""

import os
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path

from benchmarks.measures import environment_in, served
from soak.person import Person
from tools.kept_demo import fill

SIZE_MB = 48
PASSWORD = "slack-7-water"


@dataclass(frozen=True, slots=True)
class Full:
    """What people met: statuses of the answers, and whether everything acknowledged is there.

    ``refused`` of an edit, ``read`` of a page, ``came_in`` whether a log-in worked, while full;
    ``said`` of an edit when somebody else took the room that was kept as well; ``after`` of an
    edit when there was room again; ``lost`` of the values acknowledged before.
    """

    refused: int
    words: bool
    read: int
    came_in: bool
    said: int
    after: int
    lost: int


@contextmanager
def small_disk(folder: Path) -> Iterator[Path | None]:
    """A file system of 48 MB in memory at ``folder``; None where one may not make one."""
    mounted = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", f"size={SIZE_MB}m", "tmpfs", str(folder)],
        capture_output=True, check=False,
    )  # fmt: skip
    if mounted.returncode != 0:
        yield None
        return
    try:
        yield folder
    finally:
        subprocess.run(["umount", "--lazy", str(folder)], check=False)


def _fill(path: Path) -> None:
    with path.open("ab", buffering=0) as file, suppress(OSError):
        while True:
            file.write(b"\0" * 65_536)


def full_disk(folder: Path) -> Full:
    """Serve from ``folder``, a small disk; fill it, ask, make room, ask again."""
    import sys

    kept = dict(os.environ)
    os.environ.update(environment_in(folder))
    make = f"""
from django.contrib.auth import get_user_model
get_user_model().objects.create_user("rigger", password={PASSWORD!r})
"""
    try:
        fill(folder)
        subprocess.run(
            [sys.executable, "manage.py", "shell", "-v", "0", "-c", make],
            check=True, capture_output=True,
        )  # fmt: skip
        with served() as (address, _):
            return _ask(address, folder)
    finally:
        os.environ.clear()
        os.environ.update(kept)


def _ask(address: str, folder: Path) -> Full:
    person = Person(address)
    person.enter_demo()
    bench = person.bench_of("1A")

    def edit(value: int) -> int:
        fields = {"temperature_c": f"{value} °C"}
        answer = person.post(bench, fields, X_Fotonomy_Fragment="wide")
        texts.append(answer.text)
        return answer.status

    texts: list[str] = []
    saved = [value for value in range(1, 9) if edit(value) == 200][-1]
    filler = folder / "somebody-elses"
    _fill(filler)
    refused = edit(20)
    words = "The disk is full" in texts[-1]
    read = person.get(bench).status
    other = Person(address)
    other.get("/log-in/")
    entered = other.post("/log-in/", {"username": "rigger", "password": PASSWORD})
    came_in = entered.status == 302 and other.get("/shoots/").status == 200
    _fill(filler)
    said = max(edit(value) for value in (21, 22))
    lost = person.setup(bench)["setup"]["run"]["temperature_c"] != saved
    filler.unlink()
    after = edit(30)
    lost += person.setup(bench)["setup"]["run"]["temperature_c"] != 30
    return Full(refused, words, read, came_in, said, after, int(lost))
