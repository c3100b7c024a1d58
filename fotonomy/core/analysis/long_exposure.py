"""What a long exposure comes to: its trail, what passes through it, its lamps, its frames."""

from math import sqrt

from fotonomy.core.analysis.interval import noise_frame, write_s_of
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


def long_exposure_of(setup: Setup, moved: Motion, level: Level) -> LongExposure:
    """The picture of one exposure or several."""
    run, time = setup.run, setup.time_s
    frames = 1 if run.combining is Combining.SINGLE else run.frames
    dark = time if noise_frame(setup) else 0.0
    gap = 0.0 if frames == 1 else dark + max(FRAME_GAP_S, write_s_of(setup) if dark else 0.0)
    whole, crossing = whole_s(frames, time, gap), moved.crossing_s
    passing = None if run.passes_s is None else passing_of(frames * time, run.passes_s)
    wanted = None
    if run.trail_percent is not None and crossing is not None:
        wanted = wanted_s(run.trail_percent, crossing, frames, gap)
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
