"""What a setup takes of cards and batteries over its time on the day."""

from fotonomy.core import constants as c
from fotonomy.core.analysis.interval import card_of, timing_of
from fotonomy.core.analysis.setup import clip_of
from fotonomy.core.day.blocks import shoot_minutes
from fotonomy.core.day.supplies import Cell, Supplies
from fotonomy.core.gear.accessories import Battery, Card
from fotonomy.core.spec.setup import Setup
from fotonomy.core.stills.clip import Clip
from fotonomy.core.stills.energy import cold_share, draw_of, supply_of


def takes_of(setup: Setup) -> int:
    """How many takes of a setup are reckoned: three (common practice), a run once."""
    return 1 if setup.kind.traits.has_interval else c.USUAL_TAKES


def supplies_of(setup: Setup) -> Supplies:
    """What its takes fill of the card, and what it draws from setting up to the last of them.

    Three takes a setup is common practice, no source; interval runs are taken once.
    """
    clip, card = clip_of(setup), card_of(setup)
    own = any(isinstance(device, Card) for device in setup.devices)
    takes = takes_of(setup)
    given = cold_share(setup.run.temperature_c) * c.BATTERY_USED_SHARE
    return Supplies(
        card=card.name if own else f"the card of {setup.body.name}", card_gb=card.size_gb,
        size_gb=takes * clip.size_mb / 1000, own_card=own,
        cells=tuple(
            Cell(device.name, device.usable_wh * given)
            for device in setup.devices if isinstance(device, Battery) and not device.external
        ),
        needs_wh=_needs_wh(setup, clip, takes),
    )  # fmt: skip


def _needs_wh(setup: Setup, clip: Clip, takes: int) -> float | None:
    """A run's own need; else the camera on from setting up to the last take, at work in the takes.

    What external packs have left for the camera is taken off. None where the body's power is
    unknown.
    """
    draw = draw_of(setup.body, setup.devices)
    if draw is None:
        return None
    busy_s = takes * clip.record_s
    minutes = setup.schedule.prepare_min + shoot_minutes(setup.kind, setup.schedule, 0.0)
    on_s = max(60 * minutes, busy_s)
    if setup.kind.traits.has_interval:
        timed = timing_of(setup, clip)
        on_s, busy_s = timed.lasts_s, timed.busy_s
    supply = supply_of(setup.devices, setup.run.temperature_c)
    packs = 0.0 if supply is None else supply.packs_wh
    helped = max(0.0, packs - draw.pack_w * on_s / 3600)
    return max(0.0, draw.energy_wh(on_s, busy_s) - helped)
