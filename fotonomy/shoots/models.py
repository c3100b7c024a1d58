"""Shoots, setups, and the ledger of what was changed."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

from django.conf import settings
from django.contrib.auth.models import User
from django.db import models
from django.urls import reverse
from django.utils.functional import cached_property

from fotonomy.core.gear.support import Support
from fotonomy.core.spec.intent import Circle, Exposing, Handheld, Look, WhiteSchool
from fotonomy.core.spec.setup import Kind, Site
from fotonomy.kit.models import Accessory, Body, Filter, Lens, Profile

MAINS_HZ = [(50, "50 Hz"), (60, "60 Hz")]


def schools(school: type[Any]) -> list[tuple[str, str]]:
    """Choices of a school, or of anything else that has values and labels."""
    return [(item.value, item.label) for item in school]


@dataclass(frozen=True, slots=True)
class Actor:
    """Who acts: a person, the browser window they do it in and what it calls this change.

    Window and change have no name without scripts.
    """

    author: User | None = None
    client: str = ""
    action: str = ""


class Shoot(models.Model):
    """One production day or trip at a place, with its edit frame rate."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    name = models.CharField(max_length=80)
    date = models.DateField()
    place_name = models.CharField("place", max_length=80, blank=True)
    # Both or neither; without them nothing is said of the sun.
    latitude_deg = models.FloatField("latitude", null=True, blank=True)
    longitude_deg = models.FloatField("longitude", null=True, blank=True)
    time_zone = models.CharField(max_length=64, default="UTC")
    mains_hz = models.PositiveSmallIntegerField("mains", choices=MAINS_HZ, default=50)
    project_fps = models.FloatField("edit frame rate", default=25.0)
    look = models.CharField(
        "shutter school", max_length=16, choices=schools(Look), default=Look.HALF_PERIOD.value
    )
    handheld = models.CharField(
        "handheld school", max_length=24, choices=schools(Handheld), default=Handheld.FOCAL.value
    )
    circle = models.CharField(
        "what counts as sharp", max_length=16, choices=schools(Circle),
        default=Circle.DIAGONAL.value,
    )  # fmt: skip
    exposing = models.CharField(
        "school of exposing", max_length=12, choices=schools(Exposing), default=Exposing.GREY.value
    )
    white_school = models.CharField(
        "white balance school", max_length=12, choices=schools(WhiteSchool),
        default=WhiteSchool.READ.value,
    )  # fmt: skip
    packs_all = models.BooleanField("take the whole kit", default=True)
    bodies = models.ManyToManyField(Body, blank=True, related_name="shoots")
    lenses = models.ManyToManyField(Lens, blank=True, related_name="shoots")
    filters = models.ManyToManyField(Filter, blank=True, related_name="shoots")
    accessories = models.ManyToManyField(Accessory, blank=True, related_name="shoots")

    # Who acts on it in this request; the history names them.
    actor = Actor()

    class Meta:
        ordering = ["-date", "name"]

    def __str__(self) -> str:
        return self.name

    def get_absolute_url(self) -> str:
        """The shoot's first setup, or its empty page."""
        return reverse("shoot", args=[self.pk])

    @property
    def site(self) -> Site | None:
        """Where it is, None where that was not said."""
        if self.latitude_deg is None or self.longitude_deg is None:
            return None
        return Site(self.latitude_deg, self.longitude_deg)

    def at(self, hour: datetime) -> datetime:
        """A naive local date and time, in the shoot's time zone."""
        return hour.replace(tzinfo=ZoneInfo(self.time_zone))


def setup_name(code: str, title: str) -> str:
    """What a setup is called."""
    return f"{code} {title}".strip() or "Untitled setup"


