"""Weather as data, as a forecast in CSV, and as a report in WMO FM 15 (METAR).

A CSV has a row an hour and names its units in its heading; what it does not say stays open.
"""

import csv
import re
import warnings
from dataclasses import dataclass, fields
from datetime import UTC, datetime, timedelta, tzinfo
from io import StringIO
from typing import Any

from fotonomy.core.errors import RuleError
from fotonomy.core.notation.decimals import decimal
from fotonomy.core.units import SPEED_UNITS
from fotonomy.core.weather.air import humidity_percent
from fotonomy.core.weather.report import VALUES, Report, Source
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.schemas import LARGEST_FILE_BYTES

MOST_ROWS = 2000
LONGEST_REPORT = 500
CSV_HEADING = (
    "time", "cloud oktas", "rain %", "temperature C", "humidity %", "wind m/s", "gust m/s",
)  # fmt: skip
# Eighths of the sky by the words of a report; a range counts by its middle.
_OKTAS = {
    "SKC": 0.0, "CLR": 0.0, "NSC": 0.0, "NCD": 0.0, "FEW": 1.5, "SCT": 3.5, "BKN": 6.0,
    "OVC": 8.0, "VV": 8.0,
}  # fmt: skip
_WET = ("RA", "DZ", "SN", "SG", "PL", "GR", "GS", "UP")
# A report is of the past hours; clocks may differ by so much.
_AHEAD = timedelta(hours=1)


def report_to_data(report: Report) -> dict[str, Any]:
    """A report as JSON data: what is not known is left out."""
    data = {
        "at": report.at.isoformat(), "source": report.source.value,
        "kept_at": report.kept_at.isoformat(), "said_by": report.said_by,
        **{name: getattr(report, name) for name in VALUES},
    }  # fmt: skip
    return {key: value for key, value in data.items() if value not in (None, "")}


def report_from_data(data: Any, at: str = "weather") -> Report:
    """The inverse; ExchangeError with the place of the fault."""
    if not isinstance(data, dict):
        raise ExchangeError(at, "is no object")
    known = {field.name for field in fields(Report)}
    unknown = next((key for key in data if key not in known), None)
    if unknown is not None:
        raise ExchangeError(f"{at}.{unknown}", "is not known here")
    given = dict(data)
    for name in ("at", "kept_at"):
        given[name] = _moment(given.get(name), f"{at}.{name}")
    try:
        given["source"] = Source(str(given.get("source")))
    except ValueError:
        raise ExchangeError(f"{at}.source", "is simulated, typed or imported") from None
    for name in VALUES:
        value = given.get(name)
        if value is not None and (isinstance(value, bool) or not isinstance(value, int | float)):
            raise ExchangeError(f"{at}.{name}", "is no number")
    if not isinstance(given.get("said_by", ""), str):
        raise ExchangeError(f"{at}.said_by", "is no text")
    try:
        return Report(**given)
    except RuleError as error:
        raise ExchangeError(f"{at}.{error.field}", error.rule) from error


def _moment(given: Any, at: str) -> datetime:
    try:
        moment = datetime.fromisoformat(given)
    except (TypeError, ValueError):
        moment = None
    if moment is None or moment.tzinfo is None:
        raise ExchangeError(at, "is no moment with its zone, such as 2027-06-05T09:30:00+10:00")
    return moment


def to_csv(reports: tuple[Report, ...], zone: tzinfo) -> str:
    """Reports as CSV on the clock of a place, with the offset in each row."""
    out = StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(CSV_HEADING)
    for one in reports:
        values = (getattr(one, name) for name in VALUES)
        writer.writerow([
            one.at.astimezone(zone).isoformat(timespec="minutes"),
            *("" if value is None else f"{value:g}" for value in values),
        ])  # fmt: skip
    return out.getvalue()


@dataclass(frozen=True, slots=True)
class _Column:
    """What a column of a forecast holds: the value, and its number turned into our unit."""

    value: str
    factor: float = 1.0
    offset: float = 0.0


