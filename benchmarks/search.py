"""The planner's search: a realistic bag, and the same set walked by a plain loop."""

import json
import tracemalloc
from dataclasses import dataclass
from importlib.resources import files

import numpy as np

from benchmarks import scale
from benchmarks.measures import times_ms
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.photometry.stops import aperture_stops
from fotonomy.core.planner import search_space as allowed
from fotonomy.core.planner.cost import Yardstick, column
from fotonomy.core.planner.plans import solve
from fotonomy.core.planner.search import TOLERANCE_STOPS, Search
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import Setup
from fotonomy.exchange.kit_json import kit_from_data

OTHER_LENSES = (
    "Wide 20", "Standard 35", "Long zoom", "Close-up 90", "Wide prime squeeze",
)  # fmt: skip


def question(light: float = 12.3) -> Setup:
    """Six lenses, nine pieces of glass, every mark of the demo's main body, all of it free.

    Slow motion, so that every rate that is a multiple of the edit's is looked at.
    """
    kit = kit_from_data(
        json.loads(files("fotonomy.demo").joinpath("tern_slip_kit.json").read_text("utf-8"))
    )
    lenses = {lens.name: lens for lens in kit.lenses}
    glass = tuple(piece for piece in kit.glass if piece.kind.value in ("nd", "variable_nd"))
    assert len(glass) == 9
    others = OTHER_LENSES[: scale.rounds(len(OTHER_LENSES), 1)]
    glass = glass[: scale.rounds(9, 2)]
    return Setup(
        project_fps=25, mains_hz=50, mains_lamps=True, light=Ev100(light), subject_speed_m_s=3,
        subject_distance_m=2.5, body=kit.bodies[0], lens=lenses["Standard 50"],
        packed_lenses=tuple(lenses[name] for name in others), glass=glass, holders=kit.holders,
        profile=kit.profiles[0], focal_mm=50, frame_rate=50, shutter=Shutter(time_s=1 / 100),
        kind=Kind.SLOW_MOTION,
        iris=4, iso=500, nd_density=0.9, held=frozenset(),
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class SearchTimes:
    """Times in ms, the number of combinations, and the peak of memory in MB."""

    combinations: int
    best_ms: list[float]
    answer_ms: list[float]
    plain_ms: float
    peak_mb: float
    same: bool


def measure() -> SearchTimes:
    """Search and whole answer over lights that differ, and the plain loop once."""
    lights = [8 + 0.37 * k for k in range(20)]
    questions = [question(light) for light in lights]
    best = times_ms(lambda k: Search(questions[k % 20]).best(), 60, 5)
    answer = times_ms(lambda k: solve(questions[k % 20]), 60, 5)
    asked = question()
    tracemalloc.start()
    solve(asked)
    peak = tracemalloc.get_traced_memory()[1] / 1e6
    tracemalloc.stop()
    found: list[float] = []
    plain = times_ms(lambda _: found.append(plain_loop(asked)), 1, 0)[0]
    fast = Search(asked).best()
    same = fast is not None and abs(fast.score - found[0]) < 1e-6
    return SearchTimes(Search(asked).count, best, answer, plain, peak, same)


def _costs(yardstick: Yardstick, shortfalls: object) -> list[float]:
    return [float(x) for x in yardstick.cost(shortfalls)]  # type: ignore[arg-type,union-attr]


def plain_loop(asked: Setup) -> float:
    """The best score by four nested loops over lists; prices and stops are worked out before."""
    yardstick, best = Yardstick(asked), float("inf")
    for place in allowed.standpoints(asked):
        pairs, stacks = list(allowed.shutters(place)), allowed.stacks_for(place)
        f_numbers, isos = allowed.irises(place), allowed.iso_values(place)
        times = [shutter.seconds(rate) for rate, shutter in pairs]
        here = float(sum(_costs(yardstick, yardstick.of_stand(place))))
        down = _costs(
            yardstick,
            yardstick.of_shutter(place, column(*(r for r, _ in pairs)), column(*times)),
        )
        across = _costs(yardstick, yardstick.of_iris(place, column(*f_numbers)))
        gains = _costs(yardstick, yardstick.of_iso(column(*isos)))
        losses = _costs(yardstick, yardstick.of_glass(place, stacks))
        fixed = sum(x.stops for x in light_budget(place).lines if x.setting is None)
        time_light = [float(x) for x in np.log2(times)]
        iris_light = [aperture_stops(n) for n in f_numbers]
        iso_light = [float(x) for x in np.log2(np.array(isos) / 100)]
        glass_light = [stack.stops for stack in stacks]
        for a, light_a in zip(down, time_light, strict=True):
            for b, light_b in zip(across, iris_light, strict=True):
                outer, light = here + a + b, fixed + light_a - light_b
                for c, light_c in zip(gains, iso_light, strict=True):
                    partial, lit = outer + c, light + light_c
                    for d, light_d in zip(losses, glass_light, strict=True):
                        miss = lit - light_d
                        if abs(miss) <= TOLERANCE_STOPS and partial + d < best:
                            best = min(best, partial + d + yardstick.of_miss(miss))
    return best
