"""What the weather means for a setup: keep shooting, mind something, or come back.

All thresholds are common practice, no source; what a drone may fly in, its manual decides.
"""

from dataclasses import dataclass
from enum import StrEnum

from fotonomy.core.gear.accessories import Heater
from fotonomy.core.gear.support import Support
from fotonomy.core.notation import writing as n
from fotonomy.core.spec.kind import Kind
from fotonomy.core.spec.schedule import Wanted
from fotonomy.core.spec.setup import Setup
from fotonomy.core.stills.energy import cold_share
from fotonomy.core.weather.air import beaufort, beaufort_words
from fotonomy.core.weather.report import Spell

# Chance of rain: what gear left alone stands, from where on it is no use to start, and from where
# on somebody beside the camera reckons with it.
RAIN_ALONE_PERCENT, RAIN_TOO_MUCH_PERCENT, RAIN_LIKELY_PERCENT = 5.0, 30.0, 30.0
# Eighths of cloud: stars bear no more, the sun comes and goes from, it is hidden from.
STARS_OKTAS, BROKEN_OKTAS, HIDDEN_OKTAS = 2.0, 4.0, 7.0
# Wind in m/s: a light tripod wants weight (force 4), a run is lost (force 6), a small drone is
# grounded (force 5), leaves move under a macro lens (force 3).
TRIPOD_M_S, RUN_LOST_M_S, DRONE_M_S, MACRO_M_S = 5.5, 10.8, 8.0, 3.4
# Filter under a clear sky cools by about this much under the air.
DEW_WITHIN_C = 2.0
# Batteries planned for warmer air than it will be give less by this share at least.
COLDER_SHARE = 0.02

_SUN_WANTED = frozenset({Wanted.GOLDEN, Wanted.SUN_FRONT, Wanted.SUN_BESIDE, Wanted.SUN_BEHIND})
_NIGHT_SKY = frozenset({Wanted.MOONLESS, Wanted.MILKY_WAY})
# What stands so long, or in such air, that dew gets at its glass.


class Verdict(StrEnum):
    """What to do about the weather."""

    KEEP = "Keep shooting"
    MIND = "Mind"
    COME_BACK = "Come back"


class Topic(StrEnum):
    """What a piece of advice is about; the ids of the findings made of them."""

    STARS = "weather.stars"
    MOON = "weather.moon"
    SUN = "weather.sun"
    BROKEN = "weather.broken"
    BLUE = "weather.blue"
    SOFT = "weather.soft"
    RAIN_FLIGHT = "weather.rain_flight"
    RAIN_ALONE = "weather.rain_alone"
    RAIN = "weather.rain"
    WIND_FLIGHT = "weather.wind_flight"
    WIND_RUN = "weather.wind_run"
    WIND = "weather.wind"
    WIND_MACRO = "weather.wind_macro"
    DEW = "weather.dew"
    COLD = "weather.cold"


@dataclass(frozen=True, slots=True)
class Advice:
    """One thing to do: what, why with its number, and the remedy in a few words."""

    id: Topic
    verdict: Verdict
    what: str
    why: str
    number: float
    unit: str
    remedy: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Exposed:
    """What of a setup the weather gets at.

    ``alone`` where nobody stands beside it, ``warmed`` where its glass is, ``planned_c`` is what
    its batteries are planned for, None where it has none.
    """

    kind: Kind
    wants: Wanted = Wanted.ANY
    stars: bool = False
    alone: bool = False
    tripod: bool = True
    flies: bool = False
    warmed: bool = False
    planned_c: float | None = None

    @classmethod
    def of(cls, setup: Setup) -> "Exposed":
        """A setup under the open sky."""
        stars = setup.records_stills and setup.run.declination_deg is not None
        return cls(
            kind=setup.kind, wants=setup.schedule.wants,
            stars=stars or setup.schedule.wants in _NIGHT_SKY,
            alone=setup.schedule.unattended, tripod=setup.support is Support.TRIPOD,
            flies=setup.kind.traits.flies or setup.support is Support.DRONE,
            warmed=any(isinstance(device, Heater) for device in setup.devices),
            planned_c=setup.run.temperature_c if setup.kind.traits.has_interval else None,
        )  # fmt: skip


