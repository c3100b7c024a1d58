"""Focus: sharp depth, framing, blur of the background, diffraction."""

from fotonomy.core.analysis import setup as an
from fotonomy.core.optics import depth_of_field as fo
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile
from fotonomy.core.working.quantity import of_property, table

_LENS = {
    "behind_m": "setup.imaging.behind_m", "focal_mm": "setup.imaging.focal_mm",
    "f_number": "setup.iris", "s_m": "setup.imaging.front_m",
}  # fmt: skip
_SHARP = (
    "A limit of taste: half the circle gives half the depth. Thick lenses, field curvature and a "
    "focus that misses are left out."
)
FOCUS = table(
    Tile.FOCUS.value,
    rows=(
        ("focus.circle_mm", "c", "mm", "The largest blur that still counts as sharp.", "practice",
         {"formula": fo.circle_mm, "sure": _SHARP,
          "given": {"method": "setup.intent.circle", "diagonal_mm": "setup.format.diagonal_mm",
                    "pitch_mm": "setup.delivered_pitch_mm"}}),
        ("focus.hyperfocal_m", "H", "m",
         "Focused here, everything from half of it to the horizon looks sharp.", "thin-lens",
         {"formula": fo.hyperfocal_m, "sure": _SHARP}),
        ("focus.near_m", "near", "m", "Where it begins to be sharp, from the sensor.", "thin-lens",
         {"formula": fo.sharp_from_m, "given": _LENS, "sure": _SHARP}),
        ("focus.far_m", "far", "m", "Where it stops being sharp, from the sensor.", "thin-lens",
         {"formula": fo.sharp_to_m, "given": _LENS, "sure": _SHARP}),
        ("focus.depth_m", "depth", "m", "How deep the sharp part of the scene is.", "thin-lens",
         {"formula": fo.between_m, "sure": _SHARP}),
        ("focus.field_width_m", "w", "m", "How wide the picture is at the subject.", "geometry",
         {"formula": Setup.field_width_m, "given": {"self": "setup"}}),
        ("focus.field_height_m", "h", "m", "How high the picture is at the subject.", "geometry",
         {"formula": Setup.field_height_m, "given": {"self": "setup"}}),
        ("focus.magnification", "m", "", "How large the subject is drawn on the sensor.",
         "geometry", {"sure": "Found for the lens as it focuses: see the guide on close focus."}),
        ("focus.bellows_stops", "close focus", "stops",
         "Light lost because the lens stands far from the sensor when it is focused close.",
         "practice", {"formula": fo.bellows_stops, "given": {"m": "focus.magnification"}}),
        ("focus.background_m", "background", "m",
         "Where the background is: as you said, or four times the subject's distance.", "practice",
         {}),
        ("focus.background_blur_mm", "blur", "mm",
         "How large a point of the background is drawn on the sensor.", "geometry",
         {"formula": fo.blur_disc_mm,
          "given": {**_LENS, "m": "focus.magnification", "at_m": "derived.background_front_m"}}),
        ("derived.background_front_m", "d_back", "m",
         "How far the background stands before the lens.", "geometry",
         {"formula": an.background_front_m}),
        ("focus.background_blur_percent", "blur share", "%",
         "The same in percent of the picture's width.", "definition",
         {"formula": fo.share_of_width_percent,
          "given": {"blur_mm": "focus.background_blur_mm",
                    "sensor_width_mm": "setup.format.sensor_width_mm"}}),
        ("focus.airy_um", "Airy disc", "µm",
         "The smallest spot that diffraction lets the lens draw at this iris.", "airy",
         {"formula": fo.airy_um, "given": {"m": "focus.magnification"}}),
        ("focus.two_pixels_um", "two pixels", "µm",
         "Two delivered pixels: a larger Airy disc costs sharpness.", "practice",
         {"formula": fo.two_pixels_um, "given": {"pitch_mm": "setup.delivered_pitch_mm"}}),
        ("focus.diffraction_stops", "over", "stops",
         "By how many stops the iris is smaller than sharpness likes.", "airy",
         {"formula": of_property(fo.Focus.diffraction_stops)}),
        ("focus.needed_iris", "N", "", "The widest iris that keeps the wanted depth sharp.",
         "thin-lens",
         {"formula": fo.iris_for_depth, "sure": _SHARP,
          "given": {**_LENS, "wanted_m": "focus.wanted_depth_m", "c_mm": "focus.circle_mm"}}),
        ("focus.wanted_depth_m", "wanted", "m", "How deep you want it sharp.", "you", {}),
        ("derived.view_across_deg", "view", "°", "How wide the picture sees, at this focus.",
         "geometry", {"formula": an.view_across_deg}),
        ("derived.view_up_deg", "view", "°", "How high the picture sees, at this focus.",
         "geometry", {"formula": an.view_up_deg}),
        ("setup.image_mm", "i", "mm", "From the lens to the sensor.", "geometry", {}),
        ("focus.reach.near_m", "nearest", "m", "How near this lens can be focused.", "gear", {}),
        ("focus.reach.far_m", "farthest", "m", "How far this lens with tubes can be focused.",
         "gear", {}),
        ("setup.imaging.front_m", "s", "m", "From the subject to the lens.", "geometry", {}),
        ("setup.imaging.behind_m", "b", "m", "From the lens to the sensor.", "geometry", {}),
        ("setup.imaging.focal_mm", "f", "mm",
         "The focal length as the lens is focused: many get shorter close up.", "geometry", {}),
    ),
)  # fmt: skip
