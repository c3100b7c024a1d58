"""Where and when a shoot is: places, the ways between them, days, and scenes."""

import json
from datetime import datetime, time
from typing import Any, ClassVar
from zoneinfo import ZoneInfo

from django.db import models

from fotonomy.core.constants import EV_RANGE
from fotonomy.core.sky.horizon import Horizon, HorizonPoint
from fotonomy.core.spec.setup import Site
from fotonomy.exchange.outline_files import outlines_to_geojson, read_outlines
from fotonomy.exchange.weather_files import report_from_data
from fotonomy.shoots.models import held_rows
from fotonomy.shoots.models.held_rows import HeldRow, Rule
from fotonomy.shoots.models.shoot import Shoot

MAINS_HZ = [(50, "50 Hz"), (60, "60 Hz")]


def horizon_of(pairs: Any) -> Horizon:
    """Pairs of azimuth and altitude as a horizon. Raises RuleError where it is none."""
    return Horizon(tuple(HorizonPoint(float(az), float(alt)) for az, alt in pairs))


class Place(HeldRow):
    """A spot where setups are shot."""

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="places")
    position = models.PositiveIntegerField(default=0)
    name = models.CharField(max_length=80, blank=True)
    # Both or neither; without them nothing is said of the sun.
    latitude_deg = models.FloatField("latitude", null=True, blank=True)
    longitude_deg = models.FloatField("longitude", null=True, blank=True)
    height_m = models.FloatField("height", default=0.0)
    time_zone = models.CharField(max_length=64, default="UTC")
    mains_hz = models.PositiveSmallIntegerField("mains", choices=MAINS_HZ, default=50)
    # What its lamps give after dark; None where there are none.
    own_ev100 = models.FloatField("own light", null=True, blank=True)
    # Pairs of azimuth and altitude in degrees, round with the compass.
    horizon = models.JSONField(default=list, blank=True)
    opens = models.TimeField("open from", null=True, blank=True)
    closes = models.TimeField("open until", null=True, blank=True)
    permission = models.CharField(max_length=200, blank=True)
    cautions = models.CharField(max_length=400, blank=True)
    # Rain, dew and wind do not get there.
    roofed = models.BooleanField("under a roof", default=False)
    notes = models.TextField(blank=True, max_length=4000)

    RULES: ClassVar[dict[str, Rule]] = {
        "name": held_rows.text("its name"),
        "latitude_deg": held_rows.number(-90, 90, None, "its latitude"),
        "longitude_deg": held_rows.number(-180, 180, None, "its longitude"),
        "height_m": held_rows.number(-500, 9000, 0.0, "its height"),
        "time_zone": held_rows.time_zone("its time zone"),
        "mains_hz": held_rows.one_of((50, 60), 50, "its mains"),
        "own_ev100": held_rows.number(*EV_RANGE, None, "its own light"),
        "horizon": held_rows.readable(horizon_of, list, "its horizon"),
        "permission": held_rows.text("its permission"),
        "cautions": held_rows.text("its cautions"),
        "notes": held_rows.text("its notes"),
    }

    class Meta:
        ordering = ["position", "pk"]

    def __str__(self) -> str:
        return self.name or "Unnamed place"

    @property
    def site(self) -> Site | None:
        """Where it is, None where that was not said."""
        if self.latitude_deg is None or self.longitude_deg is None:
            return None
        return Site(self.latitude_deg, self.longitude_deg)

    @property
    def zone(self) -> ZoneInfo:
        """Its zone of time."""
        return ZoneInfo(self.time_zone)

    @property
    def land(self) -> Horizon:
        """Its horizon as the core knows it."""
        return horizon_of(self.horizon)


