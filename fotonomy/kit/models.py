"""What a person owns. Each model turns itself into a spec of the core."""

from collections.abc import Iterable
from typing import Any, ClassVar, Self

from cattrs import BaseValidationError
from django.conf import settings
from django.db import models
from django.dispatch import Signal
from django.utils.functional import cached_property

from fotonomy.core.curves.transfer_functions import STANDARDS, Curve, ParametricLog, Tabulated
from fotonomy.core.gear import body as body_spec
from fotonomy.core.gear import lens as lens_spec
from fotonomy.core.gear import profile as profile_spec
from fotonomy.core.gear.accessories import Battery, Card, Counting, Device, Feed, Heater, Remote
from fotonomy.core.gear.filters import Filter as FilterSpec
from fotonomy.core.gear.filters import FilterKind, Holder, MatteBox, Mount, StepRing
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.gear.support import Support
from fotonomy.core.lamps.lamp import Fixture
from fotonomy.exchange.converter import from_data


def _names(enum: type[Any]) -> list[tuple[str, str]]:
    return [(item.value, item.value.replace("_", " ")) for item in enum]


# Sent where rows of gear were written past ``save``: ``owners`` are the ids of whose they are.
gear_written = Signal()


class GearRows(models.QuerySet[Any]):
    """Things of a kit; whoever writes many at once tells it, as ``save`` tells of one."""

    def update(self, **values: Any) -> int:
        """As Django's, and those who keep something of these kits are told."""
        owners = set(self.order_by().values_list("owner_id", flat=True))
        done = super().update(**values)
        gear_written.send(self.model, owners=owners)
        return done

    def bulk_create(self, objs: Iterable[Any], *arguments: Any, **more: Any) -> list[Any]:
        """As Django's, and those who keep something of these kits are told."""
        made = super().bulk_create(objs, *arguments, **more)
        gear_written.send(self.model, owners={row.owner_id for row in made})
        return made


