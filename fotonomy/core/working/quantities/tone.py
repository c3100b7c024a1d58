"""Level, noise and white balance."""

from fotonomy.core.tiles import Tile
from fotonomy.core.tone import noise as no
from fotonomy.core.tone import signal_levels as sl
from fotonomy.core.tone import white_balance as wb
from fotonomy.core.working.quantity import table

_CURVE = "As good as the curve in your kit: check it with a grey card."
_METER = "A spot reading is good to about a sixth of a stop."
_MODEL = (
    "A model of the sensor alone: noise reduction, compression and what one looks at are left "
    "out. With a sensor that was not measured it may be half a stop off."
)
_TONE = {
    "placed_stops": "level.{0}.placed_stops", "scene_stops": "level.{0}.scene_stops",
    "percent": "level.{0}.percent", "exposure_stops": "level.exposure_stops",
    "headroom_stops": "level.headroom_stops",
}  # fmt: skip


def _tone(of: str, says: str) -> tuple[tuple[object, ...], ...]:
    """The numbers of one tone of the level lane."""
    given = {key: path.format(of) for key, path in _TONE.items()}
    own = "reading" if of != "grey" else "definition"
    source = "you" if own == "reading" else "definition"
    return (
        (f"level.{of}.scene_stops", "k", "stops", f"{says} in the scene, in stops from grey.",
         source, {"sure": _METER}),
        (f"level.{of}.placed_stops", "placed", "stops", f"{says} as exposed, from grey.", "stops",
         {"formula": sl.placed_stops, "given": given, "sure": _METER}),
        (f"level.{of}.percent", "level", "%", f"{says} as recorded, in percent of the profile.",
         "curve", {"formula": sl.recorded_percent, "given": given, "sure": _CURVE}),
        (f"level.{of}.code", "code", "", f"{says} as a code value of the recording.",
         "legal-codes", {"formula": sl.code_value, "given": given, "sure": _CURVE}),
        (f"level.{of}.clipped_stops", "over the clip", "stops", f"{says}: how far it clips.",
         "definition", {"formula": sl.clipped_stops, "given": given, "sure": _CURVE}),
    )  # fmt: skip


