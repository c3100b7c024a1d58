"""Workings and exercises: a working opened, those of a whole plan, an exercise made and checked."""

import time
from dataclasses import dataclass
from typing import Any

from benchmarks import scale

SEEDS = scale.rounds(30, 1)


@dataclass(frozen=True, slots=True)
class Practised:
    """Times in ms. ``plan_ms`` is a plan by itself, ``workings_ms`` what its workings add."""

    opened_ms: list[float]
    plan_ms: list[float]
    workings_ms: list[float]
    exercise_ms: list[float]
    page_ms: list[float]


def measure() -> Practised:
    """Everything, on the demo's database."""
    from django.test import Client
    from django.urls import reverse

    from fotonomy.core.analysis.setup import analyse
    from fotonomy.core.drill.exercise import LEVELS
    from fotonomy.core.drill.exercise_kind import ExerciseKind
    from fotonomy.core.drill.generate import exercise
    from fotonomy.core.plan import plan
    from fotonomy.core.working.explain import all_workings
    from fotonomy.shoots.mapping import spec_of
    from fotonomy.shoots.models import Setup
    from fotonomy.shoots.packed_kit import packed_kit

    rows = list(Setup.objects.filter(shoot__name="Keel to Tide").select_related("shoot"))
    client = Client(HTTP_HOST="127.0.0.1")
    client.force_login(rows[0].shoot.owner)
    opened = []
    box = {"X-Fotonomy-Fragment": "working"}
    for row in rows:
        for name in ("budget.error_stops", "motion.smear_percent", "noise.looks_like_iso"):
            at = reverse("working", args=[row.shoot_id, row.pk, name])
            opened.append(_timed(lambda at=at: client.get(at, headers=box)))
    planned, workings = [], []
    for row in rows:
        spec = spec_of(row, packed_kit(row.shoot))
        all_workings(analyse(spec))
        for _ in range(scale.rounds(5, 1)):
            planned.append(_timed(lambda spec=spec: plan(spec)))
            analysis = analyse(spec)
            workings.append(_timed(lambda analysis=analysis: all_workings(analysis)))
    made = []
    for kind in ExerciseKind:
        for level in LEVELS:
            for seed in range(SEEDS):
                made.append(_timed(lambda k=kind, n=level, s=seed: exercise(k, n, s).is_sound))
    pages = [
        _timed(lambda k=kind: client.get(reverse("drill-exercise", args=[k.value, 2, 501])))
        for kind in ExerciseKind
    ]  # fmt: skip
    return Practised(opened, planned, workings, made, pages)


def _timed(action: Any) -> float:
    start = time.perf_counter()
    action()
    return 1000 * (time.perf_counter() - start)


def checks(practised: Practised, percentile: Any) -> list[tuple[str, list[float], str, bool]]:
    """The rows of the table."""
    return [
        ("A working opened over the bench", practised.opened_ms, "p95 under 100 ms",
         percentile(practised.opened_ms, 95) < 100),
        ("The workings of a whole plan, beside the plan", practised.workings_ms, "p95 under 5 ms",
         percentile(practised.workings_ms, 95) < 5),
        ("An exercise of any kind and level, made and checked", practised.exercise_ms,
         "p95 under 50 ms", percentile(practised.exercise_ms, 95) < 50),
        ("An exercise, the page", practised.page_ms, "p95 under 150 ms",
         percentile(practised.page_ms, 95) < 150),
    ]  # fmt: skip
