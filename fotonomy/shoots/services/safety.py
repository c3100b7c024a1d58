"""Dangers that a person is told of once, before they first plan what brings them."""

from collections.abc import Iterable

from django.contrib.auth.models import User

from fotonomy.core.findings.safety import SafetyCaution
from fotonomy.shoots.models import SafetyTold


def untold(person: User, found: Iterable[SafetyCaution]) -> list[SafetyCaution]:
    """Those of the cautions that the person has not put away yet."""
    wanted = list(found)
    if not wanted:
        return []
    known = set(SafetyTold.objects.filter(user=person).values_list("caution", flat=True))
    return [one for one in wanted if one.id not in known]


def told(person: User, ids: Iterable[str]) -> None:
    """The person has read these; they stay on the card and are not put before them again."""
    SafetyTold.objects.bulk_create(
        [SafetyTold(user=person, caution=one[:24]) for one in dict.fromkeys(ids)],
        ignore_conflicts=True,
    )