LEVEL = table(
    Tile.LEVEL.value,
    rows=(
        *_tone("grey", "Middle grey"), *_tone("tones.*", "A reading"),
        *_tone("key", "What the shot is about"),
        ("level.exposure_stops", "x", "stops", "Exposure over nominal: the aim and the miss.",
         "stops", {"formula": sl.over_nominal_stops}),
        ("level.error_stops", "miss", "stops",
         "By how much the frame is off: of a ramp, the one that is farthest off.", "definition",
         {}),
        ("level.target_stops", "aim", "stops", "How far over nominal the method aims.",
         "practice", {}),
        ("level.nominal_grey_percent", "grey", "%", "Where this profile records grey.", "curve",
         {"sure": _CURVE}),
        ("level.black_percent", "black", "%", "Where this profile records black.", "curve",
         {"sure": _CURVE}),
        ("level.clip_percent", "clip", "%", "Where this recording clips.", "curve",
         {"sure": _CURVE}),
        ("level.headroom_stops", "headroom", "stops", "From grey to where the recording clips.",
         "curve", {"formula": sl.headroom_stops, "sure": _CURVE}),
        ("level.room_left_stops", "room", "stops",
         "How much brighter the key may get before it clips.", "definition",
         {"formula": sl.room_left_stops,
          "given": {"headroom_stops": "level.headroom_stops",
                    "placed_stops": "level.key.placed_stops"}, "sure": _CURVE}),
        ("level.codes_a_stop", "codes", "", "Code values from a stop under grey up to grey.",
         "curve", {"sure": _CURVE}),
        ("level.zebra_one.percent", "zebra 1", "%", "Where to set the first zebra: on the key, "
         "or on a grey card, as it records with the aim met.", "practice", {"sure": _CURVE}),
        ("level.zebra_one.half_width_percent", "width", "%",
         "How wide to set it: two percent on skin, one on a card.", "practice", {}),
        ("level.zebra_two.percent", "zebra 2", "%",
         "Where to set the second zebra: the last whole percent before the clip.", "practice", {}),
        ("level.lines.*.1", "line", "%", "A line to look for on the waveform.", "curve",
         {"sure": _CURVE}),
    ),
)  # fmt: skip
_MODEL_AT = {"model": "noise.model", "self": "noise.model", "iso": "noise.iso"}
NOISE = table(
    Tile.NOISE.value,
    rows=(
        ("noise.looks_like_iso", "looks like ISO", "",
         "The ISO at which this body, nominally exposed, shows such noise in the shadows.",
         "emva-1288",
         {"formula": no.looks_like_iso, "given": _MODEL_AT, "sure": _MODEL}),
        ("noise.limit_iso", "limit", "", "The same for the highest ISO you would use.",
         "emva-1288",
         {"formula": no.limit_of, "sure": _MODEL,
          "given": {**_MODEL_AT, "iso_ceiling": "setup.body.iso_ceiling"}}),
        ("noise.inside_stops", "inside", "stops", "How much cleaner it is than your limit.",
         "definition", {"formula": no.inside_stops, "sure": _MODEL}),
        ("noise.pulled_stops", "pulled", "stops",
         "How far the edit will darken it; below zero it lifts, and the noise comes up.",
         "definition",
         {"formula": no.pulled_in_edit_stops,
          "given": {"error_stops": "noise.error_stops",
                    "post_stops": "budget.method.post_stops"}}),
        ("noise.one_stop_buys_iso", "with a stop more", "",
         "What it would look like with one stop more light.", "emva-1288",
         {"formula": no.one_stop_more_iso, "given": _MODEL_AT, "sure": _MODEL}),
        ("noise.shadow_snr", "SNR", "", "Signal over noise in the shadow, three stops under grey.",
         "emva-1288", {"formula": no.shadow_snr, "given": _MODEL_AT, "sure": _MODEL}),
        ("noise.floor_stops", "floor", "stops",
         "Where a tone is no stronger than the noise, in stops from grey: SNR is one there.",
         "bennett", {"sure": "Found by going down the tones until the signal is as large as its "
                     "noise. " + _MODEL}),
        ("noise.floor_between.*", "floor", "stops",
         "The same floor for the worse or the better end of what sensors usually are.", "bennett",
         {"sure": _MODEL}),
        ("noise.spread_stops", "±", "stops",
         "How far off the looks-like ISO may be, either way: what typical sensors spread over.",
         "model", {}),
        ("noise.dark_e", "dark", "e⁻",
         "Electrons a photosite collects of its own in a long exposure.", "emva-1288",
         {"sure": "From memory of data sheets: it doubles every seven degrees. " + _MODEL}),
        ("noise.iso", "S", "", "The ISO it is told of: of a ramp, its noisiest frame's.",
         "definition", {}),
        ("noise.error_stops", "miss", "stops", "By how much that frame is off.", "definition", {}),
        ("noise.frames", "n", "", "How many frames are averaged into one picture.", "you", {}),
        ("noise.delivered_px", "W", "px", "How wide the finished picture is.", "you", {}),
    ),
)  # fmt: skip
WHITE = table(
    Tile.WHITE.value,
    rows=(
        ("white.set_k", "T_set", "K", "What is set on the camera.", "you", {}),
        ("white.wanted_k", "T_wanted", "K", "What fits the main light and the taste.", "mired",
         {"formula": wb.wanted_white_k,
          "given": {"light_k": "white.main.kelvin", "bias_mired": "derived.bias_mired"}}),
        ("derived.bias_mired", "taste", "mired", "How much warmer than neutral it shall look.",
         "you", {"formula": wb.bias_of}),
        ("white.off_mired", "off", "mired",
         "How much warmer the main light looks than the taste asks for.", "mired",
         {"formula": wb.off_mired,
          "sure": "Ten mired are just seen. The colour of a lamp is as good as its label."}),
        ("white.widest_apart_mired", "apart", "mired",
         "The largest distance between a light and the main one.", "mired", {}),
        ("white.main.kelvin", "T_light", "K", "The colour of the main light.", "you", {}),
        ("white.main.looks_mired", "looks", "mired", "How much warmer than white it will look.",
         "mired", {"formula": wb.shift_mired,
                   "given": {"from_k": "white.set_k", "to_k": "white.main.kelvin"}}),
        ("white.main.apart_mired", "apart", "mired", "Its distance from itself.", "mired",
         {"formula": wb.shift_mired,
          "given": {"from_k": "white.main.kelvin", "to_k": "white.main.kelvin"}}),
        ("white.others.*.kelvin", "T", "K", "The colour of another light in the scene.", "you", {}),
        ("white.others.*.looks_mired", "looks", "mired", "How much warmer than white it will look.",
         "mired", {"formula": wb.shift_mired,
                   "given": {"from_k": "white.set_k", "to_k": "white.others.*.kelvin"}}),
        ("white.others.*.apart_mired", "apart", "mired", "How far it lies from the main light.",
         "mired", {"formula": wb.shift_mired,
                   "given": {"from_k": "white.main.kelvin", "to_k": "white.others.*.kelvin"}}),
        ("white.others.*.gels.*.mired", "gel", "mired", "What this gel shifts.", "practice", {}),
        ("white.main.gels.*.mired", "gel", "mired", "What this gel shifts.", "practice", {}),
    ),
)  # fmt: skip
