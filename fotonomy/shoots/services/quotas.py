"""How much one person may keep on a server that others use too; said before it is reached."""

from django.contrib.auth.models import User

from fotonomy.shoots.models import Setup, Shoot

MOST_SHOOTS = 300
MOST_SETUPS_IN_SHOOT = 1000
MOST_SETUPS = 5000
# From this share on the page says how much is left.
SAID_FROM = 0.9


class QuotaError(ValueError):
    """There is no room for one more; the words say of what and how many there may be."""


def room_for_setup(shoot: Shoot) -> None:
    """Raise QuotaError where a shoot or its owner has as many setups as there may be."""
    if shoot.setups.count() >= MOST_SETUPS_IN_SHOOT:
        raise QuotaError(f"A shoot holds {MOST_SETUPS_IN_SHOOT} setups at most: make another shoot")
    if Setup.objects.filter(shoot__owner=shoot.owner).count() >= MOST_SETUPS:
        raise QuotaError(f"You have {MOST_SETUPS} setups, as many as there may be: delete some")


def room_for_shoot(owner: User) -> None:
    """Raise QuotaError where a person has as many shoots as there may be."""
    if Shoot.objects.filter(owner=owner).count() >= MOST_SHOOTS:
        raise QuotaError(f"You have {MOST_SHOOTS} shoots, as many as there may be: delete some")


def nearly_full(count: int) -> str:
    """What to say of a shoot with so many setups when it is nearly full; nothing before."""
    if count < SAID_FROM * MOST_SETUPS_IN_SHOOT:
        return ""
    return f"{count} of {MOST_SETUPS_IN_SHOOT} setups that a shoot can hold."
