"""One account at ten long requests without a pause: what is left for others, and for the memory."""

import os
import re
import threading
import time
import urllib.parse
from dataclasses import dataclass
from itertools import count, cycle
from pathlib import Path

from lxml import html

from benchmarks.measures import percentile, served, serving
from fotonomy.web.long_work import ASK_AGAIN_S
from soak.long_work import LONG_RUN, changes
from soak.person import Person

GREEDY = 10
# What a process may hold after searches over years, papers, plans, rehearsals and archives.
MOST_MB = 350.0
# What a change beside the greedy one is wanted to take, and how much slower than alone is a fault: a
# process computes one thing at a time, so twice as slow is what can be had of it.
WANTED_EDIT_MS, MOST_TIMES_SLOWER = 100.0, 4.0


@dataclass(frozen=True, slots=True)
class Fair:
    """Beside a greedy account: changes and long pages of another, and what the greedy one got."""

    alone_p95_ms: float
    beside_p95_ms: float
    pages: int
    page_p50_s: float
    page_longest_s: float
    had: int
    sent_off: int
    wrong: int

    @property
    def times_slower(self) -> float:
        """How many times as long a change takes as alone, at the 95th percentile."""
        return self.beside_p95_ms / self.alone_p95_ms


@dataclass(frozen=True, slots=True)
class Memory:
    """What the server holds in MB: at its start, after searches, and after everything."""

    start_mb: float
    searched_mb: float
    after_mb: float


_names = count()


def own_account(address: str) -> tuple[Person, str]:
    """Somebody with an account of their own and the demo's shoot in it; a bench of theirs."""
    person = Person(address)
    name = f"fair{os.getpid()}-{next(_names)}"
    person.get("/sign-up/")
    sent = {"username": name, "password1": "slack-7-water", "password2": "slack-7-water"}
    if person.post("/sign-up/", sent).status != 302 or person.post("/demo/take/", {}).status != 302:
        raise RuntimeError("nobody gets an account of their own here")
    return person, person.bench_of("4B")


def fair(seconds: float) -> Fair:
    """Ten long requests of one account beside another account's changes and long pages."""
    os.environ["FOTONOMY_WORKERS"] = "1"
    with served() as (address, _):
        greedy = [Person(address) for _ in range(GREEDY)]
        for one in greedy:
            one.enter_demo()
        run = greedy[0].bench_of("1A")
        for name, value in LONG_RUN.items():
            greedy[0].post(run, {name: value}, X_Fotonomy_Fragment="wide")
        other, bench = own_account(address)
        reader, page = own_account(address)
        changes(other, bench, min(1.0, seconds))
        alone, wrong = changes(other, bench, seconds)
        stop = threading.Event()
        had, sent_off, took = list[int](), list[int](), list[float]()

        def take(one: Person) -> None:
            for seed in count():
                if stop.is_set():
                    return
                status = one.get(f"{run}dry-run/?fault=&seed={seed}&run=1").status
                (had if status == 200 else sent_off).append(status)
                if status != 200:
                    # As the page of the line does by itself.
                    stop.wait(ASK_AGAIN_S)

        def read() -> None:
            # A browser asks again by itself while it stands in line.
            while not stop.is_set():
                start = time.perf_counter()
                while reader.get(f"{page}plans/").status == 503:
                    stop.wait(ASK_AGAIN_S)
                took.append(time.perf_counter() - start)

        threads = [threading.Thread(target=take, args=(one,)) for one in greedy]
        threads.append(threading.Thread(target=read))
        for thread in threads:
            thread.start()
        beside, more = changes(other, bench, seconds)
        stop.set()
        for thread in threads:
            thread.join()
    wrong += more + sum(status not in (200, 503) for status in [*had, *sent_off])
    return Fair(
        percentile(alone, 95), percentile(beside, 95), len(took), percentile(took, 50), max(took),
        len(had), len(sent_off), wrong,
    )  # fmt: skip


def resident_mb() -> float:
    """What the server that was started last holds of the machine's memory, in MB."""
    said = Path(f"/proc/{serving[-1]}/status").read_text("ascii")
    found = re.search(r"VmRSS:\s+(\d+) kB", said)
    return int(found[1]) / 1024 if found else float("nan")


def memory(searches: int) -> Memory:
    """Searches over years, papers, plans, rehearsals and archives, and what is held after them."""
    os.environ["FOTONOMY_WORKERS"] = "1"
    with served() as (address, _):
        person = Person(address)
        person.enter_demo()
        bench = person.bench_of("4B")
        shoot = bench.split("/")[2]
        links = html.fromstring(person.get(bench).text).xpath("//a/@href")
        paths = {urllib.parse.urlparse(link).path for link in links}
        setups = sorted(path for path in paths if re.fullmatch(rf"/shoots/{shoot}/\d+/", path))
        days = person.get(f"/shoots/{shoot}/day/").location
        start = resident_mb()
        keys = cycle(path.split("/")[3] for path in setups)
        for at in range(searches):
            year, month = 2027 + at % 20, 1 + at % 12
            person.get(f"{days}dates/?setup={next(keys)}&from={year}-{month:02}-01")
        searched = resident_mb()
        for paper in ("cards", "packing", "call-sheet"):
            person.get(f"/shoots/{shoot}/paper/{paper}.pdf")
        for one in setups[:searches]:
            person.get(f"{one}plans/")
            person.get(f"{one}dry-run/?run=1&seed=3")
        person.get(f"{days}arrange/go/")
        everything = person.get("/account/everything.zip").raw
        person.upload("/account/everything.zip", {}, {"file": ("all.zip", everything)})
        person.get(f"{days}dates/?from=2040-01-01")
        return Memory(start, searched, resident_mb())
