"""Bursts and long exposures on the bench, as the templates draw them."""

from dataclasses import dataclass
from typing import Any

from fotonomy.core import constants as c
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.gear.accessories import Remote
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.changes import Change
from fotonomy.core.stills.burst import Burst, DriveChoice
from fotonomy.core.stills.long_exposure import LongExposure
from fotonomy.exchange.changes_json import press_of
from fotonomy.figures.lanes.long_exposure import long_exposure_words, passing_words


@dataclass(frozen=True, slots=True)
class Entry:
    """One line of a small table: what, its value, and a word more."""

    name: str
    value: str
    detail: str = ""


@dataclass(frozen=True, slots=True)
class DriveRow:
    """One drive in the table of drives; ``take`` is the press that chooses it."""

    name: str
    rate: str
    spacing: str
    chance: str
    lasts: str
    blind: str
    hour: str
    lean: str
    enough: bool
    chosen: bool
    take: str


def burst_parts(burst: Burst) -> dict[str, Any]:
    """Words, drives and video of a burst, for its view."""
    still = burst.still_megapixels
    before = (
        f"{burst.before_frames} frames from before the press; you need "
        f"{c.REACTION_S:g} s to press" + ("" if burst.covers_reaction else ", it keeps less")
        if burst.before_frames else "nothing is kept from before the press"
    )  # fmt: skip
    words = (f"enough: {burst.advised.drive.name}, since {burst.because}", before)
    video: tuple[Entry, ...] = ()
    if burst.video is not None:
        filmed, present = burst.video, burst.present
        pixels = "" if still is None else f" against {n.format_number(still)} of a still"
        video = (
            Entry("Rate", f"{n.format_number(filmed.rate_fps)} fps",
                  f"against {n.format_number(present.rate_fps)} a second"),
            Entry("Picture", f"{n.format_number(filmed.megapixels)} MP",
                  f"{filmed.bits} bits{pixels}"),
            Entry("The moment", n.format_share(filmed.chance),
                  f"against {n.format_share(present.chance)}"),
            Entry("Card", f"{n.format_number(filmed.gb_an_hour)} GB an hour",
                  f"against {n.format_number(present.gb_an_hour)}, and no buffer to fill"),
        )  # fmt: skip
    return {
        "words": words, "video": video,
        "drives": tuple(_drive(one, one is burst.present) for one in burst.choices),
    }  # fmt: skip


def _drive(one: DriveChoice, chosen: bool) -> DriveRow:
    kind = "electronic" if one.drive.electronic else "mechanical"
    lasts = "?" if one.buffer is None else (
        "no end" if one.full_after_s is None else f"{n.format_number(one.full_after_s, 2)} s"
    )  # fmt: skip
    lean = "none" if not one.drive.electronic else (
        "?" if one.lean_deg is None else f"{n.format_number(one.lean_deg)}°"
    )  # fmt: skip
    return DriveRow(
        name=f"{one.drive.name} ({kind})", rate=n.format_number(one.rate_fps),
        spacing=f"{n.format_length(one.spacing_m)}, {n.format_number(one.spacing_percent, 2)} %",
        chance=f"{n.format_share(one.chance)}", lasts=lasts,
        blind="?" if one.clears_s is None else f"{n.format_number(one.clears_s)} s",
        hour=f"{n.format_number(one.frames_an_hour, 0)}, {n.format_number(one.gb_an_hour)} GB",
        lean=lean, enough=one.enough, chosen=chosen,
        take="" if chosen else press_of([Change("frame_rate", one.rate_fps)]),
    )  # fmt: skip


def long_exposure_parts(analysis: Analysis, long_exposure: LongExposure) -> dict[str, Any]:
    """Words and lamps of a long exposure, for its view."""
    spec = analysis.setup
    lasts = f"{n.format_time(long_exposure.lasts_s)} from the press to the end"
    words = [long_exposure_words(long_exposure), passing_words(long_exposure), lasts]
    if long_exposure.wanted_s:
        words.append(f"the trail wanted takes {n.format_time(long_exposure.wanted_s)} each")
    if long_exposure.bulb:
        remote = next((d.name for d in spec.devices if isinstance(d, Remote)), "a remote")
        words.append(f"bulb: {remote} holds the shutter for {n.format_time(long_exposure.time_s)}")
    if spec.run.combining.in_camera and long_exposure.frames > 1:
        words.append("the camera forgets this after each use: set it again for the next picture")
    if spec.run.noise_frames:
        words.append("noise reduction on: every exposure is followed by a dark one as long")
    elif long_exposure.shows_hot_pixels:
        words.append("long exposures show hot pixels, not reciprocity: take one dark frame "
                     "with the cap on, or noise reduction at double the time")  # fmt: skip
    lamps = tuple(
        Entry(
            one.name,
            "as set" if one.less_stops < 0.05 else f"{n.format_stops(one.less_stops)} less",
            "" if one.less_stops < 0.05 else f"a pass of its own at {n.format_iris(one.iris)}"
            if one.iris < spec.lens.smallest_f - 0.01 else
            f"a pass of its own: {n.format_iris(one.iris)} and the rest by ND or ISO",
        )
        for one in long_exposure.lamps
    )  # fmt: skip
    return {"words": tuple(words), "lamps": lamps}
