"""What a kind of setup brings, one object a kind: checks, first readout, schedule, tiles, holds.

Nothing else asks of what kind a run is.
"""

from collections.abc import Callable
from dataclasses import dataclass

from fotonomy.core import tiles
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.dry_run import lessons
from fotonomy.core.dry_run.trigger_schedule import (
    TriggerSchedule,
    burst_schedule,
    interval_schedule,
    long_exposure_schedule,
)
from fotonomy.core.findings import checks as every
from fotonomy.core.findings.checks import COMMON, Check
from fotonomy.core.readout import (
    ReadoutItem,
    burst_item,
    frame_rate_item,
    interval_item,
    long_exposure_item,
)
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import FRAMING, Setup
from fotonomy.core.tiles import Tile


@dataclass(frozen=True, slots=True)
class DryRunRules:
    """How a run is carried out, and what a kind can do about what it loses."""

    schedule: Callable[[Analysis], TriggerSchedule]
    ways_out: lessons.WaysOut


@dataclass(frozen=True, slots=True)
class KindRules:
    """One kind. ``tiles`` are the answers of its bench in the order people decide.

    ``opened`` is the one it lives from, open until somebody closes it. ``held`` is what stays
    where it is until somebody frees it; ``dry_run`` is None for video.
    """

    kind: Kind
    checks: tuple[Check, ...] = COMMON
    first_readout: Callable[[Analysis], ReadoutItem] = frame_rate_item
    tiles: tuple[Tile, ...] = tiles.VIDEO
    opened: Tile | None = None
    held: frozenset[str] = frozenset(FRAMING)
    dry_run: DryRunRules | None = None


KINDS: dict[Kind, KindRules] = {kind: KindRules(kind) for kind in Kind} | {
    Kind.INTERVAL: KindRules(
        Kind.INTERVAL, every.INTERVAL, interval_item, tiles.INTERVAL, Tile.RUN,
        dry_run=DryRunRules(interval_schedule, lessons.INTERVAL_WAYS),
    ),
    Kind.BURST: KindRules(
        Kind.BURST, every.BURST, burst_item, tiles.BURST, Tile.BURST,
        dry_run=DryRunRules(burst_schedule, lessons.BURST_WAYS),
    ),
    Kind.LONG_EXPOSURE: KindRules(
        Kind.LONG_EXPOSURE, every.LONG_EXPOSURE, long_exposure_item,
        tiles.LONG_EXPOSURE, Tile.TRAIL,
        dry_run=DryRunRules(long_exposure_schedule, lessons.LONG_EXPOSURE_WAYS),
    ),
}  # fmt: skip


def rules_of(setup: Setup) -> KindRules:
    """What the kind of a setup brings."""
    return KINDS[setup.kind]
