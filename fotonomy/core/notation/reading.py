"""Settings and scene light as people type them: 1/50, 180°, f/4, ISO 640, ND8, 12.3 EV.

Every ``parse_*`` takes text as typed (a comma counts as the decimal point, units may stand
along) and raises RuleError with what is allowed.
"""

import re
from math import isfinite

from fotonomy.core import constants as c
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.neutral_density import factor_to_density, stops_to_density
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.notation.decimals import decimal, with_point
from fotonomy.core.photometry.exposure_value import (
    Ev100,
    Luminance,
    Lux,
    Metered,
    SceneLight,
    ev100_of,
)
from fotonomy.core.photometry.named_light import NAMED_LIGHTS, named_light
from fotonomy.core.units import (
    LENGTH_UNITS,
    MM_UNITS,
    SECOND_UNITS,
    SPEED_UNITS,
    STOP_UNITS,
)

_NUMBER = r"[-+−]?(?:\d[\d \u00a0\u202f]*(?:[.,]\d+)?|[.,]\d+)"


# Longest text taken seriously; anything longer is a paste by mistake.
_LONGEST = 80


def whole_number(text: str, most: int = 2**63 - 1) -> int | None:
    """Plain digits as a whole number from 0 to ``most``, None for anything else.

    For ids, counts and places that a script or an address sends: never raises.
    """
    plain = text.strip()
    if not (plain.isascii() and plain.isdigit() and len(plain) <= len(str(most))):
        return None
    return value if (value := int(plain)) <= most else None


def _clean(field: str, text: str, rule: str) -> str:
    cleaned = " ".join(text.replace("\u00a0", " ").split()).strip()
    if not cleaned or len(cleaned) > _LONGEST:
        raise RuleError(field, rule, text)
    return cleaned


def _to_float(field: str, digits: str, rule: str) -> float:
    compact = with_point(re.sub(r"[ \u00a0\u202f]", "", digits).replace("−", "-"))
    try:
        value = float(compact)
    except ValueError:
        raise RuleError(field, rule, digits) from None
    if not isfinite(value):
        raise RuleError(field, rule, digits)
    return value


def _bounded(field: str, value: float, limits: tuple[float, float], rule: str, text: str) -> float:
    if not limits[0] <= value <= limits[1]:
        raise RuleError(field, rule, text)
    return value


def _match(pattern: str, text: str) -> re.Match[str] | None:
    return re.fullmatch(pattern, text, flags=re.IGNORECASE)


def parse_quantity(
    field: str, text: str, units: dict[str, float], limits: tuple[float, float], rule: str
) -> float:
    """A number with an optional unit; ``units`` maps each spelling to its factor.

    Stops may be fractions, as people count them: "1/3", "1 2/3 stops".
    """
    cleaned = _clean(field, text, rule)
    if units is STOP_UNITS and (stops := _fraction_of_stops(cleaned)) is not None:
        return _bounded(field, stops, limits, rule, text)
    found = _match(rf"({_NUMBER})\s*([^\d\s].*)?", cleaned)
    if not found:
        raise RuleError(field, rule, text)
    unit = (found[2] or "").strip().lower()
    if unit not in units:
        raise RuleError(field, rule, text)
    value = _to_float(field, found[1], rule) * units[unit]
    return _bounded(field, value, limits, rule, text)


def _fraction_of_stops(text: str) -> float | None:
    mixed = _match(r"([-+−]?)\s*(?:(\d+)\s+)?([1-5])/([2346])\s*(?:stops?|st|ev)?", text)
    if mixed is None:
        return None
    size = int(mixed[2] or 0) + int(mixed[3]) / int(mixed[4])
    return -size if mixed[1] in ("-", "−") else size


def parse_speed(text: str) -> float:
    """Metres a second from "6", "6 m/s", "20 km/h", "12 mph"."""
    return parse_quantity(
        "subject_speed_m_s", text, SPEED_UNITS, c.SPEED_RANGE_M_S,
        "a speed from 0 to 3000 m/s, such as 6 m/s, 20 km/h or 12 mph",
    )  # fmt: skip


