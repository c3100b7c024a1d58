"""Motion: what moves, how far it smears and hops, what lamps and a rolling shutter do."""

from fotonomy.core.analysis import burst as bu
from fotonomy.core.analysis import setup as an
from fotonomy.core.analysis.setup import Analysis
from fotonomy.core.motion import cadence as cd
from fotonomy.core.motion import camera_movement as cm
from fotonomy.core.motion.flicker import residual_ripple
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile
from fotonomy.core.working.quantity import Function, of_property, table


def _moves(analysis: Analysis, _: str) -> Function | None:
    setup = analysis.setup
    if setup.mover.name == "stars":
        return None
    camera = setup.movement.camera
    if camera is cm.Camera.TRACKING:
        return cm.followed_m_s
    if camera is cm.Camera.PAN:
        return cm.panned_m_s
    return None if camera is cm.Camera.TRAVEL and _background(analysis) else cm.across_m_s


def _background(analysis: Analysis) -> bool:
    return analysis.setup.mover.name == "background"


_SPEED = {
    "speed_m_s": "setup.subject_speed_m_s", "heading_deg": "setup.movement.heading_deg",
    "size_m": "setup.subject_size_m", "distance_m": "setup.subject_distance_m",
    "camera_m_s": "derived.travelling_m_s", "way": "setup.movement.way",
    "far_m": "setup.mover.distance_m", "width_mm": "setup.picture_width_mm",
    "image_mm": "setup.image_mm", "pan_deg_s": "setup.movement.pan_deg_s",
}  # fmt: skip
_MOVES = {
    "speed_m_s": "setup.mover.speed_m_s", "tolerance": "derived.motion_tolerance",
    "capture_fps": "derived.capture_fps", "project_fps": "derived.project_fps",
    "pan_deg_s": "setup.movement.pan_deg_s",
}  # fmt: skip
_SIZE = "Good to the speed and the distance that were said; a straight line across is taken."
_GUIDE = (
    "A guide for the eye, not a law: screens, contrast and what one looks at change it by half."
)


def _pixels(name: str, says: str) -> tuple[object, ...]:
    given = {"percent": f"motion.{name}_percent"}
    return (f"motion.{name}_px", f"{name}_px", "px", says, "definition",
            {"formula": cd.pixels_of, "given": given})  # fmt: skip


