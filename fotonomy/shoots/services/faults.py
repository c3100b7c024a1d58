"""Parts of a shoot that are stored so that they cannot be used as they are."""

from typing import Any

from fotonomy.shoots.history_rows import PARTS
from fotonomy.shoots.models import LightReading, Shoot
from fotonomy.shoots.models.held_rows import HeldRow, fault_words


def faults_of(shoot: Shoot) -> list[str]:
    """A line for each part of a shoot that breaks a rule, with what to do about it."""
    rows: list[Any] = []
    for model in PARTS.values():
        if issubclass(model, HeldRow):
            found: Any = model._default_manager
            rows += found.filter(shoot=shoot)
    rows += LightReading.objects.filter(place__shoot=shoot)
    return [f"{_name(row)}: {fault_words(row)}" for row in rows if row.faults]


def _name(row: HeldRow) -> str:
    return f"{row._meta.verbose_name} {row}".capitalize()
