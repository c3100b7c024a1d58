"""The Places page: the drawing to scale, and the pressed place beside it."""

from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise
from urllib.parse import urlencode

import numpy as np
from django.urls import reverse

from fotonomy.core.day.blocks import Block
from fotonomy.core.day.site_plan import field_width
from fotonomy.core.day.sun_on_subject import PERSON_M, Look, look_at
from fotonomy.core.notation import writing as n
from fotonomy.core.sky.track import Direction
from fotonomy.core.spec.setup import Site
from fotonomy.days.planning import PlannedDay
from fotonomy.figures.day.site_plan import (
    CameraMark,
    OutlineMark,
    SitePlan,
    SpotMark,
    WayLine,
    fit_of,
    site_plan,
)
from fotonomy.figures.svg import PHONE_PX, Size
from fotonomy.shoots.models import Place
from fotonomy.shoots.presenters.layout import Screen

ASIDE, EDGE = 316, 20
# What stands above the drawing and below it on a desk, in px.
ABOVE, BELOW = 152, 64
SHORTEST, TALLEST = 330.0, 760.0
# Nearer than this on the drawing, places cannot be told apart: it then shows what is near.
TOGETHER_PX, NEAR_M = 22.0, 2000.0
_WINDS = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")


@dataclass(frozen=True, slots=True)
class CameraLine:
    """A setup at the pressed place: when, what light it has then, and what its camera sees."""

    code: str
    words: str
    caution: str
    address: str
    bench: str
    chosen: bool


@dataclass(frozen=True, slots=True)
class PlacesView:
    """All of the page that the drawing and what is pressed on it tell.

    ``drawing`` is empty where no place has degrees. ``days`` are their words, addresses and
    whether they are shown; ``missing`` are places without degrees.
    """

    drawing: str
    caption: str
    place: Place | None
    where: str
    cameras: tuple[CameraLine, ...]
    others: tuple[tuple[str, str], ...]
    missing: tuple[Place, ...]
    days: tuple[tuple[str, str, bool], ...]
    closer: tuple[str, str]
    day: int


def places_view(
    planned: PlannedDay, screen: Screen, setup: int | None, place: int | None, near: str,
    aside: bool = True,
) -> PlacesView:  # fmt: skip
    """The places of a shoot on a day, with a setup or a place pressed; else the day's first."""
    pressed = _pressed(planned, setup, place)
    spot = planned.places.get(place or 0) or (
        planned.places[pressed.place] if pressed else planned.shoot.main_place
    )
    if pressed is not None and pressed.place != spot.pk:
        pressed = None
    when = _moment(pressed)
    look = _look(planned, pressed, when)
    size = _size(screen, aside)
    known = [one for one in planned.places.values() if one.site is not None]
    fitted, closer = _fitted(planned, known, spot, size, near)
    drawing = ""
    if known:
        plan = _plan(planned, known, fitted, spot, pressed, look)
        drawing = site_plan(plan, size)
    return PlacesView(
        drawing=drawing, caption=_caption(planned, pressed, when, look), place=spot,
        where=_where(spot),
        cameras=tuple(_line(planned, one, pressed) for one in _here(planned, spot.pk)),
        others=tuple(
            (str(one), _address(planned, place=one.pk))
            for one in planned.places.values() if one.pk != spot.pk
        ),
        missing=tuple(one for one in planned.places.values() if one.site is None),
        days=tuple(
            (f"{day.date:%a} {day.date.day} {day.date:%B}",
             f"{reverse('places', args=[planned.shoot.pk])}?day={day.pk}", day.pk == planned.day.pk)
            for day in planned.shoot.days_by_id.values()
        ),
        closer=closer, day=planned.day.pk,
    )  # fmt: skip


def _pressed(planned: PlannedDay, setup: int | None, place: int | None) -> Block | None:
    """The setup that is pressed; else the first of the place, or of the day."""
    able = [key for key in planned.rows if key not in planned.broken]
    if setup in able:
        return planned.block(setup)
    timed = [block for block in planned.plan.timed if place in (None, block.place)]
    return next(iter(timed), None)


def _moment(block: Block | None) -> datetime | None:
    if block is None or block.takes is None:
        return None
    return block.takes.starts


