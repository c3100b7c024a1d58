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
