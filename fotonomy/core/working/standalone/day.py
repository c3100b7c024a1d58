"""Numbers of the day and of the weather."""

from fotonomy.core.day.day_plan import leave_clock_min, length_min, spare_min
from fotonomy.core.day.direction import off_lens, shadow_length
from fotonomy.core.sky.light import (
    bent_stops,
    clear_sky_ev,
    cloud_stops,
    mixed_ev,
    plain_sky_ev,
    sky_lx,
)
from fotonomy.core.sky.track import lit_percent
from fotonomy.core.weather.air import dew_point_c
from fotonomy.core.working.quantity import table

DAY, WEATHER = "day", "weather"
_ESTIMATE = (
    "An estimate: within about a stop under a clear sky, more under broken cloud. Your own meter "
    "goes before it."
)
_RISES = "A minute, where the land round about is known; a hill you did not enter hides it longer."
_MOON_OFF = "A tenth of a percent; earthshine is not counted."

ROWS = (
    *table(DAY, rows=(
        ("sun.altitude_deg", "height", "°", "How high it stands at this minute, as geometry has it "
         "(without refraction).", "de421", {"sure": "A hundredth of a degree."}),
        ("sun.azimuth_deg", "azimuth", "°", "Where it stands at this minute, from true north over "
         "east.", "de421", {"sure": "A hundredth of a degree."}),
        ("sun.rise_or_set", "clock", "clock", "When the sun's upper edge passes a level horizon: "
         "its middle is then 0.833° under it, as the air bends light (common practice).", "de421",
         {"sure": _RISES}),
        ("sun.twilight", "clock", "clock", "When the sun's middle passes this height. Blue light "
         "lies between −6 and −4°, golden light between −4 and 6°; it is dark under −18°.", "de421",
         {"sure": "A minute for twilights; golden and blue are habits of the trade, and each "
                  "evening differs."}),
        ("sun.highest", "clock", "clock", "When the sun stands highest, and how high.", "de421",
         {"sure": "A few seconds."}),
        ("sun.land", "clock", "clock", "When the sun's upper edge passes the land you entered for "
         "this place.", "de421", {"sure": "As good as the heights you entered for the horizon."}),
        ("moon.rise_or_set", "clock", "clock", "When the moon passes a level horizon.", "de421",
         {"sure": _RISES}),
        ("moon.lit", "lit", "%", "The share of the moon's disc that is lit, by its phase angle: 0° "
         "is full, 180° new.", "geometry", {"formula": lit_percent, "sure": _MOON_OFF}),
        ("day.length", "length", "min", "How long the sun is over a level horizon.", "definition",
         {"formula": length_min}),
        ("sky.clear_ev", "EV", "EV", "Light of a clear sky on level ground, by the sun's height.",
         "explanatory", {"formula": clear_sky_ev, "sure": _ESTIMATE}),
        ("sky.estimate", "EV", "EV", "Light of sun, moon and sky and of the place's own lamps, "
         "moved by what you metered there at the nearest height of the sun.", "explanatory",
         {"formula": mixed_ev, "sure": _ESTIMATE,
          "given": {"clear_lx": "sky.clear_lx", "taken_stops": "sky.cloud_stops"}}),
        ("sky.clear_lx", "clear", "lx", "Light of sun and moon under a clear sky, by their heights "
         "and the moon's phase.", "explanatory", {"formula": sky_lx, "sure": _ESTIMATE}),
        ("sky.cloud_stops", "cloud", "stops", "What cloud takes, by eighths of the sky.", "kasten",
         {"formula": cloud_stops, "sure": _ESTIMATE}),
        ("sky.bent_stops", "moved", "stops", "By how much your reading moves the estimate of this "
         "minute.", "definition",
         {"formula": bent_stops,
          "given": {"moved_ev": "sky.estimate", "plain_ev": "sky.plain_ev"},
          "sure": "As good as your meter, for light like that of the reading."}),
        ("sky.plain_ev", "plain", "EV", "The estimate as it would be without your reading.",
         "explanatory",
         {"formula": plain_sky_ev, "sure": _ESTIMATE,
          "given": {"clear_lx": "sky.clear_lx", "taken_stops": "sky.cloud_stops"}}),
        ("sun.off_lens", "off", "°", "How far the sun stands off the way the camera looks.",
         "geometry", {"formula": off_lens}),
        ("sun.shadow", "shadow", "m", "How long the shadow of something is on level ground.",
         "geometry", {"formula": shadow_length, "sure": "On level ground."}),
        ("day.spare", "spare", "min", "What is left of the working hours.", "definition",
         {"formula": spare_min, "sure": "As good as the minutes you gave to each setup; half as "
          "long again is usual with more people or more gear (common practice)."}),
        ("day.minutes", "minutes", "min", "How long setting up, shooting and ways take: as you "
         "said, or by distance on foot or by car.", "practice",
         {"sure": "Half as long again is usual with more people or more gear."}),
        ("day.windows", "window", "", "When a wished light is there: the hours in which sun, moon "
         "and land are as it asks.", "de421", {"sure": "A minute, as far as the land is known."}),
        ("field.leave", "leave", "clock", "When to leave for the next setup: when setting up there "
         "begins, less the way.", "definition",
         {"formula": leave_clock_min, "sure": "As good as the minutes of the way."}),
    )),
    *table(WEATHER, rows=(
        ("air.dew_point", "dew point", "°C", "The temperature at which dew forms.", "wmo-8",
         {"formula": dew_point_c, "sure": "Half a degree; glass under a clear sky gets two "
          "degrees colder than the air (common practice)."}),
        ("weather.given", "value", "", "Given by the forecast, or typed.", "you",
         {"sure": "As good as a forecast: worse by the day."}),
    )),
)  # fmt: skip
