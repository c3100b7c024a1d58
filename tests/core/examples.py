"""Invented gear and setups for tests: round numbers, no real product."""

from dataclasses import replace
from typing import Any

import pytest

from fotonomy.core.curves.transfer_functions import Bt709, ParametricLog
from fotonomy.core.exposure.scales import with_setting
from fotonomy.core.findings.finding import Finding
from fotonomy.core.gear.body import Body, DriveMode, RecordingFormat, RecordingRate, ShutterStyle
from fotonomy.core.gear.filters import Filter, FilterKind, StepRing
from fotonomy.core.gear.lens import Lens
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.gear.profile import Profile
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.parsing.settings import reachable
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.spec.setup import Setup

LOG = ParametricLog(
    name="Flat log", a=5, b=0.05, c=0.2898, d=0.39146, e=5.72084, f=0.045006, cut=0.012
)
FLAT = Profile(name="Flat log", curve=LOG, clip_percent=92, base_iso=(500, 3200))
VIDEO = Profile(name="Video", curve=Bt709(), clip_percent=109, base_iso=(100,))
BODY = Body(
    name="A-cam",
    formats=(
        RecordingFormat(
            name="4K", width_px=3840, height_px=2160, sensor_width_mm=36.0, sensor_height_mm=20.25,
            rates=tuple(RecordingRate(f, m) for f, m in ((24, 100), (25, 100), (50, 150), (100, 280))),
            readout_ms=16.0,
        ),
        RecordingFormat(
            name="HD crop", width_px=1920, height_px=1080, sensor_width_mm=18.0,
            sensor_height_mm=10.125, rates=(RecordingRate(25, 50), RecordingRate(200, 200)),
            readout_ms=8.0,
        ),
    ),
    drive_modes=(DriveMode("high", 12, buffer_frames=60), DriveMode("fastest", 20, True, 50)),
    shutter_style=ShutterStyle.BOTH,
    angles_deg=(45, 90, 144, 172.8, 180, 216, 270, 360),
    iso_lowest=100, iso_highest=51_200, iso_ceiling=12_800, card_gb=128,
)  # fmt: skip
LENS = Lens(name="Standard 50", focal_shortest_mm=50, focal_longest_mm=50, widest_f=1.8,
            smallest_f=22, thread_mm=67)  # fmt: skip
ND = tuple(
    Filter(name=str(d), kind=FilterKind.ND, stops=density_to_stops(d), thread_mm=77)
    for d in (0.3, 0.6, 0.9, 1.8)
)

# From the sensor plane, as the spec counts: four metres in front of a thin lens of 50 mm, which
# stands f(1 + m) = 50·(1 + 1/79) mm before the sensor.
AT_4M = 4.0 + 0.05 * (1 + 1 / 79)
RINGS = (StepRing(name="Ring 67 to 77", lens_mm=67, filter_mm=77),)


def setup(**changes: Any) -> Setup:
    """A balanced real-time setup at 25 fps in EV 12, with changes."""
    base = Setup(
        title="Plank", project_fps=25, mains_hz=50, light=Ev100(12.0), subject_speed_m_s=0.0,
        subject_distance_m=AT_4M, body=BODY, lens=LENS, glass=ND, holders=RINGS, profile=FLAT, focal_mm=50,
        frame_rate=25, shutter=Shutter(angle_deg=180), iris=5.6, iso=500, nd_density=0.9,
    )  # fmt: skip
    return replace(base, **changes)


def has_reason_number_and_fix(finding: Finding, number: float) -> None:
    """What every finding owes: its number, a reason with one in it, and ways out that change something."""
    assert finding.number == pytest.approx(number, abs=0.02)
    assert any(character.isdigit() for character in finding.why)
    assert finding.fixes
    assert all(fix.label and fix.changes for fix in finding.fixes)


def with_typed_setting(spec: Setup, name: str, text: str) -> Setup:
    """The setup with one setting typed by a person; RuleError as ``reachable`` raises it."""
    return with_setting(spec, name, reachable(spec, name, text))
