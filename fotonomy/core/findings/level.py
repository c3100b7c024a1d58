"""Findings about tones, noise and white balance."""

from collections.abc import Iterator

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.findings.fixes import exposing_fix
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.writing import format_capital
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.intent import ExposureMethod
from fotonomy.core.tiles import Tile
from fotonomy.core.tone.placement import placing
from fotonomy.core.tone.signal_levels import Tone

KEY_CLIPS = Family("level.key_clips", Harm.PICTURE_LOST, Tile.LEVEL, of_light=True)
READING_CLIPS = Family("level.reading_clips", Harm.PICTURE_LOST, Tile.LEVEL, of_light=True)

# A way of exposing that asks for less light than this is no way out. Common practice, no source.
LEAST_PRICE_STOPS = 0.05


def key_clips(analysis: Analysis) -> Iterator[Finding]:
    """The key reading against the clip."""
    key = analysis.level.key
    if not key.lost:
        return
    yield Finding(
        KEY_CLIPS, Severity.STOP, f"{format_capital(key.name)} clips",
        f"{n.format_stops(key.clipped_stops)} beyond {analysis.setup.profile.name}'s "
        f"{n.format_number(analysis.level.clip_percent)} %",
        key.clipped_stops, "stops", _darker(analysis, key),
    )  # fmt: skip


def readings_clip(analysis: Analysis) -> Iterator[Finding]:
    """Other readings that clip and should not, as one finding."""
    lost = [tone for tone in analysis.level.tones if tone.lost and tone is not analysis.level.key]
    if not lost:
        return
    worst = max(lost, key=lambda tone: tone.clipped_stops)
    faces = [tone for tone in lost if tone.reading and tone.reading.surface.is_skin]
    lost.sort(key=lambda tone: tone not in faces)
    names = " and ".join(tone.name for tone in lost[:3])
    more = f", {len(lost) - 3} more" if len(lost) > 3 else ""
    verb = "clips" if len(lost) == 1 else "clip"
    ways = []
    skin = placing(ExposureMethod.SKIN, analysis.setup.recorded_profile, analysis.setup.readings)
    if faces and skin.applies and skin.offset_stops < analysis.budget.target_stops - 0.5:
        ways.append(exposing_fix(analysis, ExposureMethod.SKIN, "skin at its mark"))
    hold = placing(
        ExposureMethod.HIGHLIGHTS, analysis.setup.recorded_profile, analysis.setup.readings
    )
    darker = hold.offset_stops < analysis.budget.target_stops - LEAST_PRICE_STOPS
    if hold.applies and darker and analysis.setup.intent.exposing is not ExposureMethod.HIGHLIGHTS:
        ways.append(exposing_fix(analysis, ExposureMethod.HIGHLIGHTS, "never clip, lift later"))
    let_go = [
        Change(f"reading-{k}-may_clip", True)
        for k, tone in enumerate(analysis.level.tones) if tone in lost
    ]  # fmt: skip
    ways.append(Fix("accept it" if len(lost) == 1 else "accept them", tuple(let_go), 0.0))
    yield Finding(
        READING_CLIPS, Severity.STOP if faces else Severity.CAUTION,
        f"{format_capital(names)}{more} {verb}",
        f"{n.format_stops(worst.clipped_stops)} beyond {analysis.setup.profile.name}'s "
        f"{n.format_number(analysis.level.clip_percent)} %",
        worst.clipped_stops, "stops", tuple(ways),
    )  # fmt: skip


def _darker(analysis: Analysis, tone: Tone) -> tuple[Fix, ...]:
    error = analysis.budget.error_stops
    aim = (error - tone.clipped_stops - 0.67, error - tone.clipped_stops)
    offered = fx.exposure_fixes(analysis, error, aim)
    return offered or fx.more_light(analysis, tone.clipped_stops)


CHECKS = (key_clips, readings_clip)
