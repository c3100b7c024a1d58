"""What a planner may choose: what is free or within limits, and what the gear reaches."""

from collections.abc import Iterator
from dataclasses import replace

from fotonomy.core import constants as c
from fotonomy.core.analysis.interval import write_s_of
from fotonomy.core.analysis.setup import equivalent_focal_mm
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.ramp import exposure_room_s
from fotonomy.core.exposure.scales import (
    frame_rate_offer,
    iris_offer,
    iso_offer,
    own_rack,
    shutter_offer,
)
from fotonomy.core.gear.imaging import focus_ring, reach
from fotonomy.core.gear.lens import Lens
from fotonomy.core.gear.neutral_density import Stack
from fotonomy.core.motion.shutter import Shutter, rate_fps
from fotonomy.core.spec.setup import Setup

# Focal lengths a zoom is tried at, its ends and the present one besides. Common practice.
FOCAL_MARKS_MM = (
    8, 10, 12, 14, 16, 18, 20, 24, 28, 35, 40, 50, 60, 70, 85, 100, 135, 150, 200, 250, 300,
    400, 500, 600,
)  # fmt: skip


# 24 and 23.976 are two rates, a thousandth apart.
_SAME_RATE = 5e-4


def may_move(setup: Setup, name: str) -> bool:
    """True if the planner may choose this setting, freely or within a limit."""
    return name not in setup.held


def _allowed(setup: Setup, name: str, value: float) -> bool:
    limit = setup.limit_on(name)
    return limit is None or limit.holds(value)


def shutters(setup: Setup) -> Iterator[tuple[float, Shutter]]:
    """Frame rates and shutters that go together, as far as the planner may move them."""
    rates = [setup.frame_rate]
    # One long exposure has no next frame, so its rate is nothing to move.
    if may_move(setup, "frame_rate") and not setup.single_frame:
        rates = rates_for_edit(setup, [
            float(o.value) for o in frame_rate_offer(setup).options
            if _allowed(setup, "frame_rate", o.value)
        ])  # fmt: skip
    elif not _rate_reachable(setup):
        return
    for rate in rates:
        at_rate = replace(setup, frame_rate=rate)
        if may_move(setup, "shutter"):
            for option in shutter_offer(at_rate).options:
                time_s = option.value.seconds(rate)
                if _allowed(setup, "shutter", time_s) and _fits_cycle(at_rate, time_s):
                    yield rate, option.value
        elif _shutter_reachable(at_rate):
            yield rate, setup.shutter


def times_the_edit(setup: Setup, rate: float) -> int | None:
    """How many whole times the edit's rate a rate is; None where it is no whole multiple."""
    times = rate_fps(rate) / rate_fps(setup.project_fps)
    whole = round(times)
    return whole if whole >= 1 and abs(times / whole - 1) < _SAME_RATE else None


def rates_for_edit(setup: Setup, rates: list[float]) -> list[float]:
    """The rates that an edit plays without making frames up or leaving some out.

    The edit's own; in slow motion whole multiples of it. All of them where none is such, and
    for single pictures, whose rate is no rate of a clip. Common practice, no source.
    """
    if setup.records_stills:
        return rates
    least = 2 if setup.kind.traits.slows and setup.intent.slow_factor > 1 else 1
    most = float("inf") if setup.kind.traits.slows else 1
    times = {rate: times_the_edit(setup, rate) for rate in rates}
    for low in range(least, 0, -1):
        fit = [rate for rate, whole in times.items() if whole and low <= whole <= most]
        if fit:
            return fit
    return rates


def _fits_cycle(setup: Setup, time_s: float) -> bool:
    """True where an interval run's cycle has room for an exposure; always for anything else."""
    if not setup.kind.traits.has_interval:
        return True
    return time_s <= exposure_room_s(setup, write_s_of(setup)) + 1e-9


def _rate_reachable(setup: Setup) -> bool:
    if setup.single_frame or (setup.kind.traits.has_interval and setup.frame_rate <= 1):
        return True
    return frame_rate_offer(setup).index is not None


def _shutter_reachable(setup: Setup) -> bool:
    if not setup.single_frame and setup.time_s * rate_fps(setup.frame_rate) > 1.001:
        return False
    return shutter_offer(setup).index is not None


