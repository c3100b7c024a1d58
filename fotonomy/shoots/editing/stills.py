"""Fields of the interval, burst and long-exposure lanes: into the row, and the third of three."""

from dataclasses import replace
from typing import Any

from django.http import QueryDict

from fotonomy.core.analysis.interval import worked_out
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.daylight import light_to_come
from fotonomy.core.notation.writing import format_frame_rate, format_number
from fotonomy.core.parsing import stills as rn
from fotonomy.core.parsing.settings import with_typed_setting
from fotonomy.core.photometry.exposure_value import ev100_of
from fotonomy.core.spec import stills as r
from fotonomy.core.spec.setup import Kind
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.core.spec.stills import Follows
from fotonomy.core.stills.interval import SUBJECTS
from fotonomy.kit.models import Accessory
from fotonomy.shoots.models import Setup

# Form fields that are kept inside a row's run, by their keys there.
RUN_FIELDS = {
    "follows": "follows", "event": "event_s", "files": "files", "noise_frames": "noise_frames",
    "self_timer": "self_timer_s", "start_after": "start_after_s", "ramp": "ramp",
    "light_curve": "light", "declination": "declination_deg", "star_px": "star_px",
    "temperature": "temperature_c", "focusing": "continuous_focus", "burst": "burst_s",
    "bursts_an_hour": "bursts_an_hour", "moment": "moment_s", "combining": "combining",
    "frames": "frames", "passes": "passes_s", "trail": "trail_percent",
}  # fmt: skip
# Fields of a run read by the core's notation; the others are choices and ticks.
PARSERS: dict[str, Any] = {
    "event": rn.parse_event, "self_timer": rn.parse_self_timer,
    "start_after": rn.parse_start_after, "light_curve": rn.parse_light_curve,
    "declination": rn.parse_declination, "star_px": rn.parse_star_px,
    "temperature": rn.parse_temperature, "burst": rn.parse_burst,
    "bursts_an_hour": rn.parse_bursts, "moment": rn.parse_moment, "frames": rn.parse_frames,
    "passes": rn.parse_passes, "trail": rn.parse_trail,
}  # fmt: skip
CHOICES: dict[str, Any] = {
    "follows": Follows, "files": r.Files, "ramp": r.Ramp, "combining": r.Combining,
}  # fmt: skip
TICKS = ("noise_frames", "focusing")
# Sorts of which a camera has one at a time.
ONE_AT_A_TIME = (Accessory.REMOTE, Accessory.CARD)


def add_device(row: Setup, name: str) -> None:
    """Hang one more thing of the kit on the camera; a card or a remote takes the other's place."""
    owner = row.shoot.owner
    found = Accessory.objects.filter(owner=owner, name=name, sort__in=Accessory.DEVICES).first()
    if found is None:
        return
    kept = [
        thing for thing in row.things.all()
        if thing.sort != found.sort or found.sort not in ONE_AT_A_TIME
    ]  # fmt: skip
    row.put_things({thing.pk: thing for thing in (*kept, found)}.values())


def sent_subject(spec: Spec, data: QueryDict) -> Spec:
    """The usual interval of a subject, where one was chosen."""
    chosen = SUBJECTS.get(data.get("subject_start", ""))
    if chosen is None or spec.kind is not Kind.INTERVAL:
        return spec
    return with_typed_setting(spec, "frame_rate", f"every {chosen[0]:g} s")


def sky_for(row: Setup, spec: Spec) -> Spec:
    """The light of a clear sky over the run. Raises RuleError where no start is planned."""
    if spec.starts is None:
        raise RuleError("light_curve", "needs the time the setup is planned for", None)
    lasts = max(1 / spec.frame_rate, spec.run.event_s)
    shoot = row.shoot
    points = light_to_come(
        spec.starts, lasts, shoot.latitude_deg, shoot.longitude_deg, ev100_of(spec.light)
    )
    return replace(spec, run=replace(spec.run, light=points))


def _unrounded(before: Spec, spec: Spec) -> Spec:
    """What was sent as it was shown was not typed: the exact value behind it stays."""
    if format_frame_rate(before.frame_rate) == format_frame_rate(spec.frame_rate):
        spec = replace(spec, frame_rate=before.frame_rate)
    if format_number(before.wanted_screen_s, 2) == format_number(spec.wanted_screen_s, 2):
        spec = replace(spec, wanted_screen_s=before.wanted_screen_s)
    return spec


def with_third(before: Spec, spec: Spec) -> Spec:
    """Event, interval and clip put right after a change of one of them.

    Whoever changes the one that follows means it: then another one follows. Raises
    RuleError naming the one that cannot.
    """
    if spec.kind is not Kind.INTERVAL:
        return spec
    spec = _unrounded(before, spec)
    moved = {
        Follows.EVENT: before.run.event_s != spec.run.event_s,
        Follows.INTERVAL: before.frame_rate != spec.frame_rate,
        Follows.CLIP: before.wanted_screen_s != spec.wanted_screen_s,
    }
    fresh = before.kind is not Kind.INTERVAL or before.run.follows is not spec.run.follows
    if not any(moved.values()) and not fresh and before.project_fps == spec.project_fps:
        return spec
    follows = spec.run.follows
    if moved[follows] and not fresh:
        follows = Follows.CLIP if follows is Follows.EVENT else Follows.EVENT
    return worked_out(replace(spec, run=replace(spec.run, follows=follows)))
