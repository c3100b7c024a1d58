"""Where tones land on a profile: percent, code values, headroom, zebras and waveform lines."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from math import floor, log2

import numpy as np
from numpy.typing import NDArray

from fotonomy.core.conversions import PERCENT
from fotonomy.core.curves.transfer_functions import encode
from fotonomy.core.gear.profile import LevelScale, Profile
from fotonomy.core.notation.writing import format_number
from fotonomy.core.spec.intent import ExposureMethod
from fotonomy.core.spec.readings import Reading, key_of

# Zebra half width on a card. Common practice, no source.
ZEBRA_HALF_WIDTH_PERCENT = 1.0
# Half width on skin, which is not one tone. Common practice, no source.
ZEBRA_SKIN_HALF_WIDTH_PERCENT = 2.0


@dataclass(frozen=True, slots=True)
class Tone:
    """A reading placed on the curve.

    ``scene_stops`` from grey in the scene, ``placed_stops`` from grey as exposed,
    ``percent`` as recorded (never over the clip level), ``code`` at the profile's
    bit depth, ``clipped_stops`` beyond the clip (0 if inside). ``reading`` is None for grey.
    """

    name: str
    scene_stops: float
    placed_stops: float
    percent: float
    code: int
    clipped_stops: float
    reading: Reading | None = None

    @property
    def lost(self) -> bool:
        """True if it clips and should not."""
        return self.clipped_stops > 0 and not (self.reading and self.reading.may_clip)


@dataclass(frozen=True, slots=True)
class Zebra:
    """A zebra to set: its level in percent, and the half width; None means "and up"."""

    percent: float
    half_width_percent: float | None
    meant_for: str

    @property
    def words(self) -> str:
        """What one sets: "52 ± 2 %" or "92 % up"."""
        return self._said(" %")

    @property
    def brief(self) -> str:
        """The same beside a scale that bears the unit: "52 ± 2" or "92 up"."""
        return self._said("")

    def _said(self, unit: str) -> str:
        percent = format_number(self.percent, 0)
        if self.half_width_percent is None:
            return f"{percent}{unit} up"
        return f"{percent} ± {format_number(self.half_width_percent, 0)}{unit}"


@dataclass(frozen=True, slots=True)
class Level:
    """The level lane: grey, the readings and the clip, and what to set on the monitor.

    ``tones`` are the readings in their order, ``key`` the one the shot is about (grey where
    there is none). ``error_stops`` is the miss it is told of (of a run with a ramp, that of its
    worst frame), ``target_stops`` where the method wants the exposure, ``exposure_stops`` the
    exposure over nominal that comes of both. ``room_left_stops`` is how much brighter the key may
    get before it clips. ``codes_a_stop`` counts code values from grey to a stop under it.
    """

    grey: Tone
    tones: tuple[Tone, ...]
    key: Tone
    error_stops: float
    exposure_stops: float
    target_stops: float
    nominal_grey_percent: float
    black_percent: float
    clip_percent: float
    headroom_stops: float
    room_left_stops: float
    codes_a_stop: int
    zebra_one: Zebra
    zebra_two: Zebra
    lines: tuple[tuple[str, float], ...]


def over_nominal_stops(error_stops: float, target_stops: float) -> float:
    """Exposure over nominal: the aim and the miss."""
    return error_stops + target_stops


def placed_stops(scene_stops: float, exposure_stops: float) -> float:
    """Stops from grey as exposed: those in the scene, and the exposure over nominal."""
    return scene_stops + exposure_stops


def clipped_stops(placed_stops: float, headroom_stops: float) -> float:
    """Stops beyond the clip; 0 if inside."""
    return max(0.0, placed_stops - headroom_stops)


def recorded_percent(profile: Profile, placed_stops: float) -> float:
    """What a tone records at, in percent of the profile's scale, never over its clip."""
    linear = profile.grey_linear * np.exp2(placed_stops)
    return min(PERCENT * float(encode(profile.curve, linear)), profile.clip_percent)


def room_left_stops(headroom_stops: float, placed_stops: float) -> float:
    """How much brighter a tone may get before it clips, in stops."""
    return headroom_stops - placed_stops


