"""What was brought home: cameras with their clocks, and pictures that belong to no take yet."""

import re
from dataclasses import dataclass

from fotonomy.core.errors import RuleError
from fotonomy.core.takes.matching import MOST_OFF_S, Taken
from fotonomy.field.models import TakePicture
from fotonomy.field.presenters.takes import written_words
from fotonomy.kit.models import Body
from fotonomy.shoots.models import Shoot
from fotonomy.takes.ingest import Camera, bodies_of, cameras_of, found_match, taken_at, takes_of

# So many pictures without a take are shown with their choices at once.
MOST_SHOWN = 60
_OFFSET = re.compile(r"([+\-−]?)\s*(\d{1,2}):(\d{2})(?::(\d{2}))?")


@dataclass(frozen=True, slots=True)
class CameraLine:
    """A camera: its name, how many pictures, its clock in words and as text to type."""

    serial: str
    name: str
    count: int
    offset: str
    how: str
    body_id: int | None = None


@dataclass(frozen=True, slots=True)
class StillLine:
    """A picture without a take, and the takes it may be of, the nearest first."""

    key: int
    name: str
    words: str
    choices: tuple[tuple[str, str], ...]
    seen: bool = True


@dataclass(frozen=True, slots=True)
class HomeView:
    """Everything the page takes."""

    cameras: tuple[CameraLine, ...]
    stills: tuple[StillLine, ...]
    more: int
    placed: int
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


def home_view(shoot: Shoot) -> HomeView:
    """Cameras and pictures that belong to no take yet; the rest counted."""
    rows = list(shoot.pictures.filter(take_uid=""))
    known = bodies_of(shoot)
    names = {take.uid: f"{take}, {take.get_verdict_display()}" for take in shoot.takes.all()}
    cameras = cameras_of(shoot, rows)
    offsets = {camera.serial: camera.offset_s for camera in cameras}
    takes: dict[str, tuple[Taken, ...]] = {}
    stills = []
    for row in sorted(rows, key=lambda one: (one.wrote.get("taken", ""), one.name))[:MOST_SHOWN]:
        serial = str(row.wrote.get("serial", ""))
        if serial not in takes:
            takes[serial] = takes_of(shoot, serial)
        near = found_match(row, takes[serial], offsets.get(serial, 0.0)).nearest
        rest = [uid for uid in names if uid not in near]
        choices = tuple((uid, names[uid]) for uid in (*near, *rest))
        stills.append(StillLine(row.pk, str(row), _words(row), choices, bool(row.sha256)))
    return HomeView(
        tuple(_camera(camera, known.get(camera.serial)) for camera in cameras), tuple(stills),
        max(0, len(rows) - MOST_SHOWN), shoot.pictures.exclude(take_uid="").count(),
        tuple(Body.objects.filter(owner=shoot.owner).values_list("pk", "name"))
        if shoot.actor.owns else (),
    )  # fmt: skip


def _camera(camera: Camera, body: Body | None) -> CameraLine:
    if camera.said_s is not None:
        how = "as its pictures say themselves"
    elif camera.found is not None:
        how = f"{camera.found.agree} of {camera.found.of} pictures agree with the log"
    else:
        how = "not known: no picture agrees with the log"
    name = f"Camera {camera.serial}" if camera.serial else "A camera without a number"
    return CameraLine(
        camera.serial, name if body is None else f"{body.name} ({camera.serial or 'no number'})",
        len(camera.pictures), offset_text(camera.offset_s), how, None if body is None else body.pk,
    )  # fmt: skip


def _words(row: TakePicture) -> str:
    said = written_words(row.wrote, row.width, row.height)
    return said if taken_at(row) is not None else f"{said}, no clock in it"
