"""What an interval run comes to: its cycle, its remote, its card, its power, its sky and light."""

from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from math import atan, cos, floor, inf, radians

import numpy as np

from fotonomy.core import constants as c
from fotonomy.core.conversions import MB_A_GB, PERCENT, UM_A_MM
from fotonomy.core.exposure.ramp import RampPlan, ramp_plan
from fotonomy.core.gear.accessories import Card, Remote
from fotonomy.core.motion.camera_movement import SIDEREAL_RAD_S
from fotonomy.core.optics import star_trails as st
from fotonomy.core.spec.setup import Setup
from fotonomy.core.spec.stills import Follows, Ramp
from fotonomy.core.stills.burst import file_mb, limit_of
from fotonomy.core.stills.clip import Clip
from fotonomy.core.stills.energy import Power, power_of
from fotonomy.core.stills.interval import Cycle, Three, cycle, frames_for, span_s, third
from fotonomy.core.stills.intervalometer import PLAIN_REMOTE, Intervalometer, intervalometer_for
from fotonomy.core.stills.lightning import Strikes, strikes
from fotonomy.core.tone.noise import NoiseModel

# Cameras take a noise-reduction frame from this exposure time on. Common practice, no source.
NOISE_FRAME_FROM_S = 1.0
# A camera's reading after a frame, before it hears the next start, where its card is unknown.
WRITE_UNKNOWN_S = 0.5


@dataclass(frozen=True, slots=True)
class IntervalRun:
    """An interval run. Times in s, sizes in decimal GB.

    ``strikes`` is what lightning brings where ``passes_s`` says how often it strikes.
    ``three`` are event, interval and clip as planned; ``covers_s`` what the frames span.
    ``fitting_frames`` is how many fit on the card. ``ramp`` is the method in force,
    ``floating`` the camera left to itself, for comparison (None where the light stays).
    ``ends`` is when the last frame is done on the place's clock, ``clock_shift_s`` by how much
    that clock is put on or back meanwhile.
    """

    three: Three
    frames: int
    covers_s: float
    cycle: Cycle
    remote: Remote
    intervalometer: Intervalometer
    write_s: float
    write_known: bool
    buffer_frames: int
    size_gb: float
    card: Card
    fitting_frames: int
    power: Power | None
    stars: st.Stars | None
    strikes: Strikes | None
    ramp: RampPlan
    floating: RampPlan | None
    ends: datetime | None
    clock_shift_s: float

    @property
    def lasts_s(self) -> float:
        """From the press on the remote to the end of the last cycle's work."""
        return self.intervalometer.last_s + self.cycle.deaf_s + self.write_s


def card_of(setup: Setup) -> Card:
    """The card in the camera, or one of the body's usual size."""
    own = next((device for device in setup.devices if isinstance(device, Card)), None)
    return own or Card(name="the body's card", size_gb=setup.body.card_gb)


def remote_of(setup: Setup) -> Remote:
    """The remote in use, or the camera's own timer."""
    own = (device for device in setup.devices if isinstance(device, Remote))
    return next(own, PLAIN_REMOTE)


def write_s_of(setup: Setup) -> float:
    """Seconds to write one frame; half a second where the card's speed is unknown."""
    speed = card_of(setup).write_mb_s
    if speed is None:
        return WRITE_UNKNOWN_S
    return written_s(each_mb(setup), speed)


def noise_frame(setup: Setup) -> bool:
    """True where the camera takes a dark frame after each exposure."""
    return setup.run.noise_frames and setup.time_s >= NOISE_FRAME_FROM_S * 0.999


def buffer_of(setup: Setup) -> int:
    """Frames the body's buffer holds: the limit of its fastest drive, which outruns any card.

    Slower drives name higher limits, since the card empties the buffer meanwhile. Ten
    frames where none is known.
    """
    by_rate = sorted(setup.body.drive_modes, key=lambda drive: -drive.fps)
    limits = [limit_of(drive, setup.run.files) for drive in by_rate]
    return next((limit for limit in limits if limit is not None), 10)


