"""A test frame: what its tones say, and what to do about it."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite
from typing import Any

import numpy as np
from django import forms
from numpy.typing import NDArray

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.errors import RuleError
from fotonomy.core.field.relight import relit
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.decimals import decimal
from fotonomy.core.photometry.exposure_value import ev100_of
from fotonomy.core.pictures.frame_levels import (
    Area,
    FileCurve,
    Measured,
    area_of,
    measured,
    off_by,
)
from fotonomy.core.spec.setup import Setup
from fotonomy.core.takes.actual import Actual, actual_of, light_seen_ev
from fotonomy.core.traced_numbers import plain
from fotonomy.field.models import Take, TakePicture
from fotonomy.field.pictures import pixels_of, points_kept, tiles_kept
from fotonomy.shoots.presenters.working import loose
from fotonomy.takes.presenters.frame_detail import Detail, Neighbour, detail_lines
from fotonomy.web.whole_forms import Wording

# A frame that is off by less is as planned.
AS_PLANNED_STOPS = 0.2
# The drawing over a picture is so many units wide.
UNITS = 1000
SIDES = ("left", "top", "width", "height")
MOST_WAYS = 3
MOST_NEIGHBOURS = 12


@dataclass(frozen=True, slots=True)
class MarkView:
    """An area on the picture: its number and name, its sides in percent, and its box in units."""

    number: int
    name: str
    sides: tuple[tuple[str, float], ...]
    x: str
    y: str
    wide: str
    high: str
    says: str
    verdict: str

    @property
    def label(self) -> str:
        """What is read out of it."""
        return f"{self.name}: {self.says}. Arrow keys move it, with Shift they size it"


@dataclass(frozen=True, slots=True)
class FrameView:
    """A picture with its marks, what it says in a sentence, and the light to look ways up for."""

    high: int
    curve: str
    marks: tuple[MarkView, ...]
    says: str
    otherwise: str
    ways: tuple[str, ...]
    light: str
    read: str
    fits: bool
    details: tuple[str, ...] = ()


def usual_curve(spec: Setup) -> FileCurve:
    """What a picture most likely is: a still camera's own, or a still of the video."""
    return FileCurve.PICTURE if spec.records_stills else FileCurve.PROFILE


def marks_of(spec: Setup, picture: TakePicture) -> tuple[FileCurve, dict[str, Area]]:
    """The curve and the areas as kept; where nobody marked anything, the setup's own layout."""
    kept: dict[str, Any] = picture.marks or {}
    areas = {reading.name: area_of(reading) for reading in spec.readings}
    for name, sides in kept.get("areas", {}).items():
        if name in areas:
            areas[name] = Area(*sides)
    curve = kept.get("curve", usual_curve(spec))
    return FileCurve(curve), areas


def texts_of_marks(spec: Setup, picture: TakePicture) -> dict[str, list[str]]:
    """What the form of a picture sends if nobody touches it, by the names of its fields."""
    curve, areas = marks_of(spec, picture)
    found = {"curve": [curve.value]}
    for number, area in enumerate(areas.values(), 1):
        found |= {f"{side}-{number}": [f"{getattr(area, side):.2f}"] for side in SIDES}
    return found


def wording_of_marks(spec: Setup) -> Wording:
    """The words for areas that somebody else moved meanwhile."""
    labels = {
        f"{side}-{number}": f"{reading.name}, {side} %"
        for number, reading in enumerate(spec.readings, 1) for side in SIDES
    }  # fmt: skip
    curves = forms.ChoiceField(label="The file is", choices=[(c.value, c.label) for c in FileCurve])
    return Wording({"curve": curves}, labels)


def frame_view(
    spec: Setup, take: Take, picture: TakePicture, pixels: NDArray[np.uint8],
    others: Sequence[TakePicture] = (),
) -> FrameView:  # fmt: skip
    """What a picture of a take says, beside others of its setup.

    Raises RuleError for areas that are too small.
    """
    actual = actual_of(spec, take.planned, take.differed)
    analysis = analyse(actual.planned)
    curve, areas = marks_of(spec, picture)
    found = {one.name: one for one in measured(pixels, areas, analysis, curve)}
    high = round(UNITS * pixels.shape[0] / pixels.shape[1])
    marks = tuple(
        MarkView(
            number, name, tuple((side, getattr(area, side)) for side in SIDES),
            _units(area.left, UNITS), _units(area.top, high), _units(area.width, UNITS),
            _units(area.height, high),
            _said(found[name]), _verdict(found[name]),
        )
        for number, (name, area) in enumerate(areas.items(), 1)
    )  # fmt: skip
    details = tuple(detail_lines(_detail(
        actual.done, picture, curve, areas, tuple(found.values()), pixels, others
    )))  # fmt: skip
    said = off_by(tuple(found.values()), analysis.level.key.name)
    if said is None or said.off_stops is None:
        nothing = (
            "Nothing in it tells how far it is off: every area is clipped or black."
            if found else "This setup has no readings: add one on the bench."
        )  # fmt: skip
        return FrameView(
            high, curve.value, marks, nothing, "", (), "", "", fits=False, details=details
        )
    otherwise = ""
    if abs(actual.stops) >= AS_PLANNED_STOPS:
        otherwise = f"{n.format_signed(actual.stops)} stops of it come from what was set otherwise."
    light = seen_ev(actual, said.off_stops)
    again = relit(spec, light_seen_ev(ev100_of(actual.planned.light), said.off_stops, actual.stops))
    ways = tuple(way.words for way in again.ways if not way.moves_held)[:MOST_WAYS]
    return FrameView(
        high, curve.value, marks, _sentence(said), otherwise, ways,
        f"EV {light}", plain(f"EV {light}"), fits=again.fits, details=details,
    )  # fmt: skip


