"""The strip: what to set on the camera, in the order one reads it out."""

from dataclasses import dataclass

from fotonomy.core.analysis.interval import IntervalRun
from fotonomy.core.analysis.packing import worn_words
from fotonomy.core.analysis.setup import Analysis, run_of
from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.spoken import iris_text
from fotonomy.core.stills.burst import Burst
from fotonomy.core.stills.long_exposure import LongExposure


@dataclass(frozen=True, slots=True)
class ReadoutItem:
    """One thing to set: its name, its value as the camera shows it, and a word more."""

    label: str
    value: str
    detail: str


def frame_rate_item(analysis: Analysis) -> ReadoutItem:
    """What video is recorded at."""
    setup = analysis.setup
    edit = f"edit {n.format_frame_rate(setup.project_fps)}"
    rate = analysis.named("setup.frame_rate", n.format_frame_rate(setup.frame_rate))
    return ReadoutItem("Frame rate", f"{rate} fps", edit)


def interval_item(analysis: Analysis) -> ReadoutItem:
    """What the remote's interval field is set to, and how often it fires."""
    run = run_of(analysis, IntervalRun)
    count = run.intervalometer.count
    counted = "no count" if count is None else f"count {count}"
    return ReadoutItem(
        "Interval", f"{n.format_number(run.intervalometer.interval_s, 2)} s",
        f"{run.frames} frames, {counted}",
    )  # fmt: skip


def burst_item(analysis: Analysis) -> ReadoutItem:
    """The drive of a burst."""
    drive = run_of(analysis, Burst).present
    return ReadoutItem("Drive", f"{n.format_number(drive.rate_fps)}/s", drive.drive.name)


def long_exposure_item(analysis: Analysis) -> ReadoutItem:
    """One frame or several, and who holds the shutter."""
    run = run_of(analysis, LongExposure)
    one = run.frames == 1
    how = "one frame" if one else analysis.setup.run.combining.brief
    return ReadoutItem(
        "Drive", "single" if one else f"×{run.frames}", "bulb, remote holds" if run.bulb else how
    )


def readout(analysis: Analysis, first: ReadoutItem) -> tuple[ReadoutItem, ...]:
    """What a kind sets first, then shutter, iris, ISO, ND, white balance and zebra."""
    setup, level = analysis.setup, analysis.level
    time = n.format_time(setup.time_s)
    in_degrees = setup.shutter.angle_deg is not None
    angle = f"{n.format_number(setup.shutter.degrees(setup.frame_rate), 1)}°"
    density = n.format_density(setup.nd_density)
    glass = density if density == "none" else f"ND {density}"
    worn, stops = worn_words(analysis), n.format_stops(density_to_stops(setup.nd_density))
    one, two = level.zebra_one, level.zebra_two
    items = [
        ReadoutItem("ISO", analysis.named("setup.iso", str(setup.iso)), setup.profile.name),
        ReadoutItem(
            "ND", analysis.named("setup.nd_density", glass),
            ", ".join(one for one in (stops if setup.nd_density else "", worn) if one),
        ),
        ReadoutItem(
            "White", analysis.named("setup.white_k", f"{n.format_number(setup.white_k, 0)} K"),
            "lock it",
        ),
        ReadoutItem("Zebra 1", one.words, one.meant_for),
        ReadoutItem("Zebra 2", two.words, two.meant_for),
    ]  # fmt: skip
    shown = n.format_shutter(setup.shutter) if in_degrees else time
    shutter = ReadoutItem(
        "Shutter", analysis.named("setup.time_s", shown),
        "" if setup.single_frame or setup.records_stills else time if in_degrees else angle,
    )  # fmt: skip
    iris = ReadoutItem(
        "Iris", analysis.named("setup.iris", iris_text(setup)),
        analysis.named("setup.focal_mm", f"{n.format_number(setup.focal_mm)} mm"),
    )  # fmt: skip
    return (first, shutter, iris, *items)
