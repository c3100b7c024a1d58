"""The one table of what can be set: a row a setting, in the order people decide.

Forms, editing, history, the key list and docs/settings.md come from these rows; files and their
schema come from the spec, whose fields have the same names. A new setting is a field of the
spec, a row here, a column with its migration, and a place in a template.
"""

import re
from collections.abc import Callable
from dataclasses import dataclass
from enum import Enum, StrEnum
from typing import Any

from fotonomy.core import constants as c
from fotonomy.core.analysis.interval import three_of
from fotonomy.core.errors import RuleError
from fotonomy.core.gear.support import Support
from fotonomy.core.motion.camera_movement import Camera, Way
from fotonomy.core.motion.shutter import exact_rate
from fotonomy.core.motion.timecode import frames_of
from fotonomy.core.notation import reading as r
from fotonomy.core.notation import writing as n
from fotonomy.core.notation.spoken import length_text, speed_text, spoken
from fotonomy.core.parsing import intent as i
from fotonomy.core.parsing import schedule as sc
from fotonomy.core.parsing import settings as s
from fotonomy.core.parsing import stills as st
from fotonomy.core.parsing import white_balance as wb
from fotonomy.core.ranges import Within
from fotonomy.core.spec import intent as wanted
from fotonomy.core.spec import schedule, stills
from fotonomy.core.spec.changes import value_of
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import HOLDABLE, Setup


class Control(Enum):
    """How a setting is put: typed, chosen, ticked, or gear by its name or names."""

    SCALE = "scale"
    TEXT = "text"
    CHOICE = "choice"
    TICK = "tick"
    NAME = "name"
    NAMES = "names"


@dataclass(frozen=True, slots=True)
class Setting:
    """One setting. ``name`` is the field of the spec, of the form, of files and of the history.

    ``read`` takes the setup and the text typed and gives the value, or raises RuleError;
    ``write`` gives a value as text that reads back. ``lane`` is where it stands on the bench,
    ``key`` the letter that goes there. ``shown`` is the value a field shows where that is not
    the stored one.
    """

    name: str
    label: str
    lane: str
    read: Callable[[Setup, str], Any]
    write: Callable[[Any], str]
    hint: str = ""
    key: str = ""
    control: Control = Control.TEXT
    choices: type[StrEnum] | None = None
    shown: Callable[[Setup], Any] | None = None

    @property
    def holdable(self) -> bool:
        """True if it can be held, or freed for the planner."""
        return self.name in HOLDABLE

    def text(self, setup: Setup) -> str:
        """The present value as its field shows it."""
        value = self.shown(setup) if self.shown else value_of(setup, self.name)
        unit = setup.intent.unit_of(self.name)
        return self.write(value) if not unit or value is None else spoken(setup, self.name, value)


def typed(
    name: str, label: str, lane: str, parse: Callable[[str], Any], write: Callable[[Any], str],
    hint: str = "", **more: Any,
) -> Setting:  # fmt: skip
    """A row read and written by functions of its own."""
    return Setting(name, label, lane, lambda _, text: parse(text), write, hint, **more)


def _scale(name: str, label: str, key: str) -> Setting:
    return Setting(
        name, label, "scale", lambda setup, text: s.reachable(setup, name, text),
        lambda value: s.format_value(name, value), key=key, control=Control.SCALE,
    )  # fmt: skip


def choice(name: str, label: str, lane: str, choices: type[StrEnum]) -> Setting:
    """A row chosen from a list."""

    def read(_: Setup, text: str) -> StrEnum:
        try:
            return choices(text)
        except ValueError:
            raise RuleError(name, "one of the list", text) from None

    return Setting(
        name, label, lane, read, lambda value: str(value.value), control=Control.CHOICE,
        choices=choices,
    )  # fmt: skip


def tick(name: str, label: str, lane: str) -> Setting:
    """A row that is ticked or not."""
    return Setting(
        name, label, lane, lambda _, text: text not in ("", "0"),
        lambda value: "1" if value else "", control=Control.TICK,
    )  # fmt: skip


