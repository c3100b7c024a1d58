"""Where formulas and constants come from, each with how much it binds."""

from dataclasses import dataclass
from enum import StrEnum


class Standing(StrEnum):
    """What kind of source it is."""

    DEFINITION = "definition"
    STANDARD = "standard"
    HANDBOOK = "handbook"
    PAPER = "paper"
    PRACTICE = "common practice"
    MODEL = "our model"
    GEAR = "your gear"
    PERSON = "you"


@dataclass(frozen=True, slots=True)
class Source:
    """A source by its id. ``memory`` is true where it was written down without it at hand."""

    id: str
    standing: Standing
    title: str
    memory: bool = False

    @property
    def words(self) -> str:
        """The source in a line, with what it is worth."""
        return f"{self.title} (from memory)" if self.memory else self.title


def _s(key: str, standing: Standing, title: str, memory: bool = False) -> Source:
    return Source(key, standing, title, memory)


_ALL = (
    _s("definition", Standing.DEFINITION, "By definition: arithmetic, with nothing to believe."),
    _s("geometry", Standing.DEFINITION, "Geometry of similar triangles, for a thin lens."),
    _s("iso-2720", Standing.STANDARD,
       "ISO 2720:1974, light meters: K 12.5 cd·s/m² for reflected light, C 250 lx·s for light that"
       " falls on the subject."),
    _s("stops", Standing.DEFINITION,
       "A stop is a factor of two of light. Marked f-numbers stand for the exact thirds they are "
       "rounded from (common practice)."),
    _s("iso-5-2", Standing.STANDARD,
       "ISO 5-2: optical density is minus the logarithm to base 10 of the transmittance."),
    _s("acm", Standing.HANDBOOK,
       "Panning tables of the American Cinematographer Manual: at 24 fps and 180° a feature takes "
       "about 7 s to cross the frame.", True),
    _s("ripple", Standing.DEFINITION,
       "The mean of a sine over the time the shutter is open; it is zero over whole pulses."),
    _s("cipa-x011", Standing.STANDARD,
       "The stabiliser's stops as its maker rates them, after CIPA DC-X011.", True),
    _s("practice", Standing.PRACTICE, "Common practice, no source."),
    _s("thin-lens", Standing.HANDBOOK,
       "Depth of field of a thin lens, as in any handbook of optics: H = f²/(N·c) + f.", True),
    _s("airy", Standing.HANDBOOK,
       "The Airy disc, 2.44·λ·N, of diffraction at a round opening, for green light of 0.55 µm.",
       True),
    _s("legal-codes", Standing.STANDARD,
       "ITU-R BT.709-6: ten bits in legal range count 64 for 0 % and 940 for 100 %."),
    _s("curve", Standing.GEAR,
       "The curve of your profile: a standard's own, its published parameters, or your table."),
    _s("emva-1288", Standing.STANDARD,
       "The photon transfer model of EMVA Standard 1288: σ² = μ + σ_read² + (prnu·μ)²."),
    _s("bennett", Standing.PAPER,
       "EMVA Standard 1288, and for rounding to code values W. R. Bennett, Bell System Technical "
       "Journal 27 (1948): step²/12.", True),
    _s("mired", Standing.DEFINITION, "A mired is a million over kelvin."),
    _s("smpte-12", Standing.STANDARD,
       "SMPTE ST 12-1: 23.976 and 29.97 are 24000/1001 and 30000/1001."),
    _s("decimal", Standing.DEFINITION,
       "Decimal megabytes and gigabytes, as printed on cards; eight bits are a byte."),
    _s("npf", Standing.HANDBOOK,
       "The simplified NPF rule of the Société astronomique du Havre.", True),
    _s("sidereal", Standing.DEFINITION,
       "The sky turns 15.041 seconds of arc in a second of time."),
    _s("poisson", Standing.DEFINITION,
       "Things that come as they like: a Poisson count of the mean number."),
    _s("ansi-ph2-7", Standing.STANDARD, "Light by its name: ANSI PH2.7-1986.", True),
    _s("model", Standing.MODEL, "A model of this program; what it leaves out stands beside it."),
    _s("explanatory", Standing.HANDBOOK,
       "Explanatory Supplement to the Astronomical Almanac: illuminance by the height of sun and "
       "moon.", True),
    _s("de421", Standing.STANDARD, "Positions worked out by Skyfield from JPL's ephemeris DE421."),
    _s("kasten", Standing.PAPER, "Kasten and Czeplak, Solar Energy 24 (1980): light under cloud.",
       True),
    _s("wmo-8", Standing.STANDARD, "WMO-No. 8: the Magnus formula for the dew point."),
    _s("wilson", Standing.PAPER, "E. B. Wilson (1927): the interval of a share.", True),
    _s("gear", Standing.GEAR, "What your kit says of this piece of gear."),
    _s("you", Standing.PERSON, "You set it, or the plan you took did."),
)  # fmt: skip
SOURCES = {one.id: one for one in _ALL}
