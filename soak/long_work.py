"""Long work of some people beside a change of another: how much longer the change then takes."""

import os
import threading
import time
from dataclasses import dataclass

from benchmarks.measures import percentile, served
from soak.person import Person

# An interval of a second over twelve hours: 43 200 frames.
LONG_RUN = {"event_s": "12 h", "frame_rate": "every 1 s"}
FRAMES = "43,201"


@dataclass(frozen=True, slots=True)
class Beside:
    """A change in ms alone and beside long work, and how many long answers there were by name."""

    workers: int
    alone_p50_ms: float
    alone_p95_ms: float
    beside_p50_ms: float
    beside_p95_ms: float
    worked: dict[str, int]
    wrong: int

    @property
    def held_up_ms(self) -> float:
        """By how much longer a change takes, at the 95th percentile."""
        return self.beside_p95_ms - self.alone_p95_ms


def changes(person: Person, bench: str, seconds: float) -> tuple[list[float], int]:
    """Changes as a person makes them, a moment between two; times in ms and wrong answers."""
    took, wrong, until = [], 0, time.time() + seconds
    values = ("f/4", "f/5.6", "f/8")
    step = 0
    while time.time() < until:
        start = time.perf_counter()
        answer = person.post(bench, {"iris": values[step % 3]}, X_Fotonomy_Fragment="wide")
        took.append(1000 * (time.perf_counter() - start))
        wrong += answer.status != 200
        step += 1
        time.sleep(0.03)
    return took, wrong


def long_work(workers: int, seconds: float) -> Beside:
    """Two people at dry runs, exports and files of everything, a third at the bench."""
    os.environ["FOTONOMY_WORKERS"] = str(workers)
    with served() as (address, _):
        people = [Person(address) for _ in range(3)]
        for one in people:
            one.enter_demo()
        run, bench = people[0].bench_of("1A"), people[0].bench_of("4B")
        for name, value in LONG_RUN.items():
            people[0].post(run, {name: value}, X_Fotonomy_Fragment="wide")
        changes(people[2], bench, 1.0)
        alone, wrong = changes(people[2], bench, seconds)
        worked: dict[str, int] = {}
        stop = threading.Event()
        pages = {
            "dry runs": f"{run}dry-run/?fault=&seed=3&run=1", "logs as CSV": f"{run}dry-run.csv?run=1",
            "files of everything": "/account/everything.zip", "plans": f"{bench}plans/",
            "comparisons": f"{bench.rsplit('/', 2)[0]}/compare/",
        }  # fmt: skip

        def work(one: Person) -> None:
            while not stop.is_set():
                for name, page in pages.items():
                    answer = one.get(page)
                    worked[name] = worked.get(name, 0) + (answer.status == 200)
                    if stop.is_set():
                        return

        threads = [threading.Thread(target=work, args=(one,)) for one in people[:2]]
        for thread in threads:
            thread.start()
        beside, more = changes(people[2], bench, seconds)
        stop.set()
        for thread in threads:
            thread.join()
    return Beside(
        workers, percentile(alone, 50), percentile(alone, 95), percentile(beside, 50),
        percentile(beside, 95), worked, wrong + more,
    )  # fmt: skip
