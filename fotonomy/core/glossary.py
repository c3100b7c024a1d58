"""The words of the trade that the pages use, each explained in two plain sentences.

Common practice, no source, unless a standard is named in the sentence itself.
"""

import re
from dataclasses import dataclass
from functools import lru_cache


@dataclass(frozen=True, slots=True)
class Term:
    """One word. ``also`` are other spellings that mean it, ``drawing`` the tile that shows it."""

    key: str
    name: str
    says: str
    also: tuple[str, ...] = ()
    drawing: str = ""


def _t(key: str, name: str, says: str, *also: str, drawing: str = "") -> Term:
    return Term(key, name, says, also, drawing)


_WORDS: tuple[Term, ...] = (
    _t("angle-of-view", "angle of view",
       "How wide the lens looks, in degrees. A shorter focal length or a larger sensor sees "
       "more."),
    _t("averaging", "averaging",
       "Several frames of something that stands still are laid over each other. Four frames "
       "halve the noise, which is worth one stop of light."),
    _t("banding", "banding",
       "Steps that show in a smooth sky or a wall because too few brightness values are left. "
       "More bits, or a profile that spreads the tones further, take it away."),
    _t("base-iso", "base ISO",
       "The ISO at which a profile was made to be used, with the most room above grey. Some "
       "cameras have two; the upper one is cleaner in the dark than the ISO values just under "
       "it."),
    _t("bit-depth", "bit depth",
       "How many brightness values a recording can tell apart: 8 bits have 256, 10 bits 1024. "
       "A flat log profile needs 10, or skies break into steps."),
    _t("buffer", "buffer",
       "The camera's quick memory that takes the pictures of a burst before they are written "
       "to the card. When it is full, the burst slows down to what the card can take.",
       drawing="burst"),
    _t("bulb", "bulb",
       "The shutter stays open as long as a remote holds it. It is for exposures longer than "
       "the camera's own slowest time, often 30 s."),
    _t("cadence", "cadence",
       "How movement looks on the screen: smooth, crisp or jerky. It comes from the gaps "
       "between two pictures and from how much each of them is smeared.",
       "strobing", drawing="motion"),
    _t("circle-of-confusion", "circle of confusion",
       "The largest blur spot on the sensor that still passes as sharp. A stricter one, such "
       "as two pixels, makes the sharp depth thinner."),
    _t("clipping", "clipping",
       "A tone is brighter than the recording can hold and turns plain white. What has clipped"
       " cannot be brought back in the edit.", "clips", "clip level", drawing="level"),
    _t("codec", "codec",
       "How the camera packs the picture into a file. A thin one, with few megabits a second, "
       "loses fine detail in water, leaves and noise."),
    _t("crop", "crop",
       "The part of the picture that is cut off. A crop of the sensor looks like a longer "
       "lens; a crop in the edit is the room that stabilising needs.", "crop factor"),
    _t("cycle", "cycle",
       "What happens between two pictures of a run: exposing, perhaps a noise frame, writing, "
       "waiting. It has to fit into the interval, or pictures are lost.", drawing="cycle"),
    _t("data-rate", "data rate",
       "How much the camera writes each second, in MB/s. Times the length of the take, it says"
       " how full the card gets; the card has to write faster than this."),
    _t("declination", "declination",
       "How far a star stands from the sky's equator, in degrees. Stars near the equator trail"
       " most, stars near the pole hardly at all."),
    _t("delivery", "delivery",
       "The size the finished film is shown at, such as 1920 pixels across. Noise and smear "
       "are counted at this size, since fine faults vanish when the picture is made smaller."),
    _t("density", "density",
       "The strength of a grey filter as a logarithm: 0.3 takes one stop, 0.9 three, 1.8 six. "
       "Filters that are stacked add their densities."),
    _t("depth-of-field", "depth of field",
       "From how near to how far things look sharp. A smaller iris, a shorter lens or more "
       "distance makes it deeper.", "sharp depth", drawing="focus"),
    _t("diffraction", "diffraction",
       "Light bends round the edge of a small iris and softens the whole picture. From about "
       "f/11 on it costs more sharpness than the iris gains in depth."),
    _t("drop-frame", "drop-frame timecode",
       "Timecode for 29.97 frames a second that leaves out some numbers to keep in step with "
       "the clock. No pictures are dropped, only numbers (SMPTE ST 12-1)."),
    _t("dry-run", "dry run",
       "The plan carried out by simulated devices: remote, camera, card and battery. It shows "
       "what would go wrong before anyone stands in the cold."),
    _t("dynamic-range", "dynamic range",
       "How many stops lie between the noise in the shadows and the clipping of the "
       "highlights. A scene with more stops than that loses something at one of the two ends."),
    _t("effective-f-number", "effective f-number",
       "What the iris works as when the lens is very close to its subject. At life size f/4 "
       "lets in no more light than f/8 far away."),
    _t("ev", "EV",
       "Exposure value: the brightness of a scene as one number, here always at ISO 100. One "
       "EV more is one stop more; full sun is about EV 15, a lit room about EV 6.",
       "exposure value", drawing="light"),
    _t("exposing-to-the-right", "exposing to the right",
       "Exposing as brightly as the highlights allow, and darkening it later. It gives cleaner"
       " shadows, and leaves nothing in hand if the light rises."),
    _t("extension-tube", "extension tube",
       "An empty ring between camera and lens that lets it focus nearer. It costs light, and "
       "distant things can no longer be focused."),
    _t("false-colour", "false colour",
       "A monitor view that paints each brightness in a colour of its own. It shows at a "
       "glance where skin and grey lie and what clips."),
    _t("flicker", "flicker",
       "The brightness of a lamp pulses with the mains, and the pictures pulse with it. "
       "Exposures that last a whole number of pulses do not show it: 1/50 or 1/100 at 50 Hz.",
       "ripple", drawing="motion"),
    _t("focal-length", "focal length",
       "How strongly a lens magnifies, in mm: short sees wide, long brings near. The same "
       "number looks longer on a smaller sensor."),
    _t("frame-rate", "frame rate",
       "How many pictures are taken a second. Recorded faster than the edit plays it, life is "
       "shown slowed down.", "fps", drawing="clip"),
    _t("grading", "grading",
       "Giving the picture its final brightness and colour in the edit. A log profile has to "
       "be graded; a video profile can be shown as it is.", "grade"),
    _t("handle", "handle",
       "Seconds recorded before and after the part that is wanted. The edit needs them for "
       "cuts and dissolves.", "handles", drawing="clip"),
    _t("headroom", "headroom",
       "How many stops lie between a tone and clipping. Little headroom means that a cloud "
       "moving off the sun costs the highlights.", drawing="level"),
    _t("hold", "hold",
       "Keep a setting where you put it, whatever the planner finds. What is not held, plans "
       "and fixes may move."),
    _t("hyperfocal", "hyperfocal distance",
       "Focused here, everything from half of it to the horizon looks sharp. It grows with the"
       " focal length and shrinks with a smaller iris.", "hyperfocal", drawing="focus"),
    _t("infrared", "infrared",
       "Light beyond red that strong grey filters let through. It turns black cloth brown; a "
       "filter that also blocks infrared helps."),
    _t("interval", "interval",
       "The time from the start of one picture to the start of the next in a timelapse. Event,"
       " interval and clip belong together: two of them give the third.",
       "timelapse", drawing="run"),
    _t("iris", "iris",
       "The opening in the lens, as an f-number: f/2 lets in twice the light of f/2.8. A wide "
       "one gives thin sharp depth, a small one deep.", "aperture", "f-number", drawing="light"),
    _t("iso", "ISO",
       "How much the camera amplifies what the sensor took. Twice the ISO is a stop brighter "
       "and noisier, since no more light came in.", drawing="noise"),
    _t("kelvin", "kelvin",
       "The colour of a light as a number with K: a candle has about 1900, tungsten 3200, "
       "daylight 5600, open shade 7000 and more. Higher is bluer."),
    _t("light-budget", "light budget",
       "What comes in as scene light and what each setting takes or gives, in stops. In "
       "balance, the key tone lands where you want it.", drawing="light"),
    _t("log", "log profile",
       "A recording that stores the tones flat, about the same number of values for every "
       "stop. It keeps more highlights and has to be graded.", "log", drawing="level"),
    _t("lut", "look-up table",
       "A table that turns a flat recording into a picture one can judge. A monitor can show "
       "the scene through it while the camera records without it.", "LUT"),
    _t("lux", "lux",
       "How much light falls on a surface. Full sun gives about 100 000 lux, an office 500, a "
       "street at night 10."),
    _t("magnification", "magnification",
       "How large a thing is drawn on the sensor: at 1:1 as large as it is. Near 1:1 light is "
       "lost, sharp depth is millimetres thin, and every shake shows."),
    _t("middle-grey", "middle grey",
       "A surface that throws back 18 % of the light, halfway between black and white to the "
       "eye. A meter takes every scene for it; each profile records it at a level of its own.",
       "grey card", drawing="level"),
    _t("mired", "mired",
       "A million divided by kelvin, in which equal steps look equal. Ten mired is a step one "
       "just sees; plus is warmer."),
    _t("nd", "ND filter",
       "Neutral density: a grey filter that takes light and leaves colour as it is. It lets you "
       "keep a slow shutter and a wide iris in the sun.",
       "ND", "neutral density", drawing="light"),
    _t("noise-floor", "noise floor",
       "The brightness at which a tone is no stronger than the camera's own noise. Darker "
       "tones cannot be told from it.", drawing="noise"),
    _t("noise-frame", "noise frame",
       "After a long exposure the camera takes a dark one of the same length and subtracts it."
       " It removes hot pixels, and doubles the time each picture takes."),
    _t("overcast", "overcast",
       "A sky covered with cloud: soft light without shadows, about EV 12 to 13. It lies two "
       "to three stops below full sun."),
    _t("rolling-shutter", "rolling shutter",
       "The sensor is read line by line, so that what moves fast leans. A short readout, or "
       "slower movement, keeps uprights upright.", "readout", drawing="motion"),
    _t("polariser", "polariser",
       "A filter that takes reflections off water and glass and darkens blue sky. It costs one"
       " to two stops, and makes the sky patchy on wide lenses."),
    _t("profile", "profile",
       "How the camera turns light into recorded values. It decides where grey lies, where "
       "white clips and how much can be graded.", "picture profile", drawing="level"),
    _t("reading", "reading",
       "The brightness of one thing in the scene, in stops from middle grey. Readings show "
       "where face, cloud and shadow land in the recording.", "readings", drawing="level"),
    _t("ramp", "ramp",
       "Settings that follow the light in small steps during a run into night or morning. "
       "Steps up to a third of a stop pass unseen.", drawing="ramp"),
    _t("raw", "raw",
       "A still picture as the sensor gave it, not yet developed. It is large, and leaves the "
       "white balance and much of the brightness open."),
    _t("shutter-angle", "shutter angle",
       "The part of each frame's time that the shutter is open, in degrees: 180° is half of "
       "it. It keeps the same smear when the frame rate changes.",
       "180°", "half the frame", drawing="motion"),
    _t("slow-motion", "slow motion",
       "Recorded at a higher frame rate than it is played at: 100 in a 25 edit is four times "
       "slower. Each frame gets less light, two stops in this case.", drawing="clip"),
    _t("smear", "smear",
       "How far something moves while the shutter is open. Some of it makes movement look "
       "smooth; too much makes it unreadable.", "motion blur", drawing="motion"),
    _t("stabiliser", "stabiliser",
       "Moves the lens or the sensor against the shake of the hand. On a tripod it looks for "
       "shake that is not there, so switch it off."),
    _t("star-trail", "star trail",
       "The line a star draws because the earth turns, 15° an hour. Short exposures keep stars"
       " as points; long ones are meant to show the line.", drawing="ramp"),
    _t("stop", "stop",
       "A doubling or halving of light. Every setting can be counted in stops, so that one "
       "pays for another.", "stops", drawing="light"),
    _t("sustained-speed", "sustained write speed",
       "How fast a card can write for minutes, in MB/s. The large number on a card is usually "
       "its reading speed for a moment, and does not count."),
    _t("t-number", "T-number",
       "An f-number that counts what the glass itself swallows. A lens of f/2.8 may be T3.1.",
       "T-stop"),
    _t("timecode", "timecode",
       "Hours, minutes, seconds and frames as an address for every picture. Two cameras with "
       "the same timecode can be put together without searching."),
    _t("tint", "tint",
       "The colour of a light between green and magenta, beside warm and cold. Cheap lamps are"
       " often green; M10 on the camera takes it out."),
    _t("trail", "trail",
       "The line that a moving light draws in a long exposure, such as the lamps of a car. How"
       " long it gets depends on how long the shutter is open.", drawing="trail"),
    _t("twilight", "twilight",
       "The time between day and night. Civil twilight ends with the sun 6° below the horizon,"
       " nautical 12°, astronomical 18°.", "blue hour", "golden hour"),
    _t("variable-nd", "variable ND",
       "Two polarisers turned against each other, a grey filter whose strength can be set. "
       "Near its end, and on wide lenses, it draws a dark cross."),
    _t("vignetting", "vignetting",
       "The corners get darker than the middle. Stacked filters on a wide lens cut them off "
       "altogether."),
    _t("waveform", "waveform",
       "A scope that shows, from left to right, how bright each column of the picture is. Its "
       "height is the recorded level in percent."),
    _t("white-balance", "white balance",
       "The colour of light that the camera shows as white. Set too high it makes the picture "
       "warmer, too low colder.", "white", drawing="white"),
    _t("zebra", "zebra",
       "Stripes on the monitor over everything of one brightness. Set to the level of a face "
       "or of clipping, they show at once whether it is met.", "zebras", drawing="level"),
)  # fmt: skip

