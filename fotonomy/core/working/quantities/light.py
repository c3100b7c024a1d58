"""The light budget: what comes in, what each setting gives or takes, and what is left."""

from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.exposure import light_budget as lb
from fotonomy.core.motion.shutter import open_s
from fotonomy.core.photometry import exposure_value as ev
from fotonomy.core.photometry.stops import iso_stops
from fotonomy.core.spec.intent import ExposureMethod
from fotonomy.core.spec.setup import Setup
from fotonomy.core.stills.long_exposure import under_each_stops
from fotonomy.core.tiles import Tile
from fotonomy.core.tone.placement import onto_mark_stops, under_clip_stops
from fotonomy.core.working.quantity import Function, of_property, table

_EV: dict[type, Function] = {
    ev.Lux: ev.ev100_of_lux, ev.Luminance: ev.ev100_of_luminance,
    ev.Metered: ev.ev100_of_metered,
}  # fmt: skip
_METHODS: dict[ExposureMethod, Function] = {
    ExposureMethod.SKIN: onto_mark_stops, ExposureMethod.SUBJECT: onto_mark_stops,
    ExposureMethod.HIGHLIGHTS: under_clip_stops, ExposureMethod.FAR_RIGHT: onto_mark_stops,
}  # fmt: skip


def _metered(analysis: Analysis, _: str) -> Function | None:
    return _EV.get(type(analysis.setup.light))


def _method(analysis: Analysis, _: str) -> Function | None:
    method = analysis.budget.method
    return _METHODS.get(method.method) if method and method.applies else None


def _open(analysis: Analysis, _: str) -> Function | None:
    return open_s if analysis.setup.shutter.angle_deg is not None else None


_LIGHT_GIVEN = {
    "light_lx": "setup.light.value", "light_cd_m2": "setup.light.value",
    "f_number": "setup.light.f_number", "time_s": "setup.light.time_s", "iso": "setup.light.iso",
}  # fmt: skip
_METHOD_GIVEN = {
    "mark_stops": "budget.method.mark_stops", "reading_stops": "budget.method.reading_stops",
}  # fmt: skip
_METER = {
    "choose": _metered, "forms": tuple(_EV.values()), "given": _LIGHT_GIVEN,
    "sure": "A hand meter is good to about a fifth of a stop, an estimate by name to a stop "
            "either way.",
}  # fmt: skip
_LINE = "budget.lines"
LIGHT = table(
    Tile.LIGHT.value,
    rows=(
        ("budget.ev100", "EV", "EV", "How bright the scene is, as an exposure value at ISO 100.",
         "iso-2720", _METER),
        (f"{_LINE}.light.stops", "EV", "stops", "The scene's light, the first entry of the budget.",
         "iso-2720", _METER),
        (f"{_LINE}.shutter.stops", "shutter", "stops",
         "What the shutter gives or takes, against one second.", "stops",
         {"formula": lb.shutter_gives_stops, "sure": "Exact for the time that is set."}),
        (f"{_LINE}.iris.stops", "iris", "stops", "What the iris takes, against f/1.", "stops",
         {"formula": lb.iris_gives_stops,
          "sure": "Lenses miss their marks by up to a sixth of a stop, most when wide open."}),
        (f"{_LINE}.iso.stops", "ISO", "stops", "What the ISO gives, against ISO 100.", "stops",
         {"formula": iso_stops,
          "sure": "Makers rate ISO in several ways: bodies differ by up to a third of a stop."}),
        (f"{_LINE}.nd.stops", "ND", "stops", "What the ND takes.", "iso-5-2",
         {"formula": lb.nd_gives_stops,
          "sure": "Filters are made to about a tenth of a stop, strong ones to a third."}),
        (f"{_LINE}.filter.stops", "filter", "stops", "What another filter takes.", "gear", {}),
        (f"{_LINE}.lens.stops", "lens", "stops", "What the glass of the lens swallows.", "gear",
         {}),
        (f"{_LINE}.bellows.stops", "close focus", "stops",
         "Light lost because the lens stands far from the sensor when it is focused close.",
         "practice",
         {"formula": lb.close_focus_gives_stops, "given": {"m": "focus.magnification"},
          "sure": "The formula is geometry for a pupil ratio of one; where it begins to count is "
                  "common practice. Macro lenses may differ by a third of a stop."}),
        (f"{_LINE}.combined.stops", "added", "stops",
         "What frames that are added together in the camera give.", "definition",
         {"formula": under_each_stops,
          "given": {"combining": "setup.run.combining", "frames": "setup.run.frames"}}),
        (f"{_LINE}.method.stops", "method", "stops",
         "What the exposure method spends: it aims over nominal, or under.", "practice",
         {"formula": lb.method_gives_stops, "given": {"target_stops": "budget.target_stops"}}),
        (f"{_LINE}.*.stops", "entry", "stops", "One more entry of the light budget.", "gear", {}),
        ("budget.error_stops", "miss", "stops",
         "What is left of the light when everything is spent: over the aim, or under it.", "stops",
         {"formula": lb.balance_stops, "given": {"lines": _LINE},
          "sure": "No surer than the light that was metered; a third of a stop is seen by few."}),
        ("budget.target_stops", "aim", "stops",
         "How far over nominal the exposure method aims: its mark, less where the reading lies "
         "in the scene.", "practice",
         {"choose": _method, "forms": (onto_mark_stops, under_clip_stops), "given": _METHOD_GIVEN,
          "sure": "People differ about the mark; the reading is as good as the meter."}),
        ("budget.method.offset_stops", "aim", "stops",
         "How far over nominal the exposure method aims.", "practice",
         {"choose": _method, "forms": (onto_mark_stops, under_clip_stops),
          "given": _METHOD_GIVEN}),
        ("budget.method.post_stops", "later", "stops",
         "What the edit does to the brightness afterwards, by this method: below zero it darkens.",
         "practice", {}),
        ("budget.method.reading_stops", "reading", "stops",
         "The reading that decides, in stops from grey.", "you", {}),
        ("budget.method.mark_stops", "mark", "stops",
         "Where that reading shall land, in stops from grey.", "practice", {}),
        ("glass_left_out", "left out", "",
         "Filters that were not tried: with so many, every third one or so stands for the rest.",
         "model", {}),
        ("budget.exposure_stops", "x", "stops", "Exposure over nominal: the aim and the miss.",
         "stops", {"formula": of_property(lb.Budget.exposure_stops)}),
        ("setup.time_s", "t", "s", "How long the shutter is open for each frame.", "definition",
         {"choose": _open, "forms": (open_s,), "given": {"angle_deg": "setup.shutter.angle_deg",
                                     "fps": "setup.frame_rate"}}),
        ("setup.below_base_stops", "below base", "stops",
         "How far the ISO lies under the lowest base: so much is missing over grey.", "practice",
         {"formula": of_property(Setup.below_base_stops)}),
    ),
)  # fmt: skip