def three_of(setup: Setup) -> Three:
    """Event, interval and clip: the settings rule, and the event is what they cover.

    Where the event does not follow it is what the person wants covered.
    """
    interval = 1 / setup.frame_rate
    frames = frames_for(setup.wanted_screen_s, setup.project_fps)
    covers = span_s(frames, interval)
    event = covers if setup.run.follows is Follows.EVENT else setup.run.event_s
    return Three(event, interval, setup.wanted_screen_s, frames)


@dataclass(frozen=True, slots=True)
class Timing:
    """A run in time: its cycle, what the remote does, and how long it lasts and works, in s."""

    cycle: Cycle
    intervalometer: Intervalometer
    write_s: float
    lasts_s: float
    busy_s: float

    def power(self, setup: Setup) -> Power | None:
        """Energy of the run against its batteries; None where the body's power is unknown."""
        air_c = setup.run.temperature_c
        return power_of(setup.body, setup.devices, air_c, self.lasts_s, self.busy_s)


def timing_of(setup: Setup, clip: Clip) -> Timing:
    """How an interval run goes in time."""
    run, interval, write_s = setup.run, 1 / setup.frame_rate, write_s_of(setup)
    laid_out = cycle(
        interval_s=interval, exposure_s=setup.time_s, self_timer_s=run.self_timer_s,
        noise_frame=noise_frame(setup), write_s=write_s,
    )  # fmt: skip
    intervalometer = intervalometer_for(
        remote_of(setup), frames=clip.record_frames, interval_s=interval,
        exposure_s=setup.time_s, delay_s=run.start_after_s,
        bulb=setup.time_s > setup.body.slowest_s * 1.001,
    )  # fmt: skip
    deaf = laid_out.deaf_s + write_s
    busy = clip.record_frames * min(deaf, intervalometer.step_s)
    return Timing(laid_out, intervalometer, write_s, intervalometer.last_s + deaf, busy)


def each_mb(setup: Setup) -> float:
    """Decimal MB of one picture as it is kept."""
    return file_mb(setup.body, setup.run.files)


def data_rate_mb_s(setup: Setup) -> float:
    """Megabits a second that video of a setup is recorded at: those of the nearest rate."""
    nearest = min(setup.format.rates, key=lambda rate: abs(rate.fps - setup.frame_rate))
    return nearest.mb_s


def photosite_um(setup: Setup) -> float:
    """Width of a photosite in micrometres."""
    return UM_A_MM * setup.format.pitch_mm


def written_s(still_mb: float, write_mb_s: float) -> float:
    """Seconds a card takes for one frame."""
    return still_mb / write_mb_s


def run_gb(frames: int, still_mb: float) -> float:
    """Decimal GB of a run."""
    return frames * still_mb / MB_A_GB


def fitting_frames(card_gb: float, still_mb: float) -> int:
    """Whole frames that fit on a card."""
    return floor(MB_A_GB * card_gb / still_mb + 1e-9)


def trail_px(focal_mm: float, time_s: float, declination_deg: float, pitch_mm: float) -> float:
    """A star's trail in delivered pixels."""
    return st.trail_mm(focal_mm, time_s, declination_deg) / pitch_mm


def crop_factor(diagonal_mm: float) -> float:
    """How much smaller than full frame a picture is, by diagonals."""
    return c.FULL_FRAME_DIAGONAL_MM / diagonal_mm


def sky_crossing_s(sensor_width_mm: float, focal_mm: float, declination_deg: float) -> float:
    """Seconds a star needs across the frame; without end at the pole."""
    turning_rad_s = SIDEREAL_RAD_S * cos(radians(declination_deg))
    if turning_rad_s < st.STANDS_STILL_RAD_S:
        return inf
    return 2 * atan(sensor_width_mm / (2 * focal_mm)) / turning_rad_s


def sky_on_screen_s(frame_crossing_s: float, speed_percent: float) -> float:
    """The same on screen."""
    return frame_crossing_s / (speed_percent / PERCENT)


def sky_step_percent(frame_crossing_s: float, frame_rate: float) -> float:
    """How far a star goes from one frame to the next, of the frame's width."""
    return PERCENT / (frame_crossing_s * frame_rate)


