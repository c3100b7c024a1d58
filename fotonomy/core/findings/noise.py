"""Findings about noise: shadows beyond the limit, readings that drown, steps in a flat sky."""

from collections.abc import Iterator

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Finding, Fix, Severity
from fotonomy.core.findings.fixes import exposing_fix
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.writing import format_capital
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.intent import Exposing
from fotonomy.core.tone.placement import placing

# Below the upper base a dual-base body is noisier than at it, most in the step just under it.
# Common practice, no source.
UPPER_BASE_SHADOW_STOPS = 1.34
# From so many code values a stop the steps of a flat sky are seen. Common practice, no source.
BANDING_CODES_A_STOP = 20.0
# Beyond the limit by less than this nobody notices. Common practice, no source.
NOISE_SEEN_STOPS = 0.2


def noise(analysis: Analysis) -> Iterator[Finding]:
    """Shadows noisier than the person's limit although the ISO is under it."""
    setup, shown = analysis.setup, analysis.noise
    if shown.inside_stops > -NOISE_SEEN_STOPS or setup.iso > setup.body.iso_ceiling:
        return
    ways: list[Fix] = []
    if setup.intent.exposing is not Exposing.GREY and analysis.budget.target_stops < -0.05:
        ways.append(exposing_fix(analysis, Exposing.GREY, "grey at its mark, no lifting"))
    if analysis.budget.error_stops < -c.TOLERABLE_WITHIN_STOPS:
        ways += fx.exposure_fixes(analysis, analysis.budget.error_stops)[:2]
    upper = shown.model.upper_base
    at_base = [o for o in analysis.offers["iso"].options if o.value == upper]
    if upper is not None and setup.iso < upper and at_base:
        ways.append(fx.rebalanced(analysis, "iso", at_base[0]))
    frames = 4 * setup.intent.averaged_frames
    if not ways and frames <= 1000:
        ways.append(Fix(f"average {frames} frames", (Change("averaged_frames", frames),), 0.0))
    why = f"Lifted {n.format_stops(shown.pulled_stops)}, t" if shown.pulled_stops < -0.05 else "T"
    yield Finding(
        "noise.beyond_limit", Severity.CAUTION, "Shadows noisier than your limit",
        f"{why}hey look like ISO {n.format_compact(shown.looks_like_iso)}, "
        f"{n.format_stops(shown.inside_stops)} beyond ISO {setup.body.iso_ceiling}",
        -shown.inside_stops, "stops", tuple(ways) or fx.more_light(analysis, shown.inside_stops),
    )  # fmt: skip


def drowned(analysis: Analysis) -> Iterator[Finding]:
    """Readings as dark as the noise."""
    floor = analysis.noise.floor_stops
    under = [
        (k, tone) for k, tone in enumerate(analysis.level.tones)
        if tone.placed_stops < floor and tone.reading and not tone.reading.may_clip
    ]  # fmt: skip
    if not under:
        return
    darkest = min((tone for _, tone in under), key=lambda tone: tone.placed_stops)
    short = floor - darkest.placed_stops
    ways = []
    right = placing(Exposing.FAR_RIGHT, analysis.setup.profile, analysis.setup.readings)
    if right.applies and right.offset_stops > analysis.budget.target_stops + short:
        ways.append(exposing_fix(analysis, Exposing.FAR_RIGHT, "as far right as the log holds"))
    let_go = tuple(Change(f"reading-{k}-may_clip", True) for k, _ in under)
    ways.append(Fix("let it go" if len(under) == 1 else "let them go", let_go, 0.0))
    yield Finding(
        "level.reading_drowns", Severity.CAUTION, f"{format_capital(darkest.name)} drowns in noise",
        f"It lies {n.format_stops(short)} under the tone that is as large as its noise, "
        f"{n.format_signed(floor)} from grey at ISO {analysis.setup.iso}",
        short, "stops", tuple(ways),
    )  # fmt: skip


def bands(analysis: Analysis) -> Iterator[Finding]:
    """Too few code values a stop for a flat sky."""
    setup, codes = analysis.setup, analysis.level.codes_a_stop
    profile = setup.recorded_profile
    if codes >= BANDING_CODES_A_STOP:
        return
    others = [name for name in setup.body.profiles if name != profile.name]
    ways = [
        Fix(f.name, (Change("recording", f.name),), 0.0)
        for f in setup.body.formats if f.bits > profile.bits and setup.profile.bits > profile.bits
    ] + [Fix(name, (Change("profile", name),), 0.0) for name in others]  # fmt: skip
    if not ways:
        ways = [
            exposing_fix(analysis, Exposing.GREY, "grey at its mark, so that nothing is stretched")
        ]
    yield Finding(
        "level.bands", Severity.CAUTION, "Flat skies may show steps",
        f"{setup.profile.name} spends {codes} code values on the stop under grey at "
        f"{profile.bits} bits; under {BANDING_CODES_A_STOP:.0f} they are seen",
        float(codes), "codes", tuple(ways[:3]),
    )  # fmt: skip


def iso(analysis: Analysis) -> Iterator[Finding]:
    """The person's ceiling, and the noisy steps just under an upper base."""
    setup = analysis.setup
    ceiling = setup.body.iso_ceiling
    under = [o for o in analysis.offers["iso"].options if o.value <= ceiling]
    if setup.iso > ceiling and under:
        over = fx.price_stops(setup, "iso", ceiling)
        yield Finding(
            "iso.above_ceiling", Severity.CAUTION, f"Noisier than your limit, ISO {ceiling}",
            f"ISO {setup.iso} is {n.format_stops(over)} above it",
            -over, "stops", (fx.rebalanced(analysis, "iso", under[-1]),),
        )  # fmt: skip
    bases = sorted(setup.profile.base_iso)
    if (
        len(bases) < 2
        or fx.gain_stops(setup, "iso", bases[-1]) - fx.gain_stops(setup, "iso", bases[0])
        < c.BASE_PAIR_APART_STOPS
    ):
        return  # fmt: skip
    below = fx.price_stops(setup, "iso", bases[-1])
    at_base = [o for o in under if o.value == bases[-1]]
    if 0 < below <= UPPER_BASE_SHADOW_STOPS and at_base:
        yield Finding(
            "iso.below_upper_base", Severity.CAUTION, f"ISO {bases[-1]} is cleaner than this",
            f"ISO {setup.iso} lies {n.format_stops(below)} under the upper base of "
            f"{setup.profile.name}, where the lower one is at its noisiest",
            below, "stops", (fx.rebalanced(analysis, "iso", at_base[0]),),
        )  # fmt: skip


CHECKS = (iso, noise, drowned, bands)