def from_csv(raw: bytes, zone: tzinfo, kept_at: datetime) -> tuple[Report, ...]:
    """A forecast in CSV; times without an offset are on the clock of the place.

    Columns are found by their headings: time, cloud (oktas or %), rain (%), temperature or dew
    point (C or F), humidity (%), wind and gust (m/s, km/h, mph, knots). Raises ExchangeError.
    """
    if len(raw) > LARGEST_FILE_BYTES:
        raise ExchangeError("the file", f"is larger than {LARGEST_FILE_BYTES // 1024} kB")
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise ExchangeError("the file", "is no text in UTF-8") from None
    first = text.partition("\n")[0]
    mark = max(",;\t", key=first.count)
    try:
        rows = list(csv.reader(StringIO(text), delimiter=mark, strict=True))
    except csv.Error as error:
        raise ExchangeError("the file", f"is no CSV: {error}") from error
    rows = [row for row in rows if any(cell.strip() for cell in row)]
    if len(rows) < 2:
        raise ExchangeError("the file", "has no heading with rows under it")
    if len(rows) > MOST_ROWS:
        raise ExchangeError("the file", f"has more than {MOST_ROWS} rows")
    heading = [_column(cell) for cell in rows[0]]
    if not any(one is not None and one.value == "time" for one in heading):
        raise ExchangeError("heading", "names no column time")
    if all(one is None or one.value == "time" for one in heading):
        raise ExchangeError(
            "heading", "names no cloud, rain, temperature, dew point, humidity, wind or gust"
        )
    return tuple(
        _row(heading, row, at, zone, kept_at) for at, row in enumerate(rows[1:], 2)
    )  # fmt: skip


_HEADINGS = (
    (r"time|date|hour|valid", "time"), (r"gust", "gust_m_s"), (r"wind", "wind_m_s"),
    (r"dew", "dew_c"), (r"humid|\brh\b", "humidity_percent"),
    (r"rain|precip|pop", "rain_percent"), (r"cloud|okta", "oktas"), (r"temp|air", "temperature_c"),
)  # fmt: skip
_WIND_UNITS = {**SPEED_UNITS, "kts": SPEED_UNITS["kt"], "knots": SPEED_UNITS["kt"]}
_FIVE_NINTHS = 5 / 9


def _column(heading: str) -> _Column | None:
    """What a heading names, None where it is none of ours; directions of wind are passed over."""
    said = heading.strip().lower()
    if re.search(r"direction|bearing|amount|\bmm\b|degree.?s? ?from", said):
        return None
    value = next((value for words, value in _HEADINGS if re.search(words, said)), None)
    if value is None:
        return None
    words = re.findall(r"[a-z%°/]+", said)
    if value in ("wind_m_s", "gust_m_s"):
        return _Column(value, next((_WIND_UNITS[w] for w in words if w in _WIND_UNITS), 1.0))
    if value in ("temperature_c", "dew_c") and words[-1] in ("f", "°f", "fahrenheit"):
        return _Column(value, _FIVE_NINTHS, -32 * _FIVE_NINTHS)
    if value == "oktas" and ("%" in words or "percent" in words):
        return _Column(value, 0.08)
    return _Column(value)


def _row(
    heading: list[_Column | None], row: list[str], line: int, zone: tzinfo, kept_at: datetime
) -> Report:
    found: dict[str, Any] = {}
    for column, cell in zip(heading, row, strict=False):
        text = cell.strip()
        if column is None or not text:
            continue
        at = f"line {line}, {column.value.partition('_')[0]}"
        if column.value == "time":
            found["at"] = _local(text, zone, at)
            continue
        try:
            number = decimal(text.rstrip("%"))
        except ValueError:
            raise ExchangeError(at, f"“{text[:20]}” is no number") from None
        found[column.value] = number * column.factor + column.offset
    if "at" not in found:
        raise ExchangeError(f"line {line}", "has no time")
    dew, air = found.pop("dew_c", None), found.get("temperature_c")
    if dew is not None and air is not None and "humidity_percent" not in found:
        found["humidity_percent"] = _wet(air, dew)
    try:
        return Report(source=Source.IMPORTED, kept_at=kept_at, **found)
    except RuleError as error:
        name = error.field.partition("_")[0]
        raise ExchangeError(f"line {line}, {name}", error.rule) from error


def _local(text: str, zone: tzinfo, at: str) -> datetime:
    try:
        moment = datetime.fromisoformat(text.replace("Z", "+00:00").replace("z", "+00:00"))
    except ValueError:
        raise ExchangeError(at, f"“{text[:30]}” is no time such as 2027-06-05 09:00") from None
    try:
        local = moment if moment.tzinfo is not None else moment.replace(tzinfo=zone)
        return local.astimezone(UTC)
    except OverflowError:
        raise ExchangeError(at, f"“{text[:30]}” lies outside the calendar") from None


