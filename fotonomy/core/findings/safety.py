"""The usual cautions where work can hurt someone; local rules and licensed practice go first."""

from dataclasses import dataclass

from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.gear.support import Support
from fotonomy.core.sky.light import CIVIL_DEG
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.setup import Setup

# Eyes: from here on neutral density tempts people to look at the sun. Common practice, no source.
SUN_CAUTION_ND_STOPS = 9.0


_BY_KIND = {
    Kind.ROLLING: "Nobody films while driving; rated mounts with a tether, belts on. Road law and "
    "permits decide, not this plan.",
    Kind.AERIAL: "Line of sight, no flying over people, a spotter if the pilot also films. The "
    "aviation authority's rules decide, at night above all.",
    Kind.NIGHT: "Second person, head torch; check footing, tide and weather. Mains leads outdoors "
    "need outdoor-rated gear behind a residual-current device.",
    Kind.LONG_EXPOSURE: "Stay behind the barrier, nothing that can drop; ask the site owner.",
    Kind.INTERVAL: "Left alone for hours: tie it down, keep rain and dew off mains leads, ask "
    "the site owner.",
}  # fmt: skip
# What carries the camera brings the cautions of its kind along.
_BY_SUPPORT = {Support.VEHICLE: Kind.ROLLING, Support.DRONE: Kind.AERIAL}
# Slower pulses than this can be seen as flashes. Common practice, no source.
SEEN_FLASHING_HZ = 60.0
_FLASHES = "Visible flashes: warn everyone on site, some people are sensitive to flashing light."
_SUN = "Never look at the sun through an optical finder: neutral density is not eye protection."
_FIRE_WORDS = ("forge", "spark", "fire", "torch", "weld", "flame")
_FIRE = (
    "Sparks and fire: check for a fire ban, extinguisher at hand, eye protection, keep distance."
)
_DARK = "Dark by then: second person, head torch, check footing, tide and the way back beforehand."

# The ids of all cautions.
DANGERS = ("fire", *(kind.value for kind in _BY_KIND), "dark", "flashes", "sun")


@dataclass(frozen=True, slots=True)
class SafetyCaution:
    """A caution with an id that stays: people are told of each once before they plan it."""

    id: str
    words: str


def safety_of(setup: Setup) -> tuple[SafetyCaution, ...]:
    """Cautions that apply to this setup by kind, support, hour and light; most pressing first."""
    found = []
    words = f"{setup.title} {setup.subject}".lower()
    if any(word in words for word in _FIRE_WORDS):
        found.append(SafetyCaution("fire", _FIRE))
    kinds = [setup.kind, *([_BY_SUPPORT[setup.support]] if setup.support in _BY_SUPPORT else [])]
    found += [
        SafetyCaution(kind.value, _BY_KIND[kind])
        for kind in dict.fromkeys(kinds) if kind in _BY_KIND
    ]  # fmt: skip
    if not setup.kind.traits.dark and _in_the_dark(setup):
        found.append(SafetyCaution("dark", _DARK))
    if setup.lamp_hz is not None and setup.lamp_hz <= SEEN_FLASHING_HZ:
        found.append(SafetyCaution("flashes", _FLASHES))
    if density_to_stops(setup.nd_density) >= SUN_CAUTION_ND_STOPS:
        found.append(SafetyCaution("sun", _SUN))
    return tuple(found)


def _in_the_dark(setup: Setup) -> bool:
    """True where the sun is further down than civil twilight when the setup begins."""
    if setup.starts is None or setup.daylight is None:
        return False
    sky = setup.daylight.sky
    return bool(sky.sun.at(sky.position(setup.starts)).altitude_deg < CIVIL_DEG)


def cautions(setup: Setup) -> tuple[str, ...]:
    """The words of the cautions that apply to this setup; often none."""
    return tuple(one.words for one in safety_of(setup))
