"""What was really shot."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models
from django.db.models.signals import post_delete
from django.dispatch import receiver

from fotonomy.kit.models import Body
from fotonomy.shoots.models import Deleted, Shoot, held_rows
from fotonomy.shoots.models.deleted import remember
from fotonomy.shoots.models.held_rows import HeldRow, Rule

LONGEST_TAKE_S = 48 * 3600.0
VERDICTS = [("good", "good"), ("maybe", "maybe"), ("no_good", "no good")]


class Take(HeldRow):
    """One take of a setup, as somebody logged it at the spot."""

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="takes")
    # Made where it was logged, so that what is sent twice is there once.
    uid = models.CharField(max_length=36)
    # Not a foreign key: a take outlives its setup, and belongs to it again once that is undone.
    setup_key = models.PositiveBigIntegerField(db_index=True)
    setup_name = models.CharField(max_length=100)
    number = models.PositiveIntegerField()
    verdict = models.CharField(max_length=8, choices=VERDICTS)
    at = models.DateTimeField()
    kept_at = models.DateTimeField()
    # By how much the clock it was logged with was ahead, in seconds; ``at`` is put right.
    clock_off_s = models.FloatField(default=0.0)
    by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, blank=True,
        related_name="+",
    )  # fmt: skip
    by_name = models.CharField(max_length=80, blank=True)
    # What was planned and what differed from it, as text by setting.
    planned = models.JSONField(default=dict)
    differed = models.JSONField(default=dict, blank=True)
    why = models.JSONField(default=list, blank=True)
    clip = models.CharField(max_length=40, blank=True)
    card = models.CharField(max_length=40, blank=True)
    length_s = models.FloatField(null=True, blank=True)
    note = models.CharField(max_length=1000, blank=True)

    RULES: ClassVar[dict[str, Rule]] = {
        "setup_name": held_rows.text("the name of its setup"),
        "verdict": held_rows.one_of(dict(VERDICTS), "maybe", "its verdict"),
        "at": held_rows.moment("its moment"),
        "kept_at": held_rows.moment("when it was kept"),
        "clock_off_s": held_rows.number(-1e10, 1e10, 0.0, "its clock"),
        "planned": held_rows.texts_by_name("what was planned"),
        "differed": held_rows.texts_by_name("what was set"),
        "why": held_rows.texts("its reasons"),
        "clip": held_rows.text("its clip"),
        "card": held_rows.text("its card"),
        "length_s": held_rows.number(0, LONGEST_TAKE_S, None, "its length"),
        "note": held_rows.text("its note"),
    }

    class Meta:
        ordering = ["at", "pk"]
        constraints = [
            models.UniqueConstraint(fields=["shoot", "uid"], name="one_take_an_id_in_a_shoot")
        ]

    def __str__(self) -> str:
        return f"{self.setup_name}, take {self.number}"


@receiver(post_delete, sender=Take)
def _remember_take(instance: Take, origin: Any, **_: Any) -> None:
    remember(instance.shoot_id, Deleted.take(instance.uid), origin)


class PictureData(models.Model):
    """A preview, kept once however often it was sent; it stays while its shoot does."""

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="picture_data")
    sha256 = models.CharField(max_length=64)
    jpeg = models.BinaryField()
    # Noise and sharpness by tiles, as a PNG of 16 bits (core/pictures/tiles.py), where the
    # picture itself was looked at.
    tiles = models.BinaryField(null=True, blank=True)
    # Its bright points (core/pictures/points.py): x and y in percent, length, width, angle.
    points = models.JSONField(default=list, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["shoot", "sha256"], name="one_preview_a_picture")
        ]

    def __str__(self) -> str:
        return self.sha256[:12]


class TakePicture(HeldRow):
    """A picture of a take: a test frame, or the back of the camera. A part of the shoot."""

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="pictures")
    # Made where it was taken, so that what is sent twice is there once.
    uid = models.CharField(max_length=36)
    # Empty while nobody knows which take it is of.
    take_uid = models.CharField(max_length=36, db_index=True, blank=True)
    # Of its small copy; empty where there is none: a film, or notes alone.
    sha256 = models.CharField(max_length=64, blank=True)
    name = models.CharField(max_length=80, blank=True)
    # Of the picture itself, in pixels; the preview is smaller.
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    # What the camera wrote down (exchange/pictures.py).
    wrote = models.JSONField(default=dict, blank=True)
    # Where its readings are: areas in percent by name, and what its numbers stand for.
    marks = models.JSONField(default=dict, blank=True)
    # What somebody thinks of it: 0 nothing, 5 the one to keep, -1 not to be used.
    rating = models.SmallIntegerField(default=0)
    kept_at = models.DateTimeField()

    RULES: ClassVar[dict[str, Rule]] = {
        "name": held_rows.text("the name of a picture"),
        "wrote": held_rows.by_name("what a camera wrote"),
        "marks": held_rows.by_name("the areas of a picture"),
        "rating": held_rows.one_of(range(-1, 6), 0, "the rating of a picture"),
        "kept_at": held_rows.moment("when a picture was kept"),
    }

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["shoot", "uid"], name="one_picture_an_id_in_a_shoot")
        ]

    def __str__(self) -> str:
        return self.name or "picture"


class FrameSeen(models.Model):
    """What was seen in a frame of a run or a burst; worked out again where it is gone."""

    picture = models.OneToOneField(TakePicture, on_delete=models.CASCADE, related_name="seen")
    # The id of the frame that it was held to: another one before it, and it is seen anew.
    before_uid = models.CharField(max_length=36, blank=True)
    level_stops = models.FloatField()
    clipped_share = models.FloatField()
    right_share = models.FloatField(null=True)
    down_share = models.FloatField(null=True)
    changed_share = models.FloatField(null=True)

    def __str__(self) -> str:
        return f"{self.picture_id}: {self.level_stops:.2f} stops"


class CameraBody(models.Model):
    """Which body of a person's kit a camera is, by the number it writes; asked once."""

    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="cameras"
    )
    serial = models.CharField(max_length=40, blank=True)
    body = models.ForeignKey(Body, on_delete=models.CASCADE, related_name="+")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["owner", "serial"], name="one_body_a_camera")
        ]

    def __str__(self) -> str:
        return f"{self.serial}: {self.body}"
