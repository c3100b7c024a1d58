"""Many people at once: edits a second, how long each waits, and what goes wrong."""

import os
import threading
import time
from dataclasses import dataclass

from benchmarks.measures import percentile, served
from soak.person import Person


@dataclass(frozen=True, slots=True)
class Load:
    """So many processes and clients: edits a second, waits in ms, and answers that were wrong."""

    workers: int
    clients: int
    a_second: float
    p50_ms: float
    p95_ms: float
    wrong: int


def load(workers: int, rounds: dict[int, float]) -> list[Load]:
    """Edits of one setup by so many clients at once for so many seconds, each as fast as it goes."""
    os.environ["FOTONOMY_WORKERS"] = str(workers)
    with served() as (address, _):
        people = []
        for _ in range(max(rounds)):
            person = Person(address)
            person.enter_demo()
            people.append(person)
        bench = people[0].bench_of("4B")
        return [_one(workers, people[:count], bench, seconds) for count, seconds in rounds.items()]


def _one(workers: int, people: list[Person], bench: str, seconds: float) -> Load:
    until, took, wrong = time.time() + seconds, [], []
    values = ("f/4", "f/5.6", "f/8")

    def work(k: int, person: Person) -> None:
        step = k
        while time.time() < until:
            start = time.perf_counter()
            answer = person.post(bench, {"iris": values[step % 3]}, X_Fotonomy_Fragment="wide")
            took.append(1000 * (time.perf_counter() - start))
            if answer.status != 200:
                wrong.append(answer.status)
            step += 1

    threads = [threading.Thread(target=work, args=(k, p)) for k, p in enumerate(people)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return Load(
        workers, len(people), len(took) / seconds, percentile(took, 50), percentile(took, 95),
        len(wrong),
    )  # fmt: skip
