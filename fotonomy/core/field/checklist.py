"""What to do before pressing, from the kind, the gear and how it is meant. Common practice."""

from dataclasses import dataclass

from fotonomy.core.analysis.interval import NOISE_FRAME_FROM_S
from fotonomy.core.analysis.packing import worn_words
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.gear.accessories import Battery, Heater, Remote
from fotonomy.core.gear.support import STEADY_SUPPORTS
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.intent import Switch
from fotonomy.core.spec.setup import Setup

# Kinds for which a camera's own focus wanders.


@dataclass(frozen=True, slots=True)
class Check:
    """One thing to do: a lasting id, and what it is in a few words."""

    id: str
    words: str


def checklist(analysis: Analysis) -> tuple[Check, ...]:
    """What has to be done at the camera before a setup is shot, in the order of the hand."""
    setup = analysis.setup
    found = [Check("lens", "lens wiped"), *_stabiliser(setup), *_glass(analysis)]
    white = f"white locked at {n.format_number(setup.white_k, 0)} K"
    if setup.intent.auto_iso:
        found.append(Check("iso", "ISO left to the camera, as meant"))
    found += [Check("white", white), *_drive(setup), *_zebras(analysis)]
    if setup.kind.traits.by_hand:
        found.append(Check("focus", "focus by hand, checked large"))
    found += _alone(setup)
    if setup.kind.traits.test_frames:
        found.append(Check("test", "test frame looked at: level, sharp, smear, noise"))
    return tuple(found)


def _stabiliser(setup: Setup) -> list[Check]:
    if not max(setup.body.stabiliser_stops, setup.lens.stabiliser_stops):
        return []
    off = setup.intent.stabiliser is Switch.OFF or (
        setup.intent.stabiliser is Switch.AS_USUAL and setup.support in STEADY_SUPPORTS
    )
    return [Check("stabiliser", f"stabiliser {'off' if off else 'on'}")]


def _glass(analysis: Analysis) -> list[Check]:
    worn = worn_words(analysis)
    return [Check("glass", f"on the lens: {worn}")] if worn else []


def _drive(setup: Setup) -> list[Check]:
    traits = setup.kind.traits
    if traits.drive:
        return [Check("drive", f"drive at {n.format_number(setup.frame_rate)} a second")]
    if traits.has_interval:
        return [Check("drive", "drive on single, review and beeps off")]
    if traits.long_frame:
        return [Check("drive", "drive on single, self-timer or remote")]
    return [Check("rate", f"{n.format_frame_rate(setup.frame_rate)} fps, {setup.format.name}")]


def _zebras(analysis: Analysis) -> list[Check]:
    setup, level = analysis.setup, analysis.level
    if setup.records_stills:
        return []
    words = f"zebras {level.zebra_one.brief} and {level.zebra_two.brief} for {setup.profile.name}"
    return [Check("zebras", words)]


def _alone(setup: Setup) -> list[Check]:
    found = []
    if setup.records_stills and setup.time_s >= NOISE_FRAME_FROM_S * 0.999:
        switch = "on" if setup.run.noise_frames else "off"
        found.append(Check("noise", f"long-exposure noise reduction {switch}"))
    if not setup.kind.traits.has_interval:
        return found
    remotes = [one.name for one in setup.devices if isinstance(one, Remote)]
    found.append(Check("remote", f"{remotes[0] if remotes else 'timer'} set and counted"))
    if any(isinstance(one, Battery) for one in setup.devices):
        found.append(Check("battery", "battery full"))
    if any(isinstance(one, Heater) for one in setup.devices):
        found.append(Check("heater", "heater on, glass clear"))
    return [*found, Check("tied", "tripod weighted, nothing in the way")]
