"""The five settings of a setup by name, and what the chosen gear offers for each."""

from bisect import bisect_left
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from math import log2
from typing import Any

from fotonomy.core.gear.body import ShutterStyle
from fotonomy.core.gear.neutral_density import Rack, Stack, density_to_stops, rack
from fotonomy.core.motion.shutter import Shutter, rate_fps
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.stops import (
    aperture_stops,
    iso_stops,
    marked_f_numbers,
    marked_iso,
    marked_times_s,
)
from fotonomy.core.spec.setup import Setup
from fotonomy.core.stills.burst import rate_of

# Intervals in seconds that a plan starts from; any other can be typed. Common practice, no source.
INTERVALS_S = (3600, 1800, 900, 600, 300, 120, 60, 30, 20, 15, 10, 8, 6, 5, 4, 3, 2, 1)
# White balances that cameras offer, in kelvin; any other can be typed. Common practice, no source.
WHITES_K = (2500, 2800, 3000, 3200, 3400, 3600, 3800, 4000, 4300, 4500, 4800, 5000, 5200, 5600,
            6000, 6500, 7000, 7500, 8000, 9000, 10_000)  # fmt: skip
# Positions that make one stop (or one clear jump) on each scale.
COARSE_STEPS = {"frame_rate": 1, "shutter": 3, "iris": 3, "iso": 3, "nd_density": 1,
                "white_k": 4}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Option:
    """One value a scale offers: the text that sets it, the mark shown, and the value.

    ``gain`` is the stops it gives, worked out once with the scale; an angle's leaves out
    the frame rate, and a frame rate has none of its own.
    """

    text: str
    mark: str
    value: Any
    gain: float = 0.0


@dataclass(frozen=True, slots=True)
class Offer:
    """What the gear offers for one setting, in the order of its scale.

    ``index`` is where the present value stands, or None if the gear lacks it;
    ``insert_at`` is where it would stand.
    """

    name: str
    options: tuple[Option, ...]
    index: int | None
    insert_at: int
    coarse: int

    @property
    def lacks_present(self) -> bool:
        """True if the present value is not among the options."""
        return self.index is None


def _close(a: float, b: float) -> bool:
    return abs(a - b) <= 1e-3 * max(abs(a), abs(b), 1e-9)


def _offer(
    name: str, options: Sequence[Option], size: Callable[[Any], float], present: float
) -> Offer:
    last = len(options) - 1
    falling = last > 0 and size(options[0].value) > size(options[-1].value)
    sign = -1.0 if falling else 1.0
    insert = bisect_left(options, sign * present, key=lambda o: sign * size(o.value))
    at = None
    for k in range(max(0, insert - 1), min(last, insert + 1) + 1):
        if _close(size(options[k].value), present):
            at = k
            break
    # A scale can be empty: a rate so fast that the body has no shutter for it.
    return Offer(name, tuple(options), at, max(0, min(insert, last)), COARSE_STEPS[name])


def _frame_rates(setup: Setup) -> list[float]:
    if setup.kind.traits.has_interval:
        return [1 / s for s in INTERVALS_S]
    if setup.records_stills and setup.body.drive_modes:
        focusing = setup.run.continuous_focus
        return sorted({rate_of(mode, focusing) for mode in setup.body.drive_modes})
    return sorted(rate.fps for rate in setup.format.rates)


def frame_rate_offer(setup: Setup) -> Offer:
    """Rates the body records, burst drive rates, or the usual intervals."""
    options = _rate_options(tuple(_frame_rates(setup)))
    return _offer("frame_rate", options, float, setup.frame_rate)


@lru_cache(maxsize=256)
def _rate_options(rates: tuple[float, ...]) -> tuple[Option, ...]:
    return tuple(Option(n.format_frame_rate(f), _rate_mark(f), f) for f in rates)


def _rate_mark(fps: float) -> str:
    return f"{n.format_number(1 / fps, 1)} s" if fps < 1 else n.format_number(fps, 3)


def uses_angle(setup: Setup) -> bool:
    """True if the shutter scale of this setup is in degrees.

    Single pictures are always timed; a body with both follows what is set.
    """
    if setup.records_stills or setup.body.shutter_style is ShutterStyle.TIME:
        return False
    if setup.body.shutter_style is ShutterStyle.ANGLE:
        return True
    return setup.shutter.angle_deg is not None


