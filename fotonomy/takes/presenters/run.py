"""A run of frames: what happened in it, why it likely did, and what to do."""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from fotonomy.core.analysis.interval import remote_of
from fotonomy.core.notation import writing as n
from fotonomy.core.optics.star_trails import trail_mm
from fotonomy.core.pictures.points import points_of, trails_of
from fotonomy.core.pictures.run import Cause, Event, RunReport, Sort, report
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.field.models import Take, TakePicture
from fotonomy.field.pictures import pixels_of
from fotonomy.shoots.presenters.working import loose
from fotonomy.takes.runs import plan_of, run_frames, unseen_of

# A contact sheet has so many frames at most; what happened is always among them.
ON_SHEET = 48
# Playing skips frames where there are more than this.
MOST_PLAYED = 750


@dataclass(frozen=True, slots=True)
class EventView:
    """Something that happened: its number on the drawing, the picture, what, why and what to do."""

    number: int
    key: int
    name: str
    what: str
    why: str
    do: str


@dataclass(frozen=True, slots=True)
class SheetFrame:
    """A frame on the contact sheet; ``mark`` is the number of what happened at it."""

    key: int
    place: int
    name: str
    mark: str


@dataclass(frozen=True, slots=True)
class RunView:
    """Everything the page takes. ``found`` is None while no frame was looked at."""

    frames: int
    done: int
    found: RunReport | None
    head: str
    lines: tuple[str, ...]
    events: tuple[EventView, ...]
    sheet: tuple[SheetFrame, ...]
    played: tuple[int, ...]
    fps: float

    @property
    def whole(self) -> bool:
        """True where every frame was looked at."""
        return self.done == self.frames


