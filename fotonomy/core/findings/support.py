"""Findings about what carries the camera: a long lens by hand, a stabiliser on a tripod."""

from collections.abc import Iterator

from fotonomy.core.analysis.setup import Analysis, equivalent_focal_mm
from fotonomy.core.findings.finding import Family, Finding, Fix, Harm, Severity
from fotonomy.core.gear.support import STEADY_SUPPORTS, Support
from fotonomy.core.motion.camera_movement import Camera
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.intent import Switch
from fotonomy.core.tiles import Tile

SHAKY = Family("support.shaky", Harm.MOVES_WRONGLY, Tile.MOTION)
STABILISER_ON = Family("support.stabiliser_on", Harm.MOVES_WRONGLY, Tile.MOTION)

# The longest focal length (full-frame equivalent) whose video looks calm, by what carries it,
# without a stabiliser. Common practice, no source.
CALM_TO_MM = {Support.HAND: 50.0, Support.SHOULDER: 85.0, Support.GIMBAL: 135.0}
# A stabiliser steadies video by half of what it is rated for a single picture: it cannot follow a
# walk. Common practice, no source.
VIDEO_SHARE = 0.5


def calm_to_mm(analysis: Analysis) -> float | None:
    """Longest equivalent focal length that looks calm here; None on what stands by itself.

    A stop of stabiliser, or half the speed on screen, lets it be as much longer.
    """
    setup = analysis.setup
    bare = CALM_TO_MM.get(setup.support)
    if bare is None or setup.records_stills:
        return None
    slowed = max(1.0, setup.frame_rate / setup.project_fps)
    return float(bare * 2 ** (VIDEO_SHARE * setup.stabiliser_stops) * slowed)


def shaky(analysis: Analysis) -> Iterator[Finding]:
    """Video on a lens too long for what carries the camera."""
    setup, calm = analysis.setup, calm_to_mm(analysis)
    focal = equivalent_focal_mm(setup)
    if calm is None or focal <= calm * 1.01:
        return
    ways = [Fix("put it on a tripod", (Change("support", Support.TRIPOD),), 0.0)]
    shorter = setup.focal_mm * calm / focal
    if setup.lens.focal_shortest_mm <= shorter:
        text = f"{n.format_number(shorter, 0)} mm"
        ways.append(Fix(text, (Change("focal_mm", float(int(shorter))),), 0.0))
    if setup.intent.stabiliser is Switch.OFF and setup.body.stabiliser_stops:
        on = (Change("stabiliser", Switch.ON),)
        ways.insert(0, Fix("stabiliser on", on, 0.0))
    yield Finding(
        SHAKY, Severity.CAUTION, "Too long a lens to hold for video",
        f"{n.format_number(focal, 0)} mm (full-frame equivalent) by {setup.support.value}; up to "
        f"{n.format_number(calm, 0)} mm look calm with "
        + (f"{n.format_number(setup.stabiliser_stops)} stops of stabiliser"
           if setup.stabiliser_stops else "no stabiliser"),
        focal, "mm", tuple(ways),
    )  # fmt: skip


def stabiliser_left_on(analysis: Analysis) -> Iterator[Finding]:
    """A stabiliser that looks for shake where there is none, and makes some."""
    setup = analysis.setup
    if setup.intent.stabiliser is not Switch.ON or setup.support not in STEADY_SUPPORTS:
        return
    if setup.movement.camera is not Camera.LOCKED or not setup.stabiliser_stops:
        return
    yield Finding(
        STABILISER_ON, Severity.CAUTION, "The stabiliser is on although nothing shakes",
        f"On a {setup.support.value} its {n.format_number(setup.stabiliser_stops)} stops look for "
        "shake that is not there, and the picture drifts",
        setup.stabiliser_stops, "stops",
        (Fix("stabiliser off", (Change("stabiliser", Switch.OFF),), 0.0),),
    )  # fmt: skip


CHECKS = (shaky, stabiliser_left_on)
