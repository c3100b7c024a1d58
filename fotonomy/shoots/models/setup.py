"""A setup: one planned shot."""

from collections.abc import Iterable
from functools import cache
from typing import Any

from django.db import models
from django.urls import reverse
from django.utils.functional import cached_property

from fotonomy.core.gear.support import Support
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.schedule import ShotSize
from fotonomy.kit.models import Accessory, Body, Filter, Lens, Profile
from fotonomy.shoots.models.day import Day, Place, Scene
from fotonomy.shoots.models.shoot import Shoot


def setup_name(code: str, title: str) -> str:
    """What a setup is called."""
    return f"{code} {title}".strip() or "Untitled setup"


class SetupRows(models.QuerySet["Setup"]):
    """Setups, and what is read along with them."""

    def with_gear(self) -> "SetupRows":
        """With what each is shot with: body, lens, profile."""
        return self.select_related("body", "lens", "profile")

    def with_ids(self) -> "SetupRows":
        """With the ids of its filters and things, so that nobody has to ask for them apart."""
        return self.annotate(
            filter_list=_ids(Setup.filters.through, "filter_id"),
            thing_list=_ids(Setup.things.through, "accessory_id"),
        )

    def planned(self) -> "SetupRows":
        """With all that planning them asks for beside the kit: place, day, filters, things."""
        return self.with_ids().select_related("place", "day")


class _Joined(models.Aggregate):
    """Numbers as a text, with commas between them."""

    function = "GROUP_CONCAT"
    output_field = models.CharField()

    def as_postgresql(self, compiler: Any, connection: Any, **more: Any) -> Any:
        """The same in the words of PostgreSQL."""
        return self.as_sql(
            compiler, connection, template="STRING_AGG(%(expressions)s::text, ',')", **more
        )


@cache
def _ids(through: Any, column: str) -> models.Subquery:
    of_setup = through.objects.filter(setup=models.OuterRef("pk")).order_by().values("setup")
    return models.Subquery(of_setup.annotate(ids=_Joined(column)).values("ids"))


def _numbers(text: str | None) -> tuple[int, ...]:
    return tuple(sorted(int(one) for one in text.split(","))) if text else ()


class Setup(models.Model):
    """One planned shot. Units stand in the names; light is the exchange format's form."""

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="setups")
    position = models.PositiveIntegerField(default=0)
    code = models.CharField(max_length=8, blank=True)
    title = models.CharField(max_length=80, blank=True)
    kind = models.CharField(
        max_length=16, choices=[(kind.value, kind.label) for kind in Kind], default=Kind.REAL_TIME
    )
    # Places and days go only when no setup is left there; a whole shoot goes with all of it.
    place = models.ForeignKey(Place, on_delete=models.RESTRICT, related_name="setups")
    day = models.ForeignKey(Day, on_delete=models.RESTRICT, related_name="setups")
    scene = models.ForeignKey(
        Scene, null=True, blank=True, on_delete=models.SET_NULL, related_name="setups"
    )
    planned_time = models.TimeField(null=True, blank=True)
    shot_size = models.CharField(
        max_length=8, blank=True, choices=[(size.value, size.label) for size in ShotSize if size]
    )
    looks_deg = models.FloatField(null=True, blank=True)
    schedule = models.JSONField(default=dict)
    light = models.JSONField()
    light_said = models.BooleanField(default=True)
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
    held_from_start = models.JSONField(default=list)
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

    objects = SetupRows.as_manager()

    def __str__(self) -> str:
        return setup_name(self.code, self.title)

    @cached_property
    def filter_ids(self) -> tuple[int, ...]:
        """Ids of the filters in front of the lens, asked for once a row."""
        if "filter_list" in self.__dict__:
            return _numbers(self.__dict__["filter_list"])
        if "filters" in getattr(self, "_prefetched_objects_cache", {}):
            return tuple(sorted(piece.pk for piece in self.filters.all()))
        used = self.filters.through.objects.filter(setup_id=self.pk)
        return tuple(sorted(used.values_list("filter_id", flat=True)))

    @cached_property
    def thing_ids(self) -> tuple[int, ...]:
        """Ids of the tubes behind the lens and of what hangs on the camera, once a row."""
        if "thing_list" in self.__dict__:
            return _numbers(self.__dict__["thing_list"])
        if "things" in getattr(self, "_prefetched_objects_cache", {}):
            return tuple(sorted(thing.pk for thing in self.things.all()))
        used = self.things.through.objects.filter(setup_id=self.pk)
        return tuple(sorted(used.values_list("accessory_id", flat=True)))

    def put_things(self, things: Iterable[Accessory]) -> None:
        """Put these tubes and devices on the camera, and no others."""
        self.things.set(things)
        for kept in ("thing_ids", "thing_list"):
            self.__dict__.pop(kept, None)

    def put_sorts(self, things: Iterable[Accessory], sorts: Iterable[str]) -> None:
        """Put these things of these sorts on the camera; what is of other sorts stays."""
        kept = [thing for thing in self.things.all() if thing.sort not in sorts]
        self.put_things([*kept, *things])

    def put_filters(self, pieces: Iterable[Filter]) -> None:
        """Put these filters in front of the lens, and no others."""
        self.filters.set(pieces)
        for kept in ("filter_ids", "filter_list"):
            self.__dict__.pop(kept, None)

    def get_absolute_url(self) -> str:
        """The bench with this setup on it."""
        return reverse("bench", args=[self.shoot_id, self.pk])
