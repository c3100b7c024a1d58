"""The light is not as planned: what keeps the shot what it is, and what each way costs."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache
from math import inf, log2

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import Analysis, analyse, focus_of, noise_in
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.findings import fixes as fx
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.decimals import decimal
from fotonomy.core.notation.reading import parse_light
from fotonomy.core.notation.spoken import said_reach
from fotonomy.core.photometry.exposure_value import Ev100, ev100_of
from fotonomy.core.plan import readout_of
from fotonomy.core.planner.relaxation import changes_to, words_of
from fotonomy.core.planner.search import Search
from fotonomy.core.readout import ReadoutItem
from fotonomy.core.spec.changes import Change, applied
from fotonomy.core.spec.setup import FRAMING, SETTINGS, Setup
from fotonomy.core.tone.signal_levels import percent_at

# From the planned light, what is worked out ahead: thirds from six stops under to four over.
LOWEST_THIRDS, HIGHEST_THIRDS = -18, 12
MOST_WAYS, FEW = 5, 3
# Less than this is the planned light: half of a third, as cameras step.
SAME_STOPS = 1 / 6
# A smear or a depth that differs by less is not told.
WORTH_TELLING = 0.1
# Room left where it is asked whether a search could balance at all.
REACH_ROOM_STOPS = 1.0
# A depth under this share of the distance is told as such.
SHALLOW = 0.2


@dataclass(frozen=True, slots=True)
class Way:
    """What to set in other light: in words, what it keeps and what it costs.

    ``left_stops`` is what is missing still (negative: too dark), ``best`` the planner's own,
    ``shown`` what the strip reads otherwise then, by label.
    """

    words: str
    costs: tuple[str, ...]
    changes: tuple[Change, ...]
    left_stops: float
    best: bool = False
    moves_held: bool = False
    shown: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True, slots=True)
class Relit:
    """A setup in the light that was read: by how much it moved, and the ways out.

    ``fits`` where the planned settings still do; ``hopeless`` where no setting helps, and then
    ``left_stops`` is the least that would be missing.
    """

    planned_ev100: float
    ev100: float
    fits: bool
    ways: tuple[Way, ...]
    hopeless: bool = False
    left_stops: float = 0.0

    @property
    def moved_stops(self) -> float:
        """By how much it is brighter than planned."""
        return self.ev100 - self.planned_ev100


@dataclass(frozen=True, slots=True)
class Planned:
    """A setup as it was planned: its numbers, and the strip."""

    analysis: Analysis
    readout: tuple[ReadoutItem, ...]
    search: Search

    @classmethod
    def of(cls, setup: Setup) -> "Planned":
        """Worked out once for many lights."""
        analysis = analyse(setup)
        return cls(analysis, readout_of(analysis), Search(setup))


@lru_cache(maxsize=128)
def worked_out_ahead(setup: Setup) -> tuple[Relit, ...]:
    """The setup in every light from six stops under the planned to four over, in thirds."""
    planned, before = ev100_of(setup.light), Planned.of(setup)
    return tuple(
        relit(setup, planned + third / 3, before)
        for third in range(LOWEST_THIRDS, HIGHEST_THIRDS + 1)
    )


def relit(setup: Setup, ev100: float, before: Planned | None = None) -> Relit:
    """A setup in other light. ``ev100`` is held to what a scene can have.

    ``before`` is the setup as planned, where somebody has it.
    """
    planned = ev100_of(setup.light)
    low, high = c.EV_RANGE
    now = round(min(high, max(low, ev100)), 2)
    if abs(now - planned) < SAME_STOPS:
        return Relit(planned, now, True, ())
    lit = replace(setup, light=Ev100(now))
    before = before or Planned.of(setup)
    # The ways out go by the budget and the scales alone.
    analysis = replace(before.analysis, setup=lit, budget=light_budget(lit))
    error = analysis.budget.error_stops
    if abs(error) <= c.TOLERABLE_WITHIN_STOPS:
        return Relit(planned, now, True, ())
    ways = list(_ways(analysis, before))
    good = [one for one in ways if abs(one.left_stops) <= c.TOLERABLE_WITHIN_STOPS + 0.01]
    if not good:
        left = min((one.left_stops for one in ways), key=abs, default=error)
        return Relit(planned, now, False, tuple(ways[:2]), True, left)
    return Relit(planned, now, False, tuple(good[:MOST_WAYS]))


def _ways(analysis: Analysis, before: Planned) -> Iterator[Way]:
    """What leaves the motion alone first, then what moves the fewest things; held ones last."""
    found: dict[str, Way] = {}
    for words, changes, best, held in _offers(analysis, before.search):
        if words not in found:
            found[words] = _way(analysis, words, changes, before, best, held)
    yield from sorted(found.values(), key=_order)


def _offers(
    analysis: Analysis, search: Search
) -> Iterator[tuple[str, tuple[Change, ...], bool, bool]]:
    """The planner's best, single settings, and, where they are few, those that are held."""
    lit = analysis.setup
    best = search.best(light=lit.light) if _within_reach(analysis) else None
    changes = () if best is None else changes_to(lit, best.setup)
    if best is not None and changes:
        yield words_of(lit, best.setup), changes, True, False
    error, count = analysis.budget.error_stops, 0
    for fix in fx.exposure_fixes(analysis, error, most=MOST_WAYS):
        if fix.changes:
            count += 1
            yield fix.label, fix.changes, False, fix.touches_held
    held = lit.held & set(SETTINGS)
    if count >= FEW or not held:
        return
    free = replace(analysis, setup=replace(lit, held=lit.held - held))
    for fix in fx.exposure_fixes(free, error, most=MOST_WAYS):
        if fix.changes:
            touched = any(one.setting in held for one in fix.changes)
            yield fix.label, fix.changes, False, touched


