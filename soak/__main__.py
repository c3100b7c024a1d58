"""``make soak``: try to lose things, and write docs/reliability.md; ``--small`` for a first look."""

import logging
import os
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import partial
from io import BytesIO
from pathlib import Path
from typing import TypeVar

from benchmarks import scale
from benchmarks.__main__ import machine
from benchmarks.measures import served
from soak import clients, disk, fair, hostile, kills, long_work, parallel, silent, strangers
from soak.person import Person

T = TypeVar("T")
REPORT = Path(__file__).resolve().parent.parent / "docs" / "reliability.md"


def bombs(address: str) -> tuple[float, int]:
    """Seconds to refuse a request of eight pictures of 36 megapixels, and how many got through."""
    import numpy as np
    from lxml import html
    from PIL import Image

    made = BytesIO()
    Image.fromarray(np.zeros((6000, 6000), dtype=np.uint16)).save(made, "PNG", compress_level=9)
    person = Person(address)
    person.enter_demo()
    page = html.fromstring(person.get("/kit/").text)
    body = page.xpath("//section[@id='body']//a[contains(@class, 'thing-name')]/@href")[0]
    names = [f"{which}-{k}" for k in range(1, 5) for which in ("first", "second")]
    fields = {f"iso-{k}": "500" for k in range(1, 5)} | {"profile": "Flat log"}
    start = time.perf_counter()
    answer = person.upload(
        f"{body}calibrate/", fields, {name: ("b.png", made.getvalue()) for name in names}
    )
    took = time.perf_counter() - start
    return took, 4 - answer.text.count("unpacks to far more than its size")


@dataclass(frozen=True, slots=True)
class Size:
    """How much is tried. ``loads`` are seconds by the number of clients."""

    edits: int
    kills: int
    loads: dict[int, float]
    beside_s: float
    silent: int
    values: int
    files: int
    searches: int


# The whole takes a quarter of an hour on two cores.
WHOLE = Size(150, 40, {1: 10.0, 4: 10.0, 16: 20.0}, 15.0, 200, 2500, 150, 16)
SMALL = Size(3, 1, {2: 0.5}, 0.5, 5, 20, 2, 1)


def said(what: str, trial: Callable[[], T], figure: Callable[[T], str]) -> T:
    """Carry out a trial and say its figure."""
    found = trial()
    scale.say(what, figure(found))
    return found


def wrongs(found: hostile.Found) -> str:
    """Of how many answers how many were wrong."""
    return f"{found.asked} asked, {sum(found.wrong.values())} wrong"


def cut(quiet: silent.Silent) -> str:
    """When half requests were cut."""
    return f"cut after {quiet.cut_after_s:.0f} s" if quiet.cut_after_s else "not cut"


def full_disk() -> disk.Full | None:
    """What people met at a full disk; None where no small disk can be made."""
    with tempfile.TemporaryDirectory() as small, disk.small_disk(Path(small)) as there:
        return disk.full_disk(there) if there else None


