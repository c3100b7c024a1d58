"""What a setup takes of batteries and cards over its time on the day."""

from dataclasses import dataclass

# A battery takes so long from empty to full: common practice, no source.
CHARGE_MIN = 180.0


@dataclass(frozen=True, slots=True)
class Cell:
    """A battery by name, with what it gives in the cold of its setup when full, in Wh."""

    name: str
    gives_wh: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Supplies:
    """What a setup takes. Sizes in decimal GB, energy in Wh.

    ``card`` names the card in the camera, ``own_card`` is True where the setup chose it.
    ``needs_wh`` is None where the body's power is not known.
    """

    card: str
    card_gb: float
    size_gb: float
    own_card: bool = False
    cells: tuple[Cell, ...] = ()
    needs_wh: float | None = None

    @property
    def full_wh(self) -> float:
        """What its batteries give when full."""
        return sum(cell.gives_wh for cell in self.cells)

    @property
    def charge_share(self) -> float:
        """The share of its batteries that it takes; 0 where it is not known, 1 at most."""
        if self.needs_wh is None or self.full_wh <= 0:
            return 0.0
        return min(1.0, self.needs_wh / self.full_wh)
