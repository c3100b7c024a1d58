"""The weather of a place over some hours: what was typed, read from a report, or simulated."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from functools import cached_property
from typing import Annotated, Any, Protocol

import numpy as np

from fotonomy.core.errors import RuleError
from fotonomy.core.ranges import Sized, Within, check_bounds
from fotonomy.core.sky.track import Samples, Sky, Stretch
from fotonomy.core.weather.air import dew_point_c


class Source(StrEnum):
    """Where an hour's weather comes from; a page that shows it says so."""

    SIMULATED = "simulated"
    TYPED = "typed"
    IMPORTED = "imported"


VALUES = (
    "oktas", "rain_percent", "temperature_c", "humidity_percent", "wind_m_s", "gust_m_s",
)  # fmt: skip
# A value speaks for so much time before and after its hour: common practice, no source.
REACH_H = 3.0
MOST_HOURS = 96
# The weather of a setup's minutes is looked at in steps of so many seconds.
_STEP_S = 300.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Report:
    """The weather at a moment, each value None where nobody said it.

    ``oktas`` are eighths of the sky under cloud, ``rain_percent`` the chance of rain within the
    hour. ``kept_at`` is when it was typed, imported or simulated; ``said_by`` names a station.
    Raises RuleError naming the field.
    """

    at: datetime
    source: Source
    kept_at: datetime
    oktas: Annotated[float | None, Within(0, 8, "eighths")] = None
    rain_percent: Annotated[float | None, Within(0, 100, "%")] = None
    temperature_c: Annotated[float | None, Within(-60, 60, "°C")] = None
    humidity_percent: Annotated[float | None, Within(1, 100, "%")] = None
    wind_m_s: Annotated[float | None, Within(0, 100, "m/s")] = None
    gust_m_s: Annotated[float | None, Within(0, 120, "m/s")] = None
    said_by: Annotated[str, Sized(0, 40)] = ""

    def __post_init__(self) -> None:
        if self.at.tzinfo is None or self.kept_at.tzinfo is None:
            raise RuleError("at", "a moment with its zone", self.at)
        object.__setattr__(self, "at", self.at.astimezone(UTC))
        object.__setattr__(self, "kept_at", self.kept_at.astimezone(UTC))
        check_bounds(self)

    @property
    def empty(self) -> bool:
        """True where it says nothing."""
        return all(getattr(self, name) is None for name in VALUES)


@dataclass(frozen=True, slots=True, kw_only=True)
class Spell:
    """The weather while something is done: the worst of each value, None where it is not known.

    ``oktas`` is the mean; ``dew_spread_c`` the least distance of the air from its dew point.
    """

    oktas: float | None
    most_oktas: float | None
    rain_percent: float | None
    lowest_c: float | None
    dew_spread_c: float | None
    wind_m_s: float | None
    gust_m_s: float | None
    source: Source