class Way(HeldRow):
    """How long the way between two places takes, either way round."""

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="ways")
    start = models.ForeignKey(Place, on_delete=models.CASCADE, related_name="ways_from")
    end = models.ForeignKey(Place, on_delete=models.CASCADE, related_name="ways_to")
    minutes = models.FloatField()

    RULES: ClassVar[dict[str, Rule]] = {
        "minutes": held_rows.number(0, 1440, 0.0, "the minutes of a way"),
    }

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["start", "end"], name="one_way_between_two_places")
        ]

    def __str__(self) -> str:
        return f"of {self.minutes:g} min"


class Day(HeldRow):
    """A day of a shoot: its date, and from when to when people work."""

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="days")
    date = models.DateField()
    call = models.TimeField(default=time(6))
    # Earlier on the clock than the call: on the next date.
    wrap = models.TimeField(default=time(0))

    RULES: ClassVar[dict[str, Rule]] = {"date": held_rows.day("its date")}

    class Meta:
        ordering = ["date", "pk"]

    def __str__(self) -> str:
        return f"{self.date:%A} {self.date.day} {self.date:%B %Y}"

    def midnight(self, zone: ZoneInfo) -> datetime:
        """Its first moment on the clock of a place."""
        return datetime.combine(self.date, time(0), zone)


class Scene(HeldRow):
    """Setups that tell one thing: 4A and 4B are scene 4."""

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="scenes")
    position = models.PositiveIntegerField(default=0)
    code = models.CharField(max_length=6)
    title = models.CharField(max_length=80, blank=True)
    story = models.CharField(max_length=400, blank=True)

    RULES: ClassVar[dict[str, Rule]] = {
        "code": held_rows.text("its code"), "title": held_rows.text("its title"),
        "story": held_rows.text("what happens"),
    }  # fmt: skip

    class Meta:
        ordering = ["position", "pk"]

    def __str__(self) -> str:
        return f"{self.code} {self.title}".strip()


def _reports(hours: Any) -> None:
    for one in hours.values():
        report_from_data(one)


class DayWeather(HeldRow):
    """The weather of a day as somebody typed, imported or simulated it, seen from one place."""

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="weathers")
    place = models.ForeignKey(Place, on_delete=models.CASCADE, related_name="weathers")
    day = models.ForeignKey(Day, on_delete=models.CASCADE, related_name="weathers")
    # Reports by their moment in UTC, as exchange/weather_files.py writes them.
    hours = models.JSONField(default=dict, blank=True)

    RULES: ClassVar[dict[str, Rule]] = {
        "hours": held_rows.readable(_reports, dict, "the weather of a day"),
    }

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(fields=["place", "day"], name="one_weather_a_place_and_day")
        ]

    def __str__(self) -> str:
        return "weather"


def shapes_of(value: Any) -> list[dict[str, Any]]:
    """Shapes as they were read of a file. Raises ExchangeError (a ValueError) where they are none.

    What does not come from a file is held to the same reader.
    """
    return read_outlines(json.dumps(outlines_to_geojson(value)).encode())


class Outline(HeldRow):
    """Lines and areas that somebody drew under the places: a shore, walls, a path."""

    shoot = models.ForeignKey(Shoot, on_delete=models.CASCADE, related_name="outlines")
    name = models.CharField(max_length=80)
    # As exchange/outline_files.py reads them.
    shapes = models.JSONField(default=list)

    RULES: ClassVar[dict[str, Rule]] = {
        "name": held_rows.text("its name"),
        "shapes": held_rows.readable(shapes_of, list, "its shapes"),
    }

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name


class LightReading(HeldRow):
    """What somebody metered at a place, and when."""

    place = models.ForeignKey(Place, on_delete=models.CASCADE, related_name="light_readings")
    at = models.DateTimeField()
    ev100 = models.FloatField()

    RULES: ClassVar[dict[str, Rule]] = {
        "at": held_rows.moment("the moment of a reading"),
        "ev100": held_rows.number(*EV_RANGE, 0.0, "the light of a reading"),
    }

    class Meta:
        ordering = ["at"]

    def __str__(self) -> str:
        return f"of {self.at:%Y-%m-%d}"
