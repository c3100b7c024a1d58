"""The first own gear: each step is kept in the kit as soon as it is right."""

from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from fotonomy.core.gear.filters import FilterKind
from fotonomy.core.gear.neutral_density import stops_to_density
from fotonomy.core.gear.sensor_classes import USUAL, SensorClass
from fotonomy.core.notation import writing as n
from fotonomy.kit.history import recorded
from fotonomy.kit.models import Body, Filter, FirstSteps, Lens, Profile
from fotonomy.kit.quotas import room_for, room_for_bytes
from fotonomy.kit.starter_kit import remove_starter_kit, video_profile

# What 4K is recorded at where nobody said; common practice, no source. Above 30 fps more.
DATA_RATE_MB_S, FAST_DATA_RATE_MB_S = 100.0, 150.0
# Numbers of no camera: a flat curve to begin with, until one's own is picked in the kit.
_LOG = {"curve": Profile.LOG, "a": 5.0, "b": 0.05, "c": 0.2898, "d": 0.39146, "e": 5.72084,
        "f": 0.045006, "cut": 0.012, "clip_percent": 92.0, "bits": 10}  # fmt: skip


def steps_of(owner: User) -> FirstSteps:
    """How far a person came; nothing yet for somebody new."""
    return FirstSteps.objects.get_or_create(owner=owner)[0]


def _free(model: type[Any], owner: User, wanted: str) -> str:
    names = set(model.objects.filter(owner=owner).values_list("name", flat=True))
    if wanted not in names:
        return wanted
    return next(name for k in range(2, 10_000) if (name := f"{wanted[:74]} {k}") not in names)


@transaction.atomic
def keep_camera(owner: User, sensor: SensorClass, given: dict[str, Any]) -> Body:
    """A body with one format, and its profiles. Raises QuotaError and RuleError."""
    steps, usual = steps_of(owner), USUAL[sensor]
    with recorded(owner, f"{given['name']} added"):
        body = steps.body
        if body is None:
            room_for(Body, owner)
            # The camera of the starter kit makes way for one's own.
            remove_starter_kit(owner)
            body = Body(owner=owner, name=_free(Body, owner, given["name"]))
        elif given["name"] != body.name:
            body.name = _free(Body, owner, given["name"])
        body.formats = [{
            "name": "4K", "width_px": 3840, "height_px": 2160,
            "bits": 10 if given["base_iso"] else 8,
            "chroma": "4:2:0", "readout_ms": None,
            "sensor_width_mm": usual.width_mm, "sensor_height_mm": usual.height_mm,
            "rates": [
                {"fps": fps, "mb_s": DATA_RATE_MB_S if fps <= 30 else FAST_DATA_RATE_MB_S}
                for fps in given["rates"]
            ],
        }]  # fmt: skip
        body.shutter_style = given["shutter_style"]
        body.angles_deg = (
            [] if body.shutter_style == "time" else [45.0, 90.0, 144.0, 172.8, 180.0, 360.0]
        )
        for name in ("iso_lowest", "iso_highest", "iso_ceiling"):
            setattr(body, name, given[name])
        body.fixed_lens = sensor is SensorClass.PHONE
        body.to_spec_with(())
        body.save()
        body.profiles.set(_profiles(owner, body, given["base_iso"]))
        room_for_bytes(owner)
    steps.sensor, steps.project_fps, steps.body = sensor.value, given["project_fps"], body
    steps.save()
    return body


def _profiles(owner: User, body: Body, base_iso: list[int] | None) -> list[Profile]:
    found = [video_profile(owner)]
    if base_iso:
        wanted = {"owner": owner, "purpose": "a flat log to begin with; pick your own", **_LOG}
        log = body.profiles.filter(purpose=wanted["purpose"]).first() if body.pk else None
        log = log or Profile(name=_free(Profile, owner, "Log"), **wanted)
        log.base_iso = base_iso
        log.to_spec()
        log.save()
        found.insert(0, log)
    return found


@transaction.atomic
def keep_lens(owner: User, given: dict[str, Any]) -> Lens:
    """A lens named by its numbers. Raises QuotaError and RuleError."""
    steps = steps_of(owner)
    short, long = given["focal_shortest_mm"], given["focal_longest_mm"]
    span = (
        n.format_number(short)
        if long == short
        else f"{n.format_number(short)} to {n.format_number(long)}"
    )
    name = f"{span} mm {n.format_iris(given['widest_f'])}"
    with recorded(owner, f"{name} added"):
        lens = steps.lens
        if lens is None:
            room_for(Lens, owner)
            lens = Lens(owner=owner, name=_free(Lens, owner, name), smallest_f=22.0)
        elif not lens.name.startswith(name):
            lens.name = _free(Lens, owner, name)
        for field in ("focal_shortest_mm", "focal_longest_mm", "widest_f", "thread_mm"):
            setattr(lens, field, given[field])
        usual_f = 22.0 if given["thread_mm"] else 16.0
        # The iris of a phone does not close. Common practice, no source.
        fixed = steps.sensor == SensorClass.PHONE.value
        lens.smallest_f = given["widest_f"] if fixed else max(usual_f, given["widest_f"])
        lens.to_spec()
        lens.save()
        room_for_bytes(owner)
    steps.lens = lens
    steps.save()
    return lens


@transaction.atomic
def keep_glass(owner: User, given: dict[str, Any]) -> None:
    """ND filters for the thread of the lens; those of the same name stay as they are."""
    steps = steps_of(owner)
    thread = steps.lens.thread_mm if steps.lens else None
    common = {"owner": owner, "mount": "thread" if thread else "square", "thread_mm": thread}
    with recorded(owner, "ND filters added"):
        for text in given["densities"]:
            room_for(Filter, owner)
            Filter.objects.get_or_create(
                owner=owner, name=f"ND {text}",
                defaults={**common, "kind": FilterKind.ND.value, "density": float(text)},
            )  # fmt: skip
        if given["variable_least"] is not None:
            room_for(Filter, owner)
            turns = (given["variable_least"], given["variable_most"])
            least, most = (stops_to_density(stops) for stops in turns)
            Filter.objects.get_or_create(
                owner=owner, name="Variable ND",
                defaults={**common, "kind": FilterKind.VARIABLE_ND.value, "density": least,
                          "most_density": most},
            )  # fmt: skip
        room_for_bytes(owner)
