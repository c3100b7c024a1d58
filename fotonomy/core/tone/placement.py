"""Exposure methods: how far from nominal each of them exposes a scene, and why."""

from dataclasses import dataclass
from math import log2

from fotonomy.core.curves.transfer_functions import decode
from fotonomy.core.gear.profile import Profile
from fotonomy.core.notation.writing import format_number, format_signed
from fotonomy.core.spec.intent import ExposureMethod
from fotonomy.core.spec.readings import Reading, Surface, held, key_of
from fotonomy.core.tone.signal_levels import headroom_stops, percent_at

# Placing tones. Common practice, no source.
# Room kept between the brightest tone and the clip: by those who never clip, and by those
# who expose as far right as the log holds.
HIGHLIGHT_MARGIN_STOPS = 0.1
FAR_RIGHT_MARGIN_STOPS = 0.3


# Far right still keeps grey and the key under these levels, or nothing matches in the edit.
FAR_RIGHT_GREY_PERCENT = 71.0
FAR_RIGHT_KEY_PERCENT = 85.0


# From this much over grey a profile counts as a log with room to pull.
LOG_HEADROOM_STOPS = 4.0
SLIGHTLY_UNDER_STOPS = 0.5


DUSK_DARKENED_STOPS = 2.0
# A scene with nothing bright in its readings is taken to hold a white card.
UNREAD_WHITE_STOPS = 2.32


@dataclass(frozen=True, slots=True)
class Placing:
    """One method's exposure of a scene: stops over nominal, and what the edit does after.

    ``post_stops`` is the change of brightness in the edit, negative darkens. ``applies`` is
    false where the scene or the profile gives the method nothing to work with; it then
    exposes at nominal. ``reason`` gives the number behind it. ``reading_stops`` is the reading
    that decides and ``mark_stops`` where it shall land, both from grey; None where none does.
    """

    method: ExposureMethod
    offset_stops: float
    post_stops: float
    applies: bool
    reason: str
    reading_stops: float | None = None
    mark_stops: float | None = None


def brightest(readings: tuple[Reading, ...]) -> Reading:
    """The brightest reading that has to hold; a white card where nothing bright was read."""
    bright = max(held(readings), key=lambda r: r.stops, default=None)
    key = key_of(readings)
    if bright is None or (bright is key and bright.stops < UNREAD_WHITE_STOPS):
        return Reading(name="an unread white", stops=UNREAD_WHITE_STOPS)
    return bright


def skin_mark_stops(profile: Profile, surface: Surface) -> float:
    """Where skin of a depth is placed on a profile, in stops from its grey."""
    usual = surface.belongs_stops or 0.0
    if profile.skin_percent is None:
        return usual
    mark = log2(decode(profile.curve, profile.skin_percent / 100) / profile.grey_linear)
    return mark + usual - (Surface.LIGHT_SKIN.belongs_stops or 0.0)


def placing(method: ExposureMethod, profile: Profile, readings: tuple[Reading, ...]) -> Placing:
    """Where a method exposes this scene on this profile."""
    match method:
        case ExposureMethod.GREY:
            mark = format_number(profile.recorded_grey_percent, 0)
            return Placing(method, 0.0, 0.0, True, f"a grey card records at {mark} %")
        case ExposureMethod.SKIN:
            return _skin(profile, readings)
        case ExposureMethod.SUBJECT:
            return _subject(readings)
        case ExposureMethod.HIGHLIGHTS:
            return _highlights(profile, readings)
        case ExposureMethod.FAR_RIGHT:
            return _far_right(profile, readings)
        case ExposureMethod.UNDER:
            stops = SLIGHTLY_UNDER_STOPS
            reason = f"{format_number(stops)} stop under by habit, lifted again"
            return Placing(method, -stops, stops, True, reason)
        case ExposureMethod.DUSK:
            dark = DUSK_DARKENED_STOPS
            reason = f"exposed normally, darkened {format_number(dark, 0)} stops and cooled later"
            return Placing(method, 0.0, -dark, True, reason)


