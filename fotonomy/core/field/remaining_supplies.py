"""What cards and batteries have left, from the takes that were logged."""

from collections.abc import Iterable
from dataclasses import dataclass

from fotonomy.core.analysis.interval import data_rate_mb_s
from fotonomy.core.analysis.supplies import takes_of
from fotonomy.core.day.supplies import Supplies
from fotonomy.core.spec.setup import Setup
from fotonomy.core.stills.energy import draw_of


@dataclass(frozen=True, slots=True)
class LoggedTake:
    """A take of a setup: on which card, and how many seconds long; None where nobody said."""

    setup: Setup
    supplies: Supplies
    card: str = ""
    length_s: float | None = None

    @property
    def card_name(self) -> str:
        """The card it is on: the one that was named, or the setup's own."""
        return self.card or self.supplies.card

    @property
    def size_gb(self) -> float:
        """Its decimal GB: by its length, or as a planned take fills."""
        if self.length_s is not None and not self.setup.records_stills:
            return data_rate_mb_s(self.setup) / 8 * self.length_s / 1000
        return self.supplies.size_gb / takes_of(self.setup)


def gone_on_cards(takes: Iterable[LoggedTake]) -> dict[str, float]:
    """Decimal GB on each card; cards begin empty (common practice)."""
    gone: dict[str, float] = {}
    for take in takes:
        gone[take.card_name] = gone.get(take.card_name, 0.0) + take.size_gb
    return gone


def charge_left(takes: Iterable[LoggedTake]) -> dict[str, float]:
    """The share of its charge each battery has left, not charged since; batteries begin full.

    A setup takes what was planned for it, take by take, and no more than that.
    """
    counts: dict[int, tuple[LoggedTake, int]] = {}
    for take in takes:
        counts[id(take.supplies)] = take, counts.get(id(take.supplies), (take, 0))[1] + 1
    left: dict[str, float] = {}
    for take, count in counts.values():
        share = min(1.0, count / takes_of(take.setup)) * take.supplies.charge_share
        for cell in take.supplies.cells:
            left[cell.name] = max(0.0, left.get(cell.name, 1.0) - share)
    return left


def left_on_card_gb(card_gb: float, gone_gb: float) -> float:
    """Decimal GB that a card has left; never less than none."""
    return max(0.0, card_gb - gone_gb)


def minutes_on_card(setup: Setup, left_gb: float) -> float:
    """Minutes of film that so many GB hold at the setup's data rate."""
    return left_gb * 1000 / (data_rate_mb_s(setup) / 8) / 60


def minutes_on_battery(setup: Setup, supplies: Supplies) -> float | None:
    """Minutes that full batteries record for; None where the body's power is unknown."""
    draw = draw_of(setup.body, setup.devices)
    if draw is None or not supplies.cells:
        return None
    return 60 * supplies.full_wh / (draw.busy_w + draw.heater_w)