@dataclass(frozen=True, eq=False)
class Weather:
    """Reports of one place in the order of time.

    Between two reports values go in a straight line; a value is known up to three hours from the
    report that says it. Raises RuleError where two are of one moment.
    """

    reports: tuple[Report, ...]

    def __post_init__(self) -> None:
        if len(self.reports) > MOST_HOURS:
            raise RuleError("hours", f"takes at most {MOST_HOURS} hours", len(self.reports))
        moments = [one.at for one in self.reports]
        if moments != sorted(set(moments)):
            raise RuleError("at", "has to come later than the one before", None)

    @cached_property
    def _known(self) -> dict[str, tuple[Samples, Samples]]:
        """Seconds and values of each value, where somebody said it."""
        found = {}
        for name in VALUES:
            pairs = [
                (one.at.timestamp(), value) for one in self.reports
                if (value := getattr(one, name)) is not None
            ]  # fmt: skip
            found[name] = (np.array([p[0] for p in pairs]), np.array([p[1] for p in pairs]))
        return found

    def values(self, name: str, seconds: Any) -> Samples:
        """A value at moments given as POSIX seconds; NaN where it is not known."""
        times, values = self._known[name]
        at = np.asarray(seconds, dtype=float)
        if not len(times):
            return np.full(at.shape, np.nan)
        near = np.abs(at[..., None] - times).min(axis=-1)
        return np.where(near <= REACH_H * 3600, np.interp(at, times, values), np.nan)

    def over(self, sky: Sky, name: str = "oktas") -> Samples:
        """A value at every sample of a sky; NaN where it is not known."""
        first = sky.starts.timestamp()
        return self.values(name, first + np.arange(sky.count) * sky.step_s)

    @cached_property
    def _grid(self) -> tuple[float, dict[str, Samples]]:
        """POSIX seconds of the first sample, and every value from then on in equal steps."""
        first = self.reports[0].at.timestamp() - REACH_H * 3600
        last = self.reports[-1].at.timestamp() + REACH_H * 3600
        seconds = first + _STEP_S * np.arange(int((last - first) // _STEP_S) + 1)
        found = {name: self.values(name, seconds) for name in VALUES}
        air = found["temperature_c"]
        found["dew_spread_c"] = air - dew_point_c(air, found["humidity_percent"])
        return first, found

    def spell(self, stretch: Stretch) -> Spell | None:
        """The weather of a stretch of time; None where nothing of it is known."""
        if not self.reports:
            return None
        first, grid = self._grid
        begins, ends = (
            (when.timestamp() - first) / _STEP_S for when in (stretch.starts, stretch.ends)
        )
        part = slice(max(0, int(begins)), max(0, int(ends) + 1))
        found = {name: known[part] for name, known in grid.items()}
        found = {name: values[~np.isnan(values)] for name, values in found.items()}
        if not any(len(values) for values in found.values()):
            return None

        def of(name: str, how: Callable[[Samples], Any]) -> float | None:
            return float(how(found[name])) if len(found[name]) else None

        return Spell(
            oktas=of("oktas", np.mean), most_oktas=of("oktas", np.max),
            rain_percent=of("rain_percent", np.max), lowest_c=of("temperature_c", np.min),
            dew_spread_c=of("dew_spread_c", np.min), wind_m_s=of("wind_m_s", np.max),
            gust_m_s=of("gust_m_s", np.max), source=self.nearest(stretch.starts).source,
        )  # fmt: skip

    def nearest(self, when: datetime) -> Report:
        """The report nearest to a moment. LookupError where there is none."""
        if not self.reports:
            raise LookupError("no reports")
        return min(self.reports, key=lambda one: abs((one.at - when).total_seconds()))

    def with_reports(self, new: Iterable[Report]) -> "Weather":
        """With these in place of what there is of their moments; empty ones go."""
        by_moment = {one.at: one for one in (*self.reports, *new)}
        left = (one for one in by_moment.values() if not one.empty)
        return Weather(tuple(sorted(left, key=lambda one: one.at)))

    def between(self, starts: datetime, ends: datetime) -> "Weather":
        """The reports of a stretch of time alone."""
        return Weather(tuple(one for one in self.reports if starts <= one.at <= ends))


NO_WEATHER = Weather(())


class Provider(Protocol):
    """A service of forecasts.

    ``forecast`` gives reports every so many hours from a moment on, for degrees north and east
    and metres over the sea; ``made_at`` is the moment it is asked.
    """

    name: str

    def forecast(
        self, latitude_deg: float, longitude_deg: float, height_m: float, starts: datetime,
        hours: int, made_at: datetime,
    ) -> tuple[Report, ...]: ...  # fmt: skip


def hours_from(starts: datetime, hours: int, every: int) -> list[datetime]:
    """Moments every so many hours, both ends included, in UTC."""
    first = starts.astimezone(UTC)
    return [first + timedelta(hours=at) for at in range(0, hours + 1, every)]
