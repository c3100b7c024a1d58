"""Scene light by its name, with the span it usually lies in, until somebody meters.

Anchors of ANSI PH2.7-1986, from memory; moonlight and interiors vary most.
"""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class NamedLight:
    """A light by name: the span it usually lies in, in EV at ISO 100."""

    name: str
    low_ev: float
    high_ev: float

    @property
    def ev100(self) -> float:
        """The middle of the span, in EV at ISO 100."""
        return (self.low_ev + self.high_ev) / 2


NAMED_LIGHTS = tuple(
    NamedLight(*row)
    for row in (
        ("snow in sun", 15.5, 16.5), ("bright sun", 14.5, 15.5), ("hazy sun", 13.5, 14.5),
        ("overcast", 11.0, 13.0), ("open shade", 11.0, 13.0), ("just after sunset", 9.0, 11.0),
        ("street at night", 7.0, 8.0), ("home interior", 5.0, 7.0),
        ("floodlit building", 3.0, 5.0), ("full moon", -3.0, -2.0),
        ("starlight", -7.0, -5.0),
    )
)  # fmt: skip


# What else people type for them. Common practice, no source.
OTHER_NAMES = {
    "sun": "bright sun", "sunny": "bright sun", "full sun": "bright sun", "sunlight": "bright sun",
    "hazy": "hazy sun", "haze": "hazy sun", "cloud": "overcast", "cloudy": "overcast",
    "clouds": "overcast", "grey sky": "overcast", "shade": "open shade", "snow": "snow in sun",
    "sunset": "just after sunset", "after sunset": "just after sunset",
    "night street": "street at night", "street night": "street at night",
    "city at night": "street at night", "city night": "street at night",
    "interior": "home interior", "indoors": "home interior", "room": "home interior",
    "floodlit": "floodlit building", "moonlight": "full moon", "stars": "starlight",
    "milky way": "starlight",
}  # fmt: skip


def named_light(text: str) -> NamedLight | None:
    """The light of this name; None where there is none."""
    typed = " ".join(text.lower().split())
    wanted = OTHER_NAMES.get(typed, typed)
    return next((light for light in NAMED_LIGHTS if light.name == wanted), None)


def ev_by_name() -> dict[str, float]:
    """The EV at ISO 100 of every name that is understood, as people type them in small letters."""
    own = {light.name: light.ev100 for light in NAMED_LIGHTS}
    return {**own, **{typed: own[name] for typed, name in OTHER_NAMES.items()}}
