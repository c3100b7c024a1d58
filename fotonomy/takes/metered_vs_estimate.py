"""Light that was read at places of a shoot, against what the sky's estimate says of the moment."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import datetime

from fotonomy.core.takes.actual import off_estimate_stops
from fotonomy.shoots.mapping import daylight_of
from fotonomy.shoots.models import Day, Place, Shoot


@dataclass(frozen=True, slots=True)
class LightRead:
    """A reading: EV at ISO 100 as read and as estimated then, the sun's height, the cloud.

    ``oktas`` is None where nobody knew the cloud.
    """

    place: str
    at: datetime
    read_ev100: float
    estimated_ev100: float
    sun_deg: float
    oktas: float | None

    @property
    def off_stops(self) -> float:
        """By how much it was brighter than estimated."""
        return off_estimate_stops(self.read_ev100, self.estimated_ev100)


def light_read(shoot: Shoot, places: list[Place] | None = None) -> Iterator[LightRead]:
    """Every reading on a day of the shoot at a place whose sky is known, in order of time."""
    days = {day.date: day for day in shoot.days.all()}
    for place in places if places is not None else list(shoot.places.all()):
        for reading in place.light_readings.all():
            local = reading.at.astimezone(place.zone)
            day: Day | None = days.get(local.date())
            light = None if day is None else daylight_of(place, day)
            if day is None or light is None:
                continue
            plain = replace(light, readings=())
            oktas = None if plain.oktas is None else float(plain.cloud_at(reading.at))
            yield LightRead(
                place.name, local, reading.ev100, plain.at(reading.at).ev100,
                plain.sky.sun_at(reading.at).altitude_deg, oktas,
            )  # fmt: skip
