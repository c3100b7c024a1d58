"""The day as one drawing: sky, heights of sun and moon, estimated light, a row for each place."""

from dataclasses import dataclass, field
from datetime import datetime, timedelta

import numpy as np

from fotonomy.core.parsing.schedule import compass_point
from fotonomy.core.sky.horizon import Horizon
from fotonomy.core.sky.light import NIGHT_EV, PlaceLight, sky_light
from fotonomy.core.sky.track import Sky, Stretch
from fotonomy.core.weather.report import Weather
from fotonomy.figures.svg import Drawing, Scale, Size, shortened

# Heights in px of the parts, on a desk; a phone's type is larger and so are its rows.
BAND, TICKS, HEIGHTS, LIGHT = 16.0, 22.0, 128.0, 112.0
LANE, LANE_GAP, WINDOW, PAD = 22.0, 4.0, 5.0, 15.0
LOWEST_SUN_DEG, LEAST_TOP_DEG = -18.0, 25.0
EV_LOW, EV_HIGH = NIGHT_EV, 16.0
SAMPLE_MIN = 4
# Under the rows, for the hour of now; and the most that each curve grows by.
FOOT, MOST_SPARE = 22.0, 190.0
# The strip of cloud and rain, and what stands under it.
CLOUD, CLOUD_WORDS = 20.0, 18.0


@dataclass(frozen=True, slots=True)
class BlockMark:
    """A setup on its row. ``sets_up`` is when preparing begins; ``bad`` marks a conflict.

    ``address`` selects it; ``said`` is what it is in words.
    """

    key: int
    code: str
    said: str
    address: str
    sets_up: datetime
    takes: Stretch
    bad: bool = False
    chosen: bool = False
    pinned: bool = False


@dataclass(frozen=True, slots=True)
class RowMark:
    """A place with its blocks and the windows of their light."""

    key: int
    name: str
    blocks: tuple[BlockMark, ...]
    windows: tuple[Stretch, ...]


@dataclass(frozen=True, slots=True)
class WayMark:
    """The way from one block to the next, elsewhere."""

    leaves: datetime
    arrives: datetime
    start: int
    end: int
    short: bool


@dataclass(frozen=True, slots=True, eq=False)
class HoursView:
    """What is drawn. ``light`` is that of the place in hand, ``now`` a moment on the day itself.

    ``midnight`` is the day's first moment, which the hours count from.
    """

    starts: datetime
    ends: datetime
    midnight: datetime
    hours: Stretch
    light: PlaceLight | None
    horizon: Horizon
    rows: tuple[RowMark, ...]
    ways: tuple[WayMark, ...] = ()
    now: datetime | None = None
    place: str = ""
    weather: Weather | None = None


@dataclass(slots=True)
class _Hand:
    """The drawing under way, and how moments become px."""

    view: HoursView
    drawing: Drawing
    left: float
    right: float
    x: Scale = field(init=False)

    def __post_init__(self) -> None:
        low, high = self.view.starts.timestamp(), self.view.ends.timestamp()
        self.x = Scale(low, high, self.left, self.right)

    def at(self, when: datetime) -> float:
        return self.x(when.timestamp())

    def inside(self, when: datetime) -> float:
        return min(max(self.at(when), self.left), self.right)


def hours(view: HoursView, size: Size) -> str:
    """The whole drawing; as tall as its rows need."""
    phone = size.text_px > 12
    left = 46.0 if phone else 112.0
    lanes = [_lanes(row.blocks) for row in view.rows]
    heights = [_row_height(found) + (size.line if phone else 0) for found in lanes]
    rows, sky, lit = sum(heights), HEIGHTS, LIGHT
    if view.light is None:
        sky = lit = 0.0
    elif size.height:
        # What the window has to spare goes to the two curves.
        spare = (size.height - BAND - TICKS - sky - lit - rows - FOOT) / 2
        if view.weather is not None:
            spare -= (CLOUD + CLOUD_WORDS) / 2
        sky, lit = (part + min(max(spare, 0.0), MOST_SPARE) for part in (sky, lit))
    strip = 0.0 if view.weather is None else CLOUD + CLOUD_WORDS
    top = BAND + TICKS + sky + lit + strip
    drawing = Drawing(
        size.width, top + rows + FOOT, "The hours of the day", _described(view), size.text_px,
        holds_links=True,
    )  # fmt: skip
    hand = _Hand(view, drawing, left, size.width - 8)
    _grid(hand, top + rows)
    if view.light is not None:
        _band(hand, view.light.sky)
        _sun_and_moon(hand, view.light.sky, BAND + TICKS, sky)
        _light(hand, view.light, BAND + TICKS + sky, lit)
    if view.weather is not None:
        _weather(hand, view.weather, BAND + TICKS + sky + lit)
    y = top
    middles = {}
    for row, found, height in zip(view.rows, lanes, heights, strict=True):
        _row(hand, row, found, y, height, phone)
        middles[row.key] = y + height / 2
        y += height
    for way in view.ways:
        _way(hand, way, middles)
    if view.now is not None and view.starts <= view.now <= view.ends:
        x = hand.at(view.now)
        drawing.line(x, BAND, x, y, "now-line")
        drawing.label(x, y + 15, f"now {_clock(view, view.now)}", "middle figures")
    return drawing.render()


