"""Pictures in a row: the same scene side by side, and which is cleanest, sharpest, best placed."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import log2

import cv2
import numpy as np
from numpy.typing import NDArray

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.errors import RuleError
from fotonomy.core.notation import writing as n
from fotonomy.core.pictures.frame_levels import Pixels, measured, off_by
from fotonomy.core.pictures.patches import sharpness_in, tiles_of
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.core.takes.actual import actual_of
from fotonomy.field.models import Take, TakePicture
from fotonomy.field.pictures import pixels_of, tiles_kept
from fotonomy.field.presenters.takes import written_words
from fotonomy.takes.presenters.frame import marks_of
from fotonomy.takes.presenters.frame_detail import Detail, looks_like
from fotonomy.takes.runs import exposure_of

MOST = 8
# Nearer than this two pictures are the same in it.
SAME_NOISE_STOPS, SAME_SHARP_STOPS, SAME_PLACE_STOPS = 0.15, 0.2, 0.1
KEEPER = 5


@dataclass(frozen=True, slots=True)
class RowFrame:
    """A picture of the row. Numbers are None where they cannot be told."""

    key: int
    name: str
    take: str
    verdict: str
    wrote: str
    looks_iso: float | None
    sharpness: float | None
    off_stops: float | None
    exposed: float | None
    rating: int

    @property
    def is_keeper(self) -> bool:
        """Somebody chose it."""
        return self.rating == KEEPER


@dataclass(frozen=True, slots=True)
class RowLine:
    """A picture of the row with what is said of it."""

    frame: RowFrame
    words: tuple[str, ...]
    best: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class RowView:
    """Everything the page takes: the pictures, and a sentence about all of them."""

    lines: tuple[RowLine, ...]
    says: str


def row_frame(spec: Spec, take: Take, row: TakePicture, width: int) -> RowFrame:
    """What a picture says, sharpness at a width that all of the row have."""
    pixels = pixels_of(row)
    looks = sharp = off = None
    if pixels is not None:
        actual = actual_of(spec, take.planned, take.differed)
        analysis = analyse(actual.done)
        key = analysis.level.key.name
        curve, areas = marks_of(spec, row)
        try:
            found = measured(pixels, areas, analyse(actual.planned), curve)
        except RuleError:
            found = ()
        said = off_by(found, key)
        off = None if said is None else said.off_stops
        detail = Detail(actual.done, analysis, curve, areas, found, tiles_kept(row), (), (),
                        pixels, None)  # fmt: skip
        of_key = next((one for one in found if one.name == key), None)
        if of_key is not None:
            looks = looks_like(detail, key, of_key.stops)
        if key in areas:
            sharp = sharpness_in(tiles_of(at_width(pixels, width)), areas[key])
    return RowFrame(
        row.pk, str(row), str(take), take.get_verdict_display(),
        written_words(row.wrote, row.width, row.height), looks, sharp, off, exposure_of(row.wrote),
        row.rating,
    )  # fmt: skip


def at_width(pixels: Pixels, width: int) -> NDArray[np.uint8]:
    """The luma of a picture at a width, by means."""
    gray = cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY)
    if gray.shape[1] > width:
        size = (width, max(8, round(gray.shape[0] * width / gray.shape[1])))
        gray = cv2.resize(gray, size, interpolation=cv2.INTER_AREA)
    return np.asarray(gray, dtype=np.uint8)


def row_view(frames: Sequence[RowFrame]) -> RowView:
    """The pictures against one another; the first is what exposures are told from."""
    cleanest = _best({one.key: -log2(one.looks_iso) for one in frames if one.looks_iso},
                     SAME_NOISE_STOPS)  # fmt: skip
    sharpest = _best(
        {one.key: one.sharpness for one in frames if one.sharpness is not None}, SAME_SHARP_STOPS
    )
    placed = _best(
        {one.key: -abs(one.off_stops) for one in frames if one.off_stops is not None},
        SAME_PLACE_STOPS,
    )
    titles = (("cleanest", cleanest), ("sharpest", sharpest), ("best placed", placed))
    top = max((one.sharpness for one in frames if one.sharpness is not None), default=0.0)
    first = frames[0].exposed if frames else None
    lines = []
    for one in frames:
        best = tuple(title for title, keys in titles if keys and one.key in keys)
        lines.append(RowLine(one, tuple(_words(one, top, first)), best))
    return RowView(tuple(lines), _says(lines))


def _best(values: dict[int, float], same: float) -> set[int]:
    """Those that no other beats by more than ``same``; none where all are alike."""
    if len(values) < 2:
        return set()
    top = max(values.values())
    found = {key for key, value in values.items() if value >= top - same}
    return found if len(found) < len(values) else set()


def _words(one: RowFrame, sharpest: float, first: float | None) -> list[str]:
    said = []
    if one.exposed is not None and first is not None and abs(one.exposed - first) > 0.05:
        said.append(f"{n.format_signed(one.exposed - first)} stops from the first")
    if one.off_stops is not None:
        said.append(f"{n.format_signed(one.off_stops)} stops from the planned level")
    if one.looks_iso is not None:
        said.append(f"noise of ISO {n.format_number(round(one.looks_iso, -1), 0)}")
    if one.sharpness is not None and sharpest - one.sharpness >= SAME_SHARP_STOPS:
        under = n.format_number(sharpest - one.sharpness, 1)
        said.append(f"fine contrast {under} stops under the sharpest")
    return said


def _says(lines: Sequence[RowLine]) -> str:
    parts = []
    for title in ("sharpest", "cleanest", "best placed"):
        names = [line.frame.name for line in lines if title in line.best]
        if names:
            parts.append(f"{title}: {' and '.join(names)}")
    if not parts:
        return "Nothing that can be measured tells them apart: choose by eye"
    said = "; ".join(parts)
    return said[:1].upper() + said[1:]
