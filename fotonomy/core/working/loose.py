"""Numbers that belong to no setup's plan: those of the day, of takes, of the weather, of the kit.

Each is worked out of a few values that go with its address, so that its working needs nothing
else. A topic is all of a page's kind together.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from fotonomy.core.day.direction import off_lens, shadow_length
from fotonomy.core.errors import RuleError
from fotonomy.core.photometry.exposure_value import illuminance_lx, luminance_cd_m2
from fotonomy.core.photometry.stops import time_stops
from fotonomy.core.pictures.keepers import wilson
from fotonomy.core.sky.light import clear_sky_ev, cloud_stops
from fotonomy.core.takes.actual import moved_stops, written_stops
from fotonomy.core.tone.white_balance import shift_mired
from fotonomy.core.weather.air import dew_point_c
from fotonomy.core.working.explain import Input, Working
from fotonomy.core.working.expressions import Reading, parameters_of
from fotonomy.core.working.quantity import NoSuchNumberError, Quantity, table
from fotonomy.core.working.symbols import number_text, words_of

_ESTIMATE = (
    "An estimate: within about a stop under a clear sky, more under broken cloud. Your own meter "
    "goes before it."
)
DAY, WEATHER, TAKES, FIELD, LIGHT = "day", "weather", "takes", "field", "light"
TOPICS = {
    DAY: "The day and its light", WEATHER: "The weather", TAKES: "Takes and pictures",
    FIELD: "On location", LIGHT: "Light in other units",
}  # fmt: skip

_ALL = (
    *table(DAY, rows=(
        ("sun.altitude_deg", "height", "°", "How high the sun or the moon stands, as it is seen.",
         "de421", {"sure": "A hundredth of a degree; near the horizon refraction adds a tenth."}),
        ("sun.azimuth_deg", "azimuth", "°", "Where the sun or the moon stands, from true north "
         "over east.", "de421", {"sure": "A hundredth of a degree."}),
        ("sun.times", "clock", "", "When sun, moon and twilights begin and end: the sun's upper "
         "edge at −0.833°, twilights at −6, −12 and −18°.", "de421",
         {"sure": "A minute, where the land round about is known; a hill you did not enter hides "
                  "the sun earlier."}),
        ("sky.clear_ev", "EV", "EV", "Light of a clear sky on level ground, by the sun's height.",
         "explanatory", {"formula": clear_sky_ev, "sure": _ESTIMATE}),
        ("sky.estimate", "EV", "EV", "Light of sun, moon and sky and of the place's own lamps, "
         "moved by what you metered there at the nearest height of the sun.", "explanatory",
         {"sure": _ESTIMATE}),
        ("sky.cloud_stops", "cloud", "stops", "What cloud takes, by eighths of the sky.", "kasten",
         {"formula": cloud_stops, "sure": _ESTIMATE}),
        ("sun.off_lens", "off", "°", "How far the sun stands off the way the camera looks.",
         "geometry", {"formula": off_lens}),
        ("sun.shadow", "shadow", "m", "How long the shadow of something is on level ground.",
         "geometry", {"formula": shadow_length, "sure": "On level ground."}),
        ("day.minutes", "minutes", "min", "How long setting up, shooting and ways take: as you "
         "said, or by distance on foot or by car.", "practice",
         {"sure": "Half as long again is usual with more people or more gear."}),
        ("day.windows", "window", "", "When a wished light is there: the hours in which sun, moon "
         "and land are as it asks.", "de421", {"sure": "A minute, as far as the land is known."}),
    )),
    *table(WEATHER, rows=(
        ("air.dew_point", "dew point", "°C", "The temperature at which dew forms.", "wmo-8",
         {"formula": dew_point_c, "sure": "Half a degree; glass under a clear sky gets two "
          "degrees colder than the air (common practice)."}),
        ("weather.given", "value", "", "Given by the forecast, or typed.", "you",
         {"sure": "As good as a forecast: worse by the day."}),
    )),
    *table(TAKES, rows=(
        ("take.moved_stops", "moved", "stops", "How much brighter a take was set than planned.",
         "stops", {"formula": moved_stops, "sure": "As good as what was logged."}),
        ("take.written_stops", "written", "stops", "What the camera wrote down against the log.",
         "stops", {"formula": written_stops,
                   "sure": "Cameras write marked values, rounded by up to a sixth of a stop."}),
        ("take.mired", "moved", "mired", "How much warmer a take was set than planned.", "mired",
         {"formula": shift_mired}),
        ("kept.low", "at least", "", "The lowest share that so many kept of so many speak for.",
         "wilson", {"formula": wilson, "part": 0, "sure": "In nineteen of twenty cases."}),
        ("kept.high", "at most", "", "The highest share that they speak for.", "wilson",
         {"formula": wilson, "part": 1, "sure": "In nineteen of twenty cases."}),
        ("picture.level", "level", "%", "What an area of a picture records: its curve undone, the "
         "mean of linear light, and its place on the profile.", "curve",
         {"sure": "A tenth of a stop on a copy."}),
        ("picture.noise", "ISO", "", "The ISO whose noise an even patch shows.", "emva-1288",
         {"sure": "A tenth of a stop on grain alone; noise reduction hides it."}),
        ("run.flicker", "flicker", "stops", "What is left of each frame's mean light after a "
         "running median of five.", "practice", {"sure": "0.03 stop is seen."}),
        ("run.shift", "shift", "px", "How far a frame lies from the one before, by phase "
         "correlation against the median shift.", "model", 
         {"sure": "A hundredth of a copy's pixel."}),
        ("take.clock", "clock", "min", "How far the clock was from the planned hour.",
         "definition", {}),
    )),
    *table(FIELD, rows=(
        ("left.card", "left", "GB", "What is left on a card: its size less what was logged on it.",
         "decimal", {"sure": "Codecs vary by ten percent either way."}),
        ("left.battery", "left", "%", "What is left in a battery, by what was logged since it was "
         "charged.", "practice", {"sure": "A fifth either way; less in the cold."}),
        ("field.leave", "leave", "", "When to leave for the next setup: its start less setting up "
         "and the way.", "definition", {}),
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
LOOSE = {one.name: one for one in _ALL}


@dataclass(frozen=True, slots=True)
class Topic:
    """Everything of a kind of page: its key, its name, and its quantities."""

    key: str
    name: str
    quantities: tuple[Quantity, ...]


def topic_of(key: str) -> Topic:
    """A topic. NoSuchNumberError for a key that is none."""
    if key not in TOPICS:
        raise NoSuchNumberError(key)
    return Topic(key, TOPICS[key], tuple(one for one in _ALL if one.tile == key))


def loose_working(name: str, given: Mapping[str, float]) -> Working:
    """The working of a loose number of the values that go with it.

    Raises NoSuchNumberError for a name that is none, RuleError for values that are missing or out
    of all reason.
    """
    quantity = LOOSE.get(name)
    if quantity is None:
        raise NoSuchNumberError(name)
    function = quantity.formula
    if function is None:
        return Working(quantity, name, None, (), (), quantity.origin, ())
    wanted = {key: given[key] for key in parameters_of(function) if key in given}
    try:
        reading = Reading(function, wanted, {}, quantity.part)
    except (TypeError, NameError, ValueError, ZeroDivisionError, OverflowError) as error:
        raise RuleError("value", "is missing or has no working", str(error)) from error
    *before, last = reading.lines
    lines = (*before, type(last)(
        quantity.symbol, last.formula, last.numbers, last.value, quantity.unit, last.when
    ))  # fmt: skip
    inputs = tuple(
        Input(one.symbol, words_of(one.name), number_text(one.value, one.unit), "")
        for one in reading.tokens.values()
    )
    return Working(quantity, name, last.value, lines, inputs, quantity.origin, ())
