"""What was brought home: cameras with their clocks, and groups of pictures with their choices."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from itertools import groupby

from django.utils.safestring import SafeString, mark_safe

from fotonomy.core.errors import RuleError
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.core.takes.actual import SAME_STOPS, exposed_stops
from fotonomy.core.takes.grouping import Group
from fotonomy.core.takes.matching import MOST_OFF_S
from fotonomy.field.models import Take, TakePicture
from fotonomy.field.presenters.takes import written_words
from fotonomy.figures.svg import DESK_PX, PHONE_PX, Size
from fotonomy.figures.takes.brought_home import Span, brought_home
from fotonomy.kit.models import Body
from fotonomy.shoots.mapping import planned_setups
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.presenters.layout import Screen
from fotonomy.takes.ingest import (
    LEFT_OUT,
    Camera,
    bodies_of,
    cameras_of,
    groups_of,
    moment_of,
)

# Of a group so many pictures stand beside each other, so many more unfold.
MOST_SHOWN, MOST_UNFOLDED = 4, 120
# Groups on a page; the rest comes once these have their takes.
MOST_GROUPS = 60
# A setup planned so near, and settings so like, make a new take of it the first choice.
NEAR_S, ALIKE_STOPS = 3 * 3600.0, 1.0
# A take began when the log says, give or take this: then it needs no words.
AS_LOGGED_S = 15.0
_OFFSET = re.compile(r"([+\-−]?)\s*(\d{1,2}):(\d{2})(?::(\d{2}))?")


@dataclass(frozen=True, slots=True)
class CameraLine:
    """A camera: its name, how many pictures, its clock as text to type and in words.

    ``asks`` is what is not known of it, "" where nothing is; ``body_id`` is the body that it is, or
    the one that its files name. ``error`` is what is wrong with a clock as typed, which stands.
    """

    serial: str
    name: str
    count: int
    offset: str
    how: str
    asks: str
    body_id: int | None = None
    error: str = ""


@dataclass(frozen=True, slots=True)
class StillLine:
    """A picture of a group."""

    key: int
    name: str
    words: str
    seen: bool = True


@dataclass(frozen=True, slots=True)
class Option:
    """Where a group may go: what is sent, what it is called, and if it is the first choice."""

    value: str
    name: str
    chosen: bool = False


@dataclass(frozen=True, slots=True)
class GroupView:
    """A group: when, how many, its first pictures, where it may go, and why that."""

    keys: str
    when: str
    date: str
    count: int
    shown: tuple[StillLine, ...]
    more: tuple[StillLine, ...]
    not_shown: int
    options: tuple[Option, ...]
    why: str
    good: bool
    at_s: str
    length_s: str


@dataclass(frozen=True, slots=True)
class HomeView:
    """Everything the page takes. ``matched`` pictures go somewhere as it is shown."""

    cameras: tuple[CameraLine, ...]
    groups: tuple[GroupView, ...]
    lines: tuple[SafeString, ...]
    options: tuple[Option, ...]
    total: int
    matched: int
    more: int
    placed: int
    left_out: int
    bodies: tuple[tuple[int, str], ...] = ()


def offset_text(seconds: float) -> str:
    """+1:02:10 for a clock that is ahead, −0:00:30 for one that is behind."""
    whole = round(abs(seconds))
    sign = "−" if seconds < 0 and whole else "+"
    return f"{sign}{whole // 3600}:{whole % 3600 // 60:02}:{whole % 60:02}"


def read_offset(text: str) -> float:
    """Seconds from "+1:02:10", "-0:30", "10:00". Raises RuleError."""
    rule = "hours and minutes such as +10:00 or −0:01:30, two days at most"
    found = _OFFSET.fullmatch(text.strip())
    if found is None or int(found[3]) > 59 or int(found[4] or 0) > 59:
        raise RuleError("offset", rule, text)
    seconds = 3600 * int(found[2]) + 60 * int(found[3]) + int(found[4] or 0)
    if seconds > MOST_OFF_S:
        raise RuleError("offset", rule, text)
    return float(-seconds if found[1] in ("-", "−") else seconds)


def home_view(
    shoot: Shoot, screen: Screen, typed: Mapping[str, float],
    errors: Mapping[str, tuple[str, str]],
) -> HomeView:  # fmt: skip
    """Cameras, and what belongs to no take yet in groups, by clocks as found or as typed.

    ``errors`` are clocks that were typed wrong, by camera, each with the rule.
    """
    rows = {row.pk: row for row in shoot.pictures.filter(take_uid="")}
    takes = {take.uid: take for take in shoot.takes.all()}
    specs = planned_setups(shoot)
    known = bodies_of(shoot)
    bodies = tuple(Body.objects.filter(owner=shoot.owner).values_list("pk", "name"))
    groups = groups_of(shoot, rows.values(), typed)
    views = tuple(
        _group(shoot, group, rows, takes, specs, known.get(group.camera))
        for group in groups[:MOST_GROUPS]
    )
    return HomeView(
        tuple(
            _with_error(_camera(camera, known.get(camera.serial), bodies, typed), errors)
            for camera in cameras_of(shoot, rows.values())
        ),
        views,
        _lines(shoot, groups, takes, screen),
        (*_take_options(takes), *_new_options(specs), Option(LEFT_OUT, "Leave out")),
        len(rows),
        sum(one.count for one in views if any(option.chosen for option in one.options)),
        sum(len(one.shots) for one in groups[MOST_GROUPS:]),
        shoot.pictures.exclude(take_uid__in=["", LEFT_OUT]).count(),
        shoot.pictures.filter(take_uid=LEFT_OUT).count(),
        bodies if shoot.actor.owns else (),
    )


def _take_options(takes: Mapping[str, Take], chosen: str = "") -> tuple[Option, ...]:
    return tuple(Option(uid, str(take), uid == chosen) for uid, take in takes.items())


def _new_options(
    specs: Mapping[int, tuple[Spec, Setup]], chosen: int | None = None
) -> tuple[Option, ...]:
    return tuple(
        Option(f"new-{pk}", f"New take of {row}", pk == chosen) for pk, (_, row) in specs.items()
    )


def _group(
    shoot: Shoot, group: Group, rows: Mapping[int, TakePicture], takes: Mapping[str, Take],
    specs: Mapping[int, tuple[Spec, Setup]], body: Body | None,
) -> GroupView:  # fmt: skip
    stills = tuple(_still(rows[shot.key]) for shot in group.shots[: MOST_SHOWN + MOST_UNFOLDED])
    chosen, words = None, ""
    if not group.take:
        wrote = rows[group.shots[len(group.shots) // 2].key].wrote
        chosen, words = _nearest_setup(shoot, group, wrote, specs, body)
    options = (
        Option("", "Choose", not group.take and chosen is None),
        *_take_options(takes, group.take),
        *_new_options(specs, chosen),
        Option(LEFT_OUT, "Leave out"),
    )
    run = ""
    if group.every_s is not None:
        missing = f", {group.missing} missing" if group.missing else ""
        run = f"a run: one every {n.format_duration(group.every_s)}{missing}; "
    why = run + (words or _against_log(shoot, group, takes[group.take]) if group.take else words)
    start, end = group.start_s, group.end_s
    return GroupView(
        " ".join(str(shot.key) for shot in group.shots), _when(shoot, start, end),
        "" if start is None else f"{moment_of(shoot, start):%a} {moment_of(shoot, start).day} "
        f"{moment_of(shoot, start):%B}",
        len(group.shots), stills[:MOST_SHOWN], stills[MOST_SHOWN:],
        max(0, len(group.shots) - MOST_SHOWN - MOST_UNFOLDED), options, why, bool(group.take),
        "" if start is None else f"{start:.0f}",
        "" if start is None or end is None else f"{end - start:.0f}",
    )  # fmt: skip


def _when(shoot: Shoot, start: float | None, end: float | None) -> str:
    if start is None or end is None:
        return "no clock"
    first, last = f"{moment_of(shoot, start):%H:%M}", f"{moment_of(shoot, end):%H:%M}"
    return first if first == last else f"{first} – {last}"


def _against_log(shoot: Shoot, group: Group, take: Take) -> str:
    """How far the first picture lies from the start that was logged."""
    off = (moment_of(shoot, group.start_s or 0.0) - take.at).total_seconds()
    inside = 0 <= off <= (take.length_s or 0.0)
    if inside or abs(off) <= AS_LOGGED_S:
        return "as logged"
    return f"{n.format_duration(abs(off))} {'after' if off > 0 else 'before'} the log"


def _nearest_setup(
    shoot: Shoot, group: Group, wrote: Mapping[str, object],
    specs: Mapping[int, tuple[Spec, Setup]], body: Body | None,
) -> tuple[int | None, str]:  # fmt: skip
    """The setup whose planned hour is nearest, if what the camera wrote agrees; and why."""
    if group.start_s is None:
        return None, "no clock in these: choose where they go"
    at = moment_of(shoot, group.start_s)
    found = []
    for pk, (spec, row) in specs.items():
        if row.planned_time is None or (body is not None and row.body_id != body.pk):
            continue
        planned = datetime.combine(row.day.date, row.planned_time, row.place.zone)
        stops = exposed_stops(spec, wrote)
        off = abs((at - planned).total_seconds())
        if off <= NEAR_S and (stops is None or abs(stops) <= ALIKE_STOPS):
            found.append((off, pk, row, stops))
    if not found:
        return None, "nothing was logged or planned near then: choose, or leave them out"
    _, pk, row, stops = min(found, key=lambda one: one[:2])
    agree = ""
    if stops is not None:
        within = f" within {n.format_stops(abs(stops))}" if abs(stops) >= SAME_STOPS else ""
        agree = f", settings agree{within}"
    return pk, (
        f"nothing was logged then; {row.code or row.title} is nearest, planned "
        f"{row.planned_time:%H:%M}{agree}"
    )


def _still(row: TakePicture) -> StillLine:
    words = written_words(row.wrote, row.width, row.height)
    return StillLine(row.pk, str(row), words, bool(row.sha256))


def _lines(
    shoot: Shoot, groups: tuple[Group, ...], takes: Mapping[str, Take], screen: Screen
) -> tuple[SafeString, ...]:  # fmt: skip
    """A drawing for each day that has pictures, the log of that day above them."""
    size = Size(screen.within(), text_px=PHONE_PX if screen.phone else DESK_PX)
    zone = shoot.main_place.zone
    timed = [one for one in groups if one.start_s is not None]
    found = []
    for date, some in groupby(timed, key=lambda one: moment_of(shoot, one.start_s or 0.0).date()):
        log = [take for take in takes.values() if take.at.astimezone(zone).date() == date]
        spans = tuple(
            Span(_of_day(at := take.at.astimezone(zone)), _of_day(at) + (take.length_s or 0.0),
                 take.setup_name.partition(" ")[0])
            for take in log
        )  # fmt: skip
        pictures = []
        for one in some:
            start = _of_day(moment_of(shoot, one.start_s or 0.0))
            name = takes[one.take].setup_name.partition(" ")[0] if one.take else "?"
            lasts = (one.end_s or 0.0) - (one.start_s or 0.0)
            pictures.append(Span(start, start + lasts, name, bool(one.take)))
        # Markup from our own figure, which escapes what a person typed.
        found.append(mark_safe(brought_home(f"{date:%A %d %B}", spans, tuple(pictures), size)))
    return tuple(found)


def _of_day(moment: datetime) -> float:
    return moment.hour * 3600.0 + moment.minute * 60 + moment.second


def _camera(
    camera: Camera, body: Body | None, bodies: tuple[tuple[int, str], ...],
    typed: Mapping[str, float],
) -> CameraLine:  # fmt: skip
    if camera.serial in typed:
        how = "as you typed it"
    elif camera.said_s is not None:
        how = "as its pictures say themselves"
    elif camera.found is not None:
        how = f"{camera.found.agree} of {camera.found.of} pictures agree with the log"
    else:
        how = "not known: no picture agrees with the log"
    number = camera.serial if camera.serial != camera.model else ""
    name = " ".join(filter(None, (camera.model or "Camera", number)))
    body_id, asks = (None if body is None else body.pk), ""
    if body is None:
        said = camera.model.casefold()
        like = [
            pk for pk, own in bodies if said and (own.casefold() in said or said in own.casefold())
        ]
        own = dict(bodies).get(like[0], "") if like else ""
        called = camera.model or ("this camera" if not number else f"number {number}")
        asks = (
            f"The files say {called}. Is that your {own}?"
            if own
            else f"Which of yours is {called}?"
        )
        body_id = like[0] if like else None
    return CameraLine(
        camera.serial, name if camera.model or number else "A camera that wrote no name",
        len(camera.pictures), offset_text(typed.get(camera.serial, camera.offset_s)), how, asks,
        body_id,
    )  # fmt: skip


def _with_error(line: CameraLine, errors: Mapping[str, tuple[str, str]]) -> CameraLine:
    """The line with what was typed, where that cannot be read."""
    if line.serial not in errors:
        return line
    text, rule = errors[line.serial]
    return replace(line, offset=text, error=rule)