def _within_reach(analysis: Analysis) -> bool:
    """False where the free settings at their ends cannot balance it: no search is needed then.

    Another lens or distance may: where they are free it is searched.
    """
    setup, error = analysis.setup, analysis.budget.error_stops
    if not setup.held.issuperset(FRAMING):
        return True
    reach = 0.0
    for name in SETTINGS:
        options = analysis.offers[name].options
        if name in setup.held or not options:
            continue
        present = fx.gain_stops(setup, name, getattr(setup, name))
        ends = (fx.gain_of(setup, name, one) - present for one in (options[0], options[-1]))
        reach += max(0.0, *(-gain if error > 0 else gain for gain in ends))
    return abs(error) <= reach + REACH_ROOM_STOPS


def _order(way: Way) -> tuple[bool, bool, int]:
    moves = {one.setting for one in way.changes}
    return bool(moves & {"shutter", "frame_rate"}), way.moves_held, len(way.changes)


def _way(
    analysis: Analysis, words: str, changes: tuple[Change, ...], before: Planned, best: bool,
    held: bool,
) -> Way:  # fmt: skip
    lit = analysis.setup
    made = _as_set(analysis, applied(lit, changes))
    shown = tuple(
        (now.label, now.value)
        for was, now in zip(before.readout, readout_of(made), strict=True)
        if was.value != now.value
    )
    error = made.budget.error_stops
    return Way(words, tuple(_costs(made, before.analysis)), changes, error, best, held, shown)


def _as_set(analysis: Analysis, made: Setup) -> Analysis:
    """The analysis of the same scene in other light or with other settings.

    What they change of budget, noise and depth is worked out anew; where tones land is not.
    """
    if made.frame_rate != analysis.setup.frame_rate:
        return analyse(made)
    budget = light_budget(made)
    stack = next((s for s in analysis.stacks if abs(s.density - made.nd_density) < 0.005), None)
    focus = analysis.focus if made.iris == analysis.setup.iris else focus_of(made)
    noise = noise_in(made, budget.error_stops)
    return replace(analysis, setup=made, budget=budget, noise=noise, focus=focus, stack=stack)


