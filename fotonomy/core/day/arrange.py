"""Setups put into an order that fits: windows, ways, one crew, one camera each (OR-Tools CP-SAT).

Two questions in turn: as much as possible of what matters most, then with the fewest minutes of
ways and changes of lens. Everything is whole minutes since the first day's midnight.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from time import monotonic
from typing import Any

from fotonomy.core.day.solver_model import Model
from fotonomy.core.day.tasks import Task, Way, greedy, ways_minutes
from fotonomy.core.notation.writing import format_number

LONGEST_S = 2.2
# Share of the time for the first question, and seconds for each reason why something is left out.
FIRST_SHARE, REASON_S, MOST_REASONS = 0.5, 0.2, 4
WORKERS, SEED = 2, 7


@dataclass(frozen=True, slots=True)
class LeftOut:
    """A setup that found no place: why, and which setups would have to go for it."""

    key: int
    why: str
    instead_of: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class Progress:
    """The best so far: minutes of first takes by key, and how many could be placed at most."""

    starts: dict[int, int]
    placed: int
    most: int


@dataclass(frozen=True, slots=True)
class Arrangement:
    """Where everything goes. ``best`` is true where it is proven that no order fits more.

    ``most`` is the weight that could be placed at most, ``weight`` what is; ``ways_min`` the
    minutes of ways and changes, ``ways_least`` what they come to at least.
    """

    starts: dict[int, int]
    left_out: tuple[LeftOut, ...]
    weight: int
    most: int
    best: bool
    ways_min: int
    ways_least: int

    @property
    def words(self) -> str:
        """How good it is, in a sentence."""
        fewest = self.ways_min <= self.ways_least
        if self.best and fewest:
            return "No other order fits more, or saves a move or a lens change"
        if self.best:
            return (
                f"No other order fits more; ways and changes of lens come to {self.ways_min} min, "
                "and less of them may be possible"
            )
        share = 100 * self.weight / self.most if self.most else 100
        return f"At least {format_number(share, 0)} % of the best there can be, by priority"


def _solver(seconds: float) -> Any:
    from ortools.sat.python import cp_model

    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = max(0.05, seconds)
    solver.parameters.num_workers = WORKERS
    solver.parameters.random_seed = SEED
    return solver


def arrange(
    tasks: Sequence[Task], way: Way, *, spare_min: int = 0, seconds: float = LONGEST_S,
    better: Callable[[Progress], bool] | None = None,
) -> Arrangement:  # fmt: skip
    """Place as much as possible, then with the fewest ways and changes.

    ``better`` is told of every better order and answers False to stop there. The result keeps every
    rule of ``fits``; what is pinned stays where it is, even where it collides with what is pinned.
    """
    began = monotonic()
    able = [task for task in tasks if task.allowed or task.fixed is not None]
    first = greedy(able, way, spare_min)
    told = _Told(better, able)
    model = Model(able, way, spare_min)
    model.hint(first)
    model.model.maximize(model.weight)
    starts, most, proven = _most(model, first, told, seconds * FIRST_SHARE)
    weight = _weight(able, starts)
    left = seconds - (monotonic() - began)
    ways, least = ways_minutes(able, starts, way), 0
    if able and not told.stopped:
        starts, ways, least = _shortest(model, starts, weight, told, left * 0.75)
    left_out = _reasons(tasks, able, starts, way, spare_min, began + seconds + 0.3)
    return Arrangement(
        starts, left_out, weight, max(most, weight), proven or weight >= most, ways, least
    )  # fmt: skip


class _Told:
    """Tells of better orders, and remembers that somebody wants to stop."""

    def __init__(self, better: Callable[[Progress], bool] | None, tasks: list[Task]) -> None:
        self.better, self.tasks, self.stopped = better, tasks, False

    def say(self, starts: dict[int, int], most: float) -> bool:
        """False once it is to stop."""
        if self.better is not None and not self.stopped:
            self.stopped = not self.better(Progress(dict(starts), len(starts), int(most)))
        return not self.stopped


def _weight(tasks: Sequence[Task], starts: dict[int, int]) -> int:
    return sum(task.weight for task in tasks if task.key in starts)


def _callback(model: Model, told: _Told) -> Any:
    from ortools.sat.python import cp_model

    class Found(cp_model.CpSolverSolutionCallback):
        def on_solution_callback(self) -> None:
            starts = {
                task.key: self.value(model.start[task.key])
                for task in model.tasks if self.value(model.there[task.key])
            }  # fmt: skip
            if not told.say(starts, self.best_objective_bound):
                self.stop_search()

    return Found()


def _read(model: Model, solver: Any) -> dict[int, int]:
    return {
        task.key: int(solver.value(model.start[task.key]))
        for task in model.tasks if solver.value(model.there[task.key])
    }  # fmt: skip


def _most(
    model: Model, first: dict[int, int], told: _Told, seconds: float
) -> tuple[dict[int, int], int, bool]:
    """The first question: starts, the weight there can be at most, and whether it is reached."""
    from ortools.sat.python import cp_model

    total = sum(task.weight for task in model.tasks)
    if not model.tasks:
        return {}, 0, True
    told.say(first, total)
    if told.stopped or _weight(model.tasks, first) == total:
        return first, total, not told.stopped or _weight(model.tasks, first) == total
    solver = _solver(seconds)
    status = solver.solve(model.model, _callback(model, told))
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return first, total, False
    return _read(model, solver), int(solver.best_objective_bound), status == cp_model.OPTIMAL


def _shortest(
    model: Model, starts: dict[int, int], weight: int, told: _Told, seconds: float
) -> tuple[dict[int, int], int, int]:
    """The second question: the same weight with the fewest ways and changes."""
    from ortools.sat.python import cp_model

    model.model.add(model.weight >= weight)
    changes = model.changes()
    model.hint(starts)
    model.model.minimize(changes)
    solver = _solver(seconds)
    status = solver.solve(model.model, _callback(model, told))
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return starts, ways_minutes(model.tasks, starts, model.way), 0
    found = _read(model, solver)
    return found, round(solver.objective_value), max(0, round(solver.best_objective_bound))


def _reasons(
    tasks: Sequence[Task], able: list[Task], starts: dict[int, int], way: Way, spare_min: int,
    until: float,
) -> tuple[LeftOut, ...]:  # fmt: skip
    """Why each setup that is left out is, and the smallest set that would make room for it."""
    found = []
    for task in tasks:
        if task.key in starts:
            continue
        if task not in able:
            found.append(LeftOut(task.key, task.no_room or "its light is never there long enough"))
        elif len(found) < MOST_REASONS and monotonic() < until:
            found.append(_makes_room(able, task, starts, way, spare_min))
        else:
            found.append(LeftOut(task.key, "nothing that matters as much leaves it room"))
    return tuple(found)


def _makes_room(
    able: list[Task], task: Task, starts: dict[int, int], way: Way, spare_min: int
) -> LeftOut:
    """What has to go of what is placed for one setup, found by forcing it in."""
    from ortools.sat.python import cp_model

    model = Model(able, way, spare_min)
    model.model.add(model.there[task.key] == 1)
    model.model.maximize(model.weight)
    solver = _solver(REASON_S)
    status = solver.solve(model.model)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return LeftOut(task.key, "what is pinned leaves it no room: unpin, or move it")
    with_it = _read(model, solver)
    gone = tuple(key for key in starts if key not in with_it)
    return LeftOut(task.key, "it would take the place of what matters as much", gone)