def interval_run(setup: Setup, clip: Clip, model: NoiseModel) -> IntervalRun:
    """Everything an interval run comes to."""
    run, interval = setup.run, 1 / setup.frame_rate
    timed = timing_of(setup, clip)
    laid_out, intervalometer, write_s = timed.cycle, timed.intervalometer, timed.write_s
    frames, remote, lasts = clip.record_frames, remote_of(setup), timed.lasts_s
    card = card_of(setup)
    one_mb = each_mb(setup)
    ends, shift = _on_the_clock(setup, lasts)
    changing = len({point.ev100 for point in run.light_curve}) > 1
    return IntervalRun(
        three=three_of(setup),
        frames=frames,
        covers_s=span_s(frames, interval),
        cycle=laid_out,
        remote=remote,
        intervalometer=intervalometer,
        write_s=write_s,
        write_known=card.write_mb_s is not None,
        buffer_frames=buffer_of(setup),
        size_gb=run_gb(frames, one_mb),
        card=card,
        fitting_frames=fitting_frames(card.size_gb, one_mb),
        power=timed.power(setup),
        stars=_stars(setup, clip, model),
        strikes=None
        if run.passes_s is None
        else strikes(run.passes_s, setup.time_s, interval, frames, one_mb),
        ramp=ramp_plan(setup, run.ramp, frames, write_s),
        floating=ramp_plan(setup, Ramp.FLOATING, frames, write_s)
        if changing and run.ramp is not Ramp.FLOATING
        else None,
        ends=ends,
        clock_shift_s=shift,
    )


def _on_the_clock(setup: Setup, lasts_s: float) -> tuple[datetime | None, float]:
    """When a run ends on the place's clock, and by how much the clock is moved meanwhile."""
    if setup.starts is None:
        return None, 0.0
    try:
        ends = (setup.starts.astimezone(UTC) + timedelta(seconds=lasts_s)).astimezone(
            setup.starts.tzinfo
        )
    except OverflowError:
        return None, 0.0
    before, after = setup.starts.utcoffset(), ends.utcoffset()
    if before is None or after is None:
        return ends, 0.0
    return ends, (after - before).total_seconds()


def _stars(setup: Setup, clip: Clip, model: NoiseModel) -> st.Stars | None:
    declination = setup.run.declination_deg
    if declination is None:
        return None
    recorded, focal = setup.format, setup.focal_mm
    px = trail_px(focal, setup.time_s, declination, setup.delivered_pitch_mm)
    crop = crop_factor(recorded.diagonal_mm)
    crossing = sky_crossing_s(recorded.sensor_width_mm, focal, declination)
    return st.Stars(
        declination_deg=declination, trail_px=px, allowed_px=setup.run.star_px,
        longest_s=st.longest_s(focal, setup.delivered_pitch_mm, setup.run.star_px, declination),
        rule_500_s=st.rule_500_s(focal, crop),
        npf_s=st.npf_s(focal, setup.iris, photosite_um(setup)),
        frame_crossing_s=crossing,
        screen_crossing_s=sky_on_screen_s(crossing, clip.speed_percent),
        step_percent=sky_step_percent(crossing, setup.frame_rate),
        average_frames=_frames_to_average(setup, model),
    )  # fmt: skip


def _frames_to_average(setup: Setup, model: NoiseModel) -> int:
    """Frames to average so that the shadows come inside the person's limit, up to 64; 0: none."""
    counts = 2 ** np.arange(7)
    shown = model.looks_like(setup.iso, 0.0, setup.intent.delivery_px, counts)
    inside = np.flatnonzero(shown <= float(model.looks_like(setup.body.iso_ceiling)))
    return int(counts[inside[0]]) if len(inside) else 0


def worked_out(setup: Setup) -> Setup:
    """The setup with the one of event, interval and clip that follows worked out anew.

    Raises RuleError naming its field where that one would lie outside all reason.
    """
    run = setup.run
    found = third(
        run.follows, event_s=run.event_s, interval_s=1 / setup.frame_rate,
        screen_s=setup.wanted_screen_s, project_fps=setup.project_fps,
    )  # fmt: skip
    match run.follows:
        case Follows.CLIP:
            return replace(setup, wanted_screen_s=found.screen_s)
        case Follows.INTERVAL:
            return replace(setup, frame_rate=1 / found.interval_s)
    return replace(setup, run=replace(run, event_s=found.event_s))
