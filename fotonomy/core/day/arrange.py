"""Setups put into an order that fits: windows, ways, one crew, one camera each (OR-Tools CP-SAT).

Two questions in turn: as much as possible of what matters most, then with the fewest minutes of
ways and changes of lens. Everything is whole minutes since the first day's midnight.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from itertools import combinations, pairwise
from time import monotonic
from typing import Any

from fotonomy.core.notation.writing import format_number

# What one setup of each priority weighs: one of the first outweighs two of the second.
WEIGHTS = {1: 9, 2: 4, 3: 1}
# A change of lens takes so long with its cleaning: common practice, no source.
LENS_CHANGE_MIN = 3
LONGEST_S = 2.2
# Share of the time for the first question, and seconds for each reason why something is left out.
FIRST_SHARE, REASON_S, MOST_REASONS = 0.5, 0.2, 4
WORKERS, SEED = 2, 7

Way = Callable[[int, int], float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Task:
    """A setup to be placed. ``allowed`` are the minutes at which its first take may be.

    Crew is there from ``prepare_min`` before the first take to ``stays_min`` after it, the body to
    ``shoot_min`` after it. ``fixed`` is where it is pinned. ``no_room`` says why ``allowed`` is
    empty, where it is.
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

    @property
    def weight(self) -> int:
        """What it counts for."""
        return WEIGHTS[self.priority]

    def may_run_beside(self, other: "Task") -> bool:
        """True where both may run at once: marked so, on different bodies, at one place."""
        marked = self.alongside or other.alongside
        return marked and self.body != other.body and self.place == other.place


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
            return "No other order fits more, or has less to go and to change"
        if self.best:
            return (
                f"No other order fits more; ways and changes of lens come to {self.ways_min} min, "
                "and less of them may be possible"
            )
        share = 100 * self.weight / self.most if self.most else 100
        return f"At least {format_number(share, 0)} % of the best there can be, by priority"


def _start(task: Task, starts: dict[int, int]) -> tuple[int, int]:
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
        _apart(one, other, starts, way, spare_min) for one, other in combinations(placed, 2)
    )  # fmt: skip


def _apart(one: Task, other: Task, starts: dict[int, int], way: Way, spare_min: int) -> bool:
    if one.fixed is not None and other.fixed is not None:
        return True
    first, second = sorted((one, other), key=lambda task: (_start(task, starts)[0], task.key))
    begins, leaves = _start(second, starts)[0], _start(first, starts)[1]
    if one.body == other.body and begins < _ends_body(first, starts[first.key]):
        return False
    if one.may_run_beside(other):
        return True
    return begins >= leaves + gap_min(first, second, way, spare_min)


def gap_min(first: Task, second: Task, way: Way, spare_min: int) -> int:
    """Whole minutes between the crew's leaving one setup and its coming to another."""
    return round(way(first.place, second.place)) + spare_min


def greedy(tasks: Sequence[Task], way: Way, spare_min: int = 0) -> dict[int, int]:
    """The plain order people make: what closes first goes first, each as early as it can."""
    starts = {task.key: task.fixed for task in tasks if task.fixed is not None}
    placed = [task for task in tasks if task.fixed is not None]
    free = [task for task in tasks if task.fixed is None and task.allowed]
    for task in sorted(free, key=lambda t: (t.allowed[-1][1], t.priority, t.key)):
        for at in _moments(task, placed, starts, way, spare_min):
            starts[task.key] = at
            if all(_apart(task, other, starts, way, spare_min) for other in placed):
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
        leaves = _start(other, starts)[1] + gap_min(other, task, way, spare_min)
        after |= {leaves, _ends_body(other, starts[other.key]), _start(other, starts)[0]}
    found = {at + task.prepare_min for at in after}
    for low, high in task.allowed:
        yield from sorted({low, *(at for at in found if low < at <= high)})