def parse_distance(text: str) -> float:
    """Metres from "2.5", "2.5 m", "40 cm", "8 ft"."""
    return parse_quantity(
        "subject_distance_m", text, LENGTH_UNITS, c.DISTANCE_RANGE_M,
        "a distance from 1 cm to 100 km, such as 2.5 m or 40 cm",
    )  # fmt: skip


def parse_energy(text: str) -> float:
    """Watt hours as printed, "37 Wh", or from "10 000 mAh at 3.7 V": ``mAh·V/1000``."""
    rule = "watt hours such as 16.4, or as printed, 10000 mAh at 3.7 V"
    cleaned = _clean("energy_wh", text, rule)
    limits = (0.01, 1_000_000.0)
    found = _match(rf"({_NUMBER})\s*(m?)Ah\s*(?:at|@|,|x|·|/)?\s*({_NUMBER})\s*V", cleaned)
    if not found:
        return parse_quantity("energy_wh", text, {"": 1.0, "wh": 1.0}, limits, rule)
    charge_ah = _to_float("energy_wh", found[1], rule) / (1000 if found[2] else 1)
    energy = round(charge_ah * _to_float("energy_wh", found[3], rule), 4)
    return _bounded("energy_wh", energy, limits, rule, text)


def parse_screen_time(text: str) -> float:
    """Seconds on screen from "6", "6 s", "1.5 min"."""
    return parse_quantity(
        "wanted_screen_s", text, SECOND_UNITS, c.SCREEN_RANGE_S,
        "a length from one frame to 10 h, such as 6 s",
    )  # fmt: skip


def parse_handle(text: str) -> float:
    """Seconds of handle at each end."""
    return parse_quantity(
        "handle_s", text, SECOND_UNITS, c.HANDLE_RANGE_S, "0 s to 1 h, such as 1 s"
    )


def parse_key_stops(text: str) -> float:
    """Stops from grey, as "+1.4", "-2 stops", "1 1/3"."""
    rule = "stops from grey, from -15 to 15, such as +1.4 or -2"
    return parse_quantity("key_stops", text, STOP_UNITS, c.READING_RANGE_STOPS, rule)


def parse_focal(text: str) -> float:
    """Millimetres from "50" or "50 mm"."""
    return parse_quantity(
        "focal_mm", text, MM_UNITS, c.FOCAL_RANGE_MM, "a focal length from 1 to 3000 mm"
    )


def parse_frame_rate(text: str, plain_is_interval: bool = False) -> float:
    """Frames a second from "25", "25p", "23,976 fps", "1/15", "every 15 s".

    With ``plain_is_interval`` a bare number is seconds from frame to frame, and "25 s" and
    "2 min" are read too.
    """
    rule = "frames a second, such as 25 or 23.976; for intervals: every 15 s"
    cleaned = _clean("frame_rate", text, rule)
    every = _match(rf"(?:1\s+)?every\s+({_NUMBER})\s*(s|sec|min|h)?", cleaned)
    if plain_is_interval:
        every = every or _match(rf"({_NUMBER})\s*(s|sec|min|h)?", cleaned)
    fraction = _match(rf"({_NUMBER})\s*/\s*({_NUMBER})\s*(?:fps)?", cleaned)
    plain = _match(rf"({_NUMBER})\s*(?:fps|p|/s|hz)?", cleaned)
    if every:
        seconds = _to_float("frame_rate", every[1], rule) * SECOND_UNITS[(every[2] or "s").lower()]
        value = 1 / seconds if seconds > 0 else 0.0
    elif fraction:
        below = _to_float("frame_rate", fraction[2], rule)
        value = _to_float("frame_rate", fraction[1], rule) / below if below > 0 else 0.0
    elif plain:
        value = _to_float("frame_rate", plain[1], rule)
    else:
        raise RuleError("frame_rate", rule, text)
    return _bounded("frame_rate", value, c.RATE_RANGE_FPS, rule, text)


