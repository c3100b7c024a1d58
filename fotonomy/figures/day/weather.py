"""The weather of a day as three strips: cloud and rain, air and dew point, wind."""

from dataclasses import dataclass
from datetime import datetime, timedelta, tzinfo

import numpy as np

from fotonomy.core.day.advice import TRIPOD_M_S
from fotonomy.core.weather.air import dew_point_c
from fotonomy.core.weather.report import Weather
from fotonomy.figures.svg import Drawing, Scale, Size

LEFT, TICKS, STRIP, GAP = 46.0, 20.0, 92.0, 26.0
STEP_S = 900.0
# As wide as the names of the rows under it.
HEAD = 116.0


@dataclass(frozen=True, slots=True, eq=False)
class WeatherView:
    """What is drawn, on the clock of a zone.

    ``columns`` of equal width stand under it, the middle of the first at ``starts``, a step apart;
    none where nothing stands under it.
    """

    starts: datetime
    ends: datetime
    zone: tzinfo
    weather: Weather
    columns: int = 0
    step: timedelta = timedelta(hours=3)

    def across(self, width: float) -> Scale:
        """From seconds to pixels."""
        first, last = self.starts.timestamp(), self.ends.timestamp()
        if not self.columns:
            return Scale(first, last, LEFT, width - 8)
        column = (width - HEAD) / self.columns
        run = column * (last - first) / self.step.total_seconds()
        return Scale(first, last, HEAD + column / 2, HEAD + column / 2 + run)


@dataclass(slots=True)
class _Hand:
    drawing: Drawing
    x: Scale
    seconds: np.ndarray
    weather: Weather

    @property
    def left(self) -> float:
        """Where its hours begin."""
        return self.x(float(self.seconds[0]))

    @property
    def right(self) -> float:
        """Where its hours end."""
        return self.x(float(self.seconds[-1]))

    def parts(self, values: np.ndarray) -> list[np.ndarray]:
        """Indices of each unbroken piece of known values."""
        known = np.flatnonzero(~np.isnan(values))
        if not len(known):
            return []
        return np.split(known, np.flatnonzero(np.diff(known) > 1) + 1)

    def line(self, values: np.ndarray, y: Scale, class_: str) -> None:
        for part in self.parts(values):
            points = [(self.x(float(self.seconds[k])), y(float(values[k]))) for k in part]
            if len(points) > 1:
                self.drawing.path(points, class_)

    def filled(self, values: np.ndarray, y: Scale, class_: str) -> None:
        for part in self.parts(values):
            points = [(self.x(float(self.seconds[k])), y(float(values[k]))) for k in part]
            foot = y(0)
            self.drawing.area([(points[0][0], foot), *points, (points[-1][0], foot)], class_)


def weather(view: WeatherView, size: Size) -> str:
    """The whole drawing; hours across."""
    tall = TICKS + 3 * (STRIP + GAP)
    drawing = Drawing(
        size.width, tall, "The weather of the day", _described(view), size.text_px
    )  # fmt: skip
    first, last = view.starts.timestamp(), view.ends.timestamp()
    hand = _Hand(drawing, view.across(size.width), np.arange(first, last + 1, STEP_S), view.weather)
    _grid(hand, view, tall)
    _cloud(hand, TICKS + GAP)
    _air(hand, TICKS + STRIP + 2 * GAP)
    _wind(hand, TICKS + 2 * STRIP + 3 * GAP)
    return drawing.render()


def _described(view: WeatherView) -> str:
    words = []
    for one in view.weather.reports:
        if not view.starts <= one.at <= view.ends:
            continue
        said = [f"{one.at.astimezone(view.zone):%H:%M}"]
        if one.oktas is not None:
            said.append(f"{one.oktas:g} eighths of cloud")
        if one.temperature_c is not None:
            said.append(f"{one.temperature_c:g} °C")
        words.append(" ".join(said))
    return ", ".join(words) or "nothing is known yet"


