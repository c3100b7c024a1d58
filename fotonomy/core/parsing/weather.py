"""The weather as people type it: 5/8, 60 %, overcast, 12 km/h, 41 F."""

import re
from collections.abc import Callable

from fotonomy.core.errors import RuleError
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.reading import parse_quantity
from fotonomy.core.ranges import range_of
from fotonomy.core.units import SPEED_UNITS
from fotonomy.core.weather.report import Report

# Eighths by the words of forecasts; a range counts by its middle (WMO FM 15, from memory).
_CLOUD_WORDS = {
    "clear": 0.0, "few": 1.5, "scattered": 3.5, "partly": 3.5, "broken": 6.0, "mostly": 6.0,
    "overcast": 8.0, "covered": 8.0,
}  # fmt: skip
_FAHRENHEIT = re.compile(r"([-+−]?[\d.,]+)\s*°?\s*f", re.IGNORECASE)


def parse_cloud(text: str) -> float:
    """Eighths of the sky from "5", "5/8", "60 %" or a word such as "broken"."""
    rule = "eighths of the sky from 0 to 8, such as 5 or 5/8, or 60 %, or overcast"
    said = text.strip().lower()
    if said in _CLOUD_WORDS:
        return _CLOUD_WORDS[said]
    units = {"": 1.0, "/8": 1.0, "/ 8": 1.0, "okta": 1.0, "oktas": 1.0, "%": 0.08}
    return parse_quantity("oktas", said, units, range_of(Report, "oktas"), rule)


def parse_rain(text: str) -> float:
    """The chance of rain in percent."""
    return _percent("rain_percent", text, "a chance from 0 to 100 %")


def parse_humidity(text: str) -> float:
    """Relative humidity in percent."""
    return _percent("humidity_percent", text, "a humidity from 1 to 100 %")


def parse_air(text: str) -> float:
    """Degrees Celsius from "8", "8 °C", "46 F"."""
    low, high = range_of(Report, "temperature_c")
    rule = f"a temperature from {low:g} to {high:g} °C, such as 8 or 46 F"
    said = text.strip()
    fahrenheit = _FAHRENHEIT.fullmatch(said)
    if fahrenheit is None:
        units = {"": 1.0, "c": 1.0, "°c": 1.0, "°": 1.0}
        return parse_quantity("temperature_c", said, units, (low, high), rule)
    degrees = parse_quantity("temperature_c", fahrenheit[1], {"": 1.0}, (-1e3, 1e3), rule)
    celsius = round((degrees - 32) * 5 / 9, 1)
    if not low <= celsius <= high:
        raise RuleError("temperature_c", rule, text)
    return celsius


def parse_wind(text: str) -> float:
    """Metres a second from "6", "20 km/h", "12 mph", "10 kn"."""
    return _speed("wind_m_s", text)


def parse_gust(text: str) -> float:
    """Metres a second, likewise."""
    return _speed("gust_m_s", text)


def _percent(name: str, text: str, rule: str) -> float:
    return parse_quantity(name, text, {"": 1.0, "%": 1.0}, range_of(Report, name), rule)


def _speed(name: str, text: str) -> float:
    rule = "a wind speed such as 6 m/s, 20 km/h, 12 mph or 10 kn"
    return round(parse_quantity(name, text, SPEED_UNITS, range_of(Report, name), rule), 2)


# How each value of an hour is read, by its name.
READ: dict[str, Callable[[str], float]] = {
    "oktas": parse_cloud, "rain_percent": parse_rain, "temperature_c": parse_air,
    "humidity_percent": parse_humidity, "wind_m_s": parse_wind, "gust_m_s": parse_gust,
}  # fmt: skip


def format_value(value: float | None) -> str:
    """A value as a field shows it; nothing where nobody knows it."""
    return "" if value is None else n.format_number(value, 1).replace("−", "-")