TERMS = tuple(sorted(_WORDS, key=lambda term: term.name.lower()))
BY_KEY = {term.key: term for term in TERMS}

# The word behind a setting's label, by the name of the setting.
_OF_SETTING = {
    "frame_rate": "frame-rate", "shutter": "shutter-angle", "iris": "iris", "iso": "iso",
    "nd_density": "nd", "white_k": "white-balance", "light": "ev", "light_change_stops": "stop",
    "look": "shutter-angle", "circle": "circle-of-confusion", "freeze_px": "smear",
    "smear_percent": "smear", "slow_factor": "slow-motion", "mains_lamps": "flicker",
    "lamp_hz": "flicker", "focal_mm": "focal-length", "depth_m": "depth-of-field",
    "subject_depth_m": "depth-of-field", "profile": "profile", "exposing": "middle-grey",
    "recording": "codec", "delivery_px": "delivery", "auto_iso": "iso",
    "averaged_frames": "averaging", "white_school": "white-balance", "source_k": "kelvin",
    "tint_cc": "tint", "white_bias_mired": "mired", "handle_s": "handle", "crop_percent": "crop",
    "follows": "interval", "event_s": "interval", "files": "raw", "noise_frames": "noise-frame",
    "ramp": "ramp", "light_curve": "ev", "declination_deg": "declination",
    "star_px": "star-trail", "trail_percent": "trail", "time_for": "trail", "wanted_s": "trail",
    "stabiliser": "stabiliser",
    "tubes": "extension-tube", "combining": "averaging", "wanted_screen_s": "timecode",
    "ramp_lift": "nd", "moment_s": "buffer", "burst_s": "buffer",
}  # fmt: skip