def onto_mark_stops(mark_stops: float, reading_stops: float) -> float:
    """Stops over nominal that bring a reading to its mark, both from grey."""
    return mark_stops - reading_stops


def under_clip_stops(mark_stops: float, reading_stops: float) -> float:
    """Stops over nominal, none or less, that keep a reading under a mark below the clip."""
    return min(0.0, mark_stops - reading_stops)


def _skin(profile: Profile, readings: tuple[Reading, ...]) -> Placing:
    key = key_of(readings)
    skins = [r for r in readings if r.surface.is_skin]
    if not skins:
        return Placing(ExposureMethod.SKIN, 0.0, 0.0, False, "no reading is skin")
    face = key if key in skins and key is not None else skins[0]
    own = face.wanted_stops
    mark = skin_mark_stops(profile, face.surface) if own is None else own
    level = format_number(percent_at(profile, mark), 0)
    return Placing(
        ExposureMethod.SKIN, onto_mark_stops(mark, face.stops), 0.0, True,
        f"{face.name} reads {format_signed(face.stops)}, its mark is {format_signed(mark)} "
        f"({level} %)", face.stops, mark,
    )  # fmt: skip


def _subject(readings: tuple[Reading, ...]) -> Placing:
    key = key_of(readings)
    if key is None:
        return Placing(ExposureMethod.SUBJECT, 0.0, 0.0, False, "no reading is the key")
    belongs = key.belongs_stops
    if belongs is None:
        return Placing(
            ExposureMethod.SUBJECT, 0.0, 0.0, False, f"nobody said where {key.name} should land"
        )
    return Placing(
        ExposureMethod.SUBJECT, onto_mark_stops(belongs, key.stops), 0.0, True,
        f"{key.name} reads {format_signed(key.stops)} and belongs at {format_signed(belongs)}",
        key.stops, belongs,
    )  # fmt: skip


def _highlights(profile: Profile, readings: tuple[Reading, ...]) -> Placing:
    if not held(readings):
        return Placing(ExposureMethod.HIGHLIGHTS, 0.0, 0.0, False, "every reading may clip")
    bright = brightest(readings)
    mark = headroom_stops(profile) - HIGHLIGHT_MARGIN_STOPS
    room, offset = mark - bright.stops, under_clip_stops(mark, bright.stops)
    return Placing(
        ExposureMethod.HIGHLIGHTS, offset, -offset, True,
        f"{bright.name} at {format_signed(bright.stops)} has {format_signed(room)} stops to the "
        "clip", bright.stops, mark,
    )  # fmt: skip


def _far_right(profile: Profile, readings: tuple[Reading, ...]) -> Placing:
    headroom = headroom_stops(profile)
    if headroom < LOG_HEADROOM_STOPS:
        return Placing(
            ExposureMethod.FAR_RIGHT, 0.0, 0.0, False,
            f"{format_number(headroom)} stops over grey leave nothing to pull",
        )  # fmt: skip
    bright, key = brightest(readings), key_of(readings)
    bounds = [
        (headroom - FAR_RIGHT_MARGIN_STOPS, bright.stops, f"{bright.name} just holds"),
        (stops_at(profile, FAR_RIGHT_GREY_PERCENT), 0.0, "grey at its highest, "
         f"{format_number(FAR_RIGHT_GREY_PERCENT, 0)} %"),
    ]  # fmt: skip
    if key is not None and not key.may_clip:
        bounds.append(
            (stops_at(profile, FAR_RIGHT_KEY_PERCENT), key.stops,
             f"{key.name} at {format_number(FAR_RIGHT_KEY_PERCENT, 0)} % at most")
        )  # fmt: skip
    mark, reading, reason = min(bounds, key=lambda one: onto_mark_stops(one[0], one[1]))
    offset = onto_mark_stops(mark, reading)
    return Placing(ExposureMethod.FAR_RIGHT, offset, -offset, True, reason, reading, mark)


def stops_at(profile: Profile, percent: float) -> float:
    """Stops from grey that record at a percent, or the headroom where the clip is lower."""
    if percent >= profile.clip_percent:
        return headroom_stops(profile)
    return log2(decode(profile.curve, percent / 100) / profile.grey_linear)