class Gear(models.Model):
    """What all gear shares: an owner, and a name unique among the owner's things of its sort."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    name = models.CharField(max_length=80)

    objects = GearRows.as_manager()

    class Meta:
        abstract = True
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(fields=["owner", "name"], name="%(class)s_name_of_owner")
        ]

    def __str__(self) -> str:
        return self.name

    def to_spec(self) -> Any:
        """The thing as the core knows it. Raises RuleError naming what is off."""
        raise NotImplementedError

    @property
    def usable(self) -> bool:
        """False for a thing that breaks a rule: its page says which, and no plan trips over it."""
        try:
            self.to_spec()
        except (ValueError, TypeError, LookupError, ArithmeticError, BaseValidationError):
            return False
        return True


class Allowance(models.Model):
    """How much one person may keep, where the staff has set it; else these are the limits."""

    owner = models.OneToOneField(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="allowance"
    )
    shoots = models.PositiveIntegerField(default=300)
    setups = models.PositiveIntegerField("setups in all", default=5000)
    things = models.PositiveIntegerField("things of each sort in the kit", default=400)
    megabytes = models.PositiveIntegerField("megabytes in all", default=200)

    objects: ClassVar[models.Manager[Self]] = models.Manager()

    def __str__(self) -> str:
        return "what this person may keep"


class Profile(Gear):
    """A recording profile: a standard curve, a log by its seven parameters, or a table."""

    LOG, TABLE = "log", "table"
    CURVES = [
        *((key, curve.name) for key, curve in STANDARDS.items()),
        (LOG, "parametric log"),
        (TABLE, "a table"),
    ]
    PARAMETERS = ("a", "b", "c", "d", "e", "f", "cut")

    curve = models.CharField(max_length=8, choices=CURVES, default="bt709")
    a = models.FloatField(null=True, blank=True)
    b = models.FloatField(null=True, blank=True)
    c = models.FloatField(null=True, blank=True)
    d = models.FloatField(null=True, blank=True)
    e = models.FloatField(null=True, blank=True)
    f = models.FloatField(null=True, blank=True)
    cut = models.FloatField(null=True, blank=True)
    table = models.JSONField(null=True, blank=True)
    table_source = models.CharField(max_length=120, blank=True)
    purpose = models.CharField("what it is for", max_length=120, blank=True)
    clip_percent = models.FloatField()
    grey_percent = models.FloatField(null=True, blank=True)
    skin_percent = models.FloatField(null=True, blank=True)
    scale = models.CharField(max_length=8, choices=_names(profile_spec.LevelScale), default="legal")
    bits = models.PositiveSmallIntegerField(default=10)
    base_iso = models.JSONField(default=list, blank=True)

    def to_curve(self) -> Curve:
        """The curve. Raises RuleError naming the parameter that is off."""
        if self.curve in STANDARDS:
            return STANDARDS[self.curve]
        if self.curve == self.TABLE:
            table = self.table or {"linear": (), "signal": ()}
            return Tabulated(
                name=self.name, linear=tuple(table["linear"]), signal=tuple(table["signal"])
            )
        given = {key: getattr(self, key) for key in self.PARAMETERS}
        return ParametricLog(name=self.name, **given)

    def to_spec(self) -> profile_spec.Profile:
        """The profile as the core knows it."""
        return profile_spec.Profile(
            name=self.name,
            curve=self.to_curve(),
            clip_percent=self.clip_percent,
            grey_percent=self.grey_percent,
            skin_percent=self.skin_percent,
            purpose=self.purpose,
            scale=profile_spec.LevelScale(self.scale),
            bits=self.bits,
            base_iso=tuple(self.base_iso),
        )


class Body(Gear):
    """A camera body; its formats and drive modes are lists in the kit file's form."""

    formats = models.JSONField()
    drive_modes = models.JSONField(default=list, blank=True)
    shutter_style = models.CharField(
        max_length=8,
        choices=_names(body_spec.ShutterStyle),
        default=body_spec.ShutterStyle.TIME.value,
    )
    angles_deg = models.JSONField(default=list, blank=True)
    slowest_s = models.FloatField(default=30.0)
    fastest_s = models.FloatField(default=1 / 8000)
    iso_lowest = models.PositiveIntegerField(default=100)
    iso_highest = models.PositiveIntegerField(default=25_600)
    iso_extended_lowest = models.PositiveIntegerField(null=True, blank=True)
    iso_extended_highest = models.PositiveIntegerField(null=True, blank=True)
    iso_ceiling = models.PositiveIntegerField(default=12_800)
    profiles = models.ManyToManyField(Profile, blank=True)
    nd_wheel = models.JSONField(default=list, blank=True)
    stabiliser_stops = models.FloatField(default=0.0)
    power_w = models.FloatField(null=True, blank=True)
    card_gb = models.FloatField(default=128.0)
    still_mb = models.FloatField(default=25.0)
    mount = models.CharField("lens mount", max_length=40, blank=True)
    idle_w = models.FloatField(null=True, blank=True)
    jpeg_mb = models.FloatField(default=8.0)
    still_mp = models.FloatField(null=True, blank=True)
    combines_most = models.PositiveSmallIntegerField(default=1)
    combines_averaging = models.BooleanField("averages them too", default=False)
    full_well_e = models.FloatField(null=True, blank=True)
    read_low_e = models.FloatField(null=True, blank=True)
    read_high_e = models.FloatField(null=True, blank=True)
    prnu_share = models.FloatField(null=True, blank=True)
    still_height_mm = models.FloatField(null=True, blank=True)
    longest_bulb_s = models.FloatField(null=True, blank=True)
    fixed_lens = models.BooleanField("its lens does not come off", default=False)
    sensor_source = models.CharField(max_length=160, blank=True)

    # Columns that are fields of the core's Sensor under the same name.
    SENSOR = ("full_well_e", "read_low_e", "read_high_e", "prnu_share")
    # Columns that are fields of the core's Body under the same name.
    PLAIN = (
        "name", "slowest_s", "fastest_s", "iso_lowest", "iso_highest", "iso_extended_lowest",
        "iso_extended_highest", "iso_ceiling", "stabiliser_stops", "power_w", "card_gb",
        "still_mb", "mount", "idle_w", "jpeg_mb", "still_mp", "combines_most",
        "combines_averaging", "still_height_mm", "longest_bulb_s", "fixed_lens",
    )  # fmt: skip

    class Meta(Gear.Meta):
        verbose_name = "camera body"
        verbose_name_plural = "camera bodies"

    @cached_property
    def profile_names(self) -> tuple[str, ...]:
        """Names of the profiles it records, asked for once a row."""
        return tuple(profile.name for profile in self.profiles.all())

    def to_spec(self) -> body_spec.Body:
        """The body as the core knows it."""
        return self.to_spec_with(self.profile_names)

    def to_spec_with(self, profiles: tuple[str, ...]) -> body_spec.Body:
        """The body with these profile names: a row not saved yet has none of its own."""
        return body_spec.Body(
            **{name: getattr(self, name) for name in self.PLAIN},
            formats=tuple(from_data(entry, body_spec.RecordingFormat) for entry in self.formats),
            drive_modes=tuple(body_spec.DriveMode(**mode) for mode in self.drive_modes),
            shutter_style=body_spec.ShutterStyle(self.shutter_style),
            angles_deg=tuple(self.angles_deg),
            nd_wheel=tuple(self.nd_wheel),
            profiles=profiles,
            sensor=body_spec.Sensor(**{name: getattr(self, name) for name in self.SENSOR}),
        )