# The word behind a field of the kit that is not called as a setting.
_OF_GEAR = {
    "iso_lowest": "iso", "iso_highest": "iso", "iso_ceiling": "noise-floor", "base_iso": "base-iso",
    "clip_percent": "clipping", "grey_percent": "middle-grey", "readout_ms": "rolling-shutter",
    "bits": "bit-depth", "mb_s": "data-rate", "rates": "frame-rate",
    "write_mb_s": "sustained-speed",
    "transmission_stops": "t-number", "stabiliser_stops": "stabiliser", "density": "density",
    "most_density": "variable-nd", "angles_deg": "shutter-angle", "longest_bulb_s": "bulb",
    "buffer_frames": "buffer", "widest_f": "iris", "smallest_f": "iris", "nd_wheel": "nd",
    "focal_shortest_mm": "focal-length", "focal_longest_mm": "focal-length", "curve": "log",
    "greatest_magnification": "magnification", "length_mm": "extension-tube",
    "project_fps": "frame-rate", "mains_hz": "flicker",
}  # fmt: skip

# The word behind a tile.
_OF_TILE = {
    "run": "interval", "cycle": "cycle", "burst": "buffer", "trail": "trail",
    "light": "light-budget", "ramp": "ramp", "motion": "cadence", "level": "clipping",
    "picture": "waveform", "focus": "depth-of-field", "noise": "noise-floor",
    "white": "white-balance", "clip": "handle",
}  # fmt: skip