def from_metar(text: str, starts: datetime, ends: datetime, now: datetime) -> Report:
    """A pasted report as the weather of its hour.

    A report names day and hour alone (in UTC): it is taken as of the day that lasts from
    ``starts`` to ``ends``. Raises ExchangeError where it is none, of another day, or of an hour
    that is yet to come.
    """
    said = " ".join(text.split()).rstrip("=")
    if not said:
        raise ExchangeError("report", "paste a report first")
    if len(said) > LONGEST_REPORT:
        raise ExchangeError("report", f"has more than {LONGEST_REPORT} characters")
    if re.match(r"(?i)taf\b", said):
        raise ExchangeError("report", "is a forecast (TAF); a report (METAR) is wanted")
    read = _read_metar(said, starts)
    at = _in_day(read, said, starts, ends)
    if at > now + _AHEAD:
        raise ExchangeError(
            "report", f"is of {at:%d %B %Y, %H:%M} UTC, which is yet to come: a report tells what "
            "was seen",
        )  # fmt: skip
    air = None if read.temp is None else float(read.temp.value("C"))
    dew = None if read.dewpt is None else float(read.dewpt.value("C"))
    cloud, wind = _cloud(read, said), _speed(read.wind_speed)
    if cloud is None and air is None and wind is None:
        raise ExchangeError("report", "says nothing of cloud, air or wind")
    try:
        return Report(
            at=at, source=Source.IMPORTED, kept_at=now, oktas=cloud, rain_percent=_falls(read),
            temperature_c=air, humidity_percent=_wet(air, dew), wind_m_s=wind,
            gust_m_s=_speed(read.wind_gust), said_by=str(read.station_id or ""),
        )  # fmt: skip
    except RuleError as error:
        raise ExchangeError("report", f"{error.field} {error.rule}") from error


def _read_metar(said: str, starts: datetime) -> Any:
    from metar.Metar import Metar, ParserError

    first = starts.astimezone(UTC)
    try:
        # Groups it does not know, such as remarks, are passed over; it would warn of each.
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", RuntimeWarning)
            return Metar(said, month=first.month, year=first.year, strict=False)
    # The library meets what no report holds with whatever comes to it.
    except (ParserError, ValueError, AttributeError, LookupError, TypeError) as error:
        raise ExchangeError("report", f"is no report in METAR: {str(error)[:120]}") from error


def _in_day(read: Any, said: str, starts: datetime, ends: datetime) -> datetime:
    """The moment of a report within the hours of a day."""
    found = re.search(r"\b(\d{2})(\d{2})(\d{2})Z\b", said.upper())
    if found is None or read.time is None:
        raise ExchangeError("report", "says no day and hour, such as 050900Z")
    day, hour, minute = (int(part) for part in found.groups())
    moment = starts.astimezone(UTC).replace(minute=0, second=0, microsecond=0)
    while moment <= ends:
        if moment.day == day and moment.hour == hour:
            return moment.replace(minute=minute)
        moment += timedelta(hours=1)
    raise ExchangeError(
        "report", f"is of day {day:02}, {hour:02}:{minute:02} UTC, and this day lasts from "
        f"{starts.astimezone(UTC):%d %B, %H:%M} to {ends.astimezone(UTC):%d %B, %H:%M} UTC",
    )  # fmt: skip


def _cloud(read: Any, said: str) -> float | None:
    """The layer that covers most."""
    known = [_OKTAS[layer[0]] for layer in read.sky if layer[0] in _OKTAS]
    if known:
        return max(known)
    return 0.0 if "CAVOK" in said.upper() else None


def _falls(read: Any) -> float:
    """100 where something falls now, else 0: a report tells no chance."""
    wet = any(part and any(word in part for word in _WET) for one in read.weather for part in one)
    return 100.0 if wet else 0.0


def _wet(air_c: float | None, dew_c: float | None) -> float | None:
    """Relative humidity in whole percent."""
    if air_c is None or dew_c is None:
        return None
    return float(max(1, round(float(humidity_percent(air_c, dew_c)))))


def _speed(given: Any) -> float | None:
    return None if given is None else round(float(given.value("MPS")), 1)
