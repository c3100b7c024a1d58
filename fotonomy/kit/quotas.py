"""How many things of a sort one person may own: as many as a kit file takes."""

from django.contrib.auth.models import User

from fotonomy.kit.models import Gear

MOST_OF_A_SORT = 400


class FullKitError(ValueError):
    """There is no room for one more of a sort; the words say how many there may be."""


def room_for(model: type[Gear], owner: User) -> None:
    """Raise FullKitError where a person owns as many things of a sort as there may be."""
    if model.objects.filter(owner=owner).count() >= MOST_OF_A_SORT:
        name = model._meta.verbose_name_plural
        raise FullKitError(f"You have {MOST_OF_A_SORT} {name}, as many as there may be")
