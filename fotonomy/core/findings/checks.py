"""What is wrong with a plan: each finding says what, why with the number, and a fix."""

from collections.abc import Callable, Iterator

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.findings import (
    burst,
    clip,
    exposure,
    focus,
    gear,
    interval,
    level,
    long_exposure,
    motion,
    neutral_density,
    noise,
    power,
    recording,
    run_picture,
    shutter,
    support,
    weather,
    white_balance,
)
from fotonomy.core.findings.exposure import light_unsaid
from fotonomy.core.findings.finding import Finding, Fix, Harm, Question, Severity

Check = Callable[[Analysis], Iterator[Finding]]

# What every kind is held to, in the order people look; each module names its own.
COMMON: tuple[Check, ...] = tuple(
    check
    for topic in (
        shutter, gear, exposure, level, motion, support, focus, noise, white_balance,
        neutral_density, clip, recording, weather,
    )
    for check in topic.CHECKS
)  # fmt: skip
INTERVAL: tuple[Check, ...] = (
    *COMMON, *interval.CHECKS, *run_picture.CHECKS, *power.CHECKS, long_exposure.bulb_too_long,
)  # fmt: skip
BURST: tuple[Check, ...] = (
    *(burst.lean if check is motion.lean else check for check in COMMON), *burst.CHECKS,
)  # fmt: skip
LONG_EXPOSURE: tuple[Check, ...] = (*COMMON, *long_exposure.CHECKS)


def all_findings(analysis: Analysis, checks: tuple[Check, ...]) -> tuple[Finding, ...]:
    """Every finding of these checks, those that ruin the take first.

    What rests on the light says nothing before it is said.
    """
    found = [finding for check in checks for finding in check(analysis)]
    if light_unsaid(analysis.setup) is not None:
        found = [finding for finding in found if not finding.family.of_light]
    if analysis.setup.kind.traits.has_interval:
        found = [interval.with_possible_fixes(analysis.setup, finding) for finding in found]
    return tuple(sorted(found, key=urgency))


def questions(analysis: Analysis) -> tuple[Question, ...]:
    """What nobody said yet; without it nothing can be called right."""
    light = light_unsaid(analysis.setup)
    return () if light is None else (light,)


def urgency(finding: Finding) -> tuple[bool, Harm, float]:
    """What comes first: what ruins the take, then what harms most, then what is mended cheapest."""
    cheapest = min((_effort(fix) for fix in finding.fixes), default=float("inf"))
    return finding.severity is not Severity.STOP, finding.family.harm, cheapest


def _effort(fix: Fix) -> float:
    """What a fix asks of a person: stops and settings moved, more where something is held.

    Most of all where something has to be got first.
    """
    if not fix.changes:
        return 100.0
    return len(fix.changes) + abs(fix.price_stops) + (5.0 if fix.touches_held else 0.0)