def _clock(view: HoursView, when: datetime) -> str:
    return f"{when.astimezone(view.midnight.tzinfo):%H:%M}"


def _described(view: HoursView) -> str:
    named = [
        f"{block.code} {_clock(view, block.takes.starts)}"
        for row in view.rows for block in row.blocks
    ]  # fmt: skip
    return ", ".join(named) or "no setup has an hour yet"


def _grid(hand: _Hand, foot: float) -> None:
    view, drawing = hand.view, hand.drawing
    span_h = (view.ends - view.starts).total_seconds() / 3600
    room = (hand.right - hand.left) / span_h
    every = next(
        step for step in (1, 2, 3, 4, 6, 12) if step * room >= (62 if drawing.text_px > 12 else 48)
    )
    local = view.starts.astimezone(view.midnight.tzinfo).replace(minute=0, second=0, microsecond=0)
    for hour in range(50):
        when = local + timedelta(hours=hour)
        if when > view.ends.astimezone(view.midnight.tzinfo):
            break
        if when.hour % every or when < view.starts:
            continue
        x = hand.at(when)
        drawing.line(x, BAND, x, foot, "grid")
        drawing.offer_within(x, BAND + 15, f"{when:%H:%M}", "tick", 0, drawing.width)
    for edge in (view.hours.starts, view.hours.ends):
        if view.starts < edge < view.ends:
            drawing.line(hand.at(edge), BAND + TICKS, hand.at(edge), foot, "joint")


def _band(hand: _Hand, sky: Sky) -> None:
    """The light of the hours as colours, each stretch of one band a rectangle."""
    first, last = (round(sky.position(w)) for w in (hand.view.starts, hand.view.ends))
    first, last = max(first, 0), min(last, sky.count - 1)
    names = [sky_light(float(sky.sun.altitude_deg[k])) for k in range(first, last + 1)]
    at = 0
    while at < len(names):
        end = at
        while end + 1 < len(names) and names[end + 1] is names[at]:
            end += 1
        x1, x2 = hand.at(sky.moment(first + at)), hand.at(sky.moment(first + end + 1))
        x2 = min(x2, hand.right)
        hand.drawing.rect(x1, 0, x2 - x1, BAND, f"band-{names[at].name.lower()}")
        at = end + 1


def _picked(hand: _Hand, sky: Sky) -> np.ndarray:
    first, last = sky.position(hand.view.starts), sky.position(hand.view.ends)
    low, high = max(0, round(first)), min(sky.count - 1, round(last))
    return np.unique(np.append(np.arange(low, high, SAMPLE_MIN), high))


def _sun_and_moon(hand: _Hand, sky: Sky, top: float, height_px: float) -> None:
    drawing, at = hand.drawing, _picked(hand, sky)
    sun, moon = sky.sun.altitude_deg[at], sky.moon.altitude_deg[at]
    highest = max(LEAST_TOP_DEG, float(sun.max()), float(moon.max()))
    y = Scale(LOWEST_SUN_DEG, highest * 1.18, top + height_px - 4, top + 4)
    xs = [hand.at(sky.moment(int(k))) for k in at]
    land = hand.view.horizon.altitude(sky.sun.azimuth_deg[at])
    if not hand.view.horizon.level:
        shape = [(x, y(float(h))) for x, h in zip(xs, land, strict=True)]
        drawing.area([(xs[0], y(0)), *shape, (xs[-1], y(0))], "land")
    drawing.line(hand.left, y(0), hand.right, y(0), "level")
    _line(drawing, xs, [y(float(v)) for v in moon], moon >= LOWEST_SUN_DEG, "moon-line")
    _line(drawing, xs, [y(float(v)) for v in sun], sun >= LOWEST_SUN_DEG, "sun-line")
    drawing.label(hand.left - 6, y(0) + 4, "horizon" if hand.left > 80 else "0°", "label end")
    step = 20 if highest > 30 else 10
    for height in range(step, int(highest) + 1, step):
        drawing.offer(hand.left - 6, y(height) + 4, f"{height}°", "tick end")
    best = int(sun.argmax())
    if sun[best] > 0:
        azimuth = float(sky.sun.azimuth_deg[at[best]])
        words = f"sun, {round(float(sun[best]))}° high, {_direction(azimuth)}"
        _by_line(
            drawing, hand, (xs, [y(float(v)) for v in sun]), best, words, ("sun-word", (-7, 19))
        )
    best = int(moon.argmax())
    if moon[best] > 0:
        lit = round(100 * float(sky.lit_at(sky.moment(int(at[best])))))
        waxes = "waxing" if sky.waxing_at(sky.moment(int(at[best]))) else "waning"
        words = f"moon, {waxes}, {lit} % lit"
        if lit < 2 or lit > 98:
            words = f"{'new' if lit < 2 else 'full'} moon, {lit} % lit"
        ys = [y(float(v)) for v in moon]
        _by_line(drawing, hand, (xs, ys), best, words, ("moon-word", (19, -7)))


