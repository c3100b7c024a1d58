"""Many edits of one setup at once, over threads and over processes, each counted afterwards."""

import multiprocessing
import os
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

CODE = "1A"
# A field each, with the path it ends at: several keys of one JSON column, sets, and columns.
FIELDS = (
    ("temperature_c", "run.temperature_c", "{} °C", 40),
    ("start_after_s", "run.start_after_s", "{} s", 900),
    ("star_px", "run.star_px", "{} px", 90),
    ("freeze_px", "intent.freeze_px", "{} px", 400),
    ("subject_distance_m", "subject_distance_m", "{} m", 900),
    ("white_k", "white_k", "{} K", 900),
    ("weight_noise", "intent.emphasis.noise", "{}", 8),
    ("reading-0-share_percent", "readings.0.share_percent", "{} %", 90),
)
LEAST = {"white_k": 3000, "weight_noise": 2}


@dataclass(frozen=True, slots=True)
class Counted:
    """What became of the edits: how many were made and how many were lost.

    ``broken`` counts joints of the log where a value before is not the one left there, ``undone``
    and ``redone`` say whether going all the way back and forth ends where it should.
    """

    made: int
    lost: int
    broken: int
    undone: bool
    redone: bool


def text_of(field: int, k: int) -> str:
    """The ``k``-th value of a field as a person types it; neighbours differ."""
    name, _, words, most = FIELDS[field]
    return words.format(LEAST.get(name, 1) + k % most)


def edit_field(code: str, field: int, count: int) -> int:
    """Edit one field so many times; the number of answers without an error."""
    from django.db import connection
    from django.http import QueryDict

    from fotonomy.shoots.editing.apply import edit_setup
    from fotonomy.shoots.models import Setup

    row = Setup.objects.select_related("shoot__owner").get(code=code)
    good = 0
    for k in range(count):
        data = QueryDict(mutable=True)
        data[FIELDS[field][0]] = text_of(field, k)
        # The row in hand is as stale as a page that was opened before all this.
        good += not edit_setup(row, data).errors
    connection.close()
    return good


def _in_process(fields: list[int], count: int, code: str) -> int:
    import django

    django.setup()
    _keep_all()
    with ThreadPoolExecutor(len(fields)) as threads:
        return sum(threads.map(lambda field: edit_field(code, field, count), fields))


def _keep_all() -> None:
    """The history forgets its oldest steps; here all of them are counted."""
    from fotonomy.shoots import history

    history.LONGEST_HISTORY = 1_000_000


def parallel_edits(processes: int, threads: int, count: int, code: str = CODE) -> Counted:
    """``count`` edits of each of ``processes * threads`` fields of one setup, all at once."""
    from fotonomy.shoots import history
    from fotonomy.shoots.field_paths import moved, opened
    from fotonomy.shoots.mapping import snapshot
    from fotonomy.shoots.models import Setup

    def present() -> dict[str, Any]:
        return snapshot(Setup.objects.get(code=code))

    _keep_all()
    row = Setup.objects.select_related("shoot").get(code=code)
    newest, before = history.latest(row.shoot), present()
    shares = [list(range(p, processes * threads, processes)) for p in range(processes)]
    with multiprocessing.get_context("spawn").Pool(processes) as pool:
        jobs = [pool.apply_async(_in_process, (share, count, code)) for share in shares]
        made = sum(job.get(timeout=3600) for job in jobs)
    log = history.since(row.shoot, newest)
    joints = opened(before)
    broken = 0
    for change in log:
        for _, path, was, now in change.fields:
            broken += joints.get(path) != was
            joints[path] = now
    after = present()
    lost = processes * threads * count - len(log)
    lost += sum(joints.get(path) != value for path, value in opened(after).items())
    for _ in log:
        history.undo(row.shoot)
    undone = not moved(before, present())
    for _ in log:
        history.redo(row.shoot)
    return Counted(made, lost, broken, undone, not moved(after, present()))


@contextmanager
def place(folder: Path) -> Iterator[None]:
    """A database of its own with the demo in it, for this process and those it starts."""
    from benchmarks.measures import database_in

    before = dict(os.environ)
    database_in(folder)
    try:
        yield
    finally:
        os.environ.clear()
        os.environ.update(before)
