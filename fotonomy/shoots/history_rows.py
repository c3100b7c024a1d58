"""Parts of a shoot that are no setups: places, ways, days, scenes, as the history keeps them."""

from datetime import date, time
from typing import Any

from django.db import models

from fotonomy.shoots.models import Day, DayWeather, Place, Scene, Shoot, Way

PARTS: dict[str, type[models.Model]] = {
    "place": Place, "day": Day, "scene": Scene, "way": Way, "dayweather": DayWeather,
}  # fmt: skip


def keep_part(model: type[models.Model]) -> None:
    """Let the history keep rows of another app: they belong to a shoot by their ``shoot``."""
    PARTS[model.__name__.lower()] = model


_KEPT_APART = ("id", "shoot_id")

Part = Place | Day | Scene | Way | DayWeather


def key_of(row: models.Model) -> str:
    """What the history calls a part: "place-3"."""
    return f"{type(row).__name__.lower()}-{row.pk}"


def is_part(key: int | str) -> bool:
    """True for the key of a part, False for a setup's id or the packing's."""
    return isinstance(key, str) and key.partition("-")[0] in PARTS


def columns_of(model: type[models.Model]) -> tuple[str, ...]:
    """The columns of a part that can be changed."""
    names = (field.attname for field in model._meta.concrete_fields)
    return tuple(name for name in names if name not in _KEPT_APART)


def part_snapshot(row: models.Model) -> dict[str, Any]:
    """A part as JSON data."""
    return {name: _plain(getattr(row, name)) for name in columns_of(type(row))}


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, date | time) else value


def part_row(shoot: Shoot, key: str) -> Any:
    """The row of a part's key, None where it is not there any more."""
    sort, _, pk = key.partition("-")
    return PARTS[sort]._default_manager.filter(shoot=shoot, pk=int(pk)).first()


def put_part(shoot: Shoot, key: str, data: dict[str, Any]) -> None:
    """Save a part as a snapshot says, made anew under its old id where it is gone.

    A column that the snapshot does not know stays at its default.
    """
    sort, _, pk = key.partition("-")
    model = PARTS[sort]
    row = part_row(shoot, key) or model(pk=int(pk), shoot_id=shoot.pk)
    for name in columns_of(model):
        if name in data:
            field: Any = model._meta.get_field(name.removesuffix("_id"))
            setattr(row, name, field.to_python(data[name]) if data[name] is not None else None)
    row.save()
    shoot.forget_parts()


def drop_part(shoot: Shoot, key: str) -> None:
    """Delete a part. Raises RestrictedError where setups still stand on it."""
    row = part_row(shoot, key)
    if row is not None:
        row.delete()
    shoot.forget_parts()