def irises(setup: Setup) -> list[float]:
    """F-numbers the planner may use on this lens."""
    widest, closed = setup.lens.widest_at(setup.focal_mm), setup.lens.smallest_f
    if not may_move(setup, "iris"):
        return [setup.iris] if widest * 0.999 <= setup.iris <= closed * 1.001 else []
    return [
        float(o.value) for o in iris_offer(setup).options if _allowed(setup, "iris", o.value)
    ]  # fmt: skip


def iso_values(setup: Setup) -> list[int]:
    """ISO values the planner may use: none over the person's ceiling."""
    offered = [int(o.value) for o in iso_offer(setup).options]
    if not may_move(setup, "iso"):
        return [setup.iso] if setup.iso in offered else []
    ceiling = setup.body.iso_ceiling
    allowed = [s for s in offered if s <= ceiling and _allowed(setup, "iso", s)]
    # Under the lowest base the sensor clips as before and the picture is only pulled down: what
    # is gained in noise is lost in the highlights. Common practice: not unasked.
    least = setup.lowest_base
    return [s for s in allowed if s >= least] or allowed


def stacks_for(setup: Setup) -> tuple[Stack, ...]:
    """ND stacks the planner may use."""
    made = own_rack(setup).stacks
    if not may_move(setup, "nd_density"):
        return tuple(s for s in made if abs(s.density - setup.nd_density) < 0.005)
    wide = equivalent_focal_mm(setup) < c.CROSSED_BELOW_MM * 0.999
    return tuple(
        s for s in made
        if _allowed(setup, "nd_density", s.density) and not (wide and s.turned is not None)
    )  # fmt: skip


def standpoints(setup: Setup) -> Iterator[Setup]:
    """Lenses, focal lengths and distances the planner may use, as setups."""
    lenses = [setup.lens]
    if may_move(setup, "lens"):
        lenses += [
            lens for lens in setup.packed_lenses
            if lens.name != setup.lens.name and setup.body.takes(lens)
        ]  # fmt: skip
    for lens in lenses:
        for focal in _focals(setup, lens):
            for distance in _distances(setup, lens, focal):
                try:
                    place = replace(setup, lens=lens, focal_mm=focal, subject_distance_m=distance)
                except RuleError:
                    continue
                if in_focus_reach(place):
                    yield place


def in_focus_reach(setup: Setup) -> bool:
    """True if the lens with its tubes focuses at the subject, as far as its limits are known."""
    span = reach(
        setup.focal_mm, setup.lens.close_focus_m, setup.lens.greatest_magnification,
        setup.tubes_mm,
    )  # fmt: skip
    return span is None or span.near_m * 0.999 <= setup.subject_distance_m <= span.far_m * 1.001


def _focals(setup: Setup, lens: Lens) -> list[float]:
    short, long = lens.focal_shortest_mm, lens.focal_longest_mm
    inside = short * 0.999 <= setup.focal_mm <= long * 1.001
    if not may_move(setup, "focal_mm"):
        return [setup.focal_mm] if inside else []
    marks = {short, long, *(float(f) for f in FOCAL_MARKS_MM if short < f < long)}
    if inside:
        marks.add(setup.focal_mm)
    return [f for f in sorted(marks) if _allowed(setup, "focal_mm", f)]


def _distances(setup: Setup, lens: Lens, focal_mm: float) -> list[float]:
    """The present distance, half a stop nearer and farther, and what keeps the framing.

    Of these what lies within a limit; its nearer end where none of them does.
    """
    present = setup.subject_distance_m
    if not may_move(setup, "subject_distance_m"):
        return [present]
    width_mm = setup.format.sensor_width_mm * lens.squeeze
    drawn = width_mm / (1000 * setup.field_width_m())
    ring = focus_ring(focal_mm, lens.close_focus_m, lens.greatest_magnification, setup.tubes_mm)
    there = ring.at_ring(max(1e-6, drawn - setup.tubes_mm / focal_mm))
    keeps = round(there.front_m + there.behind_m, 3)
    low, high = c.DISTANCE_RANGE_M
    tried = {present, keeps, round(present / 2**0.5, 3), round(present * 2**0.5, 3)}
    inside = sorted(
        d for d in tried if low <= d <= high and _allowed(setup, "subject_distance_m", d)
    )
    limit = setup.limit_on("subject_distance_m")
    if not inside and limit is not None:
        return [min((limit.low, limit.high), key=lambda end: abs(end - present))]
    return inside