def advice(exposed: Exposed, spell: Spell) -> tuple[Advice, ...]:
    """What the weather of a setup's minutes means for it, what sends people home first."""
    found = [*_cloud(exposed, spell), *_rain(exposed, spell), *_wind(exposed, spell),
             *_dew(exposed, spell), *_cold(exposed, spell)]  # fmt: skip
    order = (Verdict.COME_BACK, Verdict.MIND, Verdict.KEEP)
    return tuple(sorted(found, key=lambda one: order.index(one.verdict)))


def sends_home(exposed: Exposed, spell: Spell | None) -> bool:
    """True where the weather is known and no use for the setup."""
    return spell is not None and any(
        one.verdict is Verdict.COME_BACK for one in advice(exposed, spell)
    )


def _cloud(exposed: Exposed, spell: Spell) -> list[Advice]:
    oktas = spell.oktas
    if oktas is None:
        return []
    eighths = f"{n.format_number(oktas, 0)} eighths of the sky are under cloud"
    if exposed.stars:
        if oktas <= STARS_OKTAS:
            return []
        return [Advice(
            Topic.STARS, Verdict.COME_BACK, "Too much cloud for stars",
            f"{eighths}; stars want {n.format_number(STARS_OKTAS, 0)} at most", oktas, "eighths",
            "come back on a clear night",
        )]  # fmt: skip
    wants = exposed.wants
    if wants is Wanted.MOONLIGHT and oktas >= HIDDEN_OKTAS:
        return [Advice(
            Topic.MOON, Verdict.COME_BACK, "The moon stays behind cloud", eighths, oktas,
            "eighths", "come back on a clear night",
        )]  # fmt: skip
    if wants in _SUN_WANTED and oktas >= HIDDEN_OKTAS:
        return [Advice(
            Topic.SUN, Verdict.COME_BACK, "The sun stays behind cloud",
            f"{eighths}; it wants {wants.label}", oktas, "eighths",
            "come back when the sky opens, or take what does not need the sun",
        )]  # fmt: skip
    if wants in _SUN_WANTED and oktas >= BROKEN_OKTAS:
        return [Advice(
            Topic.BROKEN, Verdict.MIND, "The sun comes and goes",
            f"{eighths}: the light jumps by two stops between takes", oktas, "eighths",
            "roll while it is out, and meter each take",
        )]  # fmt: skip
    if wants is Wanted.BLUE and oktas >= HIDDEN_OKTAS:
        return [Advice(
            Topic.BLUE, Verdict.MIND, "The blue hour will be grey",
            f"{eighths}: lamps carry, the sky has little colour", oktas, "eighths",
            "keep the sky small in the picture",
        )]  # fmt: skip
    if oktas >= HIDDEN_OKTAS and (
        wants in (Wanted.SHADE, Wanted.OVERCAST) or exposed.kind.traits.darkened
    ):
        return [Advice(
            Topic.SOFT, Verdict.KEEP, "The sky is one soft source",
            f"{eighths}: even light from every side", oktas, "eighths", "no need to wait",
        )]  # fmt: skip
    return []


