"""A shoot, and who acts on it."""

from dataclasses import dataclass
from datetime import date
from typing import Any
from uuid import uuid4

from django.conf import settings
from django.contrib.auth.models import User
from django.db import models
from django.urls import reverse
from django.utils.functional import cached_property

from fotonomy.core.spec.intent import Circle, ExposureMethod, Handheld, Look, WhiteMethod
from fotonomy.kit.models import Accessory, Body, Filter, Lens


def methods(method: type[Any]) -> list[tuple[str, str]]:
    """Choices of a method, or of anything else that has values and labels."""
    return [(item.value, item.label) for item in method]


class Role(models.TextChoices):
    """What somebody may do with a shoot, each with all before it."""

    SEES = "sees", "sees"
    LOGS = "logs", "logs"
    PLANS = "plans", "plans"
    OWNS = "owns", "owns"

    def allows(self, needed: "Role") -> bool:
        """True where this role may do what the needed one may."""
        ranks = list(Role)
        return ranks.index(self) >= ranks.index(needed)


@dataclass(frozen=True, slots=True)
class Actor:
    """Who acts: a person, the browser window they do it in and what it calls this change.

    Window and change have no name without scripts. ``role`` is what they may do with the shoot.
    """

    author: User | None = None
    client: str = ""
    action: str = ""
    role: Role = Role.OWNS

    @property
    def logs(self) -> bool:
        """True for those who may log takes and readings."""
        return self.role.allows(Role.LOGS)

    @property
    def plans(self) -> bool:
        """True for those who may change the plan."""
        return self.role.allows(Role.PLANS)

    @property
    def owns(self) -> bool:
        """True for the owner."""
        return self.role is Role.OWNS


def new_stamp() -> str:
    """A stamp that nothing had before."""
    return uuid4().hex


class Shoot(models.Model):
    """One production: days at places, with its edit frame rate.

    It has at least one place and one day from the moment it is made (services/shoots.py).
    """

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    name = models.CharField(max_length=80)
    project_fps = models.FloatField("edit frame rate", default=25.0)
    look = models.CharField(
        "shutter method", max_length=16, choices=methods(Look), default=Look.HALF_PERIOD.value
    )
    handheld = models.CharField(
        "handheld method", max_length=24, choices=methods(Handheld), default=Handheld.FOCAL.value
    )
    circle = models.CharField(
        "what counts as sharp", max_length=16, choices=methods(Circle),
        default=Circle.DIAGONAL.value,
    )  # fmt: skip
    exposing = models.CharField(
        "exposure method",
        max_length=12,
        choices=methods(ExposureMethod),
        default=ExposureMethod.GREY.value,
    )
    white_school = models.CharField(
        "white balance method", max_length=12, choices=methods(WhiteMethod),
        default=WhiteMethod.READ.value,
    )  # fmt: skip
    packs_all = models.BooleanField("take the whole kit", default=True)
    bodies = models.ManyToManyField(Body, blank=True, related_name="shoots")
    lenses = models.ManyToManyField(Lens, blank=True, related_name="shoots")
    filters = models.ManyToManyField(Filter, blank=True, related_name="shoots")
    accessories = models.ManyToManyField(Accessory, blank=True, related_name="shoots")

    # Another one whenever its owner's kit or its packing changes (packed_kit.py).
    kit_stamp = models.CharField(max_length=32, default=new_stamp, editable=False)

    # False where nothing was undone that could be done again; None where nobody looked.
    has_undone: bool | None = None
    # The newest row of the log when this was read: what a page shows of the shoot is read after it,
    # so that no change falls between. None where nobody asked.
    seen: int | None = None
    # Who acts on it in this request; the history names them.
    actor = Actor()

    class Meta:
        ordering = ["name", "pk"]

    def __str__(self) -> str:
        return self.name

    def get_absolute_url(self) -> str:
        """The shoot's first setup, or its empty page."""
        return reverse("shoot", args=[self.pk])

    @cached_property
    def places_by_id(self) -> dict[int, Any]:
        """Its places in order, by id; asked for once."""
        return {place.pk: place for place in self.places.all()}

    @cached_property
    def days_by_id(self) -> dict[int, Any]:
        """Its days in order, by id; asked for once."""
        return {day.pk: day for day in self.days.all()}

    @property
    def main_place(self) -> Any:
        """The first of its places."""
        return next(iter(self.places_by_id.values()))

    @property
    def first_day(self) -> Any:
        """The earliest of its days."""
        return next(iter(self.days_by_id.values()))

    @property
    def date(self) -> date:
        """The date of its first day."""
        return self.first_day.date  # type: ignore[no-any-return]

    def forget_parts(self) -> None:
        """Ask for places and days again where they are next needed."""
        self.__dict__.pop("places_by_id", None)
        self.__dict__.pop("days_by_id", None)
        for name in ("places", "days"):
            self.__dict__.get("_prefetched_objects_cache", {}).pop(name, None)
