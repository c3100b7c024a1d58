"""White balance in mired, where equal distances look alike: ``10⁶ / K``."""

from dataclasses import dataclass

from fotonomy.core import constants as c
from fotonomy.core.conversions import MIRED_K
from fotonomy.core.errors import RuleError
from fotonomy.core.spec.intent import WhiteMethod
from fotonomy.core.spec.setup import Setup

# Lights by what they are, in K. Common practice, no source.
SOURCES: dict[str, float] = {
    "candle": 1900.0, "sodium lamp": 2100.0, "household lamp": 2700.0, "studio tungsten": 3200.0,
    "fluorescent tube": 4000.0, "moon": 4100.0, "flash": 5500.0, "daylight": 5600.0,
    "cloudy": 6500.0, "open shade": 7500.0, "blue hour": 10_000.0,
}  # fmt: skip
# Gels by strength: a full one turns 5600 K into 3200 K, or back. Common practice, no source.
FULL_GEL_MIRED = 1e6 / 3200 - 1e6 / 5600
STRENGTHS = (("full", 1.0), ("three quarter", 0.75), ("half", 0.5), ("quarter", 0.25),
             ("eighth", 0.125))  # fmt: skip


@dataclass(frozen=True, slots=True)
class Gel:
    """A gel by strength; ``mired`` positive warms."""

    name: str
    mired: float


# Beyond any lamp: bluer than this nothing is.
LEAST_MIRED = 1.0
GELS = tuple(Gel(f"{word} warm", share * FULL_GEL_MIRED) for word, share in STRENGTHS) + tuple(
    Gel(f"{word} cool", -share * FULL_GEL_MIRED) for word, share in STRENGTHS
)


@dataclass(frozen=True, slots=True)
class Source:
    """One light in the scene: how it will look beside what is set, in mired, warm positive.

    ``gels`` would bring it to the main light; empty where none is needed.
    """

    name: str
    kelvin: float
    looks_mired: float
    apart_mired: float
    gels: tuple[Gel, ...]


@dataclass(frozen=True, slots=True)
class White:
    """What is set, what fits the main light by the method, and every light in the scene.

    ``off_mired`` is how much warmer the main light looks than the taste asks for.
    """

    set_k: float
    wanted_k: float
    off_mired: float
    main: Source
    others: tuple[Source, ...]
    method: WhiteMethod

    @property
    def widest_apart_mired(self) -> float:
        """The largest distance between a light and the main one."""
        return max((abs(source.apart_mired) for source in self.others), default=0.0)


def mired(kelvin: float) -> float:
    """``10⁶/K``; RuleError for what is no temperature."""
    if not kelvin > 0:
        raise RuleError("white_k", "has to be more than zero", kelvin)
    return MIRED_K / kelvin


def kelvin(value_mired: float) -> float:
    """The inverse of mired, held to what cameras offer."""
    as_light_k = MIRED_K / max(value_mired, LEAST_MIRED)
    return min(c.WHITE_RANGE_K[1], max(c.WHITE_RANGE_K[0], as_light_k))


def wanted_white_k(light_k: float, bias_mired: float) -> float:
    """What to set for a light and a taste: a warmer picture comes of a cooler light than it is."""
    return kelvin(mired(light_k) - bias_mired)


def off_mired(wanted_k: float, set_k: float) -> float:
    """How much warmer the main light looks than the taste asks for."""
    return mired(wanted_k) - mired(set_k)


def shift_mired(from_k: float, to_k: float) -> float:
    """The shift that turns one light into another: 5600 to 3200 K is +134."""
    return mired(to_k) - mired(from_k)


def gels_for(shift: float) -> tuple[Gel, ...]:
    """The gels, two at most, that come nearest to a shift in mired; none for a small one."""
    fitting = [gel for gel in GELS if gel.mired * shift > 0]
    tries: list[tuple[Gel, ...]] = [(), *((gel,) for gel in fitting)]
    tries += [(a, b) for i, a in enumerate(fitting) for b in fitting[i:]]
    # A second gel has to earn its place: it counts for four mired.
    return min(tries, key=lambda t: abs(sum(g.mired for g in t) - shift) + 4 * len(t))


def bias_of(setup: Setup) -> float:
    """How much warmer than neutral the picture shall look, in mired, by the taste in force."""
    biased = setup.intent.white_school is WhiteMethod.BIASED
    return setup.white_bias_mired if biased else 0.0


def white_balance(setup: Setup) -> White:
    """The white balance of a setup: the main light, the others, and what to set."""
    main_k = setup.white_k if setup.source_k is None else setup.source_k
    method = setup.intent.white_school
    wanted = wanted_white_k(main_k, bias_of(setup))
    sources: dict[float, list[str]] = {}
    for reading in setup.readings:
        if reading.source_k is not None and reading.source_k != main_k:
            sources.setdefault(reading.source_k, []).append(reading.name)
    return White(
        set_k=setup.white_k,
        wanted_k=wanted,
        off_mired=off_mired(wanted, setup.white_k),
        main=_source("main light", main_k, main_k, setup.white_k),
        others=tuple(
            _source(" and ".join(names), at_k, main_k, setup.white_k)
            for at_k, names in sorted(sources.items())
        ),
        method=method,
    )


def _source(name: str, at_k: float, main_k: float, set_k: float) -> Source:
    apart = shift_mired(main_k, at_k)
    return Source(name, at_k, shift_mired(set_k, at_k), apart, gels_for(-apart))


def channel_gains(looks_mired: float, tint_cc: float = 0.0) -> tuple[float, float, float]:
    """Red, green and blue of a light that looks so many mired warm, of equal luminance.

    A straight-line stand-in for a picture on a screen, no colorimetry: a hundred mired
    double red against blue.
    """
    warm = 2.0 ** (looks_mired / 200)
    green = 2.0 ** (-tint_cc / 100)
    red, blue = warm * 1.0, 1.0 / warm
    luma = 0.2126 * red + 0.7152 * green + 0.0722 * blue
    return red / luma, green / luma, blue / luma
