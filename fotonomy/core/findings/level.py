"""Findings about tones, noise and white balance."""

from collections.abc import Iterator

from fotonomy.core import constants as c
from fotonomy.core import notation as n
from fotonomy.core.analysis.setup import Facts
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Finding, Severity
from fotonomy.core.findings.fixes import Change, Fix
from fotonomy.core.spec.intent import Exposing
from fotonomy.core.tone.placement import placing
from fotonomy.core.tone.signal_levels import Tone
from fotonomy.core.tone.white_balance import kelvin, mired

# Beyond the limit by less than this nobody notices. Common practice, no source.
NOISE_SEEN_STOPS = 0.2


def key_clips(facts: Facts) -> Iterator[Finding]:
    """The key reading against the clip."""
    key = facts.level.key
    if not key.lost:
        return
    yield Finding(
        "level.key_clips", Severity.STOP, f"{_capital(key.name)} clips",
        f"{n.format_stops(key.clipped_stops)} beyond {facts.setup.profile.name}'s "
        f"{n.format_number(facts.level.clip_percent)} %",
        key.clipped_stops, "stops", _darker(facts, key),
    )  # fmt: skip


def readings_clip(facts: Facts) -> Iterator[Finding]:
    """Other readings that clip and should not, as one finding."""
    lost = [tone for tone in facts.level.tones if tone.lost and tone is not facts.level.key]
    if not lost:
        return
    worst = max(lost, key=lambda tone: tone.clipped_stops)
    names = " and ".join(tone.name for tone in lost[:3])
    more = f", {len(lost) - 3} more" if len(lost) > 3 else ""
    verb = "clips" if len(lost) == 1 else "clip"
    ways = []
    hold = placing(Exposing.HIGHLIGHTS, facts.setup.profile, facts.setup.readings)
    if hold.applies and facts.setup.intent.exposing is not Exposing.HIGHLIGHTS:
        ways.append(_school(facts, Exposing.HIGHLIGHTS, "never clip, lift later"))
    let_go = [
        Change(f"reading-{k}-may_clip", "1")
        for k, tone in enumerate(facts.level.tones) if tone in lost
    ]  # fmt: skip
    ways.append(Fix("let it go" if len(lost) == 1 else "let them go", tuple(let_go), 0.0))
    yield Finding(
        "level.reading_clips", Severity.CAUTION, f"{_capital(names)}{more} {verb}",
        f"{n.format_stops(worst.clipped_stops)} beyond {facts.setup.profile.name}'s "
        f"{n.format_number(facts.level.clip_percent)} %",
        worst.clipped_stops, "stops", tuple(ways),
    )  # fmt: skip


def _darker(facts: Facts, tone: Tone) -> tuple[Fix, ...]:
    error = facts.budget.error_stops
    aim = (error - tone.clipped_stops - 0.67, error - tone.clipped_stops)
    offered = fx.exposure_fixes(facts, error, aim)
    return offered or fx.more_light(facts, tone.clipped_stops)


def _school(facts: Facts, school: Exposing, label: str) -> Fix:
    now = facts.budget.target_stops
    then = placing(school, facts.setup.profile, facts.setup.readings).offset_stops
    return Fix(label, (Change("exposing", school.value),), then - now)


def noise(facts: Facts) -> Iterator[Finding]:
    """Shadows noisier than the person's limit although the ISO is under it."""
    setup, shown = facts.setup, facts.noise
    if shown.inside_stops > -NOISE_SEEN_STOPS or setup.iso > setup.body.iso_ceiling:
        return
    ways: list[Fix] = []
    if setup.intent.exposing is not Exposing.GREY and facts.budget.target_stops < -0.05:
        ways.append(_school(facts, Exposing.GREY, "grey at its mark, no lifting"))
    if facts.budget.error_stops < -c.TOLERABLE_WITHIN_STOPS:
        ways += fx.exposure_fixes(facts, facts.budget.error_stops)[:2]
    upper = shown.model.upper_base
    at_base = [o for o in facts.offers["iso"].options if o.value == upper]
    if upper is not None and setup.iso < upper and at_base:
        ways.append(fx.rebalanced(facts, "iso", at_base[0]))
    frames = 4 * setup.intent.averaged_frames
    if not ways and frames <= 1000:
        ways.append(Fix(f"average {frames} frames", (Change("averaged", str(frames)),), 0.0))
    why = f"Lifted {n.format_stops(shown.pulled_stops)}, t" if shown.pulled_stops < -0.05 else "T"
    yield Finding(
        "noise.beyond_limit", Severity.CAUTION, "Shadows noisier than your limit",
        f"{why}hey look like ISO {n.format_compact(shown.looks_like_iso)}, "
        f"{n.format_stops(shown.inside_stops)} beyond ISO {setup.body.iso_ceiling}",
        -shown.inside_stops, "stops", tuple(ways) or fx.more_light(facts, shown.inside_stops),
    )  # fmt: skip