class Lens(Gear):
    """A lens, fixed or zoom."""

    focal_shortest_mm = models.FloatField()
    focal_longest_mm = models.FloatField()
    widest_f = models.FloatField()
    widest_long_f = models.FloatField(null=True, blank=True)
    smallest_f = models.FloatField()
    transmission_stops = models.FloatField(default=0.0)
    thread_mm = models.FloatField(null=True, blank=True)
    close_focus_m = models.FloatField(null=True, blank=True)
    greatest_magnification = models.FloatField(null=True, blank=True)
    stabiliser_stops = models.FloatField(default=0.0)
    squeeze = models.FloatField(default=1.0)
    mount = models.CharField("lens mount", max_length=40, blank=True)

    PLAIN = (
        "name", "focal_shortest_mm", "focal_longest_mm", "widest_f", "widest_long_f",
        "smallest_f", "transmission_stops", "thread_mm", "close_focus_m",
        "greatest_magnification", "stabiliser_stops", "squeeze", "mount",
    )  # fmt: skip

    class Meta(Gear.Meta):
        verbose_name_plural = "lenses"

    def to_spec(self) -> lens_spec.Lens:
        """The lens as the core knows it."""
        return lens_spec.Lens(**{name: getattr(self, name) for name in self.PLAIN})


class Filter(Gear):
    """A piece of glass: density for ND (the least of a variable one), stops for the rest."""

    KNOB_KINDS = (FilterKind.ND.value, FilterKind.VARIABLE_ND.value)

    kind = models.CharField(max_length=12, choices=_names(FilterKind), default=FilterKind.ND.value)
    density = models.FloatField(null=True, blank=True)
    most_density = models.FloatField(null=True, blank=True)
    loss_stops = models.FloatField(null=True, blank=True)
    mount = models.CharField(max_length=8, choices=_names(Mount), default=Mount.THREAD.value)
    thread_mm = models.FloatField(null=True, blank=True)

    def to_spec(self) -> FilterSpec:
        """The filter as the core knows it."""
        kind = FilterKind(self.kind)
        by_density = self.kind in self.KNOB_KINDS
        stops = density_to_stops(self.density or 0.0) if by_density else self.loss_stops or 0.0
        most = self.most_density if kind is FilterKind.VARIABLE_ND else None
        return FilterSpec(
            name=self.name,
            kind=kind,
            stops=stops,
            most_stops=None if most is None else density_to_stops(most),
            thread_mm=self.thread_mm,
            mount=Mount(self.mount),
        )


