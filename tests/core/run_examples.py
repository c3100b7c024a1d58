"""Invented interval, burst and long-exposure setups for tests."""

from dataclasses import replace
from typing import Any

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.setup import analyse
from fotonomy.core.gear.accessories import Battery, Card, Remote
from fotonomy.core.gear.body import DriveMode
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.plan import Plan
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Run
from tests.core.examples import BODY, setup

# 10 W at work and 4 W waiting, 25 MB raw and 8 MB JPEG files: round numbers for sums by hand.
CAM = replace(BODY, power_w=10.0, idle_w=4.0, combines_most=4, still_mp=24.0)
PLAIN = Remote(name="Plain", most_count=9999)
CARD = Card(name="Card", size_gb=128, write_mb_s=50)
CELL = Battery(name="Cell", energy_wh=40)
DRIVES = (
    DriveMode("slow", 5, buffer_frames=500),
    DriveMode("high", 12, buffer_frames=60, buffer_jpeg=600, fps_focusing=9),
    DriveMode("fastest", 60, electronic=True, buffer_frames=50, precapture_s=0.5),
)  # fmt: skip


def interval(**changes: Any) -> Setup:
    """A balanced run: a frame every 6 s for 20 s on screen, half a second each."""
    run = changes.pop("run", {})
    base: dict[str, Any] = {
        "kind": Kind.INTERVAL, "body": CAM, "light": Ev100(6.69), "frame_rate": 1 / 6,
        "shutter": Shutter(time_s=0.5), "iris": 5.6, "iso": 500, "nd_density": 0.9,
        "wanted_screen_s": 20.0, "handle_s": 0.0, "devices": (PLAIN, CARD, CELL),
        "run": Run(**run),
    }  # fmt: skip
    return setup(**{**base, **changes})


def burst(**changes: Any) -> Setup:
    """A gull at 9 m/s, 20 m away, on the long drive of an invented body."""
    run = changes.pop("run", {})
    base: dict[str, Any] = {
        "kind": Kind.BURST, "body": replace(CAM, drive_modes=DRIVES), "light": Ev100(13),
        "frame_rate": 12, "shutter": Shutter(time_s=1 / 1000), "nd_density": 0.0,
        "subject_speed_m_s": 9.0, "subject_distance_m": 20.0, "devices": (CARD,),
        "run": Run(**run),
    }  # fmt: skip
    return setup(**{**base, **changes})


def long_exposure(**changes: Any) -> Setup:
    """One exposure of 15 s of a boat at 5 m/s, 500 m away: the field is 360 m wide."""
    run = changes.pop("run", {})
    base: dict[str, Any] = {
        "kind": Kind.LONG_EXPOSURE, "body": CAM, "light": Ev100(0.5), "iris": 11, "iso": 100,
        "shutter": Shutter(time_s=15), "nd_density": 0.0, "subject_speed_m_s": 5.0,
        "subject_distance_m": 500.05, "devices": (CARD,), "run": Run(**run),
    }  # fmt: skip
    return setup(**{**base, **changes})


def run_of(spec: Setup) -> IntervalRun:
    """The interval run of a setup."""
    run = analyse(spec).run
    assert isinstance(run, IntervalRun)
    return run


def ids(planned: Plan) -> set[str]:
    """Which findings a plan has."""
    return {finding.id for finding in planned.findings}
