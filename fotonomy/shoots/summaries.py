"""What each setup comes to in a line, kept beside its row for the running order.

A summary is forgotten when its setup, its shoot or any of its owner's gear changes, and made
anew when the running order is next shown: a shoot is planned once, not at every visit.
"""

import logging
from collections.abc import Iterable
from typing import Any

from django.db.models.signals import m2m_changed, post_delete, post_save

from fotonomy import __version__
from fotonomy.core.findings.finding import Severity
from fotonomy.core.plan import Plan, plan
from fotonomy.core.traced_numbers import plain
from fotonomy.kit.models import Body, gear_written
from fotonomy.shoots.mapping import UnplannableError, spec_of, whole_rows
from fotonomy.shoots.models import Day, DayWeather, LightReading, Place, Setup, Shoot
from fotonomy.shoots.packed_kit import GEAR, PackedKit, packed_kit

logger = logging.getLogger(__name__)


def summary_of(planned: Plan) -> dict[str, Any]:
    """How many must-fixes and cautions, the first of them, and what nobody said yet."""
    found = planned.findings
    stops = sum(finding.severity is Severity.STOP for finding in found)
    first = plain(found[0].what) if found else ""
    asks = planned.questions[0].what if planned.questions else ""
    return {
        "stops": stops, "cautions": len(found) - stops, "first": first, "asks": asks,
        "by": __version__,
    }  # fmt: skip


def fresh(kept: dict[str, Any] | None) -> dict[str, Any] | None:
    """The summary kept beside a row, if this version of the program made it."""
    known = kept is not None and kept.get("by") == __version__ and "asks" in kept
    return kept if known else None


def renew(shoot: Shoot, keys: Iterable[int]) -> dict[int, dict[str, Any]]:
    """Plan these setups of a shoot and keep their summaries; the number of queries is constant."""
    rows = list(whole_rows(shoot).filter(pk__in=list(keys)))
    packed = packed_kit(shoot)
    made = {}
    for row in rows:
        row.shoot = shoot
        made[row.pk] = row.summary = _planned(row, packed)
    Setup.objects.bulk_update(rows, ["summary"], batch_size=200)
    return made


def _planned(row: Setup, packed: PackedKit) -> dict[str, Any]:
    """The summary of a row; one that cannot be planned counts as a must-fix of its own."""
    try:
        return summary_of(plan(spec_of(row, packed)))
    except UnplannableError as error:
        words = f"cannot be planned: {error.field} {error.rule}"
    except Exception:
        # One setup that trips the planner must not take the whole running order with it.
        logger.exception("setup %s cannot be planned", row.pk)
        words = "cannot be planned"
    return {"stops": 1, "cautions": 0, "first": words, "asks": "", "by": __version__}


def forget(owners: Iterable[int]) -> None:
    """Every setup of these people has to be looked at again."""
    rows = Setup.objects.filter(shoot__owner__in=owners, summary__isnull=False)
    rows.update(summary=None)


def _gear_changed(sender: Any, instance: Any, **_: Any) -> None:
    forget([instance.owner_id])


def _gear_written(sender: Any, owners: set[int], **_: Any) -> None:
    forget(owners)


def _shoot_changed(sender: Any, instance: Any, **_: Any) -> None:
    if isinstance(instance, Shoot):
        instance.setups.filter(summary__isnull=False).update(summary=None)


def _part_changed(sender: Any, instance: Any, **_: Any) -> None:
    instance.setups.filter(summary__isnull=False).update(summary=None)


def _reading_changed(sender: Any, instance: LightReading, **_: Any) -> None:
    Setup.objects.filter(place_id=instance.place_id, summary__isnull=False).update(summary=None)


def _weather_changed(sender: Any, instance: DayWeather, **_: Any) -> None:
    # It speaks for places near by as well.
    Setup.objects.filter(day_id=instance.day_id, summary__isnull=False).update(summary=None)


def listen() -> None:
    """Forget summaries when what they rest on changes."""
    for model in GEAR:
        post_save.connect(_gear_changed, sender=model, dispatch_uid=f"saved-{model.__name__}")
        post_delete.connect(_gear_changed, sender=model, dispatch_uid=f"gone-{model.__name__}")
    m2m_changed.connect(_gear_changed, sender=Body.profiles.through, dispatch_uid="body-profiles")
    gear_written.connect(_gear_written, dispatch_uid="gear-written")
    post_save.connect(_shoot_changed, sender=Shoot, dispatch_uid="saved-shoot")
    for part in (Place, Day):
        post_save.connect(_part_changed, sender=part, dispatch_uid=f"saved-{part.__name__}")
    for signal, what in ((post_save, "saved"), (post_delete, "gone")):
        signal.connect(_reading_changed, sender=LightReading, dispatch_uid=f"{what}-reading")
        signal.connect(_weather_changed, sender=DayWeather, dispatch_uid=f"{what}-weather")
    for field in ("bodies", "lenses", "filters", "accessories"):
        through = getattr(Shoot, field).through
        m2m_changed.connect(_shoot_changed, sender=through, dispatch_uid=f"packed-{field}")
