"""Setups to be put into an order, the rules that keep two of them apart, and the plain order.

Everything is whole minutes since the first day's midnight.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations, pairwise
from math import ceil

from fotonomy.core.day.blocks import may_run_beside
from fotonomy.core.day.supplies import CHARGE_MIN

# What one setup of each priority weighs: one of the first outweighs two of the second.
WEIGHTS = {1: 9, 2: 4, 3: 1}
# A change of lens takes so long with its cleaning: common practice, no source.
LENS_CHANGE_MIN = 3

Way = Callable[[int, int], float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Task:
    """A setup to be placed. ``allowed`` are the minutes at which its first take may be.

    Crew is there from ``prepare_min`` before the first take to ``stays_min`` after it, the body to
    ``shoot_min`` after it. ``fixed`` is where it is pinned. ``no_room`` says why ``allowed`` is
    empty, where it is. ``batteries`` are those it runs on, ``charge_share`` what it takes of them.
    """

    key: int
    name: str
    place: int
    body: str
    lens: str
    prepare_min: int
    shoot_min: int
    stays_min: int
    allowed: tuple[tuple[int, int], ...]
    fixed: int | None = None
    priority: int = 2
    alongside: bool = False
    no_room: str = ""
    batteries: frozenset[str] = frozenset()
    charge_share: float = 0.0

    @property
    def weight(self) -> int:
        """What it counts for."""
        return WEIGHTS[self.priority]


def crew_of(task: Task, starts: dict[int, int]) -> tuple[int, int]:
    """From when to when a placed setup keeps the crew."""
    at = starts[task.key]
    return at - task.prepare_min, at + task.stays_min


def _ends_body(task: Task, at: int) -> int:
    return at + task.shoot_min


def fits(tasks: Sequence[Task], starts: dict[int, int], way: Way, spare_min: int = 0) -> bool:
    """True where an order keeps every rule: the check that is independent of the solver."""
    placed = [task for task in tasks if task.key in starts]
    for task in placed:
        at = starts[task.key]
        inside = any(low <= at <= high for low, high in task.allowed)
        if task.fixed is not None and at != task.fixed:
            return False
        if task.fixed is None and not inside:
            return False
    return all(
        apart(one, other, starts, way, spare_min) for one, other in combinations(placed, 2)
    )  # fmt: skip


def apart(one: Task, other: Task, starts: dict[int, int], way: Way, spare_min: int) -> bool:
    if one.fixed is not None and other.fixed is not None:
        return True
    first, second = sorted((one, other), key=lambda task: (crew_of(task, starts)[0], task.key))
    begins, leaves = crew_of(second, starts)[0], crew_of(first, starts)[1]
    charge = charge_min(first, second)
    same = one.body == other.body or charge > 0
    if same and begins < _ends_body(first, starts[first.key]) + charge:
        return False
    if may_run_beside(one, other):
        return True
    return begins >= leaves + gap_min(first, second, way, spare_min)


def gap_min(first: Task, second: Task, way: Way, spare_min: int) -> int:
    """Whole minutes between the crew's leaving one setup and its coming to another."""
    return round(way(first.place, second.place)) + spare_min


def charge_min(first: Task, second: Task) -> int:
    """Whole minutes of charging between two setups that run on the same batteries."""
    if first.batteries.isdisjoint(second.batteries):
        return 0
    short = first.charge_share + second.charge_share - 1
    return max(0, ceil(short * CHARGE_MIN - 1e-9))


def greedy(tasks: Sequence[Task], way: Way, spare_min: int = 0) -> dict[int, int]:
    """The plain order people make: what closes first goes first, each as early as it can."""
    starts = {task.key: task.fixed for task in tasks if task.fixed is not None}
    placed = [task for task in tasks if task.fixed is not None]
    free = [task for task in tasks if task.fixed is None and task.allowed]
    for task in sorted(free, key=lambda t: (t.allowed[-1][1], t.priority, t.key)):
        for at in _moments(task, placed, starts, way, spare_min):
            starts[task.key] = at
            if all(apart(task, other, starts, way, spare_min) for other in placed):
                placed.append(task)
                break
            del starts[task.key]
    return starts


def _moments(
    task: Task, placed: list[Task], starts: dict[int, int], way: Way, spare_min: int
) -> Iterator[int]:
    """The only minutes that can be a setup's earliest: an opening, or just after another one."""
    after = set()
    for other in placed:
        leaves = crew_of(other, starts)[1] + gap_min(other, task, way, spare_min)
        done = _ends_body(other, starts[other.key])
        after |= {leaves, done, done + charge_min(other, task), crew_of(other, starts)[0]}
    found = {at + task.prepare_min for at in after}
    for low, high in task.allowed:
        yield from sorted({low, *(at for at in found if low < at <= high)})


def ways_minutes(tasks: Sequence[Task], starts: dict[int, int], way: Way) -> int:
    """Minutes of ways and of changes of lens of an order."""
    placed = sorted(
        (task for task in tasks if task.key in starts), key=lambda t: crew_of(t, starts)
    )  # fmt: skip
    return sum(
        round(way(one.place, other.place)) + (LENS_CHANGE_MIN if one.lens != other.lens else 0)
        for one, other in pairwise(placed)
    )


def reach(task: Task) -> tuple[int, int]:
    """The earliest and the latest minute of a setup's first take."""
    if task.fixed is not None:
        return task.fixed, task.fixed
    return task.allowed[0][0], task.allowed[-1][1]
