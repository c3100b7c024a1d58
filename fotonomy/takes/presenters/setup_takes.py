"""One setup after the day: each setting as planned, by the camera and by the log; its light."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.errors import RuleError
from fotonomy.core.notation import writing as n
from fotonomy.core.parsing.table import by_name
from fotonomy.core.photometry.exposure_value import ev100_of
from fotonomy.core.pictures.frame_levels import measured, off_by
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.core.takes.actual import (
    Actual,
    actual_of,
    light_off_stops,
    setting_stops,
    text_of,
)
from fotonomy.field.models import Take, TakePicture
from fotonomy.field.pictures import pixels_of
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.presenters.working import loose
from fotonomy.takes.metered_vs_estimate import LightRead, light_read
from fotonomy.takes.presenters.actual import moved_words
from fotonomy.takes.presenters.frame import marks_of, seen_ev
from fotonomy.takes.runs import FEWEST, in_order

# A setting of the camera that is off by less than this is the planned one, in stops.
SAME_STOPS = 0.1
# Of a run or a burst so many pictures are offered here, over its whole length.
MOST_PICTURES = 24


@dataclass(frozen=True, slots=True)
class SettingLine:
    """A setting three ways, and by how many stops the camera and the log are off the plan."""

    label: str
    planned: str
    camera: str
    log: str
    words: str


@dataclass(frozen=True, slots=True)
class PictureChoice:
    """A picture to choose."""

    key: int
    name: str
    rating: int


@dataclass(frozen=True, slots=True)
class TakeBlock:
    """A take with its settings three ways and its pictures; ``frames`` of them in all."""

    key: int
    name: str
    at: str
    verdict: str
    why: str
    lines: tuple[SettingLine, ...]
    pictures: tuple[PictureChoice, ...]
    frames: int
    is_run: bool
    light: str


@dataclass(frozen=True, slots=True)
class SetupView:
    """Everything the page takes. ``light`` are whole sentences."""

    takes: tuple[TakeBlock, ...]
    light: tuple[str, ...]
    pictures: int


def setup_view(shoot: Shoot, row: Setup, spec: Spec) -> SetupView:
    """A setup with all its takes."""
    zone = shoot.main_place.zone
    takes = [take for take in shoot.takes.all() if take.setup_key == row.pk]
    pictures: dict[str, list[TakePicture]] = {}
    for picture in shoot.pictures.filter(take_uid__in=[take.uid for take in takes]):
        pictures.setdefault(picture.take_uid, []).append(picture)
    blocks = []
    for take in takes:
        own = in_order(pictures.get(take.uid, []))
        actual = actual_of(spec, take.planned, take.differed)
        wrote = own[len(own) // 2].wrote if own else {}
        stride = -(-len(own) // MOST_PICTURES) or 1
        blocks.append(TakeBlock(
            take.pk, str(take), f"{take.at.astimezone(zone):%a %H:%M}",
            take.get_verdict_display(), ", ".join(take.why),
            tuple(_settings(spec, actual, take, wrote)),
            tuple(PictureChoice(one.pk, str(one), one.rating) for one in own[::stride]),
            len(own), len(own) >= FEWEST and spec.records_stills, _light(spec, actual, own),
        ))  # fmt: skip
    return SetupView(
        tuple(blocks), tuple(_planned_light(row, spec)), sum(map(len, pictures.values()))
    )


# What a camera writes down, by the setting it is: its name in the file, stops a doubling, text.
_CAMERA = {
    "shutter": ("exposure_s", 1.0, n.format_time),
    "iris": ("f_number", -2.0, lambda value: f"f/{n.format_number(value)}"),
    "iso": ("iso", 1.0, lambda value: f"{value:.0f}"),
}


def _settings(
    spec: Spec, actual: Actual, take: Take, wrote: dict[str, Any]
) -> Iterator[SettingLine]:
    planned = {
        "shutter": actual.planned.time_s, "iris": actual.planned.iris, "iso": actual.planned.iso,
    }  # fmt: skip
    off = {one.name: one for one in actual.differences}
    for name in ("frame_rate", "shutter", "iris", "iso", "nd_density", "white_k"):
        camera, words = "", []
        if name in _CAMERA and (value := wrote.get(_CAMERA[name][0])):
            _, stops_each, write = _CAMERA[name]
            camera = write(value)
            stops = setting_stops(value, planned[name], stops_each)
            if abs(stops) >= SAME_STOPS:
                led = loose(
                    f"{n.format_signed(stops)} stops", "take.setting_stops", wrote=value,
                    planned=planned[name], a_doubling_stops=stops_each,
                )  # fmt: skip
                words.append(f"camera {led}")
        if name in off:
            one = off[name]
            words.append(
                f"log {one.mired:+.0f} mired" if one.mired
                else f"log {moved_words(one)}"
            )  # fmt: skip
        yield SettingLine(
            by_name()[name].label, take.planned.get(name) or text_of(actual.planned, name),
            camera, take.differed.get(name, "as planned"), ", ".join(words),
        )  # fmt: skip


def _light(spec: Spec, actual: Actual, pictures: list[TakePicture]) -> str:
    """How the light really was, out of the first picture whose level tells it."""
    for picture in [one for one in pictures if one.marks] or pictures[:1]:
        pixels = pixels_of(picture)
        if pixels is None:
            continue
        analysis = analyse(actual.planned)
        curve, areas = marks_of(spec, picture)
        try:
            said = off_by(measured(pixels, areas, analysis, curve), analysis.level.key.name)
        except RuleError:
            continue
        if said is None or said.off_stops is None:
            continue
        off = light_off_stops(said.off_stops, actual.stops)
        led = loose(
            f"{n.format_signed(off)} stops", "picture.light_off", picture_stops=said.off_stops,
            set_stops=actual.stops,
        )  # fmt: skip
        return (
            f"Its picture says EV {seen_ev(actual, said.off_stops)}, {led} from the planned light"
        )
    return ""


def _planned_light(row: Setup, spec: Spec) -> Iterator[str]:
    yield f"Planned: EV {n.format_number(ev100_of(spec.light), 1)} at ISO 100"
    for one in light_read(row.shoot, [row.place]):
        if one.at.date() == row.day.date:
            yield light_words(one)


def light_words(one: LightRead) -> str:
    """A reading against the estimate, as a sentence."""
    sky = f"sun {n.format_number(one.sun_deg, 0)}° high"
    if one.oktas is not None:
        sky += f", cloud {n.format_number(one.oktas, 0)}/8"
    off = loose(
        n.format_signed(one.off_stops), "light.off_estimate", read_ev=one.read_ev100,
        estimated_ev=one.estimated_ev100,
    )  # fmt: skip
    return (
        f"Read at {one.at:%a %H:%M}: EV {n.format_number(one.read_ev100, 1)}; the sky's estimate "
        f"for then is EV {n.format_number(one.estimated_ev100, 1)} ({sky}): "
        f"{off} stops"
    )