def _look(planned: PlannedDay, block: Block | None, when: datetime | None) -> Look | None:
    """The sun at a setup's hour; None where nobody said where or when."""
    if block is None or when is None:
        return None
    light = planned.light(block.place)
    if light is None or not light.sky.covers(when):
        return None
    land = planned.places[block.place].land
    return look_at(light.sky, land, when, block.looks_deg, block.field)


def _size(screen: Screen, aside: bool) -> Size:
    if screen.phone or screen.medium:
        width = screen.within()
        return Size(width, round(width * 0.95), PHONE_PX if screen.phone else 12)
    if not aside:
        return Size(screen.within(), screen.height)
    height = min(max(screen.height - ABOVE - BELOW, SHORTEST), TALLEST)
    return Size(screen.within(EDGE) - ASIDE, height)


def _fitted(
    planned: PlannedDay, known: list[Place], spot: Place, size: Size, near: str
) -> tuple[tuple[Site, ...], tuple[str, str]]:
    """The places the scale is for, and the way to the other scale: its words and its address."""
    every = tuple(_site(one) for one in known)
    if not known or spot.site is None or len(known) < 2:
        return every, ("", "")
    lies = fit_of(every, size)
    x, y = lies.px(_site(spot))
    off = {one.pk: lies.px(_site(one)) for one in known if one.pk != spot.pk}
    metres = {key: np.hypot(px - x, py - y) * lies.m_per_px for key, (px, py) in off.items()}
    close = [key for key, far in metres.items() if far <= NEAR_M]
    if len(close) == len(off):
        return every, ("", "")
    hidden = any(far < TOGETHER_PX * lies.m_per_px for far in metres.values())
    if near == "all" or (near != "here" and not hidden):
        return every, (f"Only near {spot}", _address(planned, place=spot.pk, near="here"))
    here = tuple(_site(one) for one in known if one.pk == spot.pk or one.pk in close)
    return here, ("All places", _address(planned, place=spot.pk, near="all"))


def _site(place: Place) -> Site:
    site = place.site
    assert site is not None
    return site


def _plan(
    planned: PlannedDay, known: list[Place], fitted: tuple[Site, ...], spot: Place,
    pressed: Block | None, look: Look | None,
) -> SitePlan:  # fmt: skip
    sun = look.sun if look is not None and look.sun.altitude_deg > 0 else None
    return SitePlan(
        spots=tuple(_spot(planned, one, spot, pressed, sun) for one in known), fitted=fitted,
        ways=tuple(_ways(planned)), outlines=tuple(_outlines(planned)),
        sun=(sun.azimuth_deg, sun.altitude_deg) if sun else None,
        shadow_m=look.shadow_m if look else None,
        described=(
            f"{len(known)} places to scale, north up; {spot} is pressed"
            + (f", {pressed.name}" if pressed else "")
        ),
    )  # fmt: skip


def _spot(
    planned: PlannedDay, place: Place, chosen: Place, pressed: Block | None, sun: Direction | None
) -> SpotMark:
    lit = sun is not None and float(place.land.over(sun.altitude_deg, sun.azimuth_deg)) >= 0
    cameras = []
    for block in _here(planned, place.pk):
        if block.looks_deg is not None and block.field is not None:
            code = planned.rows[block.key].code or block.name[:6]
            cameras.append(CameraMark(
                code, f"{block.name}: looks {round(block.looks_deg)}°, "
                f"{n.format_number(block.field.across_deg, 1)}° wide", block.looks_deg,
                block.field.across_deg, _address(planned, setup=block.key), block is pressed,
            ))  # fmt: skip
    return SpotMark(
        str(place), _site(place), _address(planned, place=place.pk), tuple(cameras),
        place.pk == chosen.pk, lit and not place.roofed,
    )  # fmt: skip


def _here(planned: PlannedDay, place: int) -> list[Block]:
    """The setups of a place on the day, by their hours, those without one last."""
    blocks = planned.plan.blocks
    here = [block for block in blocks if block.place == place]
    return sorted(
        here,
        key=lambda one: (one.takes is None, one.takes.starts if one.takes else planned.midnight),
    )


