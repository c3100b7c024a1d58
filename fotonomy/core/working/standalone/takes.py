"""Numbers of takes, of their pictures, and of what is left on location."""

from fotonomy.core.field.remaining_supplies import left_on_card_gb
from fotonomy.core.photometry.exposure_value import illuminance_lx, luminance_cd_m2
from fotonomy.core.photometry.stops import time_stops
from fotonomy.core.pictures.frame_levels import tone_off_stops
from fotonomy.core.pictures.keeper_rate import wilson
from fotonomy.core.pictures.run import missing_frames, on_screen_s, residue_stops
from fotonomy.core.takes.actual import (
    late_min,
    light_off_stops,
    light_seen_ev,
    moved_stops,
    off_estimate_stops,
    setting_stops,
    written_stops,
)
from fotonomy.core.tone.white_balance import shift_mired
from fotonomy.core.working.quantity import table

TAKES, FIELD, LIGHT = "takes", "field", "light"
_ROUNDED = "Cameras write marked values, rounded by up to a sixth of a stop."
_COPY = "A tenth of a stop on a copy."

ROWS = (
    *table(TAKES, rows=(
        ("take.moved_stops", "moved", "stops", "How much brighter a take was set than planned: the "
         "balance of light as set, less the balance as planned.", "stops",
         {"formula": moved_stops, "sure": "As good as what was logged."}),
        ("take.written_stops", "written", "stops", "What the camera wrote down against the log.",
         "stops", {"formula": written_stops, "sure": _ROUNDED}),
        ("take.setting_stops", "off", "stops", "What one setting that the camera wrote down does "
         "to the exposure, against the planned one: twice the time or the ISO is a stop brighter, "
         "an f-number 1.41 times as large a stop darker.", "stops",
         {"formula": setting_stops, "sure": _ROUNDED}),
        ("take.mired", "moved", "mired", "How much warmer a take was set than planned.", "mired",
         {"formula": shift_mired}),
        ("light.off_estimate", "off", "stops", "How much brighter the light was read than the "
         "sky's estimate of that minute says.", "definition",
         {"formula": off_estimate_stops, "sure": "As good as the meter; the estimate itself is "
          "good to about a stop under a clear sky."}),
        ("picture.light_ev", "EV", "EV", "The light a picture was taken in: what was planned, and "
         "how far the picture is off, less what was set otherwise.", "definition",
         {"formula": light_seen_ev, "sure": _COPY}),
        ("picture.light_off", "off", "stops", "How far the light was from the planned one.",
         "definition", {"formula": light_off_stops, "sure": _COPY}),
        ("picture.off_stops", "off", "stops", "How much brighter an area is than planned. Both are "
         "counted from middle grey as recorded: the picture's with its curve undone.",
         "curve", {"formula": tone_off_stops, "sure": _COPY}),
        ("kept.low", "at least", "", "The lowest share that so many kept of so many speak for.",
         "wilson", {"formula": wilson, "part": 0, "sure": "In nineteen of twenty cases."}),
        ("kept.high", "at most", "", "The highest share that they speak for.", "wilson",
         {"formula": wilson, "part": 1, "sure": "In nineteen of twenty cases."}),
        ("picture.level", "level", "%", "What an area of a picture records: its curve undone, the "
         "mean of linear light, and its place on the profile.", "curve", {"sure": _COPY}),
        ("picture.noise", "ISO", "", "The ISO whose noise an even patch shows.", "emva-1288",
         {"sure": "A tenth of a stop on grain alone; noise reduction hides it."}),
        ("run.on_screen", "on screen", "s", "How long these frames last in the edit.", "smpte-12",
         {"formula": on_screen_s}),
        ("run.missing", "missing", "", "How many frames are missing: what the clock of the files "
         "jumps by, in intervals, less the one that is always there.", "definition",
         {"formula": missing_frames, "sure": "Files keep whole seconds; under 1.5 intervals "
          "nothing is called missing."}),
        ("run.residue", "flicker", "stops", "A frame's mean light less the running median of five "
         "about it.", "practice", {"formula": residue_stops, "sure": "0.03 stop is seen."}),
        ("run.flicker", "flicker", "stops", "The root mean square, over all frames, of what is "
         "left of each one's mean light after a running median of five.", "practice",
         {"sure": "0.03 stop is seen."}),
        ("run.shift", "shift", "px", "How far a frame lies from the one before, by phase "
         "correlation against the median shift, in delivered pixels.", "model",
         {"sure": "A sixth of a copy's pixel."}),
        ("take.late", "late", "min", "How far the clock was from the planned hour.",
         "definition", {"formula": late_min}),
    )),
    *table(FIELD, rows=(
        ("left.card", "left", "GB", "What is left on a card: its size less what was logged on it.",
         "decimal", {"formula": left_on_card_gb, "sure": "Codecs vary by ten percent either way."}),
        ("left.battery", "left", "%", "What is left in a battery, by what was logged since it was "
         "charged.", "practice", {"sure": "A fifth either way; less in the cold."}),
        ("field.moves", "moves", "stops", "What has to move when the light differs from the plan.",
         "stops", {"sure": "The same search as on the bench, in the light you metered."}),
    )),
    *table(LIGHT, rows=(
        ("light.lux", "E", "lx", "Light that falls on a card metered at this EV.", "iso-2720",
         {"formula": illuminance_lx}),
        ("light.cd_m2", "L", "cd/m²", "Light that a tone metered at this EV gives.", "iso-2720",
         {"formula": luminance_cd_m2}),
        ("light.time_stops", "stops", "stops", "What a shutter takes, against one second.", "stops",
         {"formula": time_stops}),
    )),
)  # fmt: skip
