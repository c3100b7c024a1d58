"""Runs, bursts and long exposures, read and written as people say them: 8 h 2 min, 120 an hour."""

import re

from fotonomy.core import constants as c
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.body import Body
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.decimals import decimal
from fotonomy.core.notation.reading import parse_quantity
from fotonomy.core.parsing.intent import NOTHING
from fotonomy.core.ranges import range_of
from fotonomy.core.spec.stills import EVENT_RANGE_S, MOST_LIGHT_POINTS, LightPoint, Run
from fotonomy.core.units import SECOND_UNITS

_UNITS_S = {"d": 86_400.0, "h": 3600.0, "min": 60.0, "m": 60.0, "s": 1.0, "": 1.0}
_WORDS = {
    "day": "d", "days": "d", "hour": "h", "hours": "h", "hr": "h", "minute": "min",
    "minutes": "min", "mins": "min", "sec": "s", "secs": "s", "second": "s", "seconds": "s",
}  # fmt: skip


def parse_span(field: str, text: str, limits: tuple[float, float], rule: str) -> float:
    """Seconds from "8 h 2 min", "90 min", "1:30" (h:mm), "1:30:15", "45" or "2 d"."""
    compact = " ".join(text.replace("\u00a0", " ").replace("−", "-").split()).lower()
    clock = re.fullmatch(r"(\d{1,6}):([0-5]?\d)(?::([0-5]?\d))?", compact)
    if clock:
        seconds = 3600.0 * int(clock[1]) + 60.0 * int(clock[2]) + int(clock[3] or 0)
    else:
        parts = re.findall(r"(\d+(?:[.,]\d+)?)\s*([a-z]*)", compact)
        again = re.sub(r"\s+", "", "".join(number + unit for number, unit in parts))
        if not parts or again != re.sub(r"\s+", "", compact) or len(compact) > 60:
            raise RuleError(field, rule, text)
        seconds = 0.0
        for number, unit in parts:
            factor = _UNITS_S.get(_WORDS.get(unit, unit))
            if factor is None or (unit == "" and len(parts) > 1):
                raise RuleError(field, rule, text)
            seconds += decimal(number) * factor
    if not limits[0] <= seconds <= limits[1]:
        raise RuleError(field, rule, text)
    return seconds


def format_span(seconds: float) -> str:
    """The inverse of parse_span, to the hundredth of a second: "8 h 2 min 15 s"."""
    days, rest = divmod(seconds, 86_400)
    hours, rest = divmod(rest, 3600)
    minutes, left = divmod(rest, 60)
    parts = [(days, "d"), (hours, "h"), (minutes, "min")]
    said = [f"{int(size)} {unit}" for size, unit in parts if size >= 1]
    if left >= 0.005 or not said:
        said.append(f"{n.format_number(left, 2)} s")
    return " ".join(said)


def parse_event(text: str) -> float:
    """How long the event lasts."""
    return parse_span(
        "event_s", text, EVENT_RANGE_S,
        "a length such as 8 h, 45 min or 1:30, at most a year; split what lasts longer",
    )  # fmt: skip


def parse_longest_bulb(text: str) -> float:
    """Where a body ends a bulb exposure of its own accord."""
    return parse_span(
        "longest_bulb_s", text, range_of(Body, "longest_bulb_s"),
        "a time from 1 s to a day, such as 1 h or 30 min",
    )  # fmt: skip


def parse_self_timer(text: str) -> float:
    """Seconds of self-timer; nothing for off."""
    if text.strip().lower() in NOTHING:
        return 0.0
    return parse_span("self_timer_s", text, (0.0, 60.0), "0 to 60 s, such as 2 s, or off")


def parse_start_after(text: str) -> float:
    """Seconds from the press to the first frame."""
    if text.strip().lower() in (*NOTHING, "at once", "now"):
        return 0.0
    return parse_span(
        "start_after_s", text, (0.0, 359_999.0), "up to 99 h, such as 5 s, 2 h or at once"
    )


def parse_declination(text: str) -> float | None:
    """Degrees from the sky's equator, south negative; None for no stars."""
    if text.strip().lower() in NOTHING:
        return None
    rule = "degrees from -90 to 90, 0 at the sky's equator, such as -30; none for no stars"
    compact = text.strip().upper()
    sign = -1.0 if compact.endswith("S") else 1.0
    plain = compact.rstrip("NS").strip()
    units = {"": 1.0, "°": 1.0}
    return sign * parse_quantity("declination_deg", plain, units, (-90.0, 90.0), rule)


def parse_star_px(text: str) -> float:
    """Longest trail of a star in delivered pixels."""
    return parse_quantity("star_px", text, {"": 1.0, "px": 1.0}, (0.1, 1000.0), "pixels such as 3")


def parse_temperature(text: str) -> float:
    """Degrees Celsius about the batteries."""
    units = {"": 1.0, "°": 1.0, "°c": 1.0, "c": 1.0}
    return parse_quantity("temperature_c", text, units, (-60.0, 60.0), "°C from -60 to 60")


def parse_burst(text: str) -> float:
    """Seconds one burst is held."""
    return parse_span("burst_s", text, (0.01, 3600.0), "a length such as 2 s, at most an hour")


