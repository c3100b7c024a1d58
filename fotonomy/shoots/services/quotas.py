"""How many shoots and setups one person may keep; said before it is reached."""

from django.contrib.auth.models import User
from django.db.models.expressions import Combinable

from fotonomy.kit.quotas import QuotaError, Use, allowance_of, bytes_in, kit_uses
from fotonomy.shoots.models import Change, Outline, Setup, Shoot

MOST_SETUPS_IN_SHOOT = 1000
MOST_PLACES, MOST_DAYS, MOST_SCENES = 60, 60, 300
# A place keeps so many readings of light at most.
MOST_LIGHT_READINGS = 100


def room_for_setup(shoot: Shoot) -> None:
    """Raise QuotaError where a shoot or its owner has as many setups as there may be."""
    if shoot.setups.count() >= MOST_SETUPS_IN_SHOOT:
        raise QuotaError(f"A shoot holds {MOST_SETUPS_IN_SHOOT} setups at most: make another shoot")
    most = allowance_of(shoot.owner).setups
    if Setup.objects.filter(shoot__owner=shoot.owner).count() >= most:
        raise QuotaError(f"You have {most} setups, as many as there may be: delete some")


def room_for_shoot(owner: User) -> None:
    """Raise QuotaError where a person has as many shoots as there may be."""
    most = allowance_of(owner).shoots
    if Shoot.objects.filter(owner=owner).count() >= most:
        raise QuotaError(f"You have {most} shoots, as many as there may be: delete some")


def uses_of(owner: User) -> list[Use]:
    """Everything a person keeps beside what there may be."""
    may = allowance_of(owner)
    return [
        Use("shoots", Shoot.objects.filter(owner=owner).count(), may.shoots),
        Use("setups", Setup.objects.filter(shoot__owner=owner).count(), may.setups),
        *kit_uses(owner),
    ]


def shoot_nearly_full(count: int) -> str:
    """What to say of a shoot with so many setups when it is nearly full; nothing before."""
    use = Use("setups that a shoot can hold", count, MOST_SETUPS_IN_SHOOT)
    return f"{use.words}." if use.nearly_full else ""


def shoot_bytes(owner: User) -> Combinable:
    """About the bytes of a person's setups, outlines and their history, as part of a query."""
    return bytes_in(
        Setup, owner, "light", "readings", "movement", "intent", "run", "held", "limits", "notes",
        "summary", of="shoot__owner",
    ) + bytes_in(Change, owner, "fields", of="shoot__owner") + bytes_in(
        Outline, owner, "shapes", of="shoot__owner"
    )  # fmt: skip
