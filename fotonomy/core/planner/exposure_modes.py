"""Which way to expose: all by hand, one held and one left to the camera, or automatic.

A floating value has ends. How far the light may move before it reaches them, and what the
picture does then, is arithmetic; which way suits whom is common practice, no source.
"""

from dataclasses import dataclass

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.motion.shutter import rate_fps
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.spoken import iris_text
from fotonomy.core.photometry.stops import aperture_stops, iso_stops, time_stops
from fotonomy.core.spec.setup import Setup

# Light that moves less than this counts as constant. Common practice, no source.
CONSTANT_WITHIN_STOPS = 0.3


@dataclass(frozen=True, slots=True)
class AutoRange:
    """One setting left to the camera, the others held.

    ``darker_stops`` and ``brighter_stops`` are how far the light may fall and rise before
    the value runs out (never negative); ``says`` names both ends; ``covers`` is true if the
    light change expected stays inside.
    """

    setting: str
    label: str
    darker_stops: float
    brighter_stops: float
    says: str
    covers: bool


@dataclass(frozen=True, slots=True)
class Advice:
    """What suits this setup, why, and how far each floating value reaches."""

    choice: str
    why: str
    auto_ranges: tuple[AutoRange, ...]


def light_moves_stops(setup: Setup) -> float:
    """How far the light moves: what was said, or over an interval run's own points if more."""
    points = (
        [point.ev100 for point in setup.run.light_curve] if setup.kind.traits.has_interval else []
    )
    return max([setup.light_change_stops, *([max(points) - min(points)] if points else [])])


def _auto_range(
    analysis: Analysis, name: str, label: str, opens: float, closes: float, says: str
) -> AutoRange:
    """``opens`` and ``closes`` are stops the value can still give and take from here.

    What the exposure is off already counts: a picture a stop over has a stop less to rise.
    """
    error = analysis.budget.error_stops
    darker, brighter = max(0.0, opens + error), max(0.0, closes - error)
    change = light_moves_stops(analysis.setup)
    covers = change <= min(darker, brighter) + c.TOLERABLE_WITHIN_STOPS
    return AutoRange(name, label, darker, brighter, says, covers)


def auto_ranges(analysis: Analysis) -> tuple[AutoRange, ...]:
    """Shutter, iris and ISO, each left to the camera with the other two held."""
    setup = analysis.setup
    body, lens = setup.body, setup.lens
    slowest = body.slowest_s if setup.single_frame else min(
        body.slowest_s, 1 / rate_fps(setup.frame_rate)
    )  # fmt: skip
    held = f"at {iris_text(setup)}"
    fast, slow = n.format_time(body.fastest_s), n.format_time(slowest)
    shutter = _auto_range(
        analysis, "shutter", "Iris held, shutter floats",
        time_stops(setup.time_s) - time_stops(slowest),
        time_stops(body.fastest_s) - time_stops(setup.time_s),
        f"{held} the shutter floats from {slow} to {fast}; then the picture goes dark or blows",
    )  # fmt: skip
    widest = lens.widest_at(setup.focal_mm)
    wide, small = n.format_iris(widest), n.format_iris(lens.smallest_f)
    iris = _auto_range(
        analysis, "iris", "Shutter held, iris floats",
        aperture_stops(setup.iris) - aperture_stops(widest),
        aperture_stops(lens.smallest_f) - aperture_stops(setup.iris),
        f"at {n.format_time(setup.time_s)} the iris floats from {wide} to {small}; the depth of "
        "field goes along",
    )  # fmt: skip
    low, ceiling = body.iso_lowest, body.iso_ceiling
    iso = _auto_range(
        analysis, "iso", "Shutter and iris held, ISO floats",
        iso_stops(ceiling) - iso_stops(setup.iso),
        iso_stops(setup.iso) - iso_stops(low),
        f"ISO floats from {low} to your ceiling {ceiling}; the noise goes along",
    )  # fmt: skip
    return (shutter, iris, iso)


def _reason(floats: str, moves: bool) -> str:
    """Why just this setting floats."""
    if moves:
        return "motion holds the shutter" if floats != "shutter" else "nothing else reaches so far"
    return {
        "shutter": "nothing moves: the iris is held for its depth",
        "iso": "nothing moves, and the shutter does not reach so far",
        "iris": "nothing moves, and neither shutter nor ISO reach so far",
    }[floats]


def mode_advice(analysis: Analysis) -> Advice:
    """What suits this light, this motion and these hands."""
    setup, ways = analysis.setup, auto_ranges(analysis)
    change = light_moves_stops(setup)
    moves = analysis.motion.crossing_s is not None
    if change <= CONSTANT_WITHIN_STOPS:
        return Advice(
            "Everything by hand",
            f"the light moves by {n.format_stops(change)} at most: held values match from take "
            "to take",
            ways,
        )
    order = ("iso", "iris", "shutter") if moves else ("shutter", "iso", "iris")
    named = {way.setting: way for way in ways}
    able = [named[name] for name in order if named[name].covers]
    said = n.format_stops(change)
    if able and not setup.kind.traits.flies:
        reason = _reason(able[0].setting, moves)
        return Advice(
            able[0].label,
            f"the light may move by {said}; {reason}, with compensation dialled for the key",
            ways,
        )
    if able:
        return Advice(
            "Automatic, or " + able[0].label[0].lower() + able[0].label[1:],
            f"the light may move by {said}, and one person flies and films",
            ways,
        )
    best = max(ways, key=lambda way: min(way.darker_stops, way.brighter_stops))
    reach = min(best.darker_stops, best.brighter_stops)
    return Advice(
        "By hand, in steps",
        f"the light may move by {said}; the farthest any one value floats is "
        f"{n.format_stops(reach)} ({best.label[0].lower()}{best.label[1:]})",
        ways,
    )
