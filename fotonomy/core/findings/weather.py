"""Findings about the weather of a setup's hours: cloud, rain, wind, dew, cold."""

from collections.abc import Iterator
from dataclasses import replace
from datetime import UTC, timedelta
from math import floor

from fotonomy.core.analysis.setup import Analysis, run_s
from fotonomy.core.day.advice import Advice, Exposed, Topic, Verdict, advice
from fotonomy.core.day.blocks import shoot_minutes
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.findings.interval import take_along
from fotonomy.core.gear.accessories import Heater
from fotonomy.core.notation import writing as n
from fotonomy.core.sky.track import Stretch
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile

FAMILIES = {
    topic: Family(
        topic.value, Harm.WEATHER,
        *((Tile.CYCLE, Tile.CLIP) if topic is Topic.COLD else (Tile.RUN, Tile.LIGHT)),
    )
    for topic in Topic
}  # fmt: skip


def weather(analysis: Analysis) -> Iterator[Finding]:
    """What the weather of the planned hours asks for; nothing where it is welcome."""
    setup = analysis.setup
    if setup.weather is None or setup.starts is None:
        return
    starts = setup.starts.astimezone(UTC)
    lasts = timedelta(minutes=shoot_minutes(setup.kind, setup.schedule, run_s(setup)))
    spell = setup.weather.spell(Stretch(starts, starts + lasts))
    if spell is None:
        return
    for one in advice(Exposed.of(setup), spell):
        if one.verdict is Verdict.KEEP:
            continue
        yield Finding(
            FAMILIES[one.id], Severity.CAUTION, one.what, f"{one.why} ({spell.source.value})",
            one.number, one.unit, (_fix(setup, one),),
        )  # fmt: skip


def _fix(setup: Setup, one: Advice) -> Fix:
    """The remedy, as a press where there is one."""
    if one.id is Topic.COLD:
        cold = float(floor(one.number))
        return Fix(f"plan for {n.format_number(cold, 0)} °C",
                   (Change("temperature_c", cold),), 0.0)  # fmt: skip
    if one.id is Topic.DEW:
        at_hand = [device for device in setup.packed_devices if isinstance(device, Heater)]
        if at_hand:
            return replace(take_along(setup, at_hand[0]), costs="draws power")
    return Fix(one.remedy, (), 0.0)


CHECKS = (weather,)
