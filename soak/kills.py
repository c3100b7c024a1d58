"""The server killed under load, again and again: every edit it had acknowledged has to be there."""

import os
import random
import signal
import subprocess
import sys
import threading
import time
import urllib.request
from contextlib import suppress
from dataclasses import dataclass
from http.client import HTTPException

from benchmarks import scale
from soak.person import Person


@dataclass(frozen=True, slots=True)
class Killed:
    """How often, how many edits were acknowledged in all, how many of them were not there after."""

    kills: int
    acknowledged: int
    lost: int


class _Server:
    """The real server in a process group of its own, to be killed without a word."""

    def __init__(self, port: int) -> None:
        self.address = f"http://127.0.0.1:{port}"
        self.process = subprocess.Popen(
            [sys.executable, "-m", "fotonomy.site.serve"], start_new_session=True,
            env={**os.environ, "FOTONOMY_PORT": str(port)},
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        for _ in range(3000):
            with suppress(OSError):
                urllib.request.urlopen(f"{self.address}/log-in/", timeout=2).read()
                return
            time.sleep(0.02)
        raise RuntimeError("the server did not start")

    def kill(self) -> None:
        with suppress(ProcessLookupError):
            os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()


@dataclass(slots=True)
class _Work:
    """One client at its field: what it sent last, and what was acknowledged last."""

    person: Person
    bench: str
    name: str
    sent: int = 0
    saved: int = 0
    counted: int = 0

    def edit(self, start: int) -> None:
        """Value after value until nobody answers."""
        for step in range(10_000):
            self.sent = 2 + (start + step) % 38
            try:
                answer = self.person.post(
                    self.bench, {self.name: str(self.sent)}, X_Fotonomy_Fragment="wide"
                )
            except (OSError, HTTPException):
                return
            if answer.status == 200:
                self.saved, self.counted = self.sent, self.counted + 1


def killed(kills: int, seed: int, port: int) -> Killed:
    """Kill so often, each time in the middle of edits of three fields by three clients."""
    chance = random.Random(seed)
    fields = ("temperature_c", "start_after_s", "star_px")
    acknowledged, lost = 0, 0
    server = _Server(port)
    try:
        people = [Person(server.address, timeout=5) for _ in fields]
        for person in people:
            person.enter_demo()
        bench = people[0].bench_of("1A")
        value = 2
        for time_killed in range(1, kills + 1):
            works = [
                _Work(person, bench, name) for person, name in zip(people, fields, strict=True)
            ]
            threads = [threading.Thread(target=work.edit, args=(value,)) for work in works]
            for thread in threads:
                thread.start()
            time.sleep(chance.uniform(0.15, 0.8))
            server.kill()
            for thread in threads:
                thread.join()
            acknowledged += sum(work.counted for work in works)
            value += 7
            if not time_killed % 10:
                scale.say("killed so far", f"{time_killed} of {kills}, {lost} lost")
            server = _Server(port)
            run = people[0].setup(bench)["setup"]["run"]
            # The one under way when it was killed may be there or not; an older one never.
            lost += sum(
                work.counted > 0 and run[work.name] not in (work.saved, work.sent) for work in works
            )
    finally:
        # Whatever goes wrong, no server stays behind.
        server.kill()
    return Killed(kills, acknowledged, lost)
