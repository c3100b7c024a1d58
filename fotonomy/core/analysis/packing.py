"""What setups need of a kit: glass by piece, rings, cards, and running time."""

from collections.abc import Iterable
from dataclasses import dataclass
from math import ceil

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.gear.filters import Filter, Mount, StepRing


@dataclass(frozen=True, slots=True)
class CameraLoad:
    """What one body has to record on a shoot: ``takes`` of each setup, sizes in decimal GB.

    ``cards`` is how many of its cards that fills, ``energy_wh`` what it draws while
    recording (None where its power is unknown).
    """

    body: str
    setups: int
    record_s: float
    size_gb: float
    cards: int
    energy_wh: float | None


def glass_needed(analysis: Analysis) -> tuple[str, ...]:
    """Names of the ND pieces and other filters a setup has in front of its lens."""
    pieces = analysis.stack.pieces if analysis.stack else ()
    return (*pieces, *(piece.name for piece in analysis.setup.filters))


def holders_needed(analysis: Analysis) -> tuple[str, ...]:
    """Names of the step rings and matte boxes those pieces need on this lens."""
    setup = analysis.setup
    names, thread = set(glass_needed(analysis)), setup.lens.thread_mm
    worn: list[Filter] = [g for g in (*setup.glass, *setup.filters) if g.name in names]
    found = []
    for holder in setup.holders:
        if isinstance(holder, StepRing):
            on_it = (g for g in worn if g.thread_mm == holder.filter_mm != thread)
            wanted = holder.lens_mm == thread and any(on_it)
        else:
            square = any(g.seat is Mount.SQUARE for g in worn)
            wanted = square and (thread or 0.0) <= holder.largest_mm
        if wanted:
            found.append(holder.name)
    return tuple(found)


def worn_words(analysis: Analysis) -> str:
    """Everything in front of the lens: ND by its marks, other filters, rings and matte box."""
    setup, stack = analysis.setup, analysis.stack
    worn = [stack.said] if setup.nd_density and stack and stack.said else []
    worn += [piece.name for piece in setup.filters]
    return ", ".join([*worn, *holders_needed(analysis)]) if worn else ""


def _energy_wh(analysis: Analysis, power_w: float) -> float:
    """What one take draws: a run waits most of the time, anything else is at work throughout."""
    power = None if analysis.run is None else analysis.run.power
    if power is not None:
        return power.needs_wh
    return power_w * analysis.clip.record_s / 3600


def camera_loads(planned: Iterable[Analysis], takes: int = c.USUAL_TAKES) -> tuple[CameraLoad, ...]:
    """Recording time, cards and energy by body, ``takes`` of every setup.

    Three takes a setup is common practice, no source; interval runs are taken once.
    """
    by_body: dict[str, list[Analysis]] = {}
    for analysis in planned:
        by_body.setdefault(analysis.setup.body.name, []).append(analysis)
    loads = []
    for name, group in sorted(by_body.items()):
        body = group[0].setup.body
        times = [1 if f.setup.frame_rate < 1 and not f.setup.single_frame else takes for f in group]
        record = sum(k * f.clip.record_s for k, f in zip(times, group, strict=True))
        size = sum(k * f.clip.size_mb for k, f in zip(times, group, strict=True)) / 1000
        energy = None if body.power_w is None else sum(
            k * _energy_wh(f, body.power_w) for k, f in zip(times, group, strict=True)
        )  # fmt: skip
        cards = max(1, ceil(size / body.card_gb))
        loads.append(CameraLoad(name, len(group), record, size, cards, energy))
    return tuple(loads)