class Accessory(Gear):
    """What holds glass, lengthens a lens, carries the camera, or hangs on it."""

    RING, BOX, TUBE, SUPPORT = "step_ring", "matte_box", "tube", "support"
    REMOTE, CARD, BATTERY, HEATER = "remote", "card", "battery", "heater"
    LAMP = "lamp"
    SORTS = [(RING, "step ring"), (BOX, "matte box"), (TUBE, "extension tube"),
             (SUPPORT, "support"), (REMOTE, "remote"), (CARD, "card"),
             (BATTERY, "battery or pack"), (HEATER, "lens heater, monitor or phone"),
             (LAMP, "lamp")]  # fmt: skip
    HOLDERS = (RING, BOX)
    DEVICES = (REMOTE, CARD, BATTERY, HEATER)

    sort = models.CharField(max_length=10, choices=SORTS, default=RING)
    lens_mm = models.FloatField(null=True, blank=True)
    filter_mm = models.FloatField(null=True, blank=True)
    length_mm = models.FloatField(null=True, blank=True)
    support = models.CharField(max_length=10, blank=True, choices=_names(Support))
    counting = models.CharField(
        max_length=16, choices=[(way.value, way.label) for way in Counting],
        default=Counting.START_TO_START.value,
    )  # fmt: skip
    waits_first = models.BooleanField(default=False)
    most_count = models.PositiveIntegerField(null=True, blank=True)
    unlimited = models.BooleanField(default=True)
    sure_count = models.PositiveIntegerField(null=True, blank=True)
    step_s = models.FloatField(default=1.0)
    size_gb = models.FloatField(null=True, blank=True)
    write_mb_s = models.FloatField(null=True, blank=True)
    energy_wh = models.FloatField(null=True, blank=True)
    external = models.BooleanField(default=False)
    count = models.PositiveSmallIntegerField(default=1)
    loss_percent = models.FloatField(default=0.0)
    fed_by = models.CharField(
        max_length=8, choices=[(way.value, way.label) for way in Feed], default=Feed.PACK.value
    )
    power_w = models.FloatField(null=True, blank=True)
    lux_1m = models.FloatField(null=True, blank=True)
    size_m = models.FloatField(null=True, blank=True)

    # Columns that are fields of the core's devices under the same name, by sort.
    PLAIN: dict[str, tuple[str, ...]] = {
        REMOTE: ("waits_first", "most_count", "unlimited", "sure_count", "step_s"),
        CARD: ("size_gb", "write_mb_s"),
        BATTERY: ("energy_wh", "external", "count", "loss_percent"),
        HEATER: ("power_w",),
    }

    class Meta(Gear.Meta):
        verbose_name_plural = "accessories"

    def to_device(self) -> Device:
        """The accessory as a device of the core. Raises RuleError naming what is off."""
        given: dict[str, Any] = {name: getattr(self, name) for name in self.PLAIN[self.sort]}
        match self.sort:
            case self.REMOTE:
                return Remote(name=self.name, counting=Counting(self.counting), **given)
            case self.CARD:
                return Card(name=self.name, **given)
            case self.BATTERY:
                return Battery(name=self.name, **given)
        return Heater(name=self.name, fed_by=Feed(self.fed_by), **given)

    def to_spec(self) -> Holder | lens_spec.Tube | Support | Device | Fixture:
        """The accessory as the core knows it; a matte box's largest thread is ``lens_mm``."""
        match self.sort:
            case self.RING:
                return StepRing(
                    name=self.name, lens_mm=self.lens_mm or 0.0, filter_mm=self.filter_mm or 0.0
                )
            case self.BOX:
                return MatteBox(name=self.name, largest_mm=self.lens_mm or 0.0)
            case self.TUBE:
                return lens_spec.Tube(name=self.name, length_mm=self.length_mm or 0.0)
            case self.LAMP:
                return Fixture(
                    name=self.name, lux_at_1m=self.lux_1m or 0.0, size_m=self.size_m or 0.1
                )
            case sort if sort in self.DEVICES:
                return self.to_device()
        return Support(self.support)


class KitChange(models.Model):
    """One step of a person's changes of the kit, field by field."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    label = models.CharField(max_length=120)
    at = models.DateTimeField(auto_now_add=True)
    # Sort, id, field, value before and value after of each.
    fields = models.JSONField(default=list)
    undone = models.BooleanField(default=False)

    objects: ClassVar[models.Manager[Self]] = models.Manager()

    def __str__(self) -> str:
        return self.label


class FirstSteps(models.Model):
    """How far a person came in entering their first own gear."""

    owner = models.OneToOneField(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="first_steps"
    )
    sensor = models.CharField(max_length=12, blank=True)
    project_fps = models.FloatField(default=25.0)
    body = models.ForeignKey(Body, null=True, on_delete=models.SET_NULL, related_name="+")
    lens = models.ForeignKey(Lens, null=True, on_delete=models.SET_NULL, related_name="+")

    objects: ClassVar[models.Manager[Self]] = models.Manager()

    def __str__(self) -> str:
        return "first steps"