def is_bulb(setup: Setup) -> bool:
    """True for a single picture beyond the body's own times: a remote holds the shutter open."""
    return setup.records_stills and setup.time_s > setup.body.slowest_s * 1.001


def shutter_offer(setup: Setup) -> Offer:
    """Angles or marked times of the body, none longer than a frame in video."""
    body, rate = setup.body, rate_fps(setup.frame_rate)
    if uses_angle(setup):
        shortest_deg = 360 * rate * body.fastest_s * 0.999
        options = _angle_options(body.angles_deg, shortest_deg)
        return _offer("shutter", options, lambda s: s.seconds(rate), setup.time_s)
    slowest = body.slowest_s if setup.single_frame else min(body.slowest_s, 1 / rate)
    options = _time_options(slowest, body.fastest_s)
    return _offer("shutter", options, lambda s: float(s.time_s), setup.time_s)


# The option lists below depend on a few numbers only and are asked for at every change.
@lru_cache(maxsize=256)
def _angle_options(angles_deg: tuple[float, ...], shortest_deg: float) -> tuple[Option, ...]:
    shutters = [Shutter(angle_deg=a) for a in sorted(angles_deg) if shortest_deg <= a <= 360]
    marks = [n.format_shutter(shutter) for shutter in shutters]
    return tuple(
        Option(m, m.rstrip("°"), s, log2((s.angle_deg or 360.0) / 360))
        for m, s in zip(marks, shutters, strict=True)
    )  # fmt: skip


@lru_cache(maxsize=256)
def _time_options(slowest_s: float, fastest_s: float) -> tuple[Option, ...]:
    return tuple(
        Option(n.format_exact_time(t), n.format_time(t), Shutter(time_s=t), log2(t))
        for t in marked_times_s(slowest_s, fastest_s)
    )


@lru_cache(maxsize=256)
def _iris_options(widest: float, smallest: float) -> tuple[Option, ...]:
    return tuple(
        Option(n.format_iris(f), n.format_number(f, 2), f, -aperture_stops(f))
        for f in marked_f_numbers(widest, smallest)
    )


@lru_cache(maxsize=256)
def _iso_options(lowest: int, highest: int) -> tuple[Option, ...]:
    return tuple(Option(str(s), str(s), s, iso_stops(s)) for s in marked_iso(lowest, highest))


@lru_cache(maxsize=256)
def _nd_options(densities: tuple[float, ...]) -> tuple[Option, ...]:
    found = []
    for density in densities:
        text = n.format_density(density)
        found.append(Option(text, text, density, -density_to_stops(density)))
    return tuple(found)


def iris_offer(setup: Setup) -> Offer:
    """Marked thirds within the lens's range, its own ends included."""
    options = _iris_options(setup.lens.widest_at(setup.focal_mm), setup.lens.smallest_f)
    return _offer("iris", options, float, setup.iris)


def iso_offer(setup: Setup) -> Offer:
    """Marked ISO values within the body's range, extended ends included."""
    options = _iso_options(*setup.body.iso_reach)
    return _offer("iso", options, float, setup.iso)


def own_rack(setup: Setup) -> Rack:
    """What the person's glass makes on this lens of this body."""
    return rack(setup.glass, setup.front, setup.body.nd_wheel)


def nd_offer(setup: Setup, made: tuple[Stack, ...] | None = None) -> Offer:
    """Every density the person's own glass makes on this lens."""
    racked = own_rack(setup).stacks if made is None else made
    options = _nd_options(tuple(stack.density for stack in racked))
    return _offer("nd_density", options, float, setup.nd_density)


@lru_cache(maxsize=1)
def _white_options() -> tuple[Option, ...]:
    return tuple(Option(f"{kelvin} K", str(kelvin), float(kelvin)) for kelvin in WHITES_K)


def white_offer(setup: Setup) -> Offer:
    """The white balances that cameras offer. No plan moves it, so it is none of ``OFFERS``."""
    return _offer("white_k", _white_options(), float, setup.white_k)


OFFERS: dict[str, Callable[[Setup], Offer]] = {
    "frame_rate": frame_rate_offer,
    "shutter": shutter_offer,
    "iris": iris_offer,
    "iso": iso_offer,
    "nd_density": nd_offer,
}


def with_setting(setup: Setup, name: str, value: Any) -> Setup:
    """The setup with one setting changed."""
    return replace(setup, **{name: value})