def word_of_setting(name: str) -> str:
    """The key of the word that explains a setting, or a field of the kit; "" for none."""
    return _OF_SETTING.get(name) or _OF_GEAR.get(name, "")


def word_of_tile(name: str) -> str:
    """The key of the word that explains a tile."""
    return _OF_TILE[name]


def found(text: str) -> tuple[Term, ...]:
    """Terms that a search for ``text`` means: by their names first, then by what they say."""
    wanted = " ".join(text.lower().split())
    if not wanted:
        return TERMS
    named = [t for t in TERMS if any(wanted in one.lower() for one in (t.name, *t.also))]
    said = [t for t in TERMS if t not in named and wanted in t.says.lower()]
    return (*named, *said)


@lru_cache(maxsize=1)
def _pattern() -> tuple[re.Pattern[str], dict[str, str]]:
    # "white", "log" and the like are everyday words within a sentence.
    plain = {"white", "log", "grade", "reading", "readings", "hold", "crop", "raw", "trail",
             "profile", "cycle", "averaging", "delivery"}  # fmt: skip
    spellings = {
        one.lower(): term.key for term in TERMS for one in (term.name, *term.also)
        if one.lower() not in plain
    }  # fmt: skip
    longest = sorted(spellings, key=len, reverse=True)
    words = "|".join(re.escape(one) for one in longest)
    return re.compile(rf"(?<![\w-])(?:{words})(?![\w-])", re.IGNORECASE), spellings


def spotted(text: str) -> tuple[tuple[str, str], ...]:
    """A sentence in pieces, each with the key of the word it is, "" for what is none.

    Each word is spotted once, where it first stands.
    """
    pattern, spellings = _pattern()
    pieces: list[tuple[str, str]] = []
    seen: set[str] = set()
    at = 0
    for match in pattern.finditer(text):
        key = spellings[match[0].lower()]
        if key in seen:
            continue
        seen.add(key)
        pieces += [(text[at : match.start()], ""), (match[0], key)]
        at = match.end()
    pieces.append((text[at:], ""))
    return tuple(piece for piece in pieces if piece[0])