def _detail(
    done: Setup, picture: TakePicture, curve: FileCurve, areas: dict[str, Area],
    found: tuple[Measured, ...], pixels: NDArray[np.uint8], others: Sequence[TakePicture],
) -> Detail:  # fmt: skip
    analysis = analyse(done)
    key = analysis.level.key.name
    neighbours = []
    for other in others[:MOST_NEIGHBOURS]:
        tiles = tiles_kept(other)
        if tiles is not None and key in areas:
            theirs = marks_of(done, other)[1].get(key, areas[key])
            neighbours.append(Neighbour(str(other), tiles, theirs))
    # The nearest picture of the same take shows the same scene: bands in it lie elsewhere.
    same = [one for one in others if one.take_uid == picture.take_uid]
    near = min(same, key=lambda one: abs(one.pk - picture.pk), default=None)
    return Detail(
        done, analysis, curve, areas, found, tiles_kept(picture), points_kept(picture), neighbours,
        pixels, None if near is None else pixels_of(near),
    )  # fmt: skip


def _units(share_percent: float, whole: float) -> str:
    return f"{share_percent / 100 * whole:.1f}"


def _sentence(said: Measured) -> str:
    off = said.off_stops or 0.0
    read, planned = (n.format_number(one, 0) for one in (said.percent, said.planned_percent))
    head = f"{said.name[:1].upper()}{said.name[1:]} is at {read} %, planned {planned} %"
    if abs(off) < AS_PLANNED_STOPS:
        return f"{head}: as planned"
    side = "brighter" if off > 0 else "darker"
    return f"{head}: {_led(said, n.format_stops(abs(off)))} {side} than planned"


def _said(one: Measured) -> str:
    if one.black:
        return "black"
    if one.off_stops is None and one.clipped_share > 0:
        return f"clipped, {n.format_number(100 * one.clipped_share, 0)} % of it"
    said = (
        f"{n.format_number(one.percent, 0)} %, planned {n.format_number(one.planned_percent, 0)} %"
    )
    if one.off_stops is None:
        return f"{said}, where it clips"
    return f"{said}, {_led(one, n.format_signed(one.off_stops))} stops"


def seen_ev(actual: Actual, picture_stops: float) -> str:
    """The light a picture was taken in, which is so many stops off the plan."""
    given = {
        "planned_ev": ev100_of(actual.planned.light), "picture_stops": picture_stops,
        "set_stops": actual.stops,
    }  # fmt: skip
    return loose(n.format_number(light_seen_ev(**given), 1), "picture.light_ev", **given)


def _led(one: Measured, text: str) -> str:
    """What an area is off, with its working."""
    return loose(
        text, "picture.off_stops", read_stops=one.stops, planned_stops=one.planned_stops
    )  # fmt: skip


def _verdict(one: Measured) -> str:
    if one.off_stops is None:
        return "bad"
    return "good" if abs(one.off_stops) < AS_PLANNED_STOPS else "warn"


def read_marks(spec: Setup, sent: Any) -> tuple[dict[str, Any], dict[str, str]]:
    """The areas and the curve as a form says them, and what is wrong by the area's name."""
    errors: dict[str, str] = {}
    areas: dict[str, list[float]] = {}
    for number, reading in enumerate(spec.readings, 1):
        try:
            sides = [_number(sent.get(f"{side}-{number}", "")) for side in SIDES]
            Area(*sides)
        except RuleError as error:
            errors[reading.name] = error.rule
        except ValueError:
            errors[reading.name] = "four numbers in percent of the picture"
        else:
            areas[reading.name] = [round(side, 2) for side in sides]
    curve = sent.get("curve", "")
    if curve not in list(FileCurve):
        curve = usual_curve(spec).value
    return {"curve": str(curve), "areas": areas}, errors


def _number(text: Any) -> float:
    number = decimal(str(text)[:20])
    if not isfinite(number):
        raise ValueError(text)
    return number
