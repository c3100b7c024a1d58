"""A second setting to hold a setup against: another method, or the edit's own rate."""

from dataclasses import replace

from fotonomy.core.motion.shutter import Shutter, rate_fps
from fotonomy.core.spec.intent import Look
from fotonomy.core.spec.setup import Setup

# What a setup can be compared with besides other setups.
VARIANTS = {
    "edit": "the edit's rate, half period",
    "half_period": "half period at this rate",
    "crisp": "crisp, a quarter period",
    "open": "open, the whole period",
}


def variant(setup: Setup, name: str) -> Setup:
    """The same scene at another shutter or rate; the light is left as it comes."""
    if name == "edit":
        half = Shutter(time_s=1 / (2 * rate_fps(setup.project_fps)))
        return replace(setup, frame_rate=setup.project_fps, shutter=half)
    angle = Look(name).angle_deg
    return replace(setup, shutter=Shutter(time_s=angle / 360 / rate_fps(setup.frame_rate)))


def usual_variant(setup: Setup) -> str:
    """The variant that tells most: the edit's rate, or for it already the crisp one."""
    at_edit = abs(setup.frame_rate / setup.project_fps - 1) < 0.01
    half = abs(setup.shutter.degrees(setup.frame_rate) - 180) < 9
    return "edit" if not at_edit else "crisp" if half else "half_period"