def _gear(name: str, label: str, lane: str, many: bool = False, key: str = "") -> Setting:
    control = Control.NAMES if many else Control.NAME
    return Setting(name, label, lane, lambda _, text: text, str, key=key, control=control)


def _or_none(unit: str, digits: int = 3) -> Callable[[float | None], str]:
    return lambda value: "none" if value is None else f"{n.format_number(value, digits)} {unit}"


def _in(unit: str, digits: int) -> Callable[[float], str]:
    return lambda value: f"{n.format_number(value, digits)} {unit}"


def _words(name: str, most: int) -> Callable[[str], str]:
    def read(text: str) -> str:
        said = text.strip()
        if len(said) > most:
            raise RuleError(name, f"at most {most} characters", text)
        return said

    return read


def _subject(text: str) -> str:
    said = text.strip()
    if not said:
        raise RuleError("subject", "a word or two, such as skin", text)
    return said[:40]


def _event(setup: Setup) -> float:
    return three_of(setup).event_s if setup.kind.traits.has_interval else setup.run.event_s


def _screen_time(setup: Setup, text: str) -> float:
    """Seconds on screen; a timecode counts in frames of the edit."""
    if re.fullmatch(r"\s*\d{1,2}:\d{2}:\d{2}[:;]\d{2}\s*", text):
        try:
            frames = frames_of(text, setup.project_fps)
        except RuleError as error:
            raise RuleError("wanted_screen_s", error.rule, text) from None
        seconds = frames / float(exact_rate(setup.project_fps))
        Within(*c.SCREEN_RANGE_S, "s").check("wanted_screen_s", seconds)
        return seconds
    return r.parse_screen_time(text)


