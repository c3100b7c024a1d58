"""A day worked out ahead, so that a phone without a network only has to look things up."""

from datetime import datetime
from typing import Any

from django.urls import reverse

from fotonomy.core.field.relight import Relit, worked_out_ahead
from fotonomy.core.photometry.exposure_value import ev100_of
from fotonomy.core.photometry.named_light import ev_by_name
from fotonomy.days.planning import PlannedDay
from fotonomy.field.intake import planned_texts
from fotonomy.field.presenters.card import order_of


def ahead_of(planned: PlannedDay, now: datetime) -> dict[str, Any]:
    """Every setup of a day in light from six stops under the planned to four over, in thirds.

    ``steps`` are in that order, each with its EV; ``names`` are lights by name, for those who
    read no meter. ``set`` of a way is what the card shows otherwise then.
    """
    setups = {}
    for block in order_of(planned):
        spec = planned.specs[block.key]
        base = ev100_of(spec.light)
        setups[str(block.key)] = {
            "name": block.name, "ev": round(base, 2), "planned": planned_texts(spec),
            "steps": [step_of(found) for found in worked_out_ahead(spec)],
        }  # fmt: skip
    return {
        "made": now.isoformat(), "day": planned.day.pk, "date": planned.day.date.isoformat(),
        "setups": setups,
        "names": ev_by_name(),
    }  # fmt: skip


def step_of(found: Relit) -> dict[str, Any]:
    """One light of a setup as data: whether the plan fits, and the ways."""
    step: dict[str, Any] = {"ev": round(found.ev100, 2)}
    if found.fits:
        return {**step, "fits": True}
    if found.hopeless:
        step["left"] = round(found.left_stops, 1)
    step["ways"] = [
        {
            "words": way.words, "costs": list(way.costs), "set": dict(way.shown),
            **({"best": True} if way.best else {}), **({"held": True} if way.moves_held else {}),
        }
        for way in found.ways
    ]  # fmt: skip
    return step


def addresses_of(planned: PlannedDay) -> list[str]:
    """Every page of a day that a phone keeps, the list first."""
    shoot, day = planned.shoot.pk, planned.day.pk
    found = [
        reverse("field-day", args=[shoot, day]), reverse("field-remains", args=[shoot, day]),
    ]  # fmt: skip
    for block in order_of(planned):
        found += [
            reverse(name, args=[shoot, block.key])
            for name in ("field-card", "field-light", "field-take")
        ]
    return found