def _by_line(
    drawing: Drawing, hand: _Hand, line: tuple[list[float], list[float]], best: int, words: str,
    kind: tuple[str, tuple[int, int]],
) -> None:  # fmt: skip
    """A label at the top of a line; where the drawing cuts the line off, beside it inwards."""
    (xs, ys), (class_, shifts) = line, kind
    if 0 < best < len(xs) - 1:
        for shift in shifts:
            x, y = xs[best], ys[best] + shift
            if drawing.offer_within(x, y, words, class_, hand.left, hand.right):
                return
        return
    name = words.partition(",")[0]
    near = len(xs) // 12
    at = near if best == 0 else len(xs) - 1 - near
    side = "" if best == 0 else " end"
    drawing.offer(xs[at] + (6 if best == 0 else -6), ys[at] - 2, name, f"{class_}{side}")


def _direction(azimuth_deg: float) -> str:
    names = {"N": "north", "E": "east", "S": "south", "W": "west"}
    point = compass_point(azimuth_deg)
    return names.get(point, point)


def _line(
    drawing: Drawing, xs: list[float], ys: list[float], shown: np.ndarray, class_: str
) -> None:
    part: list[tuple[float, float]] = []
    for x, y, show in zip(xs, ys, shown, strict=True):
        if show:
            part.append((x, y))
        elif part:
            if len(part) > 1:
                drawing.path(part, class_)
            part = []
    if len(part) > 1:
        drawing.path(part, class_)


def _light(hand: _Hand, light: PlaceLight, top: float, height_px: float) -> None:
    """The estimate as a band from clear to overcast, and what was metered."""
    drawing, sky = hand.drawing, light.sky
    at, found = _picked(hand, sky), light.over()
    y = Scale(EV_LOW, EV_HIGH, top + height_px - 8, top + 12)
    xs = [hand.at(sky.moment(int(k))) for k in at]

    def ys(values: np.ndarray) -> list[float]:
        return [y(float(min(max(v, EV_LOW), EV_HIGH))) for v in values[at]]

    clear, overcast = ys(found.clear_ev100), ys(found.overcast_ev100)
    shape = [*zip(xs, clear, strict=True), *reversed(list(zip(xs, overcast, strict=True)))]
    drawing.area(shape, "light-band")
    drawing.path(list(zip(xs, ys(found.ev100), strict=True)), "light-curve")
    for ev in (12, 8, 4, 0):
        drawing.line(hand.left, y(ev), hand.right, y(ev), "faint")
        drawing.label(hand.left - 6, y(ev) + 4, f"{ev}", "tick end")
    drawing.offer(
        hand.left - 24 if hand.left < 80 else 4,
        y(12) - 10,
        "Light, EV" if hand.left > 80 else "EV",
        "row-name",
    )
    for reading in light.readings:
        if hand.view.starts <= reading.at <= hand.view.ends:
            x, height = hand.at(reading.at), y(reading.ev100)
            drawing.circle(x, height, 5, "reading-dot")
            words = f"you metered {reading.ev100:.1f} at {_clock(hand.view, reading.at)}"
            for shift in (20, 34, -10):
                if drawing.offer_within(
                    x + 40, height + shift, words, "label", hand.left, hand.right
                ):
                    break
    middle = len(xs) // 2
    drawing.offer_within(
        xs[middle], clear[middle] - 6, "clear to overcast", "sun-word", hand.left, hand.right
    )