def parse_bursts(text: str) -> float:
    """Bursts an hour."""
    units = {"": 1.0, "an hour": 1.0, "/h": 1.0, "per hour": 1.0, "a minute": 60.0}
    return parse_quantity("bursts_an_hour", text, units, (0.0, 3600.0), "such as 20 an hour")


def parse_moment(text: str) -> float:
    """Seconds the moment lasts; "1/20" and "50 ms" too."""
    rule = "how long the moment lasts, such as 0.1 s, 1/20 or 50 ms"
    return _short_time("moment_s", text, (0.0001, 60.0), rule)


def _short_time(field: str, text: str, limits: tuple[float, float], rule: str) -> float:
    """Seconds from "0.1 s", "1/20" or "50 ms"."""
    share = re.fullmatch(r"\s*1\s*/\s*(\d+(?:[.,]\d+)?)\s*(?:s|sec)?\s*", text)
    if share and decimal(share[1]) > 0:
        value = 1 / decimal(share[1])
        if not limits[0] <= value <= limits[1]:
            raise RuleError(field, rule, text)
        return value
    return parse_quantity(field, text, SECOND_UNITS, limits, rule)


def parse_frames(text: str) -> int:
    """Exposures combined into one picture."""
    rule = "from 1 to 100 exposures"
    units = {"": 1.0, "frames": 1.0, "exposures": 1.0}
    value = parse_quantity("frames", text, units, (1.0, 100.0), rule)
    if value != int(value):
        raise RuleError("frames", rule, text)
    return int(value)


def parse_passes(text: str) -> float | None:
    """Seconds between what passes, from "every 8 s" or "120 an hour"; None for nothing."""
    rule = "such as every 8 s or 120 an hour; none where nothing passes"
    compact = " ".join(text.split()).lower()
    if compact in NOTHING:
        return None
    if compact.startswith("every "):
        return parse_span("passes_s", compact[6:], (0.01, 86_400.0), rule)
    rates = {"an hour": 3600.0, "/h": 3600.0, "per hour": 3600.0, "a minute": 60.0, "/min": 60.0}
    for words, seconds in rates.items():
        if compact.endswith(words):
            count = parse_quantity(
                "passes_s", compact.removesuffix(words), {"": 1.0}, (0.001, 1e6), rule
            )
            if not 0.01 <= seconds / count <= 86_400:
                raise RuleError("passes_s", rule, text)
            return seconds / count
    return parse_span("passes_s", compact, (0.01, 86_400.0), rule)


def format_passes(passes_s: float | None) -> str:
    """The inverse of parse_passes."""
    return "none" if passes_s is None else f"every {format_span(passes_s)}"


def parse_wanted_time(text: str) -> float | None:
    """Seconds of an exposure that is asked for; None for none."""
    if text.strip().lower() in NOTHING:
        return None
    rule = "a time such as 15 s, 1/4 or 2 min; none where its kind decides"
    return _short_time("wanted_s", text, range_of(Run, "wanted_s"), rule)


def parse_trail(text: str) -> float | None:
    """Length of a trail wanted, in percent of the frame width; None for no wish."""
    if text.strip().lower() in NOTHING:
        return None
    rule = "percent of the frame width, such as 60 %; none for no wish"
    return parse_quantity("trail_percent", text, {"": 1.0, "%": 1.0}, (0.1, 1000.0), rule)


def parse_light_curve(text: str) -> tuple[LightPoint, ...]:
    """Points "0 EV 12, 40 min EV 9, 1:10 EV 4": after how long, and the light then.

    Points are parted by semicolons, lines, or commas with a space; empty or "steady" is none.
    Raises RuleError naming the point that is off.
    """
    rule = "after how long, and the light then: 0 min 12 EV; 40 min 9 EV; 1:10 4 EV"
    if text.strip().lower() in (*NOTHING, "steady"):
        return ()
    parts = [part.strip() for part in re.split(r"[;\n]|,\s+", text) if part.strip()]
    if len(parts) > MOST_LIGHT_POINTS:
        raise RuleError("light_curve", f"at most {MOST_LIGHT_POINTS} points", text)
    points = []
    for part in parts:
        found = re.fullmatch(
            r"(.+?)\s+(?:ev\s*)?([-+−]?\d+(?:[.,]\d+)?)\s*(?:ev)?", part, re.IGNORECASE
        )
        if not found:
            raise RuleError("light_curve", f"{rule}; not {part[:40]}", text)
        try:
            after = parse_span("light_curve", found[1], (0.0, EVENT_RANGE_S[1]), rule)
        except RuleError as error:
            raise RuleError("light_curve", f"{rule}; not {part[:40]}", text) from error
        ev = parse_quantity("light_curve", found[2], {"": 1.0}, c.EV_RANGE, rule)
        points.append(LightPoint(after, ev))
    points.sort(key=lambda point: point.after_s)
    return tuple(points)


def format_light_curve(points: tuple[LightPoint, ...]) -> str:
    """The inverse of parse_light_curve."""
    if not points:
        return "steady"
    return "; ".join(
        f"{format_span(point.after_s)} {n.format_number(point.ev100, 1).replace('−', '-')} EV"
        for point in points
    )
