"""A stand-in for a weather service: invented, plausible weather, the same each time it is asked.

Cloud comes and goes over days and hours, rain needs cloud, the air follows latitude, season, hour
and height, and its dew point follows the air of the day. Nothing of it is a forecast.
"""

import random
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from math import cos, erf, exp, pi, sqrt

from fotonomy.core.weather.air import humidity_percent
from fotonomy.core.weather.report import Report, Source, hours_from

EVERY_H = 3
# Half a degree shares its weather.
_CELL_DEG = 0.5
# Periods in hours of what makes the weather of an hour, and how much each counts.
_OCTAVES = ((60.0, 0.75), (18.0, 0.5), (6.0, 0.25))
_LAPSE_C_A_M = 0.0065


@dataclass(frozen=True, slots=True)
class SimulatedWeather:
    """The service. ``seed`` makes another world of weather."""

    seed: int = 0
    name: str = "simulated"

    def forecast(
        self, latitude_deg: float, longitude_deg: float, height_m: float, starts: datetime,
        hours: int, made_at: datetime,
    ) -> tuple[Report, ...]:  # fmt: skip
        """Reports every three hours."""
        sky = _Air(self.seed, latitude_deg, longitude_deg, height_m)
        return tuple(
            sky.report(when, made_at) for when in hours_from(starts, hours, EVERY_H)
        )  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Air:
    seed: int
    latitude_deg: float
    longitude_deg: float
    height_m: float

    def report(self, when: datetime, made_at: datetime) -> Report:
        cloud = self._cloud(when)
        oktas = float(round(8 * cloud))
        air = self._temperature_c(when, cloud)
        dew = min(air, self._dew_c(when, cloud))
        wind = 4.0 * exp(0.55 * self._swings("wind", when)) * (1 + 0.25 * self._sun(when))
        return Report(
            at=when, source=Source.SIMULATED, kept_at=made_at, oktas=oktas,
            rain_percent=5.0 * round(20 * self._rain(when, cloud)),
            temperature_c=round(min(60.0, max(-60.0, air)), 1),
            humidity_percent=round(max(5.0, float(humidity_percent(air, dew)))),
            wind_m_s=round(min(wind, 40.0), 1), gust_m_s=round(min(1.5 * wind, 60.0), 1),
        )  # fmt: skip

    def _cloud(self, when: datetime) -> float:
        """Share of the sky: clear or covered more often than half."""
        share = _share_of(self._swings("cloud", when))
        return 0.5 - 0.5 * cos(pi * min(1.0, max(0.0, (share - 0.08) / 0.84)))

    def _rain(self, when: datetime, cloud: float) -> float:
        return 0.95 * max(0.0, 2 * cloud - 1) * _share_of(self._swings("rain", when))

    def _sun(self, when: datetime) -> float:
        """1 in mid afternoon, −1 before dawn, by the sun's own clock."""
        clock = when.hour + when.minute / 60 + self.longitude_deg / 15
        return cos(2 * pi * (clock - 15) / 24)

    def _day_c(self, when: datetime) -> float:
        """The mean of the day: latitude, season, height, and what blows in."""
        lat = self.latitude_deg
        season = cos(2 * pi * (when.timetuple().tm_yday - 200) / 365.25)
        mean = 27 - 0.0068 * lat * lat + (0.15 * lat) * season
        return mean - _LAPSE_C_A_M * self.height_m + 3 * self._swings("air", when)

    def _temperature_c(self, when: datetime, cloud: float) -> float:
        return self._day_c(when) + 4.5 * (1 - 0.6 * cloud) * self._sun(when)

    def _dew_c(self, when: datetime, cloud: float) -> float:
        return self._day_c(when) - 2 - 5 * (1 - cloud) + 1.5 * self._swings("wet", when)

    def _swings(self, what: str, when: datetime) -> float:
        """About a normal spread around 0, smooth over hours."""
        hours = (when - datetime(2000, 1, 1, tzinfo=UTC)) / timedelta(hours=1)
        total = 0.0
        for period, weight in _OCTAVES:
            knot, share = divmod(hours / period, 1)
            soft = 0.5 - 0.5 * cos(pi * share)
            first, second = (self._knot(what, period, int(knot) + k) for k in (0, 1))
            total += weight * (first * (1 - soft) + second * soft)
        return total / sqrt(sum(weight * weight for _, weight in _OCTAVES))

    def _knot(self, what: str, period: float, at: int) -> float:
        cell = (round(self.latitude_deg / _CELL_DEG), round(self.longitude_deg / _CELL_DEG))
        return random.Random(f"{self.seed} {cell} {what} {period} {at}").gauss(0, 1)


def _share_of(swing: float) -> float:
    """The share of a normal spread that lies under a value, 0 to 1."""
    return 0.5 * (1 + erf(swing / sqrt(2)))