def code_value(percent: float, profile: Profile) -> int:
    """Code value of a percent: legal ``64 + 876*p`` of 10 bits, full ``1023*p``, scaled to bits."""
    ten_bit = (
        64 + 876 * percent / PERCENT
        if profile.scale is LevelScale.LEGAL
        else 1023 * percent / PERCENT
    )
    top: int = 2**profile.bits - 1
    return min(top, max(0, round(ten_bit * 2.0 ** (profile.bits - 10))))


def headroom_stops(profile: Profile) -> float:
    """Stops from grey to where the recording clips."""
    return log2(profile.clip_linear / profile.grey_linear)


# How far over grey sensors reach: less is no picture, more is a slip or a table's end. Common
# practice, no source.
PLAUSIBLE_HEADROOM_STOPS = (1.5, 9.0)


def headroom_doubt(profile: Profile) -> str:
    """Why a profile's clip level cannot be right, in a sentence; empty where it may be."""
    stops = headroom_stops(profile)
    low, high = PLAUSIBLE_HEADROOM_STOPS
    if low <= stops <= high:
        return ""
    which = "closer to grey than" if stops < low else "farther over grey than"
    return (
        f"{profile.name} clips {format_number(stops)} stops over grey, {which} any sensor does "
        f"({format_number(low)} to {format_number(high)}): check where it clips"
    )


# A foot is flat where three stops more of shadow change less than this of the scale, and worth a
# word down to so many stops under grey. Common practice, no source.
FLAT_FOOT_PERCENT, FLAT_FOOT_TO_STOPS = 0.2, 7.0


def foot_doubt(profile: Profile) -> str:
    """Where a curve stands still in the shadows, in a sentence; empty where it goes on falling."""
    steps = np.arange(1.0, FLAT_FOOT_TO_STOPS + 0.25, 0.5)
    here = 100 * encode(profile.curve, profile.grey_linear * 2.0**-steps)
    deeper = 100 * encode(profile.curve, profile.grey_linear * 2.0 ** -(steps + 3))
    flat = np.flatnonzero(here - deeper < FLAT_FOOT_PERCENT)
    if not flat.size:
        return ""
    at = float(steps[flat[0]])
    return (
        f"{profile.name} stands still at {format_number(float(here[flat[0]]))} % from "
        f"{format_number(at)} stops under grey down: darker shadows are recorded as one. Where the "
        "table is cut off there, import it with its foot"
    )


def profile_doubts(profile: Profile) -> tuple[str, ...]:
    """What to check of a profile that was just entered or imported, a sentence each."""
    return tuple(filter(None, (headroom_doubt(profile), foot_doubt(profile))))


def percent_at(profile: Profile, stops_from_grey: float) -> float:
    """Recorded percent of a tone so many stops from grey as exposed, never over the clip."""
    return recorded_percent(profile, stops_from_grey)


def _percents(profile: Profile, stops_from_grey: Sequence[float]) -> list[float]:
    """The same for several tones at once: a curve costs the same for one as for thirty."""
    linear = profile.grey_linear * np.exp2(np.array(stops_from_grey))
    recorded = 100 * encode(profile.curve, linear)
    return [float(percent) for percent in np.minimum(recorded, profile.clip_percent)]


def _placed(
    profile: Profile, readings: tuple[Reading, ...], exposure_stops: float, headroom: float
) -> tuple[Tone, ...]:
    """Grey and every reading: each records ``curve(grey*2^(k+x))``, k in the scene, x exposed."""
    scene = [0.0, *(reading.stops for reading in readings)]
    placed = [placed_stops(stops, exposure_stops) for stops in scene]
    named = [("grey", None), *((reading.name, reading) for reading in readings)]
    return tuple(
        Tone(
            name=name, scene_stops=stops, placed_stops=at, percent=percent,
            code=code_value(percent, profile), clipped_stops=clipped_stops(at, headroom),
            reading=reading,
        )
        for (name, reading), stops, at, percent in zip(
            named, scene, placed, _percents(profile, placed), strict=True
        )
    )  # fmt: skip


