"""What a long exposure comes to: its trail, what passes through it, its lamps, its frames."""

from math import sqrt

from fotonomy.core.analysis.interval import noise_frame, write_s_of
from fotonomy.core.constants import STILL_BELOW_M_S
from fotonomy.core.motion.cadence import Motion, pixels_of
from fotonomy.core.spec.readings import Surface
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Combining
from fotonomy.core.stills.long_exposure import (
    LampPass,
    LongExposure,
    empty_chance,
    passing_of,
    trail_percent,
    uneven_share,
    wanted_s,
    whole_s,
)
from fotonomy.core.tone.signal_levels import Level

# Between two frames combined later, a fast card provided. Common practice, no source.
FRAME_GAP_S = 0.2
# A lamp in a pass of its own is held this far under the clip. Common practice, no source.
LAMP_MARGIN_STOPS = 0.3


def _dark_and_gap_s(setup: Setup, frames: int) -> tuple[float, float]:
    """Seconds of the noise frame after each exposure, and between two frames combined."""
    dark = setup.time_s if noise_frame(setup) else 0.0
    if frames == 1:
        return dark, 0.0
    return dark, dark + max(FRAME_GAP_S, write_s_of(setup) if dark else 0.0)


def frames_of(setup: Setup) -> int:
    """How many exposures make the picture."""
    return 1 if setup.run.combining is Combining.SINGLE else setup.run.frames


def wanted_exposure_s(setup: Setup) -> float | None:
    """The time of each exposure that gives the trail wanted; None without a wish or a trail."""
    mover = setup.mover
    if setup.run.trail_percent is None or mover.speed_m_s <= STILL_BELOW_M_S:
        return None
    frames = frames_of(setup)
    crossing = setup.field_width_m(mover.distance_m) / mover.speed_m_s
    gap = _dark_and_gap_s(setup, frames)[1]
    return wanted_s(setup.run.trail_percent, crossing, frames, gap)


def long_exposure_of(setup: Setup, moved: Motion, level: Level) -> LongExposure:
    """The picture of one exposure or several."""
    run, time, frames = setup.run, setup.time_s, frames_of(setup)
    dark, gap = _dark_and_gap_s(setup, frames)
    whole, crossing = whole_s(frames, time, gap), moved.crossing_s
    passing = None if run.passes_s is None else passing_of(frames * time, run.passes_s)
    wanted = wanted_exposure_s(setup)
    hole = trail_percent(gap, crossing)
    return LongExposure(
        frames=frames, time_s=time, open_s=frames * time, gap_s=gap, lasts_s=whole + dark,
        each_percent=trail_percent(time, crossing), whole_percent=trail_percent(whole, crossing),
        hole_percent=hole, hole_px=pixels_of(hole, setup.delivered_px),
        passing=passing, empty_chance=None if passing is None else empty_chance(passing),
        uneven_share=None if passing is None else uneven_share(passing), wanted_s=wanted,
        bulb=time > setup.body.slowest_s * 1.001,
        over_limit=run.combining.in_camera and frames > setup.body.combines_most,
        lamps=_lamps(setup, level),
    )  # fmt: skip


def _lamps(setup: Setup, level: Level) -> tuple[LampPass, ...]:
    """Lamps among the readings, each as a pass of its own: brightest first."""
    found = []
    for tone in level.tones:
        if tone.reading is None or tone.reading.surface is not Surface.LAMP:
            continue
        less = max(0.0, tone.placed_stops - level.headroom_stops + LAMP_MARGIN_STOPS)
        iris = min(setup.lens.smallest_f, setup.iris * sqrt(2.0**less))
        found.append(LampPass(tone.name, tone.clipped_stops, less, iris))
    return tuple(sorted(found, key=lambda one: -one.less_stops))