def _rain(exposed: Exposed, spell: Spell) -> list[Advice]:
    chance = spell.rain_percent
    if chance is None:
        return []
    said = f"A chance of rain of {n.format_number(chance, 0)} %"
    if exposed.flies:
        if chance < RAIN_LIKELY_PERCENT:
            return []
        return [Advice(
            Topic.RAIN_FLIGHT, Verdict.COME_BACK, "Rain is likely: do not fly",
            f"{said}; few drones are tight against water", chance, "%", "come back when it is dry",
        )]  # fmt: skip
    if exposed.alone or exposed.stars:
        if chance < RAIN_ALONE_PERCENT:
            return []
        too_much = chance >= RAIN_TOO_MUCH_PERCENT
        return [Advice(
            Topic.RAIN_ALONE, Verdict.COME_BACK if too_much else Verdict.MIND,
            "Rain is likely on gear left alone" if too_much else "Rain may reach gear left alone",
            f"{said}; under {n.format_number(RAIN_ALONE_PERCENT, 0)} % is usual for gear nobody "
            "stands beside", chance, "%", "a rain cover, mains leads off the ground",
        )]  # fmt: skip
    if chance < RAIN_LIKELY_PERCENT:
        return []
    why = "wet ground reflects and steam shows"
    if exposed.kind.traits.rolls:
        why += "; the road is slippery, drive slower"
    return [Advice(
        Topic.RAIN, Verdict.KEEP, "Rain is likely, and welcome", f"{said}: {why}", chance, "%",
        "a rain cover and a dry cloth",
    )]  # fmt: skip


def _wind(exposed: Exposed, spell: Spell) -> list[Advice]:
    wind = spell.wind_m_s
    if wind is None:
        return []
    if exposed.flies:
        strongest = max(wind, spell.gust_m_s or 0.0)
        if strongest < DRONE_M_S:
            return []
        return [Advice(
            Topic.WIND_FLIGHT, Verdict.COME_BACK, "Too much wind for a small drone",
            f"{_wind_words(strongest)}; its manual names its limit", strongest, "m/s",
            "come back when it is calm",
        )]  # fmt: skip
    if exposed.tripod and wind >= RUN_LOST_M_S and (exposed.stars or exposed.kind.traits.windy):
        return [Advice(
            Topic.WIND_RUN, Verdict.COME_BACK, "The wind shakes every frame",
            _wind_words(wind), wind, "m/s", "come back when it is calm, or find a lee",
        )]  # fmt: skip
    if exposed.tripod and wind >= TRIPOD_M_S:
        return [Advice(
            Topic.WIND, Verdict.MIND, "The wind moves a light tripod", _wind_words(wind), wind,
            "m/s", "hang weight on the tripod, legs short",
        )]  # fmt: skip
    if exposed.kind.traits.close_up and wind >= MACRO_M_S:
        return [Advice(
            Topic.WIND_MACRO, Verdict.MIND, "The wind moves what is small",
            f"{_wind_words(wind)}: leaves move by more than the sharp depth", wind, "m/s",
            "a screen against the wind",
        )]  # fmt: skip
    return []


def _wind_words(wind_m_s: float) -> str:
    force = beaufort(wind_m_s)
    return f"{n.format_number(wind_m_s, 0)} m/s, force {force}, {beaufort_words(wind_m_s)}"


def _dew(exposed: Exposed, spell: Spell) -> list[Advice]:
    spread = spell.dew_spread_c
    long = exposed.stars or exposed.alone or exposed.kind.traits.stands
    if spread is None or spread > DEW_WITHIN_C or not long or exposed.warmed:
        return []
    return [Advice(
        Topic.DEW, Verdict.MIND, "Dew is likely on the front glass",
        f"The air is {n.format_number(max(0.0, spread))} °C over its dew point; glass under the "
        f"sky gets {n.format_number(DEW_WITHIN_C, 0)} °C colder than the air", spread, "°C",
        "a lens heater, and look at the glass between takes",
    )]  # fmt: skip


def _cold(exposed: Exposed, spell: Spell) -> list[Advice]:
    planned, lowest = exposed.planned_c, spell.lowest_c
    if planned is None or lowest is None:
        return []
    if cold_share(planned) - cold_share(lowest) < COLDER_SHARE:
        return []
    return [Advice(
        Topic.COLD, Verdict.MIND, "Colder than the batteries are planned for",
        f"{n.format_number(lowest, 0)} °C instead of {n.format_number(planned, 0)} °C: they give "
        f"{n.format_number(100 * cold_share(lowest), 0)} % instead of "
        f"{n.format_number(100 * cold_share(planned), 0)} %", lowest, "°C",
        f"plan for {n.format_number(lowest, 0)} °C",
    )]  # fmt: skip
