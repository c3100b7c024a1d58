"""What a shoot takes along: the lists, and keeping what was ticked."""

from django.db import transaction
from django.http import QueryDict

from fotonomy.core.notation.reading import whole_number
from fotonomy.kit.models import Accessory, Body, Filter, Gear, Lens
from fotonomy.shoots import history
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.write_lock import in_turn

SORTS: tuple[tuple[str, str, type[Gear]], ...] = (
    ("bodies", "Camera bodies", Body), ("lenses", "Lenses", Lens),
    ("filters", "Filters", Filter), ("accessories", "Rings, tubes, supports, devices", Accessory),
)  # fmt: skip


def texts_of_packing(shoot: Shoot) -> dict[str, list[str]]:
    """What the form of a packing sends if nobody touches it, by the names of its fields."""
    found = {"packs_all": ["1" if shoot.packs_all else "0"]}
    for field, _, model in SORTS:
        own = model._default_manager.filter(owner=shoot.owner)
        if not shoot.packs_all:
            own = own.filter(pk__in=getattr(shoot, field).values("pk"))
        found[field] = [str(pk) for pk in sorted(own.values_list("pk", flat=True))]
    return found


@in_turn()
@transaction.atomic
def save_packing(shoot: Shoot, data: QueryDict) -> None:
    """Keep what was ticked; the person's own gear only, whatever was sent. One step to undo."""
    Shoot.objects.select_for_update().get(pk=shoot.pk)
    before = history.packing(shoot)
    _save(shoot, data)
    key = str(history.PACKING)
    history.record(shoot, "packing", {key: before}, {key: history.packing(shoot)})


def _save(shoot: Shoot, data: QueryDict) -> None:
    shoot.packs_all = data.get("packs_all") == "1"
    shoot.save(update_fields=["packs_all"])
    if shoot.packs_all:
        return
    for field, _, model in SORTS:
        keys = [key for key in map(whole_number, data.getlist(field)) if key is not None]
        getattr(shoot, field).set(model.objects.filter(owner=shoot.owner, pk__in=keys))
