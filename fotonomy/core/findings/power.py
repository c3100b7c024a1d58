"""Findings about energy: batteries of the camera, and packs that feed what hangs beside it."""

from collections.abc import Iterator
from dataclasses import replace
from math import ceil, floor

from fotonomy.core import constants as c
from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.setup import Analysis, run_of
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.findings.interval import shorter_run, take_along
from fotonomy.core.gear.accessories import Battery, Feed, Heater
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.setup import Setup
from fotonomy.core.stills.energy import Power
from fotonomy.core.tiles import Tile

POWER_SHORT = Family("run.power_short", Harm.NOTHING_RECORDED, Tile.CYCLE, Tile.RUN)
PACK_SHORT = Family("run.pack_short", Harm.MOVES_WRONGLY, Tile.CYCLE, Tile.RUN)


def power_lasts(analysis: Analysis) -> Iterator[Finding]:
    """Batteries against the run."""
    run, setup = run_of(analysis, IntervalRun), analysis.setup
    if run.power is None or run.power.short_wh <= 0:
        return
    power = run.power
    lasts = n.format_duration(round(power.lasts_s or 0.0, -1))
    cold = "" if power.share_left > 0.99 else (
        f" at {n.format_number(setup.run.temperature_c, 0)} °C, where batteries give "
        f"{n.format_number(100 * power.share_left, 0)} %"
    )  # fmt: skip
    yield Finding(
        POWER_SHORT, Severity.STOP, f"The batteries end after {lasts}",
        f"The run takes {n.format_number(power.needs_wh)} Wh, there are "
        f"{n.format_number(power.has_wh or 0.0)} Wh{cold}; "
        f"{_more_of_them(setup, power)}",
        power.short_wh, "Wh", power_fixes(setup, power, (power.has_wh or 0.0) / power.needs_wh),
    )  # fmt: skip


def power_fixes(setup: Setup, power: Power, share: float) -> tuple[Fix, ...]:
    """More energy, and a run as short as what there is allows: ``share`` of it is covered.

    The smallest battery at hand that will do; where none does, the largest, and how far
    the run then gets.
    """
    planned = (power.has_wh or 0.0) / power.needs_wh
    # A battery weaker than planned says how weak the others are.
    weaker = share / planned if planned > 0 else 1.0
    given = power.share_left * c.BATTERY_USED_SHARE * min(1.0, weaker)
    helps = {d.name: _helps_wh(power, d, given) for d in setup.packed_devices
             if isinstance(d, Battery)}  # fmt: skip
    more = sorted(
        (d for d in setup.packed_devices if helps.get(d.name)), key=lambda d: helps[d.name]
    )
    enough = [d for d in more if share + helps[d.name] / power.needs_wh >= 1]
    ways = [take_along(setup, d) for d in enough[:1]]
    if more and not enough:
        best = take_along(setup, more[-1])
        covered = n.format_share(share + helps[more[-1].name] / power.needs_wh)
        ways.append(replace(best, label=f"{best.label}: {covered} of the run"))
    return (*ways, shorter_run(setup, max(0.1, floor(10 * share * setup.wanted_screen_s) / 10)))


def _helps_wh(power: Power, battery: Battery, given: float) -> float:
    """What one more battery gives the camera; of a pack what it does not feed elsewhere."""
    more = given * battery.usable_wh
    if not battery.external:
        return more
    left = power.pack_has_wh - power.pack_needs_wh
    return max(0.0, left + more) - max(0.0, left)


def _more_of_them(setup: Setup, power: Power) -> str:
    """How many batteries like the camera's would do, or which pack."""
    given = power.share_left * c.BATTERY_USED_SHARE
    short = max(power.short_wh, power.needs_wh * 0.01)
    pack = f"one pack of {10 * ceil(short / given / 10)} Wh"
    own = next((d for d in setup.devices if isinstance(d, Battery) and not d.external), None)
    if own is None:
        return f"{pack} would do"
    count = own.count + ceil(short / (own.each_wh * given) - 1e-9)
    return f"{count} like {own.name} would do, or {pack} beside it"


def fed_by_pack(analysis: Analysis) -> Iterator[Finding]:
    """A heater, a monitor or a phone that its pack does not feed to the end."""
    power, setup = run_of(analysis, IntervalRun).power, analysis.setup
    if power is None or power.pack_short_wh <= 0.005:
        return
    hung = next(d for d in setup.devices if isinstance(d, Heater) and d.fed_by is Feed.PACK)
    given = power.share_left * c.BATTERY_USED_SHARE
    more = sorted(
        (d for d in setup.packed_devices if isinstance(d, Battery) and d.external),
        key=lambda d: d.usable_wh,
    )
    enough = [d for d in more if d.usable_wh * given >= power.pack_short_wh]
    ways = [take_along(setup, d) for d in (enough[:1] or more[-1:])]
    ways.append(Fix(f"a pack of {10 * ceil(power.pack_short_wh / given / 10)} Wh", (), 0.0))
    what = "has nothing to hang on" if not power.pack_has_wh else "ends before the run"
    yield Finding(
        PACK_SHORT, Severity.CAUTION, f"{hung.name} {what}",
        f"What hangs on the packs needs {n.format_number(power.pack_needs_wh)} Wh; they hold "
        f"{n.format_number(power.pack_has_wh)} Wh",
        power.pack_short_wh, "Wh", tuple(ways),
    )  # fmt: skip


CHECKS = (power_lasts, fed_by_pack)
