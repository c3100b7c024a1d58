"""What a burst comes to on this body, card and subject, drive by drive, and against video."""

from dataclasses import replace
from math import isfinite

from fotonomy.core import constants as c
from fotonomy.core.analysis.interval import card_of
from fotonomy.core.conversions import MS_A_S
from fotonomy.core.gear.body import DriveMode
from fotonomy.core.motion.camera_movement import lean_deg
from fotonomy.core.spec.setup import Setup
from fotonomy.core.stills.burst import (
    Buffer,
    Burst,
    DriveChoice,
    VideoChoice,
    chance_of,
    enough_drive,
    file_mb,
    frames_an_hour,
    kept_before,
    limit_of,
    rate_of,
    spacing_m,
    spacing_percent,
    stills_gb_an_hour,
    video_gb_an_hour,
)


def drive_in_use(setup: Setup) -> DriveMode:
    """The body's drive whose rate is nearest to the one set."""
    focusing = setup.run.continuous_focus
    drives = setup.body.drive_modes or (DriveMode("single pictures", setup.frame_rate),)
    return min(drives, key=lambda drive: abs(rate_of(drive, focusing) - setup.frame_rate))


def rolls_down(setup: Setup) -> bool:
    """True where the shutter rolls down the picture: in video, and in electronic drives.

    Interval runs and long exposures are taken to use the mechanical one (common practice).
    """
    if not setup.records_stills:
        return True
    return setup.kind.traits.drive and drive_in_use(setup).electronic


def readout_s(setup: Setup) -> float | None:
    """How long the sensor takes to be read, in seconds; None where that is unknown."""
    readout_ms = setup.format.readout_ms
    return None if readout_ms is None else readout_ms / MS_A_S


def moving_height_m(setup: Setup) -> float:
    """How high the picture is where it moves, in metres."""
    return setup.field_height_m(setup.mover.distance_m)


def moving_field_m(setup: Setup) -> float:
    """How wide the picture is where it moves, in metres."""
    return setup.field_width_m(setup.mover.distance_m)


def lean_of(setup: Setup) -> float | None:
    """Degrees that uprights lean where the shutter rolls; None where its readout is unknown."""
    reads_s = readout_s(setup)
    if reads_s is None:
        return None
    return lean_deg(setup.mover.speed_m_s, reads_s, moving_height_m(setup))


def burst_of(setup: Setup) -> Burst:
    """The burst as set, every drive beside it, and the body's fastest video."""
    drives = setup.body.drive_modes or (drive_in_use(setup),)
    choices = tuple(_choice(setup, drive) for drive in drives)
    advised, because = enough_drive(choices)
    marked = tuple(replace(one, enough=one is advised) for one in choices)
    in_use = drive_in_use(setup)
    present = next(one for one in marked if one.drive == in_use)
    before = in_use.precapture_s or 0.0
    return Burst(
        present=present, choices=marked,
        advised=next(one for one in marked if one.enough), because=because,
        video=_video(setup), still_megapixels=setup.body.still_mp,
        moment_s=setup.run.moment_s, lasts_s=setup.run.burst_s,
        before_frames=kept_before(before, present.rate_fps),
        covers_reaction=before >= c.REACTION_S,
    )  # fmt: skip


def _choice(setup: Setup, drive: DriveMode) -> DriveChoice:
    run, speed = setup.run, card_of(setup).write_mb_s
    rate, each_mb = rate_of(drive, run.continuous_focus), file_mb(setup.body, run.files)
    limit = limit_of(drive, run.files)
    buffer = None if limit is None or speed is None else Buffer(limit, rate, speed / each_mb)
    frames = buffer.taken(run.burst_s) if buffer else rate * run.burst_s
    moves = setup.mover
    field = moving_field_m(setup)
    full = buffer.full_after_s if buffer else None
    return DriveChoice(
        drive=drive, rate_fps=rate, buffer=buffer,
        spacing_m=spacing_m(moves.speed_m_s, rate),
        spacing_percent=spacing_percent(moves.speed_m_s, rate, field),
        chance=chance_of(run.moment_s, rate), frames_a_burst=frames,
        full_after_s=full if full is not None and isfinite(full) else None,
        clears_s=buffer.clears_s(run.burst_s) if buffer else None,
        frames_an_hour=frames_an_hour(frames, run.bursts_an_hour),
        gb_an_hour=stills_gb_an_hour(frames, run.bursts_an_hour, each_mb),
        lean_deg=lean_of(setup) if drive.electronic else None,
    )  # fmt: skip


def _video(setup: Setup) -> VideoChoice | None:
    """The fastest rate of the widest picture; None where it is no faster than real time."""
    best = max(
        ((f, rate) for f in setup.body.formats for rate in f.rates),
        key=lambda pair: (pair[0].width_px, pair[0].sensor_width_mm, pair[1].fps),
    )
    recorded, rate = best
    if rate.fps <= setup.project_fps:
        return None
    run = setup.run
    return VideoChoice(
        format_name=recorded.name, rate_fps=rate.fps,
        megapixels=recorded.width_px * recorded.height_px / 1e6,
        spacing_m=spacing_m(setup.mover.speed_m_s, rate.fps),
        chance=chance_of(run.moment_s, rate.fps),
        gb_an_hour=video_gb_an_hour(rate.mb_s, run.burst_s, run.bursts_an_hour),
        bits=recorded.bits,
    )  # fmt: skip