SETTINGS: tuple[Setting, ...] = (
    typed("code", "Code", "about", _words("code", 8), str),
    typed("title", "Title", "about", _words("title", 80), str),
    choice("kind", "Kind", "about", Kind),
    _gear("body", "Camera", "about"),
    _gear("lens", "Lens", "about", key="e"),
    _gear("profile", "Profile", "about"),
    choice("support", "Carried by", "about", Support),
    choice("stabiliser", "Stabiliser", "about", wanted.Switch),
    choice("shot_size", "Shot size", "about", schedule.ShotSize),
    typed("looks_deg", "Camera looks", "about", sc.parse_looks, sc.format_looks,
           "degrees from true north over east, or NW; none where it does not matter"),
    choice("wants", "Light wanted", "about", schedule.Wanted),
    typed("wants_ev", "So much light", "about", sc.parse_bound, _or_none("EV", 1),
           "EV at ISO 100, where light is wanted at least or at most"),
    typed("wants_at_min", "Fixed hour", "about", sc.parse_hour, sc.format_hour,
           "such as 07:20, where the hour is fixed"),
    typed("wants_within_min", "Give or take", "about", sc.parse_within, sc.format_within,
           "either side of a fixed hour; sharp for none"),
    typed("prepare_min", "Setting up", "about", sc.parse_prepare, sc.format_minutes,
           "before the first take"),
    typed("shoot_min", "Shooting", "about", sc.parse_shoot, sc.format_minutes,
           "all takes; as usual for its kind"),
    typed("priority", "Priority", "about", sc.parse_priority, str, "1 goes first, 3 can be left"),
    tick("pinned", "Stays at its hour", "about"),
    tick("alongside", "May run beside a setup on another camera", "about"),
    tick("unattended", "Runs alone once it is started", "about"),
    _gear("filters", "Other filters", "about", many=True),
    _gear("tubes", "Tubes behind the lens", "about", many=True),
    choice("look", "Shutter method", "wants", wanted.Look),
    choice("handheld", "Handheld method", "wants", wanted.Handheld),
    choice("circle", "Counts as sharp", "wants", wanted.Circle),
    typed("slow_factor", "Slow motion", "wants", i.parse_slow_factor, _in("times", 2)),
    typed("freeze_px", "Freeze to", "wants", i.parse_freeze, _or_none("px"),
           "most smear; none for no wish"),
    typed("smear_percent", "Smear aimed at", "wants", i.parse_smear, _or_none("%"),
           "of the frame width"),
    typed("light_change_stops", "Light may move", "wants", i.parse_light_change,
           _in("stops", 2), "during the take, up or down"),
    _scale("frame_rate", "Frame rate", "f"),
    _scale("shutter", "Shutter", "s"),
    _scale("iris", "Iris", "i"),
    _scale("iso", "ISO", "o"),
    _scale("nd_density", "ND", "n"),
    typed("light", "Scene light", "light", r.parse_light, n.format_light,
           "EV, lux, cd/m² or f/4 1/60 ISO 400", key="l"),
    tick("mains_lamps", "Mains lamps light the scene", "motion"),
    typed("lamp_hz", "Lamp's own pulses", "motion", i.parse_lamp, _or_none("Hz"),
           "for a lamp with a frequency of its own; none for mains"),
    typed("subject", "What moves", "motion", _subject, str),
    typed("subject_speed_m_s", "Speed", "motion", r.parse_speed, speed_text, "m/s, km/h or mph"),
    typed("subject_size_m", "Size", "motion", i.parse_size, length_text, "across; m, cm or mm"),
    choice("camera", "The camera", "motion", Camera),
    typed("heading_deg", "Direction", "motion", i.parse_heading, i.format_heading,
           "across, towards, or degrees from the camera's axis"),
    choice("way", "It travels", "motion", Way),
    typed("pan_deg_s", "Pan", "motion", i.parse_pan, lambda v: f"{n.format_number(v, 2)}°/s",
           "10°/s or 90° in 6 s"),
    typed("travel_m_s", "Camera's speed", "motion", i.parse_travel, speed_text, "m/s, km/h or mph"),
    typed("background_m", "Background", "motion", i.parse_background, length_text,
           "its distance; none is four times the subject's"),
    typed("focal_mm", "Focal length", "focus", r.parse_focal, _in("mm", 2), key="m"),
    typed("subject_distance_m", "Distance", "focus", r.parse_distance, length_text, "m, cm or ft",
           key="d"),
    typed("subject_depth_m", "Its own depth", "focus", i.parse_subject_depth, length_text,
           "front to back"),
    typed("depth_m", "Depth wanted", "focus", i.parse_depth, length_text,
           "what has to be sharp; none for no wish"),
    choice("exposing", "Expose by", "level", wanted.ExposureMethod),
    _gear("recording", "Format", "noise"),
    typed("delivery_px", "Delivered at", "noise", wb.parse_delivery,
           lambda v: "as recorded" if v is None else f"{v} px", "pixels across, such as 1920"),
    tick("auto_iso", "ISO left to the camera", "noise"),
    typed("averaged_frames", "Frames averaged", "noise", wb.parse_averaged, str,
           "into one, where nothing moves"),
    choice("white_school", "White balance by", "white", wanted.WhiteMethod),
    typed("white_k", "White", "scale", wb.parse_source, _in("K", 0), "K, or a light by name",
          key="k"),
    typed("source_k", "Main light", "white", wb.parse_main_light,
           lambda v: "as set" if v is None else f"{n.format_number(v, 0)} K",
           "K, or a light such as open shade, studio tungsten"),
    typed("tint_cc", "Tint", "white", wb.parse_tint, wb.format_tint,
           "M10 for magenta, G5 for green"),
    typed("white_bias_mired", "Warmer or cooler", "white", wb.parse_bias,
           lambda v: f"{n.format_signed(v, 0)} mired",
           "warmer is positive; counts where white is read and biased"),
    Setting("wanted_screen_s", "Wanted on screen", "clip", _screen_time, _in("s", 2),
            "seconds, or timecode such as 00:00:14:00"),
    typed("handle_s", "Handle each end", "clip", r.parse_handle, _in("s", 2)),
    typed("crop_percent", "Cut off to stabilise", "clip", i.parse_crop,
           lambda v: f"{n.format_number(v)} %" if v else "none", "each side, 5 to 15 % common"),
    typed("tempo_bpm", "Music", "clip", i.parse_tempo, _or_none("bpm", 2), "beats a minute"),
    choice("follows", "Worked out", "interval", stills.Follows),
    typed("event_s", "The event lasts", "interval", st.parse_event, st.format_span,
           "8 h, 45 min or 1:30", shown=_event),
    choice("files", "Kept as", "cycle", stills.Files),
    tick("noise_frames", "Long-exposure noise reduction", "cycle"),
    typed("self_timer_s", "Self-timer", "cycle", st.parse_self_timer,
           lambda v: st.format_span(v) if v else "off", "adds to every frame"),
    typed("start_after_s", "First frame after", "cycle", st.parse_start_after,
           lambda v: st.format_span(v) if v else "at once", "from the press on the remote"),
    typed("temperature_c", "As cold as", "cycle", st.parse_temperature, _in("°C", 0),
           "about the batteries"),
    _gear("devices", "On the camera", "cycle", many=True),
    choice("time_for", "The time is for", "cycle", stills.TimeFor),
    typed("wanted_s", "Exposure wanted", "cycle", st.parse_wanted_time,
           lambda v: "none" if v is None else n.format_time(v),
           "15 s or 1/4; none where its kind decides"),
    choice("ramp", "As the light goes", "ramp", stills.Ramp),
    tick("ramp_lift", "The ND may come off once", "ramp"),
    typed("light_curve", "Light to come", "ramp", st.parse_light_curve, st.format_light_curve,
           "0 min 12 EV; 40 min 9 EV; 1:10 4 EV; or steady"),
    typed("declination_deg", "Stars at", "ramp", st.parse_declination,
           lambda v: "none" if v is None else f"{n.format_number(v)}°",
           "degrees from the sky's equator, south negative; none for no stars"),
    typed("star_px", "Longest trail", "ramp", st.parse_star_px, _in("px", 1), "of a star"),
    tick("continuous_focus", "Focus follows", "burst"),
    typed("moment_s", "The moment lasts", "burst", st.parse_moment, _in("s", 4),
           "0.1 s, 1/20 or 50 ms"),
    typed("burst_s", "Held for", "burst", st.parse_burst, st.format_span),
    typed("bursts_an_hour", "Bursts", "burst", st.parse_bursts, _in("an hour", 1)),
    choice("combining", "Combined", "long_exposure", stills.Combining),
    typed("frames", "Exposures", "long_exposure", st.parse_frames, str),
    typed("passes_s", "Something passes", "long_exposure", st.parse_passes, st.format_passes,
           "cars, waves, lightning: every 8 s, 120 an hour; none"),
    typed("trail_percent", "Trail wanted", "long_exposure", st.parse_trail, _or_none("%", 1),
           "of the frame width; none for no wish"),
)  # fmt: skip


def by_name() -> dict[str, Setting]:
    """The rows by their names, asked for anew: a row may have been added."""
    return {row.name: row for row in SETTINGS}


# What some settings are called where single pictures are taken.
_OTHER_LABELS = {
    ("frame_rate", Kind.INTERVAL): "Interval",
    ("frame_rate", Kind.BURST): "Drive, a second",
    ("wanted_screen_s", Kind.INTERVAL): "The clip lasts",
}


def label_for(kind: Kind, name: str) -> str:
    """What a setting is called on the bench of a kind."""
    return _OTHER_LABELS.get((name, kind)) or by_name()[name].label


def said(label: str) -> str:
    """A label within a sentence: small letters, but for ISO and ND."""
    return label if label.isupper() else label.lower()