def parse_shutter(text: str, ask_bare: bool = False) -> Shutter:
    """A shutter from "1/50", "1/50 s", "0.02 s", "2 s", "180°", "180 deg".

    A bare number is asked back if ``ask_bare``: 180 could be degrees, a part of a second or
    seconds. Otherwise it is a time as on a camera's dial: 50 stands for 1/50 and 0.5 for half a
    second.
    """
    rule = "an angle such as 180°, or a time such as 1/50 or 2 s"
    cleaned = _clean("shutter", text, rule)
    angle = _match(rf"({_NUMBER})\s*(?:°|deg|degrees?)", cleaned)
    fraction = _match(rf"1\s*/\s*({_NUMBER})\s*(?:s|sec)?", cleaned)
    seconds = _match(rf"({_NUMBER})\s*(s|sec|ms|min|\"|″)", cleaned)
    plain = _match(rf"({_NUMBER})", cleaned)
    time_s: float
    if plain and ask_bare:
        number = plain[1]
        raise RuleError("shutter", f"{number}°, 1/{number} or {number} s: say which", text)
    if angle:
        degrees = _to_float("shutter", angle[1], rule)
        return Shutter(angle_deg=_bounded("shutter", degrees, (0.1, 360 * 3600), rule, text))
    if fraction:
        below = _to_float("shutter", fraction[1], rule)
        time_s = 1 / below if below > 0 else 0.0
    elif seconds:
        factor = SECOND_UNITS.get(seconds[2].lower(), 1.0)
        time_s = _to_float("shutter", seconds[1], rule) * factor
    elif plain:
        number = _to_float("shutter", plain[1], rule)
        time_s = number if number <= 1 else 1 / number
    else:
        raise RuleError("shutter", rule, text)
    return Shutter(time_s=_bounded("shutter", time_s, c.TIME_RANGE_S, rule, text))


def parse_iris(text: str) -> float:
    """An f-number from "4", "f/4", "F4", "T2,8"."""
    rule = "an f-number such as f/4 or 2.8"
    cleaned = _clean("iris", text, rule)
    found = _match(rf"(?:[ft]\s*/?\s*)?({_NUMBER})", cleaned)
    if not found:
        raise RuleError("iris", rule, text)
    return _bounded("iris", _to_float("iris", found[1], rule), c.F_NUMBER_RANGE, rule, text)


def parse_iso(text: str) -> int:
    """An ISO value from "640", "ISO 640", "12 800", "12.8k"."""
    rule = "an ISO value such as 640 or 12800"
    cleaned = _clean("iso", text, rule)
    found = _match(rf"(?:iso\s*)?({_NUMBER})\s*(k?)", cleaned)
    if not found:
        raise RuleError("iso", rule, text)
    value = _to_float("iso", found[1], rule) * (1000 if found[2] else 1)
    if abs(value - round(value)) > 1e-6:
        raise RuleError("iso", rule, text)
    return round(_bounded("iso", value, c.ISO_RANGE, rule, text))


def parse_density(text: str) -> float:
    """An optical density from "0.9", "ND 0.9", "ND8", "3 stops", "1/8", "none".

    A bare whole number other than 0 is refused: it could be a density, a factor or stops.
    """
    rule = "a density such as 0.9, a factor such as ND8, or 3 stops; none for no filter"
    cleaned = _clean("nd_density", text, rule)
    if cleaned.lower() in ("none", "no", "off", "clear", "nd none", "-"):
        return 0.0
    stops = _match(rf"(?:nd\s*)?({_NUMBER})\s*(?:stops?|st)", cleaned)
    factor = _match(r"nd\s*(\d+)x?|1\s*/\s*(\d+)", cleaned)
    density = _match(rf"(?:nd\s*)?({_NUMBER})", cleaned)
    if stops:
        value = round(stops_to_density(_to_float("nd_density", stops[1], rule)), 1)
    elif factor:
        value = factor_to_density(float(factor[1] or factor[2]))
    elif density and (
        re.search(r"[.,]", density[1]) or _to_float("nd_density", density[1], rule) == 0
    ):
        value = _to_float("nd_density", density[1], rule)
    else:
        raise RuleError("nd_density", rule, text)
    return _bounded("nd_density", value, c.DENSITY_RANGE, rule, text)