def _weather(hand: _Hand, weather: Weather, top: float) -> None:
    """Cloud as a strip as high as it covers, the chance of rain as bars in it, degrees below."""
    drawing, view = hand.drawing, hand.view
    drawing.label(2, top + 13, "Cloud, rain" if hand.left > 80 else "Cloud", "row-name")
    first, last = view.starts.timestamp(), view.ends.timestamp()
    seconds = np.arange(first, last + 1, 1800.0)
    foot = top + CLOUD
    wide = hand.x(1800.0) - hand.x(0.0)
    cloud = weather.values("oktas", seconds)
    for at, oktas in zip(seconds, cloud, strict=True):
        if oktas > 0:
            high = CLOUD * float(oktas) / 8
            left = max(hand.x(float(at)) - wide / 2, hand.left)
            right = min(hand.x(float(at)) + wide / 2, hand.right)
            drawing.rect(left, foot - high, right - left, high, "cloud-bar")
    drawing.line(hand.left, foot, hand.right, foot, "faint")
    for one in weather.reports:
        if not view.starts <= one.at <= view.ends:
            continue
        x = hand.at(one.at)
        if one.rain_percent:
            high = CLOUD * one.rain_percent / 100
            drawing.rect(x - 2.5, foot - high, 5, high, "rain-bar")
        said = (
            [] if one.temperature_c is None else [f"{round(one.temperature_c)}°".replace("-", "−")]
        )
        if one.rain_percent is not None and one.rain_percent >= 20:
            said.append(f"{round(one.rain_percent)} %")
        if said:
            drawing.offer_within(x, foot + 14, " ".join(said), "tick", hand.left, drawing.width)


def _lanes(blocks: tuple[BlockMark, ...]) -> dict[int, int]:
    """The lane of each block: blocks that overlap lie one below the other."""
    ends: list[datetime] = []
    found = {}
    for block in sorted(blocks, key=lambda b: b.sets_up):
        free = (lane for lane, end in enumerate(ends) if block.sets_up >= end)
        lane = next(free, len(ends))
        if lane == len(ends):
            ends.append(block.sets_up)
        ends[lane] = block.takes.ends
        found[block.key] = lane
    return found


def _row_height(lanes: dict[int, int]) -> float:
    count = max(lanes.values(), default=0) + 1
    return PAD + count * (LANE + LANE_GAP) + WINDOW + 4


def _row(
    hand: _Hand, row: RowMark, lanes: dict[int, int], top: float, height: float, phone: bool
) -> None:
    drawing = hand.drawing
    drawing.rect(0, top, drawing.width, height, "day-row", f' data-place="{row.key}"')
    drawing.line(0, top, drawing.width, top, "grid")
    if phone:
        drawing.label(2, top + 15, row.name, "row-name")
        top += 18
    else:
        name = shortened(row.name, hand.left - 10, "row-name", drawing.text_px)
        drawing.label(2, top + PAD + 16, name, "row-name")
    lane_count = max(lanes.values(), default=0) + 1
    foot = top + PAD + lane_count * (LANE + LANE_GAP)
    for window in row.windows:
        x1, x2 = hand.inside(window.starts), hand.inside(window.ends)
        if x2 > x1:
            drawing.rect(x1, foot, x2 - x1, WINDOW, "light-window")
    for block in row.blocks:
        y = top + PAD + lanes[block.key] * (LANE + LANE_GAP)
        left, right = hand.inside(block.sets_up), hand.inside(block.takes.ends)
        drawing.keep_clear(left, y, max(right, left + 5), y + LANE)
    for block in row.blocks:
        _block(hand, block, top + PAD + lanes[block.key] * (LANE + LANE_GAP))


def _block(hand: _Hand, block: BlockMark, y: float) -> None:
    drawing, midnight = hand.drawing, hand.view.midnight
    x0, x1, x2 = (hand.inside(w) for w in (block.sets_up, block.takes.starts, block.takes.ends))
    wide = max(x2 - x1, 5.0)
    starts = round((block.takes.starts - midnight).total_seconds() / 60)
    kinds = ["block"] + [name for name in ("bad", "chosen", "pinned") if getattr(block, name)]
    more = (
        f' data-setup="{block.key}" data-starts="{starts}" '
        f'data-minutes="{round(block.takes.minutes)}"'
    )
    drawing.open_link(block.address, block.said, " ".join(kinds), more)
    if x1 > x0:
        drawing.rect(x0, y + LANE / 2 - 3, x1 - x0, 6, "sets-up")
    drawing.rect(x1, y, wide, LANE, "takes-bar")
    if drawing.wide(block.code, "in-bar") + 6 <= wide:
        drawing.label(x1 + wide / 2, y + LANE / 2 + 4.5, block.code, "in-bar on-block middle")
    else:
        drawing.first((
            (x1 + wide + 3, y + LANE / 2 + 4.5, block.code, "by-block"),
            (x1 - 3, y + LANE / 2 + 4.5, block.code, "by-block end"),
            (x1 + wide / 2, y - 3, block.code, "by-block middle"),
            (x1 + wide / 2, y + LANE + 11, block.code, "by-block middle"),
        ))  # fmt: skip
    drawing.close_link()


def _way(hand: _Hand, way: WayMark, middles: dict[int, float]) -> None:
    if way.start in middles and way.end in middles:
        x1, x2 = hand.inside(way.leaves), hand.inside(way.arrives)
        class_ = "way-line short" if way.short else "way-line"
        hand.drawing.line(x1, middles[way.start], x2, middles[way.end], class_)
