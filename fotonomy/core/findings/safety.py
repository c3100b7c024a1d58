"""The usual cautions where work can hurt someone; local rules and licensed practice go first."""

from fotonomy.core.gear.neutral_density import density_to_stops
from fotonomy.core.gear.support import Support
from fotonomy.core.spec.setup import Kind, Setup

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


def cautions(setup: Setup) -> tuple[str, ...]:
    """Short cautions that apply to this setup, most pressing first; often none."""
    found = []
    words = f"{setup.title} {setup.subject}".lower()
    if any(word in words for word in _FIRE_WORDS):
        found.append(_FIRE)
    kinds = [setup.kind, *([_BY_SUPPORT[setup.support]] if setup.support in _BY_SUPPORT else [])]
    found += [_BY_KIND[kind] for kind in dict.fromkeys(kinds) if kind in _BY_KIND]
    if setup.lamp_hz is not None and setup.lamp_hz <= SEEN_FLASHING_HZ:
        found.append(_FLASHES)
    if density_to_stops(setup.nd_density) >= SUN_CAUTION_ND_STOPS:
        found.append(_SUN)
    return tuple(found)
