"""Batteries and cards over a day: what cannot be charged between, and what is full by then.

Batteries begin full and cards empty: charged and copied the evening before (common practice).
"""

from collections.abc import Iterator
from datetime import datetime, timedelta

from fotonomy.core.day.blocks import Block
from fotonomy.core.day.day_plan import Conflict, DayPlan, Move, minutes_text, up_to_minute
from fotonomy.core.day.supplies import CHARGE_MIN, Supplies
from fotonomy.core.notation import writing as n


class _Charge:
    """The share of charge of each battery, and since when it has hung on the charger."""

    def __init__(self) -> None:
        self.share: dict[str, float] = {}
        self.free: dict[str, datetime] = {}
        self.last: dict[str, str] = {}

    def at(self, name: str, when: datetime) -> float:
        """What a battery holds at a moment, charged since it was last in use."""
        if name not in self.share:
            return 1.0
        minutes = max(0.0, (when - self.free[name]).total_seconds() / 60)
        return min(1.0, self.share[name] + minutes / CHARGE_MIN)

    def use(self, block: Block, supplies: Supplies, has_wh: float) -> None:
        """Take what a setup needs out of its batteries alike."""
        assert block.occupies is not None
        drawn = min(1.0, (supplies.needs_wh or 0.0) / has_wh) if has_wh > 0 else 1.0
        for cell in supplies.cells:
            self.share[cell.name] = self.at(cell.name, block.occupies.starts) * (1 - drawn)
            self.free[cell.name] = block.occupies.ends
            self.last[cell.name] = block.name


def batteries_run_down(plan: DayPlan) -> Iterator[Conflict]:
    """Setups whose batteries an earlier one drew, with too little time to charge between."""
    charge = _Charge()
    for block in plan.timed:
        supplies, occupies = block.supplies, block.occupies
        if supplies is None or occupies is None or not supplies.cells or not supplies.needs_wh:
            continue
        names = [cell.name for cell in supplies.cells]
        has = sum(
            cell.gives_wh * charge.at(cell.name, occupies.starts) for cell in supplies.cells
        )  # fmt: skip
        short = supplies.needs_wh - has
        earlier = next((charge.last[name] for name in names if name in charge.last), "")
        # What full batteries do not give is the setup's own affair: its bench says so.
        if earlier and short > 0.005 and supplies.needs_wh <= supplies.full_wh:
            wait = short / supplies.full_wh * CHARGE_MIN
            yield Conflict(
                "battery.charge", (block.key,), f"No time to charge for {block.name}",
                f"It takes {n.format_number(supplies.needs_wh)} Wh; after {earlier} "
                f"{' and '.join(names)} hold {n.format_number(max(0.0, has))} Wh, the charging "
                f"between counted. {minutes_text(wait)} more would do, or another battery",
                short, "Wh", tuple(_later(plan, block, wait)),
            )  # fmt: skip
        charge.use(block, supplies, has)


def _later(plan: DayPlan, block: Block, minutes: float) -> Iterator[Move]:
    assert block.rolls is not None
    start = up_to_minute(block.rolls + timedelta(minutes=minutes))
    if start + block.stays <= plan.hours.ends:
        yield Move(block.key, f"Move it to {plan.clock(start)}", rolls=start)


def cards_full(plan: DayPlan) -> Iterator[Conflict]:
    """Setups at which a card is full of what was shot before on the day."""
    used: dict[str, float] = {}
    for block in plan.timed:
        supplies = block.supplies
        if supplies is None:
            continue
        before = used.get(supplies.card, 0.0)
        total = before + supplies.size_gb
        used[supplies.card] = total
        if total <= supplies.card_gb or not before or supplies.size_gb > supplies.card_gb:
            continue
        yield Conflict(
            "card.full", (block.key,), f"The card is full by {block.name}",
            f"{supplies.card} holds {n.format_number(supplies.card_gb, 0)} GB; "
            f"{n.format_number(before, 0)} GB are on it by then and this takes "
            f"{n.format_number(supplies.size_gb)} GB, three takes of each film. Take another card; "
            "copy a full one twice before it is formatted",
            total - supplies.card_gb, "GB", grave=supplies.own_card,
        )  # fmt: skip
        # Another card goes in.
        used[supplies.card] = supplies.size_gb
