"""What a finding is made of."""

from dataclasses import dataclass
from enum import IntEnum, StrEnum
from typing import ClassVar

from fotonomy.core.spec.changes import Change
from fotonomy.core.tiles import Tile


class Severity(StrEnum):
    """A caution is worth a look; a stop ruins the take."""

    CAUTION = "caution"
    STOP = "stop"


class Harm(IntEnum):
    """What a finding does to the take, worst first. Common practice, no source."""

    NOTHING_RECORDED = 0
    PICTURE_LOST = 1
    MOVES_WRONGLY = 2
    WEATHER = 3
    # It can be mended, at a price.
    PRICE = 4
    TASTE = 5


class Family:
    """What all findings of one id have in common; a check declares it when it is loaded.

    ``tiles`` are the answers of the bench it belongs to, the first that a kind has. Of a family
    with ``own_ways`` the planner offers none of its own: the marks beside a value that is on no
    scale, the steps a remote has, the drives a burst may use. One that
    is ``of_light`` says nothing before the light is said.
    """

    known: ClassVar[dict[str, "Family"]] = {}

    def __init__(
        self, id: str, harm: Harm, *tiles: Tile, own_ways: bool = False, of_light: bool = False
    ) -> None:
        """Raises ValueError for an id that is taken, or that names no tile."""
        if id in self.known or not tiles:
            raise ValueError(f"{id}: each family has an id of its own and a tile")
        self.id, self.harm, self.tiles, self.own_ways = id, harm, tiles, own_ways
        self.of_light = of_light
        self.known[id] = self

    def tile_among(self, tiles: tuple[Tile, ...]) -> Tile:
        """The tile of these that its findings colour; the light where none is its own."""
        return next((tile for tile in self.tiles if tile in tiles), Tile.LIGHT)

    def __repr__(self) -> str:
        return f"Family({self.id})"


@dataclass(frozen=True, slots=True)
class Fix:
    """Changes applied together; ``price_stops`` is what they do to the exposure.

    ``label`` says them in a few words. ``touches_held`` is true where they move what is held,
    ``costs`` what they leave or give up beside light, in words. Without changes it is something
    to be bought or hired.
    """

    label: str
    changes: tuple[Change, ...]
    price_stops: float
    touches_held: bool = False
    costs: str = ""


@dataclass(frozen=True, slots=True)
class Question:
    """What nobody said yet and much rests on; no verdict can be given before. Fixes answer it.

    ``tiles`` are the answers of the bench that wait for it.
    """

    what: str
    why: str
    tiles: frozenset[Tile]
    fixes: tuple[Fix, ...]


@dataclass(frozen=True, slots=True)
class Finding:
    """What is wrong, why, the number behind it with its unit, and fixes."""

    family: Family
    severity: Severity
    what: str
    why: str
    number: float
    unit: str
    fixes: tuple[Fix, ...]

    @property
    def id(self) -> str:
        """The id of its family: it stands in files and addresses, and never changes."""
        return self.family.id