def _ways(planned: PlannedDay) -> list[WayLine]:
    """The ways people typed, and those the day goes from one setup to the next."""
    pairs = {frozenset((way.start_id, way.end_id)) for way in planned.shoot.ways.all()}
    pairs |= {
        frozenset((one.place, other.place)) for one, other in pairwise(planned.plan.timed)
        if one.place != other.place
    }  # fmt: skip
    found = []
    for start, end in sorted(tuple(sorted(pair)) for pair in pairs):
        one, other = planned.places[start].site, planned.places[end].site
        if one is not None and other is not None:
            minutes = n.format_number(planned.way_min(start, end), 0)
            found.append(WayLine(one, other, f"{minutes} min"))
    return found


def _outlines(planned: PlannedDay) -> list[OutlineMark]:
    found = []
    for row in planned.shoot.outlines.all():
        for shape in row.shapes:
            points = np.array(shape["points"], dtype=float)
            found.append(OutlineMark(shape["name"], shape["area"], points[:, 1], points[:, 0]))
    # Areas lie under lines.
    return sorted(found, key=lambda one: not one.area)


def _line(planned: PlannedDay, block: Block, pressed: Block | None) -> CameraLine:
    row, spec = planned.rows[block.key], planned.specs[block.key]
    when = _moment(block)
    look = _look(planned, block, when)
    parts = []
    if look is not None and look.up and look.angle is not None:
        parts.append(look.angle.light.value)
    elif look is not None and not look.up:
        parts.append("sun down or behind the land")
    if block.looks_deg is None:
        parts.append("nobody said where it looks")
    elif block.field is not None:
        across, far = block.field.across_deg, spec.subject_distance_m
        parts.append(f"looks {round(block.looks_deg)}°, {n.format_number(across, 1)}° wide")
        parts.append(
            f"subject at {n.format_length(far)}: "
            f"a field of {n.format_length(field_width(across, far))}"
        )
    return CameraLine(
        row.code or block.name[:6],
        f"{planned.plan.clock(when) if when else 'no hour yet'} {'; '.join(parts)}",
        _caution(planned, block, look), _address(planned, setup=block.key),
        row.get_absolute_url(), block is pressed,
    )  # fmt: skip


def _caution(planned: PlannedDay, block: Block, look: Look | None) -> str:
    """The sun in the picture or near it, with its hours."""
    if look is None or not look.up or look.angle is None:
        return ""
    if look.in_picture is not None and look.angle.in_picture:
        return f"Sun in the picture until {planned.plan.clock(look.in_picture.ends)}."
    if look.flares is not None and look.angle.flares:
        return f"Flare until {planned.plan.clock(look.flares.ends)}: hood the lens."
    return ""


def _caption(
    planned: PlannedDay, block: Block | None, when: datetime | None, look: Look | None
) -> str:
    """What the drawing says of the light at the pressed setup's hour."""
    if block is None:
        return "Press a setup to see the light of its hour."
    if when is None:
        return f"{block.name} has no hour yet: give it one on the Day to see its light here."
    name = f"{block.name}, {planned.plan.clock(when)}."
    if look is None:
        return f"{name} Its place has no degrees, so nothing is known of the sun."
    sun = look.sun
    if sun.altitude_deg <= 0:
        return f"{name} The sun is down."
    wind = _WINDS[round(sun.azimuth_deg / 45) % 8]
    high = f"{name} Sun in the {wind}, {round(sun.altitude_deg)}° high"
    if not look.up:
        return f"{high}, but behind the land here."
    side = f": {look.angle.light.value}" if look.angle is not None else ""
    shadow = "" if look.shadow_m is None else (
        f" A person of {n.format_number(PERSON_M, 1)} m throws "
        f"{n.format_length(look.shadow_m)} of shadow; the strokes show which way."
    )  # fmt: skip
    return f"{high}{side}.{shadow}"


def _where(place: Place) -> str:
    site = place.site
    if site is None:
        return "Nobody said where it is."
    north = "S" if site.latitude_deg < 0 else "N"
    east = "W" if site.longitude_deg < 0 else "E"
    return f"{abs(site.latitude_deg):.4f}° {north}, {abs(site.longitude_deg):.4f}° {east}"


def _address(planned: PlannedDay, **asked: int | str) -> str:
    query = urlencode({"day": planned.day.pk, **asked})
    return f"{reverse('places', args=[planned.shoot.pk])}?{query}"