MOTION = table(
    Tile.MOTION.value,
    rows=(
        ("setup.mover.speed_m_s", "v", "m/s", "How fast what moves most goes across the picture.",
         "geometry",
         {"choose": _moves, "given": _SPEED, "sure": _SIZE,
          "forms": (cm.across_m_s, cm.followed_m_s, cm.panned_m_s)}),
        ("setup.mover.distance_m", "d_there", "m", "How far away what moves most is.", "geometry",
         {}),
        ("motion.field_width_m", "w", "m", "How wide the picture is where it moves.", "geometry",
         {"formula": bu.moving_field_m}),
        ("motion.smear_percent", "smear", "%",
         "How far it moves while the shutter is open, in percent of the picture's width.",
         "definition", {"formula": cd.smear_percent, "given": _MOVES, "sure": _SIZE}),
        ("motion.step_percent", "step", "%",
         "How far it moves from one frame to the next, in percent of the picture's width.",
         "definition", {"formula": cd.step_percent, "given": _MOVES, "sure": _SIZE}),
        ("motion.gap_percent", "gap", "%",
         "What lies between the end of one smear and the start of the next: a wide gap strobes.",
         "definition", {"formula": cd.gap_percent, "sure": _SIZE}),
        _pixels("smear", "The same smear in pixels of the finished picture."),
        _pixels("step", "The same step in pixels of the finished picture."),
        _pixels("gap", "The same gap in pixels of the finished picture."),
        ("motion.crossing_s", "crossing", "s", "How long it takes to cross the picture.",
         "definition", {"formula": cd.crossing_s, "given": _MOVES, "sure": _SIZE}),
        ("motion.screen_crossing_s", "on screen", "s",
         "How long it takes to cross the picture on screen, slowed or sped up.", "definition",
         {"formula": cd.screen_crossing_s, "given": _MOVES, "sure": _SIZE}),
        ("motion.comfortable_gap_percent", "smooth gap", "%",
         "The widest gap that looks smooth here: the panning guide's, wider where only a part of "
         "the picture moves.", "acm",
         {"formula": cd.comfortable_gap_percent, "given": _MOVES, "sure": _GUIDE}),
        ("derived.motion_tolerance", "tolerance", "",
         "How many times the guide's gap may be, by how much of the picture moves.", "practice",
         {"formula": cd.tolerance_of, "given": {"share_of_frame": "derived.share_moving"},
          "sure": _GUIDE}),
        ("motion.comfortable_m_s", "smooth", "m/s", "The fastest that still looks smooth.", "acm",
         {"formula": cd.comfortable_m_s, "given": _MOVES, "sure": _GUIDE}),
        ("motion.borderline_m_s", "jumps", "m/s", "The speed from which edges visibly jump.",
         "practice", {"formula": cd.borderline_m_s, "sure": _GUIDE}),
        ("motion.smooth_deg_s", "smooth pan", "°/s", "The fastest pan that looks smooth.", "acm",
         {"formula": cd.smooth_deg_s, "given": _MOVES, "sure": _GUIDE}),
        ("motion.strobing_deg_s", "pan jumps", "°/s", "The pan from which edges visibly jump.",
         "practice", {"formula": cd.strobing_deg_s, "sure": _GUIDE}),
        ("flicker.ripple", "ripple", "",
         "How much of the lamps' pulsing is left in an exposure, as a share: nothing over whole "
         "pulses.", "ripple",
         {"formula": residual_ripple,
          "sure":
          "For lamps that pulse like a sine; dimmed ones pulse harder and leave more."}),
        ("flicker.pulses_hz", "p", "Hz", "Pulses of light a second: twice the mains.",
         "definition", {}),
        ("flicker.safe_times_s.*", "safe", "s",
         "A time of whole pulses, over which a lamp's pulsing is not seen.", "ripple", {}),
        ("shake.handheld_s", "by hand", "s", "The slowest time for a sharp picture from the hand.",
         "practice",
         {"formula": cm.handheld_limit_s,
          "given": {"method": "setup.intent.handheld.value",
                    "equivalent_mm": "derived.equivalent_mm"},
          "sure": "A habit of people who differ by a stop either way; wind and tiredness count."}),
        ("shake.rolling_rule_s", "rolling rule", "s",
         "The shutter of the rolling rule: one over the speed in miles an hour.", "practice",
         {"formula": cm.rolling_rule_time_s, "given": {"speed_m_s": "setup.movement.travel_m_s"}}),
        ("shake.freeze_s", "frozen", "s",
         "The longest time with which it smears no more than you allow.", "definition",
         {"formula": an.freeze_s, "sure": _SIZE,
          "given": {"freeze_px": "setup.intent.freeze_px", "speed_m_s": "setup.mover.speed_m_s"}}),
        ("shake.lean_deg", "lean", "°", "How far a rolling shutter leans an upright edge.",
         "geometry",
         {"formula": cm.lean_deg, "sure": "As good as the readout time in your kit.",
          "given": {"smear_rate_m_s": "setup.mover.speed_m_s", "readout_s": "derived.readout_s",
                    "height_m": "derived.moving_height_m"}}),
        ("shake.passing.*.distance_m", "distance", "m",
         "How far away it is: the subject's distance, a third of it, or the background's.",
         "practice", {}),
        ("shake.passing.*.smear_percent", "smear", "%",
         "How far what the camera passes smears, in percent of the picture's width.", "definition",
         {"formula": an.passing_percent, "sure": _SIZE,
          "given": {"at_m": "shake.passing.*.distance_m"}}),
        ("shake.passing.*.smear_px", "smear_px", "px", "The same smear in delivered pixels.",
         "definition",
         {"formula": cd.pixels_of, "given": {"percent": "shake.passing.*.smear_percent"}}),
        ("derived.travelling_m_s", "camera", "m/s", "How fast the camera itself goes.", "you",
         {"formula": cm.travelling_m_s, "given": {"movement": "setup.movement"}}),
        ("derived.capture_fps", "r", "fps", "Frames taken a second, exactly.", "smpte-12",
         {"formula": an.capture_fps}),
        ("derived.project_fps", "r_edit", "fps", "Frames the edit shows a second, exactly.",
         "smpte-12", {"formula": an.project_fps}),
        ("setup.stabiliser_stops", "stabiliser", "stops",
         "What the stabiliser of body or lens is rated at, as it is switched.", "cipa-x011", {}),
        ("derived.share_moving", "share", "", "How much of the picture's width moves.",
         "geometry", {"formula": an.share_moving, "given": {"moves": "setup.mover"}}),
        ("derived.readout_s", "readout", "s", "How long the sensor takes to be read.", "gear",
         {"formula": bu.readout_s}),
        ("derived.moving_height_m", "h", "m", "How high the picture is where it moves.",
         "geometry", {"formula": bu.moving_height_m}),
        ("derived.equivalent_mm", "f₃₅", "mm",
         "The focal length with the same angle of view on full frame, by diagonals.", "definition",
         {"formula": an.equivalent_focal_mm}),
        ("setup.pulses_hz", "p", "Hz", "Pulses of light a second: twice the mains.", "definition",
         {"formula": of_property(Setup.pulses_hz)}),
        ("setup.delivered_pitch_mm", "pixel", "mm", "How wide a delivered pixel is on the sensor.",
         "definition", {"formula": of_property(Setup.delivered_pitch_mm)}),
    ),
)  # fmt: skip
