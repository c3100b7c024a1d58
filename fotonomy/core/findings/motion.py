"""Findings about motion: lamps, gaps, smear, lean and the hand."""

from collections.abc import Iterator
from math import ceil

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.exposure.scales import Option, shutter_offer, with_setting
from fotonomy.core.findings import fixes as fx
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.findings.fixes import at_rate
from fotonomy.core.gear.support import SHAKEN_SUPPORTS, Support
from fotonomy.core.motion.cadence import WHIP_CROSSING_S, Cadence
from fotonomy.core.motion.camera_movement import Camera
from fotonomy.core.motion.flicker import FLICKER_SAFE_RIPPLE, residual_ripple
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.spoken import spoken
from fotonomy.core.notation.writing import format_capital
from fotonomy.core.ranges import range_of
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.intent import Intent, Look
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile

MAINS = Family("flicker.mains", Harm.MOVES_WRONGLY, Tile.MOTION)
STROBING = Family("motion.strobing", Harm.MOVES_WRONGLY, Tile.MOTION)
WHIP = Family("motion.whip", Harm.MOVES_WRONGLY, Tile.MOTION)
SMEAR_OVER_FREEZE = Family("motion.smear_over_freeze", Harm.MOVES_WRONGLY, Tile.MOTION)
LEAN = Family("motion.lean", Harm.MOVES_WRONGLY, Tile.MOTION)
HANDHELD = Family("support.handheld", Harm.MOVES_WRONGLY, Tile.MOTION)

# A lean of this many degrees begins to show on uprights. Common practice, no source.
LEAN_SEEN_FROM_DEG = 2.0
# Smaller than this share of the picture's height nobody sees it lean. Common practice, no source.
LEAN_SEEN_FROM_SHARE = 0.1


def flicker(analysis: Analysis) -> Iterator[Finding]:
    """Mains lamps against the shutter."""
    setup, state = analysis.setup, analysis.flicker
    if not setup.lamps or state.safe or setup.single_frame:
        return
    bands = "bands stand across the picture" if state.steady else "bands roll through the picture"
    yield Finding(
        MAINS, Severity.CAUTION,
        f"Lamps flicker at {n.format_time(setup.time_s)} on {_lamps(setup)}",
        f"{n.format_number(100 * state.ripple)} % of the lamps' ripple stays in the picture; "
        f"{bands}",
        100 * state.ripple, "%", _flicker_fixes(analysis),
    )  # fmt: skip


def _lamps(setup: Setup) -> str:
    if setup.lamp_hz is None:
        return f"{setup.mains_hz} Hz"
    return f"{n.format_number(setup.lamp_hz, 0)} pulses a second"


def _flicker_fixes(analysis: Analysis) -> tuple[Fix, ...]:
    setup, pulses = analysis.setup, analysis.flicker.pulses_hz
    safe = [
        o for o in analysis.offers["shutter"].options
        if residual_ripple(o.value.seconds(setup.frame_rate), pulses) <= FLICKER_SAFE_RIPPLE
    ]  # fmt: skip
    if safe:
        best = min(safe, key=lambda o: abs(fx.price_stops(setup, "shutter", o.value)))
        alone = fx.fix_to(analysis, "shutter", best)
        both = fx.rebalanced(analysis, "shutter", best)
        return (both,) if both == alone else (both, alone)
    for rate in reversed(analysis.offers["frame_rate"].options):
        if rate.value < setup.frame_rate:
            calm = _longest_safe(with_setting(setup, "frame_rate", rate.value), pulses)
            if calm is not None:
                return (at_rate(analysis, rate, calm),)
    without = (Change("lamp_hz", None), Change("mains_lamps", False))
    return (Fix("light it without these lamps", without, 0.0),)


def _longest_safe(setup: Setup, pulses_hz: float) -> Option | None:
    safe = [
        o for o in shutter_offer(setup).options
        if residual_ripple(o.value.seconds(setup.frame_rate), pulses_hz) <= FLICKER_SAFE_RIPPLE
    ]  # fmt: skip
    return max(safe, key=lambda o: float(o.value.seconds(setup.frame_rate)), default=None)


def strobing(analysis: Analysis) -> Iterator[Finding]:
    """Gaps between frames that jump on screen."""
    moved = analysis.motion
    setup = analysis.setup
    if moved.cadence is not Cadence.STROBING or setup.records_stills:
        return
    if setup.intent.look is Look.CRISP and _as_crisp_as_asked(setup):
        return
    assert moved.gap_percent is not None
    yield Finding(
        STROBING, Severity.CAUTION,
        f"{format_capital(moved.mover)} strobes",
        f"A gap of {n.format_number(moved.gap_percent, 2)} % of the frame width between pictures; "
        f"up to {n.format_number(moved.comfortable_gap_percent, 2)} % looks smooth here"
        + ("" if moved.smooth_deg_s is None
           else f", a pan of {n.format_number(moved.smooth_deg_s)}°/s"),
        moved.gap_percent, "% of frame width", _strobing_fixes(analysis),
    )  # fmt: skip