def _costs(made: Analysis, before: Analysis) -> Iterator[str]:
    """What differs from the plan in what one sees: noise, depth, smear, cadence."""
    setup, was = made.setup, before.setup
    if setup.iso != was.iso or abs(made.noise.inside_stops - before.noise.inside_stops) > 0.3:
        looks = n.format_number(round(made.noise.looks_like_iso, -2), 0)
        inside = made.noise.inside_stops
        side = "inside" if inside >= 0 else "past"
        yield f"looks like ISO {looks}, {n.format_stops(abs(inside))} {side} your limit"
    if setup.iris != was.iris:
        yield _depth(made, before)
    if setup.frame_rate != was.frame_rate:
        yield f"{n.format_frame_rate(setup.frame_rate)} fps: the motion plays at another speed"
    times = setup.time_s / was.time_s
    if abs(log2(times)) > WORTH_TELLING:
        yield f"smears {n.format_number(times)} times as much"
        limit = made.shake.handheld_s
        if setup.support.value in ("hand", "shoulder") and setup.time_s > limit:
            yield f"slower than you hold, {n.format_time(limit)}"
    error = made.budget.error_stops
    if abs(error) > 0.25:
        yield f"{n.format_stops(abs(error))} {'over' if error > 0 else 'under'} still"


def _depth(made: Analysis, before: Analysis) -> str:
    """From where to where it is sharp; how deep, where that is little."""
    focus, setup = made.focus, made.setup
    if focus.depth_m < SHALLOW * focus.near_m:
        depth, was = (n.format_length(one.focus.depth_m) for one in (made, before))
        return f"sharp depth {depth} instead of {was}"
    end = "on" if focus.far_m == inf else f"to {said_reach(setup, focus.far_m)}"
    return f"sharp from {said_reach(setup, focus.near_m)} {end}"


_PERCENT = re.compile(
    r"(?P<name>.*?)\s*(?:reads|at|is)?\s*(?P<percent>\d+(?:[.,]\d+)?)\s*%\s*", re.I
)


def read_light(setup: Setup, text: str) -> float:
    """EV at ISO 100 of what somebody read now.

    "2.3", "120 lux", "f/2.8 1/50 ISO 6400", "overcast", a change such as "−1 1/3" with its sign, or
    a level at the planned settings such as "face 38 %" or "38 %" for what the shot is about.
    Raises RuleError for the field ``light``.
    """
    said = " ".join(text.split())
    planned = ev100_of(setup.light)
    percent = _PERCENT.fullmatch(said)
    if percent is not None:
        return planned + _off_level(setup, percent["name"], percent["percent"])
    if said[:1] in ("+", "-", "−"):
        return planned + _off_stops(said)
    return ev100_of(parse_light(said))


def _off_stops(said: str) -> float:
    """A change in stops, in thirds as people say them."""
    rule = "a change in stops such as −1 1/3 or +2/3"
    sign = 1.0 if said[0] == "+" else -1.0
    found = re.fullmatch(
        r"[+\-−]\s*(?:(\d+(?:[.,]\d+)?))?\s*(?:([1-5])/([2346]))?\s*(?:stops?|ev)?",
        said, re.IGNORECASE,
    )  # fmt: skip
    if found is None or not (found[1] or found[2]):
        raise RuleError("light", rule, said)
    whole = decimal(found[1] or "0")
    part = int(found[2]) / int(found[3]) if found[2] else 0.0
    if whole + part > 20:
        raise RuleError("light", rule, said)
    return sign * (whole + part)


def _off_level(setup: Setup, name: str, percent: str) -> float:
    """By how many stops the light moved, from the level of a reading at the planned settings."""
    level = analyse(setup).level
    wanted = name.strip().lower()
    tones = {tone.name.lower(): tone for tone in (*level.tones, level.grey)}
    tone = level.key if not wanted else next(
        (one for key, one in tones.items() if wanted in key), None
    )  # fmt: skip
    if tone is None:
        raise RuleError("light", f"one of the readings: {', '.join(tones)}", name)
    profile = setup.recorded_profile
    read = decimal(percent)
    top = percent_at(profile, level.headroom_stops)
    bottom = percent_at(profile, -12.0)
    if not bottom < read < top:
        raise RuleError(
            "light", f"a level that {profile.name} tells apart, over "
            f"{n.format_number(bottom, 0)} and under {n.format_number(top, 0)} %", percent,
        )  # fmt: skip
    low, high = -12.0, level.headroom_stops
    for _ in range(50):
        middle = (low + high) / 2
        low, high = (middle, high) if percent_at(profile, middle) < read else (low, middle)
    return (low + high) / 2 - tone.placed_stops