@dataclass(slots=True)
class _Model:
    """The model: a start and a presence for each setup, and what keeps two apart."""

    tasks: list[Task]
    way: Way
    spare_min: int
    model: Any = None
    start: dict[int, Any] = field(default_factory=dict)
    there: dict[int, Any] = field(default_factory=dict)
    before: dict[tuple[int, int], Any] = field(default_factory=dict)

    def __post_init__(self) -> None:
        from ortools.sat.python import cp_model

        self.model = cp_model.CpModel()
        for task in self.tasks:
            intervals = task.allowed
            if task.fixed is not None:
                intervals = ((task.fixed, task.fixed),)
            domain = cp_model.Domain.from_intervals([list(pair) for pair in intervals])
            self.start[task.key] = self.model.new_int_var_from_domain(domain, f"s{task.key}")
            self.there[task.key] = self.model.new_bool_var(f"p{task.key}")
            if task.fixed is not None:
                self.model.add(self.there[task.key] == 1)
        for one, other in combinations(self.tasks, 2):
            self._keep_apart(one, other)
        self._one_body_each()

    def _keep_apart(self, one: Task, other: Task) -> None:
        if one.may_run_beside(other) or (one.fixed is not None and other.fixed is not None):
            return
        both = [self.there[one.key], self.there[other.key]]
        before = self.model.new_bool_var("")
        self.before[one.key, other.key] = before
        self.before[other.key, one.key] = before.negated()
        for first, second in ((one, other), (other, one)):
            if self._may_follow(first, second):
                literal = self.before[first.key, second.key]
                self._after(first, second).only_enforce_if([*both, literal])
            else:
                self.model.add_bool_or(
                    [self.before[second.key, first.key], *(there.negated() for there in both)]
                )

    def _may_follow(self, first: Task, second: Task) -> bool:
        """False where the second has to begin before the first can be done."""
        earliest = _reach(first)[0] + self._stays(first, second)
        return _reach(second)[1] - second.prepare_min >= earliest

    def _stays(self, first: Task, second: Task) -> int:
        stays = first.shoot_min if first.body == second.body else first.stays_min
        return max(stays, first.stays_min + gap_min(first, second, self.way, self.spare_min))

    def _after(self, first: Task, second: Task) -> Any:
        """The second begins once the first, and the way, are done."""
        return self.model.add(
            self.start[second.key] - second.prepare_min
            >= self.start[first.key] + self._stays(first, second)
        )

    def _one_body_each(self) -> None:
        for body in {task.body for task in self.tasks}:
            own = [task for task in self.tasks if task.body == body and task.fixed is None]
            if len(own) < 2:
                continue
            self.model.add_no_overlap([
                self.model.new_optional_interval_var(
                    self.start[t.key] - t.prepare_min, t.prepare_min + t.shoot_min,
                    self.start[t.key] + t.shoot_min, self.there[t.key], f"b{t.key}",
                )
                for t in own
            ])  # fmt: skip

    @property
    def weight(self) -> Any:
        """The weight of what is placed."""
        return sum(task.weight * self.there[task.key] for task in self.tasks)

    def hint(self, starts: dict[int, int]) -> None:
        """Begin from an order that is known."""
        self.model.clear_hints()
        for task in self.tasks:
            self.model.add_hint(self.there[task.key], task.key in starts)
            if task.key in starts:
                self.model.add_hint(self.start[task.key], starts[task.key])

    def changes(self) -> Any:
        """Minutes of ways and of changes of lens, one setup after another."""
        literals, cost = [], []
        for one in self.tasks:
            literals.append((self._node(one), self._node(one), self.there[one.key].negated()))
            for edge in ((0, self._node(one)), (self._node(one), 0)):
                literals.append((*edge, self.model.new_bool_var("")))
            for other in self.tasks:
                if one is other or not self._may_come_next(one, other):
                    continue
                follows = self.model.new_bool_var("")
                literals.append((self._node(one), self._node(other), follows))
                price = round(self.way(one.place, other.place))
                price += LENS_CHANGE_MIN if one.lens != other.lens else 0
                cost.append(price * follows)
                known = self.before.get((one.key, other.key))
                if known is not None:
                    self.model.add_implication(follows, known)
                else:
                    begins = self.start[other.key] - other.prepare_min
                    self.model.add(begins >= self.start[one.key] - one.prepare_min).only_enforce_if(
                        follows
                    )
        empty = self.model.new_bool_var("")
        for task in self.tasks:
            self.model.add_implication(empty, self.there[task.key].negated())
        literals.append((0, 0, empty))
        self.model.add_circuit(literals)
        return sum(cost)

    def _may_come_next(self, one: Task, other: Task) -> bool:
        if (one.key, other.key) in self.before:
            return self._may_follow(one, other)
        return _reach(other)[1] - other.prepare_min >= _reach(one)[0] - one.prepare_min

    def _node(self, task: Task) -> int:
        return self.tasks.index(task) + 1


def _reach(task: Task) -> tuple[int, int]:
    """The earliest and the latest minute of a setup's first take."""
    if task.fixed is not None:
        return task.fixed, task.fixed
    return task.allowed[0][0], task.allowed[-1][1]


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
    model = _Model(able, way, spare_min)
    model.hint(first)
    model.model.maximize(model.weight)
    starts, most, proven = _most(model, first, told, seconds * FIRST_SHARE)
    weight = _weight(able, starts)
    left = seconds - (monotonic() - began)
    ways, least = _ways(able, starts, way), 0
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


def _callback(model: _Model, told: _Told) -> Any:
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


def _read(model: _Model, solver: Any) -> dict[int, int]:
    return {
        task.key: int(solver.value(model.start[task.key]))
        for task in model.tasks if solver.value(model.there[task.key])
    }  # fmt: skip


def _most(
    model: _Model, first: dict[int, int], told: _Told, seconds: float
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
    model: _Model, starts: dict[int, int], weight: int, told: _Told, seconds: float
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
        return starts, _ways(model.tasks, starts, model.way), 0
    found = _read(model, solver)
    return found, round(solver.objective_value), max(0, round(solver.best_objective_bound))


def _ways(tasks: Sequence[Task], starts: dict[int, int], way: Way) -> int:
    placed = sorted(
        (task for task in tasks if task.key in starts), key=lambda t: _start(t, starts)
    )  # fmt: skip
    return sum(
        round(way(one.place, other.place)) + (LENS_CHANGE_MIN if one.lens != other.lens else 0)
        for one, other in pairwise(placed)
    )


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

    model = _Model(able, way, spare_min)
    model.model.add(model.there[task.key] == 1)
    model.model.maximize(model.weight)
    solver = _solver(REASON_S)
    status = solver.solve(model.model)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return LeftOut(task.key, "what is pinned leaves it no room: unpin, or move it")
    with_it = _read(model, solver)
    gone = tuple(key for key in starts if key not in with_it)
    return LeftOut(task.key, "it would take the place of what matters as much", gone)
