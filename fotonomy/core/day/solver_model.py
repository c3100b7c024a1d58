"""The solver's model of a day: a start and a presence for each setup (OR-Tools CP-SAT)."""

from dataclasses import dataclass, field
from itertools import combinations
from typing import Any

from fotonomy.core.day.blocks import may_run_beside
from fotonomy.core.day.tasks import LENS_CHANGE_MIN, Task, Way, charge_min, gap_min, reach


@dataclass(slots=True)
class Model:
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
        if may_run_beside(one, other) or (one.fixed is not None and other.fixed is not None):
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
        earliest = reach(first)[0] + self._stays(first, second)
        return reach(second)[1] - second.prepare_min >= earliest

    def _stays(self, first: Task, second: Task) -> int:
        charge = charge_min(first, second)
        same = first.body == second.body or charge > 0
        stays = first.shoot_min + charge if same else first.stays_min
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
        return reach(other)[1] - other.prepare_min >= reach(one)[0] - one.prepare_min

    def _node(self, task: Task) -> int:
        return self.tasks.index(task) + 1