def run_view(spec: Spec, take: Take, rows: Sequence[TakePicture]) -> RunView:
    """The frames of a take as a run."""
    done = len(rows) - len(unseen_of(rows))
    found = None
    if done == len(rows) and done > 1:
        found = report(run_frames(rows), plan_of(spec))
    events = () if found is None else tuple(
        event_view(spec, number, one, rows, found) for number, one in enumerate(found.events, 1)
    )  # fmt: skip
    lines = () if found is None else (*_lines(spec, found), *_stars(spec, rows))
    stride = -(-len(rows) // MOST_PLAYED)
    return RunView(
        len(rows), done, found,
        "" if found is None else _head(found, plan_of(spec).project_fps), lines, events,
        _sheet(rows, found),
        tuple(row.pk for row in rows[::stride]), spec.project_fps / stride,
    )  # fmt: skip


def _seconds(frames: int, lasts_s: float, fps: float) -> str:
    """How long frames last in the edit, with its working."""
    text = f"{n.format_number(lasts_s, 1)} s"
    return loose(text, "run.on_screen", frames=frames, project_fps=fps)


def _head(found: RunReport, fps: float) -> str:
    clip = f"{found.frames} frames: {_seconds(found.frames, found.clip_s, fps)} on the screen"
    if not found.events:
        return f"{clip}. Nothing in it jumps or flickers"
    first, last = found.whole
    if last - first + 1 == found.frames:
        return clip
    return (
        f"{clip}. Its longest stretch without a jump is frames {first + 1} to {last + 1}: "
        f"{_seconds(last - first + 1, found.whole_s, fps)}"
    )


def _lines(spec: Spec, found: RunReport) -> list[str]:
    flicker = loose(
        n.format_number(found.flicker_stops, 3), "run.flicker", value=found.flicker_stops,
        frames=found.frames,
    )  # fmt: skip
    lines = [f"Flicker {flicker} stop on the whole; from 0.03 on a frame is seen to flicker"]
    if found.interval_s:
        planned = 1 / spec.frame_rate
        kept = f"A frame every {n.format_number(found.interval_s, 2)} s"
        if spec.kind.traits.has_interval and abs(found.interval_s - planned) > 0.05 * planned:
            kept += f", planned {n.format_number(planned, 2)} s"
        lines.append(f"{kept}; {found.lost} lost" if found.lost else f"{kept}; none lost")
    else:
        lines.append("No clock in its files: lost frames cannot be told")
    return lines


# The end of a trail in a small copy is told to half of its pixels.
_COPY_TELLS_PX = 0.5


def _stars(spec: Spec, rows: Sequence[TakePicture]) -> list[str]:
    """How far stars trail in the frame in the middle, as far as its copy tells."""
    declination = spec.run.declination_deg
    pixels = None if declination is None else pixels_of(rows[len(rows) // 2])
    if declination is None or pixels is None:
        return []
    gray = np.asarray(cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY), dtype=np.uint8)
    trails = trails_of(points_of(gray))
    planned = trail_mm(spec.focal_mm, spec.time_s, declination) / spec.delivered_pitch_mm
    scale = spec.delivered_px / pixels.shape[1]
    least = _COPY_TELLS_PX * scale
    aim = f"planned {n.format_number(planned, 1)} px"
    if trails is None:
        return [f"No star stands out in the copy of frame {len(rows) // 2 + 1}; {aim}"]
    return [
        f"In one exposure stars trail {n.format_number(trails.length_px * scale, 0)} px of "
        f"{spec.delivered_px}, {aim}; a copy tells {n.format_number(least, 0)} px, a frame added "
        "to the take by itself tells it finer"
    ]


def event_view(
    spec: Spec, number: int, one: Event, rows: Sequence[TakePicture], found: RunReport
) -> EventView:  # fmt: skip
    """One event in words."""
    row = rows[one.at]
    what, why, do = _words(spec, one, found)
    return EventView(number, row.pk, str(row), f"Frame {one.at + 1}: {what}", why, do)


# Why something likely happened, and what to do about it, by what and by its cause.
_WHY = {
    (Sort.FLICKER, Cause.SETTING): "the camera exposed this one otherwise",
    (Sort.FLICKER, Cause.PASSED): (
        "the settings did not change: something passed, or the light winked"
    ),
    (Sort.FLICKER, Cause.LIGHT): (
        "the settings did not change, and the iris was wide open: lamps or clouds"
    ),
    (Sort.STEP, Cause.SETTING): "the camera was set otherwise there by as much",
    (Sort.STEP, Cause.LIGHT): (
        "the settings did not change: the light did, or something came in front"
    ),
    (Sort.SHIFT, Cause.SWAYED): "it comes back: wind, or somebody near",
    (Sort.SHIFT, Cause.KNOCKED): "it stays there: the camera was knocked",
    (Sort.GAP, Cause.FILES): (
        "the numbers in the names skip as well: they were taken, and are not here"
    ),
    (Sort.GAP, Cause.TOO_LONG): (
        "the exposure is as long as the interval: the camera was not ready"
    ),
    (Sort.GAP, Cause.STOPPED): "the numbers in the names go on: the camera did not fire",
}
_DO = {
    (Sort.FLICKER, Cause.SETTING): "Set it to manual. Correct this frame, or leave it out.",
    (Sort.FLICKER, Cause.PASSED): "Correct this frame, or leave it out.",
    (Sort.FLICKER, Cause.LIGHT): (
        "A longer exposure evens lamps out; smooth this one in the edit."
    ),
    (Sort.STEP, Cause.SETTING): (
        "Smooth the step in the edit, or ramp in smaller steps next time."
    ),
    (Sort.STEP, Cause.LIGHT): "Cut here, or grade both sides to one another.",
    (Sort.SHIFT, Cause.SWAYED): (
        "Stabilise the clip; weight on the tripod next time, and no strap that flies."
    ),
    (Sort.SHIFT, Cause.KNOCKED): "Shift the rest back in the edit, or cut here.",
    (Sort.GAP, Cause.FILES): "Look for them on the card and bring them home.",
    (Sort.GAP, Cause.TOO_LONG): "A longer interval, a shorter exposure, or noise frames off.",
    (Sort.GAP, Cause.COUNTER): "Run it unlimited and stop it by the clock.",
    (Sort.GAP, Cause.STOPPED): (
        "Look at card, battery and remote: cheap counters begin to skip somewhere."
    ),
}


def _words(spec: Spec, one: Event, found: RunReport) -> tuple[str, str, str]:
    """What happened, why it likely did, and what to do."""
    sort = (one.sort, one.cause)
    why, do = _WHY.get(sort, ""), _DO.get(sort, "")
    if one.cause is Cause.IRIS:
        why = (
            "the settings did not change: the iris does not close to the same hole twice at "
            f"f/{n.format_number(spec.iris)}"
        )
        widest = n.format_number(spec.lens.widest_at(spec.focal_mm))
        do = (
            f"Take it wide open (f/{widest}) with ND, or with the lens turned a little out of its "
            "lock; smooth this one in the edit."
        )
    elif one.cause is Cause.COUNTER:
        remote = remote_of(spec)
        why = f"{remote.name} counts for sure to {remote.sure_count} only"
    elif one.frames > 1 and sort == (Sort.FLICKER, Cause.SETTING):
        why, do = "the camera exposed each as it thought right", "Set it to manual, ISO and white."
    return _what(spec, one, found), why, do


def _what(spec: Spec, one: Event, found: RunReport) -> str:
    if one.sort is Sort.GAP:
        count = round(one.size)
        led = loose(
            f"{count} frames" if count > 1 else "one frame", "run.missing",
            gap_s=float(found.gap_s[one.at]), interval_s=found.interval_s or 0.0,
        )  # fmt: skip
        return f"{led} {'is' if count == 1 else 'are'} missing before it"
    if one.sort is Sort.SHIFT:
        verb = "sways" if one.cause is Cause.SWAYED else "jumps"
        led = loose(n.format_number(one.size, 0), "run.shift", value=one.size, frame=one.at + 1)
        return f"the picture {verb} by {led} px of {spec.delivered_px}"
    size, side = n.format_number(abs(one.size), 2), "brighter" if one.size > 0 else "darker"
    if one.sort is Sort.FLICKER and one.frames == 1:
        level, residue = float(found.level_stops[one.at]), float(found.residue_stops[one.at])
        size = loose(size, "run.residue", level_stops=level, running_stops=level - residue)
    if one.sort is Sort.STEP:
        return f"the light steps {size} stop {side} and stays"
    if one.frames > 1:
        return f"from here on {one.frames} frames flicker, the worst by {size} stop"
    return f"{size} stop {side} than its neighbours"


def _sheet(rows: Sequence[TakePicture], found: RunReport | None) -> tuple[SheetFrame, ...]:
    stride = -(-len(rows) // ON_SHEET)
    marks: dict[int, str] = {}
    for number, one in enumerate(found.events if found else (), 1):
        marks[one.at] = f"{marks[one.at]}, {number}" if one.at in marks else str(number)
    places = sorted({*range(0, len(rows), stride), *list(marks)[:ON_SHEET]})
    return tuple(
        SheetFrame(rows[place].pk, place + 1, str(rows[place]), marks.get(place, ""))
        for place in places
    )  # fmt: skip
