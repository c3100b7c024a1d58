"""Plan against actual: what was set otherwise, and by how much it moved the exposure."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from math import log2
from typing import Any

from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.light_budget import light_budget
from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.table import by_name
from fotonomy.core.spec.changes import Change, applied
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tone.white_balance import shift_mired

# What a take says of how it was set, in the order of the strip.
SET = ("frame_rate", "shutter", "iris", "iso", "nd_density", "white_k")
# Two settings nearer than this are the same mark of a camera: f/2.8 is 2.83.
SAME_STOPS = 0.1
SAME_MIRED = 3.0


@dataclass(frozen=True, slots=True)
class Difference:
    """A setting that was not as planned, as text.

    ``stops`` is what it does to the exposure (positive: brighter), ``mired`` what it does to the
    white (positive: the picture turns warmer). ``done_stops`` and ``planned_stops`` are the
    balances of light with it and without, ``done_k`` and ``planned_k`` the whites.
    """

    name: str
    planned: str
    actual: str
    stops: float = 0.0
    mired: float = 0.0
    done_stops: float = 0.0
    planned_stops: float = 0.0
    done_k: float = 0.0
    planned_k: float = 0.0

    @property
    def size(self) -> float:
        """How large it is among others: stops, and a stop for 50 mired. Common practice."""
        return abs(self.stops) + abs(self.mired) / 50


@dataclass(frozen=True, slots=True)
class Actual:
    """What differed, all of it in stops, and the setup as it was planned and as it was set."""

    differences: tuple[Difference, ...]
    stops: float
    planned: Setup
    done: Setup

    @property
    def size(self) -> float:
        """The largest difference."""
        return max((one.size for one in self.differences), default=0.0)


def actual_of(setup: Setup, planned: Mapping[str, str], done: Mapping[str, str]) -> Actual:
    """A take against its plan. Texts by setting; what nobody says was as the setup stands.

    ``setup`` is the setup as it stands now; the plan of the take may have been another. A text
    that cannot be read any more counts as said by nobody.
    """
    was = _as_said(setup, planned)
    did = _as_said(was, done)
    found = []
    for name in SET:
        if name not in done:
            continue
        one = _as_said(was, {name: done[name]})
        texts = (planned.get(name, text_of(was, name)), done[name])
        if name == "white_k":
            moved = shift_mired(one.white_k, was.white_k)
            if abs(moved) >= SAME_MIRED:
                found.append(Difference(
                    name, *texts, mired=moved, done_k=one.white_k, planned_k=was.white_k
                ))  # fmt: skip
            continue
        done_stops = light_budget(one).error_stops
        planned_stops = light_budget(was).error_stops
        stops = moved_stops(done_stops, planned_stops)
        if abs(stops) >= SAME_STOPS or (name == "frame_rate" and one.frame_rate != was.frame_rate):
            found.append(Difference(name, *texts, stops, 0.0, done_stops, planned_stops))
    whole = moved_stops(light_budget(did).error_stops, light_budget(was).error_stops)
    return Actual(tuple(found), whole, was, did)


def moved_stops(done_stops: float, planned_stops: float) -> float:
    """What the light budget has more as set than as planned: positive is brighter."""
    return done_stops - planned_stops


def written_stops(
    time_s: float, set_time_s: float, f_number: float, set_f_number: float, iso: float,
    set_iso: float,
) -> float:  # fmt: skip
    """Exposure a camera wrote down over the one that was set, in stops."""
    return log2(time_s / set_time_s) - 2 * log2(f_number / set_f_number) + log2(iso / set_iso)


def setting_stops(wrote: float, planned: float, a_doubling_stops: float) -> float:
    """What a camera's setting does to the exposure against the planned one.

    ``a_doubling_stops`` is what twice as much of it does.
    """
    return a_doubling_stops * log2(wrote / planned)


def light_off_stops(picture_stops: float, set_stops: float) -> float:
    """How far the light was from the plan: what a picture is off, less what was set otherwise."""
    return picture_stops - set_stops


def light_seen_ev(planned_ev: float, picture_stops: float, set_stops: float) -> float:
    """EV at ISO 100 of a light, as the picture that was taken in it says."""
    return planned_ev + light_off_stops(picture_stops, set_stops)


def late_min(at_clock_min: float, planned_clock_min: float) -> float:
    """How many minutes after its planned hour something was; negative before it."""
    return at_clock_min - planned_clock_min


def off_estimate_stops(read_ev: float, estimated_ev: float) -> float:
    """How much brighter light was read than the sky's estimate says."""
    return read_ev - estimated_ev


def text_of(setup: Setup, name: str) -> str:
    """A setting of a setup as a take says it."""
    row = by_name()[name]
    return row.write(row.shown(setup) if row.shown else getattr(setup, name))


def _as_said(setup: Setup, said: Mapping[str, str]) -> Setup:
    for name in SET:
        if name not in said:
            continue
        try:
            setup = applied(setup, (Change(name, by_name()[name].read(setup, said[name])),))
        except RuleError:
            continue
    return setup


def exposed_stops(done: Setup, wrote: Mapping[str, Any]) -> float | None:
    """By how much the exposure a camera wrote down lies over the one that was set, in stops.

    ``wrote`` has exposure_s, f_number and iso (EXIF: ExposureTime, FNumber,
    PhotographicSensitivity); None where one of them is missing.
    """
    try:
        time_s, f_number, iso = (
            float(wrote[name]) for name in ("exposure_s", "f_number", "iso")
        )  # fmt: skip
    except (KeyError, TypeError, ValueError):
        return None
    if min(time_s, f_number, iso) <= 0:
        return None
    return written_stops(time_s, done.time_s, f_number, done.iris, iso, done.iso)


# What a camera writes down of each setting, and the stops that twice as much of it does.
WRITTEN = {"shutter": ("exposure_s", 1.0), "iris": ("f_number", -2.0), "iso": ("iso", 1.0)}


def written_off(planned: Setup, wrote: Mapping[str, Any]) -> dict[str, tuple[float, float]]:
    """What a camera wrote down otherwise than planned, by setting: its value, and the stops.

    ``wrote`` is as in ``exposed_stops``; what it has not, or no number above nought, is left out.
    """
    have = {"shutter": planned.time_s, "iris": planned.iris, "iso": float(planned.iso)}
    found = {}
    for name, (key, doubling) in WRITTEN.items():
        try:
            value = float(wrote[key])
        except (KeyError, TypeError, ValueError):
            continue
        if value > 0 and abs(off := setting_stops(value, have[name], doubling)) >= SAME_STOPS:
            found[name] = (value, off)
    return found


def written_texts(planned: Setup, wrote: Mapping[str, Any]) -> dict[str, str]:
    """What a camera wrote down otherwise than planned, as a take says it."""
    write: dict[str, Callable[[float], str]] = {
        "shutter": n.format_time, "iris": lambda value: f"f/{n.format_number(value)}",
        "iso": lambda value: f"{value:.0f}",
    }  # fmt: skip
    return {name: write[name](value) for name, (value, _) in written_off(planned, wrote).items()}
