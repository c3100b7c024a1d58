"""Looking a place up among towns, for the forms that have one."""

from dataclasses import dataclass

from django.http import HttpRequest

from fotonomy.core.notation.reading import whole_number
from fotonomy.shoots.services.places import Place, find_places, place_of


@dataclass(frozen=True, slots=True)
class TownsAsked:
    """What a form that was not saved shows again: as typed, with a town filled in or found."""

    filled: dict[str, str]
    searched: str | None
    towns: tuple[Place, ...]


def towns_asked(request: HttpRequest, name: str) -> TownsAsked | None:
    """The towns called what stands in the field ``name``, or the one that was taken.

    None where no place was asked for.
    """
    sent = request.POST.dict()
    if "find_place" not in sent and "take_place" not in sent:
        return None
    key = whole_number(sent.get("take_place", ""))
    town = place_of(key) if key is not None else None
    if town is None:
        said = sent.get(name, "").strip()
        return TownsAsked(sent, said, find_places(said))
    filled = {
        "latitude_deg": f"{town.latitude_deg:.3f}", "longitude_deg": f"{town.longitude_deg:.3f}",
        "time_zone": town.time_zone, "mains_hz": str(town.mains_hz),
    }  # fmt: skip
    return TownsAsked({**sent, name: town.name, **filled}, None, ())
