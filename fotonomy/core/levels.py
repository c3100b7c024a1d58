"""Where tones land on a profile: percent, code values, headroom and zebras."""

from dataclasses import dataclass
from math import floor, log2

from fotonomy.core.constants import ZEBRA_HALF_WIDTH_PERCENT
from fotonomy.core.curves import encode
from fotonomy.core.gear import LevelScale, Profile


@dataclass(frozen=True, slots=True)
class Tone:
    """A reading placed on the curve.

    ``scene_stops`` from grey in the scene, ``placed_stops`` from grey as exposed,
    ``percent`` as recorded (never over the clip level), ``code`` at the profile's
    bit depth, ``clipped_stops`` beyond the clip (0 if inside).
    """

    name: str
    scene_stops: float
    placed_stops: float
    percent: float
    code: int
    clipped_stops: float


@dataclass(frozen=True, slots=True)
class Zebra:
    """A zebra to set: its level in percent, and the half width; None means "and up"."""

    percent: float
    half_width_percent: float | None
    meant_for: str


@dataclass(frozen=True, slots=True)
class Level:
    """The level lane: grey, the key reading and the clip, and what to set on the monitor.

    ``room_left_stops`` is how much brighter the key reading may get before it clips.
    """

    grey: Tone
    key: Tone
    nominal_grey_percent: float
    black_percent: float
    clip_percent: float
    headroom_stops: float
    room_left_stops: float
    zebra_one: Zebra
    zebra_two: Zebra


def code_value(percent: float, profile: Profile) -> int:
    """Code value of a percent: legal ``64 + 876*p`` of 10 bits, full ``1023*p``, scaled to bits."""
    share = percent / 100
    ten_bit = 64 + 876 * share if profile.scale is LevelScale.LEGAL else 1023 * share
    top: int = 2**profile.bits - 1
    return min(top, max(0, round(ten_bit * 2.0 ** (profile.bits - 10))))


def headroom_stops(profile: Profile) -> float:
    """Stops from grey to where the recording clips."""
    return log2(profile.clip_linear / profile.grey_linear)


def percent_at(profile: Profile, stops_from_grey: float) -> float:
    """Recorded percent of a tone so many stops from grey as exposed, never over the clip."""
    linear = profile.grey_linear * 2.0**stops_from_grey
    return min(profile.clip_percent, 100 * float(encode(profile.curve, linear)))


def place(name: str, scene_stops: float, exposure_stops: float, profile: Profile) -> Tone:
    """Place a reading: it records ``curve(grey*2^(k+x))`` for k in the scene, x exposed over."""
    placed = scene_stops + exposure_stops
    percent = percent_at(profile, placed)
    return Tone(
        name=name,
        scene_stops=scene_stops,
        placed_stops=placed,
        percent=percent,
        code=code_value(percent, profile),
        clipped_stops=max(0.0, placed - headroom_stops(profile)),
    )


def level(profile: Profile, exposure_stops: float, key_name: str, key_stops: float) -> Level:
    """The level lane for an exposure so many stops over (or under) nominal."""
    headroom = headroom_stops(profile)
    nominal = profile.recorded_grey_percent
    return Level(
        grey=place("grey", 0.0, exposure_stops, profile),
        key=place(key_name, key_stops, exposure_stops, profile),
        nominal_grey_percent=nominal,
        black_percent=100 * float(encode(profile.curve, 0.0)),
        clip_percent=profile.clip_percent,
        headroom_stops=headroom,
        room_left_stops=headroom - key_stops - exposure_stops,
        zebra_one=Zebra(round(nominal), ZEBRA_HALF_WIDTH_PERCENT, "the grey card"),
        zebra_two=Zebra(float(floor(profile.clip_percent)), None, "clipping"),
    )