def drowned(facts: Facts) -> Iterator[Finding]:
    """Readings as dark as the noise."""
    floor = facts.noise.floor_stops
    under = [
        (k, tone) for k, tone in enumerate(facts.level.tones)
        if tone.placed_stops < floor and tone.reading and not tone.reading.may_clip
    ]  # fmt: skip
    if not under:
        return
    at, darkest = min(under, key=lambda pair: pair[1].placed_stops)
    short = floor - darkest.placed_stops
    ways = []
    right = placing(Exposing.FAR_RIGHT, facts.setup.profile, facts.setup.readings)
    if right.applies and right.offset_stops > facts.budget.target_stops + short:
        ways.append(_school(facts, Exposing.FAR_RIGHT, "as far right as the log holds"))
    ways.append(Fix("let it go", (Change(f"reading-{at}-may_clip", "1"),), 0.0))
    yield Finding(
        "level.reading_drowns", Severity.CAUTION, f"{_capital(darkest.name)} drowns in noise",
        f"It lies {n.format_stops(short)} under the tone that is as large as its noise, "
        f"{n.format_signed(floor)} from grey at ISO {facts.setup.iso}",
        short, "stops", tuple(ways),
    )  # fmt: skip


def bands(facts: Facts) -> Iterator[Finding]:
    """Too few code values a stop for a flat sky."""
    setup, codes = facts.setup, facts.level.codes_a_stop
    profile = setup.recorded_profile
    if codes >= c.BANDING_CODES_A_STOP:
        return
    others = [name for name in setup.body.profiles if name != profile.name]
    ways = [
        Fix(f.name, (Change("recording", f.name),), 0.0)
        for f in setup.body.formats if f.bits > profile.bits and setup.profile.bits > profile.bits
    ] + [Fix(name, (Change("profile", name),), 0.0) for name in others]  # fmt: skip
    if not ways:
        ways = [_school(facts, Exposing.GREY, "grey at its mark, so that nothing is stretched")]
    yield Finding(
        "level.bands", Severity.CAUTION, "Flat skies may show steps",
        f"{setup.profile.name} spends {codes} code values on the stop under grey at "
        f"{profile.bits} bits; under {c.BANDING_CODES_A_STOP:.0f} they are seen",
        float(codes), "codes", tuple(ways[:3]),
    )  # fmt: skip


def white_off(facts: Facts) -> Iterator[Finding]:
    """A white balance that does not fit the main light and the taste."""
    white = facts.white
    if abs(white.off_mired) < c.OFF_SEEN_MIRED:
        return
    wanted = f"{round(white.wanted_k, -1):.0f} K"
    side = "warm" if white.off_mired > 0 else "cool"
    # Told that the light is cooler than it is, a camera makes all of it warm.
    yield Finding(
        "white.off", Severity.CAUTION, f"The main light will look {side}",
        f"{n.format_number(white.set_k, 0)} K is {n.format_number(abs(white.off_mired), 0)} mired "
        f"from {wanted}",
        abs(white.off_mired), "mired", (Fix(wanted, (Change("white", wanted),), 0.0),),
    )  # fmt: skip


def mixed_light(facts: Facts) -> Iterator[Finding]:
    """Lights too far apart for one white balance."""
    white = facts.white
    if white.widest_apart_mired < c.MIXED_SEEN_MIRED:
        return
    far = max(white.others, key=lambda source: abs(source.apart_mired))
    middle = kelvin((mired(white.main.kelvin) + mired(far.kelvin)) / 2)
    between = f"{round(middle, -1):.0f} K"
    gels = " and ".join(gel.name for gel in far.gels)
    hint = f"; a {gels} gel on it brings it over" if gels else ""
    ways = []
    if abs(mired(middle) - mired(white.set_k)) > 3:
        ways.append(Fix(f"half way, {between}", (Change("white", between),), 0.0))
    main = f"{round(white.main.kelvin, -1):.0f} K"
    if abs(mired(white.main.kelvin) - mired(white.set_k)) > 3:
        ways.append(Fix(f"keep to the main light, {main}", (Change("white", main),), 0.0))
    look = "warmer" if far.apart_mired > 0 else "cooler"
    yield Finding(
        "white.mixed", Severity.CAUTION, "Mixed light",
        f"{_capital(far.name)} at {n.format_number(far.kelvin, 0)} K is "
        f"{n.format_number(abs(far.apart_mired), 0)} mired {look} than the main light{hint}",
        abs(far.apart_mired), "mired", tuple(ways),
    )  # fmt: skip


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]