def _as_crisp_as_asked(setup: Setup) -> bool:
    """True where the shutter is no shorter than half the angle the crisp method asks for."""
    return setup.shutter.degrees(setup.frame_rate) >= 0.5 * setup.intent.look.angle_deg


def whip(analysis: Analysis) -> Iterator[Finding]:
    """A pan across the frame in less than a second: nothing in it can be read."""
    moved, setup = analysis.motion, analysis.setup
    if moved.cadence is not Cadence.UNREADABLE or setup.records_stills:
        return
    assert moved.screen_crossing_s is not None
    share = moved.screen_crossing_s / WHIP_CROSSING_S
    smooth = moved.smooth_deg_s or setup.movement.pan_deg_s * share
    ways = [
        Fix(f"pan at {n.format_number(rate, 2)}°/s", (Change("pan_deg_s", round(rate, 2)),), 0.0)
        for rate in (smooth, setup.movement.pan_deg_s * share * 0.98) if rate >= 0.01
    ] or [Fix("stand still", (Change("camera", Camera.LOCKED),), 0.0)]  # fmt: skip
    yield Finding(
        WHIP, Severity.CAUTION, "A whip pan: nothing in it can be read",
        f"At {n.format_number(setup.movement.pan_deg_s)}°/s the frame is crossed in "
        f"{n.format_number(moved.screen_crossing_s, 2)} s; up to {n.format_number(smooth)}°/s is "
        "comfortable to watch",
        moved.screen_crossing_s, "s",
        tuple(ways),
    )  # fmt: skip


def _strobing_fixes(analysis: Analysis) -> tuple[Fix, ...]:
    setup, moved = analysis.setup, analysis.motion
    assert moved.step_percent is not None
    limit, ways = moved.comfortable_gap_percent * 1.001, []
    needed = moved.step_percent - limit
    opener = [
        o for o in analysis.offers["shutter"].options
        if moved.smear_percent / setup.time_s * o.value.seconds(setup.frame_rate) >= needed
    ]  # fmt: skip
    if opener:
        least = min(opener, key=lambda o: float(o.value.seconds(setup.frame_rate)))
        ways.append(fx.rebalanced(analysis, "shutter", least))
    faster = [
        o for o in analysis.offers["frame_rate"].options
        if o.value > setup.frame_rate and setup.shutter.seconds(o.value) * o.value <= 1.001
        and moved.step_percent * setup.frame_rate / o.value
        - moved.smear_percent * setup.shutter.seconds(o.value) / setup.time_s <= limit
    ]  # fmt: skip
    if faster:
        ways.append(
            fx.rebalanced(analysis, "frame_rate", min(faster, key=lambda o: float(o.value)))
        )
    assert moved.gap_percent is not None
    away = setup.subject_distance_m * moved.gap_percent / moved.comfortable_gap_percent * 1.01
    # A pan turns over the same angle however far away one stands.
    pans = setup.movement.camera is Camera.PAN
    if not ways and not pans and away <= c.DISTANCE_RANGE_M[1]:
        text = f"{n.format_number(away)} m"
        ways.append(Fix(f"go back to {text}", (Change("subject_distance_m", round(away, 1)),), 0.0))
    return tuple(ways) or _slower(analysis)


def _slower(analysis: Analysis) -> tuple[Fix, ...]:
    assert analysis.motion.gap_percent is not None
    return _calmer(
        analysis.setup,
        analysis.motion.comfortable_gap_percent / analysis.motion.gap_percent * 0.999,
    )


def smear(analysis: Analysis) -> Iterator[Finding]:
    """More smear than the person wants to freeze to."""
    setup, longest = analysis.setup, analysis.shake.freeze_s
    wanted = setup.intent.freeze_px
    if wanted is None or longest is None or setup.time_s <= longest * 2**c.LIMIT_MET_STOPS:
        return
    ways = _fast_enough(analysis, longest)
    smear_px = analysis.motion.smear_px
    accepted = max(round(smear_px * 1.01, 1), ceil(10 * smear_px) / 10)
    if accepted <= range_of(Intent, "freeze_px")[1]:
        text = f"{n.format_number(accepted)} px"
        ways.append(Fix(f"accept {text} of smear", (Change("freeze_px", accepted),), 0.0))
    else:
        ways.append(Fix("no wish to freeze", (Change("freeze_px", None),), 0.0))
    yield Finding(
        SMEAR_OVER_FREEZE, Severity.CAUTION, "More smear than you want to freeze to",
        f"{n.format_number(analysis.motion.smear_px)} px at {n.format_time(setup.time_s)}; "
        f"{n.format_number(wanted)} px would need {n.format_time(longest)}",
        analysis.motion.smear_px, "px", tuple(ways),
    )  # fmt: skip


