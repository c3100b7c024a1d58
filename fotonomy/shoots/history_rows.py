"""What the history keeps of a shoot that is no setup: its places, ways, days, scenes, readings of
light, and what it is by itself.
"""

from datetime import date, time
from typing import Any

from django.db import models

from fotonomy.shoots.mapping import METHODS
from fotonomy.shoots.models import Day, DayWeather, LightReading, Outline, Place, Scene, Shoot, Way

PARTS: dict[str, type[models.Model]] = {
    "place": Place, "day": Day, "scene": Scene, "way": Way, "dayweather": DayWeather,
    "lightreading": LightReading, "outline": Outline, "shoot": Shoot,
}  # fmt: skip
# What a shoot is by itself; what it packs is kept apart.
OF_SHOOT = ("name", "project_fps", *METHODS)


def keep_part(model: type[models.Model]) -> None:
    """Let the history keep rows of another app: they belong to a shoot by their ``shoot``."""
    PARTS[model.__name__.lower()] = model


# How a part belongs to its shoot, where it does not by its ``shoot``.
_BY = {"lightreading": "place__shoot", "shoot": "pk"}
_KEPT_APART = ("id", "shoot_id")

Part = Place | Day | Scene | Way | DayWeather | Outline


def key_of(row: models.Model) -> str:
    """What the history calls a part: "place-3"."""
    return f"{type(row).__name__.lower()}-{row.pk}"


def is_part(key: int | str) -> bool:
    """True for the key of a part, False for a setup's id or the packing's."""
    return isinstance(key, str) and key.partition("-")[0] in PARTS


def columns_of(model: type[models.Model]) -> tuple[str, ...]:
    """The columns of a part that can be changed."""
    if model is Shoot:
        return OF_SHOOT
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
    return rows_of(shoot, sort).filter(pk=int(pk)).first()


def rows_of(shoot: Shoot, sort: str) -> models.QuerySet[Any]:
    """The rows of a sort that belong to a shoot; for ``shoot`` it itself."""
    return PARTS[sort]._default_manager.filter(**{_BY.get(sort, "shoot"): shoot.pk})


def put_part(shoot: Shoot, key: str, data: dict[str, Any]) -> None:
    """Save a part as a snapshot says, made anew under its old id where it is gone.

    A column that the snapshot does not know stays at its default. Raises LookupError where what
    it stands in is gone.
    """
    sort, _, pk = key.partition("-")
    model = PARTS[sort]
    row = part_row(shoot, key) or _made_anew(shoot, model, int(pk), data)
    for name in columns_of(model):
        if name in data:
            field: Any = model._meta.get_field(name.removesuffix("_id"))
            setattr(row, name, field.to_python(data[name]) if data[name] is not None else None)
            if model is Shoot:
                setattr(shoot, name, getattr(row, name))
    row.save(update_fields=OF_SHOOT if model is Shoot else None)
    shoot.forget_parts()


def _made_anew(shoot: Shoot, model: type[models.Model], pk: int, data: dict[str, Any]) -> Any:
    if model is Shoot:
        raise LookupError("another shoot")
    if model is not LightReading:
        return model(pk=pk, shoot_id=shoot.pk)
    if not shoot.places.filter(pk=data["place_id"]).exists():
        raise LookupError("its place was deleted meanwhile")
    return model(pk=pk)


def drop_part(shoot: Shoot, key: str) -> None:
    """Delete a part. Raises RestrictedError where setups still stand on it."""
    row = part_row(shoot, key)
    if row is not None:
        row.delete()
    shoot.forget_parts()