def main() -> int:
    """Run every trial and write the report; 1 if anything was lost or let through.

    With ``--small`` every trial is carried out in seconds, without waiting for what takes its time,
    and nothing is written.
    """
    size = SMALL if scale.is_small() else WHOLE
    # Other values each day; the report says which, and a day's can be tried again.
    day = int(os.environ.get("FOTONOMY_SOAK_SEED") or datetime.now(UTC).date().toordinal())
    with tempfile.TemporaryDirectory() as folder, parallel.place(Path(folder)):
        logging.disable(logging.CRITICAL)
        from django.test import Client

        # Other trials make shoots of their own.
        shoot = hostile.first_shoot()
        scale.say("database with the demo", f"seed {day}")
        edits = said(
            "edits at once",
            partial(parallel.parallel_edits, 2, 4, size.edits),
            lambda e: f"{e.made} made, {e.lost} lost",
        )
        killed = said(
            "killed",
            partial(kills.killed, size.kills, seed=day, port=18_731),
            lambda k: f"{k.kills} times, {k.acknowledged} edits acknowledged, {k.lost} lost",
        )
        # A small disk needs a second server and demo: too much for a first look.
        full = (
            None
            if scale.is_small()
            else said(
                "a full disk", full_disk, lambda f: "not tried" if f is None else f"{f.lost} lost"
            )
        )
        loads = [
            one
            for workers in (1, 2)[: scale.rounds(2, 1)]
            for one in said(
                f"load on {workers} processes",
                partial(clients.load, workers, size.loads),
                lambda found: f"{found[-1].a_second:.0f} edits a second",
            )
        ]
        beside = [
            said(
                f"beside long work, {workers} processes",
                partial(long_work.long_work, workers, size.beside_s),
                lambda b: f"{b.beside_p50_ms:.0f} ms, alone {b.alone_p50_ms:.0f} ms",
            )
            for workers in (1, 2)[: scale.rounds(2, 1)]
        ]
        shared = said(
            "beside a greedy account",
            partial(fair.fair, size.beside_s),
            lambda f: f"{f.beside_p95_ms:.0f} ms, alone {f.alone_p95_ms:.0f} ms",
        )
        held = said("memory", partial(fair.memory, size.searches), lambda m: f"{m.after_mb:.0f} MB")
        os.environ["FOTONOMY_WORKERS"] = "1"
        with served() as (address, _):
            took, through = said("bombs", partial(bombs, address), lambda b: f"{b[1]} let through")
            quiet = said(
                "half requests",
                partial(silent.half_open, address, size.silent, scale.seconds(60.0, 1.0)),
                cut,
            )
            foreign = said(
                "strangers",
                partial(strangers.foreign, address, shoot.setups.get(code="4B")),
                lambda f: f"{f.asked} asked, {len(f.let_in)} let in",
            )
        client = Client(headers={"host": "localhost"}, raise_request_exception=False)
        client.force_login(shoot.owner)
        typed = said(
            "hostile values", partial(hostile.hostile_values, client, size.values, seed=day), wrongs
        )
        taken = said(
            "mutated files", partial(hostile.mutated_files, client, size.files, seed=day), wrongs
        )
    wrong = typed.wrong + taken.wrong
    bad = bool(
        edits.lost or edits.broken or not (edits.undone and edits.redone) or killed.lost
        or any(one.wrong for one in loads) or through or wrong
        or foreign.let_in or any(one.wrong for one in beside)
        or (not scale.is_small() and any(one.held_up_ms > 100 for one in beside))
        or shared.wrong or (not scale.is_small() and shared.times_slower > fair.MOST_TIMES_SLOWER)
        or held.after_mb > fair.MOST_MB
        or (not scale.is_small() and quiet.cut_after_s is None)
        or (full is not None and (full.lost or not full.came_in or full.after != 200))
    )  # fmt: skip
    lines = [
        "# Reliability", "",
        f"Tried {datetime.now(UTC):%Y-%m-%d} by `make soak` on {machine()}, seed {day}.", "",
        f"- **Edits at once.** {edits.made} edits of eight fields of one setup by two processes of four "
        f"threads: {edits.lost} lost, {edits.broken} joints of the history that do not meet; undoing all of "
        f"them {'leads back to the start' if edits.undone else '**does not lead back**'}, redoing them "
        f"{'to the end' if edits.redone else '**does not lead to the end**'}.",
        f"- **Killed.** {killed.kills} times in the middle of edits, {killed.acknowledged} edits were "
        f"acknowledged: {killed.lost} of the last ones were not there afterwards.",
        f"- **Bombs.** Eight pictures of 36 megapixels in one request: refused in {took:.2f} s, {through} let "
        "through.",
        f"- **Strangers.** {foreign.asked} requests to every address that is somebody's, by an account whose "
        f"they are not: {len(foreign.let_in)} answered anything but no.",
        "- **A full disk.** " + ("Not tried: only root makes a small disk." if full is None else
        f"Filled to the last byte: an edit is refused with words ({full.refused}) and waits in the browser, a "
        f"page is read ({full.read}), a person {'logs in' if full.came_in else '**does not get in**'}; with "
        f"room again an edit is saved ({full.after}). {full.lost} acknowledged edits lost."),
        f"- **Half a request.** {quiet.connections} connections that stop in the middle of a request: a page "
        f"took {quiet.page_ms:.0f} ms beside them, and all were "
        + (f"cut after {quiet.cut_after_s:.0f} s." if quiet.cut_after_s else "**not cut within a minute**."),
        f"- **Hostile values.** {typed.asked} requests with values and pages after them: "
        f"{sum(typed.wrong.values())} wrong answers. {taken.asked} with {size.files} mutated files of each of six "
        f"formats (setup, kit, archive, CSV, cube, frame) and pages of what was let in: {sum(taken.wrong.values())} wrong answers. Wrong is a server error, a number that is none, "
        "markup that is not escaped, or more than 3 s.", "",
        "| processes | clients | edits a second | median | p95 | wrong answers |", "|---|---|---|---|---|---|",
        *[f"| {one.workers} | {one.clients} | {one.a_second:.0f} | {one.p50_ms:.0f} ms | {one.p95_ms:.0f} ms | "
          f"{one.wrong} |" for one in loads], "",
        "The clients run on the same machine as the server and take their share of it. A change costs about "
        "20 ms of computing, so one process, which computes on one core, answers 40 to 45 a second, and two that "
        "share two cores with the clients hardly half as many again; writers take turns "
        "(`shoots/write_lock.py`), so that nobody waits much longer than the rest.", "",
        "Beside two people at dry runs of 43 201 frames, exports, plans and comparisons without a pause, a "
        "third changes a setup:", "",
        "| processes | alone, median | p95 | beside, median | p95 | held up, p95 | long answers |",
        "|---|---|---|---|---|---|---|",
        *[f"| {one.workers} | {one.alone_p50_ms:.0f} ms | {one.alone_p95_ms:.0f} ms | {one.beside_p50_ms:.0f} ms | "
          f"{one.beside_p95_ms:.0f} ms | {one.held_up_ms:.0f} ms | {sum(one.worked.values())} |"
          for one in beside], "",
        f"Beside one account with {fair.GREEDY} dry runs of 43 201 frames at a time without a pause, a change of "
        f"another takes {shared.beside_p95_ms:.0f} ms at the 95th percentile ({shared.alone_p95_ms:.0f} ms alone; under {fair.WANTED_EDIT_MS:.0f} ms is wanted), and "
        f"of {shared.pages} pages of plans that a third asks for half are there within {shared.page_p50_s:.1f} s and all within "
        f"{shared.page_longest_s:.1f} s. The greedy one got {shared.had} answers and was sent back {shared.sent_off} times: "
        "each person has three places.", "",
        f"A process holds {held.start_mb:.0f} MB after its first pages, {held.searched_mb:.0f} MB after "
        f"{size.searches} searches of a day over years, and {held.after_mb:.0f} MB after papers, plans, rehearsals, "
        f"the arranger and an archive there and back; {fair.MOST_MB:.0f} MB are allowed.", "",
    ]  # fmt: skip
    text = "\n".join(lines)
    print(text)
    for kind, example in (typed.examples | taken.examples).items():
        print(kind, example)
    if not scale.is_small():
        REPORT.write_text(text, "utf-8")
    return int(bad)


if __name__ == "__main__":
    sys.exit(main())