class Setup(models.Model):
    """One planned shot. Units stand in the names; light is the exchange format's form."""

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="setups")
    position = models.PositiveIntegerField(default=0)
    code = models.CharField(max_length=8, blank=True)
    title = models.CharField(max_length=80, blank=True)
    kind = models.CharField(
        max_length=16, choices=[(kind.value, kind.label) for kind in Kind], default=Kind.REAL_TIME
    )
    planned_time = models.TimeField(null=True, blank=True)
    light = models.JSONField()
    mains_lamps = models.BooleanField(default=False)
    readings = models.JSONField(default=list)
    subject = models.CharField(max_length=40, default="subject")
    subject_speed_m_s = models.FloatField(default=0.0)
    subject_distance_m = models.FloatField(default=3.0)
    subject_size_m = models.FloatField(default=0.5)
    subject_depth_m = models.FloatField(default=0.3)
    lamp_hz = models.FloatField(null=True, blank=True)
    light_change_stops = models.FloatField(default=0.0)
    movement = models.JSONField(default=dict)
    intent = models.JSONField(default=dict)
    support = models.CharField(
        max_length=10, choices=[(s.value, s.value) for s in Support], default=Support.TRIPOD.value
    )
    recording = models.CharField(max_length=80, blank=True)
    run = models.JSONField(default=dict)
    things = models.ManyToManyField(Accessory, blank=True, related_name="setups")
    body = models.ForeignKey(Body, on_delete=models.PROTECT, related_name="setups")
    lens = models.ForeignKey(Lens, on_delete=models.PROTECT, related_name="setups")
    filters = models.ManyToManyField(Filter, blank=True, related_name="setups")
    profile = models.ForeignKey(Profile, on_delete=models.PROTECT, related_name="setups")
    focal_mm = models.FloatField()
    frame_rate = models.FloatField()
    shutter_angle_deg = models.FloatField(null=True, blank=True)
    shutter_time_s = models.FloatField(null=True, blank=True)
    iris = models.FloatField()
    iso = models.PositiveIntegerField()
    nd_density = models.FloatField(default=0.0)
    white_k = models.FloatField(default=5600.0)
    tint_cc = models.FloatField(default=0.0)
    source_k = models.FloatField(null=True, blank=True)
    white_bias_mired = models.FloatField(default=0.0)
    held = models.JSONField(default=list)
    limits = models.JSONField(default=list)
    wanted_screen_s = models.FloatField(default=5.0)
    handle_s = models.FloatField(default=1.0)
    notes = models.TextField(blank=True, max_length=4000)
    # What it comes to in a line, None where it has to be planned again.
    summary = models.JSONField(null=True, blank=True, editable=False)

    class Meta:
        ordering = ["position", "pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(shutter_angle_deg__isnull=True)
                ^ models.Q(shutter_time_s__isnull=True),
                name="shutter_is_angle_or_time",
            )
        ]

    def __str__(self) -> str:
        return setup_name(self.code, self.title)

    @cached_property
    def filter_ids(self) -> tuple[int, ...]:
        """Ids of the filters in front of the lens, asked for once a row."""
        if "filters" in getattr(self, "_prefetched_objects_cache", {}):
            return tuple(sorted(piece.pk for piece in self.filters.all()))
        used = self.filters.through.objects.filter(setup_id=self.pk)
        return tuple(sorted(used.values_list("filter_id", flat=True)))

    @cached_property
    def thing_ids(self) -> tuple[int, ...]:
        """Ids of the tubes behind the lens and of what hangs on the camera, once a row."""
        if "things" in getattr(self, "_prefetched_objects_cache", {}):
            return tuple(sorted(thing.pk for thing in self.things.all()))
        used = self.things.through.objects.filter(setup_id=self.pk)
        return tuple(sorted(used.values_list("accessory_id", flat=True)))

    def put_things(self, things: Iterable[Accessory]) -> None:
        """Put these tubes and devices on the camera, and no others."""
        self.things.set(things)
        self.__dict__.pop("thing_ids", None)

    def put_sorts(self, things: Iterable[Accessory], sorts: Iterable[str]) -> None:
        """Put these things of these sorts on the camera; what is of other sorts stays."""
        kept = [thing for thing in self.things.all() if thing.sort not in sorts]
        self.put_things([*kept, *things])

    def put_filters(self, pieces: Iterable[Filter]) -> None:
        """Put these filters in front of the lens, and no others."""
        self.filters.set(pieces)
        self.__dict__.pop("filter_ids", None)

    def get_absolute_url(self) -> str:
        """The bench with this setup on it."""
        return reverse("bench", args=[self.shoot_id, self.pk])


class Change(models.Model):
    """One row of a shoot's log: what was changed, field by field, and by whom.

    ``fields`` lists ``[setup id, path, before, after]``; an empty path is a whole setup made or
    deleted, with its snapshot or null. A row is a step that can be undone, or, with ``of``, the
    act that took that step back (``undone``) or did it again. Steps go by ``last_act``, the newest
    act about a step, null where there is none. ``client`` is the browser window, ``action`` what it
    calls this change: one that is sent again is made once. Steps of one gesture (a drag) are one.
    """

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="changes")
    label = models.CharField(max_length=120)
    fields = models.JSONField(default=list)
    gesture = models.CharField(max_length=40, blank=True)
    author = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    client = models.CharField(max_length=32, blank=True)
    action = models.CharField(max_length=36, blank=True)
    at = models.DateTimeField(auto_now_add=True)
    of = models.ForeignKey("self", null=True, on_delete=models.CASCADE, related_name="acts")
    undone = models.BooleanField(default=False)
    undone_by = models.CharField(max_length=32, blank=True)
    forgotten = models.BooleanField(default=False)
    last_act = models.BigIntegerField(null=True)

    # The step that can be done again beside a fresh one; known where the change is recorded.
    next_step: "Change | None" = None

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["shoot", "undone"])]