@dataclass(frozen=True, slots=True, eq=False)
class CodeSteps:
    """How wide code values are: ``stops`` from grey, rising, and ``shares`` of grey's light."""

    stops: NDArray[np.float64]
    shares: NDArray[np.float64]


# From grey, where the width of a code value is known: far enough down for any sensor.
_STEPS_AT = np.linspace(-18.0, 4.0, 221)
UNROUNDED = CodeSteps(_STEPS_AT, np.zeros_like(_STEPS_AT))


@lru_cache(maxsize=256)
def steps_of_grey(profile: Profile) -> CodeSteps:
    """Width of a profile's code values in linear light, as shares of grey.

    By the slope of the curve, so that a straight foot has steps of one width however dark it is.
    """
    light = profile.grey_linear * np.exp2(_STEPS_AT)
    apart = 0.02 * light
    rise = encode(profile.curve, light + apart) - encode(profile.curve, light - apart)
    span = 876.0 if profile.scale is LevelScale.LEGAL else 1023.0
    code = 1 / (span * 2.0 ** (profile.bits - 10))
    shares = code * 2 * apart / np.maximum(rise, 1e-12) / profile.grey_linear
    return CodeSteps(_STEPS_AT, shares)


def codes_by_stop(profile: Profile, stops: range) -> tuple[int, ...]:
    """Code values between each of these stops from grey and the one above it."""
    ends = np.array([*stops, stops[-1] + 1], dtype=np.float64)
    linear = np.minimum(profile.grey_linear * 2.0**ends, profile.clip_linear)
    codes = [code_value(100 * float(y), profile) for y in encode(profile.curve, linear)]
    return tuple(high - low for low, high in pairwise(codes))


def monitor_marks(
    profile: Profile, readings: tuple[Reading, ...], target_stops: float, method: ExposureMethod
) -> tuple[Zebra, Zebra, tuple[tuple[str, float], ...]]:
    """Zebra one and two, and the lines to look for on a waveform, with the target met.

    Zebra one sits on skin or the key where the method exposes for it, else on a grey card.
    """
    key = key_of(readings)
    grey, on_key = _percents(profile, [target_stops, (key.stops if key else 0.0) + target_stops])
    if key is not None and method in (ExposureMethod.SKIN, ExposureMethod.SUBJECT):
        one = Zebra(round(on_key), ZEBRA_SKIN_HALF_WIDTH_PERCENT, key.name)
    else:
        one = Zebra(round(grey), ZEBRA_HALF_WIDTH_PERCENT, "the grey card")
    two = Zebra(float(floor(profile.clip_percent)), None, "clipping")
    lines = [("grey card", grey), ("clip", profile.clip_percent)]
    if key is not None:
        lines.insert(1, (key.name, on_key))
    return one, two, tuple(lines)


def level(
    profile: Profile, readings: tuple[Reading, ...], error_stops: float,
    target_stops: float = 0.0, method: ExposureMethod = ExposureMethod.GREY,
) -> Level:  # fmt: skip
    """The level lane for an exposure so many stops over (or under) where the method wants it."""
    exposure_stops = over_nominal_stops(error_stops, target_stops)
    headroom = headroom_stops(profile)
    grey, *tones = _placed(profile, readings, exposure_stops, headroom)
    chosen = key_of(readings)
    key = next((tone for tone in tones if tone.reading is chosen), grey) if chosen else grey
    one, two, lines = monitor_marks(profile, readings, target_stops, method)
    return Level(
        grey=grey,
        tones=tuple(tones),
        key=key,
        error_stops=error_stops,
        exposure_stops=exposure_stops,
        target_stops=target_stops,
        nominal_grey_percent=profile.recorded_grey_percent,
        black_percent=100 * float(encode(profile.curve, 0.0)),
        clip_percent=profile.clip_percent,
        headroom_stops=headroom,
        room_left_stops=room_left_stops(headroom, key.placed_stops),
        codes_a_stop=codes_by_stop(profile, range(-1, 0))[0],
        zebra_one=one,
        zebra_two=two,
        lines=lines,
    )
