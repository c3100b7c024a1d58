"""A shoot as OpenTimelineIO: good takes on one track, the rest on another, each with its plan.

Schema of OpenTimelineIO (Academy Software Foundation); a run of frames is an image sequence with
the rate of the edit. Rates are the exact ones, 24000/1001 and not 23.98.
"""

from collections.abc import Iterable
from typing import Any

from fotonomy.core.motion.shutter import exact_rate
from fotonomy.core.motion.timecode import first_hour
from fotonomy.exchange.edit.clips import EditClip

_COLOURS = {"good": "GREEN", "maybe": "YELLOW", "no good": "RED"}


def to_otio(name: str, clips: Iterable[EditClip], fps: float) -> str:
    """The timeline as JSON, starting at an hour as tapes do."""
    import opentimelineio as otio

    rate = float(exact_rate(fps))

    def time(frames: float) -> Any:
        return otio.opentime.RationalTime(frames, rate)

    made = otio.schema.Timeline(name=name, global_start_time=time(first_hour(fps)))
    tracks = {
        usable: otio.schema.Track(name=title, kind=otio.schema.TrackKind.Video)
        for usable, title in ((True, "Takes"), (False, "No good"))
    }
    for one in clips:
        length = otio.opentime.TimeRange(time(0), time(one.frames))
        if one.run is None:
            media = otio.schema.ExternalReference(target_url=one.name, available_range=length)
        else:
            before, number, digits, after = one.run.parts
            media = otio.schema.ImageSequenceReference(
                target_url_base="", name_prefix=before, name_suffix=after, start_frame=number,
                frame_step=1, rate=rate, frame_zero_padding=digits, available_range=length,
            )  # fmt: skip
        clip = otio.schema.Clip(name=one.name, media_reference=media, source_range=length)
        clip.metadata["fotonomy"] = _said(one)
        first = otio.opentime.TimeRange(time(0), time(1))
        clip.markers.append(otio.schema.Marker(
            name=", ".join((one.verdict, *one.why)), marked_range=first,
            color=getattr(otio.schema.MarkerColor, _COLOURS[one.verdict]),
            metadata={"fotonomy": {"note": one.note}},
        ))  # fmt: skip
        clip.enabled = one.usable
        tracks[one.usable].append(clip)
    made.tracks.extend(tracks[usable] for usable in (True, False) if len(tracks[usable]))
    return str(otio.adapters.write_to_string(made, "otio_json"))


def _said(one: EditClip) -> dict[str, Any]:
    return {
        "setup": one.setup, "verdict": one.verdict, "why": list(one.why), "note": one.note,
        "card": one.card, "taken": one.taken.isoformat(), "shot_fps": one.shot_fps,
        "planned": dict(one.planned), "actual": dict(one.actual), "off_stops": one.off_stops,
        "missing_frames": list(one.run.missing) if one.run else [], **one.more,
    }  # fmt: skip