def _grid(hand: _Hand, view: WeatherView, foot: float) -> None:
    drawing = hand.drawing
    when = view.starts.astimezone(view.zone).replace(minute=0, second=0, microsecond=0)
    room = hand.x(3600.0) - hand.x(0.0)
    every = 1 if room >= 50 and view.columns else 3 if 3 * room >= 50 else 6
    while when <= view.ends:
        if when.hour % every == 0 and when >= view.starts:
            x = hand.x(when.timestamp())
            drawing.line(x, TICKS, x, foot - 4, "faint")
            drawing.offer_within(x, 14, f"{when:%H:%M}", "tick", 0, drawing.width)
        when = (when.astimezone(view.ends.tzinfo) + timedelta(hours=1)).astimezone(view.zone)


def _scale(hand: _Hand, y: Scale, marks: tuple[float, ...], name: str, top: float) -> None:
    hand.drawing.label(0, top - 8, name, "row-name")
    for mark in marks:
        hand.drawing.line(hand.left, y(mark), hand.right, y(mark), "faint")
        hand.drawing.offer(hand.left - 6, y(mark) + 4, f"{mark:g}".replace("-", "−"), "tick end")


def _cloud(hand: _Hand, top: float) -> None:
    y = Scale(0, 8, top + STRIP, top + 4)
    _scale(hand, y, (0, 4, 8), "Cloud, eighths; bars: chance of rain, to 100 %", top)
    hand.filled(hand.weather.values("oktas", hand.seconds), y, "cloud-area")
    share = Scale(0, 100, top + STRIP, top + 4)
    for one in hand.weather.reports:
        at = one.at.timestamp()
        if one.rain_percent and hand.seconds[0] <= at <= hand.seconds[-1]:
            high = share(one.rain_percent)
            hand.drawing.rect(hand.x(at) - 3, high, 6, top + STRIP - high, "rain-bar")
            if one.rain_percent >= 20:
                hand.drawing.offer_within(
                    hand.x(at), high - 4, f"{one.rain_percent:g} %", "label middle", hand.left,
                    hand.drawing.width,
                )  # fmt: skip


def _air(hand: _Hand, top: float) -> None:
    air = hand.weather.values("temperature_c", hand.seconds)
    dew = np.asarray(dew_point_c(air, hand.weather.values("humidity_percent", hand.seconds)))
    known = np.concatenate([air[~np.isnan(air)], dew[~np.isnan(dew)]])
    low, high = (float(known.min()), float(known.max())) if len(known) else (0.0, 20.0)
    low, high = 5 * np.floor(low / 5), 5 * np.ceil(high / 5)
    high = max(high, low + 5)
    y = Scale(low, high, top + STRIP, top + 4)
    step = 5 if high - low <= 20 else 10
    _scale(hand, y, tuple(np.arange(low, high + 1, step)), "Air and dew point, °C", top)
    hand.line(air, y, "air-line")
    hand.line(dew, y, "dew-line")
    named = ((air, "air", "sun-word", -8), (dew, "dew point", "moon-word", 18))
    for values, name, class_, shift in named:
        parts = hand.parts(values)
        if parts:
            at = parts[-1][len(parts[-1]) // 2]
            x = hand.x(float(hand.seconds[at]))
            hand.drawing.offer_within(
                x, y(float(values[at])) + shift, name, class_, hand.left, hand.drawing.width
            )


def _wind(hand: _Hand, top: float) -> None:
    wind = hand.weather.values("wind_m_s", hand.seconds)
    gust = hand.weather.values("gust_m_s", hand.seconds)
    known = np.concatenate([wind[~np.isnan(wind)], gust[~np.isnan(gust)]])
    high = max(10.0, 5 * np.ceil(float(known.max()) / 5)) if len(known) else 10.0
    y = Scale(0, high, top + STRIP - 14, top + 4)
    marks = tuple(np.arange(0, high + 1, 5 if high <= 20 else 10))
    _scale(hand, y, marks, "Wind and gusts, m/s; dotted: a light tripod wants weight", top)
    hand.filled(wind, y, "wind-area")
    hand.line(gust, y, "gust-line")
    hand.drawing.line(hand.left, y(TRIPOD_M_S), hand.right, y(TRIPOD_M_S), "limit")