def _fast_enough(analysis: Analysis, longest_s: float) -> list[Fix]:
    """The slowest offered shutter that is no longer than a time, and what balances it."""
    rate = analysis.setup.frame_rate
    short = [
        o for o in analysis.offers["shutter"].options if o.value.seconds(rate) <= longest_s * 1.001
    ]  # fmt: skip
    slowest = max(short, key=lambda o: float(o.value.seconds(rate)), default=None)
    return [fx.rebalanced(analysis, "shutter", slowest)] if slowest else []


def lean(analysis: Analysis) -> Iterator[Finding]:
    """Uprights that a rolling shutter leans."""
    return leaning(analysis, _faster_formats(analysis.setup))


def leaning(analysis: Analysis, ways: list[Fix]) -> Iterator[Finding]:
    """The finding of leaning uprights, with a kind's own ways out before moving slower."""
    degrees, setup = analysis.shake.lean_deg, analysis.setup
    if degrees is None or degrees < LEAN_SEEN_FROM_DEG:
        return
    tall = setup.subject_size_m >= LEAN_SEEN_FROM_SHARE * analysis.focus.field_height_m
    if setup.movement.camera in (Camera.LOCKED, Camera.TRAVEL) and not tall:
        # Chips and drops lean too, but nobody knows how they stood.
        return
    share = LEAN_SEEN_FROM_DEG / degrees * 0.99
    yield Finding(
        LEAN, Severity.CAUTION, "Uprights lean: the picture is read line by line",
        f"{n.format_number(degrees)}° at {n.format_number(setup.format.readout_ms or 0.0)} ms of "
        f"readout; under {n.format_number(LEAN_SEEN_FROM_DEG, 0)}° it is hard to see",
        degrees, "°", tuple(ways) + _calmer(setup, share),
    )  # fmt: skip


def _faster_formats(setup: Setup) -> list[Fix]:
    """Formats of this body that are read out faster, at the present rate."""
    readout, rate = setup.format.readout_ms or 0.0, setup.frame_rate
    faster = [
        f for f in setup.body.formats
        if f.readout_ms is not None and f.readout_ms < 0.8 * readout
        and any(abs(r.fps / rate - 1) < 0.001 for r in f.rates)
    ]  # fmt: skip
    return [
        Fix(f"record {f.name}, {n.format_number(f.readout_ms or 0)} ms",
            (Change("recording", f.name),), 0.0)
        for f in sorted(faster, key=lambda f: f.readout_ms or 0.0)[:2]
    ]  # fmt: skip


def _calmer(setup: Setup, share: float) -> tuple[Fix, ...]:
    """Move slower by this share, whichever of subject and camera it is that moves."""
    camera = setup.movement
    if camera.camera is Camera.PAN:
        text = f"{n.format_number(camera.pan_deg_s * share, 2)}°/s"
        return (
            Fix(f"pan at {text}", (Change("pan_deg_s", round(camera.pan_deg_s * share, 2)),), 0.0),
        )
    changes, said = [], []
    if camera.camera is Camera.TRAVEL and camera.travel_m_s > 0:
        text = spoken(setup, "travel_m_s", camera.travel_m_s * share)
        changes.append(Change("travel_m_s", round(camera.travel_m_s * share, 3)))
        said.append(f"travel at {text}")
    if setup.subject_speed_m_s > 0:
        text = spoken(setup, "subject_speed_m_s", setup.subject_speed_m_s * share)
        changes.append(Change("subject_speed_m_s", round(setup.subject_speed_m_s * share, 3)))
        said.append(f"move at {text}")
    return (Fix(", ".join(said), tuple(changes), 0.0),)


def hand(analysis: Analysis) -> Iterator[Finding]:
    """A single picture from the hand that is slower than the person's method allows."""
    setup, slowest = analysis.setup, analysis.shake.handheld_s
    if not setup.records_stills or setup.support not in SHAKEN_SUPPORTS:
        return
    if setup.time_s <= slowest * 1.001:
        return
    ways = _fast_enough(analysis, slowest)
    ways.append(Fix("put it on a tripod", (Change("support", Support.TRIPOD),), 0.0))
    over = fx.price_stops(setup, "shutter", Shutter(time_s=slowest))
    yield Finding(
        HANDHELD, Severity.CAUTION, "Slower than you can hold",
        f"{n.format_time(setup.time_s)} is {n.format_stops(over)} slower than "
        f"{n.format_time(slowest)}, {setup.intent.handheld.label} with the stabiliser",
        abs(over), "stops", tuple(ways),
    )  # fmt: skip


CHECKS = (flicker, strobing, whip, smear, lean, hand)
