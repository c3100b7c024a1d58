"""What a camera of a sensor size usually has, to begin a kit with.

Sizes are those of the formats' names (36 × 24 mm, 17.3 × 13 mm and so on) cut to 16:9; the rest is
common practice, no source, and meant to be changed.
"""

from dataclasses import dataclass
from enum import StrEnum


class SensorClass(StrEnum):
    """A size of sensor by the name people use."""

    FULL = "full"
    CROP = "crop"
    FOUR_THIRDS = "four_thirds"
    INCH = "inch"
    PHONE = "phone"


@dataclass(frozen=True, slots=True, kw_only=True)
class Usual:
    """What is usual for a sensor size.

    ``width_mm`` and ``height_mm`` are the area of 16:9 video, ``iso_ceiling`` the highest ISO most
    people can live with, ``log_base_iso`` the base ISO of its log. The lens is the one such a
    camera is usually sold with; ``thread_mm`` is None where glass is not screwed on.
    """

    label: str
    said: str
    width_mm: float
    height_mm: float
    iso_highest: int
    iso_ceiling: int
    log_base_iso: int
    focal_mm: tuple[float, float]
    widest_f: float
    thread_mm: float | None


USUAL: dict[SensorClass, Usual] = {
    SensorClass.FULL: Usual(
        label="Full frame", said="36 mm wide", width_mm=36.0, height_mm=20.25, iso_highest=51_200,
        iso_ceiling=12_800, log_base_iso=800, focal_mm=(24, 70), widest_f=2.8, thread_mm=82,
    ),
    SensorClass.CROP: Usual(
        label="APS-C or Super 35", said="about 23.5 mm wide", width_mm=23.5, height_mm=13.2,
        iso_highest=25_600, iso_ceiling=6400, log_base_iso=800, focal_mm=(16, 55), widest_f=2.8,
        thread_mm=67,
    ),
    SensorClass.FOUR_THIRDS: Usual(
        label="Four Thirds", said="17.3 mm wide", width_mm=17.3, height_mm=9.73,
        iso_highest=25_600, iso_ceiling=3200, log_base_iso=400, focal_mm=(12, 40), widest_f=2.8,
        thread_mm=62,
    ),
    SensorClass.INCH: Usual(
        label="1 inch", said="13.2 mm wide: compacts, some drones", width_mm=13.2, height_mm=7.43,
        iso_highest=12_800, iso_ceiling=1600, log_base_iso=400, focal_mm=(8.8, 25.7), widest_f=2.8,
        thread_mm=None,
    ),
    SensorClass.PHONE: Usual(
        label="Phone", said="about 9.8 mm wide", width_mm=9.8, height_mm=5.5, iso_highest=6400,
        iso_ceiling=800, log_base_iso=100, focal_mm=(6.8, 6.8), widest_f=1.8, thread_mm=None,
    ),
}  # fmt: skip
