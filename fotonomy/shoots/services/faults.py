"""Parts of a shoot that are stored so that they cannot be used as they are."""

from typing import Any

from fotonomy.shoots.history_rows import PARTS, rows_of
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.models.held_rows import HeldRow, fault_words


def faults_of(shoot: Shoot) -> list[str]:
    """A line for each part of a shoot that breaks a rule, with what to do about it."""
    rows: list[Any] = []
    for sort, model in PARTS.items():
        if issubclass(model, HeldRow):
            rows += rows_of(shoot, sort)
    return [f"{_name(row)}: {fault_words(row)}" for row in rows if row.faults]


def _name(row: HeldRow) -> str:
    return f"{row._meta.verbose_name} {row}".capitalize()
