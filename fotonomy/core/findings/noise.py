"""Findings about noise: shadows beyond the limit, readings that drown, steps in a flat sky."""

from collections.abc import Iterator
from itertools import pairwise
from math import log2

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import Analysis, analyse
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.findings.fixes import exposing_fix
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.writing import format_capital
from fotonomy.core.spec.changes import Change, applied
from fotonomy.core.spec.intent import ExposureMethod
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Files
from fotonomy.core.tiles import Tile
from fotonomy.core.tone.placement import placing

BEYOND_LIMIT = Family("noise.beyond_limit", Harm.PRICE, Tile.NOISE)
READING_DROWNS = Family("level.reading_drowns", Harm.PRICE, Tile.LEVEL, of_light=True)
BANDS = Family("level.bands", Harm.PRICE, Tile.LEVEL)
ABOVE_CEILING = Family("iso.above_ceiling", Harm.PRICE, Tile.NOISE)
BELOW_UPPER_BASE = Family("iso.below_upper_base", Harm.PRICE, Tile.NOISE)
BELOW_BASE = Family("iso.below_base", Harm.PRICE, Tile.NOISE)
READINGS_SHARE_CODE = Family("level.readings_share_code", Harm.PRICE, Tile.LEVEL)

# Tones this far apart in the scene should not be recorded as one. Common practice, no source.
TONES_APART_STOPS = 0.5
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
    if setup.intent.exposing is not ExposureMethod.GREY and analysis.budget.target_stops < -0.05:
        ways.append(exposing_fix(analysis, ExposureMethod.GREY, "grey at its mark, no lifting"))
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
        BEYOND_LIMIT, Severity.CAUTION, "Shadows noisier than your limit",
        f"{why}hey look like {shown.looks_like_words}, "
        f"{n.format_stops(shown.inside_stops)} noisier than your limit, "
        f"{shown.limit_words(setup.body.iso_ceiling)}",
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
    right = placing(
        ExposureMethod.FAR_RIGHT, analysis.setup.recorded_profile, analysis.setup.readings
    )
    if right.applies and right.offset_stops > analysis.budget.target_stops + short:
        ways.append(
            exposing_fix(analysis, ExposureMethod.FAR_RIGHT, "as far right as the log holds")
        )
    let_go = tuple(Change(f"reading-{k}-may_clip", True) for k, _ in under)
    ways.append(Fix("accept it" if len(under) == 1 else "accept them", let_go, 0.0))
    yield Finding(
        READING_DROWNS, Severity.CAUTION, f"{format_capital(darkest.name)} drowns in noise",
        f"{n.format_stops(short)} darker than the noise floor, which lies "
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
    ways = _more_bits(setup)
    ways += [Fix(name, (Change("profile", name),), 0.0) for name in others]
    if not ways:
        ways = [
            exposing_fix(
                analysis, ExposureMethod.GREY, "grey at its mark, so that nothing is stretched"
            )
        ]
    yield Finding(
        BANDS, Severity.CAUTION, "Flat skies may show steps",
        f"{setup.profile.name} has {codes} brightness values for the stop under grey at "
        f"{profile.bits} bits; with fewer than {BANDING_CODES_A_STOP:.0f} steps can be seen",
        float(codes), "codes", tuple(ways[:3]),
    )  # fmt: skip


def iso(analysis: Analysis) -> Iterator[Finding]:
    """The person's ceiling."""
    setup = analysis.setup
    ceiling = setup.body.iso_ceiling
    under = [o for o in analysis.offers["iso"].options if o.value <= ceiling]
    if setup.iso > ceiling and under:
        over = fx.price_stops(setup, "iso", ceiling)
        yield Finding(
            ABOVE_CEILING, Severity.CAUTION, f"Noisier than your limit, ISO {ceiling}",
            f"ISO {setup.iso} is {n.format_stops(over)} above it",
            -over, "stops", (fx.rebalanced(analysis, "iso", under[-1]),),
        )  # fmt: skip


def upper_base(analysis: Analysis) -> Iterator[Finding]:
    """An upper base that is cleaner than this ISO with the picture as bright.

    The model decides, not the distance: the upper base takes more ISO and so less light, and
    wins only where its lower read noise outweighs that.
    """
    setup, shown = analysis.setup, analysis.noise
    upper = shown.model.upper_base
    if upper is None or not setup.iso < upper <= setup.body.iso_ceiling:
        return
    at_base = [o for o in analysis.offers["iso"].options if o.value == upper]
    there = float(shown.model.looks_like(
        upper, shown.pulled_stops, setup.intent.delivery_px, shown.frames, shown.dark_e
    ))  # fmt: skip
    cleaner = log2(shown.looks_like_iso / there)
    if cleaner < NOISE_SEEN_STOPS or not at_base:
        return
    yield Finding(
        BELOW_UPPER_BASE, Severity.CAUTION, f"ISO {upper} is cleaner than this",
        f"Equally bright, shadows look like ISO {n.format_estimate(there)} there, and like ISO "
        f"{n.format_estimate(shown.looks_like_iso)} at ISO {setup.iso}: {setup.profile.name} is "
        "noisiest just under its upper base",
        cleaner, "stops", (fx.rebalanced(analysis, "iso", at_base[0]),),
    )  # fmt: skip


def below_base(analysis: Analysis) -> Iterator[Finding]:
    """An ISO under the lowest base: the sensor is full as ever, the highlights clip earlier."""
    setup = analysis.setup
    lost = setup.below_base_stops
    if lost < c.BALANCED_WITHIN_STOPS:
        return
    at_base = [o for o in analysis.offers["iso"].options if o.value >= setup.lowest_base][:1]
    yield Finding(
        BELOW_BASE, Severity.CAUTION,
        f"Highlights clip {n.format_stops(lost)} earlier",
        f"ISO {setup.iso} lies under the lowest base, ISO {setup.lowest_base}: "
        f"{n.format_number(analysis.level.headroom_stops)} stops are left over grey instead of "
        f"{n.format_number(analysis.level.headroom_stops + lost)}",
        lost, "stops", tuple(fx.rebalanced(analysis, "iso", option) for option in at_base),
    )  # fmt: skip


def _more_bits(setup: Setup) -> list[Fix]:
    """What keeps more bits of the profile: another format, or raw files."""
    bits = setup.recorded_profile.bits
    if setup.profile.bits <= bits:
        return []
    if setup.records_stills:
        raw = Fix("keep raw files", (Change("files", Files.RAW),), 0.0)
        return [raw] if setup.run.files is Files.JPEG else []
    return [
        Fix(f"record {f.name}", (Change("recording", f.name),), 0.0)
        for f in setup.body.formats if f.bits > bits
    ]  # fmt: skip


def _tells_apart(setup: Setup, fix: Fix, one: str, other: str) -> bool:
    """True where a fix gives two tones codes of their own: under black more bits change nothing."""
    tones = analyse(applied(setup, fix.changes)).level.tones
    return len({tone.code for tone in tones if tone.name in (one, other)}) > 1


def shared_codes(analysis: Analysis) -> Iterator[Finding]:
    """Readings that differ in the scene and are recorded as one code value."""
    held = [
        (k, tone) for k, tone in enumerate(analysis.level.tones)
        if tone.reading and not tone.reading.may_clip and not tone.clipped_stops
    ]  # fmt: skip
    held.sort(key=lambda pair: pair[1].placed_stops)
    pairs = [
        (one, other) for one, other in pairwise(held)
        if one[1].code == other[1].code
        and other[1].scene_stops - one[1].scene_stops >= TONES_APART_STOPS
    ]  # fmt: skip
    if not pairs:
        return
    (_, dark), (_, light) = pairs[0]
    apart = light.scene_stops - dark.scene_stops
    ways = []
    setup = analysis.setup
    right = placing(ExposureMethod.FAR_RIGHT, setup.recorded_profile, setup.readings)
    if right.applies and right.offset_stops > analysis.budget.target_stops + 0.5:
        ways.append(
            exposing_fix(analysis, ExposureMethod.FAR_RIGHT, "as far right as the log holds")
        )
    names = (dark.name, light.name)
    ways += [fix for fix in _more_bits(setup)[:1] if _tells_apart(setup, fix, *names)]
    # All of this code but the brightest: accepted one by one they would take turns.
    alike = [(k, tone) for k, tone in held if tone.code == dark.code][:-1]
    alike_names = " and ".join(tone.name for _, tone in alike)
    accepted = tuple(Change(f"reading-{k}-may_clip", True) for k, _ in alike)
    ways.append(Fix(f"accept it for {alike_names}", accepted, 0.0))
    yield Finding(
        READINGS_SHARE_CODE, Severity.CAUTION,
        f"{format_capital(dark.name)} and {light.name} cannot be told apart",
        f"They are {n.format_stops(apart)} apart in the scene and both record as code "
        f"{dark.code} of {2**setup.recorded_profile.bits - 1}",
        apart, "stops", tuple(ways),
    )  # fmt: skip


CHECKS = (iso, below_base, upper_base, noise, drowned, shared_codes, bands)
