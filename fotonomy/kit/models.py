"""What a person owns. Each model turns itself into a spec of the core."""

from typing import Any

from django.conf import settings
from django.db import models
from django.utils.functional import cached_property

from fotonomy.core import gear as spec
from fotonomy.core.curves import Bt709, Curve, ParametricLog
from fotonomy.core.density import density_to_stops


def _names(enum: type[Any]) -> list[tuple[str, str]]:
    return [(item.value, item.value.replace("_", " ")) for item in enum]


class Gear(models.Model):
    """What all gear shares: an owner, and a name unique among the owner's things of its sort."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    name = models.CharField(max_length=80)

    class Meta:
        abstract = True
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(fields=["owner", "name"], name="%(class)s_name_of_owner")
        ]

    def __str__(self) -> str:
        return self.name


class Profile(Gear):
    """A recording profile: BT.709, or a log by its seven parameters."""

    BT709, LOG = "bt709", "log"
    PARAMETERS = ("a", "b", "c", "d", "e", "f", "cut")

    curve = models.CharField(max_length=8, choices=[(BT709, "BT.709"), (LOG, "parametric log")])
    a = models.FloatField(null=True, blank=True)
    b = models.FloatField(null=True, blank=True)
    c = models.FloatField(null=True, blank=True)
    d = models.FloatField(null=True, blank=True)
    e = models.FloatField(null=True, blank=True)
    f = models.FloatField(null=True, blank=True)
    cut = models.FloatField(null=True, blank=True)
    clip_percent = models.FloatField()
    grey_percent = models.FloatField(null=True, blank=True)
    scale = models.CharField(max_length=8, choices=_names(spec.LevelScale), default="legal")
    bits = models.PositiveSmallIntegerField(default=10)
    base_iso = models.JSONField(default=list, blank=True)

    def to_curve(self) -> Curve:
        """The curve. Raises RuleError naming the parameter that is off."""
        if self.curve == self.BT709:
            return Bt709()
        given = {key: getattr(self, key) for key in self.PARAMETERS}
        return ParametricLog(name=self.name, **given)

    def to_spec(self) -> spec.Profile:
        """The profile as the core knows it."""
        return spec.Profile(
            name=self.name,
            curve=self.to_curve(),
            clip_percent=self.clip_percent,
            grey_percent=self.grey_percent,
            scale=spec.LevelScale(self.scale),
            bits=self.bits,
            base_iso=tuple(self.base_iso),
        )


class Body(Gear):
    """A camera body with one recording format."""

    sensor_width_mm = models.FloatField()
    sensor_height_mm = models.FloatField()
    width_px = models.PositiveIntegerField()
    height_px = models.PositiveIntegerField()
    rates = models.JSONField(help_text="list of [frames a second, Mb/s]")
    drive_rates_fps = models.JSONField(default=list, blank=True)
    shutter_style = models.CharField(max_length=8, choices=_names(spec.ShutterStyle))
    angles_deg = models.JSONField(default=list, blank=True)
    slowest_s = models.FloatField(default=30.0)
    fastest_s = models.FloatField(default=1 / 8000)
    iso_lowest = models.PositiveIntegerField(default=100)
    iso_highest = models.PositiveIntegerField(default=25_600)
    iso_ceiling = models.PositiveIntegerField(default=12_800)
    profiles = models.ManyToManyField(Profile, blank=True)
    card_gb = models.FloatField(default=128.0)
    still_mb = models.FloatField(default=25.0)

    class Meta(Gear.Meta):
        verbose_name = "camera body"
        verbose_name_plural = "camera bodies"

    @cached_property
    def profile_names(self) -> tuple[str, ...]:
        """Names of the profiles it records, asked for once a row."""
        return tuple(profile.name for profile in self.profiles.all())

    def to_spec(self) -> spec.Body:
        """The body as the core knows it."""
        return self.to_spec_with(self.profile_names)

    def to_spec_with(self, profiles: tuple[str, ...]) -> spec.Body:
        """The body with these profile names: a row not saved yet has none of its own."""
        return spec.Body(
            name=self.name,
            sensor_width_mm=self.sensor_width_mm,
            sensor_height_mm=self.sensor_height_mm,
            width_px=self.width_px,
            height_px=self.height_px,
            rates=tuple(spec.RecordingRate(fps, mb_s) for fps, mb_s in self.rates),
            drive_rates_fps=tuple(self.drive_rates_fps),
            shutter_style=spec.ShutterStyle(self.shutter_style),
            angles_deg=tuple(self.angles_deg),
            slowest_s=self.slowest_s,
            fastest_s=self.fastest_s,
            iso_lowest=self.iso_lowest,
            iso_highest=self.iso_highest,
            iso_ceiling=self.iso_ceiling,
            profiles=profiles,
            card_gb=self.card_gb,
            still_mb=self.still_mb,
        )


class Lens(Gear):
    """A lens, fixed or zoom."""

    focal_shortest_mm = models.FloatField()
    focal_longest_mm = models.FloatField()
    widest_f = models.FloatField()
    smallest_f = models.FloatField()
    transmission_stops = models.FloatField(default=0.0)
    thread_mm = models.FloatField(null=True, blank=True)

    class Meta(Gear.Meta):
        verbose_name_plural = "lenses"

    def to_spec(self) -> spec.Lens:
        """The lens as the core knows it."""
        return spec.Lens(
            name=self.name,
            focal_shortest_mm=self.focal_shortest_mm,
            focal_longest_mm=self.focal_longest_mm,
            widest_f=self.widest_f,
            smallest_f=self.smallest_f,
            transmission_stops=self.transmission_stops,
            thread_mm=self.thread_mm,
        )


class Filter(Gear):
    """A piece of glass: density for ND (the least of a variable one), stops for the rest."""

    KNOB_KINDS = (spec.GlassKind.ND.value, spec.GlassKind.VARIABLE_ND.value)

    kind = models.CharField(max_length=12, choices=_names(spec.GlassKind))
    density = models.FloatField(null=True, blank=True)
    most_density = models.FloatField(null=True, blank=True)
    loss_stops = models.FloatField(null=True, blank=True)
    thread_mm = models.FloatField(null=True, blank=True)

    def to_spec(self) -> spec.Glass:
        """The filter as the core knows it."""
        kind = spec.GlassKind(self.kind)
        by_density = self.kind in self.KNOB_KINDS
        stops = density_to_stops(self.density or 0.0) if by_density else self.loss_stops or 0.0
        most = self.most_density if kind is spec.GlassKind.VARIABLE_ND else None
        return spec.Glass(
            name=self.name,
            kind=kind,
            stops=stops,
            most_stops=None if most is None else density_to_stops(most),
            thread_mm=self.thread_mm,
        )