def _metered(text: str) -> tuple[str, str, str] | None:
    """F-number, time and ISO of a reading: "f/4 1/60 ISO 400", "1/1000 f8", which is at ISO 100."""
    whole = _match(
        rf"f\s*/?\s*({_NUMBER})[\s,;@]+(\S+?(?:\s*s)?)[\s,;@]+(?:iso\s*)?({_NUMBER})", text
    )
    if whole:
        return whole[1], whole[2], whole[3]
    turned = _match(
        rf"(1/{_NUMBER}|{_NUMBER}\s*s)[\s,;@]+f\s*/?\s*({_NUMBER})"
        rf"(?:[\s,;@]+iso\s*({_NUMBER}))?", text,
    )  # fmt: skip
    if turned:
        return turned[2], turned[1], turned[3] or "100"
    alone = _match(rf"f\s*/?\s*({_NUMBER})[\s,;@]+(1/{_NUMBER}|{_NUMBER}\s*s)", text)
    return (alone[1], alone[2], "100") if alone else None


def parse_light(text: str) -> SceneLight:
    """Scene light from "EV 12.3", "8000 lux", "320 cd/m2", "f/4 1/60 ISO 400", "overcast"."""
    rule = (
        "EV such as 12.3, or 8000 lux, or 320 cd/m², or a reading such as f/4 1/60 ISO 400, or a "
        f"name: {', '.join(light.name for light in NAMED_LIGHTS)}"
    )
    cleaned = _clean("light", text, rule)
    if (named := named_light(cleaned)) is not None:
        return Ev100(named.ev100)
    ev = _match(rf"(?:ev\s*)?({_NUMBER})\s*(?:ev)?", cleaned)
    lux = _match(rf"({_NUMBER})\s*(k?)\s*(?:lux|lx)", cleaned)
    luminance = _match(rf"({_NUMBER})\s*(?:cd/m2|cd/m²|cd/m\^2|nits?)", cleaned)
    metered = _metered(cleaned)
    light: SceneLight
    if ev:
        light = Ev100(_to_float("light", ev[1], rule))
    elif lux:
        light = Lux(_to_float("light", lux[1], rule) * (1000 if lux[2] else 1))
    elif luminance:
        light = Luminance(_to_float("light", luminance[1], rule))
    elif metered:
        try:
            shutter = parse_shutter(metered[1])
            f_number, iso = parse_iris(metered[0]), parse_iso(metered[2])
        except RuleError:
            raise RuleError("light", rule, text) from None
        if shutter.time_s is None:
            raise RuleError("light", rule, text)
        light = Metered(f_number, shutter.time_s, iso)
    else:
        raise RuleError("light", rule, text)
    ev100_of(light)
    return light


# 0:14, 1:02:10, 14 s, 3 min.
_LENGTH = re.compile(r"(?:(\d{1,2}):)?(\d{1,3}):(\d{2})|(\d+(?:[.,]\d+)?)\s*(s|min)?")


def read_length(text: str) -> float | None:
    """Seconds from "0:14", "1:02:10", "14", "3 min"; None where nothing was typed."""
    said = text.strip().lower()
    if not said:
        return None
    found = _LENGTH.fullmatch(said)
    if found is None or (found[3] is not None and int(found[3]) > 59):
        raise RuleError("length", "a length such as 0:14, 1:02:10 or 14 s", text)
    if found[4] is not None:
        return decimal(found[4]) * (60 if found[5] == "min" else 1)
    return 3600.0 * int(found[1] or 0) + 60.0 * int(found[2]) + int(found[3])
